"""Documents as numbered revisions: the newest, one more, back and forth. Nothing is ever overwritten.

Statements are built once here; building them anew would cost an act more than running them.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Literal

from sqlalchemy import Connection, CursorResult, bindparam, insert, select, update
from sqlalchemy.orm import aliased

from .snapshots import Step
from .tables import DocumentRow, JobRow, RevisionRow, SummaryRow

_R = RevisionRow
_AT_HEAD = (_R.document_id == DocumentRow.id) & (_R.number == DocumentRow.latest)
_STATE = (_R.document_id, _R.number, _R.body, _R.sentence, _R.back, _R.forth, _R.source_revision)
_D = DocumentRow
_COPY = aliased(DocumentRow)
_OPEN_COPY = (
    select(_COPY.key).where(_COPY.copy_of == _D.id, _COPY.deleted_at.is_(None)).limit(1).correlate(_D).scalar_subquery()
)
_BESIDE = (_D.copy_of, _D.copied_at, _D.as_found, _D.as_planned, _D.as_built, _OPEN_COPY)

_NEWEST_BOX = (
    select(JobRow.id, JobRow.cache_version, *_BESIDE, *_STATE)
    .select_from(DocumentRow)
    .join(JobRow)
    .join(_R, _AT_HEAD)
    .where(
        JobRow.key == bindparam("job"),
        DocumentRow.kind == "box",
        DocumentRow.key == bindparam("box"),
        DocumentRow.deleted_at.is_(None),
    )
)
_NEWEST_TERMS = (
    select(*_STATE)
    .select_from(DocumentRow)
    .join(_R, _AT_HEAD)
    .where(DocumentRow.job_id == bindparam("job"), DocumentRow.kind == "terms")
)
_NUMBERED = select(*_STATE).where(_R.document_id == bindparam("document"), _R.number == bindparam("at"))
_BODIES = (
    select(_R.body)
    .select_from(DocumentRow)
    .join(_R, _AT_HEAD)
    .where(DocumentRow.job_id == bindparam("job"), DocumentRow.kind == bindparam("kind"))
    .where(DocumentRow.deleted_at.is_(None), DocumentRow.copy_of.is_(None))
    .order_by(DocumentRow.place)
)
_STEPS = (
    select(_R.number, _R.sentence, _R.made)
    .where(_R.document_id == bindparam("document"))
    .order_by(_R.number.desc())
    .limit(bindparam("most"))
)
_ADD = insert(_R)
_ADD_DOCUMENT = insert(DocumentRow)
_MOVE_HEAD = update(DocumentRow).where(DocumentRow.id == bindparam("document")).values(latest=bindparam("to"))
_SUMMARY = update(SummaryRow).where(SummaryRow.document_id == bindparam("document"))


@dataclass(frozen=True, slots=True)
class Revision:
    """One state of a document, as kept."""

    document: int
    number: int
    body: str
    sentence: str
    back: int | None
    forth: int | None
    source_revision: int


@dataclass(frozen=True, slots=True)
class Beside:
    """What stands beside a box's document."""

    copy_of: int | None
    copied_at: int | None
    as_found: int | None
    as_planned: int | None
    as_built: int | None
    copy: str | None


@dataclass(frozen=True, slots=True)
class Found:
    """A box at its newest revision, with what stands beside it."""

    job: int
    cache_version: int
    beside: Beside
    revision: Revision


def newest_box(on: Connection, job: str, box: str) -> Found | None:
    """The newest revision of a box, by the keys of its job and its own; None where there is none."""
    row = on.execute(_NEWEST_BOX, {"job": job, "box": box}).one_or_none()
    return None if row is None else Found(row[0], row[1], Beside(*row[2:8]), Revision(*row[8:]))


def newest_terms(on: Connection, job: int) -> Revision:
    """The newest revision of what a job says of itself."""
    return Revision(*on.execute(_NEWEST_TERMS, {"job": job}).one()[:])


def newest(on: Connection, document: int) -> Revision:
    """The newest revision of a document."""
    head = on.execute(select(_D.latest).where(_D.id == document)).scalar_one()
    return at(on, document, head)


def bodies(on: Connection, job: int, kind: str) -> list[str]:
    """The newest bodies of all documents of a kind, in the job's order."""
    return list(on.scalars(_BODIES, {"job": job, "kind": kind}))


def steps(on: Connection, document: int, most: int) -> tuple[Step, ...]:
    """The newest steps of a document's history, newest first."""
    return tuple(Step(*row) for row in on.execute(_STEPS, {"document": document, "most": most}))


def add_document(
    on: Connection, job: int, kind: str, key: str, place: int, body: str, sentence: str, **more: int
) -> int:
    """A document with its first revision; its id."""
    values = {"job_id": job, "kind": kind, "key": key, "place": place, "latest": 1, **more}
    document = new_id(on.execute(_ADD_DOCUMENT, values))
    _insert(on, Revision(document, 1, body, sentence, None, None, 1))
    return document


def add_edit(on: Connection, before: Revision, body: str, sentence: str) -> Revision:
    """One more revision after an edit; what was undone before can no longer be redone."""
    number = before.number + 1
    return _add(on, Revision(before.document, number, body, sentence, before.number, None, number))


def step_target(on: Connection, now: Revision, way: Literal["undo", "redo"]) -> Revision | None:
    """The revision that undo or redo leads to; None where there is none."""
    to = now.back if way == "undo" else now.forth
    return None if to is None else at(on, now.document, to)


def add_step(
    on: Connection, now: Revision, target: Revision, way: Literal["undo", "redo"], body: str | None = None
) -> Revision:
    """Undoes or redoes one edit as a further revision: the target's body, or as much of it as still fits."""
    changed = at(on, now.document, now.source_revision if way == "undo" else target.source_revision)
    back, forth = (target.back, now.number) if way == "undo" else (now.number, target.forth)
    said = f"{'Undone' if way == 'undo' else 'Redone'}: {changed.sentence}"
    new = target.body if body is None else body
    return _add(on, Revision(now.document, now.number + 1, new, said, back, forth, target.source_revision))


def update_summary(on: Connection, document: int, values: dict[str, Any]) -> None:
    """Brings the plain columns beside a box up to date."""
    on.execute(_SUMMARY, {"document": document, **values})


def new_id(inserted: CursorResult[Any]) -> int:
    """The id of the row just inserted."""
    assert inserted.inserted_primary_key is not None
    return int(inserted.inserted_primary_key[0])


def at(on: Connection, document: int, number: int) -> Revision:
    """One revision of a document. Raises NoResultFound where there is none."""
    found = on.execute(_NUMBERED, {"document": document, "at": number}).one()
    return Revision(*found[:])


def _add(on: Connection, new: Revision) -> Revision:
    _insert(on, new)
    on.execute(_MOVE_HEAD, {"document": new.document, "to": new.number})
    return new


def _insert(on: Connection, new: Revision) -> None:
    values = {
        "document_id": new.document,
        "number": new.number,
        "body": new.body,
        "sentence": new.sentence,
        "made": now(),
        "back": new.back,
        "forth": new.forth,
        "source_revision": new.source_revision,
    }
    on.execute(_ADD, values)


def now() -> datetime:
    """The time, in UTC, as it is kept."""
    return datetime.now(UTC).replace(tzinfo=None)
