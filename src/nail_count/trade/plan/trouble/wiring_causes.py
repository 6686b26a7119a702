"""Causes in the wiring: each put into this box's own network, with what every check then shows."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import combinations, islice, product

from ...model.box import Box
from ...model.job import Job
from ...model.splice import Splice
from ...text.format import and_list
from ...text.wires import name_of_splice
from ...wiring.hookup.graph import Graph, graph
from ...wiring.hookup.network import Gear, InState, Network, NetworkState, Node, wired
from ...wiring.hookup.readings import FULL, FaultKind, SingleFault, kind_at, points_of, single_faults, usual_states
from ...wiring.hookup.stages import node_of
from .causes import Cause
from .checks import Answer, Check
from .symptoms import Symptom

STATES = ("breakers on, everything off", "breakers on, everything on")
"""In which readings are taken."""
HERE, ELSEWHERE, TRIPPED = 3.0, 1.0, 4.0
"""How usual it is beside others that a wire comes loose here, elsewhere, and that a breaker is off; common practice."""
WEAK = "weak"
"""Before the code of a joint that is loose and still carries current."""


@dataclass(frozen=True)
class Setting:
    """A box with its circuits, and the load something is wrong with."""

    job: Job
    """With every box on the same circuits, as planned."""
    box: Box
    load: str

    @cached_property
    def seen(self) -> Graph:
        """The network with nothing wrong."""
        return graph(self.job)

    @cached_property
    def states(self) -> Mapping[str, NetworkState]:
        """The usual states, by name."""
        return usual_states(self.seen)

    @cached_property
    def points(self) -> tuple[Node, ...]:
        """Where in the box can be measured."""
        return points_of(self.seen, self.box.id)

    @cached_property
    def splices(self) -> tuple[Splice, ...]:
        """What joins wires in the box."""
        return tuple(one for one in self.box.splices if len(one.ends) > 1)

    @cached_property
    def circuits(self) -> tuple[str, ...]:
        """The circuits of the network, by their breakers."""
        return tuple(sorted({source.breaker for source in self.seen.network.sources}))

    @cached_property
    def switches(self) -> tuple[Gear, ...]:
        """What switches the load."""
        return tuple(one for one in self.seen.network.gear if self.load in one.all_controls and len(one.positions) > 1)

    def node(self, splice: Splice) -> Node:
        """A node of a splice of the box."""
        return node_of(self.box.id, splice.ends[0])


@dataclass(frozen=True)
class Effect:
    """What a fault does, in the usual states."""

    at: Setting
    fault: SingleFault

    @cached_property
    def now(self) -> Mapping[str, InState]:
        """The network in each state, without what has tripped."""
        return {name: self._after_trips(name) for name in STATES}

    @cached_property
    def trips(self) -> Mapping[str, frozenset[str]]:
        """The circuits that trip in each state."""
        base = wired(self.fault.network)
        return {name: tripped_in(InState(self.fault.network, self.at.states[name], base)) for name in STATES}

    def _after_trips(self, name: str) -> InState:
        state = self.at.states[name]
        return self.fault.in_state(NetworkState(state.on - self.trips[name], state.positions))

    @cached_property
    def burns(self) -> Mapping[str, tuple[bool, bool]]:
        """Of each load, whether it is on with everything off, and with everything on."""
        off, on = (self.now[name] for name in STATES)
        return {load.id: (off.burns(load), on.burns(load)) for load in self.fault.network.loads}

    @cached_property
    def answers_one_place_only(self) -> bool:
        """Whether the load can be on and off, and one of its switches does nothing in some position of the others."""
        network = self.fault.network
        load = next(one for one in network.loads if one.id == self.at.load)
        base, state = wired(network), self.at.states[STATES[0]]
        switches = [gear.id for gear in self.at.switches]
        lit: dict[tuple[int, ...], bool] = {}
        for where in product(*(range(len(gear.positions)) for gear in self.at.switches)):
            stands = {**state.positions, **dict(zip(switches, where, strict=True))}
            lit[where] = InState(network, replace(state, positions=stands), base).burns(load)
        if len(set(lit.values())) < 2 or any(self.trips.values()):
            return False
        return any(
            len({lit[one] for one in lit if _alike(one, where, number)}) == 1
            for number in range(len(switches))
            for where in lit
        )


def _alike(one: tuple[int, ...], other: tuple[int, ...], number: int) -> bool:
    """Whether all switches but one stand the same."""
    return one[:number] == other[:number] and one[number + 1 :] == other[number + 1 :]


def tripped_in(now: InState) -> frozenset[str]:
    """Return the circuits whose breakers trip: a hot meets a neutral, the ground, or a hot of the other leg."""
    legs = {source.circuit: source.leg for source in now.network.sources}
    tripped: set[str] = set()
    for top, circuits in now.hot.items():
        meets = bool(now.cold.get(top)) or top == now.ground
        if meets or len({legs[one] for one in circuits}) > 1:
            tripped |= circuits
    return frozenset(pole for one in tripped for pole in now.network.poles(one))


def faults_of(at: Setting) -> Iterator[SingleFault]:
    """Yield every single fault: loose ends, breakers off, wires that touch or are exchanged, switches that stick."""
    yield from single_faults(at.job, at.box.id, "planned", at.seen)
    yield from _touching(at)
    for gear in at.switches:
        yield from _exchanged(at, gear)
        yield from _stuck(at, gear)


def _touching(at: Setting) -> Iterator[SingleFault]:
    """Two splices of the box that touch, or one that touches the ground."""
    network, base = at.seen.network, wired(at.seen.network)
    for one, other in combinations(at.splices, 2):
        a, b = at.node(one), at.node(other)
        if not base.are_one(a, b):
            words = f"The {splice_name(at, one)} touches the {splice_name(at, other)} in {at.box.name}."
            joined = (*network.joined, (a, b))
            yield SingleFault("touching", words, replace(network, joined=joined), at.box.id, f"{one.id}+{other.id}")


def _exchanged(at: Setting, gear: Gear) -> Iterator[SingleFault]:
    """Two wires of a three-way or four-way switch on each other's terminals."""
    if gear.kind not in ("three-way", "four-way"):
        return
    network = at.seen.network
    for one, other in combinations(dict.fromkeys(gear.nodes), 2):
        turned = {one: other, other: one}
        joined = tuple((turned.get(a, a), turned.get(b, b)) for a, b in network.joined)
        words = f"Two wires are exchanged on {at.seen.gear_names[gear.id]}."
        yield SingleFault(
            "exchanged", words, replace(network, joined=joined), at.seen.box_of[gear.id], f"{one}+{other}"
        )


