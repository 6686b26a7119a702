"""Wires used against their color, as planned: a neutral on anything but white, a white that brings the switched hot.

Source: NFPA 70 (NEC) 200.6(A) and 200.7(C)(1), 2023, from memory of the publication. Where cores are sleeved at their
ends, as in the UK and India, any color may carry anything; and so may an old wire that was told to.
"""

from __future__ import annotations

from collections.abc import Iterator

from .graph import Graph
from .network import Joined
from .proof import Finding

WHITES = frozenset(("white", "gray"))
COLORS = 9
"""The rule."""


def misused(seen: Graph, base: Joined) -> Iterator[Finding]:
    """The conductors whose color says something else; each once, at one end.

    Args:
        seen: the network, and the conductor each of its nodes is.
        base: its wires.
    """
    neutrals = {base.find(source.neutral) for source in seen.network.sources}
    switched = {base.find(load.one) for load in seen.network.loads if load.legs == 1 and not load.always} - neutrals
    told: set[str] = set()
    for node, wire in seen.wire_of.items():
        if node in told or wire.color is None:
            continue
        code = ""
        if wire.color not in WHITES and wire.role != "neutral" and base.find(node) in neutrals:
            code = "neutral-on-color"
        elif wire.color in WHITES and wire.role != "switched" and base.find(node) in switched:
            code = "white-returns"
        if code:
            told |= {end for cable in seen.network.cables for pair in cable.pairs if node in pair for end in pair}
            yield Finding(code, COLORS, node, None, node)
