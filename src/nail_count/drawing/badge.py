"""The small rail of a box in a list, kept beside its document so that lists never parse one."""

from __future__ import annotations

import json
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import groupby

from ..trade.model.answer import Answer, State
from .rail import Rail, lay, lengths


@dataclass(frozen=True, slots=True)
class Badge:
    """A small rail as it is drawn."""

    wood: Fraction
    """Length of the wood, as a share of the drawing's width."""
    open: bool
    """Whether it is drawn in outline, since the capacity is not known."""
    strokes: tuple[tuple[str, str], ...]
    """The nails as few strokes: for each kind of them its class names, and an SVG path."""


def badge(rail: Rail) -> Badge:
    """A rail drawn small."""
    wood = Fraction(1) if rail.capacity is None else rail.capacity / rail.scale
    return Badge(wood, rail.capacity is None, _strokes(rail))


def badge_text(answer: Answer) -> str:
    """The small rail of a count as compact JSON: runs of nails of one kind and length."""
    runs = [
        (line.kind, None if length is None else str(length), len(list(same)))
        for line in answer.lines
        for length, same in groupby(length for _, length in lengths(line))
    ]
    capacity = None if answer.limit is None else str(answer.limit)
    return json.dumps({"capacity": capacity, "runs": runs, "state": int(answer.state)}, separators=(",", ":"))


@lru_cache(maxsize=2048)
def read_badge(text: str) -> Badge:
    """The small rail kept as this text; read once, since a house is looked at again and again."""
    kept = json.loads(text)
    capacity = None if kept["capacity"] is None else Fraction(kept["capacity"])
    driven = (
        ("", "", kind, None if length is None else Fraction(length))
        for kind, length, times in kept["runs"]
        for _ in range(times)
    )
    return badge(lay(driven, capacity, State(kept["state"])))


SMALL = 1000
"""Width of a small rail in its own units; it is drawn as wide as there is room."""


def _strokes(rail: Rail) -> tuple[tuple[str, str], ...]:
    """Across, all of the rail is [SMALL][] wide; down, a nail lies at 11, its head from 7 to 15."""
    shafts: dict[str, list[str]] = {}
    heads: dict[str, list[str]] = {}
    unit = SMALL / float(rail.scale)
    for nail in rail.nails:
        x, long = float(nail.start) * unit, float(nail.length) * unit
        marked = f"nails-{nail.kind}{' open' if nail.open else ' hangs' if nail.hangs else ''}"
        at = [x + long * part / 100 for part in (2, 45, 75, 92, 95)]
        bent = f"H{at[1]:.4g}Q{at[2]:.4g} 11 {at[3]:.4g} 21" if nail.hangs else f"H{at[4]:.4g}"
        shafts.setdefault(f"shaft {marked}", []).append(f"M{at[0]:.4g} 11{bent}")
        heads.setdefault("head" + (" hangs" if nail.hangs else ""), []).append(f"M{at[0]:.4g} 7v8")
    return tuple((marked, "".join(paths)) for marked, paths in (*shafts.items(), *heads.items()))
