"""The rail: capacity to scale, each counted allowance driven in as a nail as long as its volume.

Positions are in the answer's own unit from the left end of the rail; the page scales them.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..trade.model.answer import Answer, Line, State


@dataclass(frozen=True, slots=True)
class Nail:
    """One counted allowance."""

    line: int
    """Which line of the answer it belongs to, from 0."""
    part: str
    """The thing it was counted for; "" where it stands for several."""
    kind: str
    start: Fraction
    length: Fraction
    hangs: bool
    """Whether any of it is past the end of the rail."""
    open: bool
    """Whether its length is not known; it is drawn in outline."""


@dataclass(frozen=True, slots=True)
class Rail:
    """A rail with its nails."""

    capacity: Fraction | None
    """Length of the wood; None: not known, and the wood is drawn in outline."""
    nails: tuple[Nail, ...]
    scale: Fraction
    """What the full width of the drawing stands for, never 0."""
    marks: tuple[Fraction, ...]
    """On the bare wood, one for each whole conductor that would still go."""
    state: State

    @property
    def filled(self) -> Fraction:
        """Where the last nail ends."""
        return self.nails[-1].start + self.nails[-1].length if self.nails else Fraction(0)


_UNKNOWN = Fraction(2)
"""The length an open nail is drawn at."""


def rail(answer: Answer, conductor: Fraction | None = None) -> Rail:
    """The rail of a count.

    Args:
        answer: a count with its lines and limit.
        conductor: allowance of one more conductor, for the marks on the bare wood; None: no marks.
    """
    nails: list[Nail] = []
    at = Fraction(0)
    for number, line in enumerate(answer.lines):
        for part, length in _lengths(line):
            known = length if length is not None else _UNKNOWN
            hangs = answer.limit is not None and at + known > answer.limit
            nails.append(Nail(number, part, line.kind, at, known, hangs, length is None))
            at += known
    scale = max(answer.limit or Fraction(0), at) or Fraction(1)
    marks: tuple[Fraction, ...] = ()
    if conductor is not None and answer.limit is not None:
        fit = int(max(answer.limit - at, Fraction(0)) // conductor)
        marks = tuple(at + conductor * n for n in range(1, fit + 1))
    return Rail(answer.limit, tuple(nails), scale, marks, answer.state)


def _lengths(line: Line) -> list[tuple[str, Fraction | None]]:
    """A nail for each allowance the line counts, with the part it was counted for."""
    if line.value == 0:
        return []
    if line.kind in ("grounds", "clamps") or not line.parts:
        part = line.parts[0].id if len(line.parts) == 1 else ""
        whole, rest = divmod(line.count, 1)
        counts = [Fraction(1)] * int(whole) + ([rest] if rest else [])
        return [(part, None if line.each is None else line.each * count) for count in counts]
    return [(part.id, line.each) for part in line.parts for _ in range(int(part.count))]
