"""The small rail of a box in a list, kept beside its document so that lists never parse one."""

from __future__ import annotations

import json
from fractions import Fraction

from ..trade.model.answer import Answer, State
from .rail import Nail, Rail, rail


def badge_text(answer: Answer) -> str:
    """The small rail of a count as compact JSON."""
    drawn = rail(answer)
    nails = [[str(nail.length), nail.kind, int(nail.open)] for nail in drawn.nails]
    capacity = None if drawn.capacity is None else str(drawn.capacity)
    return json.dumps({"capacity": capacity, "nails": nails, "state": int(drawn.state)}, separators=(",", ":"))


def read_badge(text: str) -> Rail:
    """The small rail kept as this text."""
    kept = json.loads(text)
    capacity = None if kept["capacity"] is None else Fraction(kept["capacity"])
    nails, at = [], Fraction(0)
    for length, kind, is_open in kept["nails"]:
        long = Fraction(length)
        nails.append(Nail(0, "", kind, at, long, capacity is not None and at + long > capacity, bool(is_open)))
        at += long
    return Rail(capacity, tuple(nails), max(capacity or Fraction(0), at) or Fraction(1), (), State(kept["state"]))
