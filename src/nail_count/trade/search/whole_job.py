"""Every box of a job that fails, mended one after the other: what it takes in all, what one leaves for another."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import partial
from typing import Protocol

from ..documents import Documents, JobAtHand
from ..model.job import Job
from ..rules.check import check_job
from .ways import MINUTES_IN_HOUR, Way, Ways, ways

HOUR = "hour of work"
"""What the price of an hour goes by."""


@dataclass(frozen=True, slots=True)
class Mended:
    """A box, and the cheapest way to make it hold after what was done before it."""

    box: str
    name: str
    room: str
    ways: Ways
    reused: tuple[str, ...] = ()
    """Of its parts, those that a box before it leaves over."""
    agreed: bool = False
    """Whether the customer agreed to what a way gives up."""

    @property
    def way(self) -> Way | None:
        """The cheapest way; None where none is needed, there is none, or the customer must be asked first."""
        first = self.ways.ways[0] if self.ways.ways else None
        return None if first is None or (first.gives_up and not self.agreed) else first

    @property
    def bought(self) -> tuple[str, ...]:
        """What has to be bought for it."""
        if self.way is None:
            return ()
        return tuple((Counter(self.way.parts) - Counter(self.reused)).elements())


@dataclass(frozen=True, slots=True)
class Total:
    """What a run takes in all."""

    minutes: int
    parts: tuple[tuple[str, int], ...]
    """The part bought, and how many of it."""
    reused: tuple[tuple[str, int], ...]
    left: tuple[tuple[str, int], ...]
    """Devices and modules that nothing takes over."""
    money: Fraction | None
    """Parts and time; None where something has no price."""
    unpriced: tuple[str, ...]
    """What has none."""


class Find(Protocol):
    """What looks for the ways of one box: here, or elsewhere with a bound of its own."""

    def __call__(self, job: Job, box: str, most: int, *, spare: frozenset[str]) -> Ways:
        """The ways of a box, at most so many; `spare`: sheets of devices that lie unused."""
        ...


def mended(
    job: Job,
    boxes: Sequence[str],
    going_on: Callable[[], bool] = lambda: True,
    most: int = 1,
    find: Find | None = None,
) -> Iterator[Mended]:
    """Each box in turn, the job before it as the ways chosen so far leave it.

    Args:
        job: the whole house.
        boxes: keys of those that are to hold.
        going_on: asked again and again: whether to go on.
        most: how many ways of different kinds of work are looked for; the cheapest is taken.
        find: what looks for the ways of each; None: this process does, for as long as it goes on.
    """
    find = find or partial(ways, going_on=going_on)
    left: Counter[str] = Counter()
    for key in boxes:
        if not going_on():
            return
        found = find(near(job, key), key, most, spare=frozenset(left))
        at = next(box for box in job.boxes if box.id == key)
        here: Counter[str] = Counter()
        way = Mended(key, at.name, at.room, found).way
        if way is not None:
            here = Counter(way.parts) & left
            left = +(left - here + Counter(way.frees))
            job = done(job, way)
        yield Mended(key, at.name, at.room, found, tuple(here.elements()))


MANY = 60
"""Boxes of a job, above which what could change places with a device is looked for around its box only."""


def near(job: Job, key: str) -> Job:
    """A job with a box, those that share a circuit with it, those its runs lead to or pass; a small one whole."""
    if len(job.boxes) <= MANY:
        return job
    (box,) = (one for one in job.boxes if one.id == key)
    runs = tuple(run for run in job.runs if any(end.box == key for end in run.box_ends))
    beside = {end.box for run in runs for end in run.box_ends} | {run.passes for run in runs}
    here = tuple(one for one in job.boxes if one.id in beside or one is box or set(one.circuits) & set(box.circuits))
    keys = {one.id for one in here}
    kept = tuple(run for run in job.runs if all(end.box in keys for end in run.box_ends))
    return job.changed(boxes=here, runs=kept)


def done(job: Job, way: Way) -> Job:
    """The job after a way."""
    documents = Documents(JobAtHand(job), {})
    for edit in way.edits:
        documents = edit.apply(documents).documents
    return documents.job


def to_mend(job: Job) -> tuple[str, ...]:
    """The keys of the boxes of a job that fail, and of those that hold tightly, as they stand."""
    return tuple(check.box.id for check in check_job(job).boxes if check.state.word in ("fails", "tight"))


def total(job: Job, rows: Sequence[Mended]) -> Total:
    """What a run takes in all.

    Args:
        job: whose prices they are.
    """
    prices = {one.what: one.each for one in job.prices}
    taken = [one.way for one in rows if one.way is not None]
    minutes = sum(way.minutes for way in taken)
    bought = Counter(part for one in rows for part in one.bought)
    reused = Counter(part for one in rows for part in one.reused)
    left = Counter(sheet for way in taken for sheet in way.frees) - reused
    unpriced = tuple(
        sorted({part for part in bought if part not in prices} | ({HOUR} if HOUR not in prices else set()))
    )
    money = None
    if not unpriced:
        spent = sum((prices[part] * count for part, count in bought.items()), Fraction(0))
        money = spent + prices[HOUR] * minutes / MINUTES_IN_HOUR
    every = [tuple(sorted(one.items())) for one in (bought, reused, left)]
    return Total(minutes, every[0], every[1], every[2], money, unpriced)
