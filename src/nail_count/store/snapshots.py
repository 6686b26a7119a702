"""What the store hands out, and how it says no."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import NamedTuple

from ..trade.assume.verdict import Verdict, verdict_of
from ..trade.compare.answers import AnswerChange
from ..trade.documents import Documents
from ..trade.model.answer import State
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.job import Job, JobHead, Library, volts_of
from ..trade.model.tick import Tick
from ..trade.rules.check import BoxCheck, check_box
from ..trade.rules.fit.box import DoesNotFit, Misfit, added, fit
from ..trade.rules.fit.house import house_misfits
from ..trade.rules.wires.neutral import Neutral, neutral_in
from ..trade.wiring.identify.weights import FarEnd


class NotFound(LookupError):
    """There is no such job or box."""


class CannotBeRead(Exception):
    """Something kept holds what no version of this program ever wrote."""


class EditConflict(Exception):
    """Somebody, or another tab, has changed something since it was shown; nothing was done.

    `came_since`: what has changed and how, in words; "" where that is not known.
    """

    def __init__(self, came_since: str = "") -> None:
        super().__init__(came_since)
        self.came_since = came_since


@dataclass(frozen=True, slots=True)
class JobCard:
    """A job in the list of jobs."""

    key: str
    name: str
    states: dict[str, int]
    """How many of its boxes stand how."""
    todo: int
    """How many of its boxes have something left to look at."""
    removed: bool = False

    @property
    def boxes(self) -> int:
        """How many it has."""
        return sum(self.states.values())


class BoxCard(NamedTuple):
    """A box in the list of a job: cheap to make, since a house may have thousands."""

    key: str
    room: str
    name: str
    circuits: tuple[str, ...]
    """Every circuit that feeds it, or may."""
    gangs: int
    state: str
    binds: str
    rail: str
    todo: int
    """How much of its survey is left."""


class BoxOutline(NamedTuple):
    """A box as far as sums and orders over a whole house need it."""

    key: str
    room: str
    circuits: tuple[str, ...]
    """Every circuit that feeds it, or may."""
    state: str
    todo: int
    """How much of its survey is left."""


@dataclass(frozen=True, slots=True)
class JobSnapshot:
    """A job as a page needs it, or as it would be with what a trial of it changes: without its boxes."""

    key: str
    """In addresses; of a trial, of the job seen so."""
    base: str
    """The key of the job itself."""
    id: int
    trial: int
    """Which trial this is; 0 for the real job."""
    head: JobHead
    sheets: Library
    number: int
    """Of the head's revision."""
    can_undo: bool
    can_redo: bool
    last: str
    """The last act on the house, as a sentence."""
    used: tuple[str, ...] = ()
    """Return the sheets that devices in boxes name, the last used first."""
    trials: Mapping[str, str] = field(default_factory=dict)
    """The keys of the job under its what-ifs that are neither kept nor thrown away, by the boxes they began at."""

    def neutral(self, box: Box, circuit: str | None = None) -> Neutral:
        """What holds of the neutral in a box of this job, or of that of a circuit in it."""
        return neutral_in(box, self.head.terms.voltage, circuit=circuit)

    @property
    def volts(self) -> dict[str, int]:
        """The volts across what each of its circuits feeds, by its id."""
        return volts_of(self.head.circuits, self.head.terms.voltage)

    def check(self, box: Box) -> BoxCheck:
        """Every rule on a box of this job."""
        return check_box(box, self.sheets, self.head.terms_at(box), self.volts, self.boxes)

    @property
    def boxes(self) -> frozenset[str]:
        """The keys of its boxes."""
        return self.head.keys

    def under(self, documents: Documents) -> JobSnapshot:
        """The job with the head and the sheets of these documents, not kept yet."""
        return replace(self, head=documents.head, sheets=documents.sheets)

    @property
    def house_misfits(self) -> tuple[Misfit, ...]:
        """What of the house itself does not fit together."""
        head = self.head
        return house_misfits(head.panel, head.circuits, head.stock, len(head.order or ()))

    def misfits(self, box: Box) -> tuple[Misfit, ...]:
        """What of a box does not fit this job."""
        return fit(box, self.sheets, self.head.circuit_ids, self.boxes).misfits

    def refuse_misfits(self, after: Box, known: tuple[Misfit, ...] = ()) -> None:
        """Refuse a box that does not fit this job, beyond what doesn't fit already.

        Raises:
            DoesNotFit: something of the box does not fit that did before.
        """
        if wrong := added(known, self.misfits(after)):
            raise DoesNotFit(wrong, f"“{after.name}”: ")

    def mended(self, box: Box) -> Box:
        """The part of a box that fits this job."""
        return fit(box, self.sheets, self.head.circuit_ids, self.boxes).box


@dataclass(frozen=True, slots=True)
class BoxFilter:
    """Which boxes of a job are wanted; "" for any."""

    state: str = ""
    circuit: str = ""
    room: str = ""
    todo: bool = False
    """Only those with something left to look at."""
    words: str = ""
    """Each must stand in a box's name, room or what binds it."""

    @property
    def any(self) -> bool:
        """Whether anything is sought."""
        return self != BoxFilter()

    @property
    def said(self) -> dict[str, str]:
        """The search, as an address has it."""
        said = {"state": self.state, "circuit": self.circuit, "room": self.room, "words": self.words}
        return {name: text for name, text in said.items() if text} | ({"todo": "yes"} if self.todo else {})


