"""When the smart devices are set up: with the power on, after the last place of a plan of days."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.clock import write_minutes
from ...model.figure import IN_PRACTICE, Figure
from ...model.job import Job, by_id
from ...model.tick import standing
from .day_plan import DayPlan
from .places import done
from .problem import Problem
from .schedule_text import clock

A_DEVICE = Figure("5", "min", "To set up a smart device: join it, name it, update it, try it", IN_PRACTICE)


@dataclass(frozen=True, slots=True)
class SetUp:
    """The setting up that is left when the last place is done."""

    count: int
    """How many devices."""
    minutes: int
    day: int | None
    """From 0; None: no day of the plan has that much time left."""
    start: int = 0
    """[minutes since midnight]"""
    end: int = 0


def set_up(job: Job, problem: Problem, plan: DayPlan) -> SetUp | None:
    """Return when the devices of a plan are set up; None where there is nothing to set up.

    Args:
        job: the plan is of.
        problem: the hours of its days.
        plan: the places, in their slots.
    """
    count = _left(job, plan)
    if not count:
        return None
    minutes = count * int(A_DEVICE)
    last = max(((slot.day, slot.end) for slot in plan.slots), default=(0, problem.resume or problem.start))
    for day in range(last[0], problem.days):
        start, end = _free(problem, last[1] if day == last[0] else problem.start, minutes)
        if end <= problem.end:
            return SetUp(count, minutes, day, start, end)
    return SetUp(count, minutes, None)


def _left(job: Job, plan: DayPlan) -> int:
    """How many devices with a radio are put in, at the places of the plan and those done, and not set up yet."""
    sheets, worked = by_id(job.sheets), {key for slot in plan.slots for key in slot.task.boxes} | set(done(job))
    joined = {(tick.box, tick.step.subjects[:1]) for tick in standing(job.ticks) if tick.step.kind == "joined the hub"}
    return sum(
        bool(sheets[item.sheet].radio) and item.stays is None and (box.id, (item.id,)) not in joined
        for box in job.boxes
        if box.id in worked
        for item in box.equipment
    )


def _free(problem: Problem, start: int, minutes: int) -> tuple[int, int]:
    """The first stretch of so many minutes from a time on; a break parts it."""
    left, at, begun = minutes, start, None
    for pause, back in sorted(problem.breaks):
        if at >= pause and at < back:
            at = back
        if at < pause < at + left:
            begun = at if begun is None else begun
            left -= pause - at
            at = back
    return (at if begun is None else begun), at + left


def set_up_words(after: SetUp) -> str:
    """Say when the devices are set up.

    >>> set_up_words(SetUp(6, 30, 0, 865, 895))
    'Set up 6 devices with the power on: day 1, 14:25–14:55.'
    """
    devices = "1 device" if after.count == 1 else f"{after.count} devices"
    if after.day is None:
        return f"Setting up {devices} takes {write_minutes(after.minutes)} more, and no day has that much time left."
    return f"Set up {devices} with the power on: day {after.day + 1}, {clock(after.start)}–{clock(after.end)}."
