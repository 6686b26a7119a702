"""What is usual: each box with the answer the trade gives before anybody looks (common practice)."""

from __future__ import annotations

import pytest

from nail_count.demo.house import library
from nail_count.trade.assume.usual import usual
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Terms, by_id
from nail_count.trade.quick_entry.parse import read_line
from nail_count.trade.wiring.identify.weights import FarEnd

SHEETS = by_id(library())
ONE = 'smart switch "Hall" 4x9W led'


def box_of(line: str) -> Box:
    box = read_line(line, Box(id="b", name="B", room="R"), SHEETS).box
    assert box is not None
    return box


@pytest.mark.parametrize(
    ("line", "neutral"),
    [
        (f"1g 20in3; 14/2, 14/2; {ONE}", True),
        (f"1g 20in3; 12/2, 12/2, 12/2; {ONE}", True),
        (f"1g 20in3; 14/2; {ONE}", False),
        (f"1g 20in3; 14/2, 14/3; {ONE}", None),
        (f"1g 20in3; 14/3; {ONE}", None),
        (f"1g 20in3; {ONE}", None),
        (f"2g 34in3; 14/2, 14/2, 14/2; {ONE}; toggle", None),
        (f"2g 34in3; 14/2, 14/2; {ONE}; toggle", None),
        ("1g 20in3; 14/2, 14/2; empty", None),
    ],
)
def test_what_a_journeyman_takes_for_granted(line: str, neutral: bool | None) -> None:
    """By hand, common practice: two cables at one switch, a loop alone; everything else is asked."""
    assert [one.neutral for one in usual(box_of(line), SHEETS, Terms())] == ([] if neutral is None else [neutral])


def test_two_gangs_on_a_known_circuit_are_as_one() -> None:
    box = box_of(f"2g 34in3; 14/2, 14/2, 14/2; {ONE}; toggle").changed(circuit="5")
    assert [one.cables for one in usual(box, SHEETS, Terms())] == [("A", "B", "C")]
    assert usual(box.changed(other_circuits=("7",)), SHEETS, Terms()) == ()


@pytest.mark.parametrize(
    ("ends", "neutral"),
    [
        ({"A": "panel", "B": "outlet"}, True),
        ({"A": "box", "B": "outlet"}, True),
        ({"B": "outlet"}, True),
        ({"A": "outlet", "B": "outlet"}, None),
    ],
)
def test_two_cables_that_both_go_to_lights_bring_no_feed(ends: dict[str, FarEnd], neutral: bool | None) -> None:
    found = usual(box_of(f"1g 20in3; 14/2, 14/2; {ONE}"), SHEETS, Terms(), ends)
    assert [one.neutral for one in found] == ([] if neutral is None else [neutral])


@pytest.mark.parametrize(
    "known",
    [
        {"survey": {"neutral": True}},
        {"survey": {"neutral": False}},
        {"use": "receptacle"},
        {"readings": [{"id": "r1", "kind": "volts", "of": "A1", "volts": "120"}]},
    ],
)
def test_nothing_is_assumed_of_what_is_known(known: dict[str, object]) -> None:
    box = box_of(f"1g 20in3; 14/2, 14/2; {ONE}")
    assert usual(box, SHEETS, Terms()) and usual(Box.model_validate(box.model_dump() | known), SHEETS, Terms()) == ()


def test_a_wire_somebody_named_or_found_on_a_screw_ends_it() -> None:
    box = box_of(f"1g 20in3; 14/2, 14/2; {ONE}")
    named = ({"asserted_role": "line"}, {"sat_on": "common"})
    for wire in named:
        data = box.model_dump()
        data["cables"][0]["conductors"] = [wire, {}]
        assert usual(Box.model_validate(data), SHEETS, Terms()) == (), wire


def test_with_a_three_way_switch_or_a_wish_for_two_places_nothing_is_assumed() -> None:
    """A pair of three-ways on two-wire cables is old work: the white may be a traveler (common practice)."""
    box = box_of(f"1g 20in3; 14/2, 14/2; {ONE}")
    three_way = box_of('1g 20in3; 14/2, 14/2; three-way "Hall" 4x9W led')
    assert SHEETS[three_way.devices[0].sheet].is_three_way and usual(three_way, SHEETS, Terms()) == ()
    for places, assumed in ((1, 1), (2, 0)):
        wished = Box.model_validate(box.model_dump() | {"wishes": [{"id": "w", "places": places}]})
        assert len(usual(wished, SHEETS, Terms())) == assumed


@pytest.mark.parametrize("region", ["UK today", "UK before 2004", "India"])
def test_where_switches_are_wired_in_other_ways_nothing_is_assumed(region: str) -> None:
    terms = Terms.model_validate({"colors": region})
    assert usual(box_of(f"1g 20in3; 14/2, 14/2; {ONE}"), SHEETS, terms) == ()
