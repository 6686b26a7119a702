"""A plan made at once, one place after the other by breaker: where the search begins, and the plan shown where it was
stopped before it found a better one. As safe as any: nobody works on two places at once, and every break is kept."""

from __future__ import annotations

from collections.abc import Iterator

from ...model.clock import DAY
from .problem import MAIN, Problem, Task

Interval = tuple[int, int]


def first_starts(at: Problem, tasks: tuple[Task, ...]) -> dict[str, Interval]:
    """When each task is done, by its id; a task that found no time is left out.

    Args:
        at: the places to plan.
        tasks: those that some plan could hold.

    >>> a, b, c = (Task(one, one, (one,), 60, frozenset(off)) for one, off in (("a", "1"), ("b", "2"), ("c", "1")))
    >>> first_starts(Problem((a, b, c), 480, 720), (a, b, c))
    {'a': (480, 540), 'c': (540, 600), 'b': (600, 660)}
    """
    put: dict[str, Interval] = {}
    for task in sorted(tasks, key=lambda one: _when(at, one)):
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


def first_off(at: Problem, tasks: tuple[Task, ...], put: dict[str, Interval]) -> dict[str, list[Interval]]:
    """When each breaker is off for it: on again wherever nothing needs it off, and overnight."""
    found: dict[str, list[Interval]] = {}
    for task in sorted((task for task in tasks if task.id in put), key=lambda one: put[one.id]):
        start, end = put[task.id]
        for breaker in task.breakers:
            blocks = found.setdefault(breaker, [])
            if blocks and blocks[-1][1] == start and start % DAY != 0:
                blocks[-1] = (blocks[-1][0], end)
            else:
                blocks.append((start, end))
    return found


def broken_by(at: Problem, off: dict[str, list[Interval]]) -> int:
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
