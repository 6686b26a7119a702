"""Boxes as they are kept: read, changed, taken back, marked, and tried out on a copy."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from sqlalchemy import Connection, select, update

from ..trade.check import BoxCheck, check_box
from ..trade.edits import Edit
from ..trade.model.box import Box
from ..trade.model.complaint import Refused
from ..trade.model.job import off_circuit
from . import revising
from .kept import MARKS, Earlier, KeptBox, KeptJob, Missing, Stale, WhatIf
from .naming import free_key
from .revising import Found, Revision
from .shelves import Shelves
from .tables import DocumentRow

MOST_STEPS = 8
"""How much of a box's history comes with it."""
MANY_STEPS = 5000
"""How much of it the page of its history shows."""


class Boxes(Shelves):
    """The boxes of all jobs."""

    def box(self, job_key: str, box_key: str) -> KeptBox:
        """A box at its newest revision. Raises [Missing][]."""
        with self._reading() as on:
            kept, found = self._newest(on, job_key, box_key)
            return self._kept_box(on, kept, found)

    def change_box(self, job_key: str, box_key: str, seen: int, change: Callable[[Box, KeptJob], Edit]) -> KeptBox:
        """Makes an edit to a box and keeps it as a new revision.

        Args:
            job_key: which job.
            box_key: which box.
            seen: the revision the person was looking at.
            change: makes the edit from the box as it is; what it raises leaves everything as it was.

        Raises:
            Missing: no such box.
            Stale: the box is no longer at the revision seen.
        """
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            before = Box.model_validate_json(found.revision.body)
            edit = on_a_circuit(change(before, kept), kept)
            new = revising.add_edit(on, found.revision, edit.box.model_dump_json(exclude_none=True), edit.sentence)
            known = {device.id for device in before.devices}
            if put := {device.sheet for device in edit.box.devices if device.id not in known}:
                self._note_used(on, found.job, put)
                kept = self._shelves[found.job][1]
            return self._changed(on, kept, found, new, edit.box)

    def step(self, job_key: str, box_key: str, seen: int, way: Literal["undo", "redo"]) -> KeptBox:
        """Undoes or redoes one edit, as a new revision; the box as it is where there is nothing to.

        Raises:
            Missing: no such box.
            Stale: the box is no longer at the revision seen.
        """
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            new = revising.add_step(on, found.revision, way)
            if new is None:
                return self._kept_box(on, kept, found)
            return self._changed(on, kept, found, new, Box.model_validate_json(new.body))

    def earlier(self, job_key: str, box_key: str, number: int, other: int | None = None) -> Earlier:
        """A box as it is, with the steps of its whole history, and as it was at one of them, or at two.

        Raises:
            Missing: no such box, or no such step.
        """
        with self._reading() as on:
            kept, found = self._newest(on, job_key, box_key)
            now = self._kept_box(on, kept, found)
            steps = revising.steps(on, found.revision.document, MANY_STEPS)
            for one in (number, other):
                if one is not None and not 1 <= one <= found.revision.number:
                    raise Missing("expected one of the steps of this box")

            def check_at(at: int) -> BoxCheck:
                box = Box.model_validate_json(revising.at(on, found.revision.document, at).body)
                return check_box(box, kept.sheets, kept.head.terms_at(box))

            then = check_at(number)
            beside = None if other is None else check_at(other)
        return Earlier(now, steps, number, then, other, beside)

    def take_back(self, job_key: str, box_key: str, seen: int, number: int) -> KeptBox:
        """Takes a box back to an earlier step, as a new revision. Raises as [change_box][Boxes.change_box] does."""
        with self._writing() as on:
            kept, found = self._seen(on, job_key, box_key, seen)
            if not 1 <= number <= found.revision.number:
                raise Missing("expected one of the steps of this box")
            new = revising.add_return(on, found.revision, number)
            return self._changed(on, kept, found, new, Box.model_validate_json(new.body))

    def mark(self, job_key: str, box_key: str, name: str, number: int | None) -> None:
        """Marks a step of a box as found, as planned or as built; None takes the mark off.

        Raises:
            Missing: no such box or step, or no such mark.
        """
        with self._writing() as on:
            _, found = self._newest(on, job_key, box_key)
            if name not in MARKS or (number is not None and not 1 <= number <= found.revision.number):
                raise Missing("expected one of the marks, and one of the steps of this box")
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
            key = free_key(f"{box_key[:30]}-what-if", taken)
            box = Box.model_validate_json(found.revision.body).model_copy(update={"id": key})
            body, number = box.model_dump_json(exclude_none=True), found.revision.number
            more = {"copy_of": found.revision.document, "copied_at": number}
            revising.add_document(on, found.job, "box", key, 0, body, f"What if: a copy of step {number}", **more)
            return key

    def end_what_if(self, job_key: str, copy_key: str, seen: int, keep: bool) -> str:
        """Keeps what was tried on a copy, as one step of the original, or throws it away; the original's key.

        Raises:
            Missing: no such what-if.
            Stale: it, or its original, has changed since it was shown or copied; nothing was done.
        """
        with self._writing() as on:
            kept, found = self._newest(on, job_key, copy_key)
            what_if = self._what_if(on, found)
            if what_if is None:
                raise Missing("expected a what-if")
            if keep:
                if found.revision.number != seen:
                    raise Stale
                _, original = self._seen(on, job_key, what_if.original, what_if.copied_at)
                box = Box.model_validate_json(found.revision.body).model_copy(update={"id": what_if.original})
                body = box.model_dump_json(exclude_none=True)
                new = revising.add_edit(on, original.revision, body, "What was tried out is kept")
                self._changed(on, kept, original, new, box)
            gone = update(DocumentRow).where(DocumentRow.id == found.revision.document)
            on.execute(gone.values(gone=revising.now()))
            return what_if.original

    def _seen(self, on: Connection, job_key: str, box_key: str, seen: int) -> tuple[KeptJob, Found]:
        """The newest revision, where it is the one the person was looking at."""
        kept, found = self._newest(on, job_key, box_key)
        if found.revision.number != seen:
            raise Stale
        return kept, found

    def _newest(self, on: Connection, job_key: str, box_key: str) -> tuple[KeptJob, Found]:
        found = revising.newest_box(on, job_key, box_key)
        if found is None:
            raise Missing("expected one of the boxes of this job")
        return self._shelf(on, job_key, found.job, found.shelf), found

    def _changed(self, on: Connection, kept: KeptJob, found: Found, new: Revision, box: Box) -> KeptBox:
        """The box at its new revision, its summary brought up to date."""
        changed = self._kept_box(on, kept, Found(found.job, found.shelf, found.beside, new), box)
        if found.beside.copy_of is None:
            revising.update_summary(on, new.document, self._summary(changed.check))
        return changed

    def _kept_box(self, on: Connection, kept: KeptJob, found: Found, box: Box | None = None) -> KeptBox:
        revision, beside = found.revision, found.beside
        box = box or Box.model_validate_json(revision.body)
        marks = zip(MARKS, (beside.as_found, beside.as_planned, beside.as_built), strict=True)
        return KeptBox(
            job=kept,
            box=box,
            number=revision.number,
            can_undo=revision.back is not None,
            can_redo=revision.forth is not None,
            history=revising.steps(on, revision.document, MOST_STEPS),
            check=check_box(box, kept.sheets, kept.head.terms_at(box)),
            marks={name: number for name, number in marks if number is not None},
            what_if=self._what_if(on, found),
            copy=beside.copy,
        )

    def _what_if(self, on: Connection, found: Found) -> WhatIf | None:
        if found.beside.copy_of is None:
            return None
        d = DocumentRow
        key, number = on.execute(select(d.key, d.head).where(d.id == found.beside.copy_of)).one()
        box = Box.model_validate_json(revising.at(on, found.beside.copy_of, number).body)
        return WhatIf(key, found.beside.copied_at or 1, number, box)


def on_a_circuit(edit: Edit, kept: KeptJob) -> Edit:
    """The edit, unless it hangs the box on a circuit the job does not have."""
    if wrong := off_circuit(edit.box, kept.head.circuits):
        raise Refused(f"expected one of the job's circuits; {wrong}", "circuit")
    return edit
