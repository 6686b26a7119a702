"""What everything kept rests on: connections, the job at hand, and its terms and sheets parsed once."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

from sqlalchemy import Connection, Engine, select, update
from sqlalchemy.exc import IntegrityError

from ..trade.model.datasheet import Datasheet
from ..trade.model.job import JobHead, by_id
from ..trade.rules.check import BoxCheck
from ..trade.survey.open_points import open_points
from . import revisions
from .database import close_database
from .snapshots import EditConflict, JobSnapshot, NotFound, Summarise
from .tables import DocumentRow, JobRow
from .trouble import gone


class JobCache:
    """The database, and what was parsed of each job."""

    def __init__(self, engine: Engine, summarise: Summarise) -> None:
        self._engine = engine
        self._readers = engine.execution_options(reading=True)
        self._summarise = summarise
        self._cached: dict[int, tuple[int, JobSnapshot]] = {}
        with self._readers.connect() as on:
            self._file = Path(
                str(on.exec_driver_sql("select file from pragma_database_list where name = 'main'").scalar())
            )
        found = self._file.stat()
        self._place = found.st_dev, found.st_ino

    def close(self) -> None:
        """Leaves one whole file, and is done."""
        close_database(self._engine)

    @property
    def file(self) -> Path:
        """Where everything is kept."""
        return self._file

    def _see_it_is_there(self) -> None:
        """What is written to a file that was moved or removed is lost: it is refused instead."""
        try:
            found = self._file.stat()
        except OSError as wrong:
            raise gone(self._file) from wrong
        if (found.st_dev, found.st_ino) != self._place:
            raise gone(self._file)

    def _kept_job(self, on: Connection, key: str) -> tuple[JobSnapshot, int]:
        """The job without its boxes, and its id."""
        row = on.execute(select(JobRow.id, JobRow.cache_version).where(JobRow.key == key)).one_or_none()
        if row is None:
            raise NotFound("expected one of the jobs kept here")
        return self._cached_job(on, key, row.id, row.cache_version), row.id

    def _cached_job(self, on: Connection, key: str, job: int, cache_version: int) -> JobSnapshot:
        """Terms and sheets of a job; parsed again only when one of them has changed."""
        known = self._cached.get(job)
        if known is None or known[0] != cache_version:
            terms = revisions.newest_terms(on, job)
            head = JobHead.model_validate_json(terms.body)
            sheets = by_id(map(Datasheet.model_validate_json, revisions.bodies(on, job, "sheet")))
            d = DocumentRow
            used = select(d.key).where(d.job_id == job, d.kind == "sheet", d.used.is_not(None)).order_by(d.used.desc())
            can_undo, can_redo = terms.back is not None, terms.forth is not None
            ids = tuple(on.scalars(used))
            kept = JobSnapshot(key, head, sheets, terms.number, can_undo, can_redo, terms.sentence, ids)
            known = self._cached[job] = (cache_version, kept)
        return known[1]

    def _note_used(self, on: Connection, job: int, sheets: set[str]) -> None:
        """Devices of these sheets were put into a box just now."""
        d = DocumentRow
        of_sheets = update(d).where(d.job_id == job, d.kind == "sheet", d.key.in_(sheets))
        on.execute(of_sheets.values(used=revisions.now()))
        cache_version, kept = self._cached[job]
        used = (*sorted(sheets), *(id for id in kept.used if id not in sheets))
        self._cached[job] = cache_version, replace(kept, used=used)

    def _summary(self, check: BoxCheck) -> dict[str, Any]:
        """What lists show of a box, as plain columns."""
        said, box = self._summarise(check), check.box
        return {
            "room": box.room,
            "name": box.name,
            "circuit": box.circuit,
            "gangs": box.enclosure.gangs,
            "state": said.state.word,
            "binds": said.binds,
            "rail": said.rail,
            "todo": len(open_points(box)),
        }

    @contextmanager
    def _reading(self) -> Iterator[Connection]:
        with self._readers.connect() as on:
            yield on

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        try:
            self._see_it_is_there()
            with self._engine.begin() as on:
                yield on
        except IntegrityError as wrong:
            raise EditConflict from wrong
        except BaseException:
            self._cached.clear()  # what was parsed may be of a change that was not kept
            raise
