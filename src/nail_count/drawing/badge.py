"""The small rail of a box in a list, kept beside its document so that lists never parse one."""

from __future__ import annotations

import json
from fractions import Fraction
from itertools import groupby

from ..trade.model.answer import Answer, State
from .rail import Rail, lay, lengths


def badge_text(answer: Answer) -> str:
    """The small rail of a count as compact JSON: runs of nails of one kind and length."""
    runs = [
        (line.kind, None if length is None else str(length), len(list(same)))
        for line in answer.lines
        for length, same in groupby(length for _, length in lengths(line))
    ]
    capacity = None if answer.limit is None else str(answer.limit)
    return json.dumps({"capacity": capacity, "runs": runs, "state": int(answer.state)}, separators=(",", ":"))


def read_badge(text: str) -> Rail:
    """The small rail kept as this text."""
    kept = json.loads(text)
    capacity = None if kept["capacity"] is None else Fraction(kept["capacity"])
    driven = (
        ("", "", kind, None if length is None else Fraction(length))
        for kind, length, times in kept["runs"]
        for _ in range(times)
    )
    return lay(driven, capacity, State(kept["state"]))
