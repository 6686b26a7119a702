"""Every way of the trade: proposed, and worked out again by libraries that know nothing of it."""

from __future__ import annotations

from itertools import product

import pytest

from nail_count.trade.model.job import Job
from nail_count.trade.model.splice import BondEnd, ConductorEnd, LeadEnd, Splice
from nail_count.trade.model.survey import GroundWay
from nail_count.trade.model.wire import Cable, CableKind
from nail_count.trade.wiring.hookup.graph import Graph, graph
from nail_count.trade.wiring.hookup.look import HookUp, look
from nail_count.trade.wiring.hookup.network import InState, NetworkState, thrown
from nail_count.trade.wiring.hookup.propose import Proposal, Refusal, propose
from tests.trade.wiring.hookup import houses
from tests.trade.wiring.hookup.outside import states, voltages
from tests.trade.wiring.hookup.schemes import (
    INDIA,
    PROVEN,
    REFUSED,
    SEVERAL,
    SHORT,
    UK,
    apart,
    dead_end,
    feed,
    loop,
    three_places,
)
from tests.trade.wiring.hookup.side_by_side import side_by_side


def hooked_up(house: Job, at: str = "a") -> tuple[Job, Proposal]:
    made = propose(house, at)
    assert isinstance(made, Proposal), made
    boxes = tuple(box.changed(splices=made.splices.get(box.id, box.splices)) for box in house.boxes)
    return house.changed(boxes=boxes), made


def seen(house: Job) -> Graph:
    return graph(hooked_up(house)[0])


@pytest.mark.parametrize("house", PROVEN.values(), ids=PROVEN)
def test_every_way_works_by_kirchhoff_too(house: Job) -> None:
    """In every state what is hot has 120 V on it, a lamp that burns has them across it, and no other has."""
    network = seen(house).network
    burned = set()
    for state in states(network):
        now, volts = InState(network, state), voltages(network, state)
        for load in network.loads:
            across = abs(volts[load.one] - volts[load.other])
            assert now.burns(load) == (across > 100), (load.id, state)
            if across > 100:
                burned.add(load.id)
        for gear in network.gear:
            for node in gear.nodes:
                if now.hots(node):
                    assert abs(volts[node]) > 100
                elif now.neutrals(node):
                    assert abs(volts[node]) < 1
    assert burned == {load.id for load in network.loads}


@pytest.mark.parametrize("house", PROVEN.values(), ids=PROVEN)
def test_every_place_changes_its_lamp_from_every_state(house: Job) -> None:
    """Thrown one after the other, as far as any order leads; by voltages, not by the proof."""
    network = seen(house).network
    on = frozenset(source.circuit for source in network.sources)
    start = NetworkState(on, {gear.id: 0 for gear in network.gear})
    reached, queue = {tuple(sorted(start.positions.items()))}, [start]
    places = [(gear, output) for gear in network.gear for output, mine in enumerate(gear.controls) if mine]
    assert places
    for state in queue:
        before = voltages(network, state)
        for gear, output in places:
            after = thrown(network, state, gear, output)
            volts = voltages(network, after)
            for load in network.loads:
                was, now = (abs(one[load.one] - one[load.other]) > 100 for one in (before, volts))
                assert (was != now) == (load.id in gear.controls[output]), (gear.id, load.id)
            mark = tuple(sorted(after.positions.items()))
            if mark not in reached:
                reached.add(mark)
                queue.append(after)
    assert len(reached) > 1


def test_two_three_and_four_ways_are_their_truth_tables() -> None:
    """A lamp on two three-ways burns where they differ or agree; a four-way turns that about."""
    for house, number in (
        (apart("three-way", "three-way"), 2),
        (three_places("three-way", "four-way", "three-way"), 3),
    ):
        network = seen(house).network
        (lamp,) = network.loads
        ids = [gear.id for gear in network.gear]
        lit = {
            numbers: InState(network, NetworkState(frozenset("1"), dict(zip(ids, numbers, strict=True)))).burns(lamp)
            for numbers in product((0, 1), repeat=number)
        }
        parity = lit[(0,) * number]
        assert all(burns == (parity if sum(numbers) % 2 == 0 else not parity) for numbers, burns in lit.items())


