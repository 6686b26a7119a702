"""The words of a line that name cables: 14/2, 2x 14/2, three 14/2."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .vocabulary import COUNT_WORDS

_CABLE = re.compile(
    rf"(?:(?:(?P<times>\d{{1,2}})\s?[x×]\s?|(?P<count>[2-9]|{'|'.join(COUNT_WORDS)})\s))?"
    r"(?P<gauge>\d{1,2}(?:\.\d{1,2})?mm[2²]?|\d{1,2})[/-](?P<insulated>\d{1,2})(?:s|wg)?",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class CableWords:
    """Cables as some words name them."""

    tokens: int
    count: int
    gauge: str
    insulated: str


def find_cable(words: Sequence[str]) -> CableWords | None:
    """Return the cables that the first of some words name; None where they name none.

    Args:
        words: the words from the one at hand on.

    >>> find_cable(["three", "14/2", ";"])
    CableWords(tokens=2, count=3, gauge='14', insulated='2')
    """
    for tokens in range(min(3, len(words)), 0, -1):
        if found := _CABLE.fullmatch(" ".join(words[:tokens])):
            told = found["times"] or found["count"] or "1"
            count = COUNT_WORDS[told.lower()] if told.lower() in COUNT_WORDS else int(told)
            return CableWords(tokens, count, found["gauge"], found["insulated"])
    return None
