"""Boxes as pages show them: at their newest revision, with their history, and beside what they are a copy of."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field, replace
from typing import Self, cast

from sqlalchemy import Connection, bindparam, or_, select

from ..trade.assume.usual import kind_beyond, to_other_switch
from ..trade.documents import BoxLine, DocumentId, Documents, wired_with
from ..trade.model.box import OUTLETS, Box, Use
from ..trade.model.run import BoxEnd, Run
from ..trade.rules.check import BoxCheck
from ..trade.text.runs import end_words
from ..trade.wiring.hookup.over_network import has_senders, targets_of
from ..trade.wiring.identify.weights import FarEnd, kind_of_end
from . import revisions, ticks
from .bodies import read_box
from .kept_documents import KeptDocuments
from .revisions import LISTED, VISIBLE, Found
from .snapshots import BoxSnapshot, Earlier, JobSnapshot, NotFound, WhatIf
from .tables import DocumentRow, SummaryRow

MOST_STEPS = 8
"""How much of a box's history comes with it."""
MANY_STEPS = 5000
"""How much of it the page of its history shows."""
_D, _S = DocumentRow, SummaryRow
_NEAR = (
    select(_D.key, _S.name, _S.room, _S.use)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), _D.kind == "box", VISIBLE)
    .where(or_(*(_S.use == use for use in sorted(OUTLETS)), _D.key.in_(LISTED)))
    .order_by(_D.place)
)


def box_snapshot(
    on: Connection,
    job: JobSnapshot,
    key: str,
    *,
    wired: bool = False,
    documents: Documents | None = None,
    found: Found | None = None,
    check: BoxCheck | None = None,
) -> BoxSnapshot:
    """A box at its newest revision. Raises NotFound.

    Args:
        on: the connection to read from.
        job: whose box it is.
        wired: with what it is wired together with and what was ticked at it, instead of its history and the outlets.
        documents: those of the job as they are now, where an act has read some already.
        found: the box itself, where that is known.
        check: of it, where that is known.
    """
    kept = KeptDocuments(on, job)
    documents, found = documents or Documents(kept, {}), found or kept.there(DocumentId("box", key))
    check, now = check or job.check(read_box(found)), found.revision
    if wired:
        runs, near = documents.runs(), documents.lines()
    else:
        runs = documents.runs_at(key)
        near = _near(on, job, {end.box for run in runs for end in run.box_ends})
    around = _Around.of(key, runs, near)
    around.look_beyond(documents, check.box, runs)
    snapshot = BoxSnapshot(
        job=job,
        box=check.box,
        number=now.number,
        can_undo=now.back is not None,
        can_redo=now.forth is not None,
        check=check,
        goes=around.goes,
        ends=around.ends,
        what_if=_what_if(on, job, found) if job.trial else None,
    )
    if wired:
        targets = targets_of(documents.job, check.box) if has_senders(check.box, documents.sheets) else ()
        wiring = wired_with(documents, check.box)
        return replace(snapshot, wiring=wiring, ticks=ticks.of_job(on, job, key), network_targets=targets)
    outlets = tuple((box, f"{line.room}: {line.name}") for box, line in near.items() if line.use in OUTLETS)
    history = revisions.steps(on, found.row, MOST_STEPS)
    return replace(snapshot, history=history, outlets=outlets, open_trial="" if job.trial else job.trials.get(key, ""))


def earlier(on: Connection, job: JobSnapshot, key: str, number: int, other: int | None) -> Earlier:
    """A box as it is, with the steps of its whole history, and as it was at one of them, or at two. Raises NotFound."""
    found = KeptDocuments(on, job).there(DocumentId("box", key))
    for one in (number, other):
        if one is not None and not 1 <= one <= found.revision.number:
            raise NotFound("Pick one of the steps of this box")

    def check_at(number: int) -> BoxCheck:
        return job.check(read_box(found, revisions.at(on, found.row, number)))

    now = box_snapshot(on, job, key, found=found)
    steps = revisions.steps(on, found.row, MANY_STEPS)
    return Earlier(now, steps, number, check_at(number), other, None if other is None else check_at(other))


def _what_if(on: Connection, job: JobSnapshot, found: Found) -> WhatIf | None:
    original = found if not found.trial else revisions.find(on, job.id, found.which)
    if original is None:
        return None
    number = original.revision.number
    return WhatIf(found.copied_at or number, number, read_box(original))


@dataclass(slots=True)
class _Around:
    """Where the cables of a box go, as far as that is known."""

    goes: dict[str, str] = field(default_factory=dict)
    """In words, by their letters."""
    ends: dict[str, FarEnd] = field(default_factory=dict)

    @classmethod
    def of(cls, key: str, runs: Iterable[Run], near: Mapping[str, BoxLine]) -> Self:
        """What the runs at a box say, and the lines of the boxes they lead to."""
        found = cls()
        for run in runs:
            for here, there in ((run.one, run.other), (run.other, run.one)):
                if isinstance(here, BoxEnd) and here.box == key and here.cable is not None:
                    found.goes[here.cable] = end_words(there, near)
                    line = near.get(there.box) if isinstance(there, BoxEnd) else None
                    found.ends[here.cable] = kind_of_end(there, line.use if line else None)
        return found

    def look_beyond(self, documents: Documents, box: Box, runs: Iterable[Run]) -> None:
        """Look at the box that a cable to another switch goes to: whether the feed comes in there, or the light is."""
        other = to_other_switch(box)
        end = next((far for run in runs if (far := run.far_from(box.id, other))), None) if other else None
        if isinstance(end, BoxEnd):
            there, near = documents.box(end.box), documents.runs_at(end.box)
            pairs = ((cable.id, run.far_from(there.id, cable.id)) for cable in there.cables for run in near)
            known = {id: beyond for id, beyond in pairs if beyond is not None}
            self.ends[other] = kind_beyond(end, {there.id: there}, {there.id: known})


def _near(on: Connection, job: JobSnapshot, keys: Collection[str]) -> Mapping[str, BoxLine]:
    """The outlets of a job, and the boxes of these keys."""
    rows = on.execute(_NEAR, {"job": job.id, "trial": job.trial, "listed": revisions.listed(keys)})
    return {box: BoxLine(name, room, cast(Use, use)) for box, name, room, use in rows if box in job.boxes}
