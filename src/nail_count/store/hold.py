"""Who uses a database: servers and commands hold it together, what replaces it holds it alone.

A hold is released when its process ends, however it ends. Whoever holds a database first after a process was killed
clears up after it: a half-done replacement is finished or undone, and half-made files are removed.
"""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .database import OWNER_ONLY
from .replacing import finish_replacing
from .scratch import sweep
from .trouble import Trouble, being_replaced, trouble_of_os

_PATIENCE = 1.0
"""How long to wait for a hold that is about to be released [s]: clearing up takes no longer."""


@contextmanager
def held(file: Path, alone: bool = False) -> Iterator[None]:
    """Hold a database while something is done with it.

    Args:
        file: the database.
        alone: whether nobody else may hold it meanwhile.

    Raises:
        Trouble: it is held in a way that does not allow it.
    """
    try:
        file.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        number = os.open(file.with_name(f"{file.name}.in-use"), os.O_CREAT | os.O_RDWR, OWNER_ONLY)
    except OSError as wrong:
        raise trouble_of_os(wrong, file) from wrong
    try:
        if _locked(number, fcntl.LOCK_EX, _PATIENCE if alone else 0):
            finish_replacing(file)
            sweep(file.parent)
        elif alone:
            so = f"Nail Count is running on {file}."
            raise Trouble("In use", so, "Nothing was changed.", "Stop it first, and do this again.")
        if not alone and not _locked(number, fcntl.LOCK_SH, _PATIENCE):
            raise being_replaced(file)
        yield
    finally:
        os.close(number)


def _locked(number: int, how: int, patience: float) -> bool:
    """Take a lock, or say after a while that it cannot be had."""
    until = time.monotonic() + patience
    while True:
        try:
            fcntl.flock(number, how | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() >= until:
                return False
            time.sleep(0.02)
        else:
            return True
