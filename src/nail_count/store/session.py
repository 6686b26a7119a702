"""One database: connections to read and to write, and what was parsed of each job."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import NamedTuple

from sqlalchemy import Connection, Engine, bindparam, select, update
from sqlalchemy.exc import IntegrityError

from ..trade.documents import HEAD
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import JobHead, by_id
from . import revisions
from .bodies import read
from .database import close_database
from .snapshots import EditConflict, JobSnapshot, NotFound
from .tables import ChangeRow, DocumentRow, JobRow, TrialRow
from .trouble import damaged, gone

MOST_CACHED = 64
"""Jobs whose head and sheets are kept parsed."""
_D = DocumentRow
_DONE = select(ChangeRow.id).where(ChangeRow.job_id == JobRow.id, ChangeRow.token == bindparam("token"))
_JOB = select(JobRow.id, JobRow.cache_version, _DONE.scalar_subquery()).where(JobRow.key == bindparam("key"))


class Acting(NamedTuple):
    """An act about to be done."""

    on: Connection
    job: JobSnapshot
    before: int | None
    """The change it was done with already, by its token; None where it was not."""


class Session:
    """The database, and what was parsed of each job."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._readers = engine.execution_options(reading=True)
        self._cached: dict[tuple[int, int], tuple[int, JobSnapshot]] = {}
        with self._readers.connect() as on:
            self.file = Path(
                str(on.exec_driver_sql("select file from pragma_database_list where name = 'main'").scalar())
            )
            # Some disks that are shared over a network can't keep a log; SQLite then goes on without one.
            self._keeps_log = on.exec_driver_sql("PRAGMA journal_mode").scalar() == "wal"
        found = self.file.stat()
        self._place = found.st_dev, found.st_ino
        self.damage = ""
        """What the last look over the whole database found wrong; nothing more is written then."""
        self._log = self.file.with_name(f"{self.file.name}-wal")

    def close(self) -> None:
        """Leaves one whole file, and is done."""
        close_database(self._engine)

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """A connection that sees one state of everything."""
        with self._readers.connect() as on:
            yield on

    @contextmanager
    def writing(self) -> Iterator[Connection]:
        """A connection that writes: all of it at the end, or nothing where something is raised."""
        try:
            if self.damage:
                raise damaged(self.file, self.damage)
            self._see_it_is_there()
            with self._engine.begin() as on:
                self._see_it_is_there(and_its_log=True)
                yield on
                self._see_it_is_there(and_its_log=True)
        except IntegrityError as wrong:
            raise EditConflict from wrong
        except BaseException:
            self._cached.clear()  # what was parsed may be of a change that was not kept
            raise

    @contextmanager
    def acting(self, key: str, token: str = "") -> Iterator[Acting]:
        """A connection that writes, the job it writes to, and whether what comes with this token was done before.

        Raises:
            NotFound: no such job, or no such trial that is still open.
        """
        with self.writing() as on:
            yield Acting(on, *self._job(on, key, token))

    def job(self, on: Connection, key: str) -> JobSnapshot:
        """A job without its boxes, or a trial of it; parsed again only when its head, a sheet or a trial has changed.

        Raises:
            NotFound: no such job, or no such trial that is still open.
        """
        return self._job(on, key, "")[0]

    def _job(self, on: Connection, key: str, token: str) -> tuple[JobSnapshot, int | None]:
        name, _, number = key.partition(TRIAL)
        row = on.execute(_JOB, {"key": name, "token": token or None}).one_or_none()
        if row is None:
            raise NotFound("Pick one of the jobs kept here")
        id, version, before = row
        trial = int(number) if number.isdecimal() and len(number) < 10 else 0
        if number and (not trial or not _is_open(on, id, trial)):
            raise NotFound("This what-if was kept or thrown away already")
        known = self._cached.get((id, trial))
        if known is None or known[0] != version:
            if len(self._cached) >= MOST_CACHED:
                self._cached.clear()
            known = self._cached[id, trial] = (version, _read_job(on, name, id, trial))
        return known[1], before

    def changed_job(self, on: Connection, job: JobSnapshot) -> None:
        """The head or a sheet of a job was changed, or a trial of it begun or ended: it is read again from now on."""
        of_job = update(JobRow).where(JobRow.id == job.id)
        on.execute(of_job.values(cache_version=JobRow.cache_version + 1))

    def note_used(self, on: Connection, job: JobSnapshot, sheets: set[str]) -> None:
        """Devices of these sheets were put into a box just now."""
        of_sheets = update(_D).where(_D.job_id == job.id, _D.kind == "sheet", _D.key.in_(sheets))
        on.execute(of_sheets.values(used=revisions.now()))
        if known := self._cached.get((job.id, job.trial)):
            used = (*sorted(sheets), *(id for id in known[1].used if id not in sheets))
            self._cached[job.id, job.trial] = known[0], replace(known[1], used=used)

    def forget_deleted(self) -> None:
        """What was deleted for good is gone from the log beside the file too."""
        with self._readers.connect() as on:
            on.rollback()
            raw = on.connection.dbapi_connection
            assert raw is not None
            raw.execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def copy_to(self, to: Path) -> None:
        """Copy everything into one new file, whole, while others go on.

        Raises:
            sqlite3.Error: it cannot be copied, for want of room say.
        """
        with self._readers.connect() as on:
            on.rollback()
            raw = on.connection.dbapi_connection
            assert raw is not None
            raw.execute("VACUUM INTO ?", (str(to),))

    def _see_it_is_there(self, and_its_log: bool = False) -> None:
        """Refuse to write to a file that was moved or removed, where it would be lost.

        Args:
            and_its_log: whether a connection has begun to write, from when on the log must be there too.
        """
        try:
            found = self.file.stat()
            if and_its_log and self._keeps_log:
                self._log.stat()
        except OSError as wrong:
            raise gone(self.file) from wrong
        if (found.st_dev, found.st_ino) != self._place:
            raise gone(self.file)


