"""One job with everything of it, as one archive: the job file, its history, its pictures, each under its hash.

A zip of `manifest.json`, `job.json`, `history.jsonl` and `photos/<id>.jpg`, and of nothing else. The same job gives the
same bytes. Setup codes are not in it, and neither are trials.
"""

from __future__ import annotations

import json
import zlib
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from datetime import datetime
from hashlib import sha256
from pathlib import Path
from typing import IO, Annotated, Literal
from zipfile import ZIP_DEFLATED, ZIP_STORED, BadZipFile, ZipFile, ZipInfo

from pydantic import AfterValidator, Field, TypeAdapter, ValidationError

from ..trade.model.errors import problems_of
from ..trade.model.job import Job
from ..trade.model.thing import Thing, in_reach
from .job_json import MOST_BYTES, BadFile, read_job, write_job

MANIFEST, JOB, HISTORY = "manifest.json", "job.json", "history.jsonl"
BEGINS = b"PK\x03\x04"
"""How every archive begins, and no job file."""
MOST_MANIFEST = 4_000_000
MOST_HISTORY = 1_000_000_000
MOST_LINE = 25_000_000
"""Of the history [bytes]: more than any document."""
MOST_PHOTO = 5_000_000
MOST_PHOTOS = 20_000
"""Anything more is none of ours, and is refused before anything is unpacked."""
_LEVEL = 6


class BadArchive(ValueError):
    """No archive of a job, or not a whole one; nothing of it was taken in."""


class Content(Thing):
    """What one file of an archive is held against."""

    size: Annotated[int, Field(ge=0)]
    """[bytes]."""
    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Manifest(Thing):
    """What an archive holds, and how to tell that it is whole."""

    format: Literal["nail-count archive"] = "nail-count archive"
    version: Literal[1] = 1
    job: str
    """Its name."""
    files: dict[str, Content]


At = Annotated[datetime, AfterValidator(in_reach)]
Number = Annotated[int, Field(ge=1, le=2**53)]
"""Which change or state, from 1; more than any job has, and no more than a database takes."""


class Started(Thing):
    """When a job was begun."""

    kind: Literal["started"] = "started"
    at: At


class ChangeLine(Thing):
    """One act, by its number in this history: from 1."""

    kind: Literal["change"] = "change"
    sentence: Annotated[str, Field(max_length=4000)]
    at: At
    by: Annotated[str, Field(max_length=60)] = ""
    undoes: Number | None = None
    """The act it takes back, or brings back."""


class DocumentLine(Thing):
    """A document; its revisions follow it."""

    kind: Literal["document"] = "document"
    what: Literal["head", "sheet", "box", "run"]
    key: Annotated[str, Field(min_length=1, max_length=60)]
    place: Annotated[int, Field(ge=0, le=2**53)]
    removed: At | None = None
    used: At | None = None
    """Of a sheet: when a device of it was last put into a box."""


class RevisionLine(Thing):
    """One state of the document before it, by its number: from 1."""

    kind: Literal["revision"] = "revision"
    body: str
    """As it is kept, to the letter."""
    format: Literal[1, 2, 3]
    change: Number
    back: Number | None = None
    forth: Number | None = None
    source: Number


HistoryLine = Started | ChangeLine | DocumentLine | RevisionLine
_LINE: TypeAdapter[HistoryLine] = TypeAdapter(Annotated[HistoryLine, Field(discriminator="kind")])


def write_archive(to: IO[bytes], job: Job, history: Iterable[HistoryLine], photos: Iterable[tuple[str, bytes]]) -> None:
    """Writes a job with its history and its pictures, one after the other as they come.

    Args:
        to: what it is written to.
        job: the whole of it.
        history: its lines, in order.
        photos: id and JPEG of each picture, in the order of their ids.
    """
    files: dict[str, Content] = {}
    with ZipFile(to, "w") as made:

        def put(name: str, pieces: Iterable[bytes], how: int) -> None:
            size, digest = 0, sha256()
            with made.open(_entry(name, how), "w", force_zip64=True) as out:
                for piece in pieces:
                    out.write(piece)
                    size += len(piece)
                    digest.update(piece)
            files[name] = Content(size=size, sha256=digest.hexdigest())

        put(JOB, [write_job(job).encode()], ZIP_DEFLATED)
        put(HISTORY, (_line(one) for one in history), ZIP_DEFLATED)
        for id, body in photos:
            put(_photo(id), [body], ZIP_STORED)
        manifest = Manifest(job=job.name, files=files)
        made.writestr(_entry(MANIFEST, ZIP_DEFLATED), manifest.model_dump_json(indent=1), compresslevel=_LEVEL)


