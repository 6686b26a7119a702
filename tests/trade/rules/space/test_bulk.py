"""Bulk against what electricians close every day (common practice) and against sums done by hand."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import given

from nail_count.trade.model.answer import Amount, Answer, State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.space.bulk import bulk
from nail_count.trade.text.format import say
from tests.support import SHEETS, any_box, box, cables, figures, flat, on


def device(width: str, projection: str, leads: int | None, height: str = "2.6 in", **more: Any) -> Datasheet:
    body = {"width": width, "height": height, "projection": projection}
    return Datasheet.model_validate({"id": "one", "name": "One", "kind": "dimmer", "leads": leads, "body": body} | more)


SMART = device("1.75 in", "1.6 in", 5)
TOGGLE = device("1.3 in", "1.0 in", 0, kind="switch")


def judged(sheet: Datasheet, capacity: str, *entering: str, **enclosure: Any) -> Answer:
    made = box(capacity, 1, cables(*entering), (on(1, sheet, 14),), **enclosure)
    return bulk(made, {sheet.id: sheet}, code="nec-2023")


@pytest.mark.parametrize(
    ("sheet", "capacity", "entering", "word", "percent", "state"),
    [
        (SMART, "18 in3", ("14/2",) * 2, "snug", 55, State.HOLDS),
        (SMART, "20.3 in3", ("14/2",) * 3, "snug", 54, State.HOLDS),
        (SMART, "18 in3", ("12/2",) * 3, "crammed", 69, State.TIGHT),
        (TOGGLE, "18 in3", ("14/2",) * 2, "roomy", 28, State.HOLDS),
    ],
)
def test_boxes_that_are_closed_every_day(
    sheet: Datasheet, capacity: str, entering: tuple[str, ...], word: str, percent: int, state: State
) -> None:
    """Common practice, in words and shares; the connectors of the usual hook-up are assumed."""
    answer = judged(sheet, capacity, *entering)
    assert (say(answer.headline), answer.state) == (f"{word}, {percent}% of the room", state)
    assert "connectors-not-entered" in {one.code for one in answer.remarks}


def test_a_legal_box_no_body_goes_into_fails() -> None:
    """A body of 1.6 in does not go into a box 1.5 in deep; with a ring 1/2 in deep it does. Facts of geometry."""
    shallow = box("4x1-1/2 square", 1, cables("14/2", "14/2"), (on(1, SMART, 14),))
    check = check_box(shallow, {SMART.id: SMART})
    assert check.fill.state.passes and check.bulk.state is State.FAILS
    assert figures(check.bulk.headline) == (1, F("1.6"), F("1.5")), "gang 1, 1.6 in deep in 1.5"
    ringed = shallow.changed(enclosure=shallow.enclosure.changed(rings=({"kind": "ring", "depth": "1/2 in"},)))
    assert bulk(ringed, {SMART.id: SMART}, code="nec-2023").state is State.HOLDS


@pytest.mark.parametrize(("side", "body", "inside"), [("width", "1.75", "1.7"), ("height", "2.6", "2.5")])
def test_a_body_wider_or_higher_than_the_box_fails(side: str, body: str, inside: str) -> None:
    found = judged(SMART, "30 in3", "14/2", **{side: f"{inside} in"})
    assert figures(found.headline) == (1, F(body), F(inside)) and found.state is State.FAILS
    assert judged(SMART, "30 in3", "14/2", **{side: "4 in"}).state is State.HOLDS


def test_what_passes_a_hundred_percent_fails_and_a_hundred_is_crammed() -> None:
    """A body of 2 × 2 × 2 in and nothing else that takes room: 8 in³. At 45 and 60 % the word still holds."""
    cube = device("2 in", "2 in", 0, height="2 in", kind="switch")
    bare = {"id": "A", "gauge": 14, "insulated": 1, "grounds": 0, "free": "0 in"}

    def said(volume: F) -> tuple[State, str]:
        capacity = f"{volume.numerator}/{volume.denominator} in3"
        made = flat(box(capacity).model_dump() | {"cables": [bare]})
        made = made.changed(devices=(on(1, cube, 14),))
        answer = bulk(made, {cube.id: cube}, code="nec-2023")
        return answer.state, say(answer.headline).split(",")[0].split(":")[0]

    little = F(1, 100)
    assert said(F(8)) == (State.TIGHT, "crammed") and said(8 - little) == (State.FAILS, "will not go")
    assert said(8 / F("0.60")) == (State.HOLDS, "snug") and said(8 / F("0.60") - little) == (State.TIGHT, "crammed")
    assert said(8 / F("0.45")) == (State.HOLDS, "roomy") and said(8 / F("0.45") - little) == (State.HOLDS, "snug")


def test_wire_takes_its_cross_section_by_its_length_folded() -> None:
    """Chapter 9 tables 5 and 8, from memory: one 12/2 with 10 in free and one 18 AWG pair looped unbroken."""
    made = flat(
        box("30 in3").model_dump()
        | {
            "cables": [
                {"id": "A", "gauge": 12, "insulated": 2, "grounds": 1, "free": "10 in"},
                {"id": "B", "gauge": 18, "insulated": 2, "grounds": 0, "run": "looped"},
                {"id": "C", "gauge": "1.5 mm2", "insulated": 1, "grounds": 0},
            ],
            "connectors": [{"size": "small", "count": 2}],
        }
    )
    answer = bulk(made, {}, code="nec-2023")
    wires = 2 * F("0.0133") * 10 / F("0.3") + F("0.0051") * 10 / F("0.3") + 4 * F("0.0055") * 8 / F("0.35")
    larger = F("0.0097") * 8 / F("0.35")  # 1.5 mm² is finer than 14 AWG, 2.08 mm², and takes its figure
    assert answer.total == wires + larger + 2 * F("0.25")


def test_inside_measures_outrank_the_mark() -> None:
    """2 × 3 × 3 in are 18 in³, whatever the mark says."""
    measured = judged(SMART, "30 in3", "14/2", "14/2", width="2 in", height="3 in", depth="3 in")
    assert measured.limit == 18 and say(measured.headline) == "snug, 55% of the room"
    sized = judged(SMART, "4x2-1/8 square", "14/2", "14/2", width="2 in", height="3 in", depth="3 in")
    assert sized.limit == 18, "what was measured outranks the table's 30.3 too"


LOOSE = (
    4 * F("0.0097") * 8 / F("0.35")
    + 2 * F("0.0032") * 8 / F("0.35")
    + 5 * F("0.0055") * 6 / F("0.35")
    + 3 * F("0.25")
    + F("0.45")
)
"""Two 14/2, five leads, three small connectors and a medium one, by hand from the yardsticks' own figures [in³]."""


