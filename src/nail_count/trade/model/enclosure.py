"""The box itself: gangs, volume, clamps, rings."""

from fractions import Fraction
from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from .measure import Length, Number, Volume
from .thing import Thing
from .trade_size import TRADE_SIZES, TradeSize, find_trade_size

MOST_GANGS = 8
MOST_VOLUME = 1000
"""The largest volume a switch box can have [in³]."""


class Ring(Thing):
    """A ring, raised cover or extension on the front of the box."""

    kind: Annotated[str, Field(min_length=1, max_length=60)]
    """What it is: plaster ring, extension."""
    volume: Volume | None = None
    """Marked on it; None: unmarked."""
    trade_size: str | None = None
    """A row of NEC Table 314.16(A), for an unmarked extension that is itself such a box; None: it adds nothing."""
    depth: Length | None = None
    """How much depth it adds; None: not measured."""

    @field_validator("trade_size")
    @classmethod
    def _known_size(cls, typed: str | None) -> str | None:
        return find_trade_size(typed).name if typed else None


class Barrier(Thing):
    """A fixed barrier between two gangs: each side is counted apart."""

    after: Annotated[int, Field(ge=1, le=MOST_GANGS)]
    """The gang it stands behind, from the left."""
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    volume: Volume | None = None
    """Marked on it; None: half a cubic inch of metal, one of nonmetallic."""


Fitting = Literal["stud", "hickey"]


class FanSupport(Thing):
    """What a ceiling box may carry of a fan, and the fan that hangs there."""

    listed: bool | None = None
    """Whether it is listed for a fan; None: not looked at."""
    marked: Number | None = None
    """The heaviest fan it is marked for [lb]; None: no mark seen."""
    weight: Number | None = None
    """Of the fan that hangs there [lb]; None: not known."""

    @field_validator("marked", "weight")
    @classmethod
    def _some_weight(cls, pounds: Fraction | None) -> Fraction | None:
        if pounds is not None and not 0 < pounds <= 200:
            raise ValueError("Enter a weight above 0 and at most 200 lb")
        return pounds


class Enclosure(Thing):
    """What the devices and conductors go into."""

    gangs: Annotated[int, Field(ge=1, le=MOST_GANGS)] = 1
    """Device widths, side by side."""
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    volume: Volume | None = None
    """Marked in the box, all gangs together; outranks the trade size."""
    trade_size: str | None = None
    """A row of NEC Table 314.16(A), for a metal box without a mark."""
    clamps: bool = False
    """Whether clamps, or tabs taken for clamps, hold the cables inside the box."""
    rings: tuple[Ring, ...] = ()
    fittings: tuple[Fitting, ...] = ()
    """Luminaire stud, hickey."""
    barriers: Annotated[tuple[Barrier, ...], Field(max_length=4)] = ()
    width: Length | None = None
    """Inside, where measured."""
    height: Length | None = None
    """Inside, where measured."""
    depth: Length | None = None
    """Inside, where measured."""
    fan: FanSupport | None = None
    """Of a box a fan hangs at."""

    @field_validator("volume")
    @classmethod
    def _some_volume(cls, volume: Volume | None) -> Volume | None:
        if volume is not None and not 0 < volume.in3 <= MOST_VOLUME:
            raise ValueError(f"Enter a volume above zero and no more than {MOST_VOLUME} in³")
        return volume

    @field_validator("trade_size")
    @classmethod
    def _known_size(cls, typed: str | None) -> str | None:
        return find_trade_size(typed).name if typed else None

    @field_validator("width", "height", "depth")
    @classmethod
    def _some_length(cls, length: Length | None) -> Length | None:
        if length is not None and not 10 <= length.mm <= 1000:
            raise ValueError("Enter an inside measure from 10 mm (3/8 in) to 1000 mm (39 in)")
        return length

    @model_validator(mode="after")
    def _agrees_with_itself(self) -> Self:
        places = [barrier.after for barrier in self.barriers]
        if len(set(places)) < len(places) or any(after >= self.gangs for after in places):
            raise ValueError(f"Put each barrier between two of the {self.gangs} gangs, and one at a place")
        size = self.size
        if size is None:
            return self
        if self.material != "metal":
            raise ValueError("trade sizes are for metal boxes: enter the volume marked in a nonmetallic box")
        if self.gangs > size.most_gangs:
            raise ValueError(f"A {size.name} box has at most {size.most_gangs} gangs. Enter {size.most_gangs} or fewer")
        table = size.in3 * (self.gangs if size.per_gang else 1)
        if self.volume is not None and abs(self.volume.in3 - table) > table / 100:
            raise ValueError(
                f"the volume {self.volume} and the trade size {size.name} contradict each other: "
                "Enter one of the two, whichever the box shows"
            )
        return self

    @property
    def measured(self) -> Fraction | None:
        """Width × height × depth as measured inside [in³]; None where one of them is not known."""
        if self.width is None or self.height is None or self.depth is None:
            return None
        return self.width.inches * self.height.inches * self.depth.inches

    @property
    def size(self) -> TradeSize | None:
        """The row of the table, where a trade size is given."""
        return TRADE_SIZES[self.trade_size] if self.trade_size else None
