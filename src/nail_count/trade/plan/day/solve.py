"""The best plan of a problem, exactly: by an established solver for such problems, which says what it has proven.

Best in this order: most places, fewest promises broken, fewest days, fewest openings of breakers, fewest minutes
without power, and of those the earliest. That nobody works on a place whose breakers are not all off, that what may not
be off together never is, and that all is on again at the end of a day, holds in every plan there is.

Source: the order by common practice; the solver is OR-Tools, CP-SAT.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from functools import lru_cache
from time import monotonic
from typing import Any

from ...model.clock import DAY
from .day_plan import DayPlan, Off, Proven, Slot
from .first_plan import Score, broken_by, fewest_days, first_off, first_plan, scored
from .problem import MAIN, Problem, Task, impossible
from .solver import solved_in

AIMS = ("places left out", "promises broken", "days", "openings of breakers", "minutes without power")
"""The costs kept as small as can be, one after the other."""
NO_TIME = "there is no time for it on these days"
EARLIEST = 1.0
"""How long the earliest of the plans that are as good is looked for [s]: for tidiness, without proof."""

MOST_SOLVED = 400
"""Places above which only the plan made at once is given: to put more of them to the solver takes minutes."""


FIRST = 0.4
"""The share of the time in which the plan made at once is looked for."""


@lru_cache(maxsize=32)
def planned(problem: Problem, seconds: float = 10.0) -> DayPlan:
    """The best plan there is, or the best found in time.

    Args:
        problem: the task.
        seconds: how long it may be looked for [s].

    >>> a, b = (Task(one, one, (one,), 60, frozenset("5")) for one in "ab")
    >>> plan = planned(Problem((a, b), 480, 960))
    >>> [(slot.task.id, slot.start) for slot in plan.slots], plan.value("openings of breakers"), plan.finished
    ([('a', 480), ('b', 540)], 1, True)
    """
    never = impossible(problem)
    tasks = tuple(task for task in problem.tasks if task.id not in never)
    out = tuple((task, never[task.id]) for task in problem.tasks if task.id in never)
    if not tasks:
        return DayPlan((), (), (), out, True)
    if len(tasks) > MOST_SOLVED:
        first = first_plan(problem, tasks, seconds)
        plan = _made_at_once(tasks, first, first_off(problem, tasks, first))
        return DayPlan(plan.slots, plan.off, (), (*out, *plan.left_out), False)
    until = monotonic() + seconds
    first = first_plan(problem, tasks, seconds * FIRST)
    model = _Model(problem, tasks, first, is_capped=True)
    plan = model.solved(until - monotonic())
    if model.is_capped and plan.value(AIMS[3]) > _fewest_openings(tasks, plan):
        plan = _freer(problem, tasks, plan, until - monotonic())
    proven = tuple(
        Proven(one.aim, one.value + len(out), one.bound + len(out)) if one.aim == AIMS[0] else one
        for one in plan.proven
    )
    return DayPlan(plan.slots, plan.off, proven, (*out, *plan.left_out), plan.finished)


def _fewest_openings(tasks: tuple[Task, ...], plan: DayPlan) -> int:
    """How many openings no plan goes below: each breaker once. With a place left out, a plan may leave out another."""
    return 1 if plan.left_out else len({breaker for task in tasks for breaker in task.breakers})


def _freer(problem: Problem, tasks: tuple[Task, ...], plan: DayPlan, seconds: float) -> DayPlan:
    """The best plan there is, however long breakers are off in it, where that is proven in time; else this one.

    What was proven of this one holds only among plans that are dark no longer. What holds among all is put instead.
    """
    if plan.finished:
        put = {slot.task.id: (slot.start, slot.end) for slot in plan.slots}
        freer = _Model(problem, tasks, put, is_capped=False).solved(seconds)
        if freer.finished:
            return freer
    least = dict(zip(AIMS[3:], _least_at_all(problem, tasks, plan), strict=True))
    proven = tuple(replace(one, bound=min(one.value, least.get(one.aim, one.bound))) for one in plan.proven)
    return replace(plan, proven=proven, finished=all(one.best for one in proven))


def _least_at_all(problem: Problem, tasks: tuple[Task, ...], plan: DayPlan) -> tuple[int, int]:
    """How many openings and how many minutes without power it takes at least: each breaker once, for its own work.

    Nothing is known where a place is left out: another plan may leave out another one.
    """
    if plan.left_out:
        return 0, 0
    own: dict[str, int] = {}
    for task in tasks:
        for breaker in task.breakers:
            own[breaker] = own.get(breaker, 0) + task.minutes
    return len(own), sum(-(-minutes // problem.people) for minutes in own.values())


@dataclass(slots=True)
class _Block:
    """A time a breaker may be off."""

    there: Any
    start: Any
    end: Any
    interval: Any
    day: Any
    broken: list[Any] = field(default_factory=list)


class _Model:
    """The problem as the solver takes it: its times in steps of the problem."""

    def __init__(
        self, problem: Problem, tasks: tuple[Task, ...], first: dict[str, tuple[int, int]], *, is_capped: bool
    ) -> None:
        """State the problem.

        Args:
            problem: the days.
            tasks: those that some plan could hold.
            first: when each task is done in the plan made at once.
            is_capped: whether nothing may be without power for longer than in that plan, once it is as good in places,
                promises and days. Such a plan leaves no breaker off while work goes on elsewhere, though another one
                may open fewer.
        """
        from ortools.sat.python import cp_model  # takes a second: only where a plan is made

        self.problem, self.tasks = problem, tasks
        self.model: Any = cp_model.CpModel()
        self.step = problem.step
        self.day = DAY // self.step
        self.horizon = problem.days * self.day
        self.start: dict[str, Any] = {}
        self.end: dict[str, Any] = {}
        self.there: dict[str, Any] = {}
        self.on_day: dict[str, list[list[Any]]] = {}
        self.work: list[Any] = []
        self.task_day: dict[str, Any] = {}
        self.first = first
        self.first_off = first_off(problem, tasks, self.first)
        self.most = self._most_openings()
        for task in tasks:
            self._task(task)
        self.blocks = {breaker: self._blocks(breaker) for breaker in problem.breakers}
        self._people()
        self._last()
        self._apart()
        self.aims = self._aims()
        self.is_capped = is_capped and not isinstance(self.aims[4], int)

    def _task(self, task: Task) -> None:
        """When it may be: in one of its windows, or left out."""
        model, id = self.model, task.id
        self.start[id] = model.new_int_var(0, self.horizon, f"start {id}")
        self.end[id] = model.new_int_var(0, self.horizon, f"end {id}")
        self.there[id] = model.new_bool_var(f"there {id}")
        self.on_day[id] = [[] for _ in range(self.problem.days)]
        ways = []
        for day, first, last, lasts in self.problem.windows(task):
            way = model.new_bool_var(f"{id} on day {day} from {first}")
            model.add(self.start[id] >= first // self.step).only_enforce_if(way)
            model.add(self.start[id] <= last // self.step).only_enforce_if(way)
            model.add(self.end[id] == self.start[id] + lasts // self.step).only_enforce_if(way)
            self.on_day[id][day].append(way)
            ways.append(way)
        model.add(sum(ways) == self.there[id])
        self.task_day[id] = sum(day * way for day, all_of in enumerate(self.on_day[id]) for way in all_of)
        model.add(self.end[id] == 0).only_enforce_if(self.there[id].negated())
        model.add(self.start[id] == 0).only_enforce_if(self.there[id].negated())
        size = model.new_int_var(0, self.horizon, f"lasts {id}")
        self.work.append(
            model.new_optional_interval_var(self.start[id], size, self.end[id], self.there[id], f"work {id}")
        )

    def _proven_at_once(self) -> dict[str, int]:
        """The first aims in which the plan made at once is as good as any can be: nothing left out, nothing broken, as
        few days as the work takes."""
        days = len({start // DAY for start, _ in self.first.values()})
        values = (len(self.tasks) - len(self.first), broken_by(self.problem, self.first_off), days)
        bounds = (0, 0, fewest_days(self.problem, self.tasks))
        found = {}
        for aim, value, bound in zip(AIMS, values, bounds, strict=False):
            if value > bound:
                break
            found[aim] = value
        return found

    def _most_openings(self) -> int:
        """How often a breaker is opened at most in any best plan: where the plan made at once is best in all that comes
        before, no more often in all than in it, and every other breaker once at least."""
        if len(self._proven_at_once()) < 3:
            return len(self.tasks)
        return sum(map(len, self.first_off.values())) - max(len(self.first_off) - 1, 0)

    def _people(self) -> None:
        """Nobody does two things at once."""
        if self.problem.people == 1:
            self.model.add_no_overlap(self.work)
        else:
            self.model.add_cumulative(self.work, [1] * len(self.work), self.problem.people)

    def _blocks(self, breaker: str) -> list[_Block]:
        """The times a breaker is off: each of its tasks lies within one, and each within the hours of a day."""
        model, mine = self.model, [task for task in self.tasks if breaker in task.breakers]
        found: list[_Block] = []
        for number in range(min(len(mine), self.most)):
            name = f"off {breaker} {number}"
            there = model.new_bool_var(f"{name} there")
            start, end = model.new_int_var(0, self.horizon, name), model.new_int_var(0, self.horizon, f"{name} end")
            size = model.new_int_var(0, self.day, f"{name} lasts")
            interval = model.new_optional_interval_var(start, size, end, there, f"{name} time")
            day = model.new_int_var(0, self.problem.days - 1, f"{name} day")
            model.add(start >= day * self.day + self.problem.start // self.step).only_enforce_if(there)
            model.add(end <= day * self.day + self.problem.end // self.step).only_enforce_if(there)
            block = _Block(there, start, end, interval, day)
            if found:  # in order, so that the same plan is not tried under other names
                model.add_implication(there, found[-1].there)
                model.add(start >= found[-1].end + 1).only_enforce_if(there)
            self._promises(breaker, block, name)
            found.append(block)
        insides: dict[int, list[tuple[int, Any]]] = {id(block): [] for block in found}
        for task in mine:
            within = [model.new_bool_var(f"{task.id} in {breaker} {number}") for number in range(len(found))]
            model.add(sum(within) == self.there[task.id])
            for inside, block in zip(within, found, strict=True):
                model.add_implication(inside, block.there)
                model.add(block.day == self.task_day[task.id]).only_enforce_if(inside)
                model.add(block.start <= self.start[task.id]).only_enforce_if(inside)
                model.add(block.end >= self.end[task.id]).only_enforce_if(inside)
                insides[id(block)].append((task.minutes // self.step, inside))
        for block in found:  # Follows from the rest. Stating it lets the solver prove the plan sooner.
            lasts = sum(minutes * inside for minutes, inside in insides[id(block)])
            model.add(self.problem.people * (block.end - block.start) >= lasts).only_enforce_if(block.there)
        return found

    def _promises(self, breaker: str, block: _Block, name: str) -> None:
        """Everything that stops with a breaker that is off for this time."""
        for number, kept in enumerate(self.problem.promises):
            if breaker not in (kept.circuit, MAIN):
                continue
            broken = self.model.new_bool_var(f"{name} breaks {number}")
            free = [block.there, broken.negated()]
            if kept.back_by is not None:
                self.model.add(block.end <= block.day * self.day + kept.back_by // self.step).only_enforce_if(free)
            if kept.longest is not None:
                self.model.add(block.end - block.start <= kept.longest // self.step).only_enforce_if(free)
            block.broken.append(broken)

    def _last(self) -> None:
        """What needs the main off because nobody knows its breaker comes after all the rest."""
        for late in (task for task in self.tasks if task.last):
            for task in self.tasks:
                if not task.last and not task.closes:
                    both = [self.there[late.id], self.there[task.id]]
                    self.model.add(self.start[late.id] >= self.end[task.id]).only_enforce_if(both)

    def _apart(self) -> None:
        """What may not be off together never is."""
        for one, other in self.problem.apart:
            blocks = [*self.blocks.get(one, []), *self.blocks.get(other, [])]
            if self.blocks.get(one) and self.blocks.get(other):
                self.model.add_no_overlap([block.interval for block in blocks])

    def _aims(self) -> list[Any]:
        """The costs, in order."""
        model, blocks = self.model, [block for all_of in self.blocks.values() for block in all_of]
        used = [model.new_bool_var(f"day {day}") for day in range(self.problem.days)]
        for day, flag in enumerate(used):
            ways = [way for task in self.tasks for way in self.on_day[task.id][day]]
            for way in ways:
                model.add_implication(way, flag)
            # No day holds more work than it has time. Follows from the rest, but lets the solver prove the plan sooner.
            work = sum(task.minutes * way for task in self.tasks for way in self.on_day[task.id][day])
            model.add(work <= self.problem.people * self.problem.time(day) * flag)
        minutes, length = [], {}
        for number, block in enumerate(blocks):
            off = model.new_int_var(0, self.day, f"minutes off {number}")
            model.add(off == block.end - block.start).only_enforce_if(block.there)
            model.add(off == 0).only_enforce_if(block.there.negated())
            minutes.append(off)
            length[id(block)] = off
        for breaker, all_of in self.blocks.items():
            here = sum(
                task.minutes // self.step * self.there[task.id] for task in self.tasks if breaker in task.breakers
            )
            model.add(self.problem.people * sum(length[id(block)] for block in all_of) >= here)
        left_out = len(self.tasks) - sum(self.there.values())
        broken = sum(one for block in blocks for one in block.broken)
        return [left_out, broken, sum(used), sum(block.there for block in blocks), self.step * sum(minutes)]

    def solved(self, seconds: float) -> DayPlan:
        """The best there is in each aim in turn; what an aim came to holds for those after it."""
        until, plan = monotonic() + seconds, _made_at_once(self.tasks, self.first, self.first_off)
        proven: list[Proven] = []
        self._hint_first()
        at_once = self._proven_at_once()
        for aim, what in zip(AIMS, self.aims, strict=True):
            if aim == AIMS[3] and self.is_capped:
                self._cap(proven)
            if isinstance(what, int):
                proven.append(Proven(aim, what, what))
                continue
            if aim in at_once:
                proven.append(Proven(aim, at_once[aim], at_once[aim]))
                self.model.add(what <= at_once[aim])
                continue
            solver, known = self._least(what, until - monotonic())
            if not known:
                break
            value, bound = round(solver.objective_value), round(solver.best_objective_bound)
            proven.append(Proven(aim, value, bound))
            plan = self._read(solver)
            self.model.add(what <= value)
            self._hint(solver)
        else:
            solver, known = self._least(sum(self.end.values()), EARLIEST)
            if known:
                plan = self._read(solver)
        plan = self._better(plan)
        told = self._as_in(plan, proven)
        return DayPlan(plan.slots, plan.off, told, plan.left_out, all(one.best for one in told))

    def _cap(self, proven: list[Proven]) -> None:
        """Allow no more minutes without power than in the plan made at once, if it is as good so far."""
        first = self._score(_made_at_once(self.tasks, self.first, self.first_off))
        self.is_capped = tuple(one.value for one in proven) == first[:3]
        if self.is_capped:
            self.model.add(self.aims[4] <= first[4])

    def _better(self, plan: DayPlan) -> DayPlan:
        """The better of a plan and the one made at once, in the order of the aims."""
        at_once = _made_at_once(self.tasks, self.first, self.first_off)
        return min(plan, at_once, key=self._score)

    def _score(self, plan: DayPlan) -> Score:
        off: dict[str, list[tuple[int, int]]] = {}
        for one in plan.off:
            off.setdefault(one.breaker, []).append((one.start, one.end))
        return scored(self.problem, len(plan.left_out), {slot.day for slot in plan.slots}, off)

    def _as_in(self, plan: DayPlan, proven: list[Proven]) -> tuple[Proven, ...]:
        """What was proven, with what the plan came to; below what nothing can come, where nothing was proven."""
        least = (0, 0, fewest_days(self.problem, self.tasks), *_least_at_all(self.problem, self.tasks, plan))
        bounds = dict(zip(AIMS, least, strict=True)) | {one.aim: one.bound for one in proven}
        values = zip(AIMS, self._score(plan), strict=True)
        return tuple(Proven(aim, value, min(bounds[aim], value)) for aim, value in values)

    def _least(self, what: Any, seconds: float) -> tuple[Any, bool]:
        """The solver, after it made something small for so long, and whether it has a plan."""
        self.model.minimize(what)
        return solved_in(self.model, seconds)

    def _hint_first(self) -> None:
        """The search begins with the plan made at once."""
        for id, (start, end) in self.first.items():
            self.model.add_hint(self.start[id], start // self.step)
            self.model.add_hint(self.end[id], end // self.step)
            self.model.add_hint(self.there[id], True)
        for breaker, blocks in self.blocks.items():
            times = self.first_off.get(breaker, [])
            for number, block in enumerate(blocks):
                self.model.add_hint(block.there, number < len(times))
                if number < len(times):
                    self.model.add_hint(block.start, times[number][0] // self.step)
                    self.model.add_hint(block.end, times[number][1] // self.step)
                    self.model.add_hint(block.day, times[number][0] // DAY)

    def _hint(self, solver: Any) -> None:
        self.model.clear_hints()
        for all_of in (self.start, self.end, self.there):
            for variable in all_of.values():
                self.model.add_hint(variable, solver.value(variable))

    def _read(self, solver: Any) -> DayPlan:
        slots = [
            Slot(task, solver.value(self.start[task.id]) * self.step, solver.value(self.end[task.id]) * self.step)
            for task in self.tasks
            if solver.value(self.there[task.id])
        ]
        off = [
            Off(breaker, solver.value(block.start) * self.step, solver.value(block.end) * self.step)
            for breaker, blocks in self.blocks.items()
            for block in blocks
            if solver.value(block.there)
        ]
        out = tuple((task, NO_TIME) for task in self.tasks if not solver.value(self.there[task.id]))
        slots.sort(key=lambda slot: (slot.start, slot.task.id))
        off.sort(key=lambda one: (one.start, one.breaker))
        return DayPlan(tuple(_shared_out(slots)), tuple(off), (), out, True)


def _made_at_once(
    tasks: tuple[Task, ...], starts: dict[str, tuple[int, int]], breakers_off: dict[str, list[tuple[int, int]]]
) -> DayPlan:
    """The plan made at once, for where nothing better is found in time."""
    slots = [Slot(task, *starts[task.id]) for task in tasks if task.id in starts]
    slots.sort(key=lambda slot: slot.start)
    off = [Off(breaker, *when) for breaker, times in breakers_off.items() for when in times]
    out = tuple((task, NO_TIME) for task in tasks if task.id not in starts)
    return DayPlan(
        tuple(_shared_out(slots)), tuple(sorted(off, key=lambda one: (one.start, one.breaker))), (), out, False
    )


def _shared_out(slots: list[Slot]) -> Iterator[Slot]:
    """The slots with who does them: the first who is free."""
    free: dict[int, int] = {}
    for slot in slots:
        person = next((one for one in sorted(free) if free[one] <= slot.start), len(free) + 1)
        free[person] = slot.end
        yield Slot(slot.task, slot.start, slot.end, person)
