"""Cut a network at its sources into groups that are tried apart, and follow each load's current out and back.

Source: NFPA 70 (NEC) 300.3(B): all conductors of a circuit in one cable; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace

from .network import Gear, InState, Joined, NetLoad, Network, NetworkState, Node


@dataclass(frozen=True, slots=True)
class Group:
    """What can be tried apart from all else: it meets the rest at the sources only."""

    network: Network
    """The whole, with the things and loads of this group only."""
    circuits: tuple[str, ...]
    """The hots that matter to it, both of a breaker of two poles."""
    breakers: tuple[frozenset[str], ...]
    """The same by the breaker that opens them."""

    @property
    def gear(self) -> tuple[Gear, ...]:
        """Its things."""
        return self.network.gear


def groups_of(network: Network, base: Joined) -> Iterator[Group]:
    """The network, cut at its sources.

    A device is tried with the loads it should change, and these with the breaker that should feed them, joined or not.
    """
    ends: dict[Node, set[str]] = {}
    for source in network.sources:
        for node in (source.hot, source.neutral):
            ends.setdefault(base.find(node), set()).add(source.circuit)
    ends.setdefault(base.find(network.ground), set())
    together, touched = Joined(), {}
    nodes_of = [(f"gear {gear.id}", set(gear.nodes)) for gear in network.gear]
    nodes_of += [(f"load {load.id}", {load.one, load.other}) for load in network.loads]
    for one in network.gear:
        for load in one.all_controls:
            together.join(f"gear {one.id}", f"load {load}")
    for name, nodes in nodes_of:
        roots = {base.find(node) for node in nodes}
        touched[name] = set().union(*(ends[root] for root in roots if root in ends))
        for root in roots - set(ends):
            together.join(name, root)
    groups: dict[Node, list[str]] = {}
    for name, _ in nodes_of:
        groups.setdefault(together.find(name), []).append(name)
    for names in groups.values():
        here = set(names)
        gear = tuple(one for one in network.gear if f"gear {one.id}" in here)
        loads = tuple(one for one in network.loads if f"load {one.id}" in here)
        circuits = set().union(*(touched[name] for name in names), (load.circuit for load in loads))
        by_breaker: dict[str, set[str]] = {}
        for source in network.sources:
            by_breaker.setdefault(source.breaker, set()).add(source.circuit)
        opened = [frozenset(poles) for poles in by_breaker.values() if poles & circuits]
        # A load must have some breaker, whether or not anybody entered which.
        opened = opened or [frozenset(poles) for poles in list(by_breaker.values())[:1] if loads]
        known = tuple(source.circuit for source in network.sources if any(source.circuit in one for one in opened))
        yield Group(replace(network, gear=gear, loads=loads), known, tuple(opened))


Crossing = tuple[Node, str, int]
"""To which node, by which cable ("" for a splice or a contact), and along it (1) or against it (-1)."""


def unbalanced(
    network: Network, state: NetworkState, way: tuple[Node, Node], sources: tuple[set[Node], set[Node]]
) -> list[str]:
    """The cables in which the current of a load does not come back.

    Args:
        state: in which the load burns.
        way: its hot side and its neutral side.
        sources: the hots and the neutrals it may come from and go to.

    Returns:
        Their ids. Where there are several ways, the shortest is taken.
    """
    steps = _steps(network, state)
    net: dict[str, int] = {}
    for start, ends, sign in ((way[0], sources[0], -1), (way[1], sources[1], 1)):
        for _, cable, along in _path(steps, start, ends):
            net[cable] = net.get(cable, 0) + sign * along
    return [cable for cable, flow in net.items() if cable and flow]


def carried_by(network: Network, now: InState, load: NetLoad) -> set[Node]:
    """The terminals of devices that the current of a load goes through: those of contacts, and its own.

    Args:
        now: the state it burns in.
        load: of that network. Where there are several ways, the shortest is taken.
    """
    sources = {source.circuit: source for source in network.sources}
    contacts = {
        frozenset(pair) for gear in network.gear for pair in gear.positions[now.state.positions.get(gear.id, 0)]
    }
    steps, through = _steps(network, now.state), {load.one, load.other}
    for side in (load.one, load.other):
        ends = {sources[of].hot for of in now.hots(side)} | {sources[of].neutral for of in now.neutrals(side)}
        at = side
        for far, cable, _ in reversed(_path(steps, side, ends)):
            if not cable and frozenset((at, far)) in contacts:
                through |= {at, far}
            at = far
    return through


def _steps(network: Network, state: NetworkState) -> Mapping[Node, list[Crossing]]:
    made: dict[Node, list[Crossing]] = {}

    def put(pairs: Iterable[tuple[Node, Node]], cable: str = "") -> None:
        for one, other in pairs:
            made.setdefault(one, []).append((other, cable, 1))
            made.setdefault(other, []).append((one, cable, -1))

    put(network.joined)
    for cable in network.cables:
        put(cable.pairs, cable.id)
    for gear in network.gear:
        put(gear.positions[state.positions.get(gear.id, 0)])
    return made


def _path(steps: Mapping[Node, list[Crossing]], start: Node, ends: set[Node]) -> list[Crossing]:
    """The shortest way from a node to one of others; [] where there is none."""
    came: dict[Node, tuple[Node, Crossing]] = {}
    queue = [start]
    for node in queue:
        if node in ends:
            found, at = [], node
            while at != start:
                at, step = came[at]
                found.append(step)
            return found
        for step in steps.get(node, ()):
            if step[0] != start and step[0] not in came:
                came[step[0]] = (node, step)
                queue.append(step[0])
    return []
