"""A backup: the whole database as one archive, made while others work, verified, and put back where it is wanted."""

from __future__ import annotations

import os
import sqlite3
import tempfile
import zlib
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import file_digest
from pathlib import Path
from shutil import copyfileobj
from typing import Annotated, Literal
from zipfile import ZIP_DEFLATED, BadZipFile, ZipFile

from pydantic import Field, ValidationError

from ..trade.model.thing import Thing
from .database import OWNER_ONLY, copy_to, look_at
from .hold import held
from .trouble import Trouble, trouble_of

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
    """Something is there already, and nobody said that it may be replaced."""


@dataclass(frozen=True, slots=True)
class Restored:
    """What was put back."""

    manifest: Manifest
    put_aside: Path | None
    """Where what was there before is now."""


def back_up(database: Path, to: Path, overwrite: bool = False) -> Manifest:
    """Writes everything that is kept into one archive, whole or not at all, and reads it back.

    Args:
        database: a database of Nail Count; others may go on using it.
        to: the archive.
        overwrite: whether a file that is there may be replaced.

    Raises:
        InTheWay: there is a file already.
        Trouble: the database cannot be used, or there is no room.
        OSError: the archive cannot be written.
    """
    if to.exists() and not overwrite:
        raise InTheWay(f"there is a file already: {to}")
    tables = look_at(database)
    with tempfile.TemporaryDirectory(prefix=".backup-", dir=to.parent) as folder:
        copy, archive = Path(folder) / DATABASE, Path(folder) / "archive"
        try:
            copy_to(database, copy)
            manifest = _manifest(copy, tables)
        except sqlite3.Error as wrong:
            raise trouble_of(wrong, database) from wrong
        os.close(os.open(archive, os.O_CREAT | os.O_WRONLY, OWNER_ONLY))
        with archive.open("r+b") as opened:
            with ZipFile(opened, "w", ZIP_DEFLATED, compresslevel=3) as made:
                made.writestr(MANIFEST, manifest.model_dump_json(indent=1))
                made.write(copy, DATABASE)
            opened.flush()
            os.fsync(opened.fileno())
        copy.unlink()
        _unpack(archive, copy)
        archive.replace(to)
    return manifest


def restore(archive: Path, database: Path, overwrite: bool = False) -> Restored:
    """Puts a backup back as the database, whole or not at all; what was there is put aside, never deleted.

    Raises:
        BadBackup: it is no backup, or not whole.
        InTheWay: there are jobs already, and `overwrite` was not said.
        Trouble: a server is running on the database, or it cannot be used.
        OSError: the archive cannot be read, or the database's folder written.
    """
    with held(database, alone=True):
        if database.exists() and not overwrite:
            raise InTheWay(f"there are jobs already: {database}")
        with tempfile.TemporaryDirectory(prefix=".restore-", dir=database.parent) as folder:
            new = Path(folder) / DATABASE
            manifest = _unpack(archive, new)
            new.chmod(OWNER_ONLY)
            aside = _put_aside(database) if database.exists() else None
            new.replace(database)
    return Restored(manifest, aside)


def _manifest(copy: Path, tables: str) -> Manifest:
    with closing(sqlite3.connect(copy)) as on:
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
                raise BadBackup("expected a backup of Nail Count: a manifest and a database, and nothing else")
            if opened.getinfo(MANIFEST).file_size > MOST_MANIFEST:
                raise BadBackup("expected a backup of Nail Count; its manifest is too long to be one")
            manifest = Manifest.model_validate_json(opened.read(MANIFEST))
            if opened.getinfo(DATABASE).file_size != manifest.size:
                raise BadBackup("expected a whole backup; the database in it is not as long as its manifest says")
            with opened.open(DATABASE) as source, to.open("wb") as target:
                copyfileobj(source, target, 1 << 20)
                target.flush()
                os.fsync(target.fileno())
    except ValidationError as wrong:
        raise BadBackup("expected a backup of Nail Count; its manifest is none this version knows") from wrong
    except (BadZipFile, EOFError, NotImplementedError, RuntimeError, zlib.error) as wrong:
        raise BadBackup(f"expected a whole backup of Nail Count: {str(wrong).lower()}") from wrong
    if _digest(to) != manifest.sha256:
        raise BadBackup("expected a whole backup; the database in it is not the one that went in")
    try:
        look_at(to)
    except Trouble as wrong:
        raise BadBackup(f"expected a database this version can use: {wrong.sentence}") from wrong
    return manifest


def _digest(file: Path) -> str:
    with file.open("rb") as opened:
        return file_digest(opened, "sha256").hexdigest()


def _put_aside(database: Path) -> Path:
    """Moves a database, and what lies beside it, out of the way."""
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S-%f")
    aside = database.with_name(f"{database.stem}.replaced-{stamp}{database.suffix}")
    for end in ("", "-wal", "-shm"):
        part = database.with_name(database.name + end)
        if part.exists():
            part.rename(aside.with_name(aside.name + end))
    return aside
