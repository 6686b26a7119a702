"""A hook-up planned on usual wiring: as the trade joins such boxes, and right once the box was tested."""

from __future__ import annotations

import os
from collections.abc import Iterable

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.assume.wired import as_usual, look_as_usual
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.enclosure import Rename
from nail_count.trade.edits.hookup import ProposeHookup, SayUsual
from nail_count.trade.edits.live import LookAtSwitch, UseMeasured
from nail_count.trade.edits.runs import SayRun
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.splice import ConductorEnd, GroundEnd, LeadEnd
from nail_count.trade.plan.install.progress import progress, refuse_live
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.simulate.old_switch import old_switch
from tests.trade.rules.wires.test_live import SETTLED, after_testing, entered, look_taken

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
ROLES = {sheet.id: sheet.roles for sheet in library()}


def job_of(line: str) -> Documents:
    """An empty house with one box in it, entered by a line."""
    house = Job(name="J", sheets=library(), circuits=[{"id": "5", "breaker": 15}])
    return StartByLine(name="Den", room="Den", line=line).apply(Documents(JobAtHand(house), {})).documents


def box_in(documents: Documents) -> Box:
    (key,) = documents.lines()
    return documents.box(key)


def around(documents: Documents) -> Job:
    return wired_with(documents, box_in(documents))


def then(documents: Documents, *edits: Edit) -> Documents:
    for one in edits:
        documents = one.apply(documents).documents
    return documents


def joined(box: Box) -> dict[str, str]:
    """What each lead meets, and the wires that meet no lead: line: A1; neutral: A2 B2."""
    told = {}
    for splice in box.splices:
        wires = " ".join(sorted(one.of if isinstance(one, ConductorEnd) else f"{one.cable}g" for one in splice.ends
                                if isinstance(one, ConductorEnd | GroundEnd)))  # fmt: skip
        leads = [one for one in splice.ends if isinstance(one, LeadEnd)]
        names = [f"{one.of} {role_of(box, one)}" for one in leads] or [splice.name]
        told.update(dict.fromkeys(names, wires))
    return told


def role_of(box: Box, lead: LeadEnd) -> str:
    (device,) = (one for one in box.devices if one.id == lead.of)
    return ROLES[device.sheet][lead.terminal - 1]


def on_breaker(key: str) -> Edit:
    return Rename(box=key, name="Den", room="Den", circuit="5")


DIMMER = 'smart dimmer "Hall" 4x9W led'


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        (f"1g 18in3; 14/2 x2; {DIMMER}",
         {"d1 line": "A1", "d1 load": "B1", "d1 neutral": "A2 B2", "d1 ground": "Ag Bg", "d1 traveler": ""}),
        (f"1g 18in3; 14/2 to light, 14/2 feed; {DIMMER}",
         {"d1 line": "B1", "d1 load": "A1", "d1 neutral": "A2 B2", "d1 ground": "Ag Bg", "d1 traveler": ""}),
        ('1g 18in3; 14/2 x2; toggle "Hall" 60W inc',
         {"d1 line": "A1", "d1 load": "B1", "neutral": "A2 B2", "d1 ground": "Ag Bg"}),
        (f"1g 20in3; 14/2 x3; {DIMMER}",
         {"d1 line": "A1 C1", "d1 load": "B1", "d1 neutral": "A2 B2 C2", "d1 ground": "Ag Bg Cg", "d1 traveler": ""}),
        ('1g 18in3; 14/2; toggle "Hall" 60W inc', {"d1 line": "A2", "d1 load": "A1", "d1 ground": "Ag"}),
        ('2g 34in3, 14/2 to den, 14/2 feed, 14/2 to hall, toggle "Hall" 60W inc, toggle "Den" 60W inc',
         {"d1 line": "B1", "d2 line": "B1", "d1 load": "C1", "d2 load": "A1", "neutral": "A2 B2 C2",
          "d1 ground": "Ag Bg Cg", "d2 ground": "Ag Bg Cg"}),
        ('2g 34in3, 14/2 feed, 14/2 to light, 14/2 to fan, 14/2 out, toggle 60W inc, smart switch 60W inc',
         {"d1 line": "A1 D1", "d2 line": "A1 D1", "d1 load": "B1", "d2 load": "C1", "d2 neutral": "A2 B2 C2 D2",
          "ground": "Ag Bg Cg Dg",
             "d1 ground": "", "d2 ground": ""}),
    ],
)  # fmt: skip
def test_the_most_usual_boxes_are_joined_as_the_trade_joins_them(line: str, expected: dict[str, str]) -> None:
    """By hand, common practice: hot to line, the light's black to load, whites together; a loop's hot on its white."""
    planned = then(job_of(line), ProposeHookup(box=box_in(job_of(line)).id))
    assert joined(box_in(planned)) == expected
    hookup, rests_on = look_as_usual(around(planned), box_in(planned).id)
    assert hookup.state is State.HOLDS and rests_on
    assert look(around(planned), box_in(planned).id).state is State.OPEN, "nothing of it is entered"


