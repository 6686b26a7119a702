"""The same networks by other people's libraries: networkx says what is joined, scipy what every wire has on it."""

from __future__ import annotations

from itertools import chain, product
from typing import TYPE_CHECKING

import networkx as nx
import numpy as np
from scipy.linalg import solve

from nail_count.trade.wiring.hookup.network import Network, NetworkState

if TYPE_CHECKING:
    from collections.abc import Iterator

LAMP = 160.0
"""Of a lamp [ohm]."""
AIR = 1e9
"""Between every piece of wire and ground, so that what floats has a voltage: none [ohm]."""


def states(network: Network) -> Iterator[NetworkState]:
    """Every state of a whole network: breakers and positions."""
    breakers = sorted({source.breaker for source in network.sources})
    for on in product((False, True), repeat=len(breakers)):
        closed = {breaker for breaker, is_on in zip(breakers, on, strict=True) if is_on}
        lit = frozenset(source.circuit for source in network.sources if source.breaker in closed)
        for numbers in product(*(range(len(gear.positions)) for gear in network.gear)):
            yield NetworkState(lit, {gear.id: number for gear, number in zip(network.gear, numbers, strict=True)})


def pieces(network: Network, state: NetworkState) -> list[set[str]]:
    """What is one piece of wire, by splices, cables and closed contacts."""
    joined: nx.Graph[str] = nx.Graph()
    pairs = chain(network.joined, *(cable.pairs for cable in network.cables))
    contacts = chain.from_iterable(gear.positions[state.positions[gear.id]] for gear in network.gear)
    joined.add_edges_from(chain(pairs, contacts))
    joined.add_nodes_from(node for load in network.loads for node in (load.one, load.other))
    joined.add_nodes_from(node for source in network.sources for node in (source.hot, source.neutral))
    joined.add_nodes_from(node for gear in network.gear for node in gear.nodes)
    joined.add_node(network.ground)
    return list(nx.connected_components(joined))


def shorted(network: Network, state: NetworkState) -> bool:
    """Whether a hot that is on meets a neutral, ground, or the hot of another circuit."""
    cold = {network.ground, *(source.neutral for source in network.sources)}
    hot = {source.hot: source.circuit for source in network.sources if source.circuit in state.on}
    for piece in pieces(network, state):
        circuits = {hot[node] for node in piece & hot.keys()}
        if len(circuits) > 1 or (circuits and piece & cold):
            return True
    return False


def voltages(network: Network, state: NetworkState) -> dict[str, float]:
    """The voltage of every node to the neutral of the panel [V], legs opposite, every lamp a resistor."""
    apart = pieces(network, state)
    place = {node: number for number, piece in enumerate(apart) for node in piece}
    fixed = {place[network.ground]: 0.0}
    for source in network.sources:
        fixed[place[source.neutral]] = 0.0
        if source.circuit in state.on:
            fixed[place[source.hot]] = 120.0 * (-1 if source.leg else 1)
    matrix, right = np.eye(len(apart)) / AIR, np.zeros(len(apart))
    for load in network.loads:
        a, b = place[load.one], place[load.other]
        for here, there in ((a, b), (b, a)):
            matrix[here, here] += 1 / LAMP
            matrix[here, there] -= 1 / LAMP
    for number, volts in fixed.items():
        matrix[number], right[number] = 0, volts
        matrix[number, number] = 1
    solved = solve(matrix, right)
    return {node: float(solved[number]) for node, number in place.items()}
