"""What pages ask of the store: jobs, boxes, revisions. Every change is one commit, whole or not at all."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, Literal

from sqlalchemy import Connection, Engine, func, insert, select, update
from sqlalchemy.exc import IntegrityError

from ..trade.check import BoxCheck, check_box
from ..trade.edits import Edit
from ..trade.model.box import Box
from ..trade.model.complaint import Refused
from ..trade.model.job import Circuit, Job, off_circuit
from ..trade.model.sheet import Sheet
from ..trade.model.thing import Thing
from . import revising
from .kept import BoxCard, Earlier, House, JobCard, JobHead, KeptBox, KeptJob, Missing, Sought, Stale, Summarise
from .naming import free_key, slug
from .revising import Revision
from .tables import DocumentRow, JobRow, SummaryRow

MOST_STEPS = 8
"""How much of a box's history comes with it."""


class Keep:
    """Everything that is kept."""

    def __init__(self, engine: Engine, summarise: Summarise) -> None:
        self._engine = engine
        self._readers = engine.execution_options(reading=True)
        self._summarise = summarise
        self._shelves: dict[int, tuple[int, KeptJob]] = {}

    def jobs(self) -> list[JobCard]:
        """All jobs, newest first, with how many boxes stand how."""
        with self._reading() as on:
            rows = on.execute(select(JobRow.id, JobRow.key, JobRow.name).order_by(JobRow.id.desc())).all()
            counts = on.execute(
                select(DocumentRow.job_id, SummaryRow.state, func.count())
                .join(SummaryRow)
                .where(DocumentRow.gone.is_(None))
                .group_by(DocumentRow.job_id, SummaryRow.state)
            ).all()
        states: dict[int, dict[str, int]] = {}
        for job_id, state, boxes in counts:
            states.setdefault(job_id, {})[state] = boxes
        return [JobCard(key, name, states.get(id, {})) for id, key, name in rows]

    def job(self, key: str) -> KeptJob:
        """A job without its boxes. Raises [Missing][]."""
        with self._reading() as on:
            return self._kept_job(on, key)[0]

    def house(self, key: str, sought: Sought | None = None) -> House:
        """A job with the cards of its boxes, or of those sought, in the job's order. Raises [Missing][].

        As many queries for two hundred boxes as for one: cards are read from plain columns.
        """
        sought = sought or Sought()
        s, d = SummaryRow, DocumentRow
        with self._reading() as on:
            kept, job = self._kept_job(on, key)
            of_job = select(d.key, s.room, s.name, s.circuit, s.gangs, s.state, s.binds, s.rail).join(s)
            of_job = of_job.where(d.job_id == job).order_by(d.place)
            here = of_job.where(d.gone.is_(None))
            for column, wanted in ((s.state, sought.state), (s.circuit, sought.circuit), (s.room, sought.room)):
                if wanted:
                    here = here.where(column == wanted)
            for word in sought.words.split():
                here = here.where((s.name + " " + s.room + " " + s.binds).icontains(word, autoescape=True))
            cards = [BoxCard(*row) for row in on.execute(here)]
            gone = [BoxCard(*row) for row in on.execute(of_job.where(d.gone.is_not(None)))]
            count = select(s.state, s.room, func.count()).join(d).where(d.job_id == job, d.gone.is_(None))
            rows = on.execute(count.group_by(s.state, s.room).order_by(func.min(d.place))).all()
        states: dict[str, int] = {}
        for state, _, boxes in rows:
            states[state] = states.get(state, 0) + boxes
        return House(kept, cards, gone, states, list(dict.fromkeys(room for _, room, _ in rows)))

    def whole_job(self, key: str) -> Job:
        """A job with everything in it, as its file holds it. Raises [Missing][]."""
        with self._reading() as on:
            kept, job = self._kept_job(on, key)
            boxes = tuple(Box.model_validate_json(body) for body in revising.bodies(on, job, "box"))
        head = kept.head
        sheets = tuple(kept.sheets.values())
        return Job(name=head.name, terms=head.terms, circuits=head.circuits, sheets=sheets, boxes=boxes)

    def box(self, job_key: str, box_key: str) -> KeptBox:
        """A box at its newest revision. Raises [Missing][]."""
        with self._reading() as on:
            kept, revision = self._newest(on, job_key, box_key)
            return self._kept_box(on, kept, revision)

    def add_job(self, job: Job, key: str | None = None) -> str:
        """Keeps a whole job as a new one; its key, made from the name where none is given."""
        sheets = {sheet.id: sheet for sheet in job.sheets}
        with self._writing() as on:
            key = key or free_key(slug(job.name) or "job", set(on.scalars(select(JobRow.key))))
            values = {"key": key, "name": job.name, "made": revising.now(), "shelf": 1}
            kept = revising.new_id(on.execute(insert(JobRow), values))
            head = JobHead(name=job.name, terms=job.terms, circuits=job.circuits)
            _start(on, kept, "terms", "terms", 0, head, f"Job “{job.name}” started")
            for place, sheet in enumerate(job.sheets):
                _start(on, kept, "sheet", sheet.id, place, sheet, f"Sheet {sheet.name} added")
            for place, box in enumerate(job.boxes):
                sentence = f"Box “{box.name}” brought in with the job"
                document = _start(on, kept, "box", box.id, place, box, sentence)
                on.execute(
                    insert(SummaryRow), {"document_id": document, **self._summary(check_box(box, sheets, job.terms))}
                )
            return key

    def has_job(self, key: str) -> bool:
        """Whether a job has this key."""
        with self._reading() as on:
            return on.scalar(select(JobRow.id).where(JobRow.key == key)) is not None

    def start_box(self, job_key: str, start: Callable[[str, KeptJob], Edit], name: str) -> str:
        """Keeps a box started from nothing; its key, made from the name. Raises [Missing][]."""
        with self._writing() as on:
            kept, job = self._kept_job(on, job_key)
            taken = on.execute(select(DocumentRow.key, DocumentRow.place).filter_by(job_id=job, kind="box")).all()
            key = free_key(slug(name) or "box", {row.key for row in taken})
            edit = _on_a_circuit(start(key, kept), kept)
            place = max((row.place for row in taken), default=-1) + 1
            document = _start(on, job, "box", key, place, edit.box, edit.sentence)
            check = check_box(edit.box, kept.sheets, kept.head.terms)
            on.execute(insert(SummaryRow), {"document_id": document, **self._summary(check)})
            return key

    def put_circuit(self, key: str, circuit: Circuit) -> None:
        """Puts a circuit into the job, in place of the one with its number where there is one. Raises [Missing][]."""
        with self._writing() as on:
            kept, job = self._kept_job(on, key)
            others = [other for other in kept.head.circuits if other.id != circuit.id]
            more = sorted((*others, circuit), key=lambda one: (len(one.id), one.id))
            head = kept.head.model_copy(update={"circuits": tuple(more)})
            revision = revising.newest_terms(on, job)
            revising.add_edit(on, revision, head.model_dump_json(exclude_none=True), f"Circuit {circuit.id} entered")
            on.execute(update(JobRow).where(JobRow.id == job).values(shelf=JobRow.shelf + 1))

    def remove_box(self, job_key: str, box_key: str, back: bool = False) -> None:
        """Takes a box out of the job, or brings it back; its history stays. Raises [Missing][] where there is none."""
        with self._writing() as on:
            _, job = self._kept_job(on, job_key)
            of_box = update(DocumentRow).where(
                DocumentRow.job_id == job, DocumentRow.kind == "box", DocumentRow.key == box_key
            )
            if not on.execute(of_box.values(gone=None if back else revising.now())).rowcount:
                raise Missing("expected one of the boxes of this job")

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
            kept, revision = self._seen(on, job_key, box_key, seen)
            edit = _on_a_circuit(change(Box.model_validate_json(revision.body), kept), kept)
            body = edit.box.model_dump_json(exclude_none=True)
            new = revising.add_edit(on, revision, body, edit.sentence)
            return self._changed(on, kept, new, edit.box)

    def step(self, job_key: str, box_key: str, seen: int, way: Literal["undo", "redo"]) -> KeptBox:
        """Undoes or redoes one edit, as a new revision; the box as it is where there is nothing to.

        Raises:
            Missing: no such box.
            Stale: the box is no longer at the revision seen.
        """
        with self._writing() as on:
            kept, revision = self._seen(on, job_key, box_key, seen)
            new = revising.add_step(on, revision, way)
            if new is None:
                return self._kept_box(on, kept, revision)
            return self._changed(on, kept, new, Box.model_validate_json(new.body))

    def earlier(self, job_key: str, box_key: str, number: int) -> Earlier:
        """A box as it is, with the steps of its whole history, and as it was at one of them.

        Raises:
            Missing: no such box, or no such step.
        """
        with self._reading() as on:
            kept, revision = self._newest(on, job_key, box_key)
            now = self._kept_box(on, kept, revision)
            steps = revising.steps(on, revision.document, revision.number)
            if not 1 <= number <= revision.number:
                raise Missing("expected one of the steps of this box")
            then = Box.model_validate_json(revising.at(on, revision.document, number).body)
        return Earlier(now, steps, number, check_box(then, kept.sheets, kept.head.terms))

    def take_back(self, job_key: str, box_key: str, seen: int, number: int) -> KeptBox:
        """Takes a box back to an earlier step, as a new revision. Raises as [change_box][Keep.change_box] does."""
        with self._writing() as on:
            kept, revision = self._seen(on, job_key, box_key, seen)
            if not 1 <= number <= revision.number:
                raise Missing("expected one of the steps of this box")
            new = revising.add_return(on, revision, number)
            return self._changed(on, kept, new, Box.model_validate_json(new.body))

    def _seen(self, on: Connection, job_key: str, box_key: str, seen: int) -> tuple[KeptJob, Revision]:
        """The newest revision, where it is the one the person was looking at."""
        kept, revision = self._newest(on, job_key, box_key)
        if revision.number != seen:
            raise Stale
        return kept, revision

    def _newest(self, on: Connection, job_key: str, box_key: str) -> tuple[KeptJob, Revision]:
        found = revising.newest_box(on, job_key, box_key)
        if found is None:
            raise Missing("expected one of the boxes of this job")
        job, shelf, revision = found
        return self._shelf(on, job_key, job, shelf), revision

    def _changed(self, on: Connection, kept: KeptJob, revision: Revision, box: Box) -> KeptBox:
        """The box at its new revision, its summary brought up to date."""
        found = self._kept_box(on, kept, revision, box)
        revising.update_summary(on, revision.document, self._summary(found.check))
        return found

    def _kept_box(self, on: Connection, kept: KeptJob, revision: Revision, box: Box | None = None) -> KeptBox:
        box = box or Box.model_validate_json(revision.body)
        history = revising.steps(on, revision.document, MOST_STEPS)
        can_undo, can_redo = revision.back is not None, revision.forth is not None
        check = check_box(box, kept.sheets, kept.head.terms)
        return KeptBox(kept, box, revision.number, can_undo, can_redo, history, check)

    def _summary(self, check: BoxCheck) -> dict[str, Any]:
        said, box = self._summarise(check), check.box
        return {
            "room": box.room,
            "name": box.name,
            "circuit": box.circuit,
            "gangs": box.enclosure.gangs,
            "state": said.state.word,
            "binds": said.binds,
            "rail": said.rail,
        }

    def _kept_job(self, on: Connection, key: str) -> tuple[KeptJob, int]:
        """The job without its boxes, and its id."""
        row = on.execute(select(JobRow.id, JobRow.shelf).where(JobRow.key == key)).one_or_none()
        if row is None:
            raise Missing("expected one of the jobs kept here")
        return self._shelf(on, key, row.id, row.shelf), row.id

    def _shelf(self, on: Connection, key: str, job: int, shelf: int) -> KeptJob:
        """Terms and sheets of a job; parsed again only when one of them has changed."""
        known = self._shelves.get(job)
        if known is None or known[0] != shelf:
            head = JobHead.model_validate_json(revising.bodies(on, job, "terms")[0])
            sheets = (Sheet.model_validate_json(body) for body in revising.bodies(on, job, "sheet"))
            known = self._shelves[job] = (shelf, KeptJob(key, head, {sheet.id: sheet for sheet in sheets}))
        return known[1]

    @contextmanager
    def _reading(self) -> Iterator[Connection]:
        with self._readers.connect() as on:
            yield on

    @contextmanager
    def _writing(self) -> Iterator[Connection]:
        try:
            with self._engine.begin() as on:
                yield on
        except IntegrityError as wrong:
            raise Stale from wrong


def _on_a_circuit(edit: Edit, kept: KeptJob) -> Edit:
    """The edit, unless it hangs the box on a circuit the job does not have."""
    if wrong := off_circuit(edit.box, kept.head.circuits):
        raise Refused(f"expected one of the job's circuits; {wrong}", "circuit")
    return edit


def _start(on: Connection, job: int, kind: str, key: str, place: int, thing: Thing, sentence: str) -> int:
    """A document with its first revision; its id."""
    return revising.add_document(on, job, kind, key, place, thing.model_dump_json(exclude_none=True), sentence)
