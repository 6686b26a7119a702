"""What the weighing of a box's cables says of the whole box: which end of a pair it is, whether a neutral is likely."""

from __future__ import annotations

from typing import Literal

from .infer import LIKELY_FROM, Inference
from .kinds import Guess

End = Literal["line end", "load end", "either"] | None

FED_HERE = ("feed", "multiwire feed", "supply", "feed, third wire not in use")
LAMP_HERE = ("to the lamp", "to fan and light")


def end_here(worked: Inference) -> End:
    """Which end of a multi-place pair this box is: where the feed comes in, or where the lamp goes off.

    Either where both, or neither, are here; None while it is open.
    """
    likeliest = {name: share for _, name, share in worked.cables}
    if not likeliest or min(likeliest.values()) < LIKELY_FROM:
        return None
    fed, lamp = any(n in FED_HERE for n in likeliest), any(n in LAMP_HERE for n in likeliest)
    return "either" if fed == lamp else "line end" if fed else "load end"


def likely_neutral(worked: Inference) -> bool | None:
    """Whether a neutral of the panel is likely in the box, or likely not, by all that weighs; None: neither.

    It is never shown as so, and decides nothing: what is believed is [neutral_in][].

    >>> from nail_count.trade.model.box import Box
    >>> from nail_count.trade.model.wire import Cable
    >>> from .infer import infer
    >>> lone = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> likely_neutral(infer(lone, places=1))  # most likely a switch loop
    False
    """
    without, unsure = 1.0, 1.0
    for unit, share in zip(worked.units, worked.shares, strict=True):
        has = sum(part for guess, part in zip(unit.left, share, strict=True) if _brings_neutral(guess))
        without *= 1 - has * unit.known
        unsure *= unit.known
    if not worked.units:
        return None
    if 1 - without >= LIKELY_FROM:
        return True
    return False if without * unsure >= LIKELY_FROM else None


def _brings_neutral(guess: Guess) -> bool:
    """Whether the neutral of the panel comes with a cable, whole."""
    return any(end.role == "neutral" and end.reach == "neutral" and not end.broken for end in guess.ends)
