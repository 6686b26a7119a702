"""One look and one live test, made by a person who does what the test asks for in hidden boxes."""

from __future__ import annotations

import os
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.assume.usual import usual
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.live import LookAtSwitch, LookAtWires, TouchWire, UseMeasured
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.conductor import EVERY, Reading
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.enclosure import Enclosure
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, Terms, by_id
from nail_count.trade.model.live_test import LiveResult
from nail_count.trade.model.wire import Cable
from nail_count.trade.quick_entry.parse import read_line
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.rules.wires.live_points import LiveTest, Row, points_of, touch
from nail_count.trade.rules.wires.neutral import neutral_in
from nail_count.trade.wiring.hookup.propose import Proposal, Refusal, propose
from nail_count.trade.wiring.simulate.meter import measure
from nail_count.trade.wiring.simulate.old_switch import KINDS, OldSwitch, old_switch

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))

SHEETS = by_id(library())
ROLES = {"line": "line hot", "onward": "line hot", "neutral": "neutral", "switched": "switch leg"}
TO_CODE = sorted(kind for kind in KINDS if old_switch(kind, 0).to_code)
SETTLED = (
    "feed and light", "switch loop", "feed, light and onward", "one switch, two lights", "two switches",
    "two switches, and onward", "three switches", "no ground",
)  # fmt: skip
"""The kinds every wire of which is to be measured: plain switches on one circuit, all cables in use."""


def stands(box: Box) -> tuple[bool | None, str]:
    """What holds of its neutral, and how well that is known."""
    found = neutral_in(box, 120)
    return found.there, found.standing


def entered(old: OldSwitch) -> Box:
    """The box as it is entered before anybody looks into it."""
    gangs = len(old.screws)
    devices = tuple(Device(id=f"d{n}", gang=n, sheet="ostrel-smart-switch") for n in range(1, gangs + 1))
    planned = Contents(enclosure=Enclosure(gangs=gangs), devices=devices)
    return Box(id="b", name="B", room="R", circuit="1", cables=tuple(old.hidden.cables), planned=planned)


def look_taken(old: OldSwitch) -> LookAtWires | None:
    """What a person taps who looks at the wires; None where neither answer is what he sees."""
    lone = {tied[0] for tied in old.tied if len(tied) == 1}
    capped = tuple(cable.id for cable in old.hidden.cables if set(cable.conductor_ids) <= lone)
    whites = {f"{cable.id}2" for cable in old.hidden.cables if cable.id not in capped}
    on = {wire for screws in old.screws for tied in screws for wire in tied}
    if not old.tied and len(old.hidden.cables) == 1:
        return LookAtWires(box="b", way="both on the switch")
    if [set(tied) for tied in old.tied if tied[0] not in lone] != [whites] or on & whites:
        return None
    alone = [[tied for tied in screws if len(tied) == 1] for screws in old.screws]
    if not all(alone):
        return None
    legs = tuple(of[-1][0][0] for of in alone)
    if len(old.hidden.cables) == 2 and len(old.screws) == 1:
        legs = ()
    return LookAtWires(box="b", way="whites tied", legs=legs, capped=capped)


def seen(old: OldSwitch) -> Box | None:
    """The box after a person looked and tapped; None where what he can tap is not what is there."""
    taken = look_taken(old)
    box = LookAtSwitch(box="b", on_off=True, worked=True).on_box(entered(old), SHEETS).box
    if taken is None:
        return None
    try:
        told = taken.on_box(box, SHEETS).box
    except Rejected:
        return None
    there = {frozenset(tied) for screws in old.screws for tied in screws} | {frozenset(tied) for tied in old.tied}
    return told if {frozenset(point.wires) for point in points_of(told)} == there else None


def probed(old: OldSwitch, row: Row) -> str:
    """What the tester shows at one touch [V]."""
    every = tuple(id for id in old.hidden.circuits if int(id) - 1 not in old.off) if old.off else (EVERY,)
    to = "lead" if row.to == "cord" else row.to
    asked = Reading(id="r", kind="volts", of=row.point.wires[0], to=to, on=every if row.step != "off" else (), volts=0)
    return str(float(measure(old.hidden, asked).volts or 0))