@pytest.mark.parametrize(
    ("inside", "room", "said"),
    [
        (("2", "2.8", "1.75"), F("0.84"), "will not go: 322% of the room behind the bodies"),
        (("2", "2.8", "2.5"), F("5.04"), "crammed, 71% of the room"),
        (("2", "2.8", "2.1"), F("2.8"), "crammed, 97% of the room behind the bodies"),
        (("2.25", "3", "2"), F("2.25") * 3 * F("0.4") + F("0.5") * 3 * F("1.6"), "crammed, 74% of the room"),
        (
            ("4", "4", "2"),
            4 * 4 * F("0.4") + F("2.25") * 4 * F("1.6") + F("1.75") * F("1.4") * F("1.6"),
            "roomy, 31% of the room",
        ),
    ],
)
def test_wires_lie_behind_the_body_and_beside_it_only_where_the_gap_takes_them(
    inside: tuple[str, str, str], room: F, said: str
) -> None:
    """Geometry by hand: behind the body, depth less its 1.6 in; beside it where 1/4 in is left on each side."""
    wide, high, deep = inside
    answer = judged(SMART, "30 in3", "14/2", "14/2", width=f"{wide} in", height=f"{high} in", depth=f"{deep} in")
    (apart,) = (remark.text for remark in answer.remarks if remark.code == "room-behind")
    assert apart[1:] == (Amount(LOOSE, "in3"), " of wires and what else is loose, in ", Amount(room, "in3"))
    assert say(answer.headline) == said


def test_what_does_not_go_in_however_the_sums_are() -> None:
    """Facts of geometry: two bodies of 1.75 in beside each other in 3.4 in; a module thicker than any gap."""
    wide = {"width": "3.4 in", "height": "2.8 in", "depth": "3 in"}
    pair = box("34 in3", 2, cables("14/2"), (on(1, SMART, 14), on(2, SMART, 14)), **wide)
    assert figures(bulk(pair, {SMART.id: SMART}, code="nec-2023").headline) == (F("3.5"), F("3.4"))
    thick = SMART.changed(id="thick", name="Thick", kind="module", gangs=1)
    sheets = {TOGGLE.id: TOGGLE, "thick": thick}

    def with_module(devices: int, width: str, deep: str = "2 in") -> Answer:
        made = box("34 in3", 1, cables("14/2"), (on(1, TOGGLE, 14),)[:devices], width=width, height="3 in", depth=deep)
        return bulk(made.changed(modules=({"id": "m", "sheet": "thick"},)), sheets, code="nec-2023")

    assert figures(with_module(1, "2.8 in").headline) == (F("1.6"), F("1.5")), "1.6 in thin, in 1.5 in"
    for goes in (with_module(1, "2.9 in"), with_module(1, "2.8 in", "2.6 in"), with_module(0, "2.8 in")):
        assert figures(goes.headline) != (F("1.6"), F("1.5"))
    assert figures(with_module(0, "1.5 in").headline) == (F("1.6"), F("1.5"))