def _stuck(at: Setting, gear: Gear) -> Iterator[SingleFault]:
    """A switch whose contact stays as it is."""
    for position in (0, -1):
        stays = replace(gear, positions=(gear.positions[position],) * len(gear.positions))
        others = tuple(stays if one.id == gear.id else one for one in at.seen.network.gear)
        words = f"{at.seen.gear_names[gear.id]} is faulty: its contact doesn’t move."
        yield SingleFault("stuck", words, replace(at.seen.network, gear=others), at.seen.box_of[gear.id])


def splice_name(at: Setting, splice: Splice) -> str:
    """Return what a splice of the box is called: its role, and two of its wires."""
    names = [
        at.seen.names[node_of(at.box.id, end)][0] for end in splice.ends if node_of(at.box.id, end) in at.seen.names
    ]
    return f"{name_of_splice(splice.name, 'loose')} splice ({and_list([str(one) for one in names[:2]])})"


def wiring_causes(at: Setting, symptom: Symptom) -> Iterator[Cause]:
    """Yield the causes in the wiring that give a symptom.

    Args:
        at: the box and the load.
        symptom: as people see it.
    """
    right = Effect(at, SingleFault("breaker", "", at.seen.network))
    for fault in faults_of(at):
        effect = Effect(at, fault)
        if _gives(symptom, effect, right):
            yield _without_reset(symptom, _cause(at, effect, right, (fault,)))
        elif symptom in _OF_WEAK_JOINTS and fault.kind == "loose" and effect.burns != right.burns:
            yield _weak(at, effect, right)


_TRIPS: frozenset[Symptom] = frozenset(("trips at once", "other trips"))
"""Where it is known already that a breaker trips: nobody is to try it again, or to see that nothing works."""


def _without_reset(symptom: Symptom, cause: Cause) -> Cause:
    """A cause without the checks that need a breaker that holds, where the symptom is that it trips."""
    if symptom not in _TRIPS:
        return cause
    shows = {check: shown for check, shown in cause.shows.items() if check.code not in ("breaker", "reset", "others")}
    return replace(cause, shows=shows)


_OF_WEAK_JOINTS: frozenset[Symptom] = frozenset(("flickers", "warm", "trips later", "off network"))
"""What a joint that is loose and still carries current gives."""


