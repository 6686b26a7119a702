"""The days of a job as text and as data."""

from __future__ import annotations

from typing import Any

from ..trade.model.clock import write_minutes
from ..trade.model.job import Job
from ..trade.plan.day.day_plan import DayPlan
from ..trade.plan.day.places import places
from ..trade.plan.day.problem import problem
from ..trade.plan.day.schedule_text import called, clock, proof_words, without
from ..trade.plan.day.set_up import SetUp, set_up, set_up_words
from ..trade.plan.day.solve import planned


def plan_of(job: Job, seconds: float) -> DayPlan:
    """The best plan of a job's days, or the best found in time [s]."""
    return planned(problem(job), seconds)


def day_data(job: Job, plan: DayPlan) -> dict[str, Any]:
    """A plan of days as data; times of the day, days from 1."""
    return {
        "slots": [
            {
                "day": slot.day + 1,
                "start": clock(slot.start),
                "end": clock(slot.end),
                "person": slot.person,
                "name": slot.task.name,
                "boxes": list(slot.task.boxes),
                "off": sorted(slot.task.breakers),
            }
            for slot in plan.slots
        ],
        "without": [
            {
                "day": one.off.day + 1,
                "breaker": one.off.breaker,
                "from": clock(one.off.start),
                "to": clock(one.off.end),
                "what": one.what,
                "rooms": list(one.rooms),
                "broken": list(one.broken),
            }
            for one in without(job, problem(job), plan)
        ],
        "proven": [{"aim": one.aim, "value": one.value, "bound": one.bound} for one in plan.proven],
        "left_out": [{"boxes": list(task.boxes), "name": task.name, "why": why} for task, why in plan.left_out],
        "finished": plan.finished,
        "set_up": _set_up_data(set_up(job, problem(job), plan)),
        "times": [
            {
                "box": place.box.id,
                "minutes": place.minutes,
                "said": place.said,
                "kinds": [{"kind": one.kind, "count": one.count, "from": one.source} for one in place.pieces],
            }
            for place in places(job)
        ],
    }


def _set_up_data(after: SetUp | None) -> dict[str, Any] | None:
    if after is None:
        return None
    fits = after.day is not None
    return {
        "devices": after.count,
        "minutes": after.minutes,
        "day": after.day + 1 if after.day is not None else None,
        "start": clock(after.start) if fits else None,
        "end": clock(after.end) if fits else None,
    }


def day_text(job: Job, plan: DayPlan) -> str:
    """A plan of days as text."""
    made: list[str] = []
    told = without(job, problem(job), plan)
    for day in sorted({slot.day for slot in plan.slots}):
        made.append(f"Day {day + 1}")
        for slot in (one for one in plan.slots if one.day == day):
            off = " and ".join(map(called, sorted(slot.task.breakers))) or "nothing"
            person = f", person {slot.person}" if job.day.people > 1 else ""
            made.append(f"  {clock(slot.start)}–{clock(slot.end)} {slot.task.name}: {off} off{person}")
        for one in (one for one in told if one.off.day == day):
            times = f"{clock(one.off.start)}–{clock(one.off.end)}"
            made.append(f"  {called(one.off.breaker)[:1].upper()}{called(one.off.breaker)[1:]} off {times}: {one.what}")
            made += [f"    NOT KEPT: {broken}" for broken in one.broken]
    after = set_up(job, problem(job), plan)
    made += [set_up_words(after)] if after else []
    if not plan.slots:
        made.append("There is no work on these days.")
    made += [f"Left out: {task.name}: {why}" for task, why in plan.left_out]
    made += [proof_words(one)[:1].upper() + proof_words(one)[1:] + "." for one in plan.proven]
    if not plan.finished:
        made.append("Stopped in time: this is the best found so far.")
    made += [
        f"{place.box.name}: {write_minutes(place.minutes)}, "
        + ("as entered" if place.said else ", ".join(f"{one.kind} ({one.source})" for one in place.pieces))
        for place in places(job)
    ]
    return "\n".join(made) + "\n"
