"""Counts reckoned by hand, where an audit found the count otherwise: NEC 314.16 and CSA C22.1 12-3034, from memory."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.space.depth import depth
from nail_count.trade.rules.volume.csa import csa_fill
from nail_count.trade.rules.volume.nec import fill, fill_of
from nail_count.trade.rules.volume.spaces import spaces
from tests.support import SHEETS, flat


def sheet(**said: Any) -> Datasheet:
    return Datasheet.model_validate({"id": "s", "name": "S", "kind": "dimmer", **said})


MODULE = sheet(kind="module")
SMALL = sheet(kind="module", body={"width": "1 in", "height": "1 in", "projection": "1 in"})
FLAT = sheet(body={"width": "1.5 in", "height": "2.5 in", "projection": "0.9 in"})


def made(cables: Sequence[Mapping[str, Any]], **more: Any) -> Box:
    wires = [{"id": letter, **one} for letter, one in zip("ABCDEFG", cables, strict=False)]
    return flat({"id": "b", "name": "B", "room": "R", "enclosure": {"volume": "30 in3"}, "cables": wires, **more})


def canadian(box: Box, *sheets: Datasheet, **more: Any) -> Answer:
    return csa_fill(spaces(box, by(*sheets))[0], by(*sheets), **more)


def by(*sheets: Datasheet) -> dict[str, Datasheet]:
    return SHEETS | {one.id: one for one in sheets}


def of(answer: Answer, kind: str) -> F | None:
    values = [line.value for line in answer.lines if line.kind == kind]
    return None if None in values else sum((v for v in values if v is not None), F(0))


CANOPY = {"gauge": 18, "insulated": 2, "grounds": 1, "canopy": True}
FEED = {"gauge": 14, "insulated": 2, "grounds": 1}
WIRES: dict[str, tuple[list[Mapping[str, Any]], str, str]] = {
    "314.16(B)(1) Exc.: two canopies of two wires are four in the box": ([FEED, CANOPY, CANOPY], "4", "2"),
    "the fifth makes all of them count: 4 + 6 × 1.5": ([FEED, CANOPY, CANOPY, CANOPY], "13", "2"),
    "three and two are five: 4 + 5 × 1.5": ([FEED, CANOPY, {**CANOPY, "insulated": 3}], "11.5", "2"),
    "looped they count as any wire, twice: 4 + 4 × 1.5": ([FEED, {**CANOPY, "run": "looped"}], "10", "2"),
    "running through they count as any wire: 4 + 2 × 1.5": ([FEED, {**CANOPY, "run": "through"}], "7", "2"),
    "14 AWG is not smaller than 14 AWG": ([FEED, {**CANOPY, "gauge": 14}], "8", "2"),
    "the ground of a canopy counts nothing by itself": ([{**CANOPY, "gauge": 14}], "4", "0"),
}


@pytest.mark.parametrize("name", WIRES)
def test_wires_of_a_canopy(name: str) -> None:
    cables, conductors, grounds = WIRES[name]
    answer = fill(made(cables), SHEETS, code="nec-2023")
    assert (of(answer, "conductors"), of(answer, "grounds")) == (F(conductors), F(grounds))


def test_an_unmarked_extension_of_a_table_size_adds_its_volume() -> None:
    """314.16(A): a 4 × 1½ square box holds 21.0 in³, an extension that is one adds 21.0, a ring nothing."""
    rings = [{"kind": "Extension", "trade_size": "4 x 1 1/2 square"}, {"kind": "Plaster ring"}]
    metal = {"material": "metal", "trade_size": "4 x 1 1/2 square", "rings": rings}
    assert fill(made([FEED], enclosure=metal), SHEETS, code="nec-2023").limit == 42
    assert canadian(made([FEED], enclosure={"volume": "21 in3", "rings": rings})).limit == F("344.128344"), (
        "expected the table of the NEC to add nothing under another code"
    )


def test_clamps_in_a_space_nothing_enters_count_nothing() -> None:
    enclosure = {"gangs": 2, "volume": "36 in3", "clamps": True, "barriers": [{"after": 1}]}
    box = made([FEED], enclosure=enclosure)
    first, second = spaces(box, SHEETS)
    assert (
        of(fill_of(first, SHEETS, code="nec-2023"), "clamps") == 2
        and of(fill_of(second, SHEETS, code="nec-2023"), "clamps") == 0
    )
    assert fill_of(second, SHEETS, code="nec-2023").state is State.HOLDS
    assert of(fill(made([], enclosure={"volume": "18 in3", "clamps": True}), SHEETS, code="nec-2023"), "clamps") is None


def test_blocks_and_splices_lie_in_the_space_they_are_said_to() -> None:
    """(B)(6): one 14 AWG for each block; in the space behind the barrier, not in the first."""
    enclosure = {"gangs": 2, "volume": "36 in3", "barriers": [{"after": 1}]}
    cables = [FEED, {**FEED, "space": 2}]
    box = made(cables, enclosure=enclosure, terminal_blocks=[{"count": 2, "space": 2}])
    first, second = (fill_of(space, SHEETS, code="nec-2023") for space in spaces(box, SHEETS))
    assert of(first, "terminal blocks") == 0
    assert of(second, "terminal blocks") == 4
    splices = [
        {"id": "s1", "ends": [{"kind": "conductor", "of": "B1"}], "connector": {}},
        {"id": "s2", "connector": {}, "space": 2},
    ]
    spliced = made(cables, enclosure=enclosure, planned={"splices": [*splices, {"id": "s3", "connector": {}}]})
    held = [{splice.id for splice in space.box.splices} for space in spaces(spliced, SHEETS)]
    assert held == [{"s3"}, {"s1", "s2"}]


def test_a_device_across_a_barrier_does_not_fit() -> None:
    enclosure = {"gangs": 3, "volume": "50 in3", "barriers": [{"after": 2}]}
    for gang, fits in ((1, True), (2, False)):
        box = made([FEED], enclosure=enclosure, devices=[{"id": "d1", "gang": gang, "sheet": "wide"}])
        misfit = check_box(box, SHEETS).fit
        assert (misfit is None) == fits


@pytest.mark.parametrize(
    ("school", "module", "cables", "counted"),
    [
        ("body", MODULE, [FEED], None),
        ("larger", SMALL, [], None),
        ("larger", SMALL, [FEED], "4"),
        ("body", SMALL, [FEED], "1"),
        ("device", MODULE, [FEED], "4"),
        ("none", MODULE, [FEED], "0"),
    ],
)
def test_a_module_is_open_where_its_school_cannot_be_reckoned(
    school: Any, module: Datasheet, cables: list[Mapping[str, Any]], counted: str | None
) -> None:
    box = made(cables, modules=[{"id": "m1", "sheet": "s"}])
    found = of(fill_of(spaces(box, by(module))[0], by(module), school=school, code="nec-2023"), "modules")
    assert found == (None if counted is None else F(counted))
    ours = of(canadian(box, module, school=school), "modules")
    assert (ours is None) == (counted is None)


CONNECTORS: dict[str, tuple[list[tuple[int, int | None]], str]] = {
    "one alone counts nothing": ([(1, 12)], "0"),
    "a pair of 14 in a box with 12": ([(2, 14)], "24.6"),
    "one not said is taken for the largest in the box, 12, and pairs with the next": ([(1, None), (2, 14)], "28.7"),
    "two of 12 and two of 14: 28.7 + 24.6": ([(2, 14), (2, 12)], "53.3"),
    "a 12 and three of 14: the first pair by 12": ([(1, 12), (3, 14)], "53.3"),
}


@pytest.mark.parametrize("name", CONNECTORS)
def test_connectors_of_the_canadian_count(name: str) -> None:
    said, milliliters = CONNECTORS[name]
    connectors = [{"size": "medium", "count": count, "gauge": gauge} for count, gauge in said]
    box = made([{"gauge": 12, "insulated": 2, "grounds": 1}], connectors=connectors)
    assert of(canadian(box), "connectors") == F(milliliters)


def test_a_bare_ground_sizes_nothing_in_canada() -> None:
    """Bare grounds count nothing: beside 14 AWG conductors, a 10 AWG ground makes no stud or device larger."""
    heavy = {"gauge": 14, "insulated": 2, "grounds": 1, "ground_gauge": 10}
    enclosure = {"volume": "500 mL", "fittings": ["stud", "hickey"]}
    box = made([heavy], enclosure=enclosure, connectors=[{"count": 2}], devices=[{"id": "d1", "gang": 1, "sheet": "s"}])
    answer = canadian(box, FLAT)
    assert of(answer, "fittings") == F("24.6"), "expected stud and hickey to count one together"
    assert (of(answer, "connectors"), of(answer, "devices")) == (F("24.6"), F("49.2"))


def test_luminaire_wires_count_nothing_in_canada_and_others_as_thin_are_open() -> None:
    for gauge in (16, 18):
        assert of(canadian(made([FEED, {**CANOPY, "gauge": gauge}])), "conductors") == F("49.2")
        assert of(canadian(made([FEED, {**CANOPY, "gauge": gauge, "canopy": False}])), "conductors") is None
    assert of(canadian(made([{**FEED, "canopy": True}])), "conductors") == F("49.2")


def test_a_measured_volume_carries_its_remark_in_canada_too() -> None:
    inside = {"width": "2 in", "height": "3 in", "depth": "3 in"}
    assert "volume-measured" in {one.code for one in canadian(made([FEED], enclosure=inside)).remarks}
    assert "volume-measured" not in {one.code for one in canadian(made([FEED])).remarks}


def test_the_ten_millimeters_of_practice_fail_no_box_whose_volume_is_counted() -> None:
    """A body of 45 mm in 50 mm: fails by the rule where depth decides, is a remark where the count sees the body."""
    deep = sheet(body={"width": "40 mm", "height": "60 mm", "projection": "45 mm"})
    for code, inside, state in (
        ("csa", 50, State.HOLDS),
        ("csa", 44, State.FAILS),
        ("uk", 50, State.FAILS),
        ("uk", 55, State.HOLDS),
    ):
        enclosure = {"volume": "500 mL", "depth": f"{inside} mm"}
        box = made([FEED], enclosure=enclosure, devices=[{"id": "d1", "gang": 1, "sheet": "s"}])
        answer = depth(box, by(deep), code)
        assert answer is not None and answer.state is state, (code, inside)
        said = {one.code for one in answer.remarks}
        assert ("little-room-behind" in said) == ((code, inside) == ("csa", 50))


@pytest.mark.parametrize("code", ["nec-2023", "csa", "uk", "india"])
def test_no_article_of_another_code_fails_a_box(code: str) -> None:
    """314.20 asks for a ring in a combustible wall; elsewhere that is practice, and a remark."""
    box = made(
        [FEED], enclosure={"volume": "30 in3", "depth": "3 in"}, survey={"setback": "1/2 in", "wall": "combustible"}
    )
    answer = depth(box, SHEETS, code)
    assert answer is not None
    remark = next(one for one in answer.remarks if one.code == "too-far-back")
    assert (remark.state is State.FAILS, remark.rule.article) == (
        (True, "314.20") if code == "nec-2023" else (False, "")
    )
    everything = check_box(box, SHEETS, Terms(code=code)).answers
    assert code == "nec-2023" or not any(
        "NEC" in r.rule.name and r.state is State.FAILS for a in everything for r in a.remarks
    )


def test_a_metal_box_that_holds_only_without_clamps_is_open_until_somebody_looks() -> None:
    """3×2×2-3/4, 14 in³: two 14/2 are 4 × 2, their grounds 2, a device 4: 14. Clamps inside would be 2 more."""
    inside, cables = {"trade_size": "3x2x2-3/4 device", "material": "metal"}, [FEED, FEED]
    switch = [{"id": "d1", "gang": 1, "sheet": "switch"}]
    unseen = made(cables, enclosure=inside, devices=switch)
    answer = fill(unseen, SHEETS, code="nec-2023")
    assert (answer.total, answer.limit, answer.state) == (14, 14, State.OPEN)
    looked = unseen.changed(survey=unseen.survey.changed(looked=("clamps",)))
    assert fill(looked, SHEETS, code="nec-2023").state is State.TIGHT
    clamped = looked.changed(planned=looked.contents.changed(enclosure=looked.enclosure.changed(clamps=True)))
    assert (fill(clamped, SHEETS, code="nec-2023").total, fill(clamped, SHEETS, code="nec-2023").state) == (
        16,
        State.FAILS,
    )
    roomy = made(cables, enclosure={**inside, "trade_size": "3x2x3-1/2 device"}, devices=switch)
    assert fill(roomy, SHEETS, code="nec-2023").state.passes, "18 in³ hold it with clamps, too"