def after_testing(old: OldSwitch, random: Random | None = None) -> tuple[Box, LiveTest | None, int]:
    """The box after the person made every touch he was asked for, and how many; in any order where one is given."""
    box, touches = seen(old), 0
    if box is None:
        return Box(id="b", name="B", room="R"), None, 0
    while (test := live_test(box, 120)) is not None and test.next is not None:
        left = [row for row in test.rows if row.result is None]
        row = random.choice(left) if random else test.next
        said = TouchWire(
            box="b",
            wires=row.point.wires,
            to=row.to,
            on=row.step != "off",
            volts=probed(old, row),
        )
        box, touches = said.on_box(box, SHEETS).box, touches + 1
        assert touches < 40
    return box, test, touches


def wrong(old: OldSwitch, test: LiveTest) -> list[str]:
    """The wires that are measured as what they are not."""
    return [wire for wire, found in test.wires.items() if ROLES.get(old.hidden.truth.get(wire, ""), "") != found]


@given(st.sampled_from(TO_CODE), st.integers(0, 2**32), st.booleans())
@settings(max_examples=300 * LONGER)
def test_nothing_is_measured_wrong_in_a_house_wired_to_code(kind: str, seed: int, shuffled: bool) -> None:
    """Against the hidden wiring: its generator knows nothing of the test (an import contract)."""
    old = old_switch(kind, seed)
    box, test, _ = after_testing(old, Random(seed) if shuffled else None)
    if test is None:
        return
    assert wrong(old, test) == []
    found = neutral_in(box, 120)
    if found.there is not None:
        assert found.there == bool(old.hidden.brought)


def test_a_cable_not_in_use_stays_unnamed() -> None:
    """Whether it is dead or only turned off elsewhere, no test in this box can tell."""
    for seed in range(20):
        old = old_switch("a cable not in use", seed)
        _, test, _ = after_testing(old)
        assert test is not None and test.is_done and wrong(old, test) == []
        assert {wire for wire in old.hidden.truth if wire not in test.wires} == {"C1", "C2"}


def test_a_capped_wire_that_is_hot_stops_the_work() -> None:
    capped = looked("1g 20in3; 14/2, 14/2, 14/2; smart switch", legs="B", capped="C")
    test = showing(capped, PLAIN | {("C1", "ground", True): "120"})
    assert [one.code for one in test.troubles] == ["two-feeds"] and not test.wires


@pytest.mark.parametrize("kind", SETTLED)
def test_a_plain_box_is_measured_whole(kind: str) -> None:
    """Two looks and one live test name every wire; the most usual box takes four touches, and one with it off."""
    for seed in range(20):
        old = old_switch(kind, seed)
        box, test, touches = after_testing(old)
        assert test is not None and test.is_done
        assert set(test.wires) == {wire for cable in box.cables for wire in cable.conductor_ids}
        if kind == "feed and light":
            assert touches == 5
            assert stands(box) == (True, "measured")


USUAL = "1g 20in3; 14/2, 14/2; smart switch"
Shows = dict[tuple[str, str, bool], str]
PLAIN: Shows = {
    ("A1", "ground", True): "121", ("B1", "ground", True): "0.2", ("A2,B2", "ground", True): "0.4",
    ("A1", "A2", True): "120.5", ("A1", "ground", False): "0",
}  # fmt: skip
"""What a tester shows in the most usual box (common practice), the feed in cable A."""


def looked(line: str = USUAL, **look: object) -> Box:
    box = read_line(line, Box(id="b", name="B", room="R"), SHEETS).box
    assert box is not None
    box = LookAtSwitch(box="b", on_off=True, worked=True).on_box(box, SHEETS).box
    return LookAtWires.read({"box": "b", "way": "whites tied"} | look).on_box(box, SHEETS).box


