"""A reading that differs from what the hook-up expects: which one thing gone wrong would give it, likeliest first.

Each fault is put into the network and the reading worked out again. Source: how often each is found is common practice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Literal

from ...model.job import Job
from ...rules.wires.joints import GHOST_UP_TO, LOADED_UNDER, full_voltage
from .ends import ends_of
from .graph import Graph, graph
from .network import InState, Network, NetworkState, Node
from .readings import FULL, Kind, kind_at, points_of
from .stages import Stage, contents_at, node_of

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


@dataclass(frozen=True, slots=True)
class SingleFault:
    """One thing gone wrong, put into the network."""

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
                yield SingleFault(words, replace(seen.network, joined=joined), key, splice.id)
        for gear in seen.network.gear:
            if seen.box_of[gear.id] == key and gear.line and gear.load and gear.kind in ("powered", "two-wire"):
                turned = {gear.line: gear.load, gear.load: gear.line}
                joined = tuple((turned.get(a, a), turned.get(b, b)) for a, b in seen.network.joined)
                words = f"line and load exchanged on {seen.gear_names[gear.id]}"
                yield SingleFault(words, replace(seen.network, joined=joined), key)
    for circuit in sorted({source.breaker for source in seen.network.sources}):
        poles = frozenset(seen.network.poles(circuit))
        yield SingleFault(f"breaker {circuit} is off or has tripped", seen.network, tripped=poles)


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
