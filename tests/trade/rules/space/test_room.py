"""The room in a measured box, by hand: geometry."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.rules.space.room import does_not_go, room_for_wires
from tests.support import BLANK, box, cables, figures, on


def body(id: str, width: str, height: str, projection: str, **more: Any) -> Datasheet:
    measures = {"width": width, "height": height, "projection": projection}
    return Datasheet.model_validate({"id": id, "name": id, "kind": "dimmer", "body": measures} | more)


ONE = body("one", "1.5 in", "2.5 in", "1 in")
WIDE = body("wide", "3.5 in", "2.5 in", "2 in", gangs=2)
DARK = Datasheet.model_validate({"id": "dark", "name": "dark", "kind": "dimmer"})
MODULE = body("module", "2 in", "1 in", "1.2 in", kind="module")
SHEETS = {sheet.id: sheet for sheet in (ONE, WIDE, DARK, BLANK, MODULE)}
INSIDE = {"width": "6 in", "height": "3 in", "depth": "3 in"}


def made(*standing: tuple[int, Datasheet], inside: dict[str, str], gangs: int = 3, modules: int = 0) -> Any:
    devices = tuple(on(gang, sheet) for gang, sheet in standing)
    measured = {name: value for name, value in (INSIDE | inside).items() if value}
    loose = tuple({"id": f"m{n}", "sheet": "module"} for n in range(modules))
    return box("54 in3", gangs, cables("14/2"), devices, **measured).changed(modules=loose)


@pytest.mark.parametrize(
    ("standing", "inside", "room"),
    [
        # gangs of 2 in: behind one 2·3·2, beside it (2−1.5)·3·1, above and below 1.5·(3−2.5)·1, two empty gangs 4·3·3
        (((1, ONE),), {}, F(12) + F("1.5") + F("0.75") + 36),
        # a wide one takes two gangs: 4·3·1 behind, (4−3.5)·3·2 beside, 3.5·0.5·2 above and below; one empty gang 2·3·3
        (((2, WIDE),), {}, F(12) + 3 + F("3.5") + 18),
        (((1, ONE), (2, WIDE)), {}, F(12) + F("1.5") + F("0.75") + 12 + 3 + F("3.5")),
        (((1, ONE), (2, BLANK), (3, BLANK)), {}, F(12) + F("1.5") + F("0.75") + 36),
        # gaps under half an inch in all take no folded wire
        (((1, ONE),), {"width": "5.97 in"}, F("1.99") * 3 * 2 + F("0.75") + 2 * F("1.99") * 9),
        (((1, ONE),), {"height": "2.99 in"}, 2 * F("2.99") * 2 + F("0.5") * F("2.99") + 4 * F("2.99") * 3),
        # no deeper than the box: nothing behind
        (((1, ONE),), {"depth": "0.5 in"}, F(0) + F("0.75") + F("0.375") + 6),
        (((1, DARK),), {}, None),
        (((1, ONE), (2, DARK)), {}, None),
        ((), {}, None),
        (((1, ONE),), {"width": ""}, None),
        (((1, ONE),), {"height": ""}, None),
        (((1, ONE),), {"depth": ""}, None),
    ],
)
def test_room_behind_and_beside(standing: Any, inside: dict[str, str], room: F | None) -> None:
    assert room_for_wires(made(*standing, inside=inside), SHEETS, code="nec-2023") == room


@pytest.mark.parametrize(
    ("standing", "gangs", "modules", "inside", "said"),
    [
        (((1, ONE),), 1, 0, {"width": "1.5 in", "height": "2.5 in", "depth": "1 in"}, None),
        (((1, ONE),), 1, 0, {"width": "1.49 in"}, ("1", "1.5", "1.49")),
        (((1, ONE),), 1, 0, {"height": "2.49 in"}, ("1", "2.5", "2.49")),
        (((1, ONE),), 1, 0, {"depth": "0.99 in"}, ("1", "1", "0.99")),
        (((1, DARK), (2, ONE)), 2, 0, {"depth": "0.99 in"}, ("2", "1", "0.99")),
        (((1, ONE), (2, ONE)), 2, 0, {"width": "3 in"}, None),
        (((1, ONE), (2, ONE)), 2, 0, {"width": "2.99 in"}, ("3", "2.99")),
        # a module 1 in thin: behind the device 2 in deep, or beside it
        (((1, ONE),), 1, 1, {"width": "1.6 in", "height": "2.6 in", "depth": "2 in"}, None),
        (
            ((1, ONE),),
            1,
            1,
            {"width": "1.6 in", "height": "2.6 in", "depth": "1.99 in"},
            ("1", "0.99"),
        ),
        (((1, ONE),), 1, 1, {"width": "2.5 in", "height": "2.6 in", "depth": "1.5 in"}, None),
        (((1, ONE),), 1, 1, {"width": "1.6 in", "height": "3.5 in", "depth": "1.5 in"}, None),
        (((1, WIDE),), 2, 1, {"width": "4.5 in", "height": "2.6 in", "depth": "2.1 in"}, None),
        (
            ((1, WIDE),),
            2,
            1,
            {"width": "4 in", "height": "2.6 in", "depth": "2.1 in"},
            ("1", "0.5"),
        ),
        # in an empty gang it lies as deep as the box, or as wide as the gang
        (((1, ONE),), 2, 1, {"width": "3.2 in", "height": "2.6 in", "depth": "1.5 in"}, None),
        (((1, ONE),), 1, 1, {"width": "1.6 in", "height": "2.6 in", "depth": ""}, None),
        (((1, ONE),), 1, 1, {"width": "", "height": "2.6 in", "depth": "1.5 in"}, None),
        (((1, ONE),), 1, 1, {"width": "1.6 in", "height": "", "depth": "1.5 in"}, None),
        (((1, DARK),), 1, 1, {"width": "1.6 in", "height": "2.6 in", "depth": "1.5 in"}, None),
    ],
)
def test_what_does_not_go_in(
    standing: Any, gangs: int, modules: int, inside: dict[str, str], said: tuple[str, ...] | None
) -> None:
    found = does_not_go(made(*standing, gangs=gangs, modules=modules, inside=inside), SHEETS, code="nec-2023")
    assert (None if found is None else figures(found)) == (None if said is None else tuple(map(F, said))), (
        "its gang; how large, in how much"
    )


def test_a_module_without_measures_says_nothing_of_the_next_one() -> None:
    bare = MODULE.changed(id="bare", body=None)
    inside = {"width": "1.6 in", "height": "2.6 in", "depth": "1.5 in"}
    both = made((1, ONE), gangs=1, inside=inside).changed(
        modules=({"id": "m0", "sheet": "bare"}, {"id": "m1", "sheet": "module"})
    )
    found = does_not_go(both, SHEETS | {"bare": bare}, code="nec-2023")
    assert found is not None and figures(found)[0] == 1, "the module, 1 in thin"
