"""Sheets as they are kept: changed, taken back, added; with what a change does to the boxes that use them."""

from __future__ import annotations

from typing import Any, Literal

from sqlalchemy import Connection, select, update

from ..trade.compare.answers import answer_changes
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.rules.fit.box import added
from . import revisions
from .boxes import MOST_STEPS
from .houses import Houses
from .naming import free_key, slug
from .revisions import Revision
from .snapshots import DatasheetSnapshot, EditConflict, Effect, JobSnapshot, NotFound
from .tables import DocumentRow, JobRow

_D = DocumentRow


class Datasheets(Houses):
    """The sheets of all jobs."""

    def sheet(self, job_key: str, id: str) -> DatasheetSnapshot:
        """A sheet at its newest revision, with the boxes that use it. Raises [NotFound][]."""
        with self._reading() as on:
            kept, job = self._kept_job(on, job_key)
            return self._kept_sheet(on, kept, job, id)

    def uses(self, job_key: str) -> dict[str, int]:
        """How many boxes use each sheet of a job, by its id. Raises [NotFound][]."""
        with self._reading() as on:
            _, job = self._kept_job(on, job_key)
            counts: dict[str, int] = {}
            for _, box in self._boxes(on, job):
                for sheet in {item.sheet for item in box.equipment}:
                    counts[sheet] = counts.get(sheet, 0) + 1
            return counts

    def effects(self, job_key: str, new: Datasheet) -> tuple[Effect, ...]:
        """What a changed sheet would do to each box that uses it; only where something would be otherwise.

        Raises:
            NotFound: no such job.
            DoesNotFit: a box could not hold it so.
        """
        with self._reading() as on:
            kept, job = self._kept_job(on, job_key)
            return tuple(effect for _, _, effect in self._changed_by(on, kept, job, new) if effect is not None)

    def change_sheet(self, job_key: str, seen: int, new: Datasheet, sentence: str) -> None:
        """Keeps a changed sheet as a new revision, and reckons every box that uses it anew.

        Raises:
            NotFound: no such sheet.
            EditConflict: the sheet is no longer at the revision seen.
            DoesNotFit: a box could not hold it so.
        """
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            now = self._newest_sheet(on, job, new.id)
            if now.number != seen:
                raise EditConflict
            self._put(on, kept, job, new)
            revisions.add_edit(on, now, new.model_dump_json(exclude_none=True), sentence)

    def step_sheet(self, job_key: str, id: str, seen: int, way: Literal["undo", "redo"], mend: bool = False) -> None:
        """Undoes or redoes one change of a sheet; `mend`: leave out of its boxes what would no longer fit.

        Raises as [change_sheet][].
        """
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            now = self._newest_sheet(on, job, id)
            if now.number != seen:
                raise EditConflict
            target = revisions.step_target(on, now, way)
            if target is None:
                return
            new = Datasheet.model_validate_json(target.body)
            if mend:
                self._mend_users(on, kept.with_sheet(new), job, kept, new)
            self._put(on, kept, job, new)
            revisions.add_step(on, now, target, way)

    def start_sheet(self, job_key: str, sheet: Datasheet) -> str:
        """Keeps a new sheet under an id made from its maker and name; its id. Raises [NotFound][]."""
        with self._writing() as on:
            _, job = self._kept_job(on, job_key)
            taken = on.execute(select(_D.key, _D.place).filter_by(job_id=job, kind="sheet")).all()
            key = free_key(slug(f"{sheet.maker} {sheet.name}") or "sheet", {row.key for row in taken})
            named = sheet.model_copy(update={"id": key})
            place = max((row.place for row in taken), default=-1) + 1
            body = named.model_dump_json(exclude_none=True)
            revisions.add_document(on, job, "sheet", key, place, body, f"Sheet {sheet.name} added")
            on.execute(update(JobRow).where(JobRow.id == job).values(cache_version=JobRow.cache_version + 1))
            return key

    def _kept_sheet(self, on: Connection, kept: JobSnapshot, job: int, id: str) -> DatasheetSnapshot:
        now = self._newest_sheet(on, job, id)
        using = [(box.id, f"{box.room}: {box.name}") for _, box in self._boxes(on, job) if _uses(box, id)]
        history = revisions.steps(on, now.document, MOST_STEPS)
        sheet = Datasheet.model_validate_json(now.body)
        return DatasheetSnapshot(
            kept, sheet, now.number, now.back is not None, now.forth is not None, history, tuple(using)
        )

    def _newest_sheet(self, on: Connection, job: int, id: str) -> Revision:
        of_job = select(_D.id, _D.latest).where(
            _D.job_id == job, _D.kind == "sheet", _D.key == id, _D.deleted_at.is_(None)
        )
        row = on.execute(of_job).one_or_none()
        if row is None:
            raise NotFound("expected one of the sheets of this job")
        return revisions.at(on, row.id, row.latest)

    def _changed_by(
        self, on: Connection, kept: JobSnapshot, job: int, new: Datasheet
    ) -> list[tuple[int, dict[str, Any], Effect | None]]:
        """For each box that uses a sheet: its document, what lists show of it, and what becomes otherwise."""
        after = kept.with_sheet(new)
        found: list[tuple[int, dict[str, Any], Effect | None]] = []
        for document, box in self._boxes(on, job):
            if not _uses(box, new.id):
                continue
            after.refuse_misfits(box, kept.misfits(box))
            was, now = kept.check(box), after.check(box)
            lines = answer_changes(was, now)
            effect = Effect(box.id, f"{box.room}: {box.name}", was.state, now.state, lines) if lines else None
            found.append((document, self._summary(now), effect))
        return found

    def _mend_users(self, on: Connection, after: JobSnapshot, job: int, before: JobSnapshot, new: Datasheet) -> None:
        """Leaves out of the boxes that use a sheet what would no longer fit."""
        for document, box in self._boxes(on, job):
            if _uses(box, new.id) and added(before.misfits(box), after.misfits(box)):
                self._mend(on, after, document, box, f"for {new.name} as it was")

    def _put(self, on: Connection, kept: JobSnapshot, job: int, new: Datasheet) -> None:
        """Brings what lists show of the boxes in line with a sheet that is about to be kept."""
        for document, summary, _ in self._changed_by(on, kept, job, new):
            revisions.update_summary(on, document, summary)
        for document, box in self._boxes(on, job, removed=True):
            if _uses(box, new.id):
                revisions.update_summary(on, document, self._summary(kept.with_sheet(new).check(box)))
        on.execute(update(JobRow).where(JobRow.id == job).values(cache_version=JobRow.cache_version + 1))


def _uses(box: Box, sheet: str) -> bool:
    return any(item.sheet == sheet for item in box.equipment)
