"""What the page shows of the days of a job."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ....drawing.timeline import Timeline, timelines
from ....trade.model.clock import write_minutes
from ....trade.model.day import PlaceTime
from ....trade.model.job import Job
from ....trade.model.tick import Tick, standing
from ....trade.plan.day.day_plan import DayPlan, Slot
from ....trade.plan.day.places import Place, done, places, timed
from ....trade.plan.day.problem import Problem, problem
from ....trade.plan.day.schedule_text import Without, clock, proof_words, without
from ....trade.plan.day.set_up import set_up, set_up_words
from ....trade.plan.day.solve import planned
from ....trade.rules.check import fitting_job

LOOK_FOR = 8.0
"""How long the page looks for the best plan [s]; then it shows the best so far, and says so."""


@dataclass(frozen=True, slots=True)
class PlaceRow:
    """A place, with what was decided and ticked of it."""

    place: Place
    decided: PlaceTime
    begun: Tick | None
    """The tick of its beginning, where it is under way."""
    done: Tick | None
    took: int | None
    """How long it took [min], where both were ticked."""

    @property
    def why(self) -> str:
        """Where its time comes from."""
        if self.place.said:
            return "as entered"
        if not self.place.pieces:
            return "in the time of the place it is switched with"
        return "; ".join(
            f"{one.kind}{f' × {one.count}' if one.count > 1 else ''}: {write_minutes(one.minutes)}, "
            f"{'the median of those done here' if one.source == 'learned' else 'the usual time'}"
            for one in self.place.pieces
        )


@dataclass(frozen=True, slots=True)
class DayRow:
    """A slot of the plan."""

    number: int
    slot: Slot
    start: str
    end: str
    places: tuple[PlaceRow, ...]
    off: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class DayShown:
    """One day of the plan."""

    drawn: Timeline
    rows: tuple[DayRow, ...]
    without: tuple[tuple[str, str, Without], ...]
    """From when, to when, what."""


@dataclass(frozen=True, slots=True)
class PlanView:
    """A plan, day by day."""

    days: tuple[DayShown, ...]
    next: tuple[DayRow, ...]
    """The first slot of each person on the first day."""
    proven: tuple[str, ...]
    left_out: tuple[tuple[str, str], ...]
    finished: bool
    broken: tuple[str, ...]
    """Promises that are not kept."""
    inspected: tuple[str, ...]
    """Places behind a wall that is closed after their inspection."""
    set_up: str = ""
    """When the devices are set up; "" where there is nothing to set up."""


def place_rows(job: Job) -> tuple[PlaceRow, ...]:
    """Return every place with work, and every one that is done."""
    ticks, took, over = standing(job.ticks), timed(job.ticks), done(job)
    last = {(tick.box, tick.step.kind): tick for tick in ticks}
    found = []
    for place in places(job):
        key = place.box.id
        finished = last.get((key, "done")) if key in over else None
        begun = last.get((key, "begun")) if finished is None else None
        found.append(PlaceRow(place, job.day.place(key), begun, finished, took.get(key)))
    return tuple(found)


def plan_view(whole: Job, seconds: float = LOOK_FOR) -> PlanView:
    """Plan a job's days, and look for the best plan for so long [s]."""
    job = fitting_job(whole)
    at = problem(job)
    plan = planned(at, seconds)
    after = set_up(job, at, plan)
    numbers = {slot.task.id: number for number, slot in enumerate(plan.slots, 1)}
    told, rows = without(job, at, plan), {row.place.box.id: row for row in place_rows(job)}
    days = tuple(
        _shown(at, plan, drawn, numbers=numbers, told=told, rows=rows) for drawn in timelines(at, plan, numbers)
    )
    first = {row.slot.person: row for row in reversed(days[0].rows)} if days else {}
    return PlanView(
        days,
        tuple(first[person] for person in sorted(first)),
        tuple(proof_words(one) for one in plan.proven),
        tuple((task.name, why) for task, why in plan.left_out),
        plan.finished,
        tuple(broken for one in told for broken in one.broken),
        tuple(row.place.box.name for row in rows.values() if row.place.behind_wall and row.done is None),
        set_up_words(after) if after else "",
    )


def _shown(
    at: Problem,
    plan: DayPlan,
    drawn: Timeline,
    *,
    numbers: dict[str, int],
    told: Sequence[Without],
    rows: dict[str, PlaceRow],
) -> DayShown:
    slots = [slot for slot in plan.slots if slot.day + 1 == drawn.day]
    return DayShown(
        drawn,
        tuple(
            DayRow(
                numbers[slot.task.id], slot, clock(slot.start), clock(slot.end),
                tuple(rows[key] for key in slot.task.boxes if key in rows), tuple(sorted(slot.task.breakers)),
            )
            for slot in slots
        ),
        tuple((clock(one.off.start), clock(one.off.end), one) for one in told if one.off.day + 1 == drawn.day),
    )  # fmt: skip