def showing(box: Box, shows: Shows) -> LiveTest:
    """The test after each of these touches, in this order."""
    for (wires, to, on), volts in shows.items():
        box = TouchWire.read({"box": "b", "wires": wires, "to": to, "on": on, "volts": volts}).on_box(box, SHEETS).box
    test = live_test(box, 120)
    assert test is not None
    return test


def test_the_most_usual_box() -> None:
    """By hand, common practice: feed in A, switch leg in B, whites tied in the back."""
    test = showing(looked(), PLAIN)
    assert test.wires == {"A1": "line hot", "B1": "switch leg", "A2": "neutral", "B2": "neutral"}
    assert test.neutral is True and test.ground


@pytest.mark.parametrize(
    ("volts", "shows"),
    [
        ("107.9", "other"), ("108", "full"), ("126", "full"), ("126.1", "other"), ("2.9", "none"), ("3", "other"),
        ("60", "other"), ("191", "other"), ("192", "two hots"), ("208", "two hots"), ("240", "two hots"),
    ],
)  # fmt: skip
def test_what_a_tester_shows(volts: str, shows: str) -> None:
    """ANSI C84.1, utilization 90 to 105 % of 120 V (from memory); nothing is under 3 V, common practice."""
    assert touch(LiveResult.model_validate({"wires": ["A1"], "volts": volts}), 120) == shows


@pytest.mark.parametrize(
    ("changed", "code"),
    [
        ({("A2,B2", "ground", True): "120"}, "hot-whites"),
        ({("B1", "ground", True): "120"}, "both-hot"),
        ({("A1", "ground", True): "0"}, "no-hot"),
        ({("A1", "A2", True): "0"}, "no-return"),
        ({("A1", "A2", True): "60"}, "no-return"),
        ({("A1", "ground", False): "121"}, "stays-hot"),
        ({("B1", "ground", True): "45"}, "odd-voltage"),
        ({("A2,B2", "ground", True): "5"}, "odd-voltage"),
        ({("A1", "ground", True): "240"}, "two-hots"),
    ],
)
def test_what_no_plain_box_shows_stops_the_work(changed: Shows, code: str) -> None:
    """Each by hand from the ways such a test misleads, common practice; nothing is measured, nothing asked further."""
    test = showing(looked(), PLAIN | changed)
    assert code in [one.code for one in test.troubles]
    assert not test.wires and test.neutral is None and test.next is None


@pytest.mark.parametrize(("back", "ground"), [("118", True), ("117.9", False), ("124", True), ("124.1", False)])
def test_a_ground_is_one_within_three_volts(back: str, ground: bool) -> None:
    assert showing(looked(), PLAIN | {("A1", "A2", True): back}).ground is ground


def test_a_zero_counts_only_if_the_hot_still_reads_after_it() -> None:
    """The hot to the whites is asked again where a wire read nothing after it: the breaker may have tripped."""
    later = PLAIN | {}
    nothing = later.pop(("B1", "ground", True))
    test = showing(looked(), later | {("B1", "ground", True): nothing})
    assert not test.wires and test.next is not None and test.next.step == "back"


def test_a_loop_has_no_neutral_and_asks_for_the_hot_once_more() -> None:
    box = looked("1g 20in3; 14/2; smart switch", way="both on the switch")
    shows: Shows = {("A1", "ground", True): "121", ("A2", "ground", True): "0"}
    test = showing(box, shows)
    assert test.next is not None and test.next.step == "again" and test.neutral is None
    swapped = showing(box, {("A1", "ground", True): "0", ("A2", "ground", True): "121", ("A2", "ground", False): "0"})
    assert swapped.wires == {"A1": "switch leg", "A2": "line hot"} and swapped.neutral is False


@pytest.mark.parametrize(
    ("line", "fields"),
    [
        ("1g 20in3; 14/2, 14/3; smart switch", {}),
        ("1g 20in3; 14/2, 14/2, 14/2; smart switch", {}),
        ("2g 34in3; 14/2, 14/2, 14/2; smart switch; smart switch", {"legs": "B,B"}),
        ("1g 20in3; 14/2, 14/2; smart switch", {"way": "both on the switch"}),
    ],
)
def test_what_cannot_be_seen_so_is_refused(line: str, fields: dict[str, str]) -> None:
    with pytest.raises(Rejected):
        looked(line, **fields)


