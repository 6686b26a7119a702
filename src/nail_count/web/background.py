"""Searches that go on while pages are looked at: for one box, a whole house, its days; gone with the program."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from concurrent.futures import Future
from threading import Lock, Thread
from time import monotonic
from typing import Any, Generic, ParamSpec, TypeVar

from ..trade.model.job import Job
from ..trade.search.ways import Way, Ways
from ..trade.search.whole_job import Mended, mended, to_mend
from . import workers
from .searches import PATIENTLY, one_more_in_time, searched_ways
from .workers import TookTooMuch

MOST_TASKS = 8
"""How many are remembered; the oldest is stopped and forgotten."""
A_LITTLE = 0.05
"""How long it waits before it looks again [s]."""


class Background:
    """Work in a thread of its own, for a job as it was when the work began."""

    def __init__(self, job: Job) -> None:
        self.job = job
        self.stopped = False
        """By a person; what came out until then stays."""
        self.trouble = ""
        """Why it broke off, if it did."""
        self._thread = Thread(target=self._watched, daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """Stop; what came out so far stays."""
        self.stopped = True

    @property
    def going_on(self) -> bool:
        """Whether it is not done yet."""
        return self._thread.is_alive()

    def wait(self, seconds: float | None = None) -> None:
        """Wait until it is done or stopped, or so many seconds are over."""
        self._thread.join(seconds)

    def _watched(self) -> None:
        try:
            self._go()
        except Exception as wrong:
            self.trouble = wrong.sentence if isinstance(wrong, TookTooMuch) else "The search broke off. Look again."
            if not isinstance(wrong, TookTooMuch):
                raise

    def _go(self) -> None:
        raise NotImplementedError


_P = ParamSpec("_P")
_R = TypeVar("_R")
V = TypeVar("V")


class InProcess(Background):
    """Work done piece by piece in a process of its own, which ends at once when a person stops it."""

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self._now: Future[Any] | None = None

    def stop(self) -> None:
        """Stop at once: end the process that looks."""
        super().stop()
        if self._now is not None:
            self._now.cancel()

    def _piece(self, work: Callable[_P, _R], *args: _P.args, **kwargs: _P.kwargs) -> _R | None:
        """Do a piece of the work; None: it was stopped meanwhile. Raises TookTooMuch."""
        self._now = piece = workers.started("search", work, *args, **kwargs)
        try:
            return workers.result_of(piece)
        except TookTooMuch:
            if not self.stopped:
                raise
            return None


class BoxSearch(InProcess):
    """The ways to make one box hold, each shown as soon as it is found."""

    def __init__(self, job: Job, box: str) -> None:
        super().__init__(job)
        self.box = box
        self.found: Ways | None = None
        """None as long as nothing is known yet."""

    def way(self, number: int) -> Way | None:
        """Return a way by its number from 1; wait for it where it isn't found yet. None: there is none."""
        while self.going_on and not (self.found and len(self.found.ways) >= number):
            self.wait(A_LITTLE)
        ways = self.found.ways if self.found else ()
        return ways[number - 1] if 1 <= number <= len(ways) else None

    def _go(self) -> None:
        end = monotonic() + PATIENTLY
        while not self.stopped and not (self.found and self.found.through):
            left = end - monotonic()
            self.found = self._piece(one_more_in_time, self.job, self.box, self.found, left) or self.found


class DaySearch(InProcess, Generic[V]):
    """The plan of a job's days: one made at once, then the best found in time in its place."""

    def __init__(self, job: Job, make: Callable[[Job, float], V], seconds: float) -> None:
        """`make`: a function of a module, of the job and for how long it may look [s]."""
        super().__init__(job)
        self.make, self.seconds = make, seconds
        self.found: V | None = None
        """None as long as nothing is known yet."""

    def _go(self) -> None:
        for seconds in (0.0, self.seconds):
            if not self.stopped:
                self.found = self._piece(self.make, self.job, seconds) or self.found


class HouseSearch(Background):
    """The boxes of a house made to hold one after the other, with what has come out so far."""

    def __init__(self, job: Job) -> None:
        super().__init__(job)
        self.boxes = to_mend(job)
        self.rows: list[Mended] = []

    def _go(self) -> None:
        for row in mended(self.job, self.boxes, lambda: not self.stopped, find=searched_ways):
            if not self.stopped or not row.ways.unfinished:
                self.rows.append(row)


T = TypeVar("T", bound=Background)


class Searches(Generic[T]):
    """The searches there are, by what they are about."""

    def __init__(self) -> None:
        self._known: OrderedDict[Hashable, T] = OrderedDict()
        self._lock = Lock()

    def of(self, key: Hashable) -> T | None:
        """Return a search; None where none was begun since the program was."""
        with self._lock:
            return self._known.get(key)

    def begin(self, key: Hashable, job: Job, make: Callable[[], T], *, again: bool = False) -> T:
        """Return the search about this as the job is now: begun before, or begun now in place of another.

        Args:
            key: what it is about.
            job: as it is now.
            make: what makes a search of it.
            again: whether one that is over is begun again though the job is the same.
        """
        with self._lock:
            known = self._known.get(key)
            if known is not None and known.job == job and (known.going_on or not again):
                return known
            if known is not None:
                known.stop()
            made = self._known[key] = make()
            self._known.move_to_end(key)
            while len(self._known) > MOST_TASKS:
                self._known.popitem(last=False)[1].stop()
            made.start()
        return made

    def close(self) -> None:
        """Stop them all."""
        with self._lock:
            for one in self._known.values():
                one.stop()
