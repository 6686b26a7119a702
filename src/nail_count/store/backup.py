"""A backup: the whole database as one archive, made while others work, verified, and put back where it is wanted."""

from __future__ import annotations

import os
import sqlite3
import zlib
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import partial
from hashlib import file_digest
from pathlib import Path
from shutil import copyfile, copyfileobj
from typing import IO, Annotated, Literal
from zipfile import ZIP_DEFLATED, BadZipFile, ZipFile

from pydantic import Field, ValidationError

from ..trade.model.thing import Thing
from .database import OWNER_ONLY, close_database, connected, copy_to, look_at, make_engine
from .hold import held
from .replacing import LOG_ENDS, replace_database
from .scratch import scratch, sweep
from .trouble import ReadOnly, Trouble, trouble_of

DATABASE = "nail-count.sqlite3"
MANIFEST = "manifest.json"
MOST_MANIFEST = 100_000
"""Of a manifest [bytes]; more is none of ours."""


class Manifest(Thing):
    """What a backup holds, and how to tell that it is whole."""

    format: Literal["nail-count backup"] = "nail-count backup"
    version: Literal[1] = 1
    made: datetime
    tables: str
    """The version of the tables in it."""
    size: Annotated[int, Field(ge=1)]
    """Of the database [bytes]."""
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    jobs: int
    boxes: int
    """Those removed among them."""
    photos: int


class BadBackup(ValueError):
    """No backup, or not a whole one."""


class InTheWay(Exception):
    """Something is there already, and nobody allowed replacing it."""


@dataclass(frozen=True, slots=True)
class Restored:
    """What was put back."""

    manifest: Manifest
    put_aside: Path | None
    """Where what was there before is now."""


def back_up(database: Path, to: Path, overwrite: bool = False) -> Manifest:
    """Write everything that is kept into one archive, whole or not at all, and read it back.

    Args:
        database: a database of Nail Count; others may go on using it. One that may only be read will do.
        to: the archive.
        overwrite: whether a file that is there may be replaced.

    Raises:
        InTheWay: there is a file already.
        Trouble: the database cannot be used, or there is no room.
        OSError: the archive cannot be written.
    """
    if to.exists() and not overwrite:
        raise InTheWay(f"there is a file already: {to}")
    sweep(to.parent)
    with _held_to_read(database), scratch(to.parent) as folder:
        archive, manifest = _archive(folder, partial(copy_or_take, database))
        archive.replace(to)
    return manifest


def backup_file(copy: Callable[[Path], None], beside: Path) -> IO[bytes]:
    """Return everything that is kept as one archive: an open file without a name, gone once it is closed.

    Args:
        copy: copies the database to a new place.
        beside: the folder it is made in, if that can be written.

    Raises:
        Trouble: the database cannot be copied, or there is no room.
    """
    with scratch(beside) as folder:
        archive, _ = _archive(folder, copy)
        return archive.open("rb")


def copy_or_take(database: Path, to: Path) -> None:
    """Copy a database that this process has not opened, also from a disk that may only be read.

    Raises:
        Trouble: it cannot be used.
    """
    try:
        look_at(database)
        copy_to(database, to)
    except ReadOnly:
        # SQLite needs to write beside a database to open it. Nobody writes to this one, so its files are copied.
        for end in ("", *LOG_ENDS[:1]):
            if (part := database.with_name(database.name + end)).exists():
                copyfile(part, to.with_name(to.name + end))
        close_database(make_engine(to))
    except sqlite3.Error as wrong:
        raise trouble_of(wrong, database) from wrong


@contextmanager
def _held_to_read(database: Path) -> Iterator[None]:
    """Hold a database; where it may only be read, nothing can replace it and no hold is needed."""
    with ExitStack() as stack:
        with suppress(ReadOnly):
            stack.enter_context(held(database))
        yield


