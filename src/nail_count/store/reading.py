"""Read for the pages: lists, boxes, sheets, and jobs, whole or in part."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from sqlalchemy import func, select

from ..trade.assume.usual import ends_in
from ..trade.assume.verdict import Verdict, verdict_of
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import Job
from ..trade.model.panel import Circuit, partners
from ..trade.model.run import Run
from ..trade.model.tick import Tick
from ..trade.wiring.identify.weights import NOWHERE
from . import boxes, datasheets, houses, ticks
from .attachments import KeptBeside
from .houses import Pick
from .kept_documents import KeptDocuments, boxes_of, some_boxes
from .snapshots import (
    BoxFilter,
    BoxSnapshot,
    DatasheetSnapshot,
    Earlier,
    Effect,
    House,
    JobCard,
    JobSnapshot,
    LeftToSee,
    Outline,
)  # fmt: skip
from .tables import ChangeRow, TickRow

LARGE = 200
"""Boxes of a house, above which moves between places are looked for among those around a box only."""


class KeptRead(KeptBeside):
    """Read from the store: each answer comes from one state of the database."""

    # what pages show

    def jobs(self) -> list[JobCard]:
        """All jobs, newest first, with how many boxes stand how; removed ones too, marked so."""
        with self._session.reading() as on:
            return houses.job_cards(on)

    def job(self, key: str) -> JobSnapshot:
        """A job without its boxes. Raises [NotFound][]."""
        with self._session.reading() as on:
            return self._session.job(on, key)

    def stamp(self, key: str) -> tuple[int, int]:
        """Return a stamp that is another one once anything of a job was changed or ticked. Raises [NotFound][]."""
        with self._session.reading() as on:
            at = self._session.job(on, key)
            changes, ticked = select(func.max(ChangeRow.id)), select(func.max(TickRow.id))
            here = on.scalar(changes.where(ChangeRow.job_id == at.id)), on.scalar(ticked.where(TickRow.job_id == at.id))
        return here[0] or 0, here[1] or 0

    def house(self, key: str, sought: BoxFilter | None = None) -> House:
        """A job with the cards of its boxes, or of those sought, in the job's order. Raises [NotFound][]."""
        with self._session.reading() as on:
            return houses.house(on, self._session.job(on, key), sought or BoxFilter())

    def outline(self, key: str, sought: BoxFilter, pick: Pick) -> Outline:
        """A job with all its boxes in outline, and the cards of those alone that are shown. Raises [NotFound][]."""
        with self._session.reading() as on:
            return houses.outline(on, self._session.job(on, key), sought, pick)

    def left_to_see(self, key: str, pick: Pick) -> LeftToSee:
        """Return the open survey points of a job, and the boxes shown with them. Raises [NotFound][]."""
        with self._session.reading() as on:
            return houses.left_to_see(on, self._session.job(on, key), pick)

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

    def verdicts(self, key: str, boxes: Collection[str]) -> dict[str, Verdict]:
        """How some boxes of a job stand; where something is open, how they stand if wired as usual.

        Raises [NotFound][], and CannotBeRead where one of them, or a run, can't be read.
        """
        with self._session.reading() as on:
            at = self._session.job(on, key)
            runs = KeptDocuments(on, at).runs()
            joined = (run.box_ends for run in runs if any(end.box in boxes for end in run.box_ends))
            around = {*boxes, *(end.box for both in joined for end in both)}
            near = _job_with(at, some_boxes(on, at, sorted(around)), runs)
            ends = ends_in(near)
            return {
                box.id: verdict_of(at.check(box), at.sheets, at.head.terms_at(box), at.volts, ends.get(box.id, NOWHERE))
                for box in near.boxes
                if box.id in boxes
            }

    def box(self, job: str, box: str) -> BoxSnapshot:
        """A box at its newest revision. Raises [NotFound][]."""
        with self._session.reading() as on:
            return boxes.box_snapshot(on, self._session.job(on, job), box)

    def wired_box(self, job: str, box: str) -> BoxSnapshot:
        """A box with every box that is wired together with it, and what was ticked at it. Raises [NotFound][]."""
        with self._session.reading() as on:
            return boxes.box_snapshot(on, self._session.job(on, job), box, wired=True)

    def earlier(self, job: str, box: str, number: int, other: int | None = None) -> Earlier:
        """A box as it is, with its whole history, and as it was at one step, or at two. Raises [NotFound][]."""
        with self._session.reading() as on:
            return boxes.earlier(on, self._session.job(on, job), box, number, other)

    def run_at(self, job: str, box: str, cable: str) -> Run | None:
        """The run that ends at a cable of a box; None where nobody entered where it goes. Raises [NotFound][]."""
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

    def around(self, key: str, box: Box) -> Job:
        """A job with a box, those that share a circuit with it or that a run leads to from it, and those runs.

        Raises [NotFound][].
        """
        with self._session.reading() as on:
            at = self._session.job(on, key)
            kept = KeptDocuments(on, at)
            runs = kept.runs_at(box.id)
            near = {box.id} | {end.box for run in runs for end in run.box_ends}
            keys = [key for key, line in kept.lines().items() if key in near or set(line.circuits) & set(box.circuits)]
            here = some_boxes(on, at, keys)
        return _job_with(at, here, runs)

    def mended_in(self, key: str, kept: BoxSnapshot) -> Job:
        """The job a box is made to hold in: all of the house, or of a large one the part around the box.

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


def _job_with(at: JobSnapshot, boxes: tuple[Box, ...], runs: tuple[Run, ...] = (), done: tuple[Tick, ...] = ()) -> Job:
    return Job(**at.head.shared(), sheets=tuple(at.sheets.values()), boxes=boxes, runs=runs, ticks=done)
