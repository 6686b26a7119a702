"""How much the color of a conductor speaks for a role: evidence, never proof.

Source: common practice, and how often old work keeps to the colors of its region.
"""

from __future__ import annotations

from ...model.conductor import Conductor, Role
from ...model.region import REGIONS, ColorCode

FOR, AGAINST = 1.0, 0.06
"""How an unusual color weighs against a usual one; common practice."""
IN_LOOP = 0.8
"""A white that is hot is usual in a loop, where it comes down on it; common practice."""


def weight(conductor: Conductor, role: Role, in_loop: bool, code: ColorCode) -> float:
    """Return how a conductor's color, or the tape on it, weighs for a role; 1 where it says nothing.

    >>> weight(Conductor(color="white"), "line", False, "US")
    0.06
    """
    region = REGIONS[code]
    if conductor.tape is not None:
        return FOR if role in region.means(conductor.tape) else AGAINST
    usual = region.means(conductor.color)
    if conductor.sprayed or not usual:
        return 1.0
    if role in usual or role == "unused":
        return FOR
    grounded = usual == {"neutral"}
    if grounded and role == "line" and in_loop:
        return IN_LOOP
    if grounded and role == "traveler":
        return 0.3
    return AGAINST
