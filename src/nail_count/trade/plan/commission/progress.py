"""How far a device has come: steps done, steps refused, the next step; and steps that come too early."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from ...model.box import Box
from ...model.errors import Rejected
from ...model.tick import Step, StepKind, Tick, ticked
from ..begun import still_so
from .steps import CommissionStep, Form, ToCommission

IN_HUB: frozenset[StepKind] = frozenset(
    ("named", "updated", "paired", "tried from the hub", "tried over the network", "tried without the network")
)
"""What cannot be before a device is in its hub."""
IN_USE: frozenset[StepKind] = IN_HUB | {"joined the hub", "tried after an outage", "weighed", "built"}
"""The steps ticked when a device is brought into use, and nowhere else."""


@dataclass(frozen=True, slots=True)
class DoneStep:
    """A step with what was ticked of it."""

    at: CommissionStep
    tick: Tick | None
    refused: Tick | None
    lapsed: bool
    """Whether it was done for what was planned before."""

    @property
    def settled(self) -> bool:
        """Whether a person goes on to the next."""
        return self.tick is not None or self.refused is not None or bool(self.at.idle)


@dataclass(frozen=True, slots=True)
class DeviceDone:
    """A device, and how far it has come."""

    of: ToCommission
    steps: tuple[DoneStep, ...]

    @property
    def next(self) -> int:
        """Which step comes next, from 0; past the last where all are settled."""
        return next((n for n, one in enumerate(self.steps) if not one.settled), len(self.steps))

    @property
    def settled(self) -> int:
        """How many are settled."""
        return sum(one.settled for one in self.steps)

    @property
    def over(self) -> bool:
        """Whether all of them are."""
        return self.settled == len(self.steps)


IN_ONE_GO: tuple[frozenset[Form], ...] = (frozenset(("setting", "trim")), frozenset(("trial",)))
"""The steps that may be noted together: the settings, and the trials."""


def together(device: DeviceDone, at: int) -> tuple[DoneStep, ...]:
    """Return the steps from one on that may be noted together, in order; () where it is not one of them.

    Args:
        at: the number of the first, from 0.
    """
    first = device.steps[at] if at < len(device.steps) else None
    family = next((one for one in IN_ONE_GO if first is not None and first.at.form in one), frozenset[Form]())
    some: list[DoneStep] = []
    for one in device.steps[at:]:
        if one.settled:
            continue
        if one.at.form not in family:
            break
        some.append(one)
    return tuple(some) if first in some else ()


def is_recorded_as_built(box: Box, ticks: Iterable[Tick]) -> bool:
    """Whether a box is recorded as built. A serial number noted on the way is no such record yet.

    Args:
        ticks: that hold.
    """
    if box.built is None:
        return False
    return not box.built.commissioned or any(one.box == box.id and one.step.kind == "built" for one in ticks)


def progress_of_each(devices: Sequence[ToCommission], ticks: Iterable[Tick], box: Box) -> tuple[DeviceDone, ...]:
    """How far each device of a box has come.

    Args:
        devices: to bring into use, with their steps.
        ticks: of the job, in the order they were made.
        box: as planned.
    """
    known = tuple(ticks)
    ever, _ = ticked(known, box.id)
    done, refused = ticked(still_so(known, box), box.id)

    def tick_of(at: CommissionStep) -> Tick | None:
        # Ticked on the ladder, the serial is still to be noted: without it nothing is on record.
        return None if at.form == "serial" and not at.said else done.get(at.step)

    def done_step(at: CommissionStep) -> DoneStep:
        tick = tick_of(at)
        return DoneStep(at, tick, refused.get(at.step), tick is None and at.step in ever and at.step not in done)

    return tuple(DeviceDone(one, tuple(map(done_step, one.steps))) for one in devices)


def refuse_early(device: DeviceDone, step: Step) -> None:
    """Refuses a tick that comes before what it stands on. Raises Rejected.

    Source: common practice: nothing is named or updated that is in no hub; an update resets what was set.
    """
    settled = {one.at.step.kind: one.settled for one in device.steps}
    if step.kind in IN_HUB and not settled.get("joined the hub", True):
        raise Rejected("Join it to its hub first", "step")
    if step.kind == "set" and not settled.get("updated", True):
        raise Rejected("Note its firmware first: an update resets the settings", "step")
