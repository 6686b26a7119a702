"""Long work in processes of its own: searches, plans, photos, files that come in. An act never waits for any of it.

Each kind of work has its own processes, niced below the server and bounded in memory; each piece of work is bounded in
time. What overruns a bound is killed with its process, and the next piece gets a new one.
"""

from __future__ import annotations

import atexit
import os
import resource
from collections.abc import Callable
from concurrent.futures import CancelledError
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.context import BaseContext
from threading import Lock, Thread
from typing import Literal, ParamSpec, TypeVar

from anyio import to_thread
from pebble import ProcessExpired, ProcessFuture, ProcessPool

from ..files.photo import TakenIn, take_in
from ..trade.model.errors import Rejected

_P = ParamSpec("_P")
_T = TypeVar("_T")
Kind = Literal["search", "photo", "file"]

SECONDS: dict[Kind, float] = {"search": 60.0, "photo": 15.0, "file": 3600.0}
"""How long one piece of work may take before it is killed [s]. Searches are told earlier to stop by themselves."""
MEMORY: dict[Kind, int] = {"search": 3 << 30, "photo": 1 << 30, "file": 4 << 30}
"""What a process may hold [bytes]."""
AT_ONCE: dict[Kind, int] = {"search": 2, "photo": 1, "file": 1}
"""Processes of each kind: as many searches as a small machine has cores."""
NICENESS = 10


class TookTooMuch(Exception):
    """Work was stopped because it took more time or memory than it may."""

    def __init__(self, sentence: str) -> None:
        super().__init__(sentence)
        self.sentence = sentence


@dataclass(slots=True)
class _Pools:
    """The processes there are, by kind of work; started when they are first needed, ended with the program."""

    by_kind: dict[Kind, ProcessPool] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def of(self, kind: Kind) -> ProcessPool:
        """The processes for a kind of work."""
        with self.lock:
            known = self.by_kind.get(kind)
            if known is None or not known.active:
                known = self.by_kind[kind] = ProcessPool(
                    max_workers=AT_ONCE[kind],
                    initializer=_begin,
                    initargs=(MEMORY[kind],),
                    context=_context(),
                )
            return known

    def stop(self) -> None:
        """End them all, whatever they are at."""
        with self.lock:
            for pool in self.by_kind.values():
                pool.stop()  # type: ignore[no-untyped-call]
                pool.join()
            self.by_kind.clear()


_pools = _Pools()
atexit.register(_pools.stop)


def _context() -> BaseContext:
    """Processes begin as copies of one that has loaded what most of them need, and nothing that runs threads."""
    context = get_context("forkserver")
    context.set_forkserver_preload(["nail_count.web.searches", "nail_count.files.photo"])
    return context


def _begin(memory: int) -> None:
    """Make a process ready: behind the server in line for the processor, and with so much memory at most."""
    os.nice(NICENESS)
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))


def started(kind: Kind, work: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> ProcessFuture[_T]:
    """Start work in a process of its own. Cancelling the future kills it."""
    return _pools.of(kind).schedule(work, args=args, kwargs=dict(kwargs), timeout=SECONDS[kind])


def result_of(future: ProcessFuture[_T]) -> _T:
    """Wait for work, and return what it comes to.

    Raises:
        TookTooMuch: it was stopped.
    """
    try:
        return future.result()
    except TimeoutError as wrong:
        raise TookTooMuch("This took too long and was stopped. Nothing was changed.") from wrong
    except (ProcessExpired, MemoryError) as wrong:
        raise TookTooMuch("This needed too much memory and was stopped. Nothing was changed.") from wrong
    except CancelledError as wrong:
        raise TookTooMuch("This was stopped. Nothing was changed.") from wrong


def run(kind: Kind, work: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> _T:
    """Do work in a process of its own and wait for it, in a thread that may wait. Raises TookTooMuch."""
    return result_of(started(kind, work, *args, **kwargs))


async def run_async(kind: Kind, work: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> _T:
    """Do the same from the event loop. Raises TookTooMuch."""
    return await to_thread.run_sync(result_of, started(kind, work, *args, **kwargs))


def warm() -> None:
    """Start the first process for searches, so that the first person who asks for one need not wait for it."""
    Thread(target=started, args=("search", os.getpid), daemon=True).start()


def photo_taken_in(content: bytes) -> TakenIn:
    """Make a picture safe to keep, in a process of its own. Raises Rejected, also where that takes too long."""
    try:
        return run("photo", take_in, content)
    except TookTooMuch as wrong:
        raise Rejected("choose another picture: this one takes too long to open", "photo") from wrong


def stop() -> None:
    """End all work and every process."""
    _pools.stop()