def _gives(symptom: Symptom, effect: Effect, right: Effect) -> bool:
    """Whether a fault gives a symptom."""
    at, none = effect.at, (False, False)
    burns, was = effect.burns.get(at.load, none), right.burns.get(at.load, none)
    trips = effect.trips[STATES[0]] | effect.trips[STATES[1]]
    others = [load for load, now in effect.burns.items() if load != at.load and now != right.burns[load]]
    network = effect.fault.network
    gives: Mapping[Symptom, Callable[[], bool]] = {
        "dead": lambda: not any(burns) and any(was),
        "stays on": lambda: all(burns) and not all(was),
        "one place": lambda: len(at.switches) > 1 and effect.answers_one_place_only,
        "folded in": lambda: effect.fault.box == at.box.id and (effect.burns != right.burns or bool(trips)),
        "neighbors dead": lambda: bool(others) and not trips,
        "trips at once": lambda: bool(trips),
        "other trips": lambda: len(trips) > 1,
        "guard trips": lambda: not trips and _returns_elsewhere(network) and not _returns_elsewhere(at.seen.network),
    }
    return symptom in gives and gives[symptom]()


def _returns_elsewhere(network: Network) -> bool:
    """Whether a neutral meets the ground, or the neutral of a circuit it doesn't share one with."""
    joined = wired(network)
    shared = {frozenset((one.circuit, one.shares)) for one in network.sources if one.shares}
    for one, other in combinations(network.sources, 2):
        if joined.are_one(one.neutral, other.neutral) and frozenset((one.circuit, other.circuit)) not in shared:
            return True
    return any(joined.are_one(source.neutral, network.ground) for source in network.sources)


MOST_PAIRS = 400
"""So many pairs of faults are tried, where no single one explains the symptom."""


def found_causes(at: Setting, box: str, splice: str) -> Iterator[Cause]:
    """Yield the faults at a place where a person found something, whatever they do to the load.

    Args:
        at: the box and the load.
        box: where it was found.
        splice: in which splice, or the two that touch.
    """
    right = Effect(at, SingleFault("breaker", "", at.seen.network))
    for fault in faults_of(at):
        if fault.box == box and fault.splice == splice and fault.kind in ("loose", "touching"):
            yield _cause(at, Effect(at, fault), right, (fault,))


def double_causes(at: Setting, symptom: Symptom) -> Iterator[Cause]:
    """Yield the pairs of faults in the box that together give a symptom: wires loose, wires that touch.

    Args:
        at: the box and the load.
        symptom: as people see it.
    """
    right = Effect(at, SingleFault("breaker", "", at.seen.network))
    mine = [one for one in faults_of(at) if one.box == at.box.id and one.kind in ("loose", "touching")]
    for first, second in islice(combinations(mine, 2), MOST_PAIRS):
        if first.splice == second.splice:
            continue  # two wires of one splice: found by the check that finds the first
        effect = Effect(at, replace(first, network=_both(at.seen.network, first.network, second.network)))
        if _gives(symptom, effect, right):
            yield _without_reset(symptom, _cause(at, effect, right, (first, second)))


def _both(right: Network, one: Network, other: Network) -> Network:
    """A network with what two faults part and what they join."""
    whole, a, b = set(right.joined), set(one.joined), set(other.joined)
    parted = (whole - a) | (whole - b)
    return replace(
        right, joined=tuple(pair for pair in dict.fromkeys((*one.joined, *other.joined)) if pair not in parted)
    )


def _cause(at: Setting, effect: Effect, right: Effect, faults: tuple[SingleFault, ...]) -> Cause:
    shows: dict[Check, tuple[Answer, ...]] = {}
    tripped = effect.trips[STATES[0]] | effect.trips[STATES[1]] | effect.fault.tripped
    for circuit in at.circuits:
        poles = at.seen.network.poles(circuit)
        shows[Check("breaker", circuit)] = ("tripped",) if tripped & poles else ("on",)
        shows[Check("others", circuit)] = _others(effect, right, circuit)
    shows[Check("reset", at.load)] = ("trips",) if tripped - effect.fault.tripped else ("holds",)
    shows |= dict(_readings(effect))
    shows |= _ohms(at, effect.fault)
    for fault in faults:
        inside = _found_inside(fault)
        if inside is not None:
            shows[inside[0]] = (*shows.get(inside[0], ()), inside[1])
    first = faults[0]
    weight = TRIPPED if first.tripped else HERE if first.box == at.box.id else ELSEWHERE
    code = "+".join(f"{one.box}:{one.splice}:{one.words}" for one in faults)
    words = " ".join(_sentence(at, one) for one in faults)
    return Cause(code, words, " ".join(dict.fromkeys(DO[one.kind] for one in faults)), weight, shows, faults)


