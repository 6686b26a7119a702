"""In which boxes a finding is mended: where a wire that lacks its source lies beside that source, and is apart."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from .graph import Graph
from .network import Gear, Joined, NetLoad, Node, Source
from .proof import Finding


class Mending:
    """The boxes of a network, by what lies in them.

    Args:
        seen: the network, and in which box each of its nodes lies.
        base: its wires.
    """

    def __init__(self, seen: Graph, base: Joined) -> None:
        self._seen, self._base = seen, base
        self._gear = {one.id: one for one in seen.network.gear}
        self._loads = {one.id: one for one in seen.network.loads}
        self._at: dict[Node, set[str]] = {}
        for node, box in seen.box_of.items():
            self._at.setdefault(base.find(node), set()).add(box)

    def nodes_in(self, box: str) -> set[Node]:
        """For each piece of wire in a box the node that stands for it."""
        return {node for node, boxes in self._at.items() if box in boxes}

    def is_in(self, finding: Finding, boxes: Collection[str]) -> bool:
        """Whether what a finding is about lies in one of these boxes."""
        return self._seen.box_of.get(finding.of) in boxes or self._seen.box_of.get(finding.node or "") in boxes

    def concerns(self, finding: Finding, boxes: Collection[str]) -> bool:
        """Whether a finding is about one of these boxes, or is mended there.

        A neighbor without power is mended where the cable to it is left out of the hot splice: there the wire that
        lacks its source and the source lie side by side.
        """
        return self.is_in(finding, boxes) or any(
            not self._at.get(mine, set()).isdisjoint(self._at.get(its, set()) & set(boxes))
            for node, source in self._lacking(finding.of)
            if (mine := self._base.find(node)) != (its := self._base.find(source))
        )

    def cut_off(self, finding: Finding, box: str) -> Iterator[Node]:
        """The ends in a box of the wires that lack what a finding wants of them."""
        mine = {
            self._base.find(node) for node, source in self._lacking(finding.of) if not self._base.are_one(node, source)
        }
        yield from (one for one, at in self._seen.box_of.items() if at == box and self._base.find(one) in mine)

    def _lacking(self, of: str) -> Iterator[tuple[Node, Node]]:
        """The point a thing, a load or a ground must be joined with by wires alone: each node with its source."""
        if of in self._gear:
            yield from self._of_gear(self._gear[of])
        elif of in self._loads:
            yield from self._of_load(self._loads[of])
        elif of in self._seen.network.grounds:
            yield of, self._seen.network.ground

    def _of_gear(self, gear: Gear) -> Iterator[tuple[Node, Node]]:
        for source in self._sources(gear.circuit):
            lines = (gear.line,) if gear.line is not None else tuple(gear.nodes)
            yield from ((line, source.hot) for line in lines)
            if gear.neutral is not None:
                yield gear.neutral, source.neutral

    def _of_load(self, load: NetLoad) -> Iterator[tuple[Node, Node]]:
        for source in self._sources(load.circuit):
            if load.legs == 1:
                yield load.other, source.neutral
            if load.always:
                yield load.one, source.hot

    def _sources(self, circuit: str | None) -> Iterator[Source]:
        yield from (one for one in self._seen.network.sources if circuit in (None, one.circuit))
