"""The facts of the house, its rooms and its hub, and what the job takes for granted."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...documents import Documents, Edited
from ...model.assumptions import ASSUME, Assume, Warming
from ...model.edition import EDITIONS, NEC_2023, Code
from ...model.errors import Rejected
from ...model.house import HousePutOff, Prove, Room
from ...model.job import ModuleCounting
from ...model.measure import Celsius, Number
from ...model.region import US, ColorCode
from ..base import Edit
from ..fields import Maybe
from .base import edited


class SetHouse(Edit):
    """The facts of the house."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    year: Annotated[Annotated[int, Field(ge=1700, le=2100)] | None, Maybe] = None
    hub: Annotated[str, Field(max_length=60)] = ""
    main_off: bool = False
    prove: Prove = "plate off"
    colors: ColorCode = US.id
    code: Code = NEC_2023.id
    modules: ModuleCounting = "larger"
    voltage: Annotated[int, Field(ge=100, le=250)] = 120

    def _edited(self, documents: Documents) -> Edited:
        """The facts of the house."""
        head = documents.head
        house = head.house.changed(year=self.year, hub=self.hub, main_off=self.main_off, prove=self.prove)
        terms = head.terms.changed(colors=self.colors, code=self.code, modules=self.modules, voltage=self.voltage)
        year = f", built {house.year}" if house.year else ""
        hub = f", hub: {house.hub}" if house.hub else ""
        off = ", the main goes off for work" if house.main_off else ""
        sentence = f"House “{self.name}”{year}{hub}{off}, counted by {EDITIONS[self.code].title}"
        return edited(documents, sentence, name=self.name, house=house, terms=terms)


class SetAssumptions(Edit):
    """What the job takes for granted of loads and heat, in place of the start values."""

    led_power_factor: Number
    retrofit_power_factor: Number
    motor_power_factor: Annotated[Number | None, Maybe] = None
    fallback_derating: bool = False
    tenth_for_led: bool = False
    roomy: Number = ASSUME.roomy
    snug: Number = ASSUME.snug
    room: Celsius
    to_room: Number
    to_cavity: Number
    to_insulated_cavity: Number
    to_neighbor: Number

    def _edited(self, documents: Documents) -> Edited:
        """What the job takes for granted."""
        head = documents.head
        said = self.said()
        heat = {name: said.pop(name) for name in Warming.model_fields}
        assume = Assume.model_validate(said | {"warming": Warming.model_validate(heat)})
        turned_on = [words for words, on in (
            ("derating where the sheet gives none", assume.fallback_derating),
            ("a tenth of the incandescent figure for LED", assume.tenth_for_led),
        ) if on]  # fmt: skip
        terms = head.terms.changed(assume=assume)
        start = " as at the start" if assume == Assume() else f": {' and '.join(turned_on) or 'changed'}"
        return edited(documents, f"Assumptions{start}", terms=terms)


class SetHub(Edit):
    """Which hub or radio the house has."""

    hub: Annotated[str, Field(max_length=60)] = ""

    def _edited(self, documents: Documents) -> Edited:
        """Which hub the house has."""
        head = documents.head
        house = head.house.changed(hub=self.hub)
        return edited(documents, f"Hub in the house: {self.hub or 'none'}", house=house)


class SetFloor(Edit):
    """Which floor a room is on."""

    room: Annotated[str, Field(min_length=1, max_length=60)]
    floor: Annotated[str, Field(max_length=40)] = ""

    def _edited(self, documents: Documents) -> Edited:
        """The floor of a room."""
        head = documents.head
        if self.room not in {line.room for line in documents.lines().values()}:
            raise Rejected("Pick one of the rooms of this house", "room")
        rooms = [room for room in head.house.rooms if room.name != self.room]
        if self.floor:
            rooms.append(Room(name=self.room, floor=self.floor))
        house = head.house.changed(rooms=tuple(rooms))
        return edited(
            documents,
            f"{self.room} is on the floor “{self.floor}”" if self.floor else f"{self.room}: floor not known",
            house=house,
        )


class AskHouseLater(Edit):
    """Ask for something in this house last."""

    ask: HousePutOff

    def _edited(self, documents: Documents) -> Edited:
        """The house with this put off."""
        house = documents.head.house
        if self.ask in house.put_off:
            raise Rejected("This is put off already. It is all that's left here.", "ask")
        return edited(documents, f"Put off: {self.ask}", house=house.changed(put_off=(*house.put_off, self.ask)))
