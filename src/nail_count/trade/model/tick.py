"""Ticks: what was done, when, by whom. Added, never changed; one that was wrong is taken back by another."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from .conductor import MOST_VOLTS
from .measure import Number
from .thing import Id, Mark, Moment, Thing

StepKind = Literal[
    "switched off", "locked", "proven dead", "photographed", "clamped", "marked", "taken apart", "taken out", "cabled",
    "trimmed", "joined", "tugged", "compared", "folded", "recorded", "energised", "tried by hand", "closed", "set",
    "joined the hub",
    "named", "updated", "paired", "tried from the hub", "tried over the network",
    "tried without the network", "tried after an outage", "weighed",
    "built", "refused", "measured",
    "bought", "loaded", "used", "returned", "unpacked", "begun", "done",
]  # fmt: skip
"""What kind of step is ticked."""


PartTick = Literal["bought", "loaded", "used", "returned", "unpacked"]
OF_PARTS: frozenset[StepKind] = frozenset(get_args(PartTick))
"""The ticks of parts, so many at a time."""


class Step(Thing):
    """A step of the work, by what it is and what it is about; never by its number."""

    kind: StepKind
    subjects: Annotated[tuple[str, ...], Field(max_length=24)] = ()
    """What of the box it is about: conductors, splices, devices, a stage; of a reading its point and its state."""
    volts: Number | None = None
    """Of a reading: what the meter showed [V]."""
    count: Annotated[int, Field(ge=1, le=100_000)] | None = None
    """Of parts: how many."""

    @model_validator(mode="after")
    def _of_a_reading(self) -> Self:
        if (self.volts is not None) != (self.kind == "measured"):
            raise ValueError("Enter what the meter showed, for a reading only")
        if self.volts is not None and not 0 <= self.volts <= MOST_VOLTS:
            raise ValueError(f"Enter a reading from 0 to {MOST_VOLTS} V")
        if self.kind == "measured" and len(self.subjects) != 2:
            raise ValueError("Name the point of the reading and the state it was taken in")
        if (self.count is not None) != (self.kind in OF_PARTS):
            raise ValueError("Enter how many, for parts only")
        if self.kind in OF_PARTS and len(self.subjects) != 2:
            raise ValueError("Name the part: its kind, and which of its kind")
        return self


class Tick(Thing):
    """A step ticked."""

    id: Mark
    box: Id | None = None
    """None: of the house."""
    step: Step
    at: Moment
    by: Annotated[str, Field(max_length=60)] = ""
    """Who, as they called themselves; "" where nobody gave a name."""
    because: Annotated[str, Field(max_length=200)] = ""
    """Of a step refused: why."""
    takes_back: Mark | None = None
    """The tick that no longer holds."""
    planned: Annotated[str, Field(max_length=24)] | None = None
    """What was planned of it then, put short: it holds as long as that is so. None: not known, or nothing is."""
    scheme: Annotated[int, Field(ge=2, le=99)] | None = None
    """Which way `planned` was put short; None: the first there was."""
    clock: Annotated[int, Field(ge=-(10**9), le=10**9)] | None = None
    """By how much the clock of the device that made it was ahead of the server's [s]; None: it was the server's."""

    @model_validator(mode="after")
    def _of_a_box(self) -> Self:
        if (self.box is None) != (self.step.kind in OF_PARTS):
            raise ValueError("Name the box; only ticks of parts have none")
        return self


def standing(ticks: Iterable[Tick]) -> tuple[Tick, ...]:
    """The ticks that hold: none that was taken back, and none that takes one back."""
    made = tuple(ticks)
    back = {tick.takes_back for tick in made}
    return tuple(tick for tick in made if tick.takes_back is None and tick.id not in back)


def ticked(ticks: Iterable[Tick], box: str) -> tuple[Mapping[Step, Tick], Mapping[Step, Tick]]:
    """What holds of the steps of a box: those done, and those refused; each by its newest tick, one or the other.

    Args:
        ticks: of the job, in the order they were made.
    """
    done: dict[Step, Tick] = {}
    refused: dict[Step, Tick] = {}
    for tick in standing(ticks):
        if tick.box != box:
            continue
        if tick.step.kind == "refused":
            step = refused_step(tick.step)
            refused[step] = tick
            done.pop(step, None)
        else:
            done[tick.step] = tick
            refused.pop(tick.step, None)
    return done, refused


def refusal(step: Step) -> Step:
    """The tick for a step that is not done."""
    return Step(kind="refused", subjects=(step.kind, *step.subjects))


def refused_step(step: Step) -> Step:
    """The step a refusal is about."""
    return Step.model_validate({"kind": step.subjects[0], "subjects": step.subjects[1:]})