TRIAL = "~"
"""Between the key of a job and the number of a trial of it."""


def trial_key(job: str, trial: int) -> str:
    """The key under which a job is seen as it would be with what a trial changes."""
    return f"{job}{TRIAL}{trial}" if trial else job


def _is_open(on: Connection, job: int, trial: int) -> bool:
    of_job = select(TrialRow.id).where(TrialRow.id == trial, TrialRow.job_id == job, TrialRow.ended_at.is_(None))
    return on.scalar(of_job) is not None


def _read_job(on: Connection, name: str, job: int, trial: int) -> JobSnapshot:
    found = revisions.find(on, job, HEAD, trial)
    assert found is not None
    head = read(JobHead, found.revision)
    if head.order is None:  # kept before it named its boxes: they stand as the columns say
        here = select(_D.key).where(_D.job_id == job, _D.kind == "box", _D.trial_id == 0, _D.deleted_at.is_(None))
        head = head.changed(order=tuple(on.scalars(here.order_by(_D.place))))
    sheets = by_id(read(Datasheet, one.revision) for one in revisions.all_of(on, job, "sheet", trial))
    used = select(_D.key).where(_D.job_id == job, _D.kind == "sheet", _D.used.is_not(None)).order_by(_D.used.desc())
    now = found.revision
    tried = select(TrialRow.about, TrialRow.id).where(TrialRow.job_id == job, TrialRow.ended_at.is_(None))
    return JobSnapshot(
        key=trial_key(name, trial),
        base=name,
        id=job,
        trial=trial,
        head=head,
        sheets=sheets,
        number=now.number,
        can_undo=now.back is not None,
        can_redo=now.forth is not None,
        last=revisions.steps(on, now.document, 1)[0].sentence,
        used=tuple(dict.fromkeys(on.scalars(used))),
        trials={box: trial_key(name, id) for box, id in on.execute(tried)},
    )
