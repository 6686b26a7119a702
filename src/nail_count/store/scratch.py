"""Folders for files that are being made: gone when they are done with, and swept later if the process was killed.

A half-made backup holds setup codes, so none may outlive the process that made it. Each folder has a lock that the
process holds; the system releases it with the process, and whoever sweeps next removes the folders nobody holds.
"""

from __future__ import annotations

import fcntl
import os
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path
from shutil import rmtree

PREFIX = ".nail-count-work-"
_LOCK = "lock"
_UNLOCKED_FOR = 10.0
"""How long a folder may stand without a lock while it is being set up [s]."""
_EARLIER = (".backup-*", ".archive-*", ".restore-*")
"""What earlier versions called theirs; they held no lock."""


@contextmanager
def scratch(beside: Path) -> Iterator[Path]:
    """Make a folder for files under way, in a folder that may be written, or else where the system keeps such.

    Args:
        beside: where, so that the result can be moved to its place within one disk.
    """
    folder = _made(beside)
    held = os.open(folder / _LOCK, os.O_CREAT | os.O_WRONLY, 0o600)
    try:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield folder
    finally:
        rmtree(folder, ignore_errors=True)
        os.close(held)


def sweep(folder: Path) -> None:
    """Remove the folders in here whose process was killed."""
    with suppress(OSError):  # a folder that can only be read keeps its files
        for left in folder.glob(f"{PREFIX}*"):
            if _is_left(left):
                rmtree(left, ignore_errors=True)
        for pattern in _EARLIER:
            for left in folder.glob(pattern):
                rmtree(left, ignore_errors=True) if left.is_dir() else left.unlink(missing_ok=True)


def _made(beside: Path) -> Path:
    try:
        return Path(tempfile.mkdtemp(prefix=PREFIX, dir=beside))
    except OSError:
        return Path(tempfile.mkdtemp(prefix=PREFIX))


def _is_left(folder: Path) -> bool:
    """Whether nobody holds a folder."""
    try:
        held = os.open(folder / _LOCK, os.O_RDWR)
    except FileNotFoundError:
        return time.time() - folder.stat().st_mtime > _UNLOCKED_FOR
    except OSError:
        return False
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    finally:
        os.close(held)
    return True
