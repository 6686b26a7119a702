"""What a box owes to those it feeds, and what it takes from those that feed it. Common practice; invented houses."""

from __future__ import annotations

from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.trade.model.answer import State
from nail_count.trade.model.job import Job
from nail_count.trade.model.run import CircuitEnd
from nail_count.trade.model.splice import ConductorEnd, Connector, End, LeadEnd, Splice, conductor_end
from nail_count.trade.model.wire import Cable
from nail_count.trade.text.format import say
from nail_count.trade.wiring.hookup.look import HookUp, look
from nail_count.trade.wiring.hookup.propose import Proposal, Refusal, propose
from tests.trade.wiring.hookup.houses import box, job, lamp
from tests.trade.wiring.hookup.schemes import PROVEN
from tests.trade.wiring.hookup.test_propose import hooked_up

COLORS = {2: ("black", "white"), 3: ("black", "red", "white"), 4: ("black", "red", "blue", "white")}


def looked_at(house: Job) -> Job:
    """The house with the color of every wire seen, so that nothing of them is left to say."""

    def seen(cable: Cable) -> Cable:
        said = [{"color": color} for color in COLORS[cable.insulated]]
        return Cable.model_validate({**cable.model_dump(), "conductors": said})

    return house.changed(boxes=tuple(b.changed(cables=tuple(map(seen, b.cables))) for b in house.boxes))


def chain(near: str = "smart", far: str = "smart", **more: Any) -> Job:
    """A feed to one box, which goes on by its cable C to the next; each with a lamp of its own."""
    boxes = [
        box("near", "A2 B2 C2", {"d1": near}, "d1@lamp"),
        lamp("lamp"),
        box("far", "A2 B2", {"d1": far}, "d1@light"),
        lamp("light"),
    ]
    return looked_at(job(boxes, "near.A=1 near.B=lamp.A near.C=far.A far.B=light.A", **more))


def with_splices(house: Job, key: str, splices: tuple[Splice, ...]) -> Job:
    return house.changed(boxes=tuple(b.changed(splices=splices) if b.id == key else b for b in house.boxes))


def moved(house: Job, key: str, end: End, to: End | None) -> Job:
    """The house with an end in the splice of another; None: alone, under a cap."""
    (at,) = (one for one in house.boxes if one.id == key)
    made = []
    for splice in at.splices:
        ends = tuple(one for one in splice.ends if one != end)
        ends = (*ends, end) if to in ends else ends
        made.append(splice.changed(ends=ends, connector=splice.connector and Connector(size="large", gauge="14 AWG")))
    if to is None:
        made.append(Splice(id="cap", ends=(end,), connector=Connector(size="small", gauge="14 AWG")))
    return with_splices(house, key, tuple(made))


def left_out(house: Job, key: str, end: End) -> Job:
    """The house with an end in no splice."""
    (at,) = (one for one in house.boxes if one.id == key)
    rest = (splice.changed(ends=tuple(one for one in splice.ends if one != end)) for splice in at.splices)
    return with_splices(house, key, tuple(one for one in rest if one.ends))


def states(house: Job, *keys: str) -> list[State]:
    return [look(house, key).state for key in keys]


def codes(at: HookUp) -> list[str]:
    return [one.finding.code for one in at.findings]


NEAR = hooked_up(chain(), "near")[0]
"""The first box hooked up, and nothing said of what joins what in the second."""
BOTH = hooked_up(NEAR, "far")[0]
BEHIND = LeadEnd(of="d1", terminal=2)


def test_one_box_is_proven_before_anybody_opens_the_next() -> None:
    """The most usual job: one box is worked on, and those it feeds are left alone."""
    assert states(NEAR, "near", "far") == [State.HOLDS, State.OPEN]
    assert states(BOTH, "near", "far") == [State.HOLDS, State.HOLDS]


