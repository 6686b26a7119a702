"""A file written whole or not at all: what was there before stays until all of the new one is on the disk."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path
from shutil import copyfileobj
from typing import IO


class AlreadyThere(Exception):
    """Something is there already, and nobody allowed replacing it."""


def write_whole(file: Path, content: bytes, overwrite: bool = False) -> None:
    """Write a file whole, or not at all.

    Args:
        file: where.
        overwrite: whether a file that is there may be replaced.

    Raises:
        AlreadyThere: a file is there, and `overwrite` is false.
        OSError: it cannot be written; what was there is as before.
    """
    _put(file, lambda out: out.write(content), overwrite)


def copy_whole(source: IO[bytes], file: Path, overwrite: bool = False) -> None:
    """Write what an open file holds to a place, perhaps on another disk, and close it.

    Raises as [write_whole][nail_count.files.whole.write_whole] does.
    """
    with source:
        _put(file, lambda out: copyfileobj(source, out, 1 << 20), overwrite)


def _put(file: Path, write: Callable[[IO[bytes]], object], overwrite: bool) -> None:
    if file.exists() and not overwrite:
        raise AlreadyThere(str(file))
    number, name = tempfile.mkstemp(dir=file.parent, prefix=f".{file.name}.")
    try:
        with os.fdopen(number, "wb") as out:
            write(out)
            out.flush()
            os.fsync(out.fileno())
        Path(name).replace(file)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
