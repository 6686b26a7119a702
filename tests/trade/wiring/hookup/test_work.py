"""What holds a splice, what the work is, and what joins through a jumper. Sizes of connectors are common practice."""

from __future__ import annotations

import pytest

from nail_count.trade.model.gauge import awg, mm2
from nail_count.trade.model.job import by_id
from nail_count.trade.model.splice import ConductorEnd, GroundEnd, LeadEnd, PigtailEnd, Splice
from nail_count.trade.rules.joints import size_for
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.hookup.network import wired
from nail_count.trade.wiring.hookup.work import held, splices_for, work
from tests.support import found_as
from tests.trade.wiring.hookup.houses import box, job
from tests.trade.wiring.hookup.schemes import apart, dead_end, feed
from tests.trade.wiring.hookup.test_propose import hooked_up


@pytest.mark.parametrize(
    ("gauge", "takes"),
    [(18, {2: "small", 3: "medium"}), (14, {2: "small", 3: "medium", 4: "medium", 5: "large", 6: None}),
     (12, {2: "medium", 3: "medium", 4: "large", 5: None}), (10, {2: "large", 3: "large", 4: None}), (8, {2: None})],
)  # fmt: skip
def test_connectors_take_what_practice_says(gauge: int, takes: dict[int, str | None]) -> None:
    """Small 2 × 14; medium 4 × 14 or 3 × 12; large 5 × 14, 4 × 12 or 3 × 10; above that two splices and a jumper."""
    assert {count: size_for(count, awg(gauge)) for count in takes} == takes


def test_metric_conductors_go_by_their_area() -> None:
    assert size_for(4, mm2("1.5")) == "medium" and size_for(4, mm2("2.5")) == "large"


def test_one_conductor_under_a_screw_needs_no_connector_and_two_need_a_pigtail() -> None:
    """NEC 110.14(A), from memory: one conductor under a screw."""
    house = hooked_up(feed("switch"))[0]
    at, sheets = house.boxes[0], by_id(house.sheets)
    single = held(at, Splice(id="x", ends=(ConductorEnd(of="A1"), LeadEnd(of="d1", terminal=1))), sheets)
    assert (single.size, single.pigtails, single.too_many) == (None, 0, False)
    ends = (ConductorEnd(of="A1"), ConductorEnd(of="B1"), LeadEnd(of="d1", terminal=1))
    several = held(at, Splice(id="x", ends=ends), sheets)
    assert (several.size, several.pigtails, several.meeting) == ("medium", 1, 3)


def test_too_many_ends_make_splices_with_jumpers_and_are_one_all_the_same() -> None:
    cables = " ".join(f"{letter}2" for letter in "ABCDEFGHIJK")
    house = job([box("a", cables)], "a.A=1")
    at, sheets = house.boxes[0], by_id(house.sheets)
    grounds = [GroundEnd(cable=letter) for letter in "ABCDEFGHIJK"]
    made = splices_for(at, [("ground", grounds)], sheets)
    assert [len(one.ends) for one in made] == [5, 5, 5] and all(one.connector for one in made)
    assert sum(isinstance(end, PigtailEnd) for one in made for end in one.ends) == 4
    network = graph(house.changed(boxes=(at.changed(splices=made),))).network
    assert all(wired(network).are_one(f"a/{letter}.g", "ground") for letter in "ABCDEFGHIJK")


def test_a_connector_too_small_for_what_meets_fails() -> None:
    """NEC 110.3(B), from memory: a connector joins what its package lists."""
    house = hooked_up(feed("main"))[0]
    at = house.boxes[0]
    assert look(house, "a").overfull == ()
    worse = tuple(
        one.changed(connector=one.connector.changed(size="small")) if one.connector else one for one in at.splices
    )
    seen = look(house.changed(boxes=(at.changed(splices=worse), *house.boxes[1:])), "a")
    assert {one.name for one in seen.overfull} == {"ground", "neutral"} and seen.state.word == "fails"
    many = tuple(ConductorEnd(of=f"{letter}{n}") for letter in "AB" for n in (1, 2)) + tuple(
        LeadEnd(of="d1", terminal=n) for n in (1, 2)
    )
    crowded = at.changed(splices=(Splice(id="s1", ends=many),))
    assert [one.id for one in look(house.changed(boxes=(crowded, *house.boxes[1:])), "a").overfull] == ["s1"]


def test_the_work_is_the_difference() -> None:
    """Common practice: behind a main the far three-way stays; its common takes a jumper, one traveler is the signal."""
    before = hooked_up(apart("three-way", "three-way"))[0]
    after = hooked_up(apart("main", "three-way"))[0]
    found = {one.id: one.contents for one in before.boxes}
    boxes = {one.id: found_as(one, found[one.id]) for one in after.boxes}
    seen = graph(after)
    wires = {wire.id: wire for node, wire in seen.wire_of.items() if seen.box_of[node] == "b"}
    steps = work(boxes["b"], by_id((*after.sheets, *before.sheets)), wires)
    assert [(step.act, step.splice.name, tuple(one.end for one in step.ends)) for step in steps] == [
        ("take apart", "traveler", (ConductorEnd(of="A1"), LeadEnd(of="d1", terminal=2))),
        ("take apart", "traveler", (ConductorEnd(of="A2"), LeadEnd(of="d1", terminal=3))),
        ("take apart", "switched", (ConductorEnd(of="B1"), LeadEnd(of="d1", terminal=1))),
        ("leave", "ground", (GroundEnd(cable="A"), GroundEnd(cable="B"), LeadEnd(of="d1", terminal=4))),
        ("leave", "neutral", (ConductorEnd(of="A3"), ConductorEnd(of="B2"))),
        ("make", "switched", (ConductorEnd(of="A1"), ConductorEnd(of="B1"), LeadEnd(of="d1", terminal=1))),
        ("pigtail", "switched", (LeadEnd(of="d1", terminal=1),)),
        ("make", "signal", (ConductorEnd(of="A2"), LeadEnd(of="d1", terminal=2))),
    ]


def test_a_white_that_is_hot_is_marked_again() -> None:
    """NEC 200.7(C), from memory; at both ends."""
    house = hooked_up(dead_end("three-way", "three-way"))[0]
    seen = graph(house)
    for at, ends in (("a", "B3"), ("b", "A3")):
        box_at = next(one for one in house.boxes if one.id == at)
        wires = {wire.id: wire for node, wire in seen.wire_of.items() if seen.box_of[node] == at}
        marked = [
            one.end for step in work(box_at, by_id(house.sheets), wires) if step.act == "re-mark" for one in step.ends
        ]
        assert marked == [ConductorEnd(of=ends)]
