"""Describe trouble with the data folder in one sentence: the fault, which work is safe, and what to do."""

from __future__ import annotations

import errno
import sqlite3
from collections.abc import Callable
from pathlib import Path

from sqlalchemy.exc import DBAPIError

SAFE = "Everything saved before is still there; what was being done was not saved."
UNTOUCHED = "Nothing in it was changed."


class Trouble(Exception):
    """Something is wrong with where jobs are kept."""

    def __init__(self, title: str, so: str, safe: str, do: str) -> None:
        super().__init__(f"{so} {safe} {do}")
        self.title = title
        self.sentence = str(self)


class ReadOnly(Trouble):
    """It may be read, not written."""


def full(where: str = "the disk jobs are kept on") -> Trouble:
    """No room."""
    do = "Make room there and do it again."
    return Trouble("Disk full", f"There is no room left on {where}.", SAFE, do)


def read_only(file: Path | str) -> Trouble:
    """May be read, not written."""
    do = (
        "Give this user the right to write the folder and the file. Or take a backup, restore it into a folder you "
        "can write, and name that one with --data."
    )
    return ReadOnly("May not be written", f"{file} may be read but not written.", SAFE, do)


def locked(file: Path | str) -> Trouble:
    """Another program holds it."""
    do = "Close the other program, or wait until it is done, and do it again."
    return Trouble("In use", f"Another program holds {file} and does not let go.", SAFE, do)


def being_replaced(file: Path | str) -> Trouble:
    """Another program puts a backup in its place, or was killed while it did, which the next start sets right."""
    so, do = f"{file} is being replaced just now.", "Do this again in a moment."
    return Trouble("In use", so, "Nothing was changed.", do)


def gone(file: Path | str) -> Trouble:
    """Moved or removed while the program ran."""
    safe = "What was being done was not saved."
    do = "Put the file back where it was, or restore a backup, and start Nail Count again."
    return Trouble("Gone", f"{file} is no longer where it was.", safe, do)


def damaged(file: Path | str, how: str) -> Trouble:
    """No whole database."""
    do = "Put it away as it is, and restore a backup: nail-count restore FILE. A copy may still be read in part."
    return Trouble("Damaged", f"{file} is damaged: {how}.", UNTOUCHED, do)


def empty(file: Path | str) -> Trouble:
    """A file of no length, which this program never leaves."""
    do = "If you had jobs, restore a backup: nail-count restore FILE. If not, remove the file and start again."
    return Trouble("Empty", f"{file} is empty; it should hold your jobs.", UNTOUCHED, do)


def foreign(file: Path | str) -> Trouble:
    """Of another program."""
    do = "Move it away, or name another folder with --data."
    return Trouble("Not ours", f"{file} is not a file of Nail Count.", UNTOUCHED, do)


def newer(file: Path | str) -> Trouble:
    """Written by a later version."""
    do = "Start it with that version or a later one; nothing here can read it safely."
    return Trouble("Of a newer version", f"{file} was written by a newer Nail Count.", UNTOUCHED, do)


def unwritable_folder(folder: Path | str, why: str) -> Trouble:
    """The folder cannot be made or used."""
    do = "Name a folder you may write with --data."
    return Trouble("No folder", f"The folder {folder} cannot be used: {why}.", "Nothing was changed.", do)


def trouble_of(wrong: Exception, file: Path | str = "the file jobs are kept in") -> Trouble:
    """What a failure of the database means.

    >>> full = sqlite3.OperationalError("database or disk is full")
    >>> trouble_of(full).title
    'Disk full'
    """
    inner = wrong.orig if isinstance(wrong, DBAPIError) else wrong
    code = getattr(inner, "sqlite_errorcode", None)
    said = str(inner)
    primary = code & 0xFF if isinstance(code, int) else _BY_WORDS.get(said, 0)
    if primary == sqlite3.SQLITE_CORRUPT:
        return damaged(file, said)
    if primary in _MEANS:
        return _MEANS[primary](file)
    do = "See that the disk is well, and do it again."
    return Trouble("Not saved", f"{file} cannot be used: {said}.", SAFE, do)


_MEANS: dict[int, Callable[[Path | str], Trouble]] = {
    sqlite3.SQLITE_FULL: lambda _: full(),
    sqlite3.SQLITE_READONLY: read_only,
    sqlite3.SQLITE_PERM: read_only,
    sqlite3.SQLITE_BUSY: locked,
    sqlite3.SQLITE_LOCKED: locked,
    sqlite3.SQLITE_NOTADB: foreign,
    sqlite3.SQLITE_CANTOPEN: lambda file: read_only(file) if _is_there(Path(file)) else gone(file),
}


def trouble_of_os(wrong: OSError, file: Path) -> Trouble:
    """What a failure of the system means, at a database or its folder.

    >>> trouble_of_os(PermissionError(13, "Permission denied"), Path("nowhere/jobs")).title
    'No folder'
    """
    if wrong.errno in (errno.ENOSPC, errno.EDQUOT):
        return full()
    if wrong.errno in (errno.EROFS, errno.EACCES, errno.EPERM) and _is_there(file):
        return read_only(file)
    return unwritable_folder(file.parent, (wrong.strerror or str(wrong)).lower())


def _is_there(file: Path) -> bool:
    try:
        return file.is_file()
    except OSError:
        return False


_BY_WORDS = {"database or disk is full": sqlite3.SQLITE_FULL, "database is locked": sqlite3.SQLITE_BUSY}
"""For errors that carry no code."""