@pytest.mark.parametrize("house", SHORT.values(), ids=SHORT)
def test_a_missing_conductor_is_said(house: Job) -> None:
    """How many there are, how many are needed, for what; and the ways out."""
    made = propose(house, "a")
    assert isinstance(made, Refusal) and made.ways_out
    (reason, *_) = made.reasons
    there = {2: "there are 2 wires, and 3 are needed", 3: "there are 3 wires, and 4 are needed"}
    assert any(words in str(reason[0]) for words in there.values())
    assert "the neutral of circuit 1" in str(reason[0]) and "the switched hot" in str(reason[0])


def on(splices: tuple[Splice, ...], item: str, terminal: int) -> set[str]:
    """The conductors in the splice of a lead."""
    end = LeadEnd(of=item, terminal=terminal)
    (splice,) = (one for one in splices if end in one.ends)
    return {one.of for one in splice.ends if isinstance(one, ConductorEnd)}


def test_colors_are_used_as_the_trade_uses_them() -> None:
    """Common practice: in a loop the hot goes down on the re-marked white, in the UK it comes back on the blue."""
    for terms, line, load in (({}, "A2", "A1"), ({"terms": UK}, "A1", "A2"), ({"terms": INDIA}, "A1", "A2")):
        splices = hooked_up(loop("switch", **terms))[1].splices["a"]
        assert (on(splices, "d1", 1), on(splices, "d1", 2)) == ({line}, {load})
    three = hooked_up(loop("smart", 3))[1].splices["a"]
    assert [on(three, "d1", terminal) for terminal in (1, 2, 3)] == [{"A1"}, {"A2"}, {"A3"}]


def colored(house: Job, *colors: str) -> Job:
    """The house with the cable between the switch and its lamp of these colors, at both ends."""
    cores = [{"color": color} for color in colors]
    boxes = tuple(
        box.changed(
            cables=tuple(
                Cable.model_validate({**cable.model_dump(), "conductors": cores})
                if (box.id, cable.id) in (("a", "B"), ("lamp", "A"))
                else cable
                for cable in box.cables
            )
        )
        for box in house.boxes
    )
    return house.changed(boxes=boxes)


def test_a_neutral_goes_on_white_alone_but_where_cores_are_sleeved() -> None:
    """NEC 200.6(A): small grounded conductors are white or gray along their length; BS 7671 514: sleeved at their ends.

    Both from memory.
    """
    made = propose(colored(feed("switch"), "black", "red"), "a")
    assert isinstance(made, Refusal) and "the neutral of circuit 1" in str(made.reasons)
    assert isinstance(propose(colored(feed("switch"), "black", "white"), "a"), Proposal)
    assert isinstance(propose(colored(feed("switch", terms=UK), "brown", "gray"), "a"), Proposal)


def test_the_far_three_way_gets_its_hot_on_white_and_sends_travelers_back() -> None:
    """NEC 200.7(C), from memory: the white is the supply of the far switch, never its return."""
    made = hooked_up(dead_end("three-way", "three-way"))[1].splices
    assert [on(made["b"], "d1", terminal) for terminal in (1, 2, 3)] == [{"A3"}, {"A1"}, {"A2"}]
    assert on(made["a"], "d1", 1) == {"C1"}


def test_a_main_is_hooked_up_as_its_end_asks() -> None:
    """Common practice: the far switch closes the signal onto the load of a main at the line end, else onto the line."""
    made = hooked_up(apart("main", "three-way"))[1]
    assert on(made.splices["b"], "d1", 1) == {"A1", "B1"} and on(made.splices["b"], "d1", 2) == {"A2"}
    made = hooked_up(apart("three-way", "main", "b"))[1]
    assert on(made.splices["a"], "d1", 1) == {"A1", "B1"} and on(made.splices["a"], "d1", 2) == {"B2"}
    made = hooked_up(dead_end("main", "three-way"))[1]
    spare = [one for id in "ab" for one in made.splices[id] if len(one.ends) == 1]
    assert [one.ends[0] for one in spare] == [ConductorEnd(of="B3"), ConductorEnd(of="A3")], "capped at both ends"


