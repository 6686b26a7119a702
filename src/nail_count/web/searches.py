"""Searches that pages ask for, each done in a process of its own: ways to make a box hold, plans of the days."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from time import monotonic
from typing import Any

from ..files.day_report import day_data, plan_of
from ..store.database import make_engine
from ..store.store import Store
from ..trade.model.job import Job
from ..trade.rules.check import fitting_job
from ..trade.search.ways import MOST_WAYS, Asked, Ways, one_more, ways
from . import workers

AT_ONCE, PATIENTLY = 2.0, 12.0
"""How long a page looks for what makes a box hold: beside everything else, and where it is asked for [s]."""


def until(seconds: float) -> Callable[[], bool]:
    """Whether to go on: for so many seconds from now."""
    end = monotonic() + seconds
    return lambda: monotonic() < end


def ways_in_time(
    job: Job, box: str, most: int = MOST_WAYS, seconds: float = PATIENTLY, spare: frozenset[str] = frozenset()
) -> Ways:
    """Look for ways to make a box hold, for so long."""
    return ways(job, box, most, going_on=until(seconds), spare=spare)


def searched_ways(
    job: Job, box: str, most: int = MOST_WAYS, seconds: float = PATIENTLY, spare: frozenset[str] = frozenset()
) -> Ways:
    """Do the same in a process of its own, and wait for it. Raises TookTooMuch."""
    return workers.run("search", ways_in_time, job, box, most, seconds, spare)


def one_more_in_time(job: Job, box: str, so_far: Ways | None, seconds: float) -> Ways:
    """Look for one more way to make a box hold, for so long."""
    return one_more(job, box, so_far, Asked(going_on=until(seconds)))


@lru_cache(maxsize=2)
def store_of(file: Path) -> Store:
    """Open a database the server has looked at, once in each process that works for it."""
    return Store(make_engine(file))


def day_data_of(file: Path, job: str, seconds: float) -> dict[str, Any]:
    """Plan the days of a job, as data."""
    whole = fitting_job(store_of(file).whole_job(job))
    return day_data(whole, plan_of(whole, seconds))
