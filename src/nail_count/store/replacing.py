"""Puts another database in the place of the one that is there, whole or not at all, whatever is killed when.

A database is up to three files. They are moved aside one by one and the new one takes their place; a note says so
meanwhile. Whoever finds the note holds the database alone, so nobody is at it: what was moved goes back, unless the new
one had arrived already.
"""

from __future__ import annotations

import os
from contextlib import suppress
from datetime import UTC, datetime
from pathlib import Path

LOG_ENDS = ("-wal", "-shm")
"""What SQLite keeps beside a database. A log that is left behind would be played into whatever takes its place."""

_WITH_LOG_ALONE = "a log without its database"


def is_there(database: Path) -> bool:
    """Whether a database is there, or a part of one."""
    return any(part.exists() for part in _parts(database))


def replace_database(database: Path, new: Path) -> Path | None:
    """Put a new database in place, and what was there aside.

    Args:
        database: held alone.
        new: on the same disk, written out.

    Returns:
        Where what was there is now; None where nothing was.

    Raises:
        OSError: it could not be done; all is as before.
    """
    aside = _aside(database)
    was_there = is_there(database)
    _write_out(_note(database), f"{aside.name}\n{_WITH_LOG_ALONE if not database.exists() else ''}")
    try:
        for part, put in zip(_parts(database), _parts(aside), strict=True):
            if part.exists():
                part.rename(put)
        new.replace(database)
    finally:
        finish_replacing(database)
    return aside if was_there else None


def put_logs_aside(database: Path) -> None:
    """Move a log out of the way that is left of a database which is no longer there."""
    aside = _aside(database)
    for part, put in zip(_parts(database)[:-1], _parts(aside)[:-1], strict=True):
        if part.exists():
            part.rename(put)


def is_half_replaced(database: Path) -> bool:
    """Whether a process was killed while it replaced a database."""
    return _note(database).exists()


def finish_replacing(database: Path) -> None:
    """Bring a database that was being replaced back to one whole state: the new one if it had arrived, else the old.

    Args:
        database: held alone.
    """
    note = _note(database)
    try:
        name, _, log_alone = note.read_text(encoding="utf-8").partition("\n")
    except FileNotFoundError:
        return
    aside = database.with_name(name)
    # The database itself is moved aside last. Until it lies there, what stands in its place is still the old one.
    arrived = database.exists() and (aside.exists() or log_alone == _WITH_LOG_ALONE)
    if not arrived:
        for part, put in zip(_parts(database), _parts(aside), strict=True):
            if put.exists():
                put.rename(part)
    _sync(database.parent)
    note.unlink()


def _aside(database: Path) -> Path:
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
    return database.with_name(f"{database.stem}.replaced-{stamp}{database.suffix}")


def _parts(database: Path) -> tuple[Path, ...]:
    """The files of a database, itself the last."""
    return (*(database.with_name(database.name + end) for end in LOG_ENDS), database)


def _note(database: Path) -> Path:
    return database.with_name(f"{database.name}.replacing")


def _write_out(file: Path, text: str) -> None:
    """Write a file so that it is there whole or not at all, also after the power went out."""
    half = file.with_name(f"{file.name}.half")
    with half.open("w", encoding="utf-8") as out:
        out.write(text)
        out.flush()
        os.fsync(out.fileno())
    half.replace(file)
    _sync(file.parent)


def _sync(folder: Path) -> None:
    with suppress(OSError):
        number = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(number)
        finally:
            os.close(number)
