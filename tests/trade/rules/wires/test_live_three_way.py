"""A look and a live test at each of two switches of a light, made by a person who does what the tests ask for."""

from __future__ import annotations

import os
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.edits.live import LookAtSwitch, LookAtThreeWay, TouchWire
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.conductor import EVERY, Reading
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.enclosure import Enclosure
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import by_id
from nail_count.trade.quick_entry.parse import read_line
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.rules.wires.live_points import LiveTest, Row, points_of
from nail_count.trade.rules.wires.neutral import neutral_in
from nail_count.trade.wiring.simulate.meter import measure
from nail_count.trade.wiring.simulate.old_three_way import PAIRS, OldThreeWay, old_pair

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))

SHEETS = by_id(library())
ROLES = {
    "line": "line hot", "onward": "line hot", "neutral": "neutral", "switched": "switch leg", "traveler": "traveler",
}  # fmt: skip
TO_CODE = sorted(kind for kind in PAIRS if old_pair(kind, 0).to_code)
SETTLED = tuple(kind for kind in TO_CODE if kind not in ("a cable not in use", "electronic switches"))
"""The kinds every wire of which is to be measured in both boxes: plain switches, all cables in use."""
SIDES = ("x", "y")


def side_of(kind: str, seed: int, side: str) -> OldThreeWay:
    pair = old_pair(kind, seed)
    return pair.x if side == "x" else pair.y


def entered(old: OldThreeWay, key: str = "b") -> Box:
    """The box as it is entered before anybody looks into it."""
    planned = Contents(enclosure=Enclosure(gangs=1), devices=(Device(id="d1", gang=1, sheet="ostrel-pair-dimmer"),))
    return Box(id=key, name=key, room="R", circuit="1", cables=tuple(old.hidden.cables), planned=planned)


def look_taken(old: OldThreeWay, key: str = "b") -> LookAtThreeWay | None:
    """What a person taps who looks at the wires; None where he cannot tap what he sees."""
    at = dict.fromkeys(old.common, "dark") | dict.fromkeys((wire for one in old.travelers for wire in one), "other")
    groups = [tied for tied in old.tied if len(tied) > 1]
    at |= {tied[0]: "capped" for tied in old.tied if len(tied) == 1}
    if len(groups) > 2:
        return None
    for place, tied in zip(("tied", "tied apart"), groups, strict=False):
        at |= dict.fromkeys(tied, place)
    every = [wire for cable in old.hidden.cables for wire in cable.conductor_ids]
    return LookAtThreeWay.model_validate({"box": key, "places": [at[wire] for wire in every]})


def seen(old: OldThreeWay) -> Box | None:
    """The box after a person looked and tapped; None where he can't tap what he sees."""
    taken = look_taken(old)
    box = LookAtSwitch(box="b", on_off=False, worked=True).on_box(entered(old), SHEETS).box
    try:
        told = taken.on_box(box, SHEETS).box if taken else None
    except Rejected:
        return None
    there = {frozenset(tied) for tied in (old.common, *old.travelers, *old.tied)}
    return told if told and {frozenset(point.wires) for point in points_of(told)} == there else None


def probed(old: OldThreeWay, row: Row) -> str:
    """What the tester shows at one touch [V]."""
    to = "lead" if row.to == "cord" else row.to
    on = (EVERY,) if row.step != "off" else ()
    asked = Reading(id="r", kind="volts", of=row.point.wires[0], to=to, on=on, far=2 if row.flipped else 1, volts=0)
    return str(float(measure(old.hidden, asked).volts or 0))


def touched(old: OldThreeWay, row: Row, key: str = "b") -> TouchWire:
    said = {"wires": row.point.wires, "to": row.to, "on": row.step != "off", "flipped": row.flipped}
    return TouchWire.model_validate({"box": key, "volts": probed(old, row)} | said)


def after_testing(old: OldThreeWay, random: Random | None = None) -> tuple[Box, LiveTest | None, int]:
    """The box after the person made every touch he was asked for, and how many; in any order where one is given."""
    box, touches, is_flipped = seen(old), 0, False
    if box is None:
        return Box(id="b", name="B", room="R"), None, 0
    while (test := live_test(box, 120)) is not None and test.next is not None:
        left = [row for row in test.rows if row.result is None]
        is_flipped ^= test.next.step == "flipped"
        assert random or is_flipped == test.next.flipped, "who flips it each time he is told has it where it belongs"
        box = touched(old, random.choice(left) if random else test.next).on_box(box, SHEETS).box
        touches += 1
        assert touches < 40
    return box, test, touches


def wrong(old: OldThreeWay, test: LiveTest) -> list[str]:
    """The wires that are measured as what they are not."""
    return [wire for wire, found in test.wires.items() if ROLES.get(old.hidden.truth.get(wire, ""), "") != found]