@pytest.mark.parametrize(
    "line",
    [
        f"1g 18in3; 14/2, 14/3; {DIMMER}",
        'two gang 34in3; 14/2 x3; switch "Hall" 9W led, switch "Den" 9W led',
        'two gang 34in3; 14/2 feed, 14/2 to hall, 14/2; switch "Hall" 9W led, switch "Den" 9W led',
        'two gang 34in3; 14/2 feed, 14/2 feed, 14/2 to hall, 14/2 to den; switch "Hall" 9W led, switch "Den" 9W led',
        'two gang 34in3; 14/3 feed, 14/2 to hall, 14/2 to den; switch "Hall" 9W led, switch "Den" 9W led',
        '1g 18in3; 14/2 x2; three-way "Hall" 60W inc',
        f"1g 18in3; 14/2; {DIMMER}",
        f"1g 18in3; {DIMMER}",
    ],
)
def test_nothing_is_planned_where_two_ways_are_as_usual_or_it_would_not_work(line: str) -> None:
    """A three-wire cable, two gangs whose breakers nobody entered, a three-way, no neutral in a loop; by hand."""
    begun = job_of(line)
    with pytest.raises(Rejected):
        ProposeHookup(box=box_in(begun).id).apply(begun)


LINES = st.builds(
    lambda cables, devices: f"{len(devices)}g 44in3; {', '.join(cables)}; {', '.join(devices)}",
    st.one_of(
        st.lists(st.just("14/2"), min_size=1, max_size=4),
        st.lists(st.sampled_from(("14/2 to hall", "14/2 to den", "14/2 out")), min_size=1, max_size=3)
        .map(lambda others: ["14/2 feed", *others])
        .flatmap(st.permutations),
    ),
    st.lists(st.sampled_from((DIMMER, 'toggle "Den" 60W inc', "smart switch", "dimmer")), min_size=1, max_size=3),
)


@given(LINES, st.booleans())
@settings(max_examples=60 * LONGER, deadline=None)
def test_it_equals_the_hookup_with_the_facts_entered(line: str, on_a_circuit: bool) -> None:
    """Entered as facts by the edits of the pages, the same joints are proven, and nothing is assumed any more."""
    begun = job_of(line)
    key = box_in(begun).id
    begun = then(begun, on_breaker(key)) if on_a_circuit else begun
    try:
        planned = then(begun, ProposeHookup(box=key))
    except Rejected:
        return
    hookup, rests_on = look_as_usual(around(planned), key)
    if not rests_on:
        return
    assert hookup.state is State.HOLDS
    if len([one for one in box_in(planned).devices if not one.loads]) > 1:
        with pytest.raises(Rejected):  # what each of them controls must be entered before its cable can be told
            SayUsual(box=key).apply(planned)
        return
    told = then(planned, SayUsual(box=key), on_breaker(key))
    assert box_in(told).splices == box_in(planned).splices
    assert look_as_usual(around(told), key)[1] == ()
    again = then(told, ProposeHookup(box=key))
    assert joined(box_in(again)) == joined(box_in(planned))
    lit = all(one.loads for one in box_in(told).devices)
    if lit and not any(one.code == "switch-loop" for one in rests_on):
        assert look(around(told), key).state is State.HOLDS


