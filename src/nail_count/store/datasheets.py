"""Sheets as pages show them, and what a changed one would do to the boxes that use it."""

from __future__ import annotations

from collections import Counter

from sqlalchemy import Connection, bindparam, func, select

from ..trade.compare.answers import answer_changes
from ..trade.documents import DocumentId, Documents
from ..trade.model.datasheet import Datasheet
from . import revisions
from .bodies import read
from .boxes import MOST_STEPS
from .kept_documents import KeptDocuments, boxes_of
from .revisions import LISTED, VISIBLE, listed
from .snapshots import DatasheetSnapshot, Effect, JobSnapshot
from .tables import DocumentRow, SheetUseRow

_D, _U = DocumentRow, SheetUseRow


_USES = (
    select(_U.sheet, func.count())
    .select_from(_D)
    .join(_U, _U.document_id == _D.id)
    .where(_D.job_id == bindparam("job"), _D.kind == "box", _D.key.in_(LISTED), VISIBLE)
    .group_by(_U.sheet)
)
"""How many boxes of a job use each sheet, of those whose keys stand in a list."""


def datasheet(on: Connection, job: JobSnapshot, id: str) -> DatasheetSnapshot:
    """A sheet at its newest revision, with the boxes that use it. Raises NotFound."""
    found = KeptDocuments(on, job).there(DocumentId("sheet", id))
    now = found.revision
    return DatasheetSnapshot(
        job=job,
        sheet=read(Datasheet, now),
        number=now.number,
        can_undo=now.back is not None,
        can_redo=now.forth is not None,
        history=revisions.steps(on, found.row, MOST_STEPS),
        used_in=tuple((box.id, f"{box.room}: {box.name}") for _, box in boxes_of(on, job, using={id})),
    )


def use_counts(on: Connection, job: JobSnapshot) -> dict[str, int]:
    """How many boxes use each sheet of a job, by its id."""
    here = listed(job.head.order or ())
    uses = on.execute(_USES, {"job": job.id, "trial": job.trial, "listed": here}).all()
    return Counter(dict[str, int](uses))


def effects(on: Connection, job: JobSnapshot, new: Datasheet) -> tuple[Effect, ...]:
    """What a changed sheet would do to each box that uses it; only where something would change.

    Raises:
        DoesNotFit: a box could not hold it so.
    """
    after = job.under(Documents(KeptDocuments(on, job), {}).with_sheet(new))
    found = []
    for _, box in boxes_of(on, job, using={new.id}):
        after.refuse_misfits(box, job.misfits(box))
        was, now = job.check(box), after.check(box)
        if lines := answer_changes(was, now):
            found.append(Effect(box.id, f"{box.room}: {box.name}", was.state, now.state, lines))
    return tuple(found)
