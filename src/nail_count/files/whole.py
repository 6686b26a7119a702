"""A file written whole or not at all: what was there before stays until all of the new one is on the disk."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


class AlreadyThere(Exception):
    """Something is there already, and nobody said that it may be replaced."""


def write_whole(file: Path, content: bytes, overwrite: bool = False) -> None:
    """Writes a file.

    Args:
        file: where.
        content: all of it.
        overwrite: whether what is there already may be replaced.

    Raises:
        AlreadyThere: something is, and `overwrite` was not said.
        OSError: it cannot be written; what was there is as before.
    """
    if file.exists() and not overwrite:
        raise AlreadyThere(str(file))
    number, name = tempfile.mkstemp(dir=file.parent, prefix=f".{file.name}.")
    try:
        with os.fdopen(number, "wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
        Path(name).replace(file)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
