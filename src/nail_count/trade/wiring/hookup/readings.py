"""Say what a meter should show at each point of a box, and which one thing gone wrong gives another reading.

Each fault is put into the network and the reading worked out again. Source: how often each is found is common practice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal, get_args

from ...model.job import Job
from ...model.splice import LeadEnd
from ...rules.joints import GHOST_UP_TO, LOADED_UNDER, full_voltage
from .graph import Graph, graph
from .network import InState, Network, NetworkState, Node
from .stages import Stage, contents_at, ends_of, node_of

Kind = Literal["hot", "neutral", "ground", "leaks", "through", "dead", "floats", "driven"]
"""What a point is in a state; `leaks`: behind an open electronic switch; `through`: live by a load whose other side is
hot; `dead`: tied to a neutral by a load; `driven`: a lead of an electronic device that nothing is joined with."""
KINDS: tuple[Kind, ...] = get_args(Kind)
FULL: tuple[Kind, ...] = ("hot", "through")
"""Where a loaded meter shows the full voltage."""


@dataclass(frozen=True, slots=True)
class Expected:
    """What one point should show in one state."""

    kind: Kind
    says: str
    """What a loaded meter shows to the neutral of its circuit."""


def points_of(seen: Graph, box: str) -> tuple[Node, ...]:
    """Where in a box can be measured: its conductors and leads, but for the grounds."""
    grounds = set(seen.network.grounds)
    return tuple(node for node in seen.end_of if seen.box_of[node] == box and node not in grounds)


def expected(seen: Graph, box: str, voltage: int) -> dict[Node, dict[str, Expected]]:
    """What every point of a box should show, by the names of the usual states.

    Args:
        seen: the house as a network.
        voltage: of a circuit to neutral [V].
    """
    made: dict[Node, dict[str, Expected]] = {node: {} for node in points_of(seen, box)}
    words = {kind: Expected(kind, says(kind, voltage)) for kind in KINDS}
    for name, state in usual_states(seen).items():
        now = InState(seen.network, state)
        kinds: dict[Node, Kind] = {}
        for node, shows in made.items():
            top = now.at(node)  # a point that is one with another shows the same
            if top not in kinds:
                kinds[top] = kind_at(now, node)
            own_lead = kinds[top] == "floats" and _is_of_electronics(seen, node)
            shows[name] = words["driven" if own_lead else kinds[top]]
    return made


_ELECTRONIC = ("powered", "two-wire", "companion", "module")


def _is_of_electronics(seen: Graph, node: Node) -> bool:
    """Whether a point is a lead of an electronic device: what the device puts on it, no hook-up says."""
    end = seen.end_of[node]
    of = f"{seen.box_of[node]}/{end.of}" if isinstance(end, LeadEnd) else ""
    return any(gear.id == of and gear.kind in _ELECTRONIC for gear in seen.network.gear)


def kind_at(now: InState, node: Node) -> Kind:
    """What a point is in a state: hot, neutral, ground, behind an open electronic switch, dead by a load, floating."""
    if now.hots(node):
        return "hot"
    if now.neutrals(node):
        return "neutral"
    if now.at(node) == now.ground:
        return "ground"
    for gear in now.network.gear:
        behind = gear.load is not None and now.at(gear.load) == now.at(node)
        if behind and gear.kind in ("two-wire", "powered", "module") and gear.line and now.hots(gear.line):
            return "leaks"
    through = [
        far
        for load in now.network.loads
        for near, far in ((load.one, load.other), (load.other, load.one))
        if now.at(near) == now.at(node) and not load.always
    ]
    if any(now.hots(far) for far in through):
        return "through"
    return "dead" if any(now.neutrals(far) for far in through) else "floats"


def says(kind: Kind, voltage: int) -> str:
    """What a loaded meter shows there.

    >>> says("hot", 120), says("hot", 230)
    ('108 to 126 V', '207 to 253 V')
    """
    if kind == "hot":
        low, high = full_voltage(voltage)
        return f"{float(low):g} to {float(high):g} V"
    if kind == "through":
        return f"{says('hot', voltage)}, through its load"
    if kind == "leaks":
        return "any reading: an electronic switch leaks a little while it’s off"
    if kind == "driven":
        return "any reading: the device’s electronics may drive this lead, so treat it as live"
    if kind == "floats":
        return f"under {LOADED_UNDER} V on a loaded tester; up to {GHOST_UP_TO} V on a high-impedance meter"
    return "0 V"


def usual_states(seen: Graph) -> dict[str, NetworkState]:
    """The states a person takes readings in, by name: every breaker off; breakers on and everything off, and on."""
    every = frozenset(source.circuit for source in seen.network.sources)
    low = {gear.id: 0 for gear in seen.network.gear}
    high = {gear.id: len(gear.positions) - 1 for gear in seen.network.gear}
    return {
        "every breaker off": _thrown_until(seen, NetworkState(every, low), False, frozenset()),
        "breakers on, everything off": _thrown_until(seen, NetworkState(every, low), False, every),
        "breakers on, everything on": _thrown_until(seen, NetworkState(every, high), True, every),
    }


def _thrown_until(seen: Graph, state: NetworkState, burning: bool, on: frozenset[str]) -> NetworkState:
    """A state in which the lamps on three-ways burn, or do not: of a switch that has no off, one is thrown.

    `on`: the breakers that are on in the end.
    """
    loads = {load.id: load for load in seen.network.loads}
    for gear in seen.network.gear:
        if gear.kind in ("three-way", "four-way"):
            now = InState(seen.network, state)
            if any(now.burns(loads[id]) != burning for id in gear.all_controls if id in loads):
                state = state.changed(gear.id, 1 - state.positions[gear.id])
    return NetworkState(on, state.positions)


Shown = Literal["full", "nothing", "between"]
MOST = 5
"""How many are named."""


@dataclass(frozen=True, slots=True)
class Fault:
    """One thing gone wrong that gives a reading."""

    words: str
    tells: str
    """The reading that tells it from the others; "" where none does."""


def shown_by(measured: float | Fraction, voltage: int) -> Shown:
    """What a voltage is: all of it, nothing, or something between, which is a bad joint, a leak or a ghost.

    >>> shown_by(118, 120), shown_by(0.4, 120), shown_by(60, 120)
    ('full', 'nothing', 'between')
    """
    volts = Fraction(measured)
    low, high = full_voltage(voltage)
    if low <= volts <= high:
        return "full"
    return "nothing" if volts < LOADED_UNDER else "between"


def agrees(kind: Kind, shown: Shown) -> bool:
    """Whether what a meter showed is what was expected; behind an open electronic switch, and at its own
    loose leads, anything is."""
    if kind in ("leaks", "driven"):
        return True
    return shown == ("full" if kind in FULL else "nothing") or (kind == "floats" and shown == "between")


def faults(job: Job, box: str, stage: Stage, *, node: Node, state: NetworkState, shown: Shown) -> tuple[Fault, ...]:
    """What would give a reading that differs, likeliest first, each with the reading that tells it from the rest.

    Args:
        job: with every box on the same circuits.
        box: key of the box measured in.
        stage: as found, or as planned.
        node: where it was measured.
        shown: what the meter showed.
    """
    if shown == "between":
        ghost = f"a wire that floats, up to {GHOST_UP_TO} V on a high-impedance meter"
        return (Fault("a bad joint: loose, or burnt", "the same point under load"), Fault(ghost, "a loaded meter"))
    seen = graph(job, stage)
    points = [at for at in points_of(seen, box) if at != node]
    found: list[tuple[str, dict[Node, bool]]] = []
    for words, now in _changed(job, box, stage, seen, state):
        if (kind_at(now, node) in FULL) == (shown == "full"):
            found.append((words, {at: kind_at(now, at) in FULL for at in points}))
    named = found[:MOST]
    return tuple(
        Fault(words, _tells(at, [other for _, other in named if other is not at], seen)) for words, at in named
    )


FaultKind = Literal["loose", "reversed", "breaker", "touching", "exchanged", "stuck"]
"""An end out of its splice; line and load of a device exchanged; a breaker off; two splices that touch; two wires of a
three-way exchanged; a switch whose contact doesn't move."""


