"""A plan of days in words: each slot with its breakers, who has no power and when, and what the solver proved."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...model.clock import DAY, write_clock, write_minutes
from ...model.job import Job
from .day_plan import DayPlan, Off, Proven
from .problem import MAIN, Problem


@dataclass(frozen=True, slots=True)
class Without:
    """The place without power, from when to when."""

    off: Off
    what: str
    rooms: tuple[str, ...]
    """Rooms with a box on it."""
    broken: tuple[str, ...]
    """Promises that are not kept by it."""


def clock(minutes: int) -> str:
    """A time of a day of the plan.

    >>> clock(510), clock(DAY + 510)
    ('8:30', '8:30')
    """
    return write_clock(minutes % DAY)


def called(breaker: str) -> str:
    """A breaker in words.

    >>> called("5"), called("main")
    ('breaker 5', 'the main')
    """
    return "the main" if breaker == MAIN else f"breaker {breaker}"


def without(job: Job, at: Problem, plan: DayPlan) -> tuple[Without, ...]:
    """Who is without what, breaker by breaker.

    Args:
        at: what was planned.
    """
    return tuple(_without(job, at, plan))


def _without(job: Job, at: Problem, plan: DayPlan) -> Iterator[Without]:
    circuits = {one.id: one for one in job.circuits}
    for off in plan.off:
        one = circuits.get(off.breaker)
        said = (one.feeds or one.label) if one else ""
        what = "everything" if off.breaker == MAIN else said or "what it feeds is not known"
        rooms = dict.fromkeys(box.room for box in job.boxes if off.breaker in (*box.circuits, MAIN))
        yield Without(off, what, tuple(rooms), tuple(_broken(job, at, off)))


def _broken(job: Job, at: Problem, off: Off) -> Iterator[str]:
    names = {one.circuit: one.what or f"circuit {one.circuit}" for one in job.day.promises}
    for kept in at.promises:
        if off.breaker not in (kept.circuit, MAIN):
            continue
        name = names.get(kept.circuit, f"circuit {kept.circuit}")
        if kept.back_by is not None and off.end - off.day * DAY > kept.back_by:
            yield f"{name}: promised back by {write_clock(kept.back_by)}, back at {clock(off.end)}"
        if kept.longest is not None and off.end - off.start > kept.longest:
            lasts = write_minutes(off.end - off.start)
            yield f"{name}: promised off for {write_minutes(kept.longest)} at most, off for {lasts}"


def proof_words(one: Proven) -> str:
    """How good a plan is in one aim, in words.

    >>> proof_words(Proven("openings of breakers", 4, 4)), proof_words(Proven("days", 3, 1))
    ('breakers opened 4 times; no plan has fewer', '3 days; none was found with fewer, and none has fewer than 1')
    """
    value, bound = one.value, one.bound
    named = {
        "places left out": f"{value} {_s(value, 'place')} left out" if value else "every place is in it",
        "promises broken": f"{value} {_s(value, 'promise')} broken" if value else "every promise is kept",
        "days": f"{value} {_s(value, 'day')}",
        "openings of breakers": f"breakers opened {value} {_s(value, 'time')}",
        "minutes without power": f"{write_minutes(value)} without power, breaker by breaker",
    }[one.aim]
    if value == 0:
        return named
    if one.best:
        return f"{named}; no plan has fewer" if one.aim != "minutes without power" else f"{named}; no plan has less"
    least = write_minutes(bound) if one.aim == "minutes without power" else str(bound)
    return f"{named}; none was found with fewer, and none has fewer than {least}"


def _s(count: int, word: str) -> str:
    return word if count == 1 else f"{word}s"