def test_a_half_hot_receptacle_keeps_its_neutral_whole() -> None:
    """Common practice: hot tab broken, neutral tab kept; upper half always fed, lower half by the switch."""
    made = hooked_up(PROVEN["half-hot receptacle"])[1].splices
    assert [on(made["plug"], "d1", terminal) for terminal in (1, 2, 3)] == [{"A1"}, {"A2"}, {"A3"}]
    assert not any(LeadEnd(of="d1", terminal=4) in one.ends for one in made["plug"]), "one neutral screw is enough"
    assert on(made["a"], "d1", 1) == {"A1", "B1"} and on(made["a"], "d1", 2) == {"B2"}


@pytest.mark.parametrize(("house", "said"), REFUSED.values(), ids=REFUSED)
def test_what_a_sheet_does_not_allow_is_not_offered(house: Job, said: str) -> None:
    made = propose(house, "a")
    assert isinstance(made, Refusal) and any(said in "".join(map(str, reason)) for reason in made.reasons), made


def test_what_a_wire_was_told_to_be_outranks_its_color() -> None:
    """Invented: a feed whose red is the line, its black unused; the red goes to the device, the black under a cap."""
    house = feed("switch")
    roles = [
        {"color": "black", "asserted_role": "unused"},
        {"color": "red", "asserted_role": "line"},
        {"color": "white"},
    ]
    fed = Cable.model_validate({"id": "A", "gauge": 14, "insulated": 3, "conductors": roles})
    near = house.boxes[0].changed(cables=(fed, *house.boxes[0].cables[1:]))
    house, made = hooked_up(house.changed(boxes=(near, *house.boxes[1:])))
    assert on(made.splices["a"], "d1", 1) == {"A2"}
    assert graph(house).network.cables[0].pairs[0] == ("a/A2", "panel/1")


MULTI = [name for name, house in PROVEN.items() if house.terms.colors == "US" and len(house.boxes) > 2]


@pytest.mark.parametrize("name", MULTI)
def test_two_pairs_stand_in_one_box(name: str) -> None:
    """A hallway: three-ways of two stairs side by side. Each pair is proposed as if the other were not there."""
    for other in MULTI:
        house = side_by_side([PROVEN[name], PROVEN[other]], ("1", "2"))
        made = propose(house, "a")
        assert isinstance(made, Proposal), (other, made)
        boxes = [one.changed(splices=made.splices.get(one.id, ())) for one in house.boxes]
        seen = look(house.changed(boxes=boxes), "a")
        assert not seen.findings and {one.code for one in seen.unsaid} <= {"colors-not-seen"}, other


def without_grounds(house: Job, way: GroundWay | None) -> Job:
    """An old house: no cable has a ground, and this was picked for it."""
    boxes = [
        one.changed(
            cables=[cable.changed(grounds=0) for cable in one.cables], survey=one.survey.changed(ground_way=way)
        )
        for one in house.boxes
    ]
    return house.changed(boxes=boxes)


@pytest.mark.parametrize("name", [name for name, house in PROVEN.items() if house.terms.colors == "US"])
def test_a_house_without_grounds_gets_a_plan_once_it_is_said_what_makes_it_safe(name: str) -> None:
    """NEC 404.9(B), 406.4(D), from memory: protection ahead of it. Every ground lead is capped, no screw is used."""
    old = without_grounds(PROVEN[name], "GFCI")
    made = propose(old, "a")
    assert isinstance(made, Proposal), made
    planned = old.changed(boxes=[one.changed(splices=made.splices.get(one.id, ())) for one in old.boxes])
    seen = look(planned, "a")
    assert not seen.findings and {one.code for one in seen.unsaid} <= {"colors-not-seen"}
    sheets = {one.id: one for one in old.sheets}
    for box in planned.boxes:
        for item in box.contents.equipment:
            for number, terminal in enumerate(sheets[item.sheet].terminals, 1):
                if terminal.role == "ground":
                    mine = [one for one in box.splices if LeadEnd(of=item.id, terminal=number) in one.ends]
                    assert [len(one.ends) for one in mine] == ([1] if terminal.kind == "lead" else [])


