"""What a person says when changing a box: one model for each edit, the same for a form, a key, a test.

Empty form fields say nothing; a bare number takes the unit its field is in.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from .model.box import Id
from .model.load import LoadKind
from .model.measure import Measure, Number, Volume
from .model.thing import Thing
from .model.wire import GaugeField, Run, Side


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


class AddCable(Thing):
    """A cable comes into the box."""

    gauge: GaugeField
    insulated: Annotated[int, Field(ge=0, le=20)]
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    ground_gauge: Annotated[GaugeField | None, Maybe] = None
    run: Run = "ends"
    enters: Side = "top"
    goes: Annotated[str, Field(max_length=60)] = ""


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
    """Says which is the largest conductor connected to a device, and what it is called."""

    device: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None


class SwapGangs(Thing):
    """What is in two gangs changes places; either may be empty."""

    one: int
    other: int


class AddLoad(Thing):
    """Lamps or a fan go onto a device."""

    device: str
    kind: LoadKind
    each: str
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    power_factor: Annotated[Number | None, Maybe] = None
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    name: Annotated[str, Field(max_length=60)] = ""


class RemoveLoad(Thing):
    """Lamps or a fan come off."""

    load: str


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
