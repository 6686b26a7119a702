"""What an option is, and what it is held against."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal

from ..assume.usual import to_other_switch
from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.edition import EDITIONS
from ..model.job import Job, Terms
from ..model.load import Load
from ..model.run import BoxEnd
from ..model.wish import Wish
from ..rules.check import BoxCheck

OptionKind = Literal["stay", "in the gang", "behind the switch", "at the fixture", "other end", "new cable", "remote"]


@dataclass(frozen=True, slots=True)
class Reason:
    """One thing that speaks for an option, or against it."""

    text: str
    weight: int
    """Above zero for it, below zero against it."""
    rules_out: bool = False
    open: bool = False
    """Whether it leaves open that the option holds."""
    elsewhere: bool = False
    """Whether the option is made for a case that isn't here."""


@dataclass(frozen=True, slots=True)
class Option:
    """One thing that could be done."""

    way: OptionKind
    title: str
    sheet: Datasheet | None
    reasons: tuple[Reason, ...]
    after: BoxCheck | None = None
    """The box with it, asked by every check; None where it was not tried."""
    item: str = ""
    """Id of the device or module in that box."""

    @property
    def possible(self) -> bool:
        """Whether nothing rules it out."""
        return not any(reason.rules_out for reason in self.reasons)

    @property
    def for_other_cases(self) -> bool:
        """Whether it would do here, but is made for something else."""
        return any(reason.elsewhere for reason in self.reasons)

    @property
    def passes(self) -> bool:
        """Whether it was tried, and nothing fails or is left open."""
        return self.possible and not any(reason.open for reason in self.reasons)

    @property
    def score(self) -> int:
        """How well it fits, of those possible."""
        return sum(reason.weight for reason in self.reasons)

    @property
    def speaks_for(self) -> tuple[str, ...]:
        """Everything for it."""
        return tuple(reason.text for reason in self.reasons if reason.weight > 0)

    @property
    def speaks_against(self) -> tuple[str, ...]:
        """Everything against it; what rules it out first."""
        against = [reason for reason in self.reasons if reason.weight <= 0]
        return tuple(reason.text for reason in sorted(against, key=lambda reason: not reason.rules_out))


@dataclass(frozen=True, slots=True)
class Situation:
    """What an option is held against."""

    box: Box
    gang: int
    wish: Wish
    sheets: Mapping[str, Datasheet]
    neutral: bool | None
    """Whether a neutral is in the box; None: not known yet."""
    terms: Terms = field(default_factory=Terms)
    hub: str | None = None
    """What the house has already; None: not asked."""
    end: Literal["line end", "load end", "either"] | None = None
    """Which end of a multi-place pair this box is; None: not known."""
    fixture: Literal["fed there", "three wires", "two wires"] | None = None
    """What a module at the fixture would find there; None: not known."""
    fixture_proven: bool = False
    """Whether that is proven, and not only likely."""
    volts: Mapping[str, int] | None = None
    """Across what each circuit of the job feeds, by its id; None: circuits are not judged."""
    neutral_assumed: bool = False
    """Whether that is only usual of such a box, not looked at."""
    job: Job | None = None
    """The job with its circuits and the other boxes on them; None: what they carry is not judged."""

    @property
    def nec(self) -> bool:
        """Whether an edition of the NEC holds."""
        return EDITIONS[self.terms.code].nec

    def article(self, named: str) -> str:
        """An article of the NEC, behind what it asks for; "" where another code holds, which does not ask it."""
        return f" (NEC {named}, from memory)" if self.nec else ""

    @property
    def beyond(self) -> tuple[Datasheet, ...]:
        """The devices at the other switch of the same light; () where there is none, or it isn't known."""
        other = to_other_switch(self.box) if self.job is not None and self.box.enclosure.gangs == 1 else ""
        if not other or self.job is None:
            return ()
        end = self.job.far_ends.get((self.box.id, other))
        far = next((box for box in self.job.boxes if isinstance(end, BoxEnd) and box.id == end.box), None)
        return tuple(self.sheets[item.sheet] for item in far.devices) if far else ()

    @property
    def ground(self) -> bool:
        """Whether a ground is in the box."""
        return any(cable.grounds for cable in self.box.cables)

    @property
    def standing(self) -> Device | None:
        """What stands in the gang now."""
        return next((device for device in self.box.devices if device.gang == self.gang), None)

    @property
    def loads(self) -> tuple[Load, ...]:
        """The loads it would carry: those asked for, else those that stay when the device is replaced."""
        return self.wish.loads or (self.standing.loads if self.standing else ())

    @property
    def across(self) -> tuple[Box, int] | None:
        """The box at the other end of a pair, and the gang of its one switch there.

        None where no run says it, or more than one might be it, or several switches stand there.
        """
        letters = {cable.id for cable in self.box.entering if cable.insulated >= TRAVELERS_AND_ONE}
        ends = [
            far
            for run in (self.job.runs if self.job else ())
            for letter in letters
            if isinstance(far := run.far_from(self.box.id, letter), BoxEnd)
        ]
        boxes = {box.id: box for box in self.job.boxes if box.use == "control"} if self.job else {}
        there = [boxes[end.box] for end in ends if end.box in boxes]
        if len(there) != 1 or len(there[0].devices) != 1:
            return None
        return there[0], there[0].devices[0].gang


TRAVELERS_AND_ONE = 3
"""Insulated conductors of the cable between the places of a pair: two travelers, and the common or the neutral."""
