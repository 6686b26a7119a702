"""What the screen of the ladder shows."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

from ....drawing.of_step import StepDrawing, step_drawing
from ....store.snapshots import BoxSnapshot
from ....trade.assume.wired import look_as_usual
from ....trade.plan.install.progress import Done, together
from ...ticking import as_said, said_together


@dataclass(frozen=True)
class InstallView:
    """One step of a box, and all of them."""

    kept: BoxSnapshot
    done: tuple[Done, ...]
    at: int
    """Which is shown, from 0; past the last where all are settled."""
    who: str

    @property
    def one(self) -> Done | None:
        """The step shown."""
        return self.done[self.at] if self.at < len(self.done) else None

    @property
    def key(self) -> tuple[str, ...]:
        """What the step shown is, as pictures name it."""
        return () if self.one is None else (self.one.at.step.kind, *self.one.at.step.subjects)

    @property
    def said(self) -> str:
        """The step shown, as its forms say it."""
        return "" if self.one is None else as_said(self.one.at.step, self.kept.box)

    @cached_property
    def together(self) -> tuple[Done, ...]:
        """The steps that may be done in one go with the one shown, itself first; () where none may."""
        some = together(self.done, self.at)
        return some if len(some) > 1 and some[0] is self.one else ()

    @property
    def said_together(self) -> str:
        """These steps, as their form says them, a line each."""
        return said_together((one.at.step for one in self.together), self.kept.box)

    @property
    def settled(self) -> int:
        """How many of the steps that apply here are done, or were refused."""
        return sum(one.settled for one in self.done if not one.at.idle)

    @property
    def count(self) -> int:
        """How many steps apply here."""
        return sum(not one.at.idle for one in self.done)

    @cached_property
    def on_paper(self) -> tuple[tuple[Done, StepDrawing | None], ...]:
        """Every step that applies here, drawn where it touches a wire, each as if all before it were done."""
        if self.kept.wiring is None:
            return ()
        seen, _ = look_as_usual(self.kept.wiring, self.kept.box.id)
        each = []
        for at, one in enumerate(self.done):
            if one.at.idle:
                continue
            drawn = step_drawing(seen.job, seen.box, self.done, at, in_order=True) if one.at.operations else None
            each.append((one, drawn if drawn and any(end.lit for end in drawn.drawn.ends) else None))
        return tuple(each)

    @cached_property
    def drawing(self) -> StepDrawing | None:
        """The box drawn for the step shown; None where nothing is recorded or planned of what it touches."""
        if self.one is None or self.kept.wiring is None:
            return None
        seen, _ = look_as_usual(self.kept.wiring, self.kept.box.id)
        return step_drawing(seen.job, seen.box, self.done, self.at)