@pytest.mark.parametrize("house", [NEAR, BOTH], ids=["next box not hooked up", "next box hooked up"])
@pytest.mark.parametrize(
    ("end", "to"),
    [("C1", BEHIND), ("C1", None), ("C2", None), ("C2", BEHIND)],
    ids=["hot behind the switch", "hot capped", "neutral capped", "neutral behind the switch"],
)
def test_what_goes_on_wrongly_fails_where_it_is_joined_wrongly(house: Job, end: str, to: End | None) -> None:
    assert look(moved(house, "near", conductor_end(end), to), "near").state is State.FAILS


def test_it_is_said_there_what_lies_beyond_and_what_is_to_be_done() -> None:
    at = look(moved(BOTH, "near", conductor_end("C1"), None), "near")
    assert [(one.finding.of, "join it here" in one.ways[0]) for one in at.findings] == [("far/d1", True)]
    assert at.elsewhere == 0 and at.cut_off == {"near/C1"}
    for house, end, to in ((NEAR, "C1", BEHIND), (BOTH, "C2", None)):
        assert f"near/{end}" in look(moved(house, "near", conductor_end(end), to), "near").cut_off


def test_a_fault_of_the_next_box_stays_there() -> None:
    """Its line in no splice of its own: the box before is right, and says that something fails beyond."""
    at = look(left_out(BOTH, "far", LeadEnd(of="d1", terminal=1)), "near")
    assert (at.state, codes(at)) == (State.HOLDS, []) and at.elsewhere > 0
    assert look(left_out(BOTH, "far", LeadEnd(of="d1", terminal=1)), "far").state is State.FAILS


def test_the_neutral_of_the_other_circuit_fails_in_the_box_that_gives_it() -> None:
    """Two circuits in one box, one of them going on to the next with the neutral of the other."""
    boxes = [
        box("near", "A2 B2 C2 D2", {"d1": "switch"}, "d1@lamp", other_circuits=["2"]),
        lamp("lamp"),
        box("far", "A2 B2", {"d1": "smart"}, "d1@light", circuit="2"),
        lamp("light", circuit="2"),
    ]
    runs = "near.A=1 near.B=lamp.A near.C=2 near.D=far.A far.B=light.A"
    house = hooked_up(looked_at(job(boxes, runs)), "near")[0]
    house = hooked_up(house, "far")[0]
    assert states(house, "near", "far") == [State.HOLDS, State.HOLDS]
    wrong = moved(house, "near", conductor_end("D2"), conductor_end("A2"))
    assert states(wrong, "near", "far") == [State.FAILS, State.FAILS]
    assert "neutral-of-another" in codes(look(wrong, "near"))


def test_a_box_fed_through_one_that_is_not_hooked_up_is_open() -> None:
    """Not failed: nobody said yet what joins what on the way; the way is named, and every short is still told."""
    far = with_splices(BOTH, "near", ())
    at = look(far, "far")
    assert at.state is State.OPEN and not at.shown
    assert [(one.box, one.code, one.of) for one in at.unsaid] == [("far", "feed-not-followed", "near")]
    short = moved(far, "far", conductor_end("A2"), conductor_end("A1"))
    assert look(moved(short, "far", conductor_end("B2"), conductor_end("B1")), "far").state is not State.HOLDS


def test_a_box_no_run_feeds_is_open() -> None:
    house = BOTH.changed(runs=tuple(run for run in BOTH.runs if run.id != "r0"))
    assert states(house, "near", "far") == [State.OPEN, State.OPEN]


MULTIWIRE = [{"id": "1", "space": 1, "neutral_with": "2", "tied": True}, {"id": "2", "space": 3, "tied": True}]


