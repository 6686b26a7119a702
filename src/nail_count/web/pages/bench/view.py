"""What each part of the bench shows, as values."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ....drawing.bar import Bar
from ....drawing.front import Rect
from ....drawing.rail import Rail
from ....drawing.warm import Warm
from ....trade.assume.verdict import Verdict
from ....trade.model.answer import Answer, Text
from ....trade.model.box import Device, Module
from ....trade.model.contents import Connectors, TerminalBlock
from ....trade.model.enclosure import Enclosure
from ....trade.model.gauge import Gauge
from ....trade.model.load import KIND_WORDS, Load, LoadKind
from ....trade.model.panel import Circuit
from ....trade.model.wire import Cable
from ....trade.search.ways import Way
from ...box_screen import Notices

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
    sum: str
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
class Stands:
    """The box's state and what binds."""

    state: str
    headline: Text
    ruled: bool
    """Whether a volume rule holds."""
    verdict: Verdict
    """The same, where usual wiring is taken for granted."""


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

    sum: str
    """Total against limit, in words."""
    state: str
    margin: Fraction | None
    unit: str
    ruled: bool
    rooms: tuple[Room, ...]
    rail: Rail


@dataclass(frozen=True, slots=True)
class MoreRail:
    """A further answer, with its rail."""

    state: str
    title: Text
    sum: str
    headline: Text
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
class DrawnDevice:
    """A device in its gang, as it is drawn."""

    id: str
    name: str
    kind: str
    gang: int
    width: int
    rect: Rect
    strap: Rect
    fins: tuple[tuple[Rect, bool], ...]
    """Break-off side sections, left and right, each with whether it is broken off."""
    assumed: bool
    """Whether the sheet gives no body and the usual one is drawn."""


@dataclass(frozen=True, slots=True)
class DrawnCable:
    """A cable where it comes in, as it is drawn."""

    id: str
    sheath: Rect
    mouth: tuple[float, float]
    label: tuple[float, float]
    wires: tuple[tuple[bool, float, str], ...]
    """Its insulated wires, and its grounds: whether they are grounds, how thick [mm], and their way."""


@dataclass(frozen=True, slots=True)
class DrawnBox:
    """The box as it is drawn from the front [mm]."""

    view: Rect
    inside: Rect
    gangs: tuple[float, ...]
    empty: tuple[float, ...]
    barriers: tuple[float, ...]
    devices: tuple[DrawnDevice, ...]
    cables: tuple[DrawnCable, ...]
    loose: tuple[tuple[str, Rect], ...]
    assumed: bool
    facts: tuple[tuple[str, str], ...]
    """The same as a text: each sentence under its name."""


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
class Connected:
    """How a device or module is connected, and its settings."""

    item: Device | Module
    """Without its loads."""
    lamp_settings: tuple[LoadKind, ...]
    """The lamp types that can be set on it."""
    by_place: bool
    """Whether its side sections can be broken off."""
    duplex: bool
    """Whether it is a receptacle with a tab between its two hot screws."""
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
        return [("", "not looked at"), *((kind, KIND_WORDS[kind]) for kind in self.lamp_settings)]


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


@dataclass(frozen=True, slots=True)
class Heading:
    """How the box stands, and what can be taken back."""

    notices: Notices
    tried: Tried | None
    """The original of a what-if."""
    title: Title
    steps: Steps
    stands: Stands
    ways: Ways
    count: Count
    spaces: tuple[MoreRail, ...]
    """The counts of the other spaces of a divided box."""
    bulk: MoreRail | None
    depth: MoreRail | None


@dataclass(frozen=True, slots=True)
class Drawing:
    """The box from the front, with the loads of each gang under it."""

    box: DrawnBox
    clamped: bool
    """Whether a clamp or tab holds each cable inside."""
    warmed: Warm | None
    grid: Grid
    columns: tuple[Column, ...]


@dataclass(frozen=True, slots=True)
class Written:
    """An answer line by line."""

    prefix: str
    """Of the ids of its elements."""
    title: Text
    answer: Answer
    keys: tuple[str, ...]
    """What the nails name each line by, in order."""


@dataclass(frozen=True, slots=True)
class Warmth:
    """How warm the box gets."""

    warmed: Warm | None
    heats: tuple[tuple[str, float], ...]
    """What each device makes of heat [W], by its name."""
    insulated: bool | None
    """Whether insulation lies around the box."""


@dataclass(frozen=True, slots=True)
class OnIt:
    """How a device or module is connected, and its loads."""

    id: str
    sheet: str
    """Id of its sheet."""
    called: str
    """What its sheet is called."""
    maker: str
    is_module: bool
    connected: Connected | None
    """None: of a blank."""
    channels: tuple[Channel, ...]
    hanging: Hanging | None


@dataclass(frozen=True, slots=True)
class Gang:
    """A gang with everything that can be done to it."""

    gang: int
    width: int
    of: int
    """How many gangs the box has."""
    device: str
    """Its id; "" where the gang is empty."""
    name: str
    sheets: tuple[tuple[str, str], ...]
    """What may be put in: id, and name."""
    on_it: OnIt | None


@dataclass(frozen=True, slots=True)
class Loose:
    """A module loose in the box with everything that can be done to it."""

    number: int
    """Among the modules, from 1."""
    module: str
    name: str
    at_fixture: bool
    on_it: OnIt


@dataclass(frozen=True, slots=True)
class Gangs:
    """What stands above the gangs and loose modules."""

    several: bool
    """Whether there is an order to better."""
    asking: tuple[str, ...]
    """The names of the devices not hooked up yet."""
    forbidden: Forbidden
    gangs: int
    """How many there are, a wide device's counted once."""
    loose: int
    """How many modules."""
