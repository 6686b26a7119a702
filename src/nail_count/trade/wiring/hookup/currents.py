"""By which cables the current of a load comes and returns: in each cable what flows one way flows back.

Source: NFPA 70 (NEC) 300.3(B): all conductors of a circuit in one cable; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from .network import InState, NetLoad, Network, NetworkState, Node

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
