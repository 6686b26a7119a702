"""Documents as numbered revisions: the newest, one more, back and forth. Nothing is ever overwritten.

Statements are built once here; building them again would cost an act more than running them.
"""

from __future__ import annotations

import json
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from typing import Any, Literal, cast
from zlib import crc32

from sqlalchemy import ColumnElement, Connection, CursorResult, bindparam, func, insert, or_, select, update
from sqlalchemy.orm import aliased

from ..trade.documents import DocumentId, DocumentKind
from .snapshots import Step
from .tables import ChangeRow, DocumentRow, RevisionRow, RunEndRow, SheetUseRow

Direction = Literal["undo", "redo"]
FORMAT = 3
"""Of the bodies written now."""
GONE = "null"
"""The body of a document that was taken out."""

_R, _D, _C = RevisionRow, DocumentRow, ChangeRow
_COPY = aliased(DocumentRow)
AT_LATEST = (_R.document_id == _D.id) & (_R.number == _D.latest)
"""Joins a document to its newest revision."""
_EACH = func.json_each(bindparam("listed")).table_valued("value")
LISTED = select(_EACH.c.value)
"""The keys given as `listed`: one value, so that a statement is the same however many there are."""
_STATE = (
    _R.document_id, _R.number, _R.body, _R.format, _R.change_id, _R.back, _R.forth, _R.source_revision, _R.checksum
)  # fmt: skip
_OWN = (_D.kind, _D.key, _D.trial_id, _D.copy_of, _D.copied_at)


@dataclass(frozen=True, slots=True)
class Revision:
    """One state of a document, as kept."""

    document: int
    number: int
    body: str
    format: int
    change: int
    back: int | None
    """The revision that undo goes back to; None at the beginning."""
    forth: int | None
    source_revision: int
    checksum: int | None = None
    """Of the body as it was written; None where it was not kept yet."""

    @property
    def is_whole(self) -> bool:
        """Whether the body is still what was written."""
        return self.checksum is None or self.checksum == checksum_of(self.body)


@dataclass(frozen=True, slots=True)
class Found:
    """A document at its newest revision."""

    which: DocumentId
    trial: int
    """Of a copy: the trial it belongs to; 0 for the real job."""
    copy_of: int | None
    copied_at: int | None
    revision: Revision

    @property
    def row(self) -> int:
        """The id of the document's row."""
        return self.revision.document


_COPIED = select(_COPY.id).where(_COPY.copy_of == _D.id, _COPY.trial_id == bindparam("trial")).exists()
VISIBLE: ColumnElement[bool] = or_(_D.trial_id == bindparam("trial"), (_D.trial_id == 0) & ~_COPIED)
"""The documents a job has, or has under the trial given: copies in place of what they are copies of."""
_NEWEST = (
    select(*_OWN, *_STATE)
    .select_from(_D)
    .join(_R, AT_LATEST)
    .where(_D.job_id == bindparam("job"), _D.kind == bindparam("kind"), _D.key == bindparam("key"))
    .where(or_(_D.trial_id == 0, _D.trial_id == bindparam("trial")))
    .order_by(_D.trial_id.desc())
    .limit(1)
)
_OF_KIND = (
    select(*_OWN, *_STATE)
    .select_from(_D)
    .join(_R, AT_LATEST)
    .where(_D.job_id == bindparam("job"), _D.kind == bindparam("kind"), VISIBLE, _R.body != GONE)
    .order_by(_D.place, _D.id)
)
_AT_BOX = _OF_KIND.where(_D.id.in_(select(RunEndRow.document_id).where(RunEndRow.box == bindparam("box"))))
_USING = _OF_KIND.where(_D.id.in_(select(SheetUseRow.document_id).where(SheetUseRow.sheet.in_(LISTED))))
_NAMED = _OF_KIND.where(_D.key.in_(LISTED))
_OF_DOCUMENT = select(*_OWN, *_STATE).select_from(_D).join(_R, AT_LATEST).where(_D.id == bindparam("document"))
_NUMBERED = select(*_STATE).where(_R.document_id == bindparam("document"), _R.number == bindparam("at"))
_STEPS = (
    select(_R.number, _C.sentence, _C.at)
    .join(_C, _C.id == _R.change_id)
    .where(_R.document_id == bindparam("document"))
    .order_by(_R.number.desc())
    .limit(bindparam("most"))
)
_ADD = insert(_R)
_ADD_DOCUMENT = insert(_D)
_MOVE_LATEST = update(_D).where(_D.id == bindparam("document")).values(latest=bindparam("to"))


def listed(keys: Iterable[str]) -> str:
    """Keys as a statement takes them."""
    return json.dumps(list(keys))


def find(on: Connection, job: int, which: DocumentId, trial: int = 0) -> Found | None:
    """A document of a job at its newest revision, or its copy in a trial; None where there is none.

    What a trial has not copied yet has nothing in it to undo or redo: it only takes back what was tried.
    """
    row = on.execute(_NEWEST, {"job": job, "kind": which.kind, "key": which.key, "trial": trial}).one_or_none()
    if row is None:
        return None
    known = _found(row)
    return known if known.trial == trial else replace(known, revision=replace(known.revision, back=None, forth=None))


def found(on: Connection, document: int) -> Found:
    """A document at its newest revision."""
    return _found(on.execute(_OF_DOCUMENT, {"document": document}).one())


def all_of(on: Connection, job: int, kind: DocumentKind, trial: int = 0) -> list[Found]:
    """All documents of a kind, in the order they were made or imported.

    Boxes removed from the house are among them, what was taken out for good measure is not.
    """
    return [_found(row) for row in on.execute(_OF_KIND, {"job": job, "kind": kind, "trial": trial})]


