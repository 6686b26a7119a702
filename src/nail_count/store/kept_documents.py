"""The documents of a job as they are kept, each read when an edit asks for it."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from functools import cache
from typing import cast

from sqlalchemy import Connection, bindparam, select

from ..trade.documents import BoxLine, DocumentId, DocumentKind
from ..trade.model.box import Box, Use
from ..trade.model.job import JobHead, Library
from ..trade.model.run import Run
from . import revisions
from .bodies import read_box, read_run
from .revisions import VISIBLE, Found
from .snapshots import JobSnapshot, NotFound
from .summaries import names_in
from .tables import DocumentRow, SummaryRow

_D, _S = DocumentRow, SummaryRow
_LINES = (
    select(_D.key, _S.name, _S.room, _S.use, _S.circuits, _S.works)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), _D.kind == "box", VISIBLE)
)


class KeptDocuments:
    """Where an edit gets the documents of a job from: as they were before it, each read once."""

    def __init__(self, on: Connection, job: JobSnapshot) -> None:
        self.on, self.job = on, job
        self._known: dict[DocumentId, Found | None] = {}
        self._all_runs: tuple[Run, ...] | None = None
        self._read_box, self._read_runs_at = cache(self._box), cache(self._runs_at)
        self.lines = cache(self._lines)

    def there(self, id: DocumentId) -> Found:
        """A document at its newest revision. Raises NotFound."""
        found = self.found(id)
        if found is None or (id.kind == "box" and id.key not in self.job.boxes):
            raise NotFound(_EXPECTED[id.kind])
        return found

    def found(self, id: DocumentId) -> Found | None:
        """A document at its newest revision; None where there is none."""
        if id not in self._known:
            self._known[id] = revisions.find(self.on, self.job.id, id, self.job.trial)
        return self._known[id]

    def read_ahead(self, keys: Collection[str]) -> None:
        """These boxes will be asked for: they are read together. A what-if reads each copy by itself."""
        left = [key for key in keys if DocumentId("box", key) not in self._known]
        if not self.job.trial and len(left) > 1:
            self._known |= {one.which: one for one in revisions.named(self.on, self.job.id, "box", left)}

    @property
    def head(self) -> JobHead:
        """The job without its sheets and boxes."""
        return self.job.head

    @property
    def sheets(self) -> Library:
        """Its sheets by their ids."""
        return self.job.sheets

    def box(self, key: str, removed: bool = False) -> Box | None:
        """One of its boxes, or of those removed from it; None where there is none of this key."""
        return None if (key in self.job.boxes) == removed else self._read_box(key)

    def _box(self, key: str) -> Box | None:
        found = self.found(DocumentId("box", key))
        return None if found is None else read_box(found)

    def place_of(self, key: str) -> int:
        """Where in the job's order a removed box stood, from 0."""
        of_box = select(_D.place).where(_D.job_id == self.job.id, _D.kind == "box", _D.key == key)
        return self.on.scalar(of_box.order_by(_D.trial_id)) or 0

    def _lines(self) -> Mapping[str, BoxLine]:
        """What lists show of every box, by its key, in the job's order."""
        rows = self.on.execute(_LINES, {"job": self.job.id, "trial": self.job.trial})
        lines = {
            key: BoxLine(name, room, cast(Use, use), names_in(circuits), names_in(works))
            for key, name, room, use, circuits, works in rows
        }
        return {key: lines[key] for key in self.job.head.order or () if key in lines}

    def runs(self) -> tuple[Run, ...]:
        """All its runs."""
        if self._all_runs is None:
            self._all_runs = self._here(revisions.all_of(self.on, self.job.id, "run", self.job.trial))
        return self._all_runs

    def _here(self, found: list[Found]) -> tuple[Run, ...]:
        """The runs these hold, but for those at a box that was removed: they come back with it."""
        runs = (read_run(one) for one in found)
        there = self.job.boxes
        return tuple(run for run in runs if all(end.box in there for end in run.box_ends))

    def runs_at(self, box: str) -> tuple[Run, ...]:
        """Those of its runs that end at a box."""
        if self._all_runs is not None:
            return tuple(run for run in self._all_runs if any(end.box == box for end in run.box_ends))
        return self._read_runs_at(box)

    def _runs_at(self, box: str) -> tuple[Run, ...]:
        return self._here(revisions.runs_at(self.on, self.job.id, box, self.job.trial))

    def taken(self, kind: DocumentKind) -> frozenset[str]:
        """Keys that are no longer free, those of removed documents among them."""
        return frozenset(self.on.scalars(select(_D.key).where(_D.job_id == self.job.id, _D.kind == kind)))


_EXPECTED = {
    "head": "Pick one of the jobs kept here",
    "sheet": "Pick one of the sheets of this job",
    "box": "Pick one of the boxes of this job",
    "run": "Pick one of the runs of this job",
}


def boxes_of(
    on: Connection, job: JobSnapshot, removed: bool = False, using: Collection[str] | None = None
) -> Iterator[tuple[Found, Box]]:
    """The boxes of a job in its order, or those removed from it, each with its document.

    `using`: only those that use one of these sheets.
    """
    known = (
        revisions.all_of(on, job.id, "box", job.trial)
        if using is None
        else revisions.using(on, job.id, using, job.trial)
    )
    found, here = {one.which.key: one for one in known}, job.boxes
    keys = [key for key in found if key not in here] if removed else job.head.order or ()
    for key in keys:
        if key in found:
            yield found[key], read_box(found[key])


def some_boxes(on: Connection, job: JobSnapshot, keys: Collection[str]) -> tuple[Box, ...]:
    """Those boxes of a job that have one of these keys, in the order of the keys."""
    here = [key for key in keys if key in job.boxes]
    found = {one.which.key: one for one in revisions.named(on, job.id, "box", here, job.trial)}
    return tuple(read_box(found[key]) for key in here if key in found)
