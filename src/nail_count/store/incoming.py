"""A whole job on its way in: worked out before the database is held, then written a piece at a time.

Others go on meanwhile. A large job is written under a name no address has, in pieces that each hold the database for a
moment, with a pause after each; the last piece gives it its name. Until then nobody sees it, and one that was broken
off is removed later.
"""

from __future__ import annotations

import time
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, TypeVar
from uuid import uuid4

from sqlalchemy import Connection, Executable, delete, func, insert, select, update

from ..trade.documents import HEAD, DocumentId
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import Job, JobHead, by_id
from ..trade.model.keys import free_key, slug
from ..trade.model.run import Run
from ..trade.model.thing import Thing
from ..trade.model.tick import Tick
from . import revisions, ticks
from .bodies import written
from .index import sheets_in
from .revisions import FORMAT
from .session import Session
from .snapshots import JobSnapshot
from .summaries import summary
from .tables import (
    ChangeRow,
    DocumentRow,
    JobRow,
    RevisionRow,
    RunEndRow,
    SheetUseRow,
    SummaryRow,
    TickRow,
)

UNNAMED = "~"
"""How the key of a job begins that is still coming in: no address can name it."""
_LEFT_AFTER = timedelta(hours=6)
"""When a job that is still coming in was broken off: nothing takes that long."""
PIECE_ROWS, PIECE_BYTES = 400, 1_000_000
"""Of one piece: written in some tens of milliseconds."""
PAUSE = 0.06
"""After each piece [s]: whoever waits asks for the database more often than that."""

Row = Mapping[str, Any]
T = TypeVar("T", bound=Thing)


@dataclass(slots=True)
class IncomingDocument:
    """A document with every state of it, as rows that lack only the ids they will get."""

    which: DocumentId
    place: int
    states: list[dict[str, Any]]
    """In order, from 1; `change_id` is the number of a change of the same job, from 1."""
    latest: Thing | None
    """What it holds at last; None where it was taken out."""
    deleted_at: datetime | None = None
    used: datetime | None = None

    @property
    def size(self) -> int:
        """Roughly how much there is to write [bytes]."""
        return sum(len(state["body"]) for state in self.states)


@dataclass(slots=True)
class Incoming:
    """A job ready to be written."""

    name: str
    made: datetime
    changes: list[dict[str, Any]]
    """In order, from 1; `undoes` is the number of another."""
    documents: list[IncomingDocument]
    ticks: Sequence[Tick]
    summaries: Mapping[str, Row] = field(default_factory=dict)
    """What lists show of each box, by its key."""

    @classmethod
    def of_job(cls, job: Job) -> Incoming:
        """Work out a job that has no history yet."""
        at = revisions.now()
        head = JobHead(**job.shared(), order=tuple(box.id for box in job.boxes))
        things: list[tuple[DocumentId, int, Thing]] = [
            (HEAD, 0, head),
            *((DocumentId("sheet", sheet.id), place, sheet) for place, sheet in enumerate(job.sheets)),
            *((DocumentId("box", box.id), place, box) for place, box in enumerate(job.boxes)),
            *((DocumentId("run", run.id), place, run) for place, run in enumerate(job.runs)),
        ]
        documents = [IncomingDocument(id, place, [_first(thing)], thing) for id, place, thing in things]
        started = {"sentence": f"Job “{job.name}” started", "at": at, "by": "", "undoes": None}
        made = cls(job.name, at, [started], documents, job.ticks)
        made.summaries = made.listed()
        return made

    def whole(self) -> Job:
        """Return the job as it stands at last."""
        head, sheets = self._head(), self._latest(Datasheet)
        boxes = {box.id: box for box in self._latest(Box)}
        here = head.keys
        runs = (run for run in self._latest(Run) if all(end.box in here for end in run.box_ends))
        return Job(
            **head.shared(),
            sheets=tuple(sheets),
            boxes=tuple(boxes[key] for key in head.order or () if key in boxes),
            runs=tuple(runs),
            ticks=tuple(self.ticks),
        )

    def listed(self) -> Mapping[str, Row]:
        """Work out what lists show of every box, those removed among them."""
        job = JobSnapshot("", "", 0, 0, self._head(), by_id(self._latest(Datasheet)), 1, False, False, "")
        return {box.id: summary(job.check(box)) for box in self._latest(Box)}

    def _head(self) -> JobHead:
        (head,) = self._latest(JobHead)
        if head.order is not None:
            return head
        # Kept before the head held the order of the boxes: they stand as the columns say.
        here = sorted((one for one in self.documents if _is_box_here(one)), key=lambda one: one.place)
        return head.changed(order=tuple(one.which.key for one in here))

    def _latest(self, kind: type[T]) -> list[T]:
        found = [one for one in self.documents if isinstance(one.latest, kind)]
        return [one.latest for one in sorted(found, key=lambda one: one.place) if isinstance(one.latest, kind)]


def put(session: Session, incoming: Incoming, key: str | None = None, token: str = "") -> str:
    """Write a job that was worked out, and return its key.

    Args:
        session: the database.
        key: its key in addresses; None: after its name.
        token: a job whose token is known is not written again; its key is returned.
    """
    pieces = list(_pieces(incoming.documents))
    if len(pieces) == 1:
        with session.writing() as on:
            if known := _done_before(on, token):
                return known
            job = _begin(on, incoming, f"{UNNAMED}{uuid4().hex}")
            _write_documents(on, job, pieces[0], _write_changes(on, job, incoming.changes, token), incoming.summaries)
            return _finish(on, job, incoming, key)
    with session.writing() as on:
        if known := _done_before(on, token):
            return known
        job = _begin(on, incoming, f"{UNNAMED}{uuid4().hex}")
        changes = _write_changes(on, job, incoming.changes, token)
    for piece in pieces:
        time.sleep(PAUSE)
        with session.writing() as on:
            _write_documents(on, job, piece, changes, incoming.summaries)
    time.sleep(PAUSE)
    with session.writing() as on:
        return _finish(on, job, incoming, key)


