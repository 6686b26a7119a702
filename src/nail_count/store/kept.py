"""What the store hands out, and how it says no."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime

from ..trade.check import BoxCheck
from ..trade.model.answer import State
from ..trade.model.box import Box
from ..trade.model.job import Circuit, Terms
from ..trade.model.sheet import Sheet
from ..trade.model.thing import Thing


class Missing(LookupError):
    """There is no such job or box."""


class Stale(Exception):
    """Somebody, or another tab, has changed the box since it was shown."""


@dataclass(frozen=True, slots=True)
class Summary:
    """What a list shows of a box."""

    state: State
    binds: str
    rail: str


Summarise = Callable[[BoxCheck], Summary]


@dataclass(frozen=True, slots=True)
class JobCard:
    """A job in the list of jobs."""

    key: str
    name: str
    states: dict[str, int]


@dataclass(frozen=True, slots=True)
class BoxCard:
    """A box in the list of a job."""

    key: str
    room: str
    name: str
    circuit: str | None
    gangs: int
    state: str
    binds: str
    rail: str


class JobHead(Thing):
    """What a job says of itself, kept as a document of its own."""

    name: str
    terms: Terms = Terms()
    circuits: tuple[Circuit, ...] = ()


@dataclass(frozen=True, slots=True)
class KeptJob:
    """A job as a page needs it: without its boxes."""

    key: str
    head: JobHead
    sheets: dict[str, Sheet]


@dataclass(frozen=True, slots=True)
class Sought:
    """Which boxes of a job are wanted; "" for any."""

    state: str = ""
    circuit: str = ""
    room: str = ""
    words: str = ""
    """Each must stand in a box's name, room or what binds it."""


@dataclass(frozen=True, slots=True)
class House:
    """A job with its boxes as a list shows them."""

    job: KeptJob
    cards: list[BoxCard]
    gone: list[BoxCard]
    """Those removed, which can be brought back."""
    states: dict[str, int]
    """How many of all its boxes stand how."""
    rooms: list[str]


@dataclass(frozen=True, slots=True)
class Step:
    """A line of a box's history."""

    number: int
    sentence: str
    made: datetime


@dataclass(frozen=True, slots=True)
class KeptBox:
    """A box at its newest revision."""

    job: KeptJob
    box: Box
    number: int
    can_undo: bool
    can_redo: bool
    history: tuple[Step, ...]
    """The newest steps, newest first."""
    check: BoxCheck


@dataclass(frozen=True, slots=True)
class Earlier:
    """A box as it is, and as it was at an earlier step."""

    now: KeptBox
    steps: tuple[Step, ...]
    """Its whole history, newest first."""
    number: int
    then: BoxCheck
