"""What pages ask of the store: jobs, houses, boxes, sheets, pictures. Every act is one commit, whole or not at all."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from pathlib import Path
from typing import TypeVar

from pydantic import ValidationError
from sqlalchemy import Connection, Engine, insert, select, update

from ..trade.edits.base import Edit
from ..trade.edits.documents import HEAD, DocumentId, Documents
from ..trade.edits.hookup import wired_with
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import Job, JobHead
from ..trade.model.keys import free_key, slug
from ..trade.model.panel import Circuit, partners
from ..trade.model.run import Run
from ..trade.model.thing import Thing
from ..trade.model.tick import Tick
from ..trade.rules.check import check_job
from . import acts, boxes, datasheets, houses, revisions, ticks
from .acts import NOTHING_SEEN, Seen
from .archived import Archives
from .beside import KeptBeside
from .bodies import read_box, written
from .changes import Changes
from .commit import Committed
from .index import put_index
from .revisions import Way
from .session import Session, trial_key
from .snapshots import (
    BoxFilter,
    BoxSnapshot,
    DatasheetSnapshot,
    Done,
    Earlier,
    Effect,
    House,
    JobCard,
    JobSnapshot,
    NotFound,
)  # fmt: skip
from .sources import KeptDocuments, boxes_of, some_boxes
from .summaries import NOT_RECKONED, put_summary
from .tables import ChangeRow, DocumentRow, JobRow, RevisionRow, SummaryRow, TrialRow
from .tokens import Tokens

_D = DocumentRow
T = TypeVar("T")


LARGE = 200
"""Boxes of a house, above which moves between places are looked for among those around a box only."""


class Store(KeptBeside):
    """Everything that is kept."""

    def __init__(self, engine: Engine) -> None:
        super().__init__(Session(engine))
        self.archives = Archives(self._session)
        self.changes = Changes(self._session)
        self.tokens = Tokens(self._session)
        self._reckon_missing()

    def close(self) -> None:
        """Leaves one whole file, and is done."""
        self._session.close()

    @property
    def file(self) -> Path:
        """Where everything is kept."""
        return self._session.file

    # acts

    def act(self, job: str, edit: Edit, seen: Seen = NOTHING_SEEN, token: str = "", mend: bool = False) -> Done:
        """Does an edit, as one change.

        Args:
            job: which job; or a trial of it, which changes copies.
            edit: what is done.
            seen: the revisions the person was looking at.
            token: of the form it came from; one that was done already is not done again, and gets the answer it got.
            mend: leave out of boxes what would no longer fit, instead of refusing.

        Raises:
            NotFound: no such job or document.
            Rejected: it cannot be done; it says what was expected, at which field.
            EditConflict: something is no longer at the revision seen.
            DoesNotFit: something would no longer fit.
        """
        with self._session.writing() as on:
            at = self._session.job(on, job)
            if done := _done_before(on, at, token):
                return done
            return _done(acts.do(self._session, on, at, edit, seen, token, mend))

    def act_on_box(
        self,
        job: str,
        box: str,
        edit: Edit,
        seen: int | None = None,
        token: str = "",
        mend: bool = False,
        wired: bool = False,
    ) -> BoxSnapshot:
        """As [act][Store.act], seen at one box: the box after it; `wired`: with what it is wired together with."""
        with self._session.writing() as on:
            at, id = self._session.job(on, job), DocumentId("box", box)
            if _done_before(on, at, token):
                kept, after = boxes.box_snapshot(on, at, box), Documents(KeptDocuments(on, at), {})
            else:
                shown = NOTHING_SEEN if seen is None else {id: seen}
                done = acts.do(self._session, on, at, edit, shown, token, mend)
                kept, after = self._after(on, at, box, done), done.documents
            return _wired(on, at, kept, after) if wired else kept

    def step(self, job: str, id: DocumentId, seen: int, way: Way, token: str = "", mend: bool = False) -> Done | None:
        """Takes back, or brings back, the newest change that touched a document, whole; None where there is none.

        Raises:
            NotFound: no such job or document.
            EditConflict: the document is no longer at the revision seen; or another one the change touched has
                changed since, which is named.
            DoesNotFit: something would no longer fit, and `mend` was not said.
        """
        with self._session.writing() as on:
            at = self._session.job(on, job)
            if done := _done_before(on, at, token):
                return done
            stepped = acts.step(self._session, on, at, id, seen, way, token, mend)
            return None if stepped is None else _done(stepped)

    def step_on_box(
        self, job: str, box: str, seen: int, way: Way, token: str = "", mend: bool = False, wired: bool = False
    ) -> BoxSnapshot:
        """As [step][Store.step], seen at one box: the box after it; `wired`: with what it is wired together with."""
        with self._session.writing() as on:
            at, id = self._session.job(on, job), DocumentId("box", box)
            before = _done_before(on, at, token)
            done = None if before else acts.step(self._session, on, at, id, seen, way, token, mend)
            if done is None:
                kept, after = boxes.box_snapshot(on, at, box), Documents(KeptDocuments(on, at), {})
            else:
                kept, after = self._after(on, at, box, done), done.documents
            return _wired(on, at, kept, after) if wired else kept

    def take_back(self, job: str, box: str, seen: int, number: int, token: str = "", mend: bool = False) -> BoxSnapshot:
        """Takes a box back to an earlier step, as a new one. Raises as [step][Store.step] does."""
        with self._session.writing() as on:
            at = self._session.job(on, job)
            if _done_before(on, at, token):
                return boxes.box_snapshot(on, at, box)
            done = acts.take_back(self._session, on, at, box, seen, number, token, mend)
            return self._after(on, at, box, done)

    # trials

    def try_out(self, job: str, box: str) -> str:
        """A trial begun at a box: the key of the job under it. The one that is open already, where one is."""
        with self._session.writing() as on:
            at = self._session.job(on, job)
            KeptDocuments(on, at).there(DocumentId("box", box))
            if at.trial:
                return at.key
            if known := boxes.open_trial(on, at, box):
                return known
            values = {"job_id": at.id, "about": box, "started": revisions.now()}
            return trial_key(at.base, revisions.new_id(on.execute(insert(TrialRow), values)))

    def end_trial(self, job: str, seen: Seen, accept: bool, token: str = "", mend: bool = False) -> str:
        """Keeps what was tried, as one change of the job itself, or throws it away; the key of the job.

        Raises:
            NotFound: no such trial.
            EditConflict: it has changed since it was shown, or an original since it was copied; which is named, and
                nothing was done.
            DoesNotFit: what was tried would no longer fit the job, and `mend` was not said.
        """
        with self._session.writing() as on:
            base, _, _ = job.partition("~")
            if token and _done_before(on, self._session.job(on, base), token):
                return base
            trial = self._session.job(on, job)
            if not trial.trial:
                raise NotFound("expected a what-if")
            kept = None
            if accept:
                acts.refuse_conflict(KeptDocuments(on, trial), seen)
                kept = acts.keep_trial(self._session, on, trial, token, mend)
            acts.end_trial(on, trial, kept.change if kept else None)
            return trial.base

    # what pages show

    def jobs(self) -> list[JobCard]:
        """All jobs, newest first, with how many boxes stand how; removed ones too, said to be so."""
        with self._session.reading() as on:
            return houses.job_cards(on)

    def job(self, key: str) -> JobSnapshot:
        """A job without its boxes. Raises [NotFound][]."""
        with self._session.reading() as on:
            return self._session.job(on, key)

    def house(self, key: str, sought: BoxFilter | None = None) -> House:
        """A job with the cards of its boxes, or of those sought, in the job's order. Raises [NotFound][]."""
        with self._session.reading() as on:
            return houses.house(on, self._session.job(on, key), sought or BoxFilter())

    def some_boxes(self, key: str, boxes: Sequence[str]) -> Job:
        """A job with some of its boxes only, in the order they are named. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, key)
            here = some_boxes(on, at, boxes)
        return _job_with(at, here)

    def with_runs(self, key: str, boxes: Sequence[str]) -> Job:
        """A job with some of its boxes only, and all its runs. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, key)
            return _job_with(at, some_boxes(on, at, boxes), KeptDocuments(on, at).runs())

    def box(self, job: str, box: str) -> BoxSnapshot:
        """A box at its newest revision. Raises [NotFound][]."""
        with self._session.reading() as on:
            return boxes.box_snapshot(on, self._session.job(on, job), box)

    def earlier(self, job: str, box: str, number: int, other: int | None = None) -> Earlier:
        """A box as it is, with its whole history, and as it was at one step, or at two. Raises [NotFound][]."""
        with self._session.reading() as on:
            return boxes.earlier(on, self._session.job(on, job), box, number, other)

    def run_at(self, job: str, box: str, cable: str) -> Run | None:
        """The run that ends at a cable of a box; None where nobody said where it goes. Raises [NotFound][]."""
        with self._session.reading() as on:
            here = KeptDocuments(on, self._session.job(on, job)).runs_at(box)
        return next((run for run in here if run.far_from(box, cable) is not None), None)

    def sheet(self, job: str, id: str) -> DatasheetSnapshot:
        """A sheet at its newest revision, with the boxes that use it. Raises [NotFound][]."""
        with self._session.reading() as on:
            return datasheets.datasheet(on, self._session.job(on, job), id)

    def uses(self, job: str) -> dict[str, int]:
        """How many boxes use each sheet of a job, by its id. Raises [NotFound][]."""
        with self._session.reading() as on:
            return datasheets.use_counts(on, self._session.job(on, job))

    def effects(self, job: str, new: Datasheet) -> tuple[Effect, ...]:
        """What a changed sheet would do to each box that uses it. Raises [NotFound][], DoesNotFit."""
        with self._session.reading() as on:
            return datasheets.effects(on, self._session.job(on, job), new)

    # whole jobs

    def whole_job(self, key: str) -> Job:
        """A job with everything in it, as its file holds it. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, key)
            here = tuple(box for _, box in boxes_of(on, at))
            runs, done = KeptDocuments(on, at).runs(), ticks.of_job(on, at)
        return _job_with(at, here, runs, done)

    def wired(self, job: str, kept: BoxSnapshot) -> BoxSnapshot:
        """A box with every box that is wired together with it, and what was ticked at it. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, job)
            return _wired(on, at, kept, Documents(KeptDocuments(on, at), {}))

    def around(self, key: str, box: Box) -> Job:
        """A job with those boxes only that share a circuit with a box or that a run leads to from it, and those runs.

        Raises [NotFound][].
        """
        with self._session.reading() as on:
            at = self._session.job(on, key)
            kept = KeptDocuments(on, at)
            runs = kept.runs_at(box.id)
            near = {end.box for run in runs for end in run.box_ends}
            keys = [key for key, line in kept.lines().items() if key in near or set(line.circuits) & set(box.circuits)]
            here = some_boxes(on, at, keys)
        return _job_with(at, here, runs)

    def mended_in(self, key: str, kept: BoxSnapshot) -> Job:
        """The job a box is made to hold in: all of the house, or of a large one what is around the box.

        Raises [NotFound][].
        """
        large = len(kept.job.head.order or ()) > LARGE
        return self.around(key, kept.box) if large else self.whole_job(key)

    def on_circuit(self, key: str, circuit: Circuit) -> Job:
        """A job with those boxes only that a circuit, or one it shares a neutral with, feeds or may.

        Raises [NotFound][].
        """
        with self._session.reading() as on:
            at = self._session.job(on, key)
            wanted = {circuit.id, partners(at.head.circuits).get(circuit.id)}
            lines = KeptDocuments(on, at).lines()
            here = some_boxes(on, at, [key for key, line in lines.items() if wanted & set(line.circuits)])
        return _job_with(at, here)

    def add_job(self, job: Job, key: str | None = None, token: str = "") -> str:
        """Keeps a whole job as a new one; its key, made from the name where none is given.

        One whose token is known is not kept again: its key is told.
        """
        # Reckoned before the database is held: a large job takes a while, and others go on meanwhile.
        checks = check_job(job).boxes
        head = JobHead(**job.shared(), order=tuple(box.id for box in job.boxes))
        with self._session.writing() as on:
            if token and (known := on.scalar(select(JobRow.key).join(ChangeRow).where(ChangeRow.token == token))):
                return known
            key = key or free_key(slug(job.name) or "job", set(on.scalars(select(JobRow.key))))
            values = {"key": key, "name": job.name, "made": revisions.now(), "cache_version": 1}
            id = revisions.new_id(on.execute(insert(JobRow), values))
            said = {
                "job_id": id,
                "sentence": f"Job “{job.name}” started",
                "at": revisions.now(),
                "token": token or None,
            }
            change = revisions.new_id(on.execute(insert(ChangeRow), said))

            def start(which: DocumentId, place: int, thing: Thing) -> int:
                row = revisions.add_document(on, change, id, which, written(thing), place=place).document
                put_index(on, row, thing)
                return row

            start(HEAD, 0, head)
            for place, sheet in enumerate(job.sheets):
                start(DocumentId("sheet", sheet.id), place, sheet)
            for place, (box, check) in enumerate(zip(job.boxes, checks, strict=True)):
                put_summary(on, start(DocumentId("box", box.id), place, box), check)
            for place, run in enumerate(job.runs):
                start(DocumentId("run", run.id), place, run)
            for tick in job.ticks:
                ticks.keep(on, id, tick)
            return key

    def has_job(self, key: str) -> bool:
        """Whether a job has this key."""
        with self._session.reading() as on:
            return on.scalar(select(JobRow.id).where(JobRow.key == key)) is not None

    def remove_job(self, key: str, back: bool = False) -> None:
        """Takes a job out of the list, or brings it back; everything in it stays. Raises [NotFound][]."""
        with self._session.writing() as on:
            of_job = update(JobRow).where(JobRow.id == self._session.job(on, key).id)
            on.execute(of_job.values(deleted_at=None if back else revisions.now()))

    def _after(self, on: Connection, before: JobSnapshot, box: str, done: Committed) -> BoxSnapshot:
        at = self._session.job(on, before.key) if done.house_changed else before
        return boxes.box_snapshot(on, at, box, done.written.get(DocumentId("box", box)), done.checks.get(box))

    def _reckon_missing(self) -> None:
        """Reckons what lists show for boxes kept before the lists showed it."""
        missing = select(JobRow.key, _D.id, _D.trial_id).select_from(_D).join(JobRow).join(SummaryRow)
        missing = missing.where(SummaryRow.todo == NOT_RECKONED, _D.deleted_at.is_(None))
        with self._session.reading() as on:
            if on.execute(missing.limit(1)).one_or_none() is None:
                return
        with self._session.writing() as on:
            for job, document, trial in on.execute(missing).all():
                with suppress(ValidationError, NotFound):  # one that cannot be read says so on its page
                    at = self._session.job(on, trial_key(job, trial))
                    put_summary(on, document, at.check(read_box(revisions.found(on, document))))


