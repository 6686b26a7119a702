"""The bar of a channel: its full length is the sheet's rating, cut back by each step to the limit here."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..trade.model.answer import Answer, Line


@dataclass(frozen=True, slots=True)
class Cut:
    """A piece taken off by a step, and the step."""

    start: Fraction
    length: Fraction
    line: Line


@dataclass(frozen=True, slots=True)
class Bar:
    """Positions in the answer's own unit from the left end."""

    rating: Fraction | None
    """The sheet's figure; None: not known, and the bar is drawn in outline."""
    limit: Fraction | None
    cuts: tuple[Cut, ...]
    connected: Fraction
    scale: Fraction
    """What the full width of the drawing stands for, never 0."""


def bar(answer: Answer) -> Bar:
    """The bar of a rating answer."""
    steps = answer.limit_lines
    known = answer.limit is not None and bool(steps)
    rating = steps[0].value if known else None
    cuts: list[Cut] = []
    at = rating or Fraction(0)
    for step in steps[1:]:
        if known and step.value:
            at += step.value
            cuts.append(Cut(at, -step.value, step))
    scale = max(rating or Fraction(0), answer.total) or Fraction(1)
    return Bar(rating, answer.limit, tuple(cuts), answer.total, scale)