@pytest.mark.parametrize("circuits", [("1", "2"), ("2", "1")])
@pytest.mark.parametrize("far", [True, False], ids=["to a box of the job", "out of the job"])
def test_a_multiwire_circuit_goes_on_by_both_its_hots(circuits: tuple[str, str], far: bool) -> None:
    """Two hots and their one neutral lead on to what both circuits feed: none of the three is cut off."""
    said: Any = {"circuit": circuits[0], "other_circuits": [circuits[1]]}
    boxes = [box("near", "A3 B2 C3", {"d1": "switch"}, "d1@lamp", **said), lamp("lamp", circuit=circuits[0])]
    beyond = [box("far", "A3", use="junction", **said)] if far else []
    runs = f"near.A=1 near.B=lamp.A near.C={'far.A' if far else 'on'}"
    made = hooked_up(looked_at(job([*boxes, *beyond], runs, circuits=MULTIWIRE)), "near")[0]
    assert look(made, "near").state is State.HOLDS
    for wire in ("C1", "C2", "C3"):
        assert look(moved(made, "near", conductor_end(wire), None), "near").state is State.FAILS


def neighbor(device: str = "", **more: Any) -> Job:
    """A feed to one box with a lamp of its own, whose cable C leads to a box of which little is said."""
    far = box("far", "A2", {"d1": device} if device else {}, **more)
    return looked_at(job([box("near", "A2 B2 C2", {"d1": "smart"}, "d1@lamp"), lamp("lamp"), far], RUNS))


RUNS = "near.A=1 near.B=lamp.A near.C=far.A"


@pytest.mark.parametrize("device", ["", "smart", "switch", "duplex"])
@pytest.mark.parametrize("circuit", ["1", None])
def test_a_proposal_never_cuts_off_what_nobody_looked_at(device: str, circuit: str | None) -> None:
    """A box that is fed by this one, whatever is in it: its hot and its neutral go on, as they did."""
    house, made = hooked_up(neighbor(device, circuit=circuit), "near")
    assert set(made.splices) == {"near", "lamp"} and look(house, "near").state is State.HOLDS
    for wire, with_it in (("C1", "A1"), ("C2", "A2")):
        (splice,) = (one for one in made.splices["near"] if conductor_end(wire) in one.ends)
        assert conductor_end(with_it) in splice.ends
        assert look(moved(house, "near", conductor_end(wire), None), "near").state is State.FAILS


def test_a_cable_that_may_carry_anything_is_left_open() -> None:
    """To a lamp of which nobody said what switches it: neither fed for good nor cut off, and said so."""
    house, made = hooked_up(neighbor(use="luminaire"), "near")
    ends = [end for splice in made.splices["near"] for end in splice.ends]
    at = look(house, "near")
    assert at.state is State.OPEN and not {conductor_end("C1"), conductor_end("C2")} & set(ends)
    assert {one.code for one in at.unsaid} == {"in-no-splice", "beyond-not-known"}


@pytest.mark.parametrize("device", ["", "smart"])
def test_which_of_two_circuits_goes_on_is_asked(device: str) -> None:
    """Two circuits in a box, and a cable to one that names none: it may be either's, and is not cut off."""
    far = box("far", "A2", {"d1": device} if device else {}, circuit=None)
    near = box("near", "A2 B2 C2 D2", {"d1": "smart"}, "d1@lamp", other_circuits=["2"])
    house = looked_at(job([near, lamp("lamp"), far], f"{RUNS} near.D=2"))
    house, made = hooked_up(house, "near")
    ends = [end for splice in made.splices["near"] for end in splice.ends]
    at = look(house, "near")
    assert at.state is State.OPEN and not {conductor_end("C1"), conductor_end("C2")} & set(ends)
    assert {one.code for one in at.unsaid} == {"in-no-splice", "beyond-not-known"}


def test_a_feed_of_which_nobody_knows_the_circuit_is_open() -> None:
    """A cable from the panel, and no breaker said: open in the box it enters, and in those beyond."""
    end = CircuitEnd(circuit=None)
    runs = tuple(run.changed(other=end) if run.id == "r0" else run for run in BOTH.runs)
    house = BOTH.changed(runs=runs, boxes=tuple(one.changed(circuit=None) for one in BOTH.boxes))
    for key, code in (("near", "feed-not-said"), ("far", "feed-not-followed")):
        at = look(house, key)
        assert at.state is State.OPEN and not at.shown
        assert [one.code for one in at.unsaid if one.box == key] == [code]