@pytest.mark.parametrize(
    ("kind", "is_ground"), [("armored", True), ("conduit", True), ("sheathed", False), (None, False)]
)
def test_armor_that_was_picked_is_the_ground_only_where_some_enters(kind: CableKind | None, is_ground: bool) -> None:
    """The device's ground lead goes to the metal box; where no armor enters, the pick is asked for again."""
    old = without_grounds(PROVEN["feed at the switch, smart"], "sheath")
    boxes = []
    for one in old.boxes:
        metal = one.contents.enclosure.changed(material="metal")
        planned = one.contents.changed(enclosure=metal)
        boxes.append(one.changed(cables=[cable.changed(kind=kind) for cable in one.cables], planned=planned))
    made = propose(old.changed(boxes=boxes), "a")
    assert isinstance(made, Proposal)
    mine = {frozenset(one.ends) for one in made.splices["a"]}
    assert (frozenset((LeadEnd(of="d1", terminal=4), BondEnd())) in mine) == is_ground
    planned_boxes = [one.changed(splices=made.splices.get(one.id, ())) for one in boxes]
    seen = look(old.changed(boxes=planned_boxes), "a")
    assert not seen.findings and ("ground-not-picked" in {one.code for one in seen.unsaid}) != is_ground


def test_what_makes_it_safe_is_asked_for_and_no_ground_lead_meets_a_neutral() -> None:
    """A neutral is no ground: NEC 250.142(B), from memory; the old trick shows as what it is."""
    old = without_grounds(PROVEN["feed at the switch, smart"], "GFCI")
    made = propose(old, "a")
    assert isinstance(made, Proposal)
    neutral, hot, switched, green = made.splices["a"]
    assert (neutral.name, green.name, green.ends) == ("neutral", "cap", (LeadEnd(of="d1", terminal=4),))

    def seen(way: GroundWay | None, *splices: Splice) -> HookUp:
        boxes = [one.changed(splices=made.splices.get(one.id, ())) for one in without_grounds(old, way).boxes]
        return look(old.changed(boxes=[boxes[0].changed(splices=splices), *boxes[1:]]), "a")

    assert {one.code for one in seen(None, neutral, hot, switched, green).unsaid} >= {"ground-not-picked"}
    boot = neutral.changed(ends=(*neutral.ends, *green.ends))
    assert "neutral-meets-ground" in {one.finding.code for one in seen("GFCI", boot, hot, switched).findings}


@pytest.mark.parametrize("name", SEVERAL)
def test_cables_between_the_same_two_boxes_add_up(name: str) -> None:
    """Each device's wires go by one of them, with a neutral of their own: two cables meet at one end only."""
    house = SEVERAL[name]
    made = propose(house, "a")
    assert isinstance(made, Proposal), made
    planned = house.changed(boxes=[one.changed(splices=made.splices.get(one.id, ())) for one in house.boxes])
    seen = look(planned, "a")
    assert not seen.findings and {one.code for one in seen.unsaid} <= {"colors-not-seen"}
    far, two = (
        (planned.boxes[0], "AC") if name == "a loop beside a feed of the same circuit" else (planned.boxes[1], "AB")
    )
    for splice in far.splices:
        cables = {end.of[0] for end in splice.ends if isinstance(end, ConductorEnd) and end.of[0] in two}
        assert len(cables) < 2 or splice.name == "ground"


def test_a_second_cable_of_one_circuit_is_capped_where_its_far_box_has_a_feed() -> None:
    """A box fed by two cables of one circuit: one feeds it, and the other is left open at no end."""
    boxes = [
        houses.box("x", "A2 B2 C2", {"d1": "receptacle"}),
        houses.box("y", "A2 B2", {"d1": "receptacle"}),
        houses.box("a", "A2 B2 C2", {"d1": "switch"}, "d1@lamp"),
        houses.lamp("lamp"),
    ]
    ring = houses.job(boxes, "x.A=1 x.B=y.A x.C=a.A y.B=a.B a.C=lamp.A")
    made = propose(ring, "a")
    assert isinstance(made, Proposal)
    joined = {end.of for splice in made.splices["a"] for end in splice.ends if isinstance(end, ConductorEnd)}
    assert joined == {"A1", "A2", "B1", "B2", "C1", "C2"}
    only = houses.job(boxes, "x.A=1 x.C=a.A y.B=a.B a.C=lamp.A")
    fed = propose(only, "a")
    assert isinstance(fed, Proposal)
    hot = next(splice for splice in fed.splices["a"] if splice.name == "hot")
    assert {"A1", "B1"} <= {end.of for end in hot.ends if isinstance(end, ConductorEnd)}, "the only feed of y"
