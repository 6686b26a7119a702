"""A small network of wires, lamps and sources, solved for its voltages and resistances.

Nodes that wires join are one; the rest is a linear system (Kirchhoff's current law at each node).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field

Node = str


@dataclass(slots=True)
class Network:
    """Wires, resistors and fixed voltages between named nodes."""

    wires: list[tuple[Node, Node]] = field(default_factory=list)
    resistors: list[tuple[Node, Node, float]] = field(default_factory=list)
    """Between two nodes, so many ohms."""
    fixed: dict[Node, float] = field(default_factory=dict)
    """Nodes held at a voltage [V]."""

    def merged(self) -> dict[Node, Node]:
        """For each node, the one that stands for all nodes joined to it by wires."""
        leader: dict[Node, Node] = {}

        def find(node: Node) -> Node:
            leader.setdefault(node, node)
            while leader[node] != node:
                leader[node] = leader[leader[node]]
                node = leader[node]
            return node

        for one, other in self.wires:
            leader[find(one)] = find(other)
        for one, other, _ in self.resistors:
            find(one), find(other)
        for node in self.fixed:
            find(node)
        return {node: find(node) for node in leader}

    def voltages(self) -> dict[Node, float]:
        """The voltage at every node that is tied to a fixed one [V]; floating nodes are left out.

        Raises:
            ValueError: two different voltages are joined by wires: a short.
        """
        stands = self.merged()
        held: dict[Node, float] = {}
        for node, volts in self.fixed.items():
            if held.setdefault(stands[node], volts) != volts:
                raise ValueError("two voltages are joined by wires: a short")
        edges = [(stands[a], stands[b], ohms) for a, b, ohms in self.resistors if stands[a] != stands[b]]
        tied = _reachable(held, edges)
        free = sorted(tied - set(held))
        known = dict(held)
        if free:
            solved = _solve(free, held, edges)
            known |= dict(zip(free, solved, strict=True))
        return {node: known[leader] for node, leader in stands.items() if leader in known}

    def resistance(self, one: Node, other: Node) -> float:
        """Between two nodes, the fixed voltages taken away [ohm]; infinite where nothing joins them."""
        stands = self.merged()
        if one not in stands or other not in stands:
            return 0.0 if one == other else float("inf")
        a, b = stands[one], stands[other]
        if a == b:
            return 0.0
        edges = [(stands[x], stands[y], ohms) for x, y, ohms in self.resistors if stands[x] != stands[y]]
        if a not in _reachable([b], edges):
            return float("inf")
        free = sorted(_reachable([b], edges) - {b})
        inject = [1.0 if node == a else 0.0 for node in free]
        return float(_solve(free, {b: 0.0}, edges, inject)[free.index(a)])


def _reachable(start: Iterable[Node], edges: Sequence[tuple[Node, Node, float]]) -> set[Node]:
    beside: dict[Node, set[Node]] = {}
    for one, other, _ in edges:
        beside.setdefault(one, set()).add(other)
        beside.setdefault(other, set()).add(one)
    found, at = set(start), list(start)
    while at:
        for node in beside.get(at.pop(), ()):
            if node not in found:
                found.add(node)
                at.append(node)
    return found


def _solve(
    free: Sequence[Node],
    held: Mapping[Node, float],
    edges: Sequence[tuple[Node, Node, float]],
    inject: Sequence[float] | None = None,
) -> list[float]:
    place = {node: number for number, node in enumerate(free)}
    import numpy as np  # Here, since every edit loads this module and only practice solves anything.

    matrix = np.zeros((len(free), len(free)))
    right = np.array(inject if inject is not None else [0.0] * len(free))
    for one, other, ohms in edges:
        for node, far in ((one, other), (other, one)):
            if node not in place:
                continue
            matrix[place[node], place[node]] += 1 / ohms
            if far in place:
                matrix[place[node], place[far]] -= 1 / ohms
            elif far in held:
                right[place[node]] += held[far] / ohms
    return [float(volts) for volts in np.linalg.solve(matrix, right)]
