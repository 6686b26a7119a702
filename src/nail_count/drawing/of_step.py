"""The box drawn for one step of the ladder.

Whatever the step touches is lit, finished work is drawn as done, old and new devices are told apart, and live wires
are marked.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ..trade.model.box import Box
from ..trade.model.job import Job
from ..trade.model.splice import ConductorEnd, End, GroundEnd, Splice
from ..trade.plan.install.operations import Op, Operation
from ..trade.plan.install.progress import Done
from ..trade.wiring.hookup.graph import graph
from ..trade.wiring.hookup.network import InState, NetworkState
from ..trade.wiring.hookup.stages import Named, Stage, contents_at, ends_of, node_of
from .hookup import DeviceKind, HookupDrawing, Titles, hookup_drawing
from .titles import titles_of

UNDOES: frozenset[Op] = frozenset(
    ("disconnect", "uncap", "take out", "open others", "take out others", "take cable out")
)
"""Work at the old wiring."""
MAKES: frozenset[Op] = frozenset(("join", "add", "close", "cap", "land", "pigtail", "re-mark"))
"""Work at the new wiring."""
KIND_NOTES: Mapping[DeviceKind, str] = {"": "", "old": "old, comes out", "new": "new", "stays": "stays"}
"""The words on a device."""


@dataclass(frozen=True, slots=True)
class StepDrawing:
    """A box as it is while a step is done."""

    drawn: HookupDrawing
    stage: Stage
    """Whether the old wiring is drawn, or the new."""


def step_drawing(job: Job, box: Box, done: Sequence[Done], at: int, *, in_order: bool = False) -> StepDrawing | None:
    """Return the box drawn for a step; None where nothing is recorded or planned of what it touches.

    Args:
        job: with the boxes whose loads may hang at this one, wired as usual where nobody entered it.
        box: the box, in that job.
        done: all its steps, with what was ticked.
        at: which step, from 0.
        in_order: whether every step before counts as done and none after it, as on paper.
    """
    mine = {op.op for op in done[at].at.operations}
    begun = any(MAKES & {op.op for op in one.at.operations} for one in done[: at + 1])
    stage: Stage = "found" if mine & UNDOES or not begun else "planned"
    splices = tuple(_found(box, done, at, in_order) if stage == "found" else _planned(box, done, at, in_order))
    whole = contents_at(box, stage).splices
    if not any(splice.ends for splice in whole) or (stage == "found" and box.found is None):
        return None
    ends = ends_of(job, box, stage)
    touched, cables = _touched(done[at].at.operations), {op.cable for op in done[at].at.operations if op.cable}
    lit = frozenset(key for key, named in ends.items() if named.end in touched or _letter(named.end) in cables)
    live = _live(job, box, ends, stage) if _is_on(done, at) else frozenset()
    return StepDrawing(hookup_drawing(ends, splices, _titles(job, box, stage), live=live, lit=lit), stage)


def _is_on(done: Sequence[Done], at: int) -> bool:
    """Whether the breakers are on while a step is done: before the last is turned off, and after all are on again."""
    off = [number for number, one in enumerate(done) if one.at.step.kind == "switched off"]
    on = [number for number, one in enumerate(done) if one.at.step.kind == "energised"]
    return (bool(off) and at <= off[-1]) or (bool(on) and at > on[0])


def _live(job: Job, box: Box, ends: Mapping[str, Named], stage: Stage) -> frozenset[str]:
    """The keys of the ends that are live with every breaker on and everything switched off."""
    network = graph(job, stage).network
    circuits = frozenset(source.circuit for source in network.sources)
    now = InState(network, NetworkState(circuits, {gear.id: 0 for gear in network.gear}))
    return frozenset(key for key, named in ends.items() if now.hots(node_of(box.id, named.end)))


def _titles(job: Job, box: Box, stage: Stage) -> dict[str, Titles]:
    """What stands at each cable, device and lamp; at a device also whether it comes out, goes in or stays."""
    titles = titles_of(job, box, stage)
    if box.found is None or box.planned is None:
        return titles
    stays = {item.stays if stage == "found" else item.id for item in box.planned.equipment if item.stays}
    for item in contents_at(box, stage).equipment:
        kind: DeviceKind = "stays" if item.id in stays else "old" if stage == "found" else "new"
        titles[item.id] = replace(titles[item.id], kind=kind, note=KIND_NOTES[kind])
    return titles


def _letter(end: End) -> str:
    """The cable an end is of; "" for others."""
    if isinstance(end, ConductorEnd):
        return end.of.rstrip("0123456789")
    return end.cable if isinstance(end, GroundEnd) else ""


def _touched(operations: Sequence[Operation]) -> frozenset[End]:
    ends = (end.end for op in operations for end in (*op.ends, *((op.beside,) if op.beside else ())))
    return frozenset(ends)


def _found(box: Box, done: Sequence[Done], at: int, in_order: bool) -> Iterator[Splice]:
    """The old splices, without what was taken off them."""
    gone = {
        end.end
        for one in done[:at]
        if in_order or one.tick is not None
        for op in one.at.operations
        if op.op in UNDOES
        for end in op.ends
    }
    for splice in contents_at(box, "found").splices:
        left = tuple(end for end in splice.ends if end not in gone)
        if left:
            yield splice.changed(ends=left)


def _planned(box: Box, done: Sequence[Done], at: int, in_order: bool) -> Iterator[Splice]:
    """The new splices made so far, and the one that is made now."""
    later = {
        op.splice
        for number, one in enumerate(done)
        if number > at and (in_order or not one.settled)
        for op in one.at.operations
        if op.op in MAKES
    }
    return (splice for splice in box.splices if splice.ends and splice.id not in later)
