"""What was found in a box, as choosing needs it: whether a neutral is there."""

from __future__ import annotations

from typing import Literal

from .infer import LIKELY_FROM, Inference

End = Literal["line end", "load end", "either"] | None

WITH_NEUTRAL = (
    "feed",
    "loop with neutral",
    "from the other switch, which has the feed",
    "multiwire feed",
    "neutral",
    "feed, third wire not in use",
)
"""What brings the neutral of the panel into the box."""


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


def neutral_here(worked: Inference) -> bool | None:
    """Whether a neutral of the panel is in the box: proven or likely so; None while that is open.

    >>> from nail_count.trade.model.box import Box
    >>> from nail_count.trade.model.wire import Cable
    >>> from .infer import infer
    >>> lone = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> neutral_here(infer(lone, places=1))  # most likely a switch loop
    False
    """
    without = 1.0
    for unit, share in zip(worked.units, worked.shares, strict=True):
        has = sum(part for guess, part in zip(unit.left, share, strict=True) if guess.kind.name in WITH_NEUTRAL)
        without *= 1 - has
    if not worked.units:
        return None
    if 1 - without >= LIKELY_FROM:
        return True
    return False if without >= LIKELY_FROM else None
