"""The maker's data for a device: size, ratings, derating, limits, leads; whatever changes an answer."""

from __future__ import annotations

from fractions import Fraction
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Literal, Self, get_args

from pydantic import ConfigDict, Field, field_validator, model_validator

from .channel import Channel
from .joining import Joining
from .load import LOAD_KINDS, LoadKind
from .measure import Celsius, Length, Number, Power
from .thing import Thing
from .wish import DOES, Does

DeviceKind = Literal[
    "switch", "dimmer", "smart switch", "fan control", "countdown", "sensor", "receptacle", "remote", "module", "blank"
]
DEVICE_KINDS: tuple[DeviceKind, ...] = get_args(DeviceKind)
Derating = Literal["by position", "by number", "none needed", "not stated"]
TerminalRole = Literal[
    "line",
    "load",
    "second load",
    "third load",
    "traveler",
    "neutral",
    "load neutral",
    "ground",
    "input",
    "input common",
    "contact",
    "dimming",
]
"""`contact`: the feed of a contact that is apart from what powers the device; `load neutral`: of what trips, past it;
`input common`: what a dry input is closed onto."""
TERMINAL_ROLES: tuple[TerminalRole, ...] = get_args(TerminalRole)
Listed = Literal[
    "replaces a switch without a neutral", "aluminum", "class 2 beside mains", "receptacles", "damp places"
]
LISTED: tuple[Listed, ...] = get_args(Listed)


Behavior = Literal["follows", "toggles", "momentary", "detached"]
BEHAVIORS: tuple[Behavior, ...] = get_args(Behavior)
_ORDER: tuple[str, ...] = (*DOES, *BEHAVIORS, *LOAD_KINDS, *LISTED)


class Body(Thing):
    """The device's body behind and at the mounting plane."""

    width: Length
    height: Length
    projection: Length
    """How far it reaches back behind the mounting plane."""

    @cached_property
    def volume(self) -> Fraction:
        """Width × height × projection [in³]."""
        return self.width.inches * self.height.inches * self.projection.inches


class Terminal(Thing):
    """A lead or a screw of the device, and what it is for."""

    role: TerminalRole
    kind: Literal["lead", "screw"] = "lead"
    color: Annotated[str, Field(max_length=20, pattern=r"^[A-Za-z /-]*$")] = ""
    """As the leaflet names it."""
    most: Power | None = None
    """What it may carry [A]; None: no more is known than of the device."""

    @field_validator("color")
    @classmethod
    def _a_color(cls, color: str) -> str:
        words = color.lower().split()
        if {"screw", "lead"} & set(words):
            raise ValueError("Enter a color, not the kind of terminal")
        return " ".join(words)

    @field_validator("most")
    @classmethod
    def _in_amps(cls, most: Power | None) -> Power | None:
        if most is not None and (most.unit != "A" or not 0 < most.value <= 100):
            raise ValueError("Enter what a terminal may carry in A, at most 100")
        return most


class CurvePoint(Thing):
    """At this ambient, this share of the rating."""

    at: Celsius
    share: Number

    @field_validator("share")
    @classmethod
    def _a_share(cls, share: Fraction) -> Fraction:
        if not 0 <= share <= 1:
            raise ValueError("Enter a share of the rating from 0 to 1")
        return share


class Ambient(Thing):
    """Up to which warmth around it the device carries its rating."""

    holds_to: Celsius | None = None
    """The rating holds up to it [°C]; None: only the maximum is stated."""
    stops_at: Celsius
    """The stated maximum [°C]."""
    curve: Annotated[tuple[CurvePoint, ...], Field(max_length=12)] = ()
    """The sheet's own curve, warmer from point to point; straight lines between."""

    @model_validator(mode="after")
    def _falls_with_heat(self) -> Self:
        if self.holds_to is not None and self.holds_to > self.stops_at:
            raise ValueError("Let the rating hold to no more than the stated maximum")
        if any(later.at <= earlier.at for earlier, later in pairwise(self.curve)):
            raise ValueError("Make each point of the curve warmer than the one before")
        if any(later.share > earlier.share for earlier, later in pairwise(self.curve)):
            raise ValueError("Let the curve fall as it gets warmer")
        return self

    @property
    def contradicts(self) -> bool:
        """Whether its curve gives less than all where the sheet says the rating holds."""
        return self.holds_to is not None and any(one.at <= self.holds_to and one.share < 1 for one in self.curve)


