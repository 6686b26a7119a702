"""A step of the ladder, as the screen shows it, and what tells one."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.job import Job, by_id
from ...model.tick import Step, StepKind
from ...wiring.hookup.look import HookUp
from .names import device_names, names_of
from .operations import Operation, sentence_of

LIVE = ("switched off", "locked", "proven dead", "photographed", "recorded", "set")
"""What may be done before the box is verified dead, readings to tell wires apart among it; nothing else until it is."""
CHECK_WIRING = ("usual wiring",)
"""The subjects of the step that checks what the plan takes for granted."""


@dataclass(frozen=True, slots=True)
class InstallStep:
    """One step, as the screen shows it."""

    step: Step
    title: str
    what: tuple[str, ...]
    """The act, line by line."""
    operations: tuple[Operation, ...] = ()
    """The same as values, in order."""
    caution: str = ""
    idle: str = ""
    """Why it does not apply here; "" where it does."""
    to: str = ""
    """The screen that does it better: wires, hookup; "" for none."""
    missing: bool = False
    """Whether it cannot be done, nor anything after it, until something was recorded or planned."""


class Teller:
    """What tells the steps of one box."""

    def __init__(self, job: Job, seen: HookUp) -> None:
        self.job, self.box, self.seen = job, seen.box, seen
        self.names, self.devices = names_of(job, seen.box), device_names(job, seen.box)
        self.sheets = by_id(job.sheets)

    def step(
        self,
        kind: StepKind,
        title: str,
        *what: str,
        of: tuple[str, ...] = (),
        ops: tuple[Operation, ...] = (),
        caution: str = "",
        idle: str = "",
        to: str = "",
        missing: bool = False,
    ) -> InstallStep:
        """A step; lines with nothing in them are left out."""
        return InstallStep(
            Step(kind=kind, subjects=of), title, tuple(filter(None, what)), ops, caution, idle, to, missing
        )

    def operation(self, op: str, **more: object) -> Operation:
        """Something done in this box."""
        return Operation(op=op, box=self.box.id, **more)  # type: ignore[arg-type]

    def told(
        self, kind: StepKind, title: str, ops: tuple[Operation, ...], *more: str, of: tuple[str, ...] = (), to: str = ""
    ) -> InstallStep:
        """A step whose sentences are those of its operations."""
        return self.step(kind, title, *(sentence_of(op, self.names) for op in ops), *more, of=of, ops=ops, to=to)