def test_what_is_known_to_need_nothing_is_capped_at_both_ends() -> None:
    """An old switch came out there, a battery remote is over it."""
    house, made = hooked_up(neighbor("remote"), "near")
    assert look(house, "near").state is look(house, "far").state is State.HOLDS
    for key, wire in (("near", "C1"), ("near", "C2"), ("far", "A1"), ("far", "A2")):
        assert (conductor_end(wire),) in [one.ends for one in made.splices[key]]


def test_a_place_that_belongs_to_others_is_not_taken_for_a_feed() -> None:
    """A far place of a pair whose wires pass through here, not hooked up yet: open, and not said to fail."""
    boxes = [
        box("near", "A2 B4", {"d1": "main"}, "d1@lamp"),
        box("mid", "A4 B3 C2", {"d1": "switch"}, "d1@light"),
        box("far", "A3 B2", {"d1": "three-way"}),
        lamp("lamp"),
        lamp("light"),
    ]
    house = looked_at(job(boxes, "near.A=1 near.B=mid.A mid.B=far.A far.B=lamp.A mid.C=light.A"))
    made = hooked_up(house, "near")[1]
    for keys in (("mid",), ("mid", "near")):
        for key in keys:
            house = with_splices(house, key, made.splices[key])
        at = look(house, "mid")
        assert at.state is State.OPEN and "beyond-not-known" in {one.code for one in at.unsaid}


def test_a_proposal_never_leaves_a_neighbor_without_power() -> None:
    made = propose(with_splices(BOTH, "near", ()), "near")
    assert isinstance(made, Proposal)
    house = with_splices(BOTH, "near", made.splices["near"])
    assert states(house, "near", "far") == [State.HOLDS, State.HOLDS]


@given(st.sampled_from(sorted(PROVEN)), st.data())
def test_no_wire_of_what_is_proven_may_be_left_out(name: str, data: st.DataObject) -> None:
    """Any one end in no splice: the box it lies in is no longer proven."""
    house = looked_at(PROVEN[name]) if name in _US else PROVEN[name]
    house = hooked_up(house)[0]
    key = data.draw(st.sampled_from([one.id for one in house.boxes if one.splices]))
    (at,) = (one for one in house.boxes if one.id == key)
    end = data.draw(st.sampled_from([end for splice in at.splices for end in splice.ends]))
    assert look(left_out(house, key, end), key).state is not State.HOLDS


_US = {name for name, house in PROVEN.items() if house.terms.colors == "US"}


KINDS = "smart", "switch", "two-wire", "fan-and-light", "three-way", "main", "wired-main", "duplex", "loop", ""


