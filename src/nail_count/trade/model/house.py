"""The house a job is about: its year, its floors and rooms, its hub."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .thing import Thing


class Room(Thing):
    """A room, and the floor it is on."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    floor: Annotated[str, Field(max_length=40)] = ""
    """As people call it: ground floor, upstairs."""


Prove = Literal["plate off", "device out", "closed"]
HousePutOff = Literal[
    "boxes", "volume", "cables", "device", "loads", "fails", "ends", "open", "hook-up", "parts", "breaker", "wiring",
    "work", "set-up", "built", "papers",
]  # fmt: skip
"""What a person can be asked to do next in a house, and can put off."""


class House(Thing):
    """The facts of the house."""

    year: Annotated[int, Field(ge=1700, le=2100)] | None = None
    """Built."""
    hub: Annotated[str, Field(max_length=60)] | None = None
    """The hub or radio the house already has; "" for none; None: not asked."""
    prove: Prove = "plate off"
    """When a box is tried with power: folded in with the plate off, before it is folded in, or all closed."""
    main_off: bool = False
    """Whether the main is always switched off for work here, not the circuit's breaker alone."""
    rooms: tuple[Room, ...] = ()
    """Rooms whose floor is known."""
    put_off: Annotated[tuple[HousePutOff, ...], Field(max_length=16)] = ()
    """The things to ask for last, since somebody put them off."""

    @model_validator(mode="after")
    def _each_room_once(self) -> Self:
        names = [room.name for room in self.rooms]
        if len(set(names)) < len(names):
            raise ValueError("Name each room once")
        return self

    def floor_of(self, room: str) -> str:
        """The floor a room is on; "" where that is not known."""
        return next((one.floor for one in self.rooms if one.name == room), "")
