"""What a person says when changing a box: one model for each edit, the same for a form, a key, a test.

Empty form fields say nothing; a bare number takes the unit its field is in.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..model.box import Id
from ..model.conductor import Color, Meter, ReadingKind, Role, Terminal
from ..model.load import LoadKind
from ..model.measure import Length, Measure, Number, Volume
from ..model.survey import Holes, Looked, Plaster, Stage, Tick, Wall
from ..model.thing import Thing
from ..model.wire import Condition, GaugeField, Run, Side
from ..model.wish import Does, Stays


def _nothing_is_none(value: object) -> object:
    """An empty form field says nothing."""
    return None if isinstance(value, str) and not value.strip() else value


def _with_unit(kind: type[Measure], unit: str) -> Callable[[object], object]:
    """Reads a bare number as meant in this unit."""

    def read(value: object) -> object:
        return kind.parse(value, unit) if isinstance(value, str) and value.strip() else _nothing_is_none(value)

    return read


Maybe = BeforeValidator(_nothing_is_none)
InCubicInches = Annotated[Volume | None, BeforeValidator(_with_unit(Volume, "in3"))]
InInches = Annotated[Length | None, BeforeValidator(_with_unit(Length, "in"))]


def _listed(value: object) -> object:
    """Several choices, as boxes ticked on a form or as a list."""
    return [one.strip() for one in value.split(",") if one.strip()] if isinstance(value, str) else value


def _volts(value: object) -> object:
    """Volts as people write them: 118, 118 V, 0.4v."""
    return _nothing_is_none(value.strip().rstrip("vV").strip()) if isinstance(value, str) else value


def now() -> datetime:
    """The present, to the second, in UTC."""
    return datetime.now(UTC).replace(microsecond=0, tzinfo=None)


class AddCable(Thing):
    """A cable comes into the box."""

    gauge: GaugeField
    insulated: Annotated[int, Field(ge=0, le=20)]
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    ground_gauge: Annotated[GaugeField | None, Maybe] = None
    metal: Literal["copper", "aluminum"] = "copper"
    class2: bool = False
    isolated: bool = False
    canopy: bool = False
    space: Annotated[int, Field(ge=1, le=5)] = 1
    run: Run = "ends"
    enters: Side = "top"
    goes: Annotated[str, Field(max_length=60)] = ""


class ChangeCable(AddCable):
    """What is known of a cable is put right."""

    cable: str
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None


class RemoveCable(Thing):
    """A cable comes out."""

    cable: str


class PutDevice(Thing):
    """A device of this sheet goes into a gang, in place of what is there."""

    gang: int
    sheet: Id
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None


class RemoveDevice(Thing):
    """A device comes out, with what hangs on it."""

    device: str


class ConnectDevice(Thing):
    """What is connected to a device, what it is called, and how it came."""

    device: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None
    circuit: Annotated[str | None, Maybe] = None
    broken: Annotated[tuple[Literal["left", "right"], ...], BeforeValidator(_listed)] = ()
    lamp_setting: Annotated[LoadKind | None, Maybe] = None


class SwapGangs(Thing):
    """What is in two gangs changes places; either may be empty."""

    one: int
    other: int


class ArrangeGangs(Thing):
    """All devices in a new order: each with its leftmost gang, as d1:2, d2:1."""

    order: Annotated[tuple[str, ...], BeforeValidator(_listed)]


class SetVolume(Thing):
    """What the box may hold: marked in it, or its trade size. Neither: not known."""

    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None


class SetMaterial(Thing):
    """What the box is made of."""

    material: Literal["nonmetallic", "metal"]


class SetClamps(Thing):
    """Whether clamps hold the cables inside the box."""

    clamps: bool = False


class SetInside(Thing):
    """The box as measured inside."""

    width: InInches = None
    height: InInches = None
    depth: InInches = None


class SetSetback(Thing):
    """How far the box stands behind the face of the wall, and what the wall is of."""

    setback: InInches = None
    wall: Annotated[Wall | None, Maybe] = None


class SetHoles(Thing):
    """The state of the screw holes, and of paint and plaster inside the box."""

    holes: Annotated[Holes | None, Maybe] = None
    plaster: Annotated[Plaster | None, Maybe] = None


class SetFound(Thing):
    """Whether a neutral is in the box, and whether the wall is filled with insulation."""

    neutral: Annotated[bool | None, Maybe] = None
    insulated: Annotated[bool | None, Maybe] = None


class AddRing(Thing):
    """A ring, raised cover or extension is on the front of the box."""

    kind: Annotated[str, Field(min_length=1, max_length=60)]
    volume: InCubicInches = None
    depth: InInches = None


class RemoveRing(Thing):
    """A ring comes off; counted from 1."""

    ring: int


class SetFittings(Thing):
    """Luminaire stud, hickey."""

    stud: bool = False
    hickey: bool = False


class AddConnectors(Thing):
    """Wire connectors of one size."""

    size: Literal["small", "medium", "large"] = "medium"
    count: Annotated[int, Field(ge=1, le=60)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None


class AddTerminalBlock(Thing):
    """Terminal blocks."""

    count: Annotated[int, Field(ge=1, le=20)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None


class AddModule(Thing):
    """A module on no yoke goes into the box."""

    sheet: Id
    gauge: Annotated[GaugeField | None, Maybe] = None
    space: Annotated[int, Field(ge=1, le=5)] = 1


class ConnectModule(Thing):
    """What a module is called, where it lies, and what switches it."""

    module: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None
    gang: Annotated[Annotated[int, Field(ge=1)] | None, Maybe] = None
    circuit: Annotated[str | None, Maybe] = None
    control: Annotated[Literal["wired", "battery only"] | None, Maybe] = None


class TakeOut(Thing):
    """Something of the contents comes out: connectors, a terminal block, a module, a barrier, counted from 1."""

    what: Literal["connectors", "terminal block", "module", "barrier"]
    number: int


class AddBarrier(Thing):
    """A fixed barrier between two gangs."""

    after: int
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    volume: InCubicInches = None


class Look(Thing):
    """Something with a usual answer has been looked at, or must be looked at again."""

    fact: Looked
    seen: bool = False


class TickDead(Thing):
    """One tick of proving dead."""

    stage: Stage
    tick: Tick
    at: datetime = Field(default_factory=now)


class ClearDead(Thing):
    """The ticks of a stage, and of those after it, no longer hold: the breaker was on again."""

    stage: Stage


class AddPhoto(Thing):
    """A picture of the box."""

    photo: str
    caption: Annotated[str, Field(max_length=80)] = ""
    at: datetime = Field(default_factory=now)


class RemovePhoto(Thing):
    """A picture is taken away."""

    photo: str


class TryBreaker(Thing):
    """A breaker was switched off: did the light go out?"""

    circuit: str
    went_out: bool


class SearchAgain(Thing):
    """The search for the breaker begins anew."""


class SeeConductor(Thing):
    """What one conductor looks like, where it sat, and what somebody says it is."""

    conductor: str
    color: Annotated[Color | None, Maybe] = None
    sprayed: bool = False
    tape: Annotated[Color | None, Maybe] = None
    sat_on: Annotated[Terminal | None, Maybe] = None
    joined: Annotated[str, Field(max_length=4)] = ""
    asserted_role: Annotated[Role | None, Maybe] = None
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None
    same_as: Annotated[str, Field(max_length=60)] = ""


class NameCable(Thing):
    """What a whole cable is said to be, in one tap."""

    cable: str
    means: Literal["feed", "to the lamp", "onward", "to the other switch", "loop from the lamp"]


class TakeReading(Thing):
    """A reading on a conductor."""

    kind: ReadingKind
    of: str
    to: str = "ground"
    meter: Meter = "loaded"
    on: Annotated[tuple[str, ...], BeforeValidator(_listed)] = ()
    lamps_in: bool = False
    far: Literal["1", "2"] = "1"
    volts: Annotated[Number | None, BeforeValidator(_volts)] = None
    yes: Annotated[bool | None, Maybe] = None
    electronic: bool = False
    at: datetime = Field(default_factory=now)


class DropReading(Thing):
    """A reading that does not hold."""

    reading: str


class SetOtherCircuits(Thing):
    """Which further circuits feed the box, or may."""

    other_circuits: Annotated[tuple[str, ...], BeforeValidator(_listed)] = ()


class SetWish(Thing):
    """What people want of one thing controlled from here; without an id, of one more."""

    wish: str = ""
    what: Annotated[str, Field(max_length=60)] = ""
    places: Annotated[Annotated[int, Field(ge=1, le=9)] | None, Maybe] = None
    does: Annotated[tuple[Does, ...], BeforeValidator(_listed)] = ()
    loads: Annotated[str, Field(max_length=300)] = ""
    without_network: Annotated[bool | None, Maybe] = None
    stays: Annotated[Stays | None, Maybe] = None


class RemoveWish(Thing):
    """A wish is dropped."""

    wish: str


class SetGangs(Thing):
    """How many gangs the box has."""

    gangs: int


class Rename(Thing):
    """What the box is called, where it is, what feeds it."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    circuit: Annotated[str | None, Maybe] = None


class StartBox(Thing):
    """A box from nothing."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    circuit: Annotated[str | None, Maybe] = None
