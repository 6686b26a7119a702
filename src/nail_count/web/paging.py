"""Long lists a page at a time: the part seen first comes first, the rest as it is asked for."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Generic, TypeVar

SHOWN = 50
"""How many things of a long list a page shows."""
SECTIONS = 40
"""How many, where each is a section or a label of its own: five sheets of eight labels."""

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Paged(Generic[T]):
    """A piece of a list."""

    shown: Sequence[T]
    start: int
    """How many come before it."""
    of: int
    """How many there are in all."""
    most: int
    """How many a piece has at most."""

    @property
    def before(self) -> int | None:
        """Where the page before begins; None where this is the first."""
        return max(self.start - self.most, 0) if self.start else None

    @property
    def after(self) -> int | None:
        """Where the next page begins; None where this is the last."""
        end = self.start + len(self.shown)
        return end if end < self.of else None


def paged(things: Sequence[T], start: int, most: int = SHOWN) -> Paged[T]:
    """The piece of a list that begins with a thing, counted from 0; the last piece where there are not so many.

    >>> [(one.start, one.before, one.after) for one in (paged(range(120), at) for at in (0, 50, 100, 999))]
    [(0, None, 50), (50, 0, 100), (100, 50, None), (70, 20, None)]
    """
    start = max(start if start < len(things) else len(things) - most, 0)
    return Paged(things[start : start + most], start, len(things), most)
