"""The hook-ups that are got wrong in practice, each made from one that works, and what must be said of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import pytest

from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.conductor import Conductor
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Job
from nail_count.trade.model.measure import Power
from nail_count.trade.model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd, Splice
from nail_count.trade.model.wire import Cable
from nail_count.trade.wiring.hookup.gear import gear_of
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.hookup.network import CableWires, Gear, NetLoad, Network, Source
from nail_count.trade.wiring.hookup.proof import prove
from tests.trade.wiring.hookup.houses import box, job, lamp
from tests.trade.wiring.hookup.schemes import (
    PROVEN,
    TWO_POLES,
    UK,
    apart,
    at_outlet,
    dead_end,
    feed,
    heater,
    loop,
    modular,
    onward,
)
from tests.trade.wiring.hookup.test_propose import hooked_up


def wire(id: str) -> ConductorEnd:
    return ConductorEnd(of=id)


def lead(item: str, terminal: int) -> LeadEnd:
    return LeadEnd(of=item, terminal=terminal)


def made(house: Job) -> Job:
    return hooked_up(house)[0]


def with_splices(house: Job, at: str, change: Callable[[tuple[Splice, ...]], tuple[Splice, ...]]) -> Job:
    boxes = tuple(one.changed(splices=change(one.splices)) if one.id == at else one for one in house.boxes)
    return house.changed(boxes=boxes)


def moved(house: Job, at: str, **to: str) -> Job:
    """A house with ends of a box in other splices: each by the end it joins; "" takes it out."""

    def change(splices: tuple[Splice, ...]) -> tuple[Splice, ...]:
        for name, where in to.items():
            end = ENDS[name]
            splices = tuple(one.changed(ends=tuple(e for e in one.ends if e != end)) for one in splices)
            if where:
                splices = tuple(
                    one.changed(ends=(*one.ends, end)) if ENDS[where] in one.ends else one for one in splices
                )
        return tuple(one for one in splices if one.ends)

    return with_splices(house, at, change)


ENDS: dict[str, End] = {
    **{f"{letter}{number}": wire(f"{letter}{number}") for letter in "ABC" for number in (1, 2, 3)},
    **{f"{letter}g": GroundEnd(cable=letter) for letter in "ABC"},
    **{f"{item}_{terminal}": lead(item, terminal) for item in ("d1", "d2", "m1") for terminal in range(1, 7)},
    "hot": FixtureEnd(box="a", load="l1", side="hot"),
    "neutral": FixtureEnd(box="a", load="l1", side="neutral"),
    "bond": BondEnd(),
}
SMART, FAR = made(feed("smart")), made(apart("main", "three-way"))
TWO = made(
    job(
        [
            box("a", "A2 B2 C2", {"d1": "smart"}, "d1@lamp", other_circuits=["2"]),
            lamp("lamp"),
        ],
        "a.A=1 a.B=lamp.A a.C=2",
    )
)
PAIR = made(apart("three-way", "three-way"))
PARALLEL = made(
    job([box("a", "A2 B2", {"d1": "two-wire", "d2": "two-wire"}, "d1@lamp"), lamp("lamp")], "a.A=1 a.B=lamp.A")
)
HEATED = made(
    job(
        [box("a", "A2 B2 C2", {"d1": "switch"}, "d1@lamp", other_circuits=["2"]), lamp("lamp")],
        "a.A=1 a.B=lamp.A a.C=2",
        circuits=[*TWO_POLES, {"id": "2", "space": 4}],
    )
)
REGULATED = made(
    job(
        [box("a", "A2 B2", {"d1": "switch", "d2": "regulator", "m1": "mains-module"}, "m1@lamp"), lamp("lamp")],
        "a.A=1 a.B=lamp.A",
    )
)


def with_sheet(house: Job, of: str, **more: object) -> Job:
    return house.changed(sheets=tuple(one.changed(**more) if one.id == of else one for one in house.sheets))


def carrying(house: Job, load: str) -> Job:
    """A house whose smart switch may carry so much on its load lead; its lamp draws 60 W / 120 V = 0.5 A."""
    at = house.boxes[0].devices[0]
    lit = at.loads[0].changed(kind="incandescent", each=Power.parse("60 W"))
    near = house.boxes[0].changed(devices=(at.changed(loads=(lit,)),))
    house = house.changed(boxes=(near, *house.boxes[1:]))
    most = Power.parse(load, "A")
    terminals = tuple(one.changed(most=most) if one.role == "load" else one for one in house.sheets[0].terminals)
    return with_sheet(house, "smart", terminals=terminals)


WRONG: dict[str, tuple[Job, set[str]]] = {
    "line and load exchanged": (
        moved(moved(SMART, "a", d1_1="B1"), "a", d1_2="A1"),
        {"not-powered"},
    ),
    "neutral of the other circuit": (moved(TWO, "a", d1_3="C2"), {"neutral-of-another"}),
    "lamp on the neutral of the other circuit": (moved(TWO, "a", B2="C2"), {"neutral-of-another", "returns-elsewhere"}),
    "neutrals of two circuits joined": (moved(TWO, "a", C2="A2"), {"neutrals-joined"}),
    "hots of two circuits joined": (moved(TWO, "a", C1="A1"), {"legs-shorted"}),
    "load neutral switched": (moved(made(feed("switch")), "a", B1="A1", d1_1="A2", B2="d1_2"), {"neutral-switched"}),
    "far three-way left as it was": (moved(FAR, "b", d1_1="", B1="d1_1", d1_3="A1"), {"does-not-change"}),
    "jumper on the wrong traveler": (moved(FAR, "b", B1="A2", d1_1="A2", d1_2="A1"), {"does-not-change"}),
    "traveler and common exchanged": (moved(PAIR, "b", d1_1="A1", d1_2="B1"), {"does-not-change"}),
    "two-wire device, its lamp removed": (moved(made(loop("two-wire")), "lamp", hot=""), {"not-powered"}),
    "two two-wire devices on one load": (moved(PARALLEL, "a", d2_1="A1", d2_2="B1"), {"not-powered"}),
    "mains on a dry input": (moved(made(at_outlet("dry-module")), "lamp", B1="A1"), {"mains-on-dry-input"}),
    "a switch left out, its lamp on the feed": (
        moved(made(feed("switch")), "a", B1="A1", d1_1="", d1_2=""),
        {"does-not-change"},
    ),
    "a two-wire device left out, its lamp on the feed": (
        moved(made(feed("two-wire")), "a", B1="A1", d1_1="", d1_2=""),
        {"not-powered"},
    ),
    "onward feed left out": (moved(made(onward()), "a", C1="", C2=""), {"onward-not-fed"}),
    "onward feed behind the switch": (moved(made(onward()), "a", C1="B1"), {"onward-not-fed"}),
    "what goes on with its hot on the neutral": (
        moved(moved(made(onward()), "a", C1="", C2=""), "a", C1="A2", C2="A1"),
        {"polarity-reversed"},
    ),
    "a lamp with its hot on the neutral": (
        moved(moved(made(feed("switch")), "lamp", hot="", neutral=""), "lamp", hot="A2", neutral="A1"),
        {"polarity-reversed"},
    ),
    "the grounds of two feeds not joined in the box": (moved(TWO, "a", Cg=""), {"grounds-apart"}),
    "ground forgotten": (moved(SMART, "a", d1_4=""), {"ground-missing"}),
    "companion given the load": (
        moved(made(apart("wired-main", "companion")), "b", A1="A2", B1="A2"),
        {"companion-given-load"},
    ),
    "lamp on the signal": (moved(made(apart("wired-main", "companion")), "b", B1="A2"), {"does-not-change"}),
    "both sides of a switch in one splice": (moved(made(feed("switch")), "a", d1_2="A1", B1="A1"), {"bridged"}),
    "neutral bonded to ground": (moved(SMART, "a", Ag="A2"), {"neutral-meets-ground"}),
    "hot on the ground": (moved(SMART, "a", Ag="A1"), {"hot-meets-ground"}),
    "hot on the neutral": (moved(SMART, "a", A2="A1"), {"hot-meets-neutral"}),
    "capped conductor live at its far end": (moved(made(dead_end("main", "three-way")), "a", B3="A1"), {"capped-live"}),
    "live end bare": (moved(SMART, "a", A1=""), {"live-end-bare"}),
    "heater between a hot and a neutral": (moved(made(heater("smart", 3)), "a", B2="A3"), {"neutral-at-two-hots"}),
    "heater between two breakers": (moved(HEATED, "a", B2="C1"), {"two-breakers"}),
    "a lead that carries more than it may": (carrying(SMART, "0.499 A"), {"terminal-overloaded"}),
    "a neon switch in front of an input": (with_sheet(made(modular()), "switch", neon=True), {"leaks-into-input"}),
    "a dimmer in front of an input": (
        moved(moved(REGULATED, "a", d1_2=""), "a", d2_1="A1", d2_2="m1_4"),
        {"leaks-into-input"},
    ),
    "an old regulator behind a module": (moved(REGULATED, "a", d2_1="m1_2", B1="d2_2"), {"not-powered"}),
}


@pytest.mark.parametrize(("house", "codes"), WRONG.values(), ids=WRONG)
def test_it_is_caught(house: Job, codes: set[str]) -> None:
    """By its rule, and where the state matters, in a state that can be thrown."""
    at = look(house, "a")
    found = {one.finding.code: one for one in at.findings}
    assert codes & set(found), found
    assert at.state.word == "fails"
    for code in codes & set(found):
        state = found[code].finding.state
        if code in ("not-powered", "does-not-change", "mains-on-dry-input", "onward-not-fed"):
            assert state is not None and state.on == frozenset("1") and "breaker 1 on" in found[code].state


def test_the_same_houses_hold_as_they_were() -> None:
    for house in (SMART, FAR, TWO, PAIR, HEATED, carrying(SMART, "1/2 A"), REGULATED):
        assert look(house, "a").state.word != "fails", look(house, "a").findings


def source(circuit: str, leg: int, shares: str | None = None) -> Source:
    return Source(circuit, f"h{circuit}", "n" if shares else f"n{circuit}", leg, shares)


def test_a_neutral_past_a_protector_belongs_to_it() -> None:
    """Taken from before it, the lamp leaks past it; from past it, it is right."""
    trips = Gear("p", "protector", ((), (("h1", "l"), ("n1", "m"))), ("tripped", "on"))
    switch = Gear("s", "switch", ((), (("l", "a"),)), ("off", "on"), controls=(("lamp",),))
    for neutral, codes in (("n1", {"past-protector"}), ("m", set())):
        network = Network((source("1", 0),), gear=(trips, switch), loads=(NetLoad("lamp", "a", neutral, "1"),))
        assert {one.code for one in prove(network).findings} - {"does-not-change"} == codes


def test_two_cables_of_one_circuit_are_not_joined_into_a_ring() -> None:
    """NEC 300.3(B), 310.10(G), from memory; in the UK a circuit of sockets is one."""
    at_rest = ((("h1", "a"), ("n1", "b")), (("h1", "c"), ("n1", "d")))
    cables = tuple(CableWires(f"r{number}", pairs) for number, pairs in enumerate(at_rest))
    lamps = (NetLoad("lamp", "a", "b", "1"),)
    one = Network((source("1", 0),), (), cables, loads=lamps)
    ring = Network((source("1", 0),), (("a", "c"), ("b", "d")), cables, loads=lamps)
    assert prove(one).holds and {each.code for each in prove(ring).findings} == {"fed-twice"}
    assert prove(replace(ring, rings=True)).holds


BATH = job(
    [box("a", "A2 B2", {"d1": "gfci"}), box("b", "A2 B2", {"d1": "switch"}, "d1@lamp"), lamp("lamp")],
    "a.A=1 a.B=b.A b.B=lamp.A",
)
"""A receptacle that trips, a switch and its lamp past it."""
PROTECTED: dict[str, tuple[End, ...]] = {
    "g": (GroundEnd(cable="A"), GroundEnd(cable="B"), lead("d1", 5)),
    "line": (wire("A1"), lead("d1", 1)),
    "neutral": (wire("A2"), lead("d1", 2)),
    "load": (wire("B1"), lead("d1", 3)),
    "past": (wire("B2"), lead("d1", 4)),
}
"""As its instructions have it: the feed on its line terminals, what it protects on its load terminals."""


def bath(**other: tuple[End, ...]) -> set[str]:
    """What is found with the receptacle joined so; the switch past it as usual."""
    at_switch: dict[str, tuple[End, ...]] = {
        "g": (GroundEnd(cable="A"), GroundEnd(cable="B"), lead("d1", 3)),
        "hot": (wire("A1"), lead("d1", 1)),
        "switched": (wire("B1"), lead("d1", 2)),
        "neutral": (wire("A2"), wire("B2")),
    }
    at_lamp: dict[str, tuple[End, ...]] = {
        "g": (GroundEnd(cable="A"), FixtureEnd(box="b", load="l1", side="ground")),
        "hot": (wire("A1"), FixtureEnd(box="b", load="l1", side="hot")),
        "neutral": (wire("A2"), FixtureEnd(box="b", load="l1", side="neutral")),
    }
    joined: dict[str, dict[str, tuple[End, ...]]] = {"a": {**PROTECTED, **other}, "b": at_switch, "lamp": at_lamp}
    boxes = tuple(
        one.changed(splices=[Splice(id=id, ends=ends) for id, ends in joined[one.id].items() if len(ends) > 1])
        for one in BATH.boxes
    )
    house = BATH.changed(boxes=boxes)
    return {one.finding.code for one in look(house, "a").findings}


def test_a_receptacle_that_trips_is_fed_at_its_line_terminals_by_hot_and_neutral() -> None:
    """By its instructions, common practice: line on line; nothing it protects is fed otherwise. Tripped, all past it
    is off, as behind a breaker."""
    one, two, three, four = (lead("d1", number) for number in (1, 2, 3, 4))
    assert bath() == set()
    assert "line-side-not-fed" in bath(line=(wire("A2"), one), neutral=(wire("A1"), two)), "line and neutral exchanged"
    assert "line-side-not-fed" in bath(line=(wire("A1"), one, two), neutral=(wire("A2"),)), "its neutral on the hot"
    assert "line-side-not-fed" in bath(line=(wire("A1"),), neutral=(wire("A2"), two)), "no line"
    backward = bath(
        line=(wire("B1"), one), neutral=(wire("B2"), two), load=(wire("A1"), three), past=(wire("A2"), four)
    )
    assert "line-side-not-fed" in backward, "fed at its load terminals"
    both = bath(line=(wire("A1"), wire("B1"), one, three), load=())
    assert "protector-bypassed" in both, "the hot past it taken from before it"


def test_a_shared_neutral_may_not_hang_on_a_device() -> None:
    """NEC 300.13(B), from memory: two circuits on one neutral, pigtailed; one circuit alone may."""
    for shares, codes in (("2", {"neutral-through-device"}), (None, set())):
        sources = (source("1", 0, shares), source("2", 1, "1" if shares else None))
        at = "n" if shares else "n1"
        network = Network(sources, ((at, "x"), ("x", "y")), through=("x",))
        assert {one.code for one in prove(network).findings} == codes


def test_two_legs_on_one_neutral_are_one_multiwire_circuit() -> None:
    """Its hots stay apart, its neutral is one; a lamp on each side has what it needs."""
    sources = (source("1", 0, "2"), source("2", 1, "1"))
    lamps = (NetLoad("one", "h1", "n", "1"), NetLoad("other", "h2", "n", "2"), NetLoad("both", "h1", "h2", None, 2))
    proof = prove(Network(sources, loads=lamps, tied=(frozenset("12"),)))
    assert proof.holds and (proof.states, proof.burning) == (12, 2 + 2 + 1)
    assert {one.code for one in prove(Network(sources, loads=lamps)).findings} == {"two-breakers"}


@pytest.mark.parametrize(("tie", "codes"), [(True, set()), (False, {"two-circuits-on-yoke"})])
def test_two_circuits_on_one_yoke_open_together(tie: bool, codes: set[str]) -> None:
    """NEC 210.7, from memory: a receptacle whose halves hang on two circuits."""
    plug = box("a", "A3", {"d1": "duplex"}, other_circuits=["2"], use="receptacle")
    plug["planned"]["devices"][0]["tab_broken"] = True
    ends = ((wire("A1"), lead("d1", 1)), (wire("A2"), lead("d1", 2)), (wire("A3"), lead("d1", 3)))
    splices = [*ends, (GroundEnd(cable="A"), lead("d1", 5))]
    circuits = [{"id": "1", "space": 1, "neutral_with": "2", "tied": tie}, {"id": "2", "space": 3}]
    house = job([plug], "a.A=1", circuits=circuits)
    house = with_splices(house, "a", lambda _: tuple(Splice(id=f"s{n}", ends=e) for n, e in enumerate(splices, 1)))
    assert {one.finding.code for one in look(house, "a").findings} == codes


def test_a_breaker_of_two_poles_opens_both() -> None:
    """Four states of a switch and one breaker, the heater burning in one of them; half of it is never live alone."""
    proof = look(made(heater("switch")), "a").proof
    assert (proof.states, proof.burning, proof.holds) == (4, 1, True)


def matched(said: str) -> Job:
    """A lamp whose cable has other colors at its far end, one wire of it matched."""
    house = feed("smart")
    (at, far), (near, (cable,)) = house.boxes, (house.boxes[0].cables, house.boxes[1].cables)
    painted = near[1].changed(conductors=tuple(Conductor(color=c) for c in ("red", "blue")))
    told = painted.changed(conductors=(painted.conductors[0].changed(same_as=said), painted.conductors[1]))
    return house.changed(boxes=(at.changed(cables=(near[0], told)), far.changed(cables=(cable,))))


def test_a_match_says_which_wires_are_one_where_colors_do_not() -> None:
    wires = [graph(matched(said)).network.cables for said in ("lamp, A2", "A1", "")]
    pairs = [{pair for cable in cables for pair in cable.pairs if "lamp" in pair[1]} for cables in wires]
    assert pairs == [{("a/B1", "lamp/A2"), ("a/B2", "lamp/A1")}, {("a/B1", "lamp/A1"), ("a/B2", "lamp/A2")}, set()]


def test_a_module_between_two_circuits() -> None:
    """Its contact joins their hots when it closes, and only then."""
    relay = Gear("m", "module", ((), (("h1", "h2"),)), ("off", "on"), "h1", "h2", "n1", circuit="1")
    (found,) = prove(Network((source("1", 0), source("2", 0)), gear=(relay,))).findings
    assert found.code == "circuits-joined" and found.state is not None and found.state.positions == {"m": 1}


def test_a_contact_that_shorts_is_found_in_its_state() -> None:
    switch = Gear("s", "switch", ((), (("h1", "n1"),)), ("off", "on"))
    (found,) = prove(Network((source("1", 0),), gear=(switch,))).findings
    assert found.code == "hot-meets-neutral" and found.state is not None and found.state.positions == {"s": 1}


def test_a_switch_that_moves_anothers_lamp() -> None:
    """Rule 1: nothing else’s."""
    switch = Gear("s", "switch", ((), (("h1", "a"),)), ("off", "on"), controls=(("lamp",),))
    lamps = (NetLoad("lamp", "a", "n1", "1"), NetLoad("stranger", "a", "n1", "1"))
    (found,) = prove(Network((source("1", 0),), gear=(switch,), loads=lamps)).findings
    assert (found.code, found.of) == ("changes-another", "s")


def test_too_many_states_stay_open() -> None:
    """Above 2^20 nothing is said to hold."""
    chain = [f"x{n}" for n in range(22)]
    row = tuple(Gear(f"s{n}", "switch", ((), ((chain[n], chain[n + 1]),)), ("off", "on")) for n in range(21))
    proof = prove(Network((source("1", 0),), gear=row, loads=(NetLoad("lamp", "x21", "n1", "1"),)))
    assert not proof.holds and len(proof.too_many[0]) == 21


def exchanged(house: Job, at: str, one: str, other: str) -> Job:
    """A house with two ends of a box each in the splice of the other."""
    ends = {ENDS[one]: ENDS[other], ENDS[other]: ENDS[one]}
    return with_splices(
        house, at, lambda splices: tuple(s.changed(ends=tuple(ends.get(e, e) for e in s.ends)) for s in splices)
    )


def told(house: Job) -> Job:
    """With the black of the cable between the switch and its lamp told to be its neutral, and the white switched."""
    roles = [{"color": "black", "asserted_role": "neutral"}, {"color": "white", "asserted_role": "switched"}]

    def change(box: Box) -> Box:
        letter = {"a": "B", "lamp": "A"}[box.id]
        cables = (
            Cable.model_validate({**c.model_dump(), "conductors": roles}) if c.id == letter else c for c in box.cables
        )
        return box.changed(cables=tuple(cables))

    return house.changed(boxes=tuple(map(change, house.boxes)))


def crossed(house: Job) -> Job:
    """A feed at the switch whose cable to the lamp has its two wires exchanged at both ends."""
    return exchanged(exchanged(house, "a", "B1", "B2"), "lamp", "A1", "A2")


@pytest.mark.parametrize(
    ("house", "codes"),
    [
        (exchanged(made(loop("switch")), "lamp", "B1", "B2"), {"white-returns"}),
        (crossed(made(feed("switch"))), {"white-returns", "neutral-on-color"}),
        (crossed(told(made(feed("switch")))), set()),
        (crossed(made(feed("switch", terms=UK))), set()),
        (exchanged(made(loop("switch", terms=UK)), "lamp", "B1", "B2"), set()),
    ],
    ids=["loop that returns on white", "neutral on black", "told to be so", "UK, sleeved", "UK loop, sleeved"],
)
def test_a_wire_is_used_as_its_color_says(house: Job, codes: set[str]) -> None:
    """It works all the same: NEC 200.6(A) and 200.7(C)(1), from memory; in the UK cores are sleeved at their ends."""
    assert prove(graph(house).network).findings == []
    for key in ("a", "lamp"):
        assert {one.finding.code for one in look(house, key).findings} == codes


def test_hots_of_the_mains_and_of_an_inverter_never_meet() -> None:
    """Two supplies in one box: joined, they feed into each other, whichever breaker is off."""
    backed = tuple(one.changed(supply="inverter") if one.id == "2" else one for one in TWO.circuits)
    joined = with_splices(
        TWO.changed(circuits=backed),
        "a",
        lambda splices: tuple(
            one.changed(ends=(*one.ends, wire("C1"))) if wire("A1") in one.ends else
            one.changed(ends=tuple(end for end in one.ends if end != wire("C1")))
            for one in splices
        ),
    )  # fmt: skip
    assert {one.code for one in prove(graph(joined).network).findings} & {"circuits-joined", "legs-shorted"}


def test_a_sender_is_fed_and_its_dry_input_sees_no_mains() -> None:
    house = made(PROVEN["a dry sender behind each plain switch, a relay at the lamp"])
    assert look(house, "a").findings == ()

    def on_the_hot(splices: tuple[Splice, ...]) -> tuple[Splice, ...]:
        return tuple(
            one.changed(ends=(*one.ends, lead("m1", 3))) if wire("A1") in one.ends else
            one.changed(ends=tuple(end for end in one.ends if end != lead("m1", 3)))
            for one in splices
        )  # fmt: skip

    assert "mains-on-dry-input" in {
        one.code for one in prove(graph(with_splices(house, "a", on_the_hot)).network).findings
    }
    unfed = with_splices(house, "a", lambda splices: tuple(
        one.changed(ends=tuple(end for end in one.ends if end != lead("m1", 2))) for one in splices
    ))  # fmt: skip
    assert "not-powered" in {one.code for one in prove(graph(unfed).network).findings}


def test_a_tripping_receptacle_with_a_neutral_terminal_alone_past_it_is_still_one_that_trips() -> None:
    """Whatever a sheet leaves out: it is no sender, and its neutral parts when it trips."""
    roles = [{"role": role, "kind": "screw"} for role in ("line", "neutral", "load neutral")]
    sheet = Datasheet.model_validate({"id": "odd", "name": "Odd", "kind": "receptacle", "terminals": roles})
    item = Device.model_validate({"id": "d1", "gang": 1, "sheet": "odd"})
    gear = gear_of("a", item, sheet, {"odd": sheet}, "1")
    assert gear is not None and (gear.kind, gear.words) == ("protector", ("tripped", "on"))
    assert gear.positions == ((), (("a/d1.2", "a/d1.3"),))
