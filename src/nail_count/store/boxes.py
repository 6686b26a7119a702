"""Boxes as they are kept: read, changed, taken back, marked, and tried out on a copy."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from sqlalchemy import Connection, select, update

from ..trade.edits.registry import Edit
from ..trade.model.box import Box
from ..trade.model.errors import Rejected
from ..trade.rules.check import BoxCheck
from ..trade.rules.fit.box import fit, mends
from . import revisions
from .job_cache import JobCache
from .naming import cut, free_key
from .revisions import Found, Revision
from .snapshots import MARKS, BoxSnapshot, Earlier, EditConflict, JobSnapshot, NotFound, WhatIf
from .tables import DocumentRow

MOST_STEPS = 8
"""How much of a box's history comes with it."""
MANY_STEPS = 5000
"""How much of it the page of its history shows."""


class Boxes(JobCache):
    """The boxes of all jobs."""

    def box(self, job_key: str, box_key: str) -> BoxSnapshot:
        """A box at its newest revision. Raises [NotFound][]."""
        with self._reading() as on:
            kept, found = self._newest(on, job_key, box_key)
            return self._kept_box(on, kept, found)

    def change_box(
        self, job_key: str, box_key: str, seen: int, change: Callable[[Box, JobSnapshot], Edit]
    ) -> BoxSnapshot:
        """Makes an edit to a box and keeps it as a new revision.

        Args:
            job_key: which job.
            box_key: which box.
            seen: the revision the person was looking at.
            change: makes the edit from the box as it is; what it raises leaves everything as it was.

        Raises:
            NotFound: no such box.
            EditConflict: the box is no longer at the revision seen.
            DoesNotFit: the box would no longer fit its job.
        """
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            before = Box.model_validate_json(found.revision.body)
            edit = change(before, kept)
            kept.refuse_misfits(edit.box, kept.misfits(before))
            new = revisions.add_edit(on, found.revision, written(edit.box), edit.sentence)
            known = {device.id for device in before.devices}
            if put := {device.sheet for device in edit.box.devices if device.id not in known}:
                self._note_used(on, found.job, put)
                kept = self._cached[found.job][1]
            return self._changed(on, kept, found, new, edit.box)

    def step(
        self, job_key: str, box_key: str, seen: int, way: Literal["undo", "redo"], mend: bool = False
    ) -> BoxSnapshot:
        """Undoes or redoes one edit, as a new revision; the box as it is where there is nothing to.

        `mend`: leave out what would no longer fit.

        Raises:
            NotFound: no such box.
            EditConflict: the box is no longer at the revision seen.
            DoesNotFit: the box as it was would no longer fit its job.
        """
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            target = revisions.step_target(on, found.revision, way)
            if target is None:
                return self._kept_box(on, kept, found)
            box = _back(kept, found, target.body, mend)
            new = revisions.add_step(on, found.revision, target, way, written(box))
            return self._changed(on, kept, found, new, box)

    def earlier(self, job_key: str, box_key: str, number: int, other: int | None = None) -> Earlier:
        """A box as it is, with the steps of its whole history, and as it was at one of them, or at two.

        Raises:
            NotFound: no such box, or no such step.
        """
        with self._reading() as on:
            kept, found = self._newest(on, job_key, box_key)
            now = self._kept_box(on, kept, found)
            steps = revisions.steps(on, found.revision.document, MANY_STEPS)
            for one in (number, other):
                if one is not None and not 1 <= one <= found.revision.number:
                    raise NotFound("expected one of the steps of this box")

            def check_at(at: int) -> BoxCheck:
                return kept.check(Box.model_validate_json(revisions.at(on, found.revision.document, at).body))

            then = check_at(number)
            beside = None if other is None else check_at(other)
        return Earlier(now, steps, number, then, other, beside)

    def take_back(self, job_key: str, box_key: str, seen: int, number: int, mend: bool = False) -> BoxSnapshot:
        """Takes a box back to an earlier step, as a new revision. Raises as [step][Boxes.step] does."""
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            if not 1 <= number <= found.revision.number:
                raise NotFound("expected one of the steps of this box")
            target = revisions.at(on, found.revision.document, number)
            box = _back(kept, found, target.body, mend)
            new = revisions.add_edit(
                on, found.revision, written(box), f"Taken back to step {number}: {target.sentence}"
            )
            return self._changed(on, kept, found, new, box)

    def mend(self, job_key: str, box_key: str, seen: int) -> BoxSnapshot:
        """Leaves out of a box what does not fit its job. Raises as [change_box][Boxes.change_box] does."""

        def mended(box: Box, kept: JobSnapshot) -> Edit:
            found = fit(box, kept.sheets, kept.head.circuit_ids)
            if not found.misfits:
                raise Rejected("expected something to mend; everything fits")
            return Edit(found.box, f"Mended: {mends(found.misfits)}")

        return self.change_box(job_key, box_key, seen, mended)

    def mark(self, job_key: str, box_key: str, name: str, number: int | None) -> None:
        """Marks a step of a box as found, as planned or as built; None takes the mark off.

        Raises:
            NotFound: no such box or step, or no such mark.
        """
        with self._writing() as on:
            _, found = self._newest(on, job_key, box_key)
            if name not in MARKS or (number is not None and not 1 <= number <= found.revision.number):
                raise NotFound("expected one of the marks, and one of the steps of this box")
            column = {name.replace(" ", "_"): number}
            on.execute(update(DocumentRow).where(DocumentRow.id == found.revision.document).values(column))

    def try_out(self, job_key: str, box_key: str) -> str:
        """A what-if: a copy of a box to change freely; its key. The one that is there already, where one is."""
        with self._writing() as on:
            _, found = self._newest(on, job_key, box_key)
            if found.beside.copy_of is not None:
                return box_key
            if found.beside.copy is not None:
                return found.beside.copy
            d = DocumentRow
            taken = set(on.scalars(select(d.key).where(d.job_id == found.job, d.kind == "box")))
            key = free_key(f"{cut(box_key, 32)}-what-if", taken)
            box = Box.model_validate_json(found.revision.body).changed(id=key)
            body, number = written(box), found.revision.number
            more = {"copy_of": found.revision.document, "copied_at": number}
            revisions.add_document(on, found.job, "box", key, 0, body, f"What if: a copy of step {number}", **more)
            return key

    def end_what_if(self, job_key: str, copy_key: str, seen: int, accept: bool, mend: bool = False) -> str:
        """Keeps what was tried on a copy, as one step of the original, or throws it away; the original's key.

        `mend`: leave out what would no longer fit.

        Raises:
            NotFound: no such what-if.
            EditConflict: it, or its original, has changed since it was shown or copied; nothing was done.
            DoesNotFit: what was tried would no longer fit the job.
        """
        with self._writing() as on:
            kept, found = self._newest(on, job_key, copy_key)
            what_if = self._what_if(on, found)
            if what_if is None:
                raise NotFound("expected a what-if")
            if accept:
                if found.revision.number != seen:
                    raise EditConflict
                _, original = self._seen(on, job_key, what_if.original, what_if.copied_at)
                tried = Box.model_validate_json(found.revision.body).changed(id=what_if.original)
                box = _back(kept, original, written(tried), mend)
                new = revisions.add_edit(on, original.revision, written(box), "What was tried out is kept")
                self._changed(on, kept, original, new, box)
            gone = update(DocumentRow).where(DocumentRow.id == found.revision.document)
            on.execute(gone.values(deleted_at=revisions.now()))
            return what_if.original

    def _seen(self, on: Connection, job_key: str, box_key: str, seen: int) -> tuple[JobSnapshot, Found]:
        """The newest revision, where it is the one the person was looking at."""
        kept, found = self._newest(on, job_key, box_key)
        if found.revision.number != seen:
            raise EditConflict
        return kept, found

    def _newest(self, on: Connection, job_key: str, box_key: str) -> tuple[JobSnapshot, Found]:
        found = revisions.newest_box(on, job_key, box_key)
        if found is None:
            raise NotFound("expected one of the boxes of this job")
        return self._cached_job(on, job_key, found.job, found.cache_version), found

    def _changed(self, on: Connection, kept: JobSnapshot, found: Found, new: Revision, box: Box) -> BoxSnapshot:
        """The box at its new revision, its summary brought up to date."""
        changed = self._kept_box(on, kept, Found(found.job, found.cache_version, found.beside, new), box)
        if found.beside.copy_of is None:
            revisions.update_summary(on, new.document, self._summary(changed.check))
        return changed

    def _kept_box(self, on: Connection, kept: JobSnapshot, found: Found, box: Box | None = None) -> BoxSnapshot:
        revision, beside = found.revision, found.beside
        check = kept.check(box or Box.model_validate_json(revision.body))
        marks = zip(MARKS, (beside.as_found, beside.as_planned, beside.as_built), strict=True)
        return BoxSnapshot(
            job=kept,
            box=check.box,
            number=revision.number,
            can_undo=revision.back is not None,
            can_redo=revision.forth is not None,
            history=revisions.steps(on, revision.document, MOST_STEPS),
            check=check,
            marks={name: number for name, number in marks if number is not None},
            what_if=self._what_if(on, found),
            copy=beside.copy,
        )

    def _what_if(self, on: Connection, found: Found) -> WhatIf | None:
        if found.beside.copy_of is None:
            return None
        d = DocumentRow
        key, number = on.execute(select(d.key, d.latest).where(d.id == found.beside.copy_of)).one()
        box = Box.model_validate_json(revisions.at(on, found.beside.copy_of, number).body)
        return WhatIf(key, found.beside.copied_at or 1, number, box)


def written(box: Box) -> str:
    """A box as it is kept, read back once: what could not be read again is never written. Raises ValidationError."""
    body = box.model_dump_json(exclude_none=True)
    Box.model_validate_json(body)
    return body


def _back(kept: JobSnapshot, found: Found, body: str, mend: bool) -> Box:
    """An earlier state of a box, or one tried beside it, on its way back; mended, or refused where it does not fit."""
    box = Box.model_validate_json(body)
    if mend:
        return kept.mended(box)
    kept.refuse_misfits(box, kept.misfits(Box.model_validate_json(found.revision.body)))
    return box