@given(st.sampled_from(sorted(PAIRS)), st.sampled_from(SIDES), st.integers(0, 2**32), st.booleans())
@settings(max_examples=300 * LONGER, deadline=None)
def test_nothing_is_measured_wrong(kind: str, side: str, seed: int, shuffled: bool) -> None:
    """Against the hidden wiring, to code and not: its generator knows nothing of the test (an import contract)."""
    old = side_of(kind, seed, side)
    box, test, _ = after_testing(old, Random(seed) if shuffled else None)
    if test is None:
        return
    assert wrong(old, test) == []
    found = neutral_in(box, 120)
    if found.there is not None:
        assert found.there == ("neutral" in old.hidden.truth.values())


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("kind", SETTLED)
def test_both_boxes_of_a_pair_are_measured_whole(kind: str, side: str) -> None:
    """A look at each switch, and one live test there, name every wire."""
    for seed in range(20):
        old = side_of(kind, seed, side)
        box, test, touches = after_testing(old)
        assert test is not None
        assert test.is_done, test.troubles
        assert set(test.wires) == {wire for cable in box.cables for wire in cable.conductor_ids}
        if kind == "feed and light apart":
            assert touches == 7
            assert neutral_in(box, 120).words == "yes, measured"


@pytest.mark.parametrize("side", SIDES)
def test_a_pair_that_switches_the_neutral_stops_the_work(side: str) -> None:
    """Common practice: the readings of such a pair fit no scheme in which only the hot is switched."""
    for seed in range(20):
        _, test, _ = after_testing(side_of("polarity switched", seed, side))
        assert test is not None
        assert test.troubles
        assert not test.wires


USUAL = "dark,tied,other,other,tied"
SHOWN = {
    ("A1", "ground", True, False): "121", ("B1", "ground", True, False): "0.3", ("B2", "ground", True, False): "0",
    ("A2,B3", "ground", True, False): "0.4", ("A1", "ground", True, True): "121", ("A1", "A2", True, True): "120.5",
    ("A1", "ground", False, True): "0",
}  # fmt: skip
"""What a tester shows where the feed comes in, in cable A (common practice)."""
AT_LIGHT = {
    ("A1", "ground", True, False): "0.2", ("B1", "ground", True, False): "121", ("B2", "ground", True, False): "0",
    ("A2,B3", "ground", True, False): "0.4", ("B2", "ground", True, True): "121", ("B2", "B3", True, True): "120.5",
    ("B2", "ground", False, True): "0",
}  # fmt: skip
"""The same at the other box, where the light hangs at cable A."""
Shows = dict[tuple[str, str, bool, bool], str]


def looked(places: str = USUAL, line: str = "1g 20in3; 14/2, 14/3; smart pair dimmer") -> Box:
    box = read_line(line, Box(id="b", name="B", room="R"), SHEETS).box
    assert box is not None
    box = LookAtSwitch(box="b", on_off=False, worked=True).on_box(box, SHEETS).box
    return LookAtThreeWay.read({"box": "b", "places": places}).on_box(box, SHEETS).box


def showing(shows: Shows, box: Box | None = None) -> LiveTest:
    """The test after each of these touches, in this order."""
    box = box or looked()
    for (wires, to, on, flipped), volts in shows.items():
        said = {"box": "b", "wires": wires, "to": to, "on": on, "flipped": flipped, "volts": volts}
        box = TouchWire.read(said).on_box(box, SHEETS).box
    test = live_test(box, 120)
    assert test is not None
    return test


def test_the_most_usual_pair() -> None:
    """By hand, common practice: feed and light at opposite ends."""
    tied = {"A2": "neutral", "B3": "neutral", "B1": "traveler", "B2": "traveler"}
    assert showing(SHOWN).wires == tied | {"A1": "line hot"}
    assert showing(AT_LIGHT).wires == tied | {"A1": "switch leg"}
    for shows in (SHOWN, AT_LIGHT):
        test = showing(shows)
        assert test.neutral is True
        assert test.ground


@pytest.mark.parametrize(
    ("shows", "changed", "code"),
    [
        (SHOWN, {("B1", "ground", True, False): "120"}, "no-scheme"),
        (SHOWN, {("A1", "ground", True, True): "0"}, "no-scheme"),
        (SHOWN, {("A1", "ground", True, False): "0"}, "no-hot"),
        (SHOWN, {("A1", "A2", True, True): "0"}, "no-return"),
        (SHOWN, {("A1", "ground", False, True): "121"}, "stays-hot"),
        (SHOWN, {("A1", "ground", True, False): "208"}, "two-hots"),
        (SHOWN, {("B2", "ground", True, False): "7"}, "odd-voltage"),
        (AT_LIGHT, {("B2", "ground", True, False): "120"}, "no-scheme"),
        (AT_LIGHT, {("B2", "ground", True, True): "0"}, "no-scheme"),
        (AT_LIGHT, {("A1", "ground", True, False): "120"}, "no-scheme"),
        (AT_LIGHT, {("B2", "B3", True, True): "0"}, "no-return"),
    ],
)
def test_what_no_usual_pair_shows_stops_the_work(shows: Shows, changed: Shows, code: str) -> None:
    """Each by hand from the ways such a test misleads, common practice; nothing is measured, nothing asked further."""
    test = showing(shows | changed)
    assert code in [one.code for one in test.troubles]
    assert not test.wires
    assert test.neutral is None
    assert test.next is None


@pytest.mark.parametrize("places", [
    "dark,tied,other,other", "dark,tied,other,tied,tied", "dark,dark,dark,other,tied", "dark,tied,other,other,capped",
    "tied,tied,other,other,tied",
])  # fmt: skip
def test_what_no_three_way_switch_can_look_like_is_refused(places: str) -> None:
    with pytest.raises(Rejected):
        looked(places)