def _wired(on: Connection, job: JobSnapshot, kept: BoxSnapshot, documents: Documents) -> BoxSnapshot:
    """A box with every box that is wired together with it in these documents, and what was ticked at it."""
    return replace(kept, wiring=wired_with(documents, kept.box), ticks=ticks.of_job(on, job, kept.box.id))


def _job_with(at: JobSnapshot, boxes: tuple[Box, ...], runs: tuple[Run, ...] = (), done: tuple[Tick, ...] = ()) -> Job:
    return Job(**at.head.shared(), sheets=tuple(at.sheets.values()), boxes=boxes, runs=runs, ticks=done)


def _done(done: Committed) -> Done:
    return _of_documents(done.change, tuple(done.written))


def _done_before(on: Connection, job: JobSnapshot, token: str) -> Done | None:
    """What an act with this token did; None where none was done."""
    if not token:
        return None
    change = on.scalar(select(ChangeRow.id).where(ChangeRow.job_id == job.id, ChangeRow.token == token))
    if change is None:
        return None
    touched = select(RevisionRow.document_id).where(RevisionRow.change_id == change).order_by(RevisionRow.number)
    return _of_documents(change, tuple(revisions.found(on, row).which for row in on.scalars(touched).all()))


def _of_documents(change: int, documents: Sequence[DocumentId]) -> Done:
    return Done(
        change,
        tuple(id.key for id in documents if id.kind == "box"),
        tuple(id.key for id in documents if id.kind == "sheet"),
    )
