"""Boxes as pages show them: at their newest revision, with their history, and beside what they are a copy of."""

from __future__ import annotations

from dataclasses import dataclass, field

from sqlalchemy import Connection, bindparam, or_, select

from ..trade.edits.documents import BoxLine, DocumentId
from ..trade.model.box import OUTLETS
from ..trade.model.run import BoxEnd, CircuitEnd, WordsEnd
from ..trade.rules.check import BoxCheck
from ..trade.text.runs import end_words
from ..trade.wiring.identify.weights import FarEnd
from . import revisions
from .bodies import read_box
from .revisions import VISIBLE, Found
from .session import trial_key
from .snapshots import BoxSnapshot, Earlier, JobSnapshot, NotFound, WhatIf
from .sources import KeptDocuments
from .tables import DocumentRow, SummaryRow, TrialRow

MOST_STEPS = 8
"""How much of a box's history comes with it."""
MANY_STEPS = 5000
"""How much of it the page of its history shows."""
_D, _S, _T = DocumentRow, SummaryRow, TrialRow
_NEAR = (
    select(_D.key, _S.name, _S.room, _S.use)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), VISIBLE)
    .where(or_(_S.use.in_(sorted(OUTLETS)), _D.key.in_(bindparam("keys", expanding=True))))
    .order_by(_D.place)
)
"""The outlets of a job, and the boxes of these keys."""
_OPEN_TRIAL = (
    select(_T.id).where(_T.job_id == bindparam("job"), _T.about == bindparam("box"), _T.ended_at.is_(None)).limit(1)
)


def box_snapshot(
    on: Connection, job: JobSnapshot, key: str, found: Found | None = None, check: BoxCheck | None = None
) -> BoxSnapshot:
    """A box at its newest revision. Raises NotFound."""
    found = found or KeptDocuments(on, job).there(DocumentId("box", key))
    check = check or job.check(read_box(found))
    now = found.revision
    around = _around(on, job, key)
    return BoxSnapshot(
        job=job,
        box=check.box,
        number=now.number,
        can_undo=now.back is not None,
        can_redo=now.forth is not None,
        history=revisions.steps(on, found.row, MOST_STEPS),
        check=check,
        goes=around.goes,
        ends=around.ends,
        outlets=around.outlets,
        what_if=_what_if(on, job, found) if job.trial else None,
        open_trial="" if job.trial else open_trial(on, job, key),
    )


def earlier(on: Connection, job: JobSnapshot, key: str, number: int, other: int | None) -> Earlier:
    """A box as it is, with the steps of its whole history, and as it was at one of them, or at two. Raises NotFound."""
    found = KeptDocuments(on, job).there(DocumentId("box", key))
    for one in (number, other):
        if one is not None and not 1 <= one <= found.revision.number:
            raise NotFound("expected one of the steps of this box")

    def check_at(number: int) -> BoxCheck:
        return job.check(read_box(found, revisions.at(on, found.row, number)))

    now = box_snapshot(on, job, key, found)
    steps = revisions.steps(on, found.row, MANY_STEPS)
    return Earlier(now, steps, number, check_at(number), other, None if other is None else check_at(other))


def open_trial(on: Connection, job: JobSnapshot, box: str) -> str:
    """The key of the job under a what-if of a box that is still open; "" where there is none."""
    trial = on.scalar(_OPEN_TRIAL, {"job": job.id, "box": box})
    return "" if trial is None else trial_key(job.base, trial)


def _what_if(on: Connection, job: JobSnapshot, found: Found) -> WhatIf | None:
    original = found if not found.trial else revisions.find(on, job.id, found.which)
    if original is None:
        return None
    number = original.revision.number
    return WhatIf(found.copied_at or number, number, read_box(original))


@dataclass(slots=True)
class _Around:
    """What lies around a box."""

    goes: dict[str, str] = field(default_factory=dict)
    """Where its cables go, in words, by their letters, as far as that was said."""
    ends: dict[str, FarEnd] = field(default_factory=dict)
    outlets: tuple[tuple[str, str], ...] = ()
    """Of the whole job."""


def _around(on: Connection, job: JobSnapshot, key: str) -> _Around:
    runs = KeptDocuments(on, job).runs_at(key)
    keys = sorted({end.box for run in runs for end in run.box_ends})
    rows = on.execute(_NEAR, {"job": job.id, "trial": job.trial, "keys": keys})
    near = [(box, BoxLine(name, room, ()), use) for box, name, room, use in rows if box in job.boxes]
    boxes, uses = {box: line for box, line, _ in near}, {box: use for box, _, use in near}
    found = _Around(outlets=tuple((box, f"{line.room}: {line.name}") for box, line, use in near if use in OUTLETS))
    for run in runs:
        for here, there in ((run.one, run.other), (run.other, run.one)):
            if isinstance(here, BoxEnd) and here.box == key and here.cable is not None:
                found.goes[here.cable] = end_words(there, boxes)
                if isinstance(there, BoxEnd):
                    found.ends[here.cable] = "outlet" if uses.get(there.box) in OUTLETS else "box"
                elif not isinstance(there, WordsEnd):
                    found.ends[here.cable] = "panel" if isinstance(there, CircuitEnd) else "onward"
    return found
