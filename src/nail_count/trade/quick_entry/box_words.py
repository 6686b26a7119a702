"""The words of a line that are about the box itself: its gangs, volume, trade size, clamps and material."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import NamedTuple

from ..edits.base import BoxEdit
from ..edits.enclosure import Rename, SetGangs, SetVolume
from ..model.measure import Volume
from ..model.trade_size import find_trade_size
from .vocabulary import GANG_WORDS, HEAD_WORDS

_BREAKER = re.compile(r"(?:on )?(?:breaker|circuit|ckt) (\w{1,6})", re.IGNORECASE)
_GANGS = re.compile(rf"(\d|{'|'.join(GANG_WORDS)})[\s-]?g(?:angs?)?", re.IGNORECASE)
_BARE = re.compile(r"\d\d\d?(?:\.\d+)?")
LEAST_BARE, MOST_BARE = 10, 120
"""A number without a unit is a volume between these [in³]: fewer is a count, more would be milliliters."""


class OfBox(NamedTuple):
    """What some words tell of the box itself."""

    tokens: int
    edit: type[BoxEdit]
    told: dict[str, object]
    means: str
    once: str = ""
    """What can stand in a line only once."""


def find_of_box(words: Sequence[str], *, bare: bool) -> OfBox | None:
    """Return what the first of some words tell of the box itself; None where they tell nothing.

    Args:
        words: the words from the one at hand on.
        bare: whether a number without a unit is the volume.

    >>> find_of_box(["20.3", "cu", "in", "metal"], bare=False).means
    '20.3 in3 marked in it'
    >>> find_of_box(["18"], bare=True).means
    '18 in3 marked in it'
    """
    return _words(words) or _breaker(words) or _volume(words, bare=bare) or _trade_size(words)


def _first(words: Sequence[str], count: int) -> str:
    return " ".join(words[:count])


def _words(words: Sequence[str]) -> OfBox | None:
    for tokens in (2, 1):
        ahead = _first(words, tokens).lower()
        if gangs := _GANGS.fullmatch(ahead):
            count = str(GANG_WORDS.get(gangs[1], gangs[1]))
            means = f"{count} gang{'' if count == '1' else 's'}"
            return OfBox(tokens, SetGangs, {"gangs": count}, means, "gangs")
        if ahead in HEAD_WORDS:
            edit, told, means = HEAD_WORDS[ahead]
            return OfBox(tokens, edit, told, means)
    return None


def _breaker(words: Sequence[str]) -> OfBox | None:
    for tokens in (3, 2):
        if found := _BREAKER.fullmatch(_first(words, tokens)):
            return OfBox(tokens, Rename, {"circuit": found[1]}, f"on breaker {found[1]}", "breaker")
    return None


def _volume(words: Sequence[str], *, bare: bool) -> OfBox | None:
    for tokens in range(min(4, len(words)), 0, -1):
        try:
            volume = Volume.parse(_first(words, tokens))
        except ValueError:
            continue
        return OfBox(tokens, SetVolume, {"volume": str(volume)}, f"{volume} marked in it", "volume")
    if bare and words and _BARE.fullmatch(words[0]) and LEAST_BARE <= float(words[0]) <= MOST_BARE:
        return _volume([f"{words[0]}in3"], bare=False)
    return None


def _trade_size(words: Sequence[str]) -> OfBox | None:
    text = words[0].lower() if words else ""
    for tokens in range(min(3, len(words)), 0, -1) if text[:1].isdigit() or text in ("fs", "fd") else ():
        try:
            size = find_trade_size(_first(words, tokens))
        except ValueError:
            continue
        return OfBox(tokens, SetVolume, {"trade_size": size.name}, f"trade size {size.name}", "trade size")
    return None