@dataclass(frozen=True, slots=True)
class House:
    """A job with its boxes as a list shows them."""

    job: JobSnapshot
    cards: list[BoxCard]
    rooms: list[str]
    all_cards: list[BoxCard]
    """Of all its boxes, whatever is sought."""

    @property
    def circuits(self) -> dict[str, list[BoxCard]]:
        """The boxes that each circuit feeds, or may."""
        hanging: dict[str, list[BoxCard]] = {}
        for card in self.all_cards:
            for circuit in card.circuits:
                hanging.setdefault(circuit, []).append(card)
        return hanging


@dataclass(frozen=True, slots=True)
class Outline:
    """A job with all its boxes in outline, and the cards of those that are shown."""

    job: JobSnapshot
    boxes: list[BoxOutline]
    """All of them, in the job's order."""
    sought: list[BoxOutline]
    """Those that are sought, all where nothing is; by floor and room, each as it comes first in the job."""
    removed: list[BoxCard]
    """Those removed, which can be brought back."""
    cards: list[BoxCard]
    """Of those that are shown, in the order they are shown in."""

    @property
    def states(self) -> dict[str, int]:
        """How many of all its boxes stand how."""
        return Counter(box.state for box in self.boxes)

    @property
    def rooms(self) -> list[str]:
        """All of them, in the job's order."""
        return list(dict.fromkeys(box.room for box in self.boxes))


@dataclass(frozen=True, slots=True)
class LeftToSee:
    """Return the open survey points of a job."""

    job: JobSnapshot
    keys: list[str]
    """Of the boxes where something is, in the job's order."""
    used: set[str]
    """The breakers that feed boxes, or may."""
    boxes: tuple[Box, ...]
    """Those of them that are shown."""


@dataclass(frozen=True, slots=True)
class KeptCode:
    """That the setup code of a device is kept; never the code."""

    device: str
    came: int
    """The revision of the box that the device came with."""
    is_here: bool
    """Whether the device is still in the box."""


@dataclass(frozen=True, slots=True)
class Step:
    """A line of a box's history."""

    number: int
    sentence: str
    made: datetime


@dataclass(frozen=True, slots=True)
class WhatIf:
    """What ties a what-if to its original."""

    copied_at: int
    """The step of the original it was copied from."""
    number: int
    """The step the original is at now."""
    box: Box
    """The original as it is now."""


@dataclass(frozen=True, slots=True)
class Effect:
    """What a changed sheet does to a box that uses it."""

    box: str
    name: str
    """Room and name of the box."""
    before: State
    after: State
    lines: tuple[AnswerChange, ...]


@dataclass(frozen=True, slots=True)
class DatasheetSnapshot:
    """A sheet at its newest revision."""

    job: JobSnapshot
    sheet: Datasheet
    number: int
    can_undo: bool
    can_redo: bool
    history: tuple[Step, ...]
    """The newest steps, newest first."""
    used_in: tuple[tuple[str, str], ...]
    """The boxes that use it: key, and room and name."""


@dataclass(frozen=True, slots=True)
class BoxSnapshot:
    """A box at its newest revision."""

    job: JobSnapshot
    box: Box
    """As far as it fits its job: the part shown of it."""
    number: int
    can_undo: bool
    can_redo: bool
    check: BoxCheck
    goes: Mapping[str, str]
    """Where its cables go, in words, by their letters."""
    ends: Mapping[str, FarEnd]
    """What kind of end each of them goes to, as far as that is known."""
    what_if: WhatIf | None = None
    """Where this is the box in a trial of its job."""

    @property
    def verdict(self) -> Verdict:
        """Return how the box stands; where something is open, how it stands if wired as usual."""
        job = self.job
        return verdict_of(self.check, job.sheets, job.head.terms_at(self.box), job.volts, self.ends)

    # unless its wiring was asked for

    history: tuple[Step, ...] = ()
    """The newest steps, newest first."""
    outlets: tuple[tuple[str, str], ...] = ()
    """The outlets of its job that loads can hang at: key, and room and name."""
    open_trial: str = ""
    """Key of the job under a what-if of this box that is neither kept nor thrown away; "" where there is none."""

    # where its wiring was asked for

    wiring: Job | None = None
    """The job with every box wired together with this one."""
    network_targets: tuple[tuple[str, str], ...] = ()
    """What a device here can work over the network: its place and its name. () where no device here could."""
    ticks: tuple[Tick, ...] = ()
    """What was ticked at it."""


@dataclass(frozen=True, slots=True)
class Earlier:
    """A box as it is, and as it was at an earlier step."""

    now: BoxSnapshot
    steps: tuple[Step, ...]
    """Its whole history, newest first."""
    number: int
    then: BoxCheck
    other: int | None = None
    """A step to compare with instead of the present."""
    beside: BoxCheck | None = None
    """The box at that step."""


@dataclass(frozen=True, slots=True)
class Done:
    """An act that was done."""

    change: int
    boxes: tuple[str, ...]
    """Keys of the boxes it touched, a new one first."""
    sheets: tuple[str, ...]
