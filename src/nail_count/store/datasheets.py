"""Sheets as pages show them, and what a changed one would do to the boxes that use it."""

from __future__ import annotations

from collections import Counter

from sqlalchemy import Connection, bindparam, select

from ..trade.compare.answers import answer_changes
from ..trade.edits.documents import DocumentId, Documents
from ..trade.model.datasheet import Datasheet
from . import revisions
from .bodies import read
from .boxes import MOST_STEPS
from .revisions import VISIBLE
from .snapshots import DatasheetSnapshot, Effect, JobSnapshot
from .sources import KeptDocuments, boxes_of
from .tables import DocumentRow, SheetUseRow

_D, _U = DocumentRow, SheetUseRow


_OF_JOB = (
    select(_D.key, _U.sheet).select_from(_D).join(_U).where(_D.job_id == bindparam("job"), _D.kind == "box", VISIBLE)
)
"""Each box of a job with each sheet used in it, once."""


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
    rows = on.execute(_OF_JOB, {"job": job.id, "trial": job.trial})
    here = job.boxes
    return Counter(sheet for key, sheet in rows if key in here)


def effects(on: Connection, job: JobSnapshot, new: Datasheet) -> tuple[Effect, ...]:
    """What a changed sheet would do to each box that uses it; only where something would be otherwise.

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
