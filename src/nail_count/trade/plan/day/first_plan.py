"""A plan made at once: where the search begins, and the plan shown where it was stopped before it found a better one.

It is the better of two: one place after the other, circuit by circuit; and whole breakers put into half-days. Both are
as safe as any other plan, and every break is kept.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Set

from ...model.clock import DAY
from .half_days import starts_by_breaker
from .problem import MAIN, Problem, Task

Interval = tuple[int, int]
Score = tuple[int, int, int, int, int]
"""Places left out, promises broken, days, openings, minutes without power: the aims, in order."""


def first_plan(at: Problem, tasks: tuple[Task, ...], seconds: float) -> dict[str, Interval]:
    """Return when each task is done, by its id, in the better of the two plans made at once.

    Args:
        at: the places to plan.
        tasks: those that some plan could hold.
        seconds: how long to look for it [s].
    """
    plain = first_starts(at, tasks)
    by_breaker = first_starts(at, tasks, starts_by_breaker(at, tasks, seconds))
    if _together(at, first_off(at, tasks, by_breaker)):
        return plain

    def score(put: Mapping[str, Interval]) -> Score:
        days = {start // DAY for start, _ in put.values()}
        return scored(at, len(tasks) - len(put), days, first_off(at, tasks, put))

    was, now = score(plain), score(by_breaker)
    worse = now[:3] > was[:3] or (now[:3] == was[:3] and (now[3] > was[3] or now[4] > was[4]))
    return plain if worse else by_breaker


def scored(at: Problem, left_out: int, days: Set[int], off: Mapping[str, list[Interval]]) -> Score:
    """Return how good a plan is, the smaller the better, by its days and the times breakers are off in it."""
    blocks = [one for times in off.values() for one in times]
    return left_out, broken_by(at, off), len(days), len(blocks), sum(end - start for start, end in blocks)


def _together(at: Problem, off: Mapping[str, list[Interval]]) -> bool:
    """Return whether breakers are off together that may not be."""
    return any(
        start < end_there and start_there < end
        for one, other in at.apart
        for start, end in off.get(one, ())
        for start_there, end_there in off.get(other, ())
    )


def first_starts(
    at: Problem, tasks: tuple[Task, ...], put: Mapping[str, Interval] | None = None
) -> dict[str, Interval]:
    """Return when each task is done, by its id; a task that found no time is left out.

    Args:
        at: the places to plan.
        tasks: those that some plan could hold.
        put: when some of them are done already.

    >>> a, b, c = (Task(one, one, (one,), 60, frozenset(off)) for one, off in (("a", "1"), ("b", "2"), ("c", "1")))
    >>> first_starts(Problem((a, b, c), 480, 720), (a, b, c))
    {'a': (480, 540), 'c': (540, 600), 'b': (600, 660)}
    """
    put = dict(put or {})
    for task in sorted((one for one in tasks if one.id not in put), key=lambda one: _when(at, one)):
        after = max((end for _, end in put.values()), default=0) if task.last else 0
        fits = [one for one in _fits(at, task, list(put.values())) if one[0] >= after]
        if fits:
            put[task.id] = min(fits, key=lambda one: (_late(at, task, one[1]), one))
    return put


def _late(at: Problem, task: Task, end: int) -> bool:
    """Whether a promise is broken by a task that ends then."""
    return any(
        kept.back_by is not None and end - (end - 1) // DAY * DAY > kept.back_by
        for kept in at.promises
        if kept.circuit in task.breakers or MAIN in task.breakers
    )


def _when(at: Problem, task: Task) -> tuple[bool, bool, int, tuple[str, ...], str]:
    """What comes first: the places promised early; then one breaker after the other; what nobody knows last."""
    promised = [kept.back_by for kept in at.promises if kept.circuit in task.breakers and kept.back_by is not None]
    return task.closes, task.last, min(promised, default=DAY), tuple(sorted(task.breakers)), task.id


def _fits(at: Problem, task: Task, busy: list[Interval]) -> Iterator[Interval]:
    """The earliest it can be in each of its windows, beside the places there already."""
    for _, first, last, lasts in at.windows(task):
        starts = [first, *(end for _, end in busy if first < end <= last)]
        for start in sorted(starts):
            if all(start + lasts <= a or b <= start for a, b in busy):
                yield start, start + lasts
                break


def first_off(at: Problem, tasks: tuple[Task, ...], put: Mapping[str, Interval]) -> dict[str, list[Interval]]:
    """Return when each breaker is off for it: on again wherever nothing needs it off, and overnight."""
    found: dict[str, list[Interval]] = {}
    for task in sorted((task for task in tasks if task.id in put), key=lambda one: put[one.id]):
        start, end = put[task.id]
        for breaker in task.breakers:
            blocks = found.setdefault(breaker, [])
            if blocks and blocks[-1][1] >= start and start % DAY != 0:
                blocks[-1] = (blocks[-1][0], max(blocks[-1][1], end))
            else:
                blocks.append((start, end))
    return found


def broken_by(at: Problem, off: Mapping[str, list[Interval]]) -> int:
    """How many times a promise is broken by breakers off at these times."""
    return sum(
        (kept.back_by is not None and end - start // DAY * DAY > kept.back_by)
        or (kept.longest is not None and end - start > kept.longest)
        for kept in at.promises
        for breaker in dict.fromkeys((kept.circuit, MAIN))
        for start, end in off.get(breaker, ())
    )


def fewest_days(at: Problem, tasks: tuple[Task, ...]) -> int:
    """So many days it takes at least, by the time there is."""
    work, days = sum(task.minutes for task in tasks), 0
    for time in sorted((at.people * at.time(day) for day in range(at.days)), reverse=True):
        if work <= 0:
            break
        work, days = work - time, days + 1
    return days
