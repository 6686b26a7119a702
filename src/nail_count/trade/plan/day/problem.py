"""State a day to plan: tasks that need breakers off, and the hours. The same problem gives the same plan."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import gcd

from ...model.clock import DAY, write_clock, write_minutes
from ...model.day import DayTerms
from ...model.job import Job
from ...rules.places import CLOSING, with_reserve
from ...wiring.hookup.propose import groups
from .places import Place, done, places

MAIN = "main"
"""The main breaker, among those that are switched off."""


@dataclass(frozen=True, slots=True)
class Task:
    """Work in one slot: a place, or places that belong together."""

    id: str
    """The key of its first box."""
    name: str
    boxes: tuple[str, ...]
    minutes: int
    """With the reserve."""
    breakers: frozenset[str]
    """Off all the while; the main where nobody knows which."""
    any_light: bool = False
    """Whether it is worked by a lamp anyway."""
    last: bool = False
    """Whether it comes after all others: the main is off for it."""
    closes: bool = False
    """Whether it closes a wall, after the inspection."""
    behind_wall: bool = False
    """Whether it needs an inspection before its wall is closed."""


@dataclass(frozen=True, slots=True)
class Kept:
    """A promise, as minutes of the day."""

    circuit: str
    back_by: int | None
    longest: int | None


@dataclass(frozen=True, slots=True)
class Problem:
    """Everything a plan of days follows from."""

    tasks: tuple[Task, ...]
    start: int
    """Of a day [minutes since midnight]."""
    end: int
    breaks: tuple[tuple[int, int], ...] = ()
    people: int = 1
    days: int = 1
    promises: tuple[Kept, ...] = ()
    apart: tuple[tuple[str, str], ...] = ()
    light: tuple[int, int] | None = None
    resume: int | None = None
    """From when on the first day there is time; None: from its start."""
    inspection: int | None = None
    """After how many days the inspection is."""

    @property
    def breakers(self) -> tuple[str, ...]:
        """Every breaker that is opened."""
        return tuple(sorted({breaker for task in self.tasks for breaker in task.breakers}))

    @property
    def step(self) -> int:
        """The largest step that all its times are multiples of [min]: some best plan is made of such steps."""
        times = [self.start, self.end, *(task.minutes for task in self.tasks), *(self.light or ())]
        times += [minute for pause in self.breaks for minute in pause]
        times += [minute for kept in self.promises for minute in (kept.back_by, kept.longest) if minute is not None]
        return gcd(DAY, self.resume or 0, *times)

    def hours(self, day: int) -> tuple[int, int]:
        """When a day begins and ends [minutes since midnight of the first]."""
        begins = max(self.start, self.resume) if day == 0 and self.resume is not None else self.start
        return day * DAY + begins, day * DAY + self.end

    def time(self, day: int) -> int:
        """How long one person can work on a day [min]: its hours without the breaks."""
        begins, ends = self.hours(day)
        pauses = ((max(day * DAY + a, begins), min(day * DAY + b, ends)) for a, b in self.breaks)
        return max(ends - begins - sum(max(b - a, 0) for a, b in pauses), 0)

    def windows(self, task: Task) -> Iterator[tuple[int, int, int, int]]:
        """When a task can begin, and how long it then lasts: day, first and last minute of its start, minutes.

        It lies within the hours, and the daylight where that matters; over a break only where no time between two
        breaks holds it, and then it lasts that much longer.
        """
        for day in range(self.days):
            if self.inspection is not None and self.inspection <= day < self.days and task.behind_wall:
                continue
            if task.closes and (self.inspection is None or day < self.inspection):
                continue
            yield from self._on(day, task)

    def _on(self, day: int, task: Task) -> Iterator[tuple[int, int, int, int]]:
        begins, ends = self.hours(day)
        if self.light is not None and not task.any_light:
            begins, ends = max(begins, day * DAY + self.light[0]), min(ends, day * DAY + self.light[1])
        free, at = [], begins
        for start, end in sorted(self.breaks):
            if day * DAY + end > at and day * DAY + start < ends:
                free.append((at, max(day * DAY + start, at)))
                at = day * DAY + end
        free.append((at, ends))
        plain = [(start, end) for start, end in free if end - start >= task.minutes]
        if plain:
            for start, end in plain:
                yield day, start, end - task.minutes, task.minutes
            return
        for first, (start, end) in enumerate(free):
            for last in range(first + 1, len(free)):
                between = free[last][0] - free[first][1] - sum(b - a for a, b in free[first + 1 : last])
                lasts = task.minutes + between
                earliest = max(start, free[last][0] + self.step - lasts)
                latest = min(end - self.step, free[last][1] - lasts)
                if earliest <= latest:
                    yield day, earliest, latest, lasts


def problem(job: Job) -> Problem:
    """The task of planning a job: all places that are not done.

    Args:
        job: with what a person decided about its days, and what was ticked.
    """
    day = job.day
    promises = tuple(Kept(one.circuit, one.back_by, one.longest) for one in day.promises)
    return Problem(
        tuple(_tasks(job)),
        day.start,
        day.end,
        tuple((pause.start, pause.end) for pause in day.breaks),
        day.people,
        day.days,
        promises,
        tuple((pair.one, pair.other) for pair in day.apart),
        None if day.light_from is None or day.light_to is None else (day.light_from, day.light_to),
        day.resume,
        day.inspection,
    )


def _tasks(job: Job) -> Iterator[Task]:
    over, day = done(job), job.day
    here = {
        place.box.id: place
        for place in places(job)
        if place.box.id not in over and not day.place(place.box.id).leave_out
    }
    taken: set[str] = set()
    for group in groups(job):
        mine = [here[box.id] for box in job.boxes if box.id in group and box.id in here and box.id not in taken]
        taken |= {place.box.id for place in mine}
        if mine:
            yield _task(job, mine, day)
            if day.inspection is not None and any(place.behind_wall for place in mine):
                first = mine[0].box
                yield Task(
                    f"{first.id}-wall", f"Close the wall: {first.name}", (first.id,), with_reserve(int(CLOSING)),
                    frozenset(), closes=True,
                )  # fmt: skip


def _task(job: Job, mine: list[Place], day: DayTerms) -> Task:
    unknown = any(place.unknown for place in mine)
    circuits = frozenset().union(*(place.circuits for place in mine))
    main = unknown or job.house.main_off
    return Task(
        mine[0].box.id,
        ", ".join(place.box.name for place in mine),
        tuple(place.box.id for place in mine),
        with_reserve(sum(place.minutes for place in mine)),
        frozenset((MAIN,)) if main else circuits,
        all(day.place(place.box.id).windowless for place in mine),
        unknown,
        behind_wall=any(place.behind_wall for place in mine),
    )


def impossible(at: Problem) -> dict[str, str]:
    """The tasks that no plan could hold, each with why: too long for any day, or two breakers that exclude each other.

    >>> impossible(Problem((Task("a", "A", ("a",), 500, frozenset()),), 480, 960))
    {'a': 'it takes 8 h 20 in one go, and no day from 8:00 to 16:00 holds it'}
    """
    found = {}
    for task in at.tasks:
        if task.closes and (at.inspection is None or at.inspection >= at.days):
            found[task.id] = "the inspection is after the last of these days"
        elif not any(True for _ in at.windows(task)):
            light = " by daylight" if at.light is not None and not task.any_light else ""
            hours = f"{write_clock(at.start)} to {write_clock(at.end)}"
            found[task.id] = (
                f"it takes {write_minutes(task.minutes)} in one go, and no day from {hours} holds it{light}"
            )
        else:
            pairs = [pair for pair in at.apart if task.breakers >= set(pair) or MAIN in task.breakers]
            if pairs:
                one, other = pairs[0]
                needs = "the main off" if MAIN in task.breakers else "both off"
                found[task.id] = f"it needs {needs}, and circuits {one} and {other} may not be off together"
    return found
