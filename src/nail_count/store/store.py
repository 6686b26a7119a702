"""Everything that is kept: acts, trials, whole jobs. Every act is one commit, whole or not at all."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from pathlib import Path
from typing import TypeVar

from sqlalchemy import Connection, Engine, select, update

from ..trade.documents import DocumentId
from ..trade.edits.base import Edit
from ..trade.model.job import Job
from . import acts, boxes, revisions
from .acts import NOTHING_SEEN, Seen
from .archived import Archives
from .bodies import read_box
from .changes import Changes
from .commit import Committed
from .incoming import Incoming, put, remove_broken_off
from .kept_documents import KeptDocuments
from .reading import KeptRead
from .revisions import Direction
from .session import TRIAL, Session, trial_key
from .snapshots import (
    BoxSnapshot,
    CannotBeRead,
    Done,
    JobSnapshot,
    NotFound,
)  # fmt: skip
from .summaries import NOT_RECKONED, put_summary
from .tables import DocumentRow, JobRow, RevisionRow, SummaryRow
from .tokens import Tokens

_D = DocumentRow
T = TypeVar("T")


class Store(KeptRead):
    """Everything that is kept."""

    def __init__(self, engine: Engine) -> None:
        super().__init__(Session(engine))
        self.archives = Archives(self._session)
        self.changes = Changes(self._session)
        self.tokens = Tokens(self._session)
        remove_broken_off(self._session)
        self._reckon_missing()

    def close(self) -> None:
        """Leaves one whole file, and is done."""
        self._session.close()

    @property
    def file(self) -> Path:
        """Where everything is kept."""
        return self._session.file

    def stop_writing(self, damage: str) -> None:
        """Keep everything as it is from now on, because something was found to be damaged."""
        self._session.damage = damage

    def copy_to(self, to: Path) -> None:
        """Copy everything into one new file, whole, while others go on. Raises sqlite3.Error."""
        self._session.copy_to(to)

    # acts

    def act(self, job: str, edit: Edit, seen: Seen = NOTHING_SEEN, token: str = "", mend: bool = False) -> Done:
        """Does an edit, as one change.

        Args:
            job: which job; or a trial of it, which changes copies.
            seen: the revisions the person was looking at.
            token: of the form it came from; one that was done already is not done again, and gets the answer it got.
            mend: leave out of boxes what would no longer fit, instead of refusing.

        Raises:
            NotFound: no such job or document.
            Rejected: it cannot be done; it says what was expected, at which field.
            EditConflict: something is no longer at the revision seen.
            DoesNotFit: something would no longer fit.
        """
        with self._session.acting(job, token) as (on, at, before):
            return (
                _done_with(on, before)
                if before
                else _done(acts.do(self._session, on, at, edit=edit, seen=seen, token=token, mend=mend))
            )

    def act_on_box(
        self,
        job: str,
        box: str,
        edit: Edit,
        *,
        seen: int | None = None,
        token: str = "",
        mend: bool = False,
        wired: bool = False,
    ) -> BoxSnapshot:
        """As [act][Store.act], seen at one box: the box after it; `wired`: with what it is wired together with."""
        with self._session.acting(job, token) as (on, at, before):
            shown = NOTHING_SEEN if seen is None else {DocumentId("box", box): seen}
            done = None if before else acts.do(self._session, on, at, edit=edit, seen=shown, token=token, mend=mend)
            return self._after(on, at, box, done, wired)

    def step(
        self, job: str, id: DocumentId, seen: int, *, way: Direction, token: str = "", mend: bool = False
    ) -> Done | None:
        """Takes back, or brings back, the newest change that touched a document, whole; None where there is none.

        Raises:
            NotFound: no such job or document.
            EditConflict: the document is no longer at the revision seen; or another one the change touched has
                changed since, which is named.
            DoesNotFit: something would no longer fit, and `mend` is false.
        """
        with self._session.acting(job, token) as (on, at, before):
            if before:
                return _done_with(on, before)
            stepped = acts.step(self._session, on, at, id=id, seen=seen, way=way, token=token, mend=mend)
            return None if stepped is None else _done(stepped)

    def step_on_box(
        self, job: str, box: str, seen: int, *, way: Direction, token: str = "", mend: bool = False, wired: bool = False
    ) -> BoxSnapshot:
        """As [step][Store.step], seen at one box: the box after it; `wired`: with what it is wired together with."""
        with self._session.acting(job, token) as (on, at, before):
            id = DocumentId("box", box)
            done = (
                None if before else acts.step(self._session, on, at, id=id, seen=seen, way=way, token=token, mend=mend)
            )
            return self._after(on, at, box, done, wired)

    def take_back(
        self, job: str, box: str, seen: int, *, number: int, token: str = "", mend: bool = False
    ) -> BoxSnapshot:
        """Takes a box back to an earlier step, as a new one. Raises as [step][Store.step] does."""
        with self._session.acting(job, token) as (on, at, before):
            done = (
                None
                if before
                else acts.take_back(self._session, on, at, box=box, seen=seen, number=number, token=token, mend=mend)
            )
            return self._after(on, at, box, done)

    # trials

    def try_out(self, job: str, box: str) -> str:
        """A trial begun at a box: the key of the job under it. The one that is open already, where one is."""
        with self._session.writing() as on:
            at = self._session.job(on, job)
            KeptDocuments(on, at).there(DocumentId("box", box))
            if at.trial:
                return at.key
            return at.trials.get(box) or acts.begin_trial(self._session, on, at, box)

    def end_trial(self, job: str, seen: Seen, accept: bool, token: str = "", mend: bool = False) -> str:
        """Keeps what was tried, as one change of the job itself, or throws it away; the key of the job.

        Raises:
            NotFound: no such trial.
            EditConflict: it has changed since it was shown, or an original since it was copied; which is named, and
                nothing was done.
            DoesNotFit: the trial would no longer fit the job, and `mend` is false.
        """
        base, _, _ = job.partition(TRIAL)
        with self._session.acting(base, token) as (on, _, before):
            if before:
                return base
            trial = self._session.job(on, job)
            if not trial.trial:
                raise NotFound("This is no what-if")
            kept = None
            if accept:
                acts.refuse_conflict(KeptDocuments(on, trial), seen)
                kept = acts.keep_trial(self._session, on, trial, token, mend)
            acts.end_trial(self._session, on, trial, kept.change if kept else None)
            return trial.base

    # whole jobs

    def add_job(self, job: Job, key: str | None = None, token: str = "") -> str:
        """Keeps a whole job as a new one; its key, made from the name where none is given.

        One whose token is known is not kept again: its key is told.
        """
        return self.put_in(Incoming.of_job(job), key, token)

    def put_in(self, incoming: Incoming, key: str | None = None, token: str = "") -> str:
        """Keep a job that was worked out elsewhere, as [add_job][Store.add_job] does, and return its key."""
        return put(self._session, incoming, key, token)

    def has_job(self, key: str) -> bool:
        """Whether a job has this key."""
        with self._session.reading() as on:
            return on.scalar(select(JobRow.id).where(JobRow.key == key)) is not None

    def remove_job(self, key: str, back: bool = False) -> None:
        """Takes a job out of the list, or brings it back; everything in it stays. Raises [NotFound][]."""
        with self._session.writing() as on:
            of_job = update(JobRow).where(JobRow.id == self._session.job(on, key).id)
            on.execute(of_job.values(deleted_at=None if back else revisions.now()))

    def _after(
        self, on: Connection, before: JobSnapshot, box: str, done: Committed | None, wired: bool = False
    ) -> BoxSnapshot:
        """A box after an act; None: it was done before, or there was nothing to be done."""
        if done is None:
            return boxes.box_snapshot(on, before, box, wired=wired)
        found, check = done.written.get(DocumentId("box", box)), done.checks.get(box)
        if done.house_changed:
            return boxes.box_snapshot(
                on, self._session.job(on, before.key), box, wired=wired, documents=None, found=found, check=check
            )
        return boxes.box_snapshot(on, before, box, wired=wired, documents=done.documents, found=found, check=check)

    def _reckon_missing(self) -> None:
        """Reckons what lists show for boxes kept before the lists showed it."""
        missing = select(JobRow.key, _D.id, _D.trial_id).select_from(_D).join(JobRow).join(SummaryRow)
        missing = missing.where(SummaryRow.todo == NOT_RECKONED, _D.deleted_at.is_(None), JobRow.began.is_(None))
        with self._session.reading() as on:
            if on.execute(missing.limit(1)).one_or_none() is None:
                return
        with self._session.writing() as on:
            for job, document, trial in on.execute(missing).all():
                with suppress(CannotBeRead, NotFound):  # one that cannot be read says so on its page
                    at = self._session.job(on, trial_key(job, trial))
                    put_summary(on, document, at.check(read_box(revisions.found(on, document))))


def _done(done: Committed) -> Done:
    return _of_documents(done.change, tuple(done.written))


def _done_with(on: Connection, change: int) -> Done:
    """What an act did that was done before."""
    touched = select(RevisionRow.document_id).where(RevisionRow.change_id == change).order_by(RevisionRow.number)
    return _of_documents(change, tuple(revisions.found(on, row).which for row in on.scalars(touched).all()))


def _of_documents(change: int, documents: Sequence[DocumentId]) -> Done:
    return Done(
        change,
        tuple(id.key for id in documents if id.kind == "box"),
        tuple(id.key for id in documents if id.kind == "sheet"),
    )
