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


AtFixture = Literal["fed there", "three wires", "two wires"]
"""What a module at the fixture finds: the feed itself, with the old drop free for the switch's signal; three wires from
the switch, which are a live, a neutral and the signal; two wires, which are not enough."""
_AT_FIXTURE: dict[str, AtFixture] = {
    "loop from the lamp": "fed there",
    "loop with neutral": "fed there",
    "fan and light, fed at the fan": "fed there",
    "to fan and light": "three wires",
    "to the lamp": "two wires",
}


def at_fixture(worked: Inference) -> tuple[AtFixture | None, bool]:
    """The wires at the fixture, by the cable that leads there, and whether every wire of that cable is proven.

    None where no cable, or more than one, is likely to lead to a lamp.
    """
    found = [
        (letter, _AT_FIXTURE[name])
        for letter, name, share in worked.cables
        if name in _AT_FIXTURE and share >= LIKELY_FROM
    ]
    if len(found) != 1:
        return None, False
    letter, there = found[0]
    mine = [told for told in worked.conductors if told.id.rstrip("0123456789") == letter]
    return there, all(told.standing == "proven" for told in mine)


def likely_neutral(worked: Inference) -> bool | None:
    """Whether a neutral of the panel is likely in the box, or likely not, by all that weighs; None: neither.

    It is never shown as so, and decides nothing: what holds is [neutral_in][].

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