def test_a_job_moves_the_shares() -> None:
    """The words of depth.md at other shares: 55 % is roomy to 57 %, snug to 57 %, crammed above 53 %."""
    made = box("18 in3", 1, cables("14/2", "14/2"), (on(1, SMART, 14),))
    for roomy, snug, word in (
        (F("0.57"), F("0.6"), "roomy"),
        (F("0.3"), F("0.57"), "snug"),
        (F("0.3"), F("0.53"), "crammed"),
    ):
        terms = Terms(assume=Assume(roomy=roomy, snug=snug))
        assert say(check_box(made, {SMART.id: SMART}, terms).bulk.headline) == f"{word}, 55% of the room"
    for roomy, snug in ((F("0.6"), F("0.5")), (F(0), F("0.5")), (F("0.5"), F("1.1"))):
        with pytest.raises(ValueError, match="roomy no more than snug"):
            Assume(roomy=roomy, snug=snug)


def test_what_is_not_known_is_open() -> None:
    unknown = SMART.changed(body=None)
    nothing_in = judged(unknown, "18 in3")
    assert nothing_in.state is State.OPEN
    assert judged(SMART, "18 in3").state is State.OPEN
    no_mark = box("18 in3", 1, cables("14/2"), (on(1, SMART, 14),))
    no_mark = no_mark.changed(enclosure=no_mark.enclosure.changed(volume=None))
    assert bulk(no_mark, {SMART.id: SMART}, code="nec-2023").state is State.OPEN


@given(any_box())
def test_one_more_cable_takes_more_room_and_an_estimate_passes_no_failed_count(made: Box) -> None:
    check = check_box(made, SHEETS)
    assert check.fill.state is not State.FAILS or check.state is State.FAILS
    if len(made.cables) < 26:
        more = made.changed(cables=(*made.cables, cables("12/2")[0].changed(id="Z")))
        assert bulk(more, SHEETS, code="nec-2023").total > check.bulk.total


def line_of(answer: Answer, kind: str) -> list[tuple[F, F | None]]:
    return [(line.count, line.value) for line in answer.lines if line.kind == kind]


@pytest.mark.parametrize(
    ("entering", "sheet", "small", "medium"),
    [
        (("14/2",), TOGGLE, 0, 0),
        (("14/2", "14/2"), TOGGLE, 1, 1),
        (("14/2", "14/1"), TOGGLE, 0, 1),
        (("14/1", "14/1"), TOGGLE, 0, 1),
        (("14/2", "14/2"), SMART, 3, 1),
        (("14/2",), SMART, 3, 0),
        (("14/2",), SMART.changed(leads=1), 1, 0),
    ],
)
def test_as_many_connectors_are_assumed_as_the_usual_hookup_takes(
    entering: tuple[str, ...], sheet: Datasheet, small: int, medium: int
) -> None:
    """Common practice: whites together, grounds together, each lead of a device joined with its wire."""
    answer = judged(sheet, "40 in3", *entering)
    taken = [(F(small), small * F("0.25")), (F(medium), medium * F("0.45"))]
    assert line_of(answer, "connectors") == [(count, value) for count, value in taken if count]


def test_a_device_without_a_body_takes_its_allowances_and_thick_wire_is_open() -> None:
    wide = SMART.changed(body=None, gangs=2)
    answer = bulk(box("60 in3", 2, cables("12/2"), (on(1, wide),)), {"one": wide}, code="nec-2023")
    assert line_of(answer, "devices") == [(F(1), 4 * F("2.25"))]
    thick = flat(box("60 in3").model_dump() | {"cables": [{"id": "A", "gauge": 4, "insulated": 2, "grounds": 0}]})
    opened = bulk(thick, {}, code="nec-2023")
    assert opened.state is State.OPEN
    assert [(figures(line.what), line.count) for line in opened.lines] == [((4,), 2)]
    mixed = bulk(box("60 in3", 1, cables("12/2", "14/2")), {}, code="nec-2023")
    assert [(line.kind, figures(line.what)) for line in mixed.lines if line.kind in ("conductors", "grounds")] == [
        ("conductors", (14,)), ("conductors", (12,)), ("grounds", (14,)), ("grounds", (12,)),
    ]  # fmt: skip


def test_what_was_measured_is_the_room_whatever_else_is_said() -> None:
    inside = {"width": "2 in", "height": "3 in", "depth": "3 in"}
    for capacity in ("30 in3", "3x2x3-1/2"):
        made = box(capacity, 1, cables("14/2"), (on(1, SMART, 14),), **inside)
        assert bulk(made, {SMART.id: SMART}, code="nec-2023").limit == 18
    assert bulk(box("30 in3", 1, cables("14/2")), {}, code="nec-2023").limit == 30
