"""The contents of a box: the enclosure, devices, modules, splices; once as found, once as planned, once as built."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal, Self, TypeVar

from pydantic import Field, model_validator

from .commissioned import Commissioned
from .enclosure import Enclosure
from .gauge import Gauge, GaugeField
from .load import Load, LoadKind
from .splice import PigtailEnd, Splice
from .thing import Id, Mark, Thing

Listing = Literal["modified", "none"]
"""A fault of a unit's listing: somebody modified it, or it bears no listing mark."""


Commands = Annotated[str, Field(max_length=130, pattern=r"^([^/]+/[^/]+)?$")]
"""A device or module elsewhere: the key of its box and its id there, hall/d1."""


class Device(Thing):
    """A yoke with its device, in its gang, with its loads."""

    id: Mark
    stays: Mark | None = None
    """Of a planned device: the found one it is, of a built one the planned one; None: it is new."""
    gang: Annotated[int, Field(ge=1)]
    """Leftmost gang it takes, from 1."""
    sheet: Id
    """Which sheet of the job it is."""
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: Bench."""
    gauge: GaugeField | None = None
    """Largest conductor connected to it; None: not known, and the largest in the box is taken."""
    loads: tuple[Load, ...] = ()
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which of the box's circuits feeds it; None: the one of the box."""
    broken: tuple[Literal["left", "right"], ...] = ()
    """Side sections already broken off when it came, where it is reused."""
    lamp_setting: LoadKind | None = None
    """The lamp type set on it; None: not looked at."""
    tab_broken: bool = False
    """Of a duplex receptacle: whether the tab between its two hot screws is broken off."""
    listing: Listing | None = None
    """None: nothing is wrong with it that anybody saw."""
    commands: Commands = ""
    """Of a device that switches nothing by wire: what it works over the network; "" for nothing."""


class Module(Thing):
    """A small relay or dimmer on no yoke, loose in the box."""

    id: Mark
    stays: Mark | None = None
    """As of a device."""
    sheet: Id
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: Vanity."""
    gang: Annotated[int, Field(ge=1)] | None = None
    """The gang it lies behind; None: not known."""
    loads: tuple[Load, ...] = ()
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which of the box's circuits feeds it; None: the one of the box."""
    control: Literal["wired", "battery only"] | None = None
    """What people switch it by: something wired, or nothing but a battery control; None: not known."""
    listing: Listing | None = None
    """As of a device."""
    commands: Commands = ""
    """As of a device."""
    gauge: GaugeField | None = None
    """Largest conductor connected to it; None: not known, and the largest in the box is taken."""
    space: Annotated[int, Field(ge=1, le=5)] = 1


Equipment = Device | Module
"""Everything that carries loads."""
Item = TypeVar("Item", Device, Module)


@dataclass(frozen=True, slots=True)
class Connectors:
    """Wire connectors of one size, counted over all splices."""

    size: Literal["small", "medium", "large"]
    gauge: Gauge | None
    """Largest conductor they join; None: the largest in the box is taken."""
    count: int


class TerminalBlock(Thing):
    """Terminal blocks in the box."""

    count: Annotated[int, Field(ge=1, le=20)] = 1
    gauge: GaugeField | None = None
    """Largest conductor ended on them; None: the largest in the box is taken."""
    space: Annotated[int, Field(ge=1, le=5)] = 1
    """In which space of the box they are, where barriers make several."""


OLD_WIRING = "old wiring"
"""What contents as found rest on where the usual old wiring was proposed, and nobody held it against the box yet."""


class RestsOn(Thing):
    """Something a decision took for granted, so that it can be looked at again when the fact is known."""

    code: Annotated[str, Field(min_length=1, max_length=40)]
    """Which assumption."""
    subject: Annotated[str, Field(max_length=60)] = ""
    """What of the box it is about."""
    value: Annotated[str, Field(max_length=60)] = ""
    """What was assumed of it."""


class Contents(Thing):
    """Everything in a box, found, planned or built."""

    enclosure: Enclosure = Enclosure()
    devices: tuple[Device, ...] = ()
    modules: Annotated[tuple[Module, ...], Field(max_length=8)] = ()
    splices: Annotated[tuple[Splice, ...], Field(max_length=800)] = ()
    terminal_blocks: Annotated[tuple[TerminalBlock, ...], Field(max_length=6)] = ()
    out: Annotated[tuple[Mark, ...], Field(max_length=40)] = ()
    """Cables of the box that come out: they are not in it then."""
    new: Annotated[tuple[Mark, ...], Field(max_length=40)] = ()
    """Cables of the box that are new: they were not in it before."""
    landed: Annotated[tuple[Mark, ...], Field(max_length=40)] = ()
    """Cables of the house that ended elsewhere, or passed, and end in the box now: none of them is bought."""
    rests_on: Annotated[tuple[RestsOn, ...], Field(max_length=60)] = ()
    """What a hook-up that was taken over as proposed rests on; these are not facts."""

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        for what, ids in (
            ("devices", [device.id for device in self.devices]),
            ("modules", [module.id for module in self.modules]),
            ("loads", [load.id for item in self.equipment for load in item.loads]),
            ("splices", [splice.id for splice in self.splices]),
        ):
            if len(set(ids)) < len(ids):
                raise ValueError(f"Give each of the {what} an id of its own")
        ends = [end for splice in self.splices for end in splice.ends if not isinstance(end, PigtailEnd)]
        if len(set(ends)) < len(ends):
            raise ValueError("Put each end in one splice only")
        gangs = [device.gang for device in self.devices]
        if len(set(gangs)) < len(gangs):
            raise ValueError("Put at most one yoke in a gang")
        if any(gang > self.enclosure.gangs for gang in gangs):
            raise ValueError(f"Put devices in gangs 1 to {self.enclosure.gangs}, not in gang {max(gangs)}")
        return self

    def as_plan(self) -> Contents:
        """Return these contents as the beginning of a plan: every device stays what it was found to be."""
        devices = tuple(one.changed(stays=one.id) for one in self.devices)
        return self.changed(devices=devices, modules=tuple(one.changed(stays=one.id) for one in self.modules))

    def staying(self, before: Contents | None) -> Self:
        """Return these contents with each device that was there before, by id and model, marked as that one."""
        known = {(one.id, one.sheet) for one in before.equipment} if before else set()

        def told(one: Item) -> Item:
            return one.changed(stays=one.id) if (one.id, one.sheet) in known else one.changed(stays=None)

        return self.changed(devices=tuple(map(told, self.devices)), modules=tuple(map(told, self.modules)))

    @property
    def brought(self) -> tuple[Mark, ...]:
        """The cables that come into the box: new ones, and those that ended elsewhere."""
        return (*self.new, *self.landed)

    @property
    def equipment(self) -> tuple[Equipment, ...]:
        """Return everything that can carry loads: devices from left to right, then modules."""
        return (*sorted(self.devices, key=lambda device: device.gang), *self.modules)

    @property
    def connectors(self) -> tuple[Connectors, ...]:
        """The wire connectors in it, by size and gauge, in the order they first come."""
        counts: dict[tuple[Literal["small", "medium", "large"], Gauge | None], int] = {}
        for splice in self.splices:
            if splice.connector is not None:
                key = splice.connector.size, splice.connector.gauge
                counts[key] = counts.get(key, 0) + 1
        return tuple(Connectors(size, gauge, count) for (size, gauge), count in counts.items())


class Built(Contents):
    """The contents of a box as it was built, with what was noted of its devices."""

    commissioned: Annotated[tuple[Commissioned, ...], Field(max_length=24)] = ()
