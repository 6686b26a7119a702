"""What a meter should show at each point of a box, worked out from the hook-up: before anything is measured.

Source: ANSI C84.1, utilization range, from memory of the publication; ghosts and resistances are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...model.answer import Rule
from ...model.figure import IN_PRACTICE, Figure
from .graph import Graph
from .network import InState, Node, State

_C84 = Rule("ANSI C84.1", "utilization", "memory")
LOW = Figure("0.9", "share", "Line to neutral at the box from", _C84)
HIGH = Figure("1.05", "share", "Line to neutral at the box up to", _C84)
"""108 to 126 V of a nominal 120."""
LOW_ELSEWHERE = Figure("0.9", "share", "The same where the supply is of 220 V and more, from", IN_PRACTICE)
HIGH_ELSEWHERE = Figure("1.1", "share", "The same where the supply is of 220 V and more, up to", IN_PRACTICE)
GHOST_UP_TO = Figure("80", "V", "A floating wire on a high-impedance meter up to", IN_PRACTICE)
LOADED_UNDER = Figure("2", "V", "The same on a loaded meter, under", IN_PRACTICE)


@dataclass(frozen=True, slots=True)
class Expected:
    """What one point should show in one state."""

    node: Node
    state: State
    kind: str
    """hot, dead, floats, leaks, ground."""
    says: str
    """What a loaded meter shows to neutral or ground."""


def expected(seen: Graph, box: str, states: tuple[State, ...], voltage: int) -> Iterator[Expected]:
    """What every conductor and lead of a box should show to the neutral of its circuit, state by state.

    Args:
        seen: the house as a network.
        box: key of the box.
        states: those that matter.
        voltage: of a circuit to neutral [V].
    """
    for state in states:
        now = InState(seen.network, state)
        for node, where in seen.box_of.items():
            if where == box and node in seen.end_of and node not in seen.network.grounds:
                kind = kind_at(now, node)
                yield Expected(node, state, kind, says(kind, voltage))


def kind_at(now: InState, node: Node) -> str:
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
    through = (
        far
        for load in now.network.loads
        for near, far in ((load.one, load.other), (load.other, load.one))
        if now.at(near) == now.at(node) and not load.always
    )
    return "dead" if any(now.neutrals(far) for far in through) else "floats"


def says(kind: str, voltage: int) -> str:
    """What a loaded meter shows there.

    >>> says("hot", 120), says("hot", 230)
    ('108 to 126 V', '207 to 253 V')
    """
    if kind == "hot":
        low, high = (LOW, HIGH) if voltage < 200 else (LOW_ELSEWHERE, HIGH_ELSEWHERE)
        return f"{int(voltage * low)} to {int(voltage * high)} V"
    if kind == "leaks":
        return "no figure: an electronic switch leaks while it is off"
    if kind == "floats":
        return f"under {LOADED_UNDER} V loaded; up to {GHOST_UP_TO} V on a high-impedance meter"
    return "0 V"


def usual_states(seen: Graph, box: str) -> tuple[tuple[str, State], ...]:
    """The states a person takes readings in: all off; breakers on, everything off; everything on."""
    every = frozenset(source.circuit for source in seen.network.sources)
    low = {gear.id: 0 for gear in seen.network.gear}
    high = {gear.id: len(gear.positions) - 1 for gear in seen.network.gear if len(gear.positions) > 1}
    return (
        ("every breaker off", State(frozenset(), low)),
        ("breakers on, everything off", State(every, low)),
        ("breakers on, everything on", State(every, low | high)),
    )
