"""How the look of a cable and people's words about it weighs for each way it can be: evidence, never proof.

Source: common practice.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

from ...model.box import OUTLETS, Use
from ...model.conductor import Conductor, Reading, Role
from ...model.job import Terms
from ...model.region import REGIONS, ColorCode
from ...model.run import BoxEnd, CircuitEnd, RunEnd, WordsEnd
from ...model.wire import Cable
from .kinds import Guess

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


FarEnd = Literal["panel", "outlet", "box", "fed box", "lit box", "onward", "told"]
"""Where somebody entered that a cable goes: to the panel, to a lamp or other outlet, to another box, to another box
that has a cable from the panel, to another box from which all cables go to lights, out of the job, somewhere he only
has words for."""
NOWHERE: Mapping[str, FarEnd] = {}


def kind_of_end(end: RunEnd, use: Use | None = None) -> FarEnd:
    """Return what kind of end a cable goes to.

    Args:
        use: of the box it goes to, where it goes to one that is known.
    """
    if isinstance(end, BoxEnd):
        return "outlet" if use in OUTLETS else "box"
    if isinstance(end, WordsEnd):
        return "told"
    return "panel" if isinstance(end, CircuitEnd) else "onward"


NEUTRALS_SINCE = 1980
"""Since about then a neutral at a switch is usual; common practice."""


def seen_weight(guess: Guess, seen: Sequence[Conductor], terms: Terms, year: int | None) -> float:
    """How what was seen of the conductors weighs for a guess."""
    in_loop = guess.kind.name.startswith("loop")
    weighed = 1.0
    for end, conductor in zip(guess.ends, seen, strict=True):
        weighed *= weight(conductor, end.role, in_loop, terms.colors)
        weighed *= _terminal_weight(conductor, end.role)
    if year is not None and guess.kind.name == "loop from the lamp":
        weighed *= 0.4 if year >= NEUTRALS_SINCE else 1.6
    return weighed


UP_TO_LAMP, DOWN_TO_FEED = 1.3, 1.2
"""How the way a cable leaves weighs: up to a lamp, down to a feed; common practice."""
MATCHED = 0.03
"""How a cable weighs that does not go to another switch, where a conductor of it was matched at one."""
TESTER = 0.5
"""How a non-contact tester weighs: it says that something is live, not which; common practice."""


def cable_weight(guess: Guess, cable: Cable, seen: Sequence[Conductor], taken: Sequence[Reading]) -> float:
    """How the direction of a cable, a match at another box and the non-contact tester weigh for a guess."""
    weighed = 1.0
    if guess.kind.name == "to the lamp" and cable.enters == "top":
        weighed *= UP_TO_LAMP
    if guess.kind.name in ("feed", "onward") and cable.enters == "bottom":
        weighed *= DOWN_TO_FEED
    if any(conductor.same_as for conductor in seen) and "other switch" not in guess.kind.name:
        weighed *= MATCHED
    for reading in taken:
        live = guess.kind.source and bool(reading.on)
        if reading.kind == "tester" and live != reading.yes:
            weighed *= TESTER
    return weighed


GOES_ELSEWHERE = 0.05
"""How a way weighs that does not go where somebody entered that the cable goes; common practice."""


def end_weight(guess: Guess, end: FarEnd | None) -> float:
    """How where a cable goes weighs for a guess."""
    kind = guess.kind
    goes = {
        None: True,
        "panel": kind.source and not kind.load and "switch" not in kind.name,
        "outlet": kind.load and "switch" not in kind.name,
        "box": not kind.load or "switch" in kind.name,
        "fed box": not kind.load or "switch" in kind.name,
        "lit box": not kind.load or "switch" in kind.name,
        "told": True,  # words are no evidence
        "onward": kind.name.startswith("onward"),
    }
    return 1.0 if goes[end] else GOES_ELSEWHERE


def _terminal_weight(conductor: Conductor, role: Role) -> float:
    """The odd screw of a three-way is the common: line or switched; another screw of it, a traveler."""
    if conductor.sat_on is None:
        return 1.0
    usual: dict[str, tuple[Role, ...]] = {
        "common": ("line", "switched"),
        "other": ("traveler", "line", "switched"),
        "line": ("line",),
        "load": ("switched",),
        "neutral": ("neutral",),
    }
    return 1.0 if role in usual[conductor.sat_on] else 0.05
