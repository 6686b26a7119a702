"""A box with what is in it: a value, so an edit makes another."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .conductor import Reading
from .enclosure import Enclosure
from .load import Load, LoadKind
from .practice import Practice
from .survey import Survey
from .thing import Mark, Thing
from .wire import Cable, Gauge, GaugeField
from .wish import Wish

Id = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$")]


class Device(Thing):
    """A yoke with its device, in its gang, with what hangs on it."""

    id: Mark
    gang: Annotated[int, Field(ge=1)]
    """Leftmost gang it takes, from 1."""
    sheet: Id
    """Which sheet of the job it is."""
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: Bench."""
    gauge: GaugeField | None = None
    """Largest conductor connected to it [AWG]; None: not said, and the largest in the box is taken."""
    loads: tuple[Load, ...] = ()
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which of the box's circuits feeds it; None: the one of the box."""
    broken: tuple[Literal["left", "right"], ...] = ()
    """Side sections already broken off when it came, where it is reused."""
    lamp_setting: LoadKind | None = None
    """The lamp type set on it; None: not looked at."""


class Module(Thing):
    """A small relay or dimmer on no yoke, loose in the box."""

    id: Mark
    sheet: Id
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: Vanity."""
    gang: Annotated[int, Field(ge=1)] | None = None
    """The gang it lies behind; None: not said."""
    loads: tuple[Load, ...] = ()
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which of the box's circuits feeds it; None: the one of the box."""
    control: Literal["wired", "battery only"] | None = None
    """What people switch it by: something wired, or nothing but a battery control; None: not said."""
    gauge: GaugeField | None = None
    """Largest conductor connected to it [AWG]; None: not said, and the largest in the box is taken."""
    space: Annotated[int, Field(ge=1, le=5)] = 1


Equipment = Device | Module
"""What loads hang on."""


class Connectors(Thing):
    """Wire connectors of one size."""

    size: Literal["small", "medium", "large"] = "medium"
    count: Annotated[int, Field(ge=1, le=60)] = 1
    gauge: GaugeField | None = None
    """Largest conductor they join [AWG]; None: the largest in the box is taken."""


class TerminalBlock(Thing):
    """Terminal blocks in the box."""

    count: Annotated[int, Field(ge=1, le=20)] = 1
    gauge: GaugeField | None = None
    """Largest conductor ended on them [AWG]; None: the largest in the box is taken."""


class Box(Thing):
    """One box of the house."""

    id: Id
    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Which circuit of the job feeds it."""
    other_circuits: Annotated[tuple[str, ...], Field(max_length=3)] = ()
    """Further circuits that feed it, or may."""
    enclosure: Enclosure = Enclosure()
    cables: Annotated[tuple[Cable, ...], Field(max_length=40)] = ()
    devices: tuple[Device, ...] = ()
    modules: Annotated[tuple[Module, ...], Field(max_length=8)] = ()
    connectors: Annotated[tuple[Connectors, ...], Field(max_length=12)] = ()
    terminal_blocks: Annotated[tuple[TerminalBlock, ...], Field(max_length=6)] = ()
    survey: Survey = Survey()
    """What was found at it."""
    readings: Annotated[tuple[Reading, ...], Field(max_length=200)] = ()
    """Taken on its conductors, in order."""
    practice: Practice | None = None
    """Where it is a box to practice on, wired by the program and hidden."""
    wishes: Annotated[tuple[Wish, ...], Field(max_length=8)] = ()
    """What people want of the place."""

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        for what, ids in (
            ("cables", [cable.id for cable in self.cables]),
            ("devices", [device.id for device in self.devices]),
            ("loads", [load.id for item in self.equipment for load in item.loads]),
            ("modules", [module.id for module in self.modules]),
            ("readings", [reading.id for reading in self.readings]),
            ("wishes", [wish.id for wish in self.wishes]),
        ):
            if len(set(ids)) < len(ids):
                raise ValueError(f"expected {what} with an id of their own each")
        gangs = [device.gang for device in self.devices]
        if len(set(gangs)) < len(gangs):
            raise ValueError("expected at most one yoke in a gang")
        if any(gang > self.enclosure.gangs for gang in gangs):
            raise ValueError(f"expected devices in gangs 1 to {self.enclosure.gangs}, not in gang {max(gangs)}")
        return self

    @property
    def equipment(self) -> tuple[Equipment, ...]:
        """Everything loads can hang on: devices from left to right, then modules."""
        return (*sorted(self.devices, key=lambda device: device.gang), *self.modules)

    @property
    def circuits(self) -> tuple[str, ...]:
        """Every circuit that feeds it, or may, the main one first."""
        return tuple(dict.fromkeys(id for id in (self.circuit, *self.other_circuits) if id is not None))

    def circuit_of(self, item: Equipment) -> str | None:
        """The circuit that feeds a device or module: the one said as long as it feeds the box, else the main one."""
        return item.circuit if item.circuit in self.circuits else self.circuit

    @property
    def gauges(self) -> tuple[Gauge, ...]:
        """The gauge of every conductor that enters, grounds among them."""
        return tuple(gauge for cable in self.cables for gauge in cable.gauges)

    def cable(self, id: str) -> Cable | None:
        """The cable with this letter."""
        return next((cable for cable in self.cables if cable.id == id), None)

    def device(self, id: str) -> Device | None:
        """The device with this id."""
        return next((device for device in self.devices if device.id == id), None)

    def item(self, id: str) -> Equipment | None:
        """The device or module with this id."""
        return next((item for item in self.equipment if item.id == id), None)
