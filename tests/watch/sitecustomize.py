"""Refuses a second opener: no Python code may open a database, or its log, that SQLite has open in the same process.

POSIX drops all locks of a process on a file when that process closes any handle to it. The tests import this, and every
program they start loads it at its start, because this folder is on its PYTHONPATH.
"""

import os
import sys
from pathlib import Path


class SecondOpener(RuntimeError):
    """Something opened a database beside SQLite."""


def _watch(event: str, args: tuple[object, ...]) -> None:
    if event != "open" or not isinstance(args[0], str | bytes | os.PathLike):
        return
    path = os.fsdecode(args[0])
    if path.endswith((".sqlite3", ".sqlite3-wal", ".sqlite3-shm")) and _is_open_here(path):
        raise SecondOpener(f"{path} was opened beside SQLite")


def _is_open_here(path: str) -> bool:
    try:
        wanted = Path(path).stat()
    except OSError:
        return False
    for handle in Path("/proc/self/fd").iterdir():
        try:
            found = handle.stat()
        except OSError:
            continue
        if (found.st_dev, found.st_ino) == (wanted.st_dev, wanted.st_ino):
            return True
    return False


if sys.platform == "linux":
    sys.addaudithook(_watch)
