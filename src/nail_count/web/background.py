"""Runs over whole houses that go on while pages are looked at: one a job, a few in all, gone with the program."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock, Thread

from ..trade.model.job import Job
from ..trade.search.whole_job import Mended, mended, to_mend
from .searches import searched_ways

MOST_TASKS = 8
"""How many are remembered; the oldest is stopped and forgotten."""


class Task:
    """The boxes of a house made to hold one after the other, with what has come out so far."""

    def __init__(self, job: Job) -> None:
        self.job = job
        """As it was when the run began."""
        self.boxes = to_mend(job)
        self.rows: list[Mended] = []
        self.stopped = False
        """By a person; what came out until then stays."""
        self.trouble = ""
        """Why it broke off, if it did."""
        self._thread = Thread(target=self._go, daemon=True)

    def start(self) -> None:
        """Begins."""
        self._thread.start()

    def stop(self) -> None:
        """Stops after what it is at: the boxes done so far stay."""
        self.stopped = True

    @property
    def going_on(self) -> bool:
        """Whether it is not done yet."""
        return self._thread.is_alive()

    def wait(self) -> None:
        """Until it is done, or stopped."""
        self._thread.join()

    def _go(self) -> None:
        try:
            for row in mended(self.job, self.boxes, lambda: not self.stopped, find=searched_ways):
                if not self.stopped or not row.ways.unfinished:
                    self.rows.append(row)
        except Exception as wrong:
            self.trouble = f"the run broke off: {wrong}"
            raise


class Tasks:
    """The runs there are, by the key of their job."""

    def __init__(self) -> None:
        self._runs: OrderedDict[str, Task] = OrderedDict()
        self._lock = Lock()

    def of(self, job: str) -> Task | None:
        """The run of a job; None where none was begun since the program was."""
        with self._lock:
            return self._runs.get(job)

    def begin(self, key: str, job: Job) -> Task:
        """A run of a job, in place of the one before; one that goes on already goes on."""
        with self._lock:
            known = self._runs.get(key)
            if known is not None and known.going_on and known.job == job:
                return known
            if known is not None:
                known.stop()
            run = self._runs[key] = Task(job)
            self._runs.move_to_end(key)
            while len(self._runs) > MOST_TASKS:
                self._runs.popitem(last=False)[1].stop()
        run.start()
        return run

    def close(self) -> None:
        """Stops them all."""
        with self._lock:
            for run in self._runs.values():
                run.stop()
