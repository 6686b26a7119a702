"""What each part of the bench shows, as values."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ....drawing.bar import Bar
from ....drawing.front import Entry, Rect
from ....drawing.rail import Rail
from ....trade.model.answer import Answer, Rule, Text
from ....trade.model.answer import Part as AnswerPart
from ....trade.model.box import Device, Module
from ....trade.model.contents import Connectors, TerminalBlock
from ....trade.model.datasheet import Datasheet
from ....trade.model.enclosure import Enclosure
from ....trade.model.gauge import Gauge
from ....trade.model.load import KIND_WORDS, Load
from ....trade.model.panel import Circuit
from ....trade.model.wire import Cable
from ....trade.search.ways import Way

Outlets = tuple[tuple[str, str], ...]
"""The outlets a load can hang at: key, and room and name."""
Channels = tuple[tuple[Answer, Bar], ...]
"""The channels of a device, each with its bar."""


@dataclass(frozen=True, slots=True)
class Title:
    """Which box it is."""

    name: str
    room: str
    circuits: tuple[str, ...]
    """Every one that feeds it, or may."""


@dataclass(frozen=True, slots=True)
class Steps:
    """What can be taken back and tried."""

    can_undo: bool
    can_redo: bool
    in_trial: bool
    open_trial: bool


@dataclass(frozen=True, slots=True)
class Tried:
    """A what-if beside its original."""

    original_at: str
    """Where the box itself is."""
    state: str
    fill: Answer
    headline: Text
    rail: Rail
    """The original's."""
    changed: tuple[str, ...]
    """The differences of the copy."""
    stale: bool
    """Whether the original has changed since it was copied."""
    number: int
    """The copy's revision, which keeping it or throwing it away depends on."""


@dataclass(frozen=True, slots=True)
class Verdict:
    """The box's state and what binds."""

    state: str
    headline: Text
    ruled: bool
    """Whether a volume rule holds."""


@dataclass(frozen=True, slots=True)
class Ways:
    """What would make a failing box hold."""

    number: int
    """The revision it was asked of; 0 where the box does not fail."""
    tried: bool
    """Whether it was looked for; else it is about to be."""
    way: Way | None = None
    """The cheapest way; None where there is none."""
    leaves: bool = False
    """Whether a circuit fails whatever is done here."""
    unfinished: bool = False
    """Whether the search broke off."""


@dataclass(frozen=True, slots=True)
class Room:
    """How many more conductors of a gauge would go."""

    gauge: Gauge
    count: int


@dataclass(frozen=True, slots=True)
class Count:
    """The count on its rail."""

    fill: Answer
    ruled: bool
    rooms: tuple[Room, ...]
    rail: Rail


@dataclass(frozen=True, slots=True)
class MoreRail:
    """A further answer, with its rail."""

    answer: Answer
    rail: Rail | None
    remark: str = ""
    """What both counts say together."""


@dataclass(frozen=True, slots=True)
class CableTap:
    """A large target for a kind of cable that is counted often."""

    gauge: Gauge
    insulated: int
    key: str
    count: int
    last: str
    """The one that goes when there is one less; "" where there is none."""

    @property
    def size(self) -> str:
        """As the trade says it: 14/2; a ground alone by its gauge."""
        return f"{self.gauge.number}/{self.insulated}" if self.insulated else f"{self.gauge.number} ground"

    @property
    def name(self) -> str:
        """For ids: 14-2, ground."""
        return f"{self.gauge.number}-{self.insulated}" if self.insulated else "ground"


@dataclass(frozen=True, slots=True)
class CableRow:
    """A cable of the box."""

    cable: Cable
    goes: str
    work: str
    """What the plan does with it."""


@dataclass(frozen=True, slots=True)
class DeviceTap:
    """A large target for a device."""

    sheet: str
    name: str
    gangs: int
    key: str
    fits: bool
    """Whether enough empty gangs follow one another."""


@dataclass(frozen=True, slots=True)
class DeviceTaps:
    """The devices that can be put in."""

    taps: tuple[DeviceTap, ...]
    next_gang: int | None
    """The first empty gang from the left."""


@dataclass(frozen=True, slots=True)
class Shell:
    """The box as it is drawn, with nothing in it."""

    view: Rect
    inside: Rect
    gangs: int
    assumed: bool


@dataclass(frozen=True, slots=True)
class Entered:
    """A cable where it comes in."""

    entry: Entry
    clamped: bool
    """Whether a clamp or tab holds it inside."""


