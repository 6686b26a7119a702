"""What pages ask of the store: jobs, houses, boxes, pictures. Every change is one commit, whole or not at all."""

from __future__ import annotations

from contextlib import suppress

from pydantic import ValidationError
from sqlalchemy import Connection, Engine, func, insert, select, update
from sqlalchemy.dialects.sqlite import insert as insert_or

from ..trade.model.box import Box
from ..trade.model.job import Job, JobHead
from ..trade.model.thing import Thing
from ..trade.rules.check import check_job
from . import revisions
from .datasheets import Datasheets
from .naming import free_key, slug
from .snapshots import JobCard, JobSnapshot, NotFound, Summarise
from .tables import DocumentRow, JobRow, PhotoRow, SummaryRow


class Store(Datasheets):
    """Everything that is kept."""

    def __init__(self, engine: Engine, summarise: Summarise) -> None:
        super().__init__(engine, summarise)
        self._reckon_missing()

    def jobs(self) -> list[JobCard]:
        """All jobs, newest first, with how many boxes stand how; removed ones too, said to be so."""
        d, s = DocumentRow, SummaryRow
        with self._reading() as on:
            rows = on.execute(
                select(JobRow.id, JobRow.key, JobRow.name, JobRow.deleted_at).order_by(JobRow.id.desc())
            ).all()
            counts = on.execute(
                select(d.job_id, s.state, func.count(), func.count().filter(s.todo > 0))
                .join(s)
                .where(d.deleted_at.is_(None), d.copy_of.is_(None))
                .group_by(d.job_id, s.state)
            ).all()
        states: dict[int, dict[str, int]] = {}
        todo: dict[int, int] = {}
        for job_id, state, boxes, left in counts:
            states.setdefault(job_id, {})[state] = boxes
            todo[job_id] = todo.get(job_id, 0) + left
        return [
            JobCard(key, name, states.get(id, {}), todo.get(id, 0), gone is not None) for id, key, name, gone in rows
        ]

    def remove_job(self, key: str, back: bool = False) -> None:
        """Takes a job out of the list, or brings it back; everything in it stays. Raises [NotFound][]."""
        with self._writing() as on:
            _, job = self._kept_job(on, key)
            on.execute(update(JobRow).where(JobRow.id == job).values(deleted_at=None if back else revisions.now()))

    def job(self, key: str) -> JobSnapshot:
        """A job without its boxes. Raises [NotFound][]."""
        with self._reading() as on:
            return self._kept_job(on, key)[0]

    def whole_job(self, key: str) -> Job:
        """A job with everything in it, as its file holds it. Raises [NotFound][]."""
        with self._reading() as on:
            kept, job = self._kept_job(on, key)
            boxes = tuple(Box.model_validate_json(body) for body in revisions.bodies(on, job, "box"))
        said = {name: getattr(kept.head, name) for name in _SHARED}
        return Job(**said, sheets=tuple(kept.sheets.values()), boxes=boxes)

    def add_job(self, job: Job, key: str | None = None) -> str:
        """Keeps a whole job as a new one; its key, made from the name where none is given."""
        # Reckoned before the database is held: a large job takes a while, and others go on meanwhile.
        summaries = [self._summary(check) for check in check_job(job).boxes]
        with self._writing() as on:
            key = key or free_key(slug(job.name) or "job", set(on.scalars(select(JobRow.key))))
            values = {"key": key, "name": job.name, "made": revisions.now(), "cache_version": 1}
            kept = revisions.new_id(on.execute(insert(JobRow), values))
            said = {name: getattr(job, name) for name in _SHARED}
            head = JobHead(**said, order=tuple(box.id for box in job.boxes))
            _start(on, kept, "terms", "terms", 0, head, f"Job “{job.name}” started")
            for place, sheet in enumerate(job.sheets):
                _start(on, kept, "sheet", sheet.id, place, sheet, f"Sheet {sheet.name} added")
            for place, (box, summary) in enumerate(zip(job.boxes, summaries, strict=True)):
                sentence = f"Box “{box.name}” brought in with the job"
                document = _start(on, kept, "box", box.id, place, box, sentence)
                on.execute(insert(SummaryRow), {"document_id": document, **summary})
            return key

    def has_job(self, key: str) -> bool:
        """Whether a job has this key."""
        with self._reading() as on:
            return on.scalar(select(JobRow.id).where(JobRow.key == key)) is not None

    def add_photo(self, id: str, body: bytes, small: bytes, width: int, height: int) -> None:
        """Keeps a picture; the same one is kept once."""
        values = {"id": id, "body": body, "small": small, "width": width, "height": height, "made": revisions.now()}
        with self._writing() as on:
            on.execute(insert_or(PhotoRow).values(values).on_conflict_do_nothing())

    def photo(self, id: str, small: bool) -> bytes:
        """A picture as JPEG. Raises [NotFound][]."""
        with self._reading() as on:
            body = on.scalar(select(PhotoRow.small if small else PhotoRow.body).where(PhotoRow.id == id))
        if body is None:
            raise NotFound("expected a picture that is kept here")
        return body

    def photos_here(self, ids: set[str]) -> set[str]:
        """Which of these pictures are kept here; a job file brings none."""
        with self._reading() as on:
            return set(on.scalars(select(PhotoRow.id).where(PhotoRow.id.in_(ids))))

    def _reckon_missing(self) -> None:
        """Reckons what lists show for boxes kept before the lists showed it."""
        d, s = DocumentRow, SummaryRow
        missing = (
            select(JobRow.key, d.key).select_from(d).join(JobRow).join(s).where(s.todo < 0, d.deleted_at.is_(None))
        )
        with self._reading() as on:
            if on.execute(missing.limit(1)).one_or_none() is None:
                return
        with self._writing() as on:
            for job_key, box_key in on.execute(missing).all():
                with suppress(ValidationError):  # one that cannot be read says so on its page, and stops no start
                    kept, found = self._newest(on, job_key, box_key)
                    box = Box.model_validate_json(found.revision.body)
                    revisions.update_summary(on, found.revision.document, self._summary(kept.check(box)))


_SHARED = ("name", "terms", "house", "panel", "circuits", "stock")
"""What a job and its head say alike."""


def _start(on: Connection, job: int, kind: str, key: str, place: int, thing: Thing, sentence: str) -> int:
    """A document with its first revision; its id."""
    return revisions.add_document(on, job, kind, key, place, thing.model_dump_json(exclude_none=True), sentence)
