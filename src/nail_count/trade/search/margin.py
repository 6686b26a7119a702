"""How much is left on the weakest channel."""

from __future__ import annotations

from collections.abc import Iterable
from fractions import Fraction

from ..model.answer import Answer

NOTHING_ALLOWED = Fraction(-(10**6))
"""Stands for the margin of a channel that may carry nothing here, with something on it: worse than any other."""


def weakest(ratings: Iterable[Answer]) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    return min((_share_left(answer) for answer in ratings if answer.limit is not None), default=Fraction(1))


def _share_left(answer: Answer) -> Fraction:
    if not answer.limit:
        return NOTHING_ALLOWED if answer.total else Fraction(1)
    return 1 - answer.total / answer.limit
