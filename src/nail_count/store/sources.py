"""The documents of a job as they are kept, each read when an edit asks for it."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping

from sqlalchemy import Connection, func, select

from ..trade.edits.documents import BoxLine, DocumentId, DocumentKind
from ..trade.model.box import Box
from ..trade.model.job import JobHead, Library
from ..trade.model.run import Run
from . import revisions
from .bodies import read_box, read_run
from .revisions import Found, visible
from .snapshots import JobSnapshot
from .tables import DocumentRow, RevisionRow, RunEndRow, SummaryRow

_D, _E, _R, _S = DocumentRow, RunEndRow, RevisionRow, SummaryRow


class KeptDocuments:
    """Where an edit gets the documents of a job from."""

    def __init__(self, on: Connection, job: JobSnapshot) -> None:
        self._on, self._job = on, job

    @property
    def head(self) -> JobHead:
        """The job without its sheets and boxes."""
        return self._job.head

    @property
    def sheets(self) -> Library:
        """Its sheets by their ids."""
        return self._job.sheets

    def box(self, key: str, removed: bool = False) -> Box | None:
        """One of its boxes, or of those removed from it; None where there is none of this key."""
        if (key in self._job.boxes) == removed:
            return None
        found = revisions.find(self._on, self._job.id, DocumentId("box", key), self._job.trial)
        return None if found is None else read_box(found)

    def place_of(self, key: str) -> int:
        """Where in the job's order a removed box stood, from 0."""
        of_box = select(_D.place).where(_D.job_id == self._job.id, _D.kind == "box", _D.key == key)
        return self._on.scalar(of_box.order_by(_D.trial_id)) or 0

    def lines(self) -> Mapping[str, BoxLine]:
        """What lists show of every box, by its key, in the job's order."""
        others = func.coalesce(func.json_extract(_R.body, "$.other_circuits"), "[]")
        of_job = select(_D.key, _S.name, _S.room, _S.circuit, others).select_from(_D).join(_S)
        of_job = of_job.join(_R, (_R.document_id == _D.id) & (_R.number == _D.latest))
        rows = self._on.execute(of_job.where(_D.job_id == self._job.id, visible(self._job.trial)))
        lines = {
            key: BoxLine(name, room, tuple(filter(None, (circuit, *json.loads(more)))))
            for key, name, room, circuit, more in rows
        }
        return {key: lines[key] for key in self._job.head.order or () if key in lines}

    def runs(self) -> tuple[Run, ...]:
        """All its runs."""
        return self._here(revisions.all_of(self._on, self._job.id, "run", self._job.trial))

    def _here(self, found: list[Found]) -> tuple[Run, ...]:
        """The runs these hold, but for those at a box that was removed: they come back with it."""
        runs = (read_run(one) for one in found)
        return tuple(run for run in runs if all(end.box in self._job.boxes for end in run.box_ends))

    def runs_at(self, box: str) -> tuple[Run, ...]:
        """Those of its runs that end at a box."""
        at_box = select(_E.document_id).where(_E.box == box)
        return self._here(revisions.all_of(self._on, self._job.id, "run", self._job.trial, _D.id.in_(at_box)))

    def taken(self, kind: DocumentKind) -> frozenset[str]:
        """Keys that are no longer free, those of removed documents among them."""
        return frozenset(self._on.scalars(select(_D.key).where(_D.job_id == self._job.id, _D.kind == kind)))


def boxes_of(on: Connection, job: JobSnapshot, removed: bool = False) -> Iterator[tuple[Found, Box]]:
    """The boxes of a job in its order, or those removed from it, each with its document."""
    found = {one.which.key: one for one in revisions.all_of(on, job.id, "box", job.trial)}
    keys = [key for key in found if key not in job.boxes] if removed else job.head.order or ()
    for key in keys:
        if key in found:
            yield found[key], read_box(found[key])