@st.composite
def houses(draw: st.DrawFn) -> tuple[Job, list[str]]:
    """A tree of boxes on one circuit: with a lamp, a receptacle, a pair of places, a loop, or nothing said of them."""
    cables: dict[str, list[str]] = {"x0": ["A2"]}
    runs, ways = ["x0.A=1"], ["x0"]

    def run(one: str, other: str, wires: int = 2) -> None:
        ends = []
        for key in (one, other):
            here = cables.setdefault(key, [])
            ends.append(f"{key}.{'ABCDEFGHIJKL'[len(here)]}")
            here.append(f"{ends[-1][-1]}{wires}")
        runs.append("=".join(ends))

    said: list[tuple[str, dict[str, str], str, str]] = []
    for number in range(draw(st.integers(2, 5))):
        key, far, light = f"x{number}", f"f{number}", f"l{number}"
        if number:
            run(draw(st.sampled_from(ways)), key)
            ways.append(key)
        match draw(st.sampled_from(KINDS)):
            case "":
                said.append((key, {}, "", "junction"))
            case "duplex":
                said.append((key, {"d1": "duplex"}, "", "receptacle"))
            case "loop":
                run(key, far)
                said += [(key, {}, "", "luminaire"), (far, {"d1": "switch"}, f"d1@{key}", "control")]
            case "three-way" | "main" | "wired-main" as near:
                run(key, far, 3)
                run(far, light)
                other = "companion" if near == "wired-main" else "three-way"
                said += [(key, {"d1": near}, f"d1@{light}", "control"), (far, {"d1": other}, "", "control")]
                said.append((light, {}, "", "luminaire"))
            case "fan-and-light" as device:
                run(key, light, 3)
                said += [(key, {"d1": device}, f"d1.1@{light} d1.2@{light}", "control"), (light, {}, "", "fan")]
            case device:
                run(key, light)
                said += [(key, {"d1": device}, f"d1@{light}", "control"), (light, {}, "", "luminaire")]
    boxes = [box(key, " ".join(cables[key]), devices, loads, use=use) for key, devices, loads, use in said]
    order = draw(st.permutations([key for key, *_ in said]))
    colors = draw(st.sampled_from(["US", "US", "UK today", "UK before 2004", "India"]))
    house = job(boxes, " ".join(runs), terms={"colors": colors})
    return looked_at(house) if colors == "US" else house, order[: draw(st.integers(1, len(order)))]


def is_proven(house: Job, key: str) -> bool:
    """Whether nothing fails or is open in a box, but for colors nobody looked at."""
    at = look(house, key)
    return not at.findings and not at.overfull and {one.code for one in at.unsaid} <= {"colors-not-seen"}


@given(houses(), st.data())
@settings(max_examples=40, deadline=None)
def test_whichever_box_comes_first_all_that_were_proposed_hold_and_need_all_their_wires(
    drawn: tuple[Job, list[str]], data: st.DataObject
) -> None:
    """Box by box, in any order, the rest not hooked up yet; then any one end left out of its splice, or capped."""
    house, order = drawn
    for number, key in enumerate(order, 1):
        house = hooked_up(house, key)[0]
        assert all(is_proven(house, one) for one in order[:number])
    key = data.draw(st.sampled_from(order))
    (at,) = (one for one in house.boxes if one.id == key)
    joined = [end for splice in at.splices if len(splice.ends) > 1 for end in splice.ends]
    if joined:
        end = data.draw(st.sampled_from(joined))
        assert not is_proven(left_out(house, key, end), key)
        hooked = [one for one in house.boxes if one.splices and not one.equipment and not house.loads_at.get(one.id)]
        if isinstance(end, ConductorEnd) and not hooked:  # what leads to a box where nothing is may end under a cap
            assert not is_proven(moved(house, key, end, None), key)


def drop(switch: str, module: str = "relay-module") -> Job:
    """Feed at the lamp, a module there, and the old two-wire drop down to a switch nobody hooked up."""
    canopy = {**lamp("lamp", "A2 B2"), "planned": box("x", "A2", {"m1": module}, "m1@lamp")["planned"]}
    return job([box("a", "A2", {"d1": switch}), canopy], "lamp.A=1 a.A=lamp.B")


@pytest.mark.parametrize("switch", ["switch", "two-wire", "three-way"])
def test_no_drop_gets_hot_and_neutral_while_a_switch_may_be_across_it(switch: str) -> None:
    """Common practice: the two wires of a drop are one wire cut by the switch; it joins them when it closes."""
    house = drop(switch)
    made = propose(house, "lamp")
    assert isinstance(made, Refusal) and "a dead short once it closes" in say(made.reasons[0])
    free = propose(drop("receptacle"), "lamp")
    assert isinstance(free, Proposal), "what takes both hot and neutral gets them"
    by_hand = house.changed(boxes=(house.boxes[0], house.boxes[1].changed(splices=free.splices["lamp"])))
    seen = look(by_hand, "lamp")
    assert seen.state.word == "open" and "beyond-not-known" in {one.code for one in seen.unsaid}
