"""Single conductors of a cable, what each looked like and sat on, and the readings taken on them."""

from typing import Annotated, Any, Literal, get_args

from pydantic import Field, model_validator

from .measure import Length, Number
from .thing import Mark, Moment, Thing

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
To = Literal[
    "ground",
    "neutral",
    "lead",
    "hot",
    "panel hot",
    "panel neutral",
    "lamp center",
    "lamp shell",
    "next hot",
    "next neutral",
    "free end",
]
"""The other end of the reading: ground; a point proven neutral; the ground of an extension lead; a point proven hot;
the hot or the neutral of a circuit, lifted off its place in the panel; the lampholder, or the lead of a fixture; the
next place's terminals; the other end of the wire itself, found lying free."""
Lamps = Literal["not said", "in", "out", "cannot come out"]
"""Of all that the wires of the box lead to: lamps, plugs, fixtures. What cannot come out is in: its leads can be
taken apart at the fixture, and then it is out. Where nobody entered that, they may be in."""
Others = Literal["as found", "no change", "change"]
"""Every other switch that might act on the wire: left alone; or flipped one by one meanwhile, and what the reading
did."""
MOST_VOLTS = 1000
"""A reading is at most so much [V]: the range of the meters that are used in houses, common practice."""
EVERY = "every"
"""Among the breakers that were on: all of the panel."""


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
    circuit: Annotated[str, Field(max_length=20)] | None = None
    """Whose wires were lifted in the panel."""
    lamps: Lamps = "not said"
    others: Others = "as found"
    far: Literal[1, 2] = 1
    """Which way the far switch stood; 1 is how it was found."""
    volts: Number | None = None
    """What the meter showed [V]."""
    ohms: Number | None = None
    """What the meter showed for continuity, where it gives ohms; nothing at all is no continuity."""
    yes: bool | None = None
    """Continuity, as a beeper tells it, or the tester's light."""
    electronic: bool = False
    """Whether an electronic switch is still connected: then no reading clears a wire."""
    at: Moment | None = None

    @property
    def value(self) -> str:
        """What was shown, with its unit."""
        if self.volts is not None:
            return f"{float(self.volts):g} V"
        return f"{float(self.ohms):g} Ω" if self.ohms is not None else "yes" if self.yes else "no"

    @model_validator(mode="before")
    @classmethod
    def _lamps_once_in(cls, said: Any) -> Any:
        """A reading kept when it was only asked whether the lamps were in: nobody ever entered that they were out."""
        if not isinstance(said, dict) or "lamps_in" not in said:
            return said
        rest = {name: value for name, value in said.items() if name != "lamps_in"}
        return {"lamps": "in"} | rest if said["lamps_in"] is True else rest

    @model_validator(mode="after")
    def _says_something(self) -> "Reading":
        if self.kind == "volts" and self.volts is None:
            raise ValueError("Enter what the meter showed, in volts")
        if self.kind == "volts" and self.volts is not None and not 0 <= self.volts <= MOST_VOLTS:
            raise ValueError(f"Enter a reading from 0 to {MOST_VOLTS} V")
        if self.kind == "continuity" and self.ohms is not None and not 0 <= self.ohms <= 10**8:
            raise ValueError("Enter a reading from 0 to 100 million ohms")
        if self.kind != "volts" and self.yes is None and (self.ohms is None or self.kind == "tester"):
            raise ValueError("Enter yes or no, or ohms")
        if self.to in ("panel hot", "panel neutral") and self.kind != "continuity":
            raise ValueError("Take continuity only to a wire that is lifted in the panel")
        if self.to in ("panel hot", "panel neutral") and self.circuit is None:
            raise ValueError("Pick the circuit whose wire was lifted in the panel")
        if self.kind == "continuity" and self.on:
            raise ValueError("Turn every breaker off for continuity: mains destroys a meter on ohms")
        return self
