"""Houses as they are kept: which boxes they have, where these are, what feeds them. Every act can be undone."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Literal

from sqlalchemy import Connection, func, insert, select, update

from ..trade.edits.house.base import BoxIndex, HouseEdit
from ..trade.edits.house.boxes import with_box, without_box
from ..trade.edits.registry import Edit
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import JobHead, by_id
from ..trade.rules.check import check_box
from ..trade.rules.fit.box import DoesNotFit, added, fit, mends
from . import revisions
from .boxes import Boxes, written
from .naming import free_key, slug
from .snapshots import BoxCard, BoxFilter, EditConflict, House, JobSnapshot, NotFound
from .tables import DocumentRow, JobRow, RevisionRow, SummaryRow

_D, _S, _R = DocumentRow, SummaryRow, RevisionRow


class Houses(Boxes):
    """The houses of all jobs."""

    def house(self, key: str, sought: BoxFilter | None = None) -> House:
        """A job with the cards of its boxes, or of those sought, in the job's order. Raises [NotFound][].

        As many queries for two hundred boxes as for one: cards are read from plain columns.
        """
        sought = sought or BoxFilter()
        s, d = _S, _D
        with self._reading() as on:
            kept, job = self._kept_job(on, key)
            card = (d.key, s.room, s.name, s.circuit, s.gangs, s.state, s.binds, s.rail, s.todo)
            of_job = select(*card).join(s).where(d.job_id == job, d.copy_of.is_(None)).order_by(d.place)
            here = of_job.where(d.deleted_at.is_(None))
            for column, wanted in ((s.state, sought.state), (s.circuit, sought.circuit), (s.room, sought.room)):
                if wanted:
                    here = here.where(column == wanted)
            if sought.todo:
                here = here.where(s.todo > 0)
            for word in sought.words.split():
                here = here.where((s.name + " " + s.room + " " + s.binds).icontains(word, autoescape=True))
            cards = [BoxCard(*row) for row in on.execute(here)]
            gone = [BoxCard(*row) for row in on.execute(of_job.where(d.deleted_at.is_not(None)))]
            count = select(s.state, s.room, func.count()).join(d)
            count = count.where(d.job_id == job, d.deleted_at.is_(None), d.copy_of.is_(None))
            rows = on.execute(count.group_by(s.state, s.room).order_by(func.min(d.place))).all()
            circuits = dict(self._hanging(on, job))
        states: dict[str, int] = {}
        for state, _, boxes in rows:
            states[state] = states.get(state, 0) + boxes
        return House(kept, cards, gone, states, list(dict.fromkeys(room for _, room, _ in rows)), circuits)

    def start_box(
        self, job_key: str, start: Callable[[str, JobSnapshot], Edit], name: str, after: str | None = None
    ) -> str:
        """Keeps a box started from nothing, behind another where that is named; its key. Raises [NotFound][]."""
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            taken = on.execute(select(_D.key, _D.place).filter_by(job_id=job, kind="box")).all()
            key = free_key(slug(name) or "box", {row.key for row in taken})
            edit = start(key, kept)
            kept.refuse_misfits(edit.box)
            place = max((row.place for row in taken), default=-1) + 1
            document = revisions.add_document(on, job, "box", key, place, written(edit.box), edit.sentence)
            on.execute(insert(_S), {"document_id": document, **self._summary(kept.check(edit.box))})
            head = self._ordered(on, job, kept.head, without=key)
            self._keep_house(on, job, kept, with_box(head, key, edit.sentence, after))
            return key

    def change_house(
        self, key: str, change: Callable[[JobHead, BoxIndex], HouseEdit], seen: int | None = None
    ) -> JobSnapshot:
        """Makes an edit to a house and keeps it as a new revision.

        Args:
            key: which job.
            change: makes the edit from the house as it is; what it raises leaves everything as it was.
            seen: the revision the person was looking at, where the edit depends on it.

        Raises:
            NotFound: no such job.
            EditConflict: the house is no longer at the revision seen.
        """
        with self._writing() as on:
            kept, job = self._kept_job(on, key)
            if seen is not None and seen != kept.number:
                raise EditConflict
            edit = change(self._ordered(on, job, kept.head), self._around(on, job))
            self._keep_house(on, job, kept, edit)
            if edit.head.moved is not None:
                self._move(on, key, edit.head.moved.box, edit.head.moved.before, edit.head.moved.after)
            return self._kept_job(on, key)[0]

    def step_house(self, key: str, seen: int, way: Literal["undo", "redo"], mend: bool = False) -> str:
        """Undoes or redoes one act on a house; what was done, as a sentence, "" where there is nothing to.

        `mend`: leave out of its boxes what would no longer fit.

        Raises:
            NotFound: no such job.
            EditConflict: the house is no longer at the revision seen.
            DoesNotFit: something in the house would no longer fit.
        """
        with self._writing() as on:
            kept, job = self._kept_job(on, key)
            if kept.number != seen:
                raise EditConflict
            now = revisions.newest_terms(on, job)
            target = revisions.step_target(on, now, way)
            if target is None:
                return ""
            head = JobHead.model_validate_json(target.body)
            new = revisions.add_step(on, now, target, way)
            after = kept.with_head(head)
            _fits_as_house(kept, after)
            self._fit_boxes(on, job, kept, after, mend, "in the house as it was")
            moved = kept.head.moved if way == "undo" else head.moved
            if moved is not None:
                rooms = (moved.after, moved.before) if way == "undo" else (moved.before, moved.after)
                self._move(on, key, moved.box, *rooms)
            self._arrange(on, job, head)
            self._rejudge(on, job, kept.head, head)
            return new.sentence

    def remove_box(self, job_key: str, box_key: str) -> None:
        """Takes a box out of the house; its history stays, and undo brings it back. Raises [NotFound][]."""
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            names = self._around(on, job).names
            if box_key not in names:
                raise NotFound("expected one of the boxes of this job")
            head = self._ordered(on, job, kept.head)
            self._keep_house(on, job, kept, without_box(head, box_key, names[box_key]))

    def bring_back(self, job_key: str, box_key: str, mend: bool = False) -> None:
        """Puts a removed box back where it was.

        `mend`: leave out of it what no longer fits.

        Raises:
            NotFound: no such box was removed.
            DoesNotFit: it no longer fits the job.
        """
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            d = _D
            gone = (
                select(d.id, d.latest, d.place, _R.body)
                .join(_R, (_R.document_id == d.id) & (_R.number == d.latest))
                .where(d.job_id == job, d.key == box_key, d.deleted_at.is_not(None))
            )
            row = on.execute(gone.where(d.copy_of.is_(None))).one_or_none()
            if row is None:
                raise NotFound("expected one of the boxes removed from this job")
            head = self._ordered(on, job, kept.head)
            box = Box.model_validate_json(row.body)
            if mend:
                self._mend(on, kept, row.id, box, "to be brought back")
            else:
                kept.refuse_misfits(box)
            self._keep_house(on, job, kept, with_box(head, box_key, f"Box “{box.name}” brought back", at=row.place))

    def _keep_house(self, on: Connection, job: int, kept: JobSnapshot, edit: HouseEdit) -> None:
        now = revisions.newest_terms(on, job)
        before = JobHead.model_validate_json(now.body)
        body = edit.head.model_dump_json(exclude_none=True)
        head = JobHead.model_validate_json(body)  # what could not be read again is never written
        _fits_as_house(kept.with_head(before), kept.with_head(head))
        revisions.add_edit(on, now, body, edit.sentence)
        self._arrange(on, job, head)
        self._rejudge(on, job, before, head)

    def _fit_boxes(
        self, on: Connection, job: int, before: JobSnapshot, after: JobSnapshot, mend: bool, why: str
    ) -> None:
        """Sees that the boxes a house will have fit it, where it loses a circuit or gets boxes back.

        Boxes that do not are mended, or the whole is refused.
        """
        here, coming = set(before.head.order or ()), set(after.head.order or ())
        if before.head.circuit_ids <= after.head.circuit_ids and coming <= here:
            return
        ordered = after.head.order is not None
        for removed in (False, True) if ordered else (False,):
            for document, box in self._boxes(on, job, removed):
                if ordered and box.id not in coming:
                    continue
                try:
                    after.refuse_misfits(box, () if removed else before.misfits(box))
                except DoesNotFit:
                    if not mend:
                        raise
                    self._mend(on, after, document, box, why)

    def _mend(self, on: Connection, kept: JobSnapshot, document: int, box: Box, why: str) -> None:
        """A box with what does not fit left out, as one more revision of it."""
        mended = fit(box, kept.sheets, kept.head.circuit_ids)
        if not mended.misfits:
            return
        revisions.add_edit(
            on, revisions.newest(on, document), written(mended.box), f"Mended, {why}: {mends(mended.misfits)}"
        )
        revisions.update_summary(on, document, self._summary(kept.check(mended.box)))

    def _ordered(self, on: Connection, job: int, head: JobHead, without: str = "") -> JobHead:
        """The head with its order; where it was kept before there was one, read from the columns and kept first.

        So the first act on such a house can be undone like any other.
        """
        if head.order is not None:
            return head
        here = select(_D.key).where(_D.job_id == job, _D.kind == "box", _D.deleted_at.is_(None), _D.copy_of.is_(None))
        keys = tuple(key for key in on.scalars(here.order_by(_D.place)) if key != without)
        ordered = head.model_copy(update={"order": keys})
        body = ordered.model_dump_json(exclude_none=True)
        revisions.add_edit(on, revisions.newest_terms(on, job), body, "The boxes as they stood")
        return ordered

    def _arrange(self, on: Connection, job: int, head: JobHead) -> None:
        """Brings the plain columns in line with the head: which boxes are here, in which order; the job's name."""
        on.execute(
            update(JobRow).where(JobRow.id == job).values(cache_version=JobRow.cache_version + 1, name=head.name)
        )
        if head.order is None:
            return
        place = {key: number for number, key in enumerate(head.order)}
        of_job = select(_D.id, _D.key, _D.place, _D.deleted_at)
        of_job = of_job.where(_D.job_id == job, _D.kind == "box", _D.copy_of.is_(None))
        for id, key, at, gone in on.execute(of_job).all():
            new = {"place": place.get(key, at), "deleted_at": None if key in place else gone or revisions.now()}
            if new != {"place": at, "deleted_at": gone}:
                on.execute(update(_D).where(_D.id == id).values(new))

    def _rejudge(self, on: Connection, job: int, before: JobHead, after: JobHead) -> None:
        """What lists show of every box, reckoned anew where the job is judged under other terms."""
        if (before.terms, _poles(before)) == (after.terms, _poles(after)):
            return
        sheets = by_id(map(Datasheet.model_validate_json, revisions.bodies(on, job, "sheet")))
        for document, box in (*self._boxes(on, job), *self._boxes(on, job, removed=True)):
            check = check_box(box, sheets, after.terms_at(box), after.circuit_ids)
            revisions.update_summary(on, document, self._summary(check))

    def _boxes(self, on: Connection, job: int, removed: bool = False) -> list[tuple[int, Box]]:
        """The boxes of a job, or those removed from it, each with the id of its document."""
        here = select(_D.id, _R.body).join(_R, (_R.document_id == _D.id) & (_R.number == _D.latest))
        here = here.where(_D.job_id == job, _D.kind == "box", _D.copy_of.is_(None))
        here = here.where(_D.deleted_at.is_not(None) if removed else _D.deleted_at.is_(None))
        return [(row.id, Box.model_validate_json(row.body)) for row in on.execute(here.order_by(_D.place))]

    def _move(self, on: Connection, job_key: str, box_key: str, before: str, after: str) -> None:
        """The box into another room, unless somebody has meanwhile said that it is in a third one."""
        found = revisions.newest_box(on, job_key, box_key)
        if found is None:
            return
        box = Box.model_validate_json(found.revision.body)
        if box.room != before:
            return
        kept = self._cached_job(on, job_key, found.job, found.cache_version)
        new = box.changed(room=after)
        revision = revisions.add_edit(on, found.revision, written(new), f"Moved from {before} to {after}")
        self._changed(on, kept, found, revision, new)

    def _around(self, on: Connection, job: int) -> BoxIndex:
        others = func.coalesce(func.json_extract(_R.body, "$.other_circuits"), "[]").label("others")
        of_job = select(_D.key, _S.room, _S.name, _S.circuit, others).join(_S)
        of_job = of_job.join(_R, (_R.document_id == _D.id) & (_R.number == _D.latest)).where(
            _D.job_id == job, _D.deleted_at.is_(None), _D.copy_of.is_(None)
        )
        rows = on.execute(of_job.order_by(_D.place)).all()
        return BoxIndex(
            {row.key: row.room for row in rows},
            {row.key: row.name for row in rows},
            {row.key: tuple(filter(None, (row.circuit, *json.loads(row.others)))) for row in rows},
        )

    def _hanging(self, on: Connection, job: int) -> list[tuple[str, list[tuple[str, str]]]]:
        """What hangs on each circuit: key and name of the boxes."""
        of_job = select(_S.circuit, _D.key, _S.room, _S.name).join(_D)
        of_job = of_job.where(_D.job_id == job, _D.deleted_at.is_(None), _D.copy_of.is_(None), _S.circuit.is_not(None))
        hanging: dict[str, list[tuple[str, str]]] = {}
        for circuit, key, room, name in on.execute(of_job.order_by(_D.place)):
            hanging.setdefault(str(circuit), []).append((key, f"{room}: {name}"))
        return list(hanging.items())


def _poles(head: JobHead) -> dict[str, int]:
    """Of each circuit: both legs make twice the volts."""
    return {circuit.id: circuit.poles for circuit in head.circuits}


def _fits_as_house(before: JobSnapshot, after: JobSnapshot) -> None:
    """Refuses what would make a house not fit together that did, or make it worse."""
    if wrong := added(before.house_misfits, after.house_misfits):
        raise DoesNotFit(wrong, mendable=False)
