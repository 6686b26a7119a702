"""Where a cable goes, in words."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Protocol

from ..model.run import BoxEnd, CircuitEnd, OnwardEnd, RunEnd


class Named(Protocol):
    """A box as lists know it."""

    @property
    def name(self) -> str:
        """What people call it."""

    @property
    def room(self) -> str:
        """Where it is."""


def end_words(end: RunEnd, boxes: Mapping[str, Named]) -> str:
    """An end of a run, in words.

    >>> end_words(CircuitEnd(circuit="7"), {}), end_words(CircuitEnd(), {}), end_words(OnwardEnd(), {})
    ('circuit 7', 'the panel', 'on to the next box')
    """
    if isinstance(end, CircuitEnd):
        return f"circuit {end.circuit}" if end.circuit else "the panel"
    if isinstance(end, OnwardEnd):
        return "on to the next box"
    if not isinstance(end, BoxEnd):
        return end.words
    there = boxes.get(end.box)
    if there is None:
        return f"a box that is not there ({end.box})"
    return f"{there.room}: {there.name}{f', {end.cable}' if end.cable else ''}"
