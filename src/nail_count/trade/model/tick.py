"""Ticks: what was done, when, by whom. Added, never changed; one that was wrong is taken back by another."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from .thing import Id, Mark, Thing

StepKind = Literal[
    "switched off", "locked", "proven dead", "photographed", "clamped", "marked", "taken apart", "trimmed", "joined",
    "tugged", "compared", "folded", "recorded", "energised", "tried by hand", "closed", "set", "bought", "refused",
    "measured",
]  # fmt: skip
"""What kind of step is ticked."""


class Step(Thing):
    """A step of the work, by what it is and what it is about; never by its number."""

    kind: StepKind
    subjects: Annotated[tuple[str, ...], Field(max_length=24)] = ()
    """What of the box it is about: conductors, splices, devices, a stage."""


class Tick(Thing):
    """A step ticked."""

    id: Mark
    box: Id
    step: Step
    at: datetime
    by: Annotated[str, Field(max_length=60)] = ""
    """Who, as they called themselves; "" where nobody said."""
    because: Annotated[str, Field(max_length=200)] = ""
    """Of a step refused: why."""
    takes_back: Mark | None = None
    """The tick that no longer holds."""
