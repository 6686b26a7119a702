"""The box drawn for one step of the ladder: what the step touches is lit, what was done before is drawn as done."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..trade.model.box import Box
from ..trade.model.job import Job
from ..trade.model.splice import End, Splice
from ..trade.plan.install.operations import Op, Operation
from ..trade.plan.install.progress import Done
from ..trade.wiring.hookup.stages import Stage, contents_at, ends_of
from .hookup import HookupDrawing, hookup_drawing
from .titles import titles_of

UNDOES: frozenset[Op] = frozenset(("disconnect", "uncap", "take out", "open others", "take out others"))
"""Work at the old wiring."""
MAKES: frozenset[Op] = frozenset(("join", "add", "close", "cap", "land", "pigtail", "re-mark"))
"""Work at the new wiring."""


@dataclass(frozen=True, slots=True)
class StepDrawing:
    """A box as it is while a step is done."""

    drawn: HookupDrawing
    stage: Stage
    """Whether the old wiring is drawn, or the new."""


def step_drawing(job: Job, box: Box, done: Sequence[Done], at: int) -> StepDrawing | None:
    """Return the box drawn for a step; None where nothing is recorded or planned of what it touches.

    Args:
        job: with the boxes whose loads may hang at this one, wired as usual where nobody entered it.
        box: the box, in that job.
        done: all its steps, with what was ticked.
        at: which step, from 0.
    """
    mine = {op.op for op in done[at].at.operations}
    begun = any(MAKES & {op.op for op in one.at.operations} for one in done[: at + 1])
    stage: Stage = "found" if mine & UNDOES or not begun else "planned"
    splices = tuple(_found(box, done, at) if stage == "found" else _planned(box, done, at))
    whole = contents_at(box, stage).splices
    if not any(splice.ends for splice in whole) or (stage == "found" and box.found is None):
        return None
    ends = ends_of(job, box, stage)
    touched = _touched(done[at].at.operations)
    lit = frozenset(key for key, named in ends.items() if named.end in touched)
    drawn = hookup_drawing(ends, splices, titles_of(job, box, stage), lit=lit)
    return StepDrawing(drawn, stage)


def _touched(operations: Sequence[Operation]) -> frozenset[End]:
    ends = (end.end for op in operations for end in (*op.ends, *((op.beside,) if op.beside else ())))
    return frozenset(ends)


def _found(box: Box, done: Sequence[Done], at: int) -> Iterator[Splice]:
    """The old splices, without what was taken off them."""
    gone = {
        end.end
        for one in done[:at]
        if one.tick is not None
        for op in one.at.operations
        if op.op in UNDOES
        for end in op.ends
    }
    for splice in contents_at(box, "found").splices:
        left = tuple(end for end in splice.ends if end not in gone)
        if left:
            yield splice.changed(ends=left)


def _planned(box: Box, done: Sequence[Done], at: int) -> Iterator[Splice]:
    """The new splices made so far, and the one that is made now."""
    later = {
        op.splice
        for number, one in enumerate(done)
        if number > at and not one.settled
        for op in one.at.operations
        if op.op in MAKES
    }
    return (splice for splice in box.splices if splice.ends and splice.id not in later)
