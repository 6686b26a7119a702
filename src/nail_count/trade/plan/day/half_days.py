"""A plan made from the breakers down: which breaker is off in which half-day, then the places inside it.

A half-day is the time one person has between two breaks. Whoever works through the places of one breaker after the
other opens it once, and nothing stands dark while work goes on elsewhere. Which half-day takes which places is put to
a solver; the order inside is the breakers', those promised back early first.

Source: common practice, to work circuit by circuit; the solver is OR-Tools, CP-SAT.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from time import monotonic
from typing import Any

from ...model.clock import DAY
from .problem import MAIN, Problem, Task
from .solver import solved_in

Interval = tuple[int, int]
LEFT_OUT, BROKEN, A_DAY, OPENED = 10**9, 10**6, 10**4, 1
"""What a place left out, a promise broken, a day and an opening count in the search: each more than all of the next."""

WHOLE_FIRST = 0.3
"""The share of the time in which whole breakers are put into half-days, and that in which the rest is."""


@dataclass(frozen=True, slots=True)
class HalfDay:
    """Time one person has, without a break in it."""

    person: int
    day: int
    start: int
    """Minutes since midnight of the first day."""
    end: int


def half_days(at: Problem) -> Iterator[HalfDay]:
    """Yield the time there is, person by person.

    >>> [(one.start, one.end) for one in half_days(Problem((), 480, 990, ((720, 750),)))]
    [(480, 720), (750, 990)]
    """
    for person in range(at.people):
        for day in range(at.days):
            begins, ends = at.hours(day)
            for start, end in sorted(at.breaks):
                if begins < day * DAY + start:
                    yield HalfDay(person, day, begins, min(day * DAY + start, ends))
                begins = max(begins, day * DAY + end)
            if begins < ends:
                yield HalfDay(person, day, begins, ends)


def starts_by_breaker(at: Problem, tasks: tuple[Task, ...], seconds: float) -> dict[str, Interval]:
    """Return when each task is done, by its id; tasks that come last, close a wall or span a break are left to others.

    Args:
        at: the places to plan.
        tasks: those that some plan could hold.
        seconds: how long to look for it [s].
    """
    plain = [task for task in tasks if not task.last and not task.closes]
    found = _chosen(at, plain, seconds)
    put: dict[str, Interval] = {}
    for number, half in enumerate(half_days(at)):
        mine = [task for task in plain if found.get(task.id) == number]
        now = half.start
        for task in in_order(at, mine):
            windows = [(first, last) for _, first, last, lasts in at.windows(task) if lasts == task.minutes]
            start = min((max(now, first) for first, last in windows if now <= last and first < half.end), default=None)
            if start is not None and start + task.minutes <= half.end:
                put[task.id] = (start, start + task.minutes)
                now = start + task.minutes
    return put


def _chosen(at: Problem, tasks: list[Task], seconds: float) -> dict[str, int]:
    """Return the half-day of each task: whole breakers first, then what they leave, then whatever is better."""
    until = monotonic() + seconds
    groups = {group[0].id: group for group in together(tasks)}
    placed = _Halves(at, [_as_one(group) for group in groups.values()]).solved(seconds * WHOLE_FIRST)
    found = {one.id: number for id, number in placed.items() for one in groups[id]}
    if len(found) < len(tasks):
        found = _Halves(at, tasks, fixed=found).solved(seconds * WHOLE_FIRST) or found
    opened = {(breaker, found[task.id]) for task in tasks if task.id in found for breaker in task.breakers}
    if len(found) < len(tasks) or len(opened) > len({breaker for task in tasks for breaker in task.breakers}):
        found = _Halves(at, tasks, hint=found).solved(until - monotonic()) or found
    return found


def _as_one(group: list[Task]) -> Task:
    """Return places worked one after the other as one task."""
    return replace(
        group[0],
        minutes=sum(one.minutes for one in group),
        breakers=frozenset().union(*(one.breakers for one in group)),
        any_light=all(one.any_light for one in group),
        behind_wall=any(one.behind_wall for one in group),
    )


def in_order(at: Problem, tasks: list[Task]) -> list[Task]:
    """Return the tasks of a half-day so that each breaker is opened once, as far as that goes.

    The next one is of the breakers that are off already; those of a breaker promised back early come first.

    >>> a, b, c = (Task(one, one, (one,), 60, frozenset(off)) for one, off in (("a", "12"), ("b", "2"), ("c", "1")))
    >>> [task.id for task in in_order(Problem((a, b, c), 480, 720), [a, b, c])]
    ['c', 'a', 'b']
    """
    left, done, off = list(tasks), list[Task](), frozenset[str]()
    while left:
        still = {breaker: sum(breaker in one.breakers for one in left) for one in left for breaker in one.breakers}
        chosen = min(left, key=lambda one: (_back_by(at, one), *_turns(one, off, still), sorted(one.breakers), one.id))
        left.remove(chosen)
        done.append(chosen)
        off = chosen.breakers
    return done


def _back_by(at: Problem, task: Task) -> int:
    """Return the minute of the day by which a breaker of a task is promised back on; the end of the day for none."""
    promised = (kept.back_by for kept in at.promises if kept.circuit in task.breakers and kept.back_by is not None)
    return min(promised, default=DAY)


def _turns(task: Task, off: frozenset[str], still: Mapping[str, int]) -> tuple[int, int, int]:
    """Return how many breakers go off for a task, how many come on though they are needed again, and how many it needs
    that others need too."""
    on_again = sum(still.get(breaker, 0) > 0 for breaker in off - task.breakers)
    return len(task.breakers - off) + on_again, on_again, len(task.breakers)


class _Halves:
    """Which half-day takes which places, as the solver takes it."""

    def __init__(
        self, at: Problem, tasks: list[Task], *, fixed: Mapping[str, int] = {}, hint: Mapping[str, int] = {}
    ) -> None:
        """`fixed`, `hint`: the half-days of tasks, by their numbers, that stay and that the search begins with."""
        from ortools.sat.python import cp_model  # takes a second: only where a plan is made

        self.at, self.tasks = at, tasks
        self.model: Any = cp_model.CpModel()
        self.halves = list(half_days(at))
        self.put = {
            (task.id, number): self.model.new_bool_var(f"{task.id} in {number}")
            for task in tasks
            for number, half in enumerate(self.halves)
            if any(
                lasts == task.minutes and first < half.end and last + lasts > half.start and first >= half.start
                for _, first, last, lasts in at.windows(task)
            )
        }
        cost: list[Any] = []
        for task in tasks:
            mine = [self.put[task.id, number] for number in range(len(self.halves)) if (task.id, number) in self.put]
            self.model.add(sum(mine) <= 1)
            cost.append(LEFT_OUT * (1 - sum(mine)))
        for number, half in enumerate(self.halves):
            self.model.add(self._minutes(number) <= half.end - half.start)
        cost += self._days()
        cost += self._openings()
        for (id, number), one in self.put.items():
            if id in fixed:
                self.model.add(one == (fixed[id] == number))
            if hint:
                self.model.add_hint(one, hint.get(id) == number)
        self.model.minimize(sum(cost))

    def _minutes(self, number: int, breaker: str = "") -> Any:
        """The work in a half-day, at one breaker or in all."""
        mine = [task for task in self.tasks if (task.id, number) in self.put]
        return sum(task.minutes * self.put[task.id, number] for task in mine if not breaker or breaker in task.breakers)

    def _days(self) -> Iterator[Any]:
        """What the days cost that somebody works on."""
        for day in range(self.at.days):
            used = self.model.new_bool_var(f"day {day}")
            mine = [number for number, half in enumerate(self.halves) if half.day == day]
            time = sum(self.halves[number].end - self.halves[number].start for number in mine)
            self.model.add(sum(self._minutes(number) for number in mine) <= time * used)
            yield A_DAY * used

    def _openings(self) -> Iterator[Any]:
        """What breakers cost that are opened in a half-day, and promises that are broken by it."""
        for breaker in sorted({breaker for task in self.tasks for breaker in task.breakers}):
            for number, half in enumerate(self.halves):
                mine = [task for task in self.tasks if breaker in task.breakers and (task.id, number) in self.put]
                if not mine:
                    continue
                opened = self.model.new_bool_var(f"{breaker} in {number}")
                for task in mine:
                    self.model.add_implication(self.put[task.id, number], opened)
                most = min(half.end - half.start, sum(task.minutes for task in mine))
                self.model.add(self._minutes(number, breaker) <= most * opened)  # follows; lets the solver see further
                yield OPENED * opened
                yield from self._broken(breaker, number, half)

    def _broken(self, breaker: str, number: int, half: HalfDay) -> Iterator[Any]:
        """What the promises cost that a breaker off in a half-day breaks, if its work comes first there."""
        for kept in self.at.promises:
            if breaker not in (kept.circuit, MAIN):
                continue
            until = half.end - half.start
            if kept.back_by is not None:
                until = min(until, half.day * DAY + kept.back_by - half.start)
            if kept.longest is not None:
                until = min(until, kept.longest)
            if until < half.end - half.start:
                broken = self.model.new_bool_var("broken")
                self.model.add(self._minutes(number, breaker) <= max(until, 0)).only_enforce_if(broken.negated())
                yield BROKEN * broken

    def solved(self, seconds: float) -> dict[str, int]:
        """Return the half-day of each task by its id and its number; {} where nothing was found in time."""
        solver, known = solved_in(self.model, seconds, linearization_level=2)
        if not known:
            return {}
        return {id: number for (id, number), one in self.put.items() if solver.value(one)}


def together(tasks: list[Task]) -> Iterator[list[Task]]:
    """Yield the tasks in groups that share no breaker with each other.

    >>> a, b, c = (Task(one, one, (one,), 60, frozenset(off)) for one, off in (("a", "12"), ("b", "3"), ("c", "1")))
    >>> [[task.id for task in group] for group in together([a, b, c])]
    [['a', 'c'], ['b']]
    """
    left = list(tasks)
    while left:
        group = [left.pop(0)]
        while more := [one for one in left if any(one.breakers & other.breakers for other in group)]:
            group += more
            left = [one for one in left if one not in more]
        yield group
