"""The rail: capacity to scale, each counted allowance driven in as a nail as long as its volume.

Positions are in the answer's own unit from the left end of the rail; the page scales them.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass, replace
from fractions import Fraction
from itertools import groupby

from ..trade.model.answer import Answer, Line, State
from ..trade.text.format import say


@dataclass(frozen=True, slots=True)
class Nail:
    """One counted allowance."""

    line: str
    """The key of the line of the answer it belongs to."""
    part: str
    """The thing it was counted for; "" where it stands for several."""
    kind: str
    start: Fraction
    length: Fraction
    hangs: bool
    """Whether any of it is past the end of the rail."""
    open: bool
    """Whether its length is not known; it is drawn in outline."""
    inside: float = 100.0
    """How much of it is driven into the wood [% of its length]."""


@dataclass(frozen=True, slots=True)
class Group:
    """The nails of one line."""

    line: str
    """Its key."""
    number: int
    """Among the lines of the answer, from 1."""
    kind: str
    start: Fraction
    end: Fraction
    nails: tuple[Nail, ...]


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
    groups: tuple[Group, ...] = ()
    """For each line that drives nails."""


MOST_MARKS = 200
"""More than anybody counts; beyond, the wood stays bare."""
_BETWEEN_WORDS = re.compile(r"[\W_]+")
_UNKNOWN = Fraction(2)
"""The length an open nail is drawn at."""


def rail(answer: Answer, conductor: Fraction | None = None, coarse: bool = False) -> Rail:
    """The rail of a count.

    Args:
        answer: a count with its lines and limit.
        conductor: allowance of one more conductor, for the marks on the bare wood; None: no marks.
        coarse: one nail for each line, whatever it counts.
    """
    keyed = list(zip(line_keys(answer), answer.lines, strict=True))
    if coarse:
        whole = ((key, "", line.kind, line.value) for key, line in keyed if line.value != 0)
        return lay(whole, answer.limit, answer.state)
    driven = ((key, part, line.kind, length) for key, line in keyed for part, length in lengths(line))
    drawn = lay(driven, answer.limit, answer.state, conductor)
    numbers = {key: number for number, (key, _) in enumerate(keyed, 1)}
    groups = (replace(group, number=numbers[group.line]) for group in drawn.groups)
    return replace(drawn, groups=tuple(groups))


def line_keys(answer: Answer) -> tuple[str, ...]:
    """What names each line of an answer among the others: its kind, and what it is about, which few acts change."""
    seen: Counter[str] = Counter()
    keys = []
    for line in answer.lines:
        about = say(line.what)
        if line.kind in ("devices", "modules") and line.parts:
            about = line.parts[0].id
        elif answer.about == "fill" and line.kind in ("grounds", "clamps", "connectors"):  # words say how many
            about = ""
        about = about.removesuffix(line.kind)
        key = _BETWEEN_WORDS.sub("-", f"{line.kind} {about}".lower()).strip("-")[:40]
        seen[key] += 1
        keys.append(key if seen[key] == 1 else f"{key}-{seen[key]}")
    return tuple(keys)


def lay(
    driven: Iterable[tuple[str, str, str, Fraction | None]],
    capacity: Fraction | None,
    state: State,
    conductor: Fraction | None = None,
) -> Rail:
    """Nails one behind the other along a rail.

    Args:
        driven: for each nail its line, part, kind and length; None for a length that is not known.
        capacity: length of the wood; None: not known.
        state: how the count stands.
        conductor: as for [rail][].
    """
    nails: list[Nail] = []
    at = Fraction(0)
    for line, part, kind, known in driven:
        length = _UNKNOWN if known is None else known
        end = at + length
        hangs = capacity is not None and end > capacity
        inside = max(float((capacity - at) / length * 100), 0.0) if hangs and capacity is not None else 100.0
        nails.append(Nail(line, part, kind, at, length, hangs, known is None, inside))
        at = end
    scale = max(capacity or Fraction(0), at) or Fraction(1)
    marks: tuple[Fraction, ...] = ()
    if conductor is not None and capacity is not None:
        fit = min(int(max(capacity - at, Fraction(0)) // conductor), MOST_MARKS)
        marks = tuple(at + conductor * n for n in range(1, fit + 1))
    runs = ((number, list(same)) for number, same in groupby(nails, key=lambda nail: nail.line))
    groups = tuple(
        Group(line, number, of[0].kind, of[0].start, of[-1].start + of[-1].length, tuple(of))
        for number, (line, of) in enumerate(runs, 1)
    )
    return Rail(capacity, tuple(nails), scale, marks, state, groups)


def lengths(line: Line) -> list[tuple[str, Fraction | None]]:
    """A nail for each allowance the line counts, with the part it was counted for."""
    if line.value == 0:
        return []
    if line.kind in ("grounds", "clamps") or not line.parts:
        part = line.parts[0].id if len(line.parts) == 1 else ""
        whole, rest = divmod(line.count, 1)
        counts = [Fraction(1)] * int(whole) + ([rest] if rest else [])
        return [(part, None if line.each is None else line.each * count) for count in counts]
    return [(part.id, line.each) for part in line.parts for _ in range(int(part.count))]