def runs_at(on: Connection, job: int, box: str, trial: int = 0) -> list[Found]:
    """The runs that end at a box."""
    return [_found(row) for row in on.execute(_AT_BOX, {"job": job, "kind": "run", "trial": trial, "box": box})]


def using(on: Connection, job: int, sheets: Collection[str], trial: int = 0) -> list[Found]:
    """The boxes that use one of these sheets, in the order they were made or imported; removed ones among them."""
    of_job = {"job": job, "kind": "box", "trial": trial}
    return [_found(row) for row in on.execute(_USING, {**of_job, "listed": listed(sheets)})]


def named(on: Connection, job: int, kind: DocumentKind, keys: Collection[str], trial: int = 0) -> list[Found]:
    """Those documents of a kind that have one of these keys."""
    of_job = {"job": job, "kind": kind, "trial": trial}
    return [_found(row) for row in on.execute(_NAMED, {**of_job, "listed": listed(keys)})]


def every_state(on: Connection, job: int) -> Iterator[Found]:
    """Every state there ever was of every document of a job, but for those of trials."""
    states = select(*_OWN, *_STATE).select_from(_D).join(_R, _R.document_id == _D.id)
    for row in on.execute(states.where(_D.job_id == job, _D.trial_id == 0).order_by(_D.id, _R.number)):
        yield _found(row)


def steps(on: Connection, document: int, most: int) -> tuple[Step, ...]:
    """The newest steps of a document's history, newest first."""
    return tuple(Step(*row) for row in on.execute(_STEPS, {"document": document, "most": most}))


def next_place(on: Connection, job: int, kind: DocumentKind) -> int:
    """Where one more document of a kind comes: last."""
    last = on.scalar(select(func.max(_D.place)).where(_D.job_id == job, _D.kind == kind))
    return 0 if last is None else int(last) + 1


def sentence_of(on: Connection, revision: Revision) -> str:
    """What made a revision, in a sentence."""
    return str(on.scalar(select(_C.sentence).where(_C.id == revision.change)))


def add_document(on: Connection, change: int, job: int, which: DocumentId, body: str, **more: int) -> Revision:
    """A document with its first revision."""
    values = {"job_id": job, "kind": which.kind, "key": which.key, "place": 0, "latest": 1, **more}
    document = new_id(on.execute(_ADD_DOCUMENT, values))
    return keep(on, Revision(document, 1, body, FORMAT, change, None, None, 1))


def add_edit(on: Connection, change: int, before: Revision, body: str) -> Revision:
    """One more revision after an edit; what was undone before can no longer be redone."""
    number = before.number + 1
    return _add(on, Revision(before.document, number, body, FORMAT, change, before.number, None, number))


@dataclass(frozen=True, slots=True)
class Target:
    """A state of a document that undo or redo leads to, and where both lead from there."""

    state: Revision
    back: int | None
    forth: int | None


def taken_out(now: Revision) -> Target:
    """Where the undoing of what brought a document leads: it is out, until that is redone."""
    out = Revision(now.document, now.number + 1, GONE, FORMAT, now.change, None, None, now.number + 1)
    return Target(out, None, now.number)


def target(on: Connection, now: Revision, way: Direction) -> Target | None:
    """Where undo or redo leads; None where there is nothing to."""
    if way == "undo" and now.back is not None:
        state = at(on, now.document, now.back)
        return Target(state, state.back, now.number)
    if way == "redo" and now.forth is not None:
        state = at(on, now.document, now.forth)
        return Target(state, now.number, state.forth)
    return None


def add_step(on: Connection, change: int, now: Revision, to: Target, body: str) -> Revision:
    """One more revision that undoes or redoes: the target's state, or as much of it as still fits."""
    return _add(
        on, Revision(now.document, now.number + 1, body, FORMAT, change, to.back, to.forth, to.state.source_revision)
    )


def new_id(inserted: CursorResult[Any]) -> int:
    """The id of the row just inserted."""
    assert inserted.inserted_primary_key is not None
    return int(inserted.inserted_primary_key[0])


def at(on: Connection, document: int, number: int) -> Revision:
    """One revision of a document. Raises NoResultFound where there is none."""
    return Revision(*on.execute(_NUMBERED, {"document": document, "at": number}).one()[:])


def _found(row: Any) -> Found:
    kind, key, trial, copy_of, copied_at, *state = row
    return Found(DocumentId(cast(DocumentKind, kind), key), trial, copy_of, copied_at, Revision(*state))


def _add(on: Connection, new: Revision) -> Revision:
    keep(on, new)
    on.execute(_MOVE_LATEST, {"document": new.document, "to": new.number})
    return new


def keep(on: Connection, new: Revision) -> Revision:
    """Writes a state of a document as it is."""
    values = {
        "document_id": new.document,
        "number": new.number,
        "body": new.body,
        "format": new.format,
        "change_id": new.change,
        "back": new.back,
        "forth": new.forth,
        "source_revision": new.source_revision,
        "checksum": checksum_of(new.body),
    }
    on.execute(_ADD, values)
    return new


def checksum_of(body: str) -> int:
    """Return the CRC-32 of a body.

    >>> checksum_of("123456789") == 0xCBF43926  # the check value that the standard CRC-32 is known by
    True
    """
    return crc32(body.encode())


def now() -> datetime:
    """The time, in UTC, as it is kept."""
    return datetime.now(UTC).replace(tzinfo=None)