def _archive(folder: Path, copy: Callable[[Path], None]) -> tuple[Path, Manifest]:
    """Make the archive in a folder of its own, and read it back."""
    database, archive = folder / DATABASE, folder / "archive"
    try:
        copy(database)
        manifest = _manifest(database, look_at(database))
    except sqlite3.Error as wrong:
        raise trouble_of(wrong, database) from wrong
    os.close(os.open(archive, os.O_CREAT | os.O_WRONLY, OWNER_ONLY))
    with archive.open("r+b") as opened:
        with ZipFile(opened, "w", ZIP_DEFLATED, compresslevel=3) as made:
            made.writestr(MANIFEST, manifest.model_dump_json(indent=1))
            made.write(database, DATABASE)
        opened.flush()
        os.fsync(opened.fileno())
    database.unlink()
    _unpack(archive, database)
    return archive, manifest


def restore(archive: Path, database: Path, overwrite: bool = False) -> Restored:
    """Put a backup back as the database, whole or not at all; put aside what was there, and never delete it.

    Raises:
        BadBackup: it is no backup, or not whole.
        InTheWay: there are jobs already, and `overwrite` is false.
        Trouble: a server is running on the database, or it cannot be used.
        OSError: the archive cannot be read, or the database's folder written.
    """
    with held(database, alone=True):
        if database.exists() and not overwrite:
            raise InTheWay(f"there are jobs already: {database}")
        with scratch(database.parent) as folder:
            new = folder / DATABASE
            manifest = _unpack(archive, new)
            new.chmod(OWNER_ONLY)
            aside = replace_database(database, new)
    return Restored(manifest, aside)


def _manifest(copy: Path, tables: str) -> Manifest:
    with connected(copy) as on:
        counts = [
            on.execute(query).fetchone()[0]
            for query in (
                "select count(*) from job",
                "select count(*) from document where kind = 'box'",
                "select count(*) from sqlite_master where name = 'photo'",
            )
        ]
        photos = on.execute("select count(*) from photo").fetchone()[0] if counts[2] else 0
    made = datetime.now(UTC).replace(microsecond=0)
    size = copy.stat().st_size
    return Manifest(
        made=made, tables=tables, size=size, sha256=_digest(copy), jobs=counts[0], boxes=counts[1], photos=photos
    )


def _unpack(archive: Path, to: Path) -> Manifest:
    """Takes the database out of an archive and sees that it is the one that went in.

    Raises:
        BadBackup: it is not.
    """
    try:
        with ZipFile(archive) as opened:
            if sorted(opened.namelist()) != sorted((MANIFEST, DATABASE)):
                raise BadBackup(
                    "This is not a backup of Nail Count: that is a manifest and a database, and nothing else"
                )
            if opened.getinfo(MANIFEST).file_size > MOST_MANIFEST:
                raise BadBackup("This is not a backup of Nail Count: its manifest is too long")
            manifest = Manifest.model_validate_json(opened.read(MANIFEST))
            if opened.getinfo(DATABASE).file_size != manifest.size:
                raise BadBackup("This backup is not whole: its database is not as long as its manifest says")
            with opened.open(DATABASE) as source, to.open("wb") as target:
                copyfileobj(source, target, 1 << 20)
                target.flush()
                os.fsync(target.fileno())
    except ValidationError as wrong:
        raise BadBackup("This version of Nail Count doesn't know this kind of backup") from wrong
    except (BadZipFile, EOFError, NotImplementedError, RuntimeError, zlib.error) as wrong:
        raise BadBackup(f"This backup is not whole: {str(wrong).lower()}") from wrong
    if _digest(to) != manifest.sha256:
        raise BadBackup("This backup is not whole: its database is not the one that went in")
    try:
        look_at(to)
    except Trouble as wrong:
        raise BadBackup(f"This version can't use the database: {wrong.sentence}") from wrong
    return manifest


def _digest(file: Path) -> str:
    with file.open("rb") as opened:
        return file_digest(opened, "sha256").hexdigest()
