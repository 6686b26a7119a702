"""What a meter should show at each point of a box, worked out from the hook-up: before anything is measured."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from ...model.splice import LeadEnd
from ...rules.wires.joints import GHOST_UP_TO, LOADED_UNDER, full_voltage
from .graph import Graph
from .network import InState, NetworkState, Node

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
        return "no figure: an electronic switch leaks while it is off"
    if kind == "driven":
        return "no figure: the device’s electronics may drive this lead, so treat it as live"
    if kind == "floats":
        return f"under {LOADED_UNDER} V loaded; up to {GHOST_UP_TO} V on a high-impedance meter"
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