def test_another_look_forgets_the_test_and_other_houses_have_none() -> None:
    """In the United Kingdom dead continuity comes before any live test: there is no such test at 230 V."""
    box = looked()
    touched = TouchWire(box="b", wires=("A1",), tapped="full").on_box(box, SHEETS).box
    assert touched.live_test and live_test(touched, 230) is None
    again = LookAtWires(box="b", way="whites tied").on_box(touched, SHEETS).box
    assert again.live_test == touched.live_test, "the same look loses nothing"
    other = touched.changed(cables=touched.cables[:1])
    assert LookAtWires(box="b", way="both on the switch").on_box(other, SHEETS).box.live_test == ()
    three_way = LookAtSwitch(box="b", on_off=False).on_box(touched, SHEETS).box
    assert live_test(three_way, 120) is None


@pytest.mark.parametrize("before", [True, False])
def test_a_measured_box_gets_its_hookup(before: bool) -> None:
    """From two looks and one live test to a proposal that is checked in every state, with only the breaker entered."""
    box = looked('1g 20in3; 14/2, 14/2; smart switch "Hall" 4x9W led').changed(circuit="5" if before else None)
    job = Job(name="J", sheets=library(), boxes=(box,), circuits=[{"id": "5", "breaker": 15}])
    documents = Documents(JobAtHand(job), {})
    for (wires, to, on), volts in PLAIN.items():
        said = TouchWire.read({"box": "b", "wires": wires, "to": to, "on": on, "volts": volts})
        documents = said.apply(documents).documents
    documents = UseMeasured(box="b").apply(documents).documents
    if not before:
        refused = propose(wired_with(documents, documents.box("b")), "b")
        assert isinstance(refused, Refusal) and refused.ways_out == ("find the breaker first, or enter it",)
        documents = documents.with_box(documents.box("b").changed(circuit="5"))
    made = propose(wired_with(documents, documents.box("b")), "b")
    assert isinstance(made, Proposal), made
    joined = [{getattr(end, "of", "") for end in splice.ends} for splice in made.splices["b"]]
    assert {"A2", "B2", "d1"} in joined and {"A1", "d1"} in joined and {"B1", "d1"} in joined


def after_touches(line: str, shows: Shows, **look: str) -> Box:
    box = looked(line, **look)
    for (wires, to, on), volts in shows.items():
        box = TouchWire.read({"box": "b", "wires": wires, "to": to, "on": on, "volts": volts}).on_box(box, SHEETS).box
    return box


def test_a_new_cable_brings_a_neutral_that_the_old_loop_lacks() -> None:
    """What was measured is of the old cables: a plan that pulls a new one, or takes an old one out, goes past it."""
    loop: Shows = {("A1", "ground", True): "0", ("A2", "ground", True): "121", ("A2", "ground", False): "0"}
    box = after_touches("1g 20in3; 14/2; smart switch", loop, way="both on the switch")
    assert stands(box) == (False, "measured")
    brings = Cable.model_validate({"id": "N", "gauge": 14, "insulated": 3})
    brings = brings.changed(conductors=(*brings.conductors, {}, {}, {"asserted_role": "neutral"}))
    pulled = box.changed(cables=(*box.cables, brings), new=("N",))
    assert stands(pulled) == (True, "said")
    plain = after_touches(USUAL, PLAIN)
    assert stands(plain) == (True, "measured")
    assert neutral_in(plain.changed(out=("A",)), 120).there is None


def test_a_look_with_a_capped_cable_still_rests_on_the_whites() -> None:
    (assumed,) = usual(looked("1g 20in3; 14/2, 14/2, 14/2; smart switch", legs="B", capped="C"), SHEETS, Terms())
    assert assumed.cables == ("A", "B") and assumed.neutral
