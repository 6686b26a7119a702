"""A network cut at its sources: what shares no wire beyond them is tried apart."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from .network import Gear, Joined, Network, Node


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
