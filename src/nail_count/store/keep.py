"""What pages ask of the store: jobs, boxes, revisions. Every change is one commit, whole or not at all."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable, Collection, Iterator, Mapping
from contextlib import contextmanager
from datetime import UTC, datetime
from itertools import count
from typing import Any, Literal

from sqlalchemy import Select, func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session, sessionmaker

from ..trade.edits import Edit
from ..trade.model.box import Box
from ..trade.model.job import Job, Terms
from ..trade.model.sheet import Sheet
from ..trade.model.thing import Thing
from .kept import BoxCard, JobCard, JobHead, KeptBox, KeptJob, Missing, Stale, Step, Summarise
from .tables import DocumentRow, JobRow, RevisionRow, SummaryRow


class Keep:
    """Everything that is kept."""

    def __init__(self, sessions: sessionmaker[Session], summarise: Summarise) -> None:
        self._sessions = sessions
        self._summarise = summarise
        self._parsed: dict[tuple[int, int], Sheet | JobHead] = {}

    def jobs(self) -> list[JobCard]:
        """All jobs, newest first, with how many boxes stand how."""
        with self._reading() as session:
            rows = session.execute(select(JobRow.id, JobRow.key, JobRow.name).order_by(JobRow.id.desc())).all()
            counts = session.execute(
                select(DocumentRow.job_id, SummaryRow.state, func.count())
                .join(SummaryRow)
                .group_by(DocumentRow.job_id, SummaryRow.state)
            ).all()
        states: dict[int, dict[str, int]] = {}
        for job_id, state, boxes in counts:
            states.setdefault(job_id, {})[state] = boxes
        return [JobCard(key, name, states.get(id, {})) for id, key, name in rows]

    def job(self, key: str) -> tuple[KeptJob, list[BoxCard]]:
        """A job with the cards of its boxes. Raises [Missing][]."""
        with self._reading() as session:
            kept, job_id = self._kept_job(session, key)
            s = SummaryRow
            rows = session.execute(
                select(DocumentRow.key, s.room, s.name, s.circuit, s.gangs, s.state, s.binds, s.rail)
                .join(SummaryRow)
                .where(DocumentRow.job_id == job_id)
                .order_by(DocumentRow.place)
            ).all()
        return kept, [BoxCard(*row) for row in rows]

    def whole_job(self, key: str) -> Job:
        """A job with everything in it, as its file holds it. Raises [Missing][]."""
        with self._reading() as session:
            kept, job_id = self._kept_job(session, key)
            bodies = session.scalars(
                _heads(RevisionRow.body).where(DocumentRow.job_id == job_id, DocumentRow.kind == "box")
            ).all()
        boxes = tuple(Box.model_validate_json(body) for body in bodies)
        head = kept.head
        return Job(
            name=head.name, terms=head.terms, circuits=head.circuits, sheets=tuple(kept.sheets.values()), boxes=boxes
        )

    def box(self, job_key: str, box_key: str) -> KeptBox:
        """A box at its newest revision. Raises [Missing][]."""
        with self._reading() as session:
            kept, job_id = self._kept_job(session, job_key)
            _, revision = _newest_box(session, job_id, box_key)
        return _kept_box(kept, revision, Box.model_validate_json(revision.body))

    def history(self, job_key: str, box_key: str, most: int = 50) -> list[Step]:
        """The newest steps of a box's history, newest first. Raises [Missing][]."""
        with self._reading() as session:
            _, job_id = self._kept_job(session, job_key)
            document, _ = _newest_box(session, job_id, box_key)
            rows = session.execute(
                select(RevisionRow.number, RevisionRow.sentence, RevisionRow.made)
                .where(RevisionRow.document_id == document.id)
                .order_by(RevisionRow.number.desc())
                .limit(most)
            ).all()
        return [Step(*row) for row in rows]

    def add_job(self, job: Job, key: str | None = None) -> str:
        """Keeps a whole job as a new one; its key, made from the name where none is given."""
        sheets = {sheet.id: sheet for sheet in job.sheets}
        with self._writing() as session:
            key = key or _free(slug(job.name) or "job", set(session.scalars(select(JobRow.key))))
            row = JobRow(key=key, name=job.name, made=_now())
            session.add(row)
            session.flush()
            head = JobHead(name=job.name, terms=job.terms, circuits=job.circuits)
            _add_document(session, row.id, "terms", "terms", 0, head, f"Job “{job.name}” started")
            for place, sheet in enumerate(job.sheets):
                _add_document(session, row.id, "sheet", sheet.id, place, sheet, f"Sheet {sheet.name} added")
            for place, box in enumerate(job.boxes):
                sentence = f"Box “{box.name}” brought in with the job"
                document = _add_document(session, row.id, "box", box.id, place, box, sentence)
                session.add(self._summary_row(document.id, box, sheets, job.terms))
            return row.key

    def has_job(self, key: str) -> bool:
        """Whether a job has this key."""
        with self._reading() as session:
            return session.scalar(select(JobRow.id).where(JobRow.key == key)) is not None

    def start_box(self, job_key: str, start: Callable[[str], Edit], name: str) -> str:
        """Keeps a box started from nothing; its key, made from the name. Raises [Missing][]."""
        with self._writing() as session:
            kept, job_id = self._kept_job(session, job_key)
            taken = set(session.scalars(select(DocumentRow.key).filter_by(job_id=job_id, kind="box")))
            key = _free(slug(name) or "box", taken)
            edit = start(key)
            place = session.scalar(select(func.max(DocumentRow.place)).filter_by(job_id=job_id, kind="box"))
            next_place = 0 if place is None else place + 1
            document = _add_document(session, job_id, "box", key, next_place, edit.box, edit.sentence)
            session.add(self._summary_row(document.id, edit.box, kept.sheets, kept.head.terms))
            return key

    def change_box(self, job_key: str, box_key: str, seen: int, change: Callable[[KeptBox], Edit]) -> KeptBox:
        """Makes an edit to a box and keeps it as a new revision.

        Args:
            job_key: which job.
            box_key: which box.
            seen: the revision the person was looking at.
            change: makes the edit from the box as it is; what it raises leaves everything as it was.

        Raises:
            Missing: no such box.
            Stale: the box is no longer at the revision seen.
        """
        with self._writing() as session:
            kept, job_id = self._kept_job(session, job_key)
            document, revision = _newest_box(session, job_id, box_key)
            if revision.number != seen:
                raise Stale
            edit = change(_kept_box(kept, revision, Box.model_validate_json(revision.body)))
            return self._add(session, kept, document, edit.box, edit.sentence, revision.number)

    def step(self, job_key: str, box_key: str, seen: int, way: Literal["undo", "redo"]) -> KeptBox:
        """Undoes or redoes one edit, as a new revision; the box as it is where there is nothing to.

        Raises:
            Missing: no such box.
            Stale: the box is no longer at the revision seen.
        """
        with self._writing() as session:
            kept, job_id = self._kept_job(session, job_key)
            document, now = _newest_box(session, job_id, box_key)
            if now.number != seen:
                raise Stale
            number = now.back if way == "undo" else now.forth
            if number is None:
                return _kept_box(kept, now, Box.model_validate_json(now.body))
            target = session.get_one(RevisionRow, (document.id, number))
            box = Box.model_validate_json(target.body)
            changed = now.origin if way == "undo" else target.origin
            sentence = session.get_one(RevisionRow, (document.id, changed)).sentence
            back: int | None
            forth: int | None
            if way == "undo":
                back, forth, sentence = target.back, now.number, f"Undone: {sentence}"
            else:
                back, forth, sentence = now.number, target.forth, f"Redone: {sentence}"
            return self._add(session, kept, document, box, sentence, back, forth, target.origin)

    def _add(
        self,
        session: Session,
        kept: KeptJob,
        document: DocumentRow,
        box: Box,
        sentence: str,
        back: int | None,
        forth: int | None = None,
        origin: int | None = None,
    ) -> KeptBox:
        """One more revision, the head moved, the summary beside it."""
        document.head += 1
        body = box.model_dump_json(exclude_none=True)
        revision = RevisionRow(
            document_id=document.id,
            number=document.head,
            body=body,
            sentence=sentence,
            made=_now(),
            back=back,
            forth=forth,
            origin=origin or document.head,
        )
        session.add(revision)
        session.merge(self._summary_row(document.id, box, kept.sheets, kept.head.terms))
        return _kept_box(kept, revision, box)

    def _summary_row(self, document_id: int, box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> SummaryRow:
        said = self._summarise(box, sheets, terms)
        return SummaryRow(
            document_id=document_id,
            room=box.room,
            name=box.name,
            circuit=box.circuit,
            gangs=box.enclosure.gangs,
            state=said.state.word,
            binds=said.binds,
            rail=said.rail,
        )

    def _kept_job(self, session: Session, key: str) -> tuple[KeptJob, int]:
        """The job without its boxes. A revision never changes, so each is parsed once."""
        rows = session.execute(
            select(DocumentRow.id, DocumentRow.job_id, DocumentRow.kind, DocumentRow.head)
            .join(JobRow)
            .where(JobRow.key == key, DocumentRow.kind != "box")
            .order_by(DocumentRow.kind, DocumentRow.place)
        ).all()
        if not rows:
            raise Missing("expected one of the jobs kept here")
        wanted = {(row.id, row.head): row.kind for row in rows}
        missing = [id for id, head in wanted if (id, head) not in self._parsed]
        if missing:
            query = _heads(RevisionRow.document_id, RevisionRow.number, RevisionRow.body)
            for id, number, body in session.execute(query.where(DocumentRow.id.in_(missing))):
                model = JobHead if wanted[id, number] == "terms" else Sheet
                self._parsed[id, number] = model.model_validate_json(body)
        found = [self._parsed[at] for at in wanted]
        head = next(thing for thing in found if isinstance(thing, JobHead))
        sheets = {thing.id: thing for thing in found if isinstance(thing, Sheet)}
        return KeptJob(key, head, sheets), rows[0].job_id

    @contextmanager
    def _reading(self) -> Iterator[Session]:
        with self._sessions() as session:
            session.connection(execution_options={"reading": True})
            yield session

    @contextmanager
    def _writing(self) -> Iterator[Session]:
        try:
            with self._sessions.begin() as session:
                yield session
        except IntegrityError as wrong:
            raise Stale from wrong


def _heads(*columns: Any) -> Select[Any]:
    """These columns of the newest revision of documents."""
    at_head = (RevisionRow.document_id == DocumentRow.id) & (RevisionRow.number == DocumentRow.head)
    return select(*columns).select_from(DocumentRow).join(RevisionRow, at_head).order_by(DocumentRow.place)


def _newest_box(session: Session, job_id: int, key: str) -> tuple[DocumentRow, RevisionRow]:
    row = session.execute(
        _heads(DocumentRow, RevisionRow).where(
            DocumentRow.job_id == job_id, DocumentRow.kind == "box", DocumentRow.key == key
        )
    ).one_or_none()
    if row is None:
        raise Missing("expected one of the boxes of this job")
    return row[0], row[1]


def _kept_box(kept: KeptJob, revision: RevisionRow, box: Box) -> KeptBox:
    can_undo, can_redo = revision.back is not None, revision.forth is not None
    return KeptBox(kept, box, revision.number, revision.sentence, can_undo, can_redo)


def _add_document(
    session: Session, job_id: int, kind: str, key: str, place: int, thing: Thing, sentence: str
) -> DocumentRow:
    """A document with its first revision."""
    document = DocumentRow(job_id=job_id, kind=kind, key=key, place=place, head=1)
    session.add(document)
    session.flush()
    body = thing.model_dump_json(exclude_none=True)
    session.add(
        RevisionRow(document_id=document.id, number=1, body=body, sentence=sentence, made=_now(), back=None, origin=1)
    )
    return document


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def slug(text: str) -> str:
    """A name as it stands in an address: small letters, digits, single hyphens; may be empty."""
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:40].strip("-")


def _free(wanted: str, taken: Collection[str]) -> str:
    return next(key for n in count(1) if (key := wanted if n == 1 else f"{wanted}-{n}") not in taken)