def _others(effect: Effect, right: Effect, circuit: str) -> tuple[Answer, ...]:
    """Whether the other loads of a circuit come on; () where none is known."""
    here = [load.id for load in effect.fault.network.loads if load.circuit == circuit and load.id != effect.at.load]
    works = [effect.burns[load][1] for load in here if right.burns[load][1]]
    if not works:
        return ("none",) if circuit in effect.trips[STATES[0]] | effect.fault.tripped else ()
    return ("all",) if all(works) else ("some",) if any(works) else ("none",)


def _readings(effect: Effect) -> Iterator[tuple[Check, tuple[Answer, ...]]]:
    """What a loaded meter shows at each point; () where the breaker trips, or electronics put anything on it."""
    for name in STATES:
        for node in effect.at.points:
            kind = kind_at(effect.now[name], node)
            any_ = bool(effect.trips[name]) or kind == "leaks"
            yield Check("live", node, name), () if any_ else ("full",) if kind in FULL else ("nothing",)


def _ohms(at: Setting, fault: SingleFault) -> dict[Check, tuple[Answer, ...]]:
    """Between which splices there is next to no resistance, with every breaker off and everything switched off."""
    off = NetworkState(frozenset(), at.states[STATES[0]].positions)
    now = InState(fault.network, off)
    return {
        Check("ohms", f"{a.id}+{b.id}"): ("low",) if now.at(at.node(a)) == now.at(at.node(b)) else ("open",)
        for a, b in combinations(at.splices, 2)
        if not _bonded(at, a, b)
    }


def _bonded(at: Setting, one: Splice, other: Splice) -> bool:
    """Whether two splices are one beyond the box; every neutral and the ground are, at the panel."""
    joined = wired(at.seen.network)
    a, b = joined.find(at.node(one)), joined.find(at.node(other))
    panel = {joined.find(node) for node in (at.seen.network.ground, *(one.neutral for one in at.seen.network.sources))}
    return a == b or {a, b} <= panel


def _found_inside(fault: SingleFault) -> tuple[Check, Answer] | None:
    """The check in an open box that finds a fault."""
    match fault.kind:
        case "touching":
            return Check("nick", fault.box), fault.splice
        case "loose":
            return Check("tug", fault.box), fault.splice
        case "exchanged" | "reversed":
            return Check("compare", fault.box), "different"
        case "breaker" | "stuck":
            return None


def _weak(at: Setting, effect: Effect, right: Effect) -> Cause:
    """A joint that is loose and still carries current: it reads as it should until it is tugged."""
    fault = effect.fault
    others = [load for load, burns in effect.burns.items() if load != at.load and burns != right.burns[load]]
    shows: dict[Check, tuple[Answer, ...]] = {
        Check("others too", at.load): ("yes",) if others else ("no",),
        Check("palm", at.load): (),
        Check("unload", at.load): (),
        Check("load off", at.load): (),
        Check("tug", fault.box): (fault.splice,),
    }
    weight = HERE if fault.box == at.box.id else ELSEWHERE
    return Cause(f"{WEAK}:{fault.box}:{fault.splice}", _sentence(at, fault), DO[fault.kind], weight, shows, (fault,))


DO: Mapping[FaultKind, str] = {
    "loose": "Redo that splice.",
    "touching": "Move them apart, and replace a damaged wire.",
    "exchanged": "Land each wire where the drawing shows it.",
    "reversed": "Land each wire where the drawing shows it.",
    "breaker": "Reset it once. If it trips again, leave it off.",
    "stuck": "Replace it.",
}
"""What to do about each kind of fault."""


def _sentence(at: Setting, fault: SingleFault) -> str:
    """A fault as a sentence; of a loose wire only its splice, since any of its wires may be the one."""
    box = next((one for one in at.job.boxes if one.id == fault.box), at.box)
    splice = next((one for one in box.splices if one.id == fault.splice), None)
    if fault.kind == "loose" and splice is not None:
        return f"A wire is loose in the {splice_name(replace(at, box=box), splice)} in {box.name}."
    words = fault.words[0].upper() + fault.words[1:]
    return words if words.endswith(".") else f"{words}."