class OwnHeat(Thing):
    """What of the power the device turns into heat."""

    share: Number | None = None
    """Of its load; None: not stated."""
    standby: Power | None = None
    """With everything off [W]; None: not stated."""

    @model_validator(mode="after")
    def _little(self) -> Self:
        if self.share is not None and not 0 <= self.share <= Fraction(1, 5):
            raise ValueError("Enter a share of the load from 0 to 0.2")
        if self.standby is not None and (self.standby.unit != "W" or self.standby.value > 20):
            raise ValueError("Enter a standby of at most 20 W, in W")
        return self


class Packed(Thing):
    """What lies in the package beside the device."""

    what: Annotated[str, Field(min_length=1, max_length=40)]
    count: Annotated[int, Field(ge=1, le=50)] = 1


class Datasheet(Thing):
    """A maker's sheet, as far as it changes an answer. A field that is None or missing stands nowhere on the sheet."""

    model_config = ConfigDict(defer_build=False)  # FastAPI takes the body of a request only as a kind that is built
    id: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$")]
    maker: Annotated[str, Field(max_length=60)] = ""
    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: DeviceKind
    gangs: Annotated[int, Field(ge=1, le=4)] = 1
    """Gangs its yoke takes."""
    body: Body | None = None
    spacer: Length | None = None
    """A spacer or adapter that belongs behind its plate."""
    leads: Annotated[int, Field(ge=0, le=16)] | None = None
    """How many leads it brings; None: not on the sheet."""
    terminals: Annotated[tuple[Terminal, ...], Field(max_length=16)] = ()
    """Its leads and screws one by one."""
    reversible: bool | None = None
    """Whether line and load may be exchanged."""
    least_depth: Length | None = None
    """The least inside depth of a box the sheet asks for."""
    derating: Derating = "not stated"
    """What the sheet says of neighbors."""
    channels: Annotated[tuple[Channel, ...], Field(max_length=8)] = ()
    total: Power | None = None
    """What all its channels may carry together [A]."""
    ambient: Ambient | None = None
    heat: OwnHeat = OwnHeat()
    continuous: bool = False
    """Whether the sheet counts continuous loads at 125 %."""
    phase: Literal["forward", "reverse", "either"] | None = None
    """How it dims, where it does."""
    neutral: Literal["needed", "not needed", "uses the ground"] | None = None
    """Whether it needs a neutral; `uses the ground` for want of one."""
    does: tuple[Does, ...] = ()
    """What it can be asked for."""
    local: bool | None = None
    """Whether it works by hand with the network down."""
    battery: bool = False
    """Whether it lives on a battery."""
    radio: Annotated[str, Field(max_length=40)] = ""
    """The radio or hub it needs; "" for none."""
    pairing: Annotated[str, Field(max_length=120)] = ""
    """How to pair it."""
    joining: Joining | None = None
    """How it joins a hub, step by step; None: not marked so."""
    code_at: Annotated[str, Field(max_length=80)] = ""
    """Where its setup code sits."""
    places: Literal["one", "several"] = "one"
    """Whether it can share its load with other places."""
    companion: Annotated[str, Field(max_length=60)] = ""
    """The sheet of what it wants at the other places; "" for a plain three-way switch."""
    end: Literal["line end", "load end", "either"] | None = None
    """Which end of a multi-place pair may hold it."""
    full_range: bool | None = None
    """Whether every place that controls it has its full range."""
    bypass: bool = False
    """Whether its maker lists a bypass for loads below its minimum."""
    input: Literal["mains", "dry", "low voltage"] | None = None
    """What a module's input takes."""
    input_at_mains: bool | None = None
    """Whether a dry input sits at mains potential all the same."""
    behaviors: tuple[Behavior, ...] = ()
    """How its input can be made to behave."""
    class2: bool = False
    """Whether it has class 2 wires of its own, 0–10 V say."""
    neon: bool = False
    """Whether a small lamp of its own sits across its open contact, and lets a little through."""
    metering: bool = False
    """Whether it reports the watts that pass through it."""
    trim: Annotated[str, Field(max_length=40)] = ""
    """The opening of the plate it takes: toggle, rocker, duplex."""
    lamp_settings: tuple[LoadKind, ...] = ()
    """Lamp types that can be set on it."""
    package: Annotated[tuple[Packed, ...], Field(max_length=8)] = ()
    """What lies in its package: connectors, screws, a spacer; () where nobody entered it."""
    torque: Number | None = None
    """What its screws are tightened to [lb·in]; None: not stated."""
    listed: tuple[Listed, ...] = ()
    """What it is listed for beyond the usual."""
    unlisted: bool = False
    """Whether it bears no testing laboratory's mark."""
    leaflet: Annotated[str, Field(max_length=64, pattern=r"^[0-9a-f]*$")] = ""
    """The picture of its leaflet, kept beside the job; "" for none."""

    @field_validator("does", "behaviors", "lamp_settings", "listed")
    @classmethod
    def _each_once(cls, said: tuple[str, ...]) -> tuple[str, ...]:
        """In one order, so that two sheets that say the same are the same."""
        return tuple(sorted(set(said), key=_ORDER.index))

    @field_validator("torque")
    @classmethod
    def _some_torque(cls, torque: Fraction | None) -> Fraction | None:
        if torque is not None and not 1 <= torque <= 100:
            raise ValueError("Enter a torque from 1 to 100 lb·in")
        return torque

    @field_validator("total")
    @classmethod
    def _total_in_amps(cls, total: Power | None) -> Power | None:
        if total is not None and (total.unit != "A" or not 0 < total.value <= 100):
            raise ValueError("Enter the total of all channels in A, at most 100")
        return total

    def __hash__(self) -> int:
        """By its id: the sheets of a job differ in it."""
        return hash(self.id)

    @cached_property
    def roles(self) -> tuple[TerminalRole, ...]:
        """Return the role of each terminal, in their order.

        A dry input is a pair of terminals. Where the leaflet calls both of them inputs, the second is the common.

        >>> pair = [{"role": role} for role in ("line", "load", "neutral", "input", "input")]
        >>> sheet = {"id": "m", "name": "M", "kind": "module", "input": "dry", "terminals": pair}
        >>> Datasheet.model_validate(sheet).roles
        ('line', 'load', 'neutral', 'input', 'input common')
        """
        named = [terminal.role for terminal in self.terminals]
        inputs = [number for number, role in enumerate(named) if role == "input"]
        outputs = sum(role in ("load", "second load", "third load") for role in named)
        if self.input in ("dry", "low voltage") and "input common" not in named and len(inputs) == 2 * max(outputs, 1):
            for number in inputs[1::2]:
                named[number] = "input common"
        return tuple(named)

    @property
    def is_module(self) -> bool:
        """A module: on no yoke, loose in a box or a canopy."""
        return self.kind == "module"

    @property
    def is_three_way(self) -> bool:
        """A plain switch for a light that is switched from several places."""
        return self.kind == "switch" and self.places == "several" and not self.radio

    @property
    def is_blank(self) -> bool:
        """A blank filler: no device, counts nothing, is nobody's neighbor."""
        return self.kind == "blank"

    @property
    def dims(self) -> bool:
        """Whether it dims."""
        return self.kind == "dimmer" or "dim" in self.does
