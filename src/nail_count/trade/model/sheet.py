"""The maker's data for a device: size, ratings, derating, limits."""

from fractions import Fraction
from functools import cached_property
from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .load import RatedKind
from .measure import Length, Power
from .thing import Thing
from .wish import Does

DeviceKind = Literal[
    "switch", "dimmer", "smart switch", "fan control", "countdown", "sensor", "receptacle", "remote", "module", "blank"
]
Derating = Literal["by position", "none needed", "not stated"]
Mixing = Literal["fractions add", "not allowed"]


class Rating(Thing):
    """What a channel may carry of one kind of load, by position. A kind listed without a figure stays open."""

    alone: Power | None = None
    """No neighbor."""
    end: Power | None = None
    """End of gang: one neighbor."""
    middle: Power | None = None
    """Middle of gang: two neighbors."""

    @model_validator(mode="after")
    def _one_unit_and_falling(self) -> Self:
        given = [figure for figure in (self.alone, self.end, self.middle) if figure is not None]
        if len({figure.unit for figure in given}) > 1:
            raise ValueError("expected alone, end and middle in one unit")
        if any(later.value > earlier.value for earlier, later in pairwise(given)):
            raise ValueError("expected each figure no higher than the one before: alone, then end, then middle")
        return self


class Channel(Thing):
    """One controlled output of a device."""

    name: Annotated[str, Field(max_length=40)] = ""
    """Where there are several: light, fan."""
    ratings: dict[RatedKind, Rating] = Field(default_factory=dict)
    """A kind of load that is not listed is not permitted."""
    minimum: Power | None = None
    """Least load it works with, where the sheet states one."""
    mixing: Mixing = "fractions add"
    """What the sheet says of several kinds on one channel."""

    @model_validator(mode="after")
    def _minimum_in_watts(self) -> Self:
        if self.minimum is not None and self.minimum.unit != "W":
            raise ValueError("expected the minimum load in W")
        return self


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


class Sheet(Thing):
    """A maker's sheet, as far as it changes an answer."""

    id: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[a-z0-9]+(-[a-z0-9]+)*$")]
    maker: Annotated[str, Field(max_length=60)] = ""
    name: Annotated[str, Field(min_length=1, max_length=80)]
    kind: DeviceKind
    gangs: Annotated[int, Field(ge=1, le=4)] = 1
    """Gangs its yoke takes."""
    body: Body | None = None
    leads: Annotated[int, Field(ge=0, le=16)] | None = None
    """How many leads it brings; None: not said."""
    least_depth: Length | None = None
    """The least inside depth of a box the sheet asks for."""
    derating: Derating = "not stated"
    """What the sheet says of neighbors."""
    channels: tuple[Channel, ...] = ()
    neutral: Literal["needed", "not needed"] | None = None
    """Whether it needs a neutral; None: the sheet does not say."""
    does: tuple[Does, ...] = ()
    """What it can be asked for."""
    local: bool | None = None
    """Whether it works by hand with the network down."""
    radio: Annotated[str, Field(max_length=40)] = ""
    """The radio or hub it needs; "" for none."""
    places: Literal["one", "several"] = "one"
    """Whether it can share its load with other places."""
    companion: Annotated[str, Field(max_length=60)] = ""
    """The sheet of what it wants at the other places; "" for a plain three-way switch."""
    end: Literal["line end", "load end", "either"] | None = None
    """Which end of a multi-place pair may hold it; None: the sheet does not say."""
    bypass: bool = False
    """Whether its maker lists a bypass for loads below its minimum."""

    def __hash__(self) -> int:
        """By its id: the sheets of a job differ in it."""
        return hash(self.id)

    @property
    def is_module(self) -> bool:
        """A module: on no yoke, loose in a box or a canopy."""
        return self.kind == "module"

    @property
    def is_blank(self) -> bool:
        """A blank filler: no device, counts nothing, is nobody's neighbor."""
        return self.kind == "blank"
