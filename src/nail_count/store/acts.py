"""Acts as they come from pages: edits, steps back and forth, what was tried. The conflict check is here, once."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import Connection, func, insert, select, update

from ..trade.documents import DocumentId, Documents
from ..trade.edits.base import Edit
from ..trade.model.job import JobHead
from ..trade.model.thing import Thing
from . import revisions
from .bodies import read_any, read_box
from .commit import Act, Commit, Committed
from .kept_documents import KeptDocuments
from .revisions import GONE, Direction, Found, Revision, Target
from .session import Session, trial_key
from .snapshots import EditConflict, JobSnapshot, NotFound
from .tables import ChangeRow, DocumentRow, RevisionRow, TrialRow

_C, _D, _R, _T = ChangeRow, DocumentRow, RevisionRow, TrialRow
Seen = Mapping[DocumentId, int]
"""The revisions a form showed."""
NOTHING_SEEN: Seen = {}


def do(
    session: Session, on: Connection, job: JobSnapshot, *, edit: Edit, seen: Seen, token: str = "", mend: bool = False
) -> Committed:
    """Does an edit. Raises Rejected, EditConflict, DoesNotFit."""
    kept = KeptDocuments(on, job)
    refuse_conflict(kept, seen)
    edited = edit.apply(Documents(kept, {}))
    return Commit(session, kept, mend=mend).write(edited.documents, Act(edited.sentence, token or None))


def refuse_conflict(kept: KeptDocuments, seen: Seen) -> None:
    """The one check that what a person was looking at is still so.

    Raises:
        NotFound: it is not there at all.
        EditConflict: it has changed since.
    """
    for id, number in seen.items():
        found = kept.there(id)
        if found.revision.number != number:
            raise EditConflict(came_since(kept.on, found))


def step(
    session: Session,
    on: Connection,
    job: JobSnapshot,
    *,
    id: DocumentId,
    seen: int,
    way: Direction,
    token: str = "",
    mend: bool = False,
) -> Committed | None:
    """Takes back, or brings back, the newest change that touched a document, whole; None where there is none.

    Raises:
        EditConflict: the document is no longer at the revision seen; or another one the change touched has
            changed since, which is named.
        DoesNotFit: something would no longer fit.
    """
    kept = KeptDocuments(on, job)
    refuse_conflict(kept, {id: seen})
    now = kept.there(id).revision
    first = revisions.target(on, now, way)
    if first is None:
        return None
    source = now if way == "undo" else first.state
    change = revisions.at(on, now.document, source.source_revision).change
    done = on.scalar(select(func.count()).where(_C.undoes == change)) or 0
    stands = done % 2 == (way == "redo")  # whether the change as a whole is still to be taken back, or brought back
    documents, steps = Documents(kept, {}), {}
    for found in _touched(on, change):
        target = _target_of(on, found, change, way)
        if target is not None:
            documents = documents.with_thing(found.which, _read(found, target.state, job))
            steps[found.which] = target
        elif stands and _is_in_the_way(on, found, change):
            raise EditConflict(came_since(on, found))
    for found in _mended_by(on, now.change, change):
        if target := revisions.target(on, found.revision, "undo"):
            documents = documents.with_thing(found.which, _read(found, target.state, job))
            steps[found.which] = target
    said = on.scalar(select(_C.sentence).where(_C.id == change))
    act = Act(f"{'Undone' if way == 'undo' else 'Redone'}: {said}", token or None, undoes=change)
    return Commit(session, kept, steps, mend).write(documents, act)


def take_back(
    session: Session,
    on: Connection,
    job: JobSnapshot,
    *,
    box: str,
    seen: int,
    number: int,
    token: str = "",
    mend: bool = False,
) -> Committed:
    """Takes a box back to an earlier step, as a new one. Raises as [step][]; NotFound where it has no such step."""
    id, kept = DocumentId("box", box), KeptDocuments(on, job)
    refuse_conflict(kept, {id: seen})
    found = kept.there(id)
    if not 1 <= number <= found.revision.number:
        raise NotFound("Pick one of the steps of this box")
    then = revisions.at(on, found.row, number)
    documents = Documents(kept, {id: read_box(found, then)})
    sentence = f"Taken back to step {number}: {revisions.sentence_of(on, then)}"
    return Commit(session, kept, mend=mend).write(documents, Act(sentence, token or None))


def keep_trial(
    session: Session, on: Connection, trial: JobSnapshot, token: str = "", mend: bool = False
) -> Committed | None:
    """Keeps what was tried as one change of the job itself; None where nothing was.

    Raises:
        EditConflict: an original has changed since it was copied; it is named, and nothing was done.
        DoesNotFit: what was tried would no longer fit the job.
    """
    job = session.job(on, trial.base)
    kept = KeptDocuments(on, job)
    documents = Documents(kept, {})
    of_trial = select(_D.id).where(_D.job_id == job.id, _D.trial_id == trial.trial)
    for document in on.scalars(of_trial.order_by(_D.id)).all():
        copy = revisions.found(on, document)
        original = kept.found(copy.which)
        if (original.revision.number if original else None) != copy.copied_at:
            raise EditConflict(came_since(on, original) if original else "")
        documents = documents.with_thing(copy.which, _read(copy, copy.revision, job))
    if not documents.changed:
        return None
    return Commit(session, kept, mend=mend).write(documents, Act("What was tried out is kept", token or None))


def begin_trial(session: Session, on: Connection, job: JobSnapshot, box: str) -> str:
    """A trial of a job, begun at a box: the key of the job under it."""
    values = {"job_id": job.id, "about": box, "started": revisions.now()}
    trial = revisions.new_id(on.execute(insert(_T), values))
    session.changed_job(on, job)
    return trial_key(job.base, trial)


def end_trial(session: Session, on: Connection, trial: JobSnapshot, kept_by: int | None) -> None:
    """A trial is over: kept by a change, or thrown away."""
    ended = update(_T).where(_T.id == trial.trial)
    on.execute(ended.values(ended_at=revisions.now(), kept_by=kept_by))
    session.changed_job(on, trial)


def came_since(on: Connection, found: Found) -> str:
    """What changed a document last, in words."""
    name = ""
    if found.which.kind == "box" and found.revision.body != GONE:
        name = f"“{read_box(found).name}”: "
    return f"{name}{revisions.sentence_of(on, found.revision)}"


def _touched(on: Connection, change: int) -> list[Found]:
    """The documents a change touched, each at its newest revision."""
    ids = on.scalars(select(_R.document_id).where(_R.change_id == change).distinct().order_by(_R.document_id)).all()
    return [revisions.found(on, id) for id in ids]


def _mended_by(on: Connection, last: int, change: int) -> list[Found]:
    """What the last step had to leave out of other documents when it took a change back, or brought it back.

    It is put in again together with the change, where nothing came since.
    """
    if on.scalar(select(_C.undoes).where(_C.id == last)) != change:
        return []
    known = {found.row for found in _touched(on, change)}
    return [one for one in _touched(on, last) if one.row not in known and one.revision.change == last]


def _target_of(on: Connection, found: Found, change: int, way: Direction) -> Target | None:
    """Where a document goes when a change is undone or redone; None where it does not stem from the change."""
    now = found.revision
    target = revisions.target(on, now, way)
    if target is None and way == "undo" and found.which.kind == "run":  # a box goes with the head's order
        target = revisions.taken_out(now) if now.body != GONE else None
    if target is None:
        return None
    source = now if way == "undo" else target.state
    stems = revisions.at(on, now.document, source.source_revision).change == change
    return target if stems else None


def _is_in_the_way(on: Connection, found: Found, change: int) -> bool:
    """Whether a document that does not stem from a change any more keeps it from being undone or redone.

    It does not where the change left it as it was, or brought it and nothing came since.
    """
    number = on.scalar(select(_R.number).where(_R.document_id == found.row, _R.change_id == change))
    made = revisions.at(on, found.row, number or 1)
    if made.back is None:
        return found.revision.source_revision != made.number
    return made.body != revisions.at(on, found.row, made.back).body


def _read(found: Found, at: Revision, job: JobSnapshot) -> Thing | None:
    """What a document held at a revision, for it to become so again."""
    thing = read_any(found, at)
    if isinstance(thing, JobHead) and thing.order is None:  # kept before it named its boxes: they stay as they are
        return thing.changed(order=job.head.order)
    return thing