class Archive:
    """An archive that is open: its parts are read one by one, each held against its hash."""

    def __init__(self, opened: ZipFile) -> None:
        self._zip = opened
        entries = opened.infolist()
        names = [one.filename for one in entries]
        if len(set(names)) < len(names) or not {MANIFEST, JOB, HISTORY} <= set(names):
            raise BadArchive("This is not an archive of a job: it needs a manifest, a job and its history, each once")
        if len(names) > MOST_PHOTOS + 3:
            raise BadArchive(f"An archive holds at most {MOST_PHOTOS} pictures")
        self._most(MANIFEST, MOST_MANIFEST)
        with opened.open(MANIFEST) as file:
            self.manifest = Manifest.model_validate_json(file.read(MOST_MANIFEST + 1))
        known = set(self.manifest.files)
        if known | {MANIFEST} != set(names):
            raise BadArchive("This archive doesn't hold exactly what its manifest names")
        self.photo_ids = tuple(sorted(name[7:-4] for name in known - {JOB, HISTORY}))
        for id in self.photo_ids:
            if _photo(id) not in known or not (len(id) == 32 and set(id) <= set("0123456789abcdef")):
                raise BadArchive("This archive holds files that are neither its own nor pictures as photos/<id>.jpg")
        for one in entries:
            self._most(one.filename, _MOST.get(one.filename, MOST_PHOTO))
            if one.filename != MANIFEST and one.file_size != self.manifest.files[one.filename].size:
                raise BadArchive(f"{one.filename} is not as long as the manifest says")

    def job(self) -> Job:
        """The job as it was. Raises BadArchive."""
        try:
            return read_job(self._read(JOB))
        except BadFile as wrong:
            raise BadArchive(f"{JOB}: {wrong.problems[0].where} {wrong.problems[0].sentence}") from wrong

    def history(self) -> Iterator[HistoryLine]:
        """The lines of its history. Raises BadArchive, at the latest at its end."""
        digest = sha256()
        with self._zip.open(HISTORY) as file:
            number = 0
            while line := file.readline(MOST_LINE):
                number += 1
                digest.update(line)
                try:
                    yield _LINE.validate_json(line)
                except ValidationError as wrong:
                    raise BadArchive(f"{HISTORY}, line {number}: {problems_of(wrong)[0].sentence}") from wrong
        self._hold(HISTORY, digest.hexdigest())

    def photo(self, id: str) -> bytes:
        """A picture as it was kept. Raises BadArchive."""
        return self._read(_photo(id))

    def _read(self, name: str) -> bytes:
        with self._zip.open(name) as file:
            content = file.read()  # never more than was looked at above: no zip says less than it gives
        self._hold(name, sha256(content).hexdigest())
        return content

    def _hold(self, name: str, found: str) -> None:
        if found != self.manifest.files[name].sha256:
            raise BadArchive(f"{name} is not what the manifest says")

    def _most(self, name: str, most: int) -> None:
        if self._zip.getinfo(name).file_size > most:
            raise BadArchive(f"This archive is too large: {name} may have at most {most // 1_000_000} MB")


@contextmanager
def opened_archive(file: Path | IO[bytes]) -> Iterator[Archive]:
    """An archive, looked over before anything in it is unpacked.

    Args:
        file: the archive, or where it is.

    Raises:
        BadArchive: it is none, or not whole, as far as one can tell before reading it; or while it is read.
        OSError: it cannot be read.
    """
    try:
        with ZipFile(file) as opened:
            yield Archive(opened)
    except ValidationError as wrong:
        raise BadArchive("This version of Nail Count doesn't know this kind of archive") from wrong
    except (BadZipFile, EOFError, NotImplementedError, RuntimeError, zlib.error) as wrong:
        raise BadArchive(f"This archive is not whole: {str(wrong).lower()}") from wrong


_MOST = {MANIFEST: MOST_MANIFEST, JOB: MOST_BYTES, HISTORY: MOST_HISTORY}


def _photo(id: str) -> str:
    return f"photos/{id}.jpg"


def _line(one: HistoryLine) -> bytes:
    return json.dumps(one.model_dump(mode="json", exclude_none=True), ensure_ascii=False).encode() + b"\n"


def _entry(name: str, how: int) -> ZipInfo:
    """A file of an archive without a time of its own: the same job gives the same bytes."""
    entry = ZipInfo(name, (1980, 1, 1, 0, 0, 0))
    entry.compress_type = how
    entry.external_attr = 0o600 << 16
    return entry
