"""The readings sheet: which points to probe, in what states, and what each can show, for paper and ladder."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.conductor import Reading, Role
from .infer import Inference
from .reading_words import in_words


@dataclass(frozen=True, slots=True)
class Point:
    """A row of the sheet."""

    id: str
    words: str
    expect: str
    """What it shows if the conductor is what it is taken for; "" while that is open."""


def points(worked: Inference) -> tuple[Point, ...]:
    """For each conductor: to ground with the breaker on, and from a hot with the lamps out.

    >>> from nail_count.trade.model.box import Box
    >>> from nail_count.trade.model.wire import Cable
    >>> from .infer import infer
    >>> lone = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> len(points(infer(lone)))
    4
    """
    rows = []
    for told in worked.conductors:
        for circuit in list(worked.circuits)[:1]:
            for to in ("ground", "hot"):
                reading = Reading(id="row", kind="volts", of=told.id, to=to, on=(circuit,), volts=0)
                expect = _EXPECT[to].get(told.best, "") if told.best and told.standing != "open" else ""
                rows.append(Point(told.id, in_words(reading), expect))
    return tuple(rows)


_EXPECT: dict[str, dict[Role, str]] = {
    "ground": {"line": "full voltage", "neutral": "0", "switched": "0", "onward": "0", "unused": "0"},
    "hot": {"line": "0 (twice the voltage if from another leg)", "unused": "0", "onward": "0"},
}
"""With the wires apart and the lamps out; a neutral from the panel shows full voltage from a hot, one from a lamp 0."""
