"""What is known of the house, its rooms and its hub, and what the job takes for granted."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...model.assumptions import Assume, Warming
from ...model.errors import Rejected
from ...model.house import House, Room
from ...model.job import Code, ColorCode, JobHead, ModuleCounting
from ...model.measure import Celsius, Number
from ...model.thing import Thing
from ..fields import Maybe
from .base import BoxIndex, HouseEdit, checked, edited


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


def set_house(head: JobHead, what: SetHouse, index: BoxIndex) -> HouseEdit:
    """What is known of the house."""
    house = checked(
        House, head.house.__dict__ | what.model_dump(exclude={"name", "colors", "code", "modules", "voltage"}), "year"
    )
    terms = head.terms.model_copy(update=what.model_dump(include={"colors", "code", "modules", "voltage"}))
    year = f", built {house.year}" if house.year else ""
    hub = f", hub: {house.hub}" if house.hub else ""
    off = ", the main goes off for work" if house.main_off else ""
    return edited(
        head, f"House “{what.name}”{year}{hub}{off}, counted by {what.code}", name=what.name, house=house, terms=terms
    )


def set_assumptions(head: JobHead, what: SetAssumptions, index: BoxIndex) -> HouseEdit:
    """What the job takes for granted."""
    said = what.model_dump()
    heat = {name: said.pop(name) for name in Warming.model_fields}
    assume = checked(Assume, said | {"warming": checked(Warming, heat, "room")}, "led_power_factor")
    turned_on = [words for words, on in (
        ("derating where the sheet gives none", assume.fallback_derating),
        ("a tenth of the incandescent figure for LED", assume.tenth_for_led),
    ) if on]  # fmt: skip
    terms = head.terms.model_copy(update={"assume": assume})
    start = " as at the start" if assume == Assume() else f": {' and '.join(turned_on) or 'changed'}"
    return edited(head, f"What is taken for granted{start}", terms=terms)


def set_hub(head: JobHead, what: SetHub, index: BoxIndex) -> HouseEdit:
    """Which hub the house has."""
    house = head.house.model_copy(update={"hub": what.hub})
    return edited(head, f"Hub in the house: {what.hub or 'none'}", house=house)


def set_floor(head: JobHead, what: SetFloor, index: BoxIndex) -> HouseEdit:
    """The floor of a room."""
    if what.room not in set(index.rooms.values()):
        raise Rejected("expected one of the rooms of this house", "room")
    rooms = [room for room in head.house.rooms if room.name != what.room]
    if what.floor:
        rooms.append(Room(name=what.room, floor=what.floor))
    house = head.house.model_copy(update={"rooms": tuple(rooms)})
    return edited(
        head,
        f"{what.room} is on the floor “{what.floor}”" if what.floor else f"{what.room}: floor not said",
        house=house,
    )