@dataclass(frozen=True, slots=True)
class Hardware:
    """What of the box itself lies before the cables, and where gangs are."""

    inside: Rect
    barriers: tuple[float, ...]
    gangs: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Numbers:
    """The numbers of the gangs, and the empty ones."""

    inside: Rect
    gangs: tuple[float, ...]
    empty: tuple[float, ...]


@dataclass(frozen=True, slots=True)
class Grid:
    """Where the columns of the gangs stand under the drawing, as shares of its width."""

    gangs: int
    before: float
    gang: float


@dataclass(frozen=True, slots=True)
class Column:
    """A gang under the drawing: the loads of its device, against its limit."""

    gang: int
    width: int
    device: str
    """Its id; "" where the gang is empty."""
    name: str
    channels: Channels


@dataclass(frozen=True, slots=True)
class Ledger:
    """What heads the count."""

    title: Text


@dataclass(frozen=True, slots=True)
class CountLine:
    """One line of an answer, but for what it says in words and figures."""

    key: str
    """What its nails name it by; "" where it drives none."""
    mark: Literal["", "zero", "open"]
    """Whether it counts nothing, or is not known."""
    why: Text
    rule: Rule


@dataclass(frozen=True, slots=True)
class CountSays:
    """What a line of an answer says."""

    what: Text
    count: Fraction
    each: Fraction | None
    value: Fraction | None
    parts: tuple[AnswerPart, ...]
    """What it counts."""


@dataclass(frozen=True, slots=True)
class GangHead:
    """What heads the card of a gang."""

    gang: int
    width: int
    of: int
    """How many gangs the box has."""
    device: str
    """Its id; "" where the gang is empty."""
    name: str
    sheet: Datasheet | None


@dataclass(frozen=True, slots=True)
class LooseHead:
    """What heads the card of a module loose in the box."""

    number: int
    """Among the modules, from 1."""
    module: str
    name: str
    sheet: Datasheet
    at_fixture: bool


@dataclass(frozen=True, slots=True)
class Connected:
    """How a device or module is connected, and its settings."""

    item: Device | Module
    sheet: Datasheet
    of: int
    """How many gangs the box has."""
    gauges: tuple[Gauge, ...]
    circuits: tuple[str, ...]

    @property
    def gauge_choices(self) -> list[tuple[str, str]]:
        """What may be the largest conductor on it: the contents of the box, and the words before."""
        said = (self.item.gauge,) if self.item.gauge else ()
        gauges = dict.fromkeys((*self.gauges, *said))
        return [("", "not known: largest in the box"), *((gauge.written, str(gauge)) for gauge in gauges)]

    @property
    def own_circuits(self) -> list[tuple[str, str]]:
        """Return the circuits that feed the box; a device on the first one shows no circuit."""
        first, *others = self.circuits
        return [("", first), *((id, id) for id in others)]

    @property
    def settings(self) -> list[tuple[str, str]]:
        """The lamp types that can be set on it."""
        return [("", "not looked at"), *((kind, KIND_WORDS[kind]) for kind in self.sheet.lamp_settings)]


@dataclass(frozen=True, slots=True)
class Channel:
    """The loads of a channel against its limit, or on all of them together."""

    item: str
    number: int | None
    """None: all of them."""
    name: str
    answer: Answer
    bar: Bar
    loads: tuple[Load, ...]
    outlets: Outlets


@dataclass(frozen=True, slots=True)
class Hanging:
    """The loads that can be put on a device, and read from it."""

    item: str
    asked_back: tuple[tuple[str, str], ...]
    """Loads whose watts are asked back: id, and what each draws."""
    metering: bool
    channels: tuple[tuple[int, str], ...]
    """By number: their names."""
    kind: str
    """Of load, that is proposed."""
    outlets: Outlets


@dataclass(frozen=True, slots=True)
class Put:
    """A device to be put into a gang."""

    gang: int
    empty: bool
    sheets: tuple[tuple[str, str], ...]
    """What may be put in: id, and name."""


@dataclass(frozen=True, slots=True)
class Facts:
    """The box itself."""

    enclosure: Enclosure
    name: str
    room: str
    use: str
    circuit: str | None
    circuits: tuple[Circuit, ...]
    connectors: tuple[Connectors, ...]
    terminal_blocks: tuple[TerminalBlock, ...]
    modules: tuple[tuple[str, str], ...]
    """The modules that can go loose into it: id, and name."""


@dataclass(frozen=True, slots=True)
class Forbidden:
    """What forbids a choice, and whether to ask about the neutral."""

    answer: Answer | None
    asks_neutral: bool