def test_another_answer_plans_it_again_and_a_plan_made_by_hand_stays() -> None:
    begun = job_of(f"1g 18in3; 14/2 x2; {DIMMER}")
    key = box_in(begun).id
    planned = then(begun, ProposeHookup(box=key))
    other = then(planned, SayRun(box=key, cable="B", to="circuit"))
    assert joined(box_in(other)) == joined(box_in(planned)) | {"d1 line": "B1", "d1 load": "A1"}
    by_hand = box_in(planned).changed(splices=box_in(planned).splices[:-1])
    kept = then(planned.with_box(by_hand), SayRun(box=key, cable="B", to="circuit"))
    assert box_in(kept).splices == by_hand.splices


@given(st.sampled_from(SETTLED), st.integers(0, 2**32), st.booleans())
@settings(max_examples=60 * LONGER, deadline=None)
def test_what_is_joined_after_the_live_test_is_what_the_hidden_house_needs(kind: str, seed: int, seen: bool) -> None:
    """Planned before the test; every lead lands on the wire the generator of the house calls by its role."""
    old = old_switch(kind, seed)
    look_first, taken = LookAtSwitch(box="b", on_off=True, worked=True), look_taken(old)
    assert taken is not None
    box = entered(old)
    devices = tuple(one.changed(sheet="marrowby-toggle") for one in box.devices)
    house = Job(name="J", sheets=library(), boxes=(box.changed(devices=devices),), circuits=[{"id": "1"}])
    begun, propose_it = Documents(JobAtHand(house), {}), ProposeHookup(box="b")
    looks = (look_first, taken, propose_it) if seen else (propose_it, look_first, taken)
    planned = then(begun, *looks)
    tested, test, _ = after_testing(old)
    assert test is not None and test.is_done
    touched = planned.box("b").changed(live_test=tested.live_test)
    box = then(planned.with_box(touched), UseMeasured(box="b")).box("b")
    for splice in box.splices:
        wires = {end.of for end in splice.ends if isinstance(end, ConductorEnd)}
        for device, role in ((end.of, role_of(box, end)) for end in splice.ends if isinstance(end, LeadEnd)):
            truth = {old.hidden.truth[wire] for wire in wires}
            assert role != "line" or truth <= {"line", "onward"}, joined(box)
            if role == "load":
                (gang,) = (one.gang for one in box.devices if one.id == device)
                assert truth == {"switched"} and wires in map(set, old.screws[gang - 1]), joined(box)
    used = [role_of(box, end) for splice in box.splices for end in splice.ends if isinstance(end, LeadEnd)]
    assert used.count("line") == used.count("load") == len(box.devices), "every screw has its wire"


def test_work_at_the_wires_waits_for_the_check() -> None:
    """Every step before it can be done; none after it; with the box tested, the check is gone and nothing waits."""
    begun = job_of(f"1g 18in3; 14/2 x2; {DIMMER}")
    key = box_in(begun).id
    planned = then(begun, ProposeHookup(box=key))
    done = progress(install_steps(around(planned), key, ()), (), box_in(planned), None)
    check = next(number for number, one in enumerate(done) if one.at.missing)
    assert [one.at.step.kind for one in done[check + 1 :]].count("joined") > 3
    assert not any(one.waits_for for one in done[:check]) and all(one.waits_for for one in done[check + 1 :])
    for one in done[check:]:
        with pytest.raises(Rejected):
            refuse_live(done, one.at.step)
    told = then(planned, SayUsual(box=key), on_breaker(key))
    after = progress(install_steps(around(told), key, ()), (), box_in(told), None)
    assert not any(one.waits_for or one.at.missing for one in after)


def names(rests: Iterable[object]) -> list[str]:
    return [getattr(one, "code", "") for one in rests]


def test_a_fact_ends_the_assumption_it_takes_the_place_of() -> None:
    begun = job_of(f"1g 18in3; 14/2 x2; {DIMMER}")
    key = box_in(begun).id
    assert names(as_usual(around(begun), key).rests_on) == ["whites-tied", "feed", "leg", "breaker", "colors"]
    fed = then(begun, SayRun(box=key, cable="A", to="circuit"))
    assert names(as_usual(around(fed), key).rests_on) == ["whites-tied", "leg", "breaker", "colors"]
    found = then(fed, on_breaker(key))
    assert names(as_usual(around(found), key).rests_on) == ["whites-tied", "leg", "colors"]
