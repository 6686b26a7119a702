"""A day by breaker: a row for each, when it is off, and above it who works where."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..trade.model.clock import DAY, MINUTES_IN_HOUR, write_clock
from ..trade.plan.day.day_plan import DayPlan
from ..trade.plan.day.problem import MAIN, Problem

HEAD = 26.0
"""Where the rows are called, in height [mm on the drawing]."""
LEFT = 62.0
"""Where the hours begin, from the left."""
WIDE = 420.0
"""How wide the hours are."""
ROW = 20.0


@dataclass(frozen=True, slots=True)
class Hour:
    """A line at an hour."""

    x: float
    said: str


@dataclass(frozen=True, slots=True)
class Bar:
    """A piece of a row."""

    x: float
    width: float
    y: float
    said: str
    """What stands on it."""
    about: str
    """The same at length."""


@dataclass(frozen=True, slots=True)
class Flag:
    """When something was promised back."""

    x: float
    y: float
    said: str
    kept: bool


@dataclass(frozen=True, slots=True)
class Timeline:
    """One day."""

    day: int
    """From 1."""
    height: float
    hours: tuple[Hour, ...]
    rows: tuple[tuple[str, float], ...]
    """What each row is called, and where it lies."""
    work: tuple[Bar, ...]
    off: tuple[Bar, ...]
    breaks: tuple[Bar, ...]
    flags: tuple[Flag, ...]
    facts: str
    """The same as a text."""


def timelines(at: Problem, plan: DayPlan, numbers: Mapping[str, int]) -> tuple[Timeline, ...]:
    """Every day of a plan on which something is done.

    Args:
        at: what was planned.
        numbers: by which number each task goes beside the drawing.
    """
    return tuple(_day(at, plan, day, numbers) for day in sorted({slot.day for slot in plan.slots}))


def _day(at: Problem, plan: DayPlan, day: int, numbers: Mapping[str, int]) -> Timeline:
    slots = [slot for slot in plan.slots if slot.day == day]
    off = [one for one in plan.off if one.day == day]
    first, last = at.start // MINUTES_IN_HOUR, -(-at.end // MINUTES_IN_HOUR)

    def x(minute: int) -> float:
        return LEFT + WIDE * (minute - day * DAY - first * MINUTES_IN_HOUR) / ((last - first) * MINUTES_IN_HOUR)

    people = sorted({slot.person for slot in slots})
    breakers = sorted({one.breaker for one in off}, key=_by_number)
    names = [f"person {one}" if at.people > 1 else "work" for one in people]
    names += ["main" if one == MAIN else f"breaker {one}" for one in breakers]
    where = {name: HEAD + ROW * number for number, name in enumerate(names)}
    work = tuple(
        Bar(
            x(slot.start), x(slot.end) - x(slot.start), where[names[people.index(slot.person)]],
            str(numbers[slot.task.id]), f"{_span(slot.start, slot.end)} {slot.task.name}",
        )
        for slot in slots
    )  # fmt: skip
    bars = tuple(
        Bar(
            x(one.start), x(one.end) - x(one.start), where["main" if one.breaker == MAIN else f"breaker {one.breaker}"],
            "off", f"{_called(one.breaker)} off {_span(one.start, one.end)}",
        )
        for one in off
    )  # fmt: skip
    height = HEAD + ROW * len(names)
    breaks = tuple(
        Bar(x(day * DAY + start), x(day * DAY + end) - x(day * DAY + start), HEAD, "", f"break {_span(start, end)}")
        for start, end in at.breaks
    )
    flags = tuple(
        Flag(x(day * DAY + kept.back_by), y, write_clock(kept.back_by), _kept(kept.back_by, kept.circuit, plan, day))
        for kept in at.promises
        if kept.back_by is not None and (y := where.get(f"breaker {kept.circuit}")) is not None
    )
    hours = tuple(Hour(x(day * DAY + hour * MINUTES_IN_HOUR), str(hour)) for hour in range(first, last + 1))
    facts = "; ".join([*(bar.about for bar in work), *(bar.about for bar in bars)])
    rows = tuple(where.items())
    return Timeline(day + 1, height, hours, rows, work, bars, breaks, flags, f"{facts}.")


def _kept(back_by: int, circuit: str, plan: DayPlan, day: int) -> bool:
    return all(one.end - day * DAY <= back_by for one in plan.off if one.breaker == circuit and one.day == day)


def _called(breaker: str) -> str:
    return "main" if breaker == MAIN else f"breaker {breaker}"


def _span(start: int, end: int) -> str:
    return f"{write_clock(start % DAY)} to {write_clock(end % DAY)}"


def _by_number(breaker: str) -> tuple[bool, int, str]:
    digits = "".join(letter for letter in breaker if letter.isdigit())
    return breaker == MAIN, int(digits or 0), breaker
