"""The best order, against plain brute force and a worked example: by position, by number, reused, by warmth."""

from __future__ import annotations

from fractions import Fraction as F
from itertools import permutations
from typing import Any

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.rules.check import check_box
from nail_count.trade.search.best_order import best_order, weakest
from tests.support import BLANK, DIMMER, SWITCH, box, cables, flat, on
from tests.trade.editing import edit_box

FAN = Datasheet.model_validate(
    {
        "id": "fan", "name": "Fan", "kind": "fan control", "derating": "by position",
        "channels": [{"ratings": {"fan": {"alone": "1.8 A", "end": "1.5 A", "middle": "1.2 A"}}}],
    }
)  # fmt: skip
COUNTED = Datasheet.model_validate(
    {
        "id": "counted",
        "name": "Counted",
        "kind": "dimmer",
        "derating": "by number",
        "channels": [{"ratings": {"led": {"alone": "160 W", "ganged": ["130 W", "100 W"]}}}],
    }
)
WARY = Datasheet.model_validate(
    {
        "id": "wary", "name": "Wary", "kind": "smart switch", "derating": "none needed", "radio": "hub",
        "ambient": {"holds_to": "30", "stops_at": "70"}, "channels": [{"ratings": {"led": {"alone": "200 W"}}}],
    }
)  # fmt: skip
SHEETS = {sheet.id: sheet for sheet in (SWITCH, DIMMER, FAN, BLANK, COUNTED, WARY)}
LAMPS = {"kind": "led", "quantity": 6, "each": "9 W"}


def test_the_switch_belongs_in_the_middle() -> None:
    """Dimmer with 54 W, fan control with 0.9 A in the middle, plain switch: the weakest margin 25 % becomes 40 %."""
    made = box(
        "54 in3", 3, cables("12/2"), (on(1, DIMMER, 12, LAMPS), on(2, FAN, 12, {"kind": "fan", "each": "0.9 A"}), on(3))
    )
    order = best_order(made, SHEETS)
    assert order is not None and (order.before, order.after, order.gangs["d3"]) == (F(1, 4), F(2, 5), 2)
    said = ",".join(f"{id}:{gang}" for id, gang in order.gangs.items())
    after = edit_box(made, "arrange-gangs", {"order": said}, SHEETS).box
    assert weakest(check_box(after, SHEETS).ratings) == F(2, 5)
    assert best_order(after, SHEETS) is None


@st.composite
def loaded(draw: st.DrawFn) -> Box:
    gangs = draw(st.integers(2, 5))
    devices = []
    for gang in range(1, gangs + 1):
        sheet = draw(st.sampled_from((None, SWITCH, DIMMER, FAN, BLANK, COUNTED, WARY)))
        load: list[dict[str, Any]] = []
        if sheet in (DIMMER, COUNTED, WARY):
            load = [LAMPS | {"quantity": draw(st.integers(2, 16))}]
        if sheet is FAN:
            load = [{"kind": "fan", "each": f"{draw(st.sampled_from((0.4, 0.9, 1.3)))} A"}]
        if sheet is not None:
            broken = draw(st.sampled_from(((), (), ("left",), ("right",)))) if sheet is DIMMER else ()
            devices.append(Device.model_validate(on(gang, sheet, 14, *load).model_dump() | {"broken": broken}))
    return box("90 in3", gangs, cables("14/2"), tuple(devices))


@settings(max_examples=40, deadline=None)
@given(loaded())
def test_it_is_what_plain_brute_force_finds(made: Box) -> None:
    best = weakest(check_box(made, SHEETS).ratings)
    for gangs in permutations(range(1, made.enclosure.gangs + 1), len(made.devices)):
        devices = [device.model_dump() | {"gang": gang} for device, gang in zip(made.devices, gangs, strict=True)]
        other = flat(made.model_dump() | {"devices": devices})
        best = max(best, weakest(check_box(other, SHEETS).ratings))
    order = best_order(made, SHEETS)
    assert (order.after if order else weakest(check_box(made, SHEETS).ratings)) == best


@given(loaded(), st.integers(0, 4))
@settings(max_examples=30, deadline=None)
def test_fixed_devices_stay(made: Box, number: int) -> None:
    assume(made.devices)
    stays = made.devices[number % len(made.devices)]
    order = best_order(made, SHEETS, fixed=(stays.id,))
    assert order is None or order.gangs[stays.id] == stays.gang


@pytest.mark.parametrize("order", ["", "d1:2", "d1:1,d2:1", "d1:1,d2:9", "d1:x,d2:2"])
def test_an_order_that_cannot_be_is_refused(order: str) -> None:
    made = box("34 in3", 2, cables("14/2"), (on(1), on(2)))
    with pytest.raises(Rejected):
        edit_box(made, "arrange-gangs", {"order": order}, SHEETS)