def remove_broken_off(session: Session) -> None:
    """Remove the remains of jobs whose import broke off."""
    with session.reading() as on:
        left = select(JobRow.id).where(JobRow.key.startswith(UNNAMED), JobRow.began < revisions.now() - _LEFT_AFTER)
        jobs = list(on.scalars(left))
    for job in jobs:
        for statement in _removing(job):
            with session.writing() as on:
                on.execute(statement)


def _removing(job: int) -> Iterator[Executable]:
    of_job = select(DocumentRow.id).where(DocumentRow.job_id == job)
    for table in (RunEndRow, SheetUseRow, SummaryRow, RevisionRow):
        yield delete(table).where(table.document_id.in_(of_job))
    for own in (TickRow, DocumentRow, ChangeRow):
        yield delete(own).where(own.job_id == job)
    yield delete(JobRow).where(JobRow.id == job)


def _first(thing: Thing) -> dict[str, Any]:
    body = written(thing)
    return {"body": body, "format": FORMAT, "change_id": 1, "back": None, "forth": None, "source_revision": 1}


def _is_box_here(one: IncomingDocument) -> bool:
    return one.which.kind == "box" and one.deleted_at is None


def _pieces(documents: Sequence[IncomingDocument]) -> Iterator[list[IncomingDocument]]:
    """Documents in pieces that are each written in a moment; one piece at least."""
    piece: list[IncomingDocument] = []
    rows = size = 0
    for one in documents:
        if piece and (rows + len(one.states) > PIECE_ROWS or size + one.size > PIECE_BYTES):
            yield piece
            piece, rows, size = [], 0, 0
        piece.append(one)
        rows += len(one.states)
        size += one.size
    yield piece


def _done_before(on: Connection, token: str) -> str | None:
    """The key of the job that came in with a token; None where none did, or where it was broken off."""
    if not token:
        return None
    known = select(JobRow.key).join(ChangeRow).where(ChangeRow.token == token, ~JobRow.key.startswith(UNNAMED))
    return on.scalar(known)


def _begin(on: Connection, incoming: Incoming, key: str) -> int:
    values = {"key": key, "name": incoming.name, "made": incoming.made, "began": revisions.now(), "cache_version": 1}
    return revisions.new_id(on.execute(insert(JobRow), values))


def _write_changes(on: Connection, job: int, changes: Sequence[Row], token: str) -> list[int]:
    """Write the acts of a job; the ids they got."""
    first = _free(on, ChangeRow.id)
    ids = list(range(first, first + len(changes)))
    rows = [
        {**one, "id": id, "job_id": job, "undoes": one["undoes"] and ids[one["undoes"] - 1], "token": None}
        for id, one in zip(ids, changes, strict=True)
    ]
    if token:
        rows[0]["token"] = token
    on.execute(insert(ChangeRow), rows)
    return ids


def _write_documents(
    on: Connection,
    job: int,
    documents: Sequence[IncomingDocument],
    changes: Sequence[int],
    summaries: Mapping[str, Row],
) -> None:
    first = _free(on, DocumentRow.id)
    numbered = list(enumerate(documents, first))
    _insert(on, DocumentRow, (
        {
            "id": id, "job_id": job, "kind": one.which.kind, "key": one.which.key, "place": one.place,
            "latest": len(one.states), "deleted_at": one.deleted_at, "used": one.used,
        }
        for id, one in numbered
    ))  # fmt: skip
    _insert(on, RevisionRow, (
        {
            **state, "document_id": id, "number": number, "change_id": changes[state["change_id"] - 1],
            "checksum": revisions.checksum_of(state["body"]),
        }
        for id, one in numbered
        for number, state in enumerate(one.states, 1)
    ))  # fmt: skip
    ends = ((id, {end.box for end in one.latest.box_ends}) for id, one in numbered if isinstance(one.latest, Run))
    _insert(on, RunEndRow, ({"document_id": id, "box": box} for id, boxes in ends for box in sorted(boxes)))
    _insert(on, SheetUseRow, (
        {"document_id": id, "sheet": sheet} for id, one in numbered for sheet in sorted(sheets_in(one.latest))
    ))  # fmt: skip
    boxes = ((id, one.which.key) for id, one in numbered if one.which.kind == "box")
    _insert(on, SummaryRow, ({"document_id": id, **summaries[key]} for id, key in boxes))


def _finish(on: Connection, job: int, incoming: Incoming, key: str | None) -> str:
    _insert(on, TickRow, (ticks.row_of(job, tick) for tick in incoming.ticks))
    taken = set(on.scalars(select(JobRow.key)))
    named = key or free_key(slug(incoming.name) or "job", taken)
    on.execute(update(JobRow).where(JobRow.id == job).values(key=named, began=None))
    return named


def _free(on: Connection, column: Any) -> int:
    """The first id nothing has."""
    return (on.scalar(select(func.max(column))) or 0) + 1


def _insert(on: Connection, table: type[Any], rows: Iterable[Row]) -> None:
    if every := list(rows):
        on.execute(insert(table), every)
