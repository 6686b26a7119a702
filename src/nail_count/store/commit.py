"""One act is one change: everything it makes is fitted, written and reckoned in one commit, or nothing of it is."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import partial

from sqlalchemy import Connection, insert, select, update

from ..trade.documents import HEAD, DocumentId, Documents
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import JobHead
from ..trade.model.run import BoxEnd, Run
from ..trade.model.thing import Thing
from ..trade.rules.check import BoxCheck
from ..trade.rules.fit.box import DoesNotFit, Misfit, added, fit, mends
from ..trade.rules.fit.run import run_misfits
from . import revisions
from .bodies import read, read_run, written
from .index import put_index
from .kept_documents import KeptDocuments, boxes_of
from .revisions import GONE, Found, Target
from .session import Session
from .snapshots import JobSnapshot
from .summaries import put_summary
from .tables import ChangeRow, DocumentRow, JobRow

_D, _C = DocumentRow, ChangeRow
_ADD = insert(_C)
LONGEST_SENTENCE = 400


@dataclass(frozen=True, slots=True)
class Act:
    """What a change says of itself."""

    sentence: str
    token: str | None = None
    """Of the form it came from; the same token is never done twice."""
    by: str = ""
    """Who did it, as far as that is known."""
    undoes: int | None = None
    """The change it takes back, or brings back."""


@dataclass(frozen=True, slots=True)
class Committed:
    """What was written."""

    change: int
    documents: Documents
    """As they are now; mended where they had to be."""
    written: Mapping[DocumentId, Found]
    checks: Mapping[str, BoxCheck]
    """Of the boxes that were checked again."""
    house_changed: bool
    """Whether the head, a sheet, or which sheets were used last differs from before."""


@dataclass(slots=True)
class Commit:
    """One act on its way."""

    session: Session
    kept: KeptDocuments
    """The documents as they were before."""
    steps: Mapping[DocumentId, Target] = field(default_factory=dict)
    """Documents that go back or forth, and where to; all others are edited."""
    mend: bool = False
    """Leave out of boxes what would no longer fit, instead of refusing."""

    @property
    def on(self) -> Connection:
        """The connection to write to."""
        return self.kept.on

    @property
    def job(self) -> JobSnapshot:
        """As it was before."""
        return self.kept.job

    def write(self, documents: Documents, act: Act) -> Committed:
        """Writes the changed ones of these documents.

        Raises:
            DoesNotFit: something would no longer fit.
        """
        after = self.job.under(documents)
        if after.head is not self.job.head and (wrong := added(self.job.house_misfits, after.house_misfits)):
            raise DoesNotFit(wrong, mendable=False)
        documents, mended = self._fitted(documents, after)
        documents, cut = self._runs_fitted(documents, after)
        used = self._note_used(documents)
        sentence = "; ".join((act.sentence, *mended, *cut))[:LONGEST_SENTENCE]
        change = self._add_change(replace(act, sentence=sentence))
        written = {id: self._write(id, thing, change) for id, thing in documents.changed.items()}
        if HEAD in documents.changed:
            self._place(documents.head)
        reread = any(id.kind in ("head", "sheet") for id in documents.changed)
        if reread:
            self.session.changed_job(self.on, self.job)
        return Committed(change, documents, written, self._reckon(documents, after, written), used or reread)

    def _fitted(self, documents: Documents, after: JobSnapshot) -> tuple[Documents, list[str]]:
        """Return the documents with every box they concern fitting its job, and what each box lost for it."""
        said = []
        for box, was in list(self._concerned(documents, after)):
            wrong = after.misfits(box)
            if wrong and was is not None:
                wrong = added(self.job.misfits(was), wrong)
            if wrong and not self.mend:
                raise DoesNotFit(wrong, f"“{box.name}”: ")
            if wrong:
                mended = fit(box, after.sheets, after.head.circuit_ids, after.boxes)
                documents = documents.with_box(mended.box)
                said.append(f"“{box.name}” mended: {mends(mended.misfits)}")
        return documents, said

    def _runs_fitted(self, documents: Documents, after: JobSnapshot) -> tuple[Documents, list[str]]:
        """The documents with every run they concern ending where something is; what was left out."""
        changed = [thing for id, thing in documents.changed.items() if isinstance(thing, Run)]
        before = Documents(documents.source, {})
        come_or_gone = sorted(self.job.boxes ^ after.boxes)
        near = [run for box in come_or_gone for run in documents.runs_at(box)]
        for id in [id for id in documents.changed if id.kind == "box"]:
            if lost_there := _lost_cables(documents, id):
                near += [run for run in documents.runs_at(id.key) if lost_there & set(run.box_ends)]
        lost = not self.job.head.circuit_ids <= after.head.circuit_ids
        said = []
        for run in {run.id: run for run in (*changed, *near, *(documents.runs() if lost else ()))}.values():
            wrong = run_misfits(run, after.head.circuit_ids, partial(_cables, documents, after.boxes))
            if wrong := added(self._known_misfits(before, run.id), wrong):
                if not self.mend:
                    raise DoesNotFit(wrong)
                documents = documents.with_thing(DocumentId("run", run.id), None)
                said.append(mends(wrong))
        return documents, said

    def _known_misfits(self, before: Documents, key: str) -> tuple[Misfit, ...]:
        """What did not fit of a run before."""
        found = self.kept.found(DocumentId("run", key))
        if found is None or found.revision.body == GONE:
            return ()
        return run_misfits(read_run(found), self.job.head.circuit_ids, partial(_cables, before, self.job.boxes))

    def _concerned(self, documents: Documents, after: JobSnapshot) -> Iterator[tuple[Box, Box | None]]:
        """Every box that might no longer fit, and as it was before, where it was there."""
        changed = {thing.id: thing for thing in documents.changed.values() if isinstance(thing, Box)}
        for key, box in changed.items():
            yield box, documents.source.box(key)
        coming = after.boxes - self.job.boxes - set(changed)
        for key in coming:
            if (back := documents.source.box(key, removed=True)) is not None:
                yield back, None
        sheets = {thing.id for thing in documents.changed.values() if isinstance(thing, Datasheet)}
        lost = not self.job.head.circuit_ids <= after.head.circuit_ids
        if sheets or lost:
            for _, box in boxes_of(self.on, self.job, using=None if lost else sheets):
                if box.id not in changed and box.id in after.boxes:
                    yield box, box

    def _add_change(self, act: Act) -> int:
        values = {
            "job_id": self.job.id,
            "trial_id": self.job.trial,
            "sentence": act.sentence,
            "at": revisions.now(),
            "by": act.by,
            "token": act.token,
            "undoes": act.undoes,
        }
        return revisions.new_id(self.on.execute(_ADD, values))

    def _write(self, id: DocumentId, thing: Thing | None, change: int) -> Found:
        body = written(thing)
        found = self.kept.found(id)
        if found is None:
            where = {"trial_id": self.job.trial, "place": revisions.next_place(self.on, self.job.id, id.kind)}
            first = revisions.add_document(self.on, change, self.job.id, id, body, **where)
            made = Found(id, self.job.trial, None, None, first)
            put_index(self.on, made.row, thing)
            return made
        copied = found.trial != self.job.trial
        if copied:
            found = self._copied(found)
        if id == HEAD:
            found = self._ordered(found)
        step = self.steps.get(id)
        now = found.revision
        new = (
            revisions.add_step(self.on, change, now, step, body)
            if step
            else revisions.add_edit(self.on, change, now, body)
        )
        written_now = replace(found, revision=new)
        was = None if copied or id.kind != "box" else self.kept.box(id.key)
        put_index(self.on, written_now.row, thing, was)
        return written_now

    def _ordered(self, found: Found) -> Found:
        """The head as it is kept; one that does not say its boxes yet says them first, so that undo leads there."""
        if read(JobHead, found.revision).order is not None:
            return found
        change = self._add_change(Act("The boxes as they stood"))
        return replace(found, revision=revisions.add_edit(self.on, change, found.revision, written(self.job.head)))

    def _copied(self, found: Found) -> Found:
        """The copy a trial changes in place of a document."""
        number = found.revision.number
        change = self._add_change(Act(f"What if: a copy of step {number}"))
        more = {"trial_id": self.job.trial, "copy_of": found.row, "copied_at": number}
        new = revisions.add_document(self.on, change, self.job.id, found.which, found.revision.body, **more)
        return Found(found.which, self.job.trial, found.row, number, new)

    def _place(self, head: JobHead) -> None:
        """Brings the plain columns in line with the head: which boxes are here, in which order; the job's name."""
        if self.job.trial:
            return
        self.on.execute(update(JobRow).where(JobRow.id == self.job.id).values(name=head.name))
        place = {key: number for number, key in enumerate(head.order or ())}
        of_job = select(_D.id, _D.key, _D.place, _D.deleted_at)
        for id, key, at, gone in self.on.execute(
            of_job.where(_D.job_id == self.job.id, _D.kind == "box", _D.trial_id == 0)
        ).all():
            new = {"place": place.get(key, at), "deleted_at": None if key in place else gone or revisions.now()}
            if new != {"place": at, "deleted_at": gone}:
                self.on.execute(update(_D).where(_D.id == id).values(new))

    def _note_used(self, documents: Documents) -> bool:
        """Tell whether devices were put into boxes, and keep the sheets they name."""
        put: set[str] = set()
        for id, thing in documents.changed.items():
            if isinstance(thing, Box) and id not in self.steps:
                was = documents.source.box(thing.id)
                known = {device.id for device in was.devices} if was else set()
                put |= {device.sheet for device in thing.devices if device.id not in known}
        if put:
            self.session.note_used(self.on, self.job, put)
        return bool(put)

    def _stays(self, id: DocumentId, box: Box, now: Found) -> bool:
        """Whether a box that was touched is as it was, where it was: what lists show of it holds."""
        was = self.kept.found(id)
        return was is not None and was.row == now.row and self.kept.box(id.key) == box

    def _reckon(
        self, documents: Documents, after: JobSnapshot, written: Mapping[DocumentId, Found]
    ) -> dict[str, BoxCheck]:
        """What lists show of every box that is judged differently now."""
        boxes = {
            written[id].row: box
            for id, box in documents.changed.items()
            if isinstance(box, Box) and not self._stays(id, box, written[id])
        }
        sheets = {thing.id for thing in documents.changed.values() if isinstance(thing, Datasheet)}
        other_terms = _judged_by(self.job.head) != _judged_by(after.head)
        if sheets or other_terms:
            for removed in (False, True):
                for found, box in boxes_of(self.on, self.job, removed, None if other_terms else sheets):
                    boxes.setdefault(found.row, box)
        checks = {}
        for document, box in boxes.items():
            checks[box.id] = after.check(box)
            put_summary(self.on, document, checks[box.id])
        return checks


def _lost_cables(documents: Documents, id: DocumentId) -> set[BoxEnd]:
    """The ends at cables a box had, and has no longer."""
    was, box = documents.source.box(id.key), documents.changed[id]
    letters = {cable.id for cable in box.cables} if isinstance(box, Box) else set()
    had = {cable.id for cable in was.cables} if was else set()
    return {BoxEnd(box=id.key, cable=letter) for letter in had - letters}


def _cables(documents: Documents, boxes: frozenset[str], key: str) -> frozenset[str] | None:
    """The letters of a box's cables; None where the job has no such box."""
    if key not in boxes:
        return None
    changed = documents.changed.get(DocumentId("box", key))
    box = changed or documents.source.box(key) or documents.source.box(key, removed=True)
    return frozenset(cable.id for cable in box.cables) if isinstance(box, Box) else None


def _judged_by(head: JobHead) -> tuple[object, ...]:
    """What every box of a house is judged by: its terms, and the volts across each breaker."""
    return head.terms, {circuit.id: (circuit.poles, circuit.serves) for circuit in head.circuits}
