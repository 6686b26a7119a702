"""Long work beside the event loop: pictures, files, checks and searches, a few at a time, so that pages go on."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import ParamSpec, TypeVar

from anyio import CapacityLimiter, to_thread

AT_ONCE = 2
"""As many as a small machine has cores."""

_P = ParamSpec("_P")
_T = TypeVar("_T")
_limiters: list[CapacityLimiter] = []
"""The one limiter, made on the event loop it is first asked on."""


async def beside(work: Callable[_P, _T], *args: _P.args, **kwargs: _P.kwargs) -> _T:
    """What some long work comes to; others are served meanwhile, and it waits for its turn without holding a thread."""
    if not _limiters:
        _limiters.append(CapacityLimiter(AT_ONCE))
    return await to_thread.run_sync(partial(work, *args, **kwargs), limiter=_limiters[0])
