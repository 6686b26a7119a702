"""How long a place takes, by what kind of work it is: what a day is planned by before the job's own times are known.

Source: common practice; a job's own ticks, and what a person says of a place, outrank it.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from fractions import Fraction
from statistics import median_high

from ..model.day import PlaceKind
from ..model.figure import IN_PRACTICE, Figure, table

FEWEST: Mapping[PlaceKind, Figure] = table(
    "min",
    "A place takes at least: {}",
    IN_PRACTICE,
    {
        "plain swap": "15",
        "known several places": "20",
        "unknown several places": "60",
        "new box": "60",
        "fishing": "60",
        "outlet": "15",
    },
)
MOST: Mapping[PlaceKind, Figure] = table(
    "min",
    "A place takes at most: {}",
    IN_PRACTICE,
    {
        "plain swap": "20",
        "known several places": "40",
        "unknown several places": "180",
        "new box": "120",
        "fishing": "180",
        "outlet": "30",
    },
)
RESERVE = Figure("0.25", "share", "Kept in reserve of every place", IN_PRACTICE)
STEP = Figure("5", "min", "A day is planned in steps of", IN_PRACTICE)
CLOSING = Figure("30", "min", "A wall closed after its inspection", IN_PRACTICE)


def usual_minutes(kind: PlaceKind, count: int = 1) -> int:
    """How long a kind of place usually takes [min]: the middle of what it takes at least and at most, upward to a step.

    Args:
        kind: of work.
        count: how many devices are put in.

    >>> usual_minutes("plain swap"), usual_minutes("plain swap", 3), usual_minutes("unknown several places")
    (20, 55, 120)
    """
    middle = (FEWEST[kind] + MOST[kind]) / 2
    return _up(middle * (count if kind == "plain swap" else 1))


def with_reserve(minutes: int) -> int:
    """The time a place is planned with [min]: with a quarter in reserve, upward to a step.

    >>> with_reserve(20), with_reserve(55)
    (25, 70)
    """
    return _up(minutes * (1 + RESERVE))


def learned(took: Iterable[int]) -> int | None:
    """What a kind of place takes by what it took so far [min]: the median, upward to a step; None where none was timed.

    >>> learned([20, 50, 30]), learned([])
    (30, None)
    """
    times = list(took)
    return _up(median_high(times)) if times else None


def _up(minutes: int | Fraction) -> int:
    step = int(STEP)
    return int(-(-minutes // step) * step)
