"""Who uses a database: servers hold it together, what replaces it holds it alone. Released when the process ends."""

from __future__ import annotations

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from .database import OWNER_ONLY
from .trouble import Trouble, trouble_of_os


@contextmanager
def held(file: Path, alone: bool = False) -> Iterator[None]:
    """Holds a database while something is done with it.

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
        try:
            fcntl.flock(number, (fcntl.LOCK_EX if alone else fcntl.LOCK_SH) | fcntl.LOCK_NB)
        except BlockingIOError as wrong:
            so = f"Nail Count is running on {file}." if alone else f"{file} is being replaced just now."
            raise Trouble("In use", so, "Nothing was changed.", "Stop it first, and do this again.") from wrong
        yield
    finally:
        os.close(number)
