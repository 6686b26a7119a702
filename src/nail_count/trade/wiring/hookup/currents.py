"""By which cables the current of a load comes and returns: in each cable what flows one way flows back.

Source: NFPA 70 (NEC) 300.3(B): all conductors of a circuit in one cable; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from .network import Network, Node, State

Step = tuple[Node, str, int]
"""To which node, by which cable ("" for a splice or a contact), and along it (1) or against it (-1)."""


def unbalanced(
    network: Network, state: State, way: tuple[Node, Node], sources: tuple[set[Node], set[Node]]
) -> list[str]:
    """The cables in which the current of a load does not come back.

    Args:
        network: all of it.
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


def _steps(network: Network, state: State) -> Mapping[Node, list[Step]]:
    made: dict[Node, list[Step]] = {}

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


def _path(steps: Mapping[Node, list[Step]], start: Node, ends: set[Node]) -> list[Step]:
    """The shortest way from a node to one of others; [] where there is none."""
    came: dict[Node, tuple[Node, Step]] = {}
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
