"""What the colors of conductors commonly mean, region by region: evidence, never proof.

Source: common practice; the colors that codes ask for, and how often old work keeps to them.
"""

from __future__ import annotations

from collections.abc import Mapping

from ...model.conductor import Color, Conductor, Role
from ...model.job import ColorCode

USUAL: Mapping[ColorCode, Mapping[Color, frozenset[Role]]] = {
    "US": {
        "black": frozenset(("line", "switched", "onward", "traveler")),
        "red": frozenset(("line", "switched", "traveler")),
        "white": frozenset(("neutral",)),
        "gray": frozenset(("neutral",)),
        "blue": frozenset(("traveler", "switched")),
        "yellow": frozenset(("traveler", "switched")),
    },
    "UK today": {
        "brown": frozenset(("line", "switched", "onward", "traveler")),
        "blue": frozenset(("neutral",)),
        "black": frozenset(("traveler",)),
        "gray": frozenset(("traveler",)),
    },
    "UK before 2004": {
        "red": frozenset(("line", "switched", "onward")),
        "black": frozenset(("neutral",)),
        "yellow": frozenset(("traveler",)),
        "blue": frozenset(("traveler",)),
    },
    "India": {
        "red": frozenset(("line", "switched", "onward")),
        "yellow": frozenset(("line", "switched", "traveler")),
        "blue": frozenset(("line", "switched", "traveler")),
        "black": frozenset(("neutral",)),
    },
}
"""Which roles each color is usual for."""

FOR, AGAINST = 1.0, 0.06
"""How an unusual color weighs against a usual one; common practice."""
IN_LOOP = 0.8
"""A white that is hot is usual in a loop, where it comes down on it; common practice."""


def weight(conductor: Conductor, role: Role, in_loop: bool, code: ColorCode) -> float:
    """How a conductor's color, or the tape on it, weighs for a role; 1 where it says nothing.

    >>> weight(Conductor(color="white"), "line", False, "US")
    0.06
    """
    if conductor.tape is not None:
        return FOR if role in USUAL[code].get(conductor.tape, frozenset()) else AGAINST
    if conductor.color is None or conductor.sprayed or conductor.color not in USUAL[code]:
        return 1.0
    usual = USUAL[code][conductor.color]
    if role in usual or role == "unused":
        return FOR
    grounded = usual == {"neutral"}
    if grounded and role == "line" and in_loop:
        return IN_LOOP
    if grounded and role == "traveler":
        return 0.3
    return AGAINST