@dataclass(frozen=True, slots=True)
class SingleFault:
    """One thing gone wrong, put into the network."""

    kind: FaultKind
    words: str
    network: Network
    box: str = ""
    """Where it is; "" at the panel."""
    splice: str = ""
    """Which splice it is in; "" for none."""
    tripped: frozenset[str] = frozenset()
    """The circuits that are off by it."""

    def in_state(self, state: NetworkState) -> InState:
        """The network with it, in a state."""
        return InState(self.network, NetworkState(state.on - self.tripped, state.positions))


def single_faults(job: Job, box: str, stage: Stage, seen: Graph) -> Iterator[SingleFault]:
    """Every single fault: ends that pulled loose here, line and load exchanged; the same elsewhere; a breaker off.

    Args:
        job: with every box on the same circuits.
        box: key of the box looked at first.
        stage: as found, or as planned.
        seen: the job as a network.
    """
    order = [box, *(one.id for one in job.boxes if one.id != box)]
    for key in order:
        at = next(one for one in job.boxes if one.id == key)
        called = {named.end: named.words for named in ends_of(job, at, stage).values()}
        for splice in contents_at(at, stage).splices:
            for end in splice.ends if len(splice.ends) > 1 else ():
                loose = node_of(key, end)
                joined = tuple(pair for pair in seen.network.joined if loose not in pair)
                others = [node_of(key, other) for other in splice.ends if other != end]
                joined += tuple((others[0], other) for other in others[1:])
                words = f"{called.get(end, 'a jumper')} pulled out of its splice in {at.name}"
                yield SingleFault("loose", words, replace(seen.network, joined=joined), key, splice.id)
        for gear in seen.network.gear:
            if seen.box_of[gear.id] == key and gear.line and gear.load and gear.kind in ("powered", "two-wire"):
                turned = {gear.line: gear.load, gear.load: gear.line}
                joined = tuple((turned.get(a, a), turned.get(b, b)) for a, b in seen.network.joined)
                words = f"line and load exchanged on {seen.gear_names[gear.id]}"
                yield SingleFault("reversed", words, replace(seen.network, joined=joined), key)
    for circuit in sorted({source.breaker for source in seen.network.sources}):
        poles = frozenset(seen.network.poles(circuit))
        yield SingleFault("breaker", f"breaker {circuit} is off or has tripped", seen.network, tripped=poles)


def _changed(job: Job, box: str, stage: Stage, seen: Graph, state: NetworkState) -> Iterator[tuple[str, InState]]:
    """Every single fault in a state; of a breaker that should be off, that it is not."""
    for one in single_faults(job, box, stage, seen):
        if not one.tripped or one.tripped & state.on:
            yield one.words, one.in_state(state)
    for circuit in sorted({source.breaker for source in seen.network.sources}):
        poles = seen.network.poles(circuit)
        if circuit not in state.on:
            yield (
                f"breaker {circuit} is not off",
                InState(seen.network, NetworkState(state.on | poles, state.positions)),
            )


def _tells(mine: dict[Node, bool], others: list[dict[Node, bool]], seen: Graph) -> str:
    """The point whose reading differs with this fault than with as many of the others as there is one for."""
    best, most = None, 0
    for node, hot in mine.items():
        apart = sum(other[node] != hot for other in others)
        if apart > most:
            best, most = node, apart
    if best is None:
        return ""
    return f"{seen.names[best][0]}: {'full voltage' if mine[best] else 'nothing'}"
