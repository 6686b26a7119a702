"""What a person says when changing a house: its panel, its rooms, which boxes it has."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ...model.job import Code, ColorCode, ModuleCounting
from ...model.measure import Celsius, Number
from ...model.thing import Thing
from ..changes import InCubicInches, InInches, Maybe


def _amps(value: object) -> object:
    """A breaker as people write it: 15, 15 A, 15A."""
    return value.strip().rstrip("aA").strip() if isinstance(value, str) else value


class PutCircuit(Thing):
    """A breaker as found and as corrected; `was` says which one it was before."""

    id: Annotated[str, Field(min_length=1, max_length=20)]
    was: Annotated[str | None, Maybe] = None
    breaker: Annotated[int, BeforeValidator(_amps), Field(ge=1, le=200)] = 15
    label: Annotated[str, Field(max_length=80)] = ""
    feeds: Annotated[str, Field(max_length=120)] = ""
    space: Annotated[Annotated[int, Field(ge=1, le=84)] | None, Maybe] = None
    poles: int = 1
    half: Literal["", "a", "b"] = ""
    neutral_with: Annotated[str | None, Maybe] = None


class RemoveCircuit(Thing):
    """A breaker that is not there."""

    id: str


class SetPanel(Thing):
    """How many spaces the panel has, and its main."""

    spaces: Annotated[int, Field(ge=2, le=84)] = 24
    main: Annotated[Annotated[int, Field(ge=15, le=600)] | None, BeforeValidator(_amps), Maybe] = None


class SetHouse(Thing):
    """What is known of the house."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    year: Annotated[Annotated[int, Field(ge=1700, le=2100)] | None, Maybe] = None
    hub: Annotated[str, Field(max_length=60)] = ""
    main_off: bool = False
    colors: ColorCode = "US"
    code: Code = "nec-2023"
    modules: ModuleCounting = "larger"
    voltage: Annotated[int, Field(ge=100, le=250)] = 120


class SetAssumptions(Thing):
    """What the job takes for granted of loads and heat, in place of the start values."""

    led_power_factor: Number
    small_led_power_factor: Number
    motor_power_factor: Annotated[Number | None, Maybe] = None
    fallback_derating: bool = False
    tenth_for_led: bool = False
    room: Celsius
    to_room: Number
    to_cavity: Number
    to_insulated_cavity: Number
    to_neighbor: Number


class SetHub(Thing):
    """Which hub or radio the house has."""

    hub: Annotated[str, Field(max_length=60)] = ""


class SetFloor(Thing):
    """Which floor a room is on."""

    room: Annotated[str, Field(min_length=1, max_length=60)]
    floor: Annotated[str, Field(max_length=40)] = ""


class MoveBox(Thing):
    """A box goes to another room, or before or behind another box."""

    box: str
    room: Annotated[str, Field(max_length=60)] = ""
    to: Literal["", "up", "down"] = ""


class PutStock(Thing):
    """A box of the stock list, in place of the one of its name where there is one."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches
    depth: InInches = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False


class RemoveStock(Thing):
    """A box the shop no longer keeps."""

    name: str
