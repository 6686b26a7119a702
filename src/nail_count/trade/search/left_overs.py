"""Where a device that is left over would hold: in place of one that is still to be bought, tried on the job itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..edits.base import Edit
from ..model.answer import State
from ..model.box import Box, Device
from ..model.job import Job
from ..plan.parts.devices import coming
from ..rules.check import BoxCheck
from .in_gangs import devices
from .move import Move
from .scene import Scene
from .site import Site


@dataclass(frozen=True, slots=True)
class Holds:
    """A place where it would hold."""

    box: Box
    device: Device
    """The plan there, and need not be bought then."""
    words: str
    check: BoxCheck
    """The box with it: every check of it passes, or is as open as it was."""
    edits: tuple[Edit, ...]


def would_hold(job: Job, sheet: str) -> tuple[Holds, ...]:
    """Every place of a job where a device of this sheet would hold in place of one that is still to be bought.

    It does what was wished there; the box, its circuits, and all that it touches pass every check they passed before;
    where the plan has a hook-up, it was proven again.

    Args:
        job: the whole house.
        sheet: of the leftovers.
    """
    return tuple(_would_hold(job, sheet))


def _would_hold(job: Job, sheet: str) -> Iterator[Holds]:
    for box in job.boxes:
        planned = [one for one in coming(box) if isinstance(one, Device) and one.sheet != sheet]
        if not planned:
            continue
        moves = [one for one in devices(Site(job, box.id)) if isinstance(one, Move) and one.parts == (sheet,)]
        for device in planned:
            move = next((one for one in moves if (box.id, device.id) in one.items), None)
            found = _tried(Scene(job, box.id, (move,)), box, device, move) if move is not None else None
            if found is not None:
                yield found


def _tried(scene: Scene, box: Box, device: Device, move: Move) -> Holds | None:
    plan = frozenset((0,))
    if not scene.outcome(plan).holds:
        return None
    documents, unproven = scene.proven(plan)
    check = scene.check_after(documents, box.id)
    if unproven or check.state is State.FAILS or move.look:
        return None
    return Holds(box, device, move.words, check, tuple(scene.edits(plan)))
