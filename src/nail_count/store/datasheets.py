"""Sheets as pages show them, and what a changed one would do to the boxes that use it."""

from __future__ import annotations

from collections import Counter

from sqlalchemy import Connection, TableValuedAlias, bindparam, case, func, literal, select, union

from ..trade.compare.answers import answer_changes
from ..trade.edits.documents import DocumentId, Documents
from ..trade.model.datasheet import Datasheet
from . import revisions
from .bodies import read
from .boxes import MOST_STEPS
from .commit import uses
from .revisions import AT_LATEST, VISIBLE
from .snapshots import DatasheetSnapshot, Effect, JobSnapshot
from .sources import KeptDocuments, boxes_of
from .tables import DocumentRow, RevisionRow

_D, _R = DocumentRow, RevisionRow


def _inside(what: str) -> TableValuedAlias:
    """The devices or modules of a body, as it is judged; one of version 1 had them beside everything else.

    A path into the body, not the part of it: SQLite would write that out as text and read it again.
    """
    stage = case(
        (func.json_type(_R.body, "$.planned").is_not(None), f"$.planned.{what}"),
        (func.json_type(_R.body, "$.found").is_not(None), f"$.found.{what}"),
        else_=f"$.{what}",
    )
    return func.json_each(_R.body, stage).table_valued("value")


_USES = union(
    *(
        select(_D.key, func.json_extract(item.c.value, "$.sheet"))
        .select_from(_D)
        .join(_R, AT_LATEST)
        .join(item, onclause=literal(True))
        .where(_D.job_id == bindparam("job"), _D.kind == "box", VISIBLE)
        for item in (_inside("devices"), _inside("modules"))
    )
)
"""Each box of a job with each sheet used in it, once: read in the database, since a house may have thousands."""


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
        used_in=tuple((box.id, f"{box.room}: {box.name}") for _, box in boxes_of(on, job) if uses(box, {id})),
    )


def use_counts(on: Connection, job: JobSnapshot) -> dict[str, int]:
    """How many boxes use each sheet of a job, by its id."""
    rows = on.execute(_USES, {"job": job.id, "trial": job.trial})
    here = job.boxes
    return Counter(sheet for key, sheet in rows if key in here)


def effects(on: Connection, job: JobSnapshot, new: Datasheet) -> tuple[Effect, ...]:
    """What a changed sheet would do to each box that uses it; only where something would be otherwise.

    Raises:
        DoesNotFit: a box could not hold it so.
    """
    after = job.under(Documents(KeptDocuments(on, job), {}).with_sheet(new))
    found = []
    for _, box in boxes_of(on, job):
        if uses(box, {new.id}):
            after.refuse_misfits(box, job.misfits(box))
            was, now = job.check(box), after.check(box)
            if lines := answer_changes(was, now):
                found.append(Effect(box.id, f"{box.room}: {box.name}", was.state, now.state, lines))
    return tuple(found)
