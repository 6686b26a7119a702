"""Single conductors of a cable, what each looked like and sat on, and the readings taken on them."""

from datetime import datetime
from typing import Annotated, Literal, get_args

from pydantic import Field, model_validator

from .measure import Length, Number
from .thing import Mark, Thing

Role = Literal["line", "neutral", "switched", "traveler", "onward", "unused"]
"""What a conductor is: supply in; grounded; to the load; between switches; supply going on; connected to nothing."""
ROLES: tuple[Role, ...] = get_args(Role)

Color = Literal["black", "white", "red", "blue", "brown", "gray", "yellow", "green-yellow", "bare"]
COLORS: tuple[Color, ...] = get_args(Color)

Terminal = Literal["common", "other", "line", "load", "neutral"]
"""What it sat on at the old switch: the odd screw of a three-way, another screw, or a marked one."""

Meter = Literal["loaded", "high impedance"]
"""A loaded meter draws a little current and shows no ghosts; a high-impedance one may."""

ReadingKind = Literal["volts", "continuity", "tester"]
To = Literal["ground", "hot", "lamp center", "lamp shell", "next hot", "next neutral"]
"""The other end of the reading: ground; a point proven hot; the lampholder; the next place's terminals."""


class Conductor(Thing):
    """One insulated conductor, as found."""

    color: Color | None = None
    """Of its insulation; None: not looked at, or not to be told."""
    sprayed: bool = False
    """Painted over or faded, so that its color says nothing."""
    tape: Color | None = None
    """Tape or sleeve somebody put on it."""
    sat_on: Terminal | None = None
    asserted_role: Role | None = None
    """What a person says it is."""
    free: Length | None = None
    """Free length, where it differs from the rest of its cable."""
    condition: Literal["sound", "brittle", "nicked"] | None = None
    """Of its insulation and end, where it differs from the rest."""
    same_as: Annotated[str, Field(max_length=60)] = ""
    """The conductor of another box it was matched with, joined at one end and found live at the other: porch B2."""


class Reading(Thing):
    """A reading on one conductor, the wires of the box apart and capped."""

    id: Mark
    kind: ReadingKind
    of: Mark
    """The conductor: cable letter and number, A1."""
    to: To | Mark = "ground"
    """The other point; or another conductor of the same cable."""
    meter: Meter = "loaded"
    on: tuple[Annotated[str, Field(max_length=20)], ...] = ()
    """Which breakers were on."""
    lamps_in: bool = False
    far: Literal[1, 2] = 1
    """Which way the far switch stood; 1 is how it was found."""
    volts: Number | None = None
    """What the meter showed [V]."""
    yes: bool | None = None
    """Continuity, or the tester's light."""
    electronic: bool = False
    """Whether an electronic switch is still connected: then no reading clears a wire."""
    at: datetime | None = None

    @model_validator(mode="after")
    def _says_something(self) -> "Reading":
        if self.kind == "volts" and self.volts is None:
            raise ValueError("expected what the meter showed, in volts")
        if self.kind == "volts" and self.volts is not None and not 0 <= self.volts <= 1000:
            raise ValueError("expected a reading from 0 to 1000 V")
        if self.kind != "volts" and self.yes is None:
            raise ValueError("expected yes or no")
        if self.kind == "continuity" and self.on:
            raise ValueError("expected every breaker off for continuity: a meter on ohms is destroyed by mains")
        return self
