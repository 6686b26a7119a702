"""In which boxes a finding is mended: where a wire that lacks its source lies beside that source, and is apart."""

from __future__ import annotations

from collections.abc import Iterator

from .graph import Graph
from .network import Gear, Joined, NetLoad, Network, Node, Source
from .proof import Finding


def boxes_to_mend(finding: Finding, seen: Graph, base: Joined) -> frozenset[str]:
    """The boxes a finding is about, and those on the way there where what it lacks could have been joined.

    Args:
        finding: of the proof of that network.
        seen: the network, and in which box each of its nodes lies.
        base: its wires.

    Returns:
        Keys of boxes. A neighbor without power is mended where the cable to it is left out of the hot splice.
    """
    boxes = {seen.box_of.get(finding.of), seen.box_of.get(finding.node or "")}
    for node, source in _lacking(finding.of, seen.network):
        mine, its = base.find(node), base.find(source)
        if mine != its:
            at_mine = {box for one, box in seen.box_of.items() if base.find(one) == mine}
            boxes |= {box for one, box in seen.box_of.items() if box in at_mine and base.find(one) == its}
    return frozenset(box for box in boxes if box is not None)


def _lacking(of: str, network: Network) -> Iterator[tuple[Node, Node]]:
    """What a thing, a load or a ground is to be joined with by wires alone: each node with its source."""
    for gear in network.gear:
        if gear.id == of:
            yield from _of_gear(gear, network)
    for load in network.loads:
        if load.id == of:
            yield from _of_load(load, network)
    if of in network.grounds:
        yield of, network.ground


def _of_gear(gear: Gear, network: Network) -> Iterator[tuple[Node, Node]]:
    for source in _sources(gear.circuit, network):
        lines = (gear.line,) if gear.line is not None else tuple(gear.nodes)
        yield from ((line, source.hot) for line in lines)
        if gear.neutral is not None:
            yield gear.neutral, source.neutral


def _of_load(load: NetLoad, network: Network) -> Iterator[tuple[Node, Node]]:
    for source in _sources(load.circuit, network):
        if load.legs == 1:
            yield load.other, source.neutral
        if load.always:
            yield load.one, source.hot


def _sources(circuit: str | None, network: Network) -> Iterator[Source]:
    yield from (one for one in network.sources if circuit in (None, one.circuit))
