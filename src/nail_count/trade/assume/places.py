"""Assume where the wires at an old three-way switch are, until somebody looks.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Mapping

from ..model.box import Box
from ..model.live_test import Place
from ..model.region import ColorCode
from ..rules.wires.live_points import old_cables
from ..wiring.hookup.colors import wires_of


def usual_places(box: Box, colors: ColorCode) -> tuple[tuple[str, Place], ...]:
    """Return each old wire of a box with a three-way switch, as it lies in the hand, and where it usually is.

    The common is the black of the feed or of the light, and the travelers are wires of the three-wire cable.

    >>> from nail_count.trade.model.wire import Cable
    >>> cables = [Cable(id=letter, gauge=14, insulated=wires) for letter, wires in (("A", 2), ("B", 3))]
    >>> [place for _, place in usual_places(Box(id="b", name="B", room="R", cables=cables), "US")]
    ['dark', 'tied', 'other', 'other', 'tied']
    """
    cables = old_cables(box)
    two_wire = [cable.id for cable in cables if cable.insulated == 2]
    alone, comes_back = not two_wire, len(two_wire) > 1
    in_three: Mapping[str, Place] = (
        {"black": "dark", "red": "other", "white": "other"}
        if alone
        else {"black": "tied apart", "red": "other", "white": "other"}
        if comes_back
        else {"black": "other", "red": "other", "white": "tied"}
    )
    found: list[tuple[str, Place]] = []
    for cable in cables:
        lit = comes_back and cable.id == two_wire[-1]
        in_two: Mapping[str, Place] = {"black": "tied apart" if lit else "dark", "white": "tied"}
        for number, wire in enumerate(wires_of(cable, colors), 1):
            named = f"{cable.id} {wire.color}" if wire.color else f"{cable.id}{number}"
            usual = (in_three if cable.insulated != 2 else in_two).get(wire.color or "", "tied")
            found.append((named, usual))
    return tuple(found)
