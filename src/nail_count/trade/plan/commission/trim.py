"""The low-end trim, found step by step: down from half, each step from cold, until lamps no longer start surely.

Source: common practice.
"""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import dataclass

LEVELS = (50, 40, 30, 25, 20, 15, 10, 7, 5, 3, 1)
"""Percent, tried one after the other."""


@dataclass(frozen=True, slots=True)
class Trim:
    """Where the search stands."""

    next: int | None
    """The level to try next, from cold [%]; None: it is over."""
    found: int | None
    """The lowest level at which every lamp started surely [%]; None: none did so far."""

    @property
    def over(self) -> bool:
        """Whether nothing is left to try."""
        return self.next is None


def next_trim(sure: Collection[int], unsure: Collection[int]) -> Trim:
    """What to try after what was seen.

    Args:
        sure: levels at which every lamp started surely from cold [%].
        unsure: levels at which one did not.

    >>> next_trim((), ()), next_trim((50, 40), ())
    (Trim(next=50, found=None), Trim(next=30, found=40))
    >>> next_trim((50, 40), (30,)), next_trim((), (50,))
    (Trim(next=None, found=40), Trim(next=None, found=None))
    """
    # A level that was seen to fail once is no level to set, nor is any below it.
    failed = max((level for level in unsure), default=0)
    held = [level for level in LEVELS if level in sure and level > failed]
    found = min(held, default=None)
    left = [level for level in LEVELS if level > failed and (found is None or level < found) and level not in sure]
    return Trim(left[0] if left else None, found)
