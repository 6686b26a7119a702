"""What one controlled output of a device may carry, as its sheet says it."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, ValidationInfo, field_validator, model_validator
from pydantic_core import PydanticCustomError

from .errors import BESIDE_OTHERS
from .load import KIND_WORDS, RATED_KINDS, Load, RatedKind
from .measure import Power
from .thing import Thing

Mixing = Literal["fractions add", "not allowed", "own table"]
UNITS: dict[RatedKind, tuple[str, ...]] = {
    **dict.fromkeys(RATED_KINDS, ("W", "VA", "A")),
    "mlv lamps": ("W",),
    "fan": ("A", "hp", "W"),
    "motor": ("A", "hp", "W"),
    "general": ("A", "W"),
}
"""The units a sheet may rate a kind in."""


class Rating(Thing):
    """What a channel may carry of one kind of load, by position or by number. Without a figure the kind is open."""

    alone: Power | None = None
    """No neighbor."""
    end: Power | None = None
    """End of gang: one neighbor."""
    middle: Power | None = None
    """Middle of gang: two neighbors."""
    ganged: Annotated[tuple[Power, ...], Field(max_length=7)] = ()
    """Where the sheet goes by number: for two devices side by side, three, and so on; the last holds for more."""

    @model_validator(mode="after")
    def _one_unit_and_falling(self) -> Self:
        if self.alone is None and (self.end or self.middle or self.ganged):
            raise ValueError("Enter the figure alone as well")
        if self.middle and not self.end:
            raise ValueError("Enter the figure at the end of a gang as well")
        placed = [figure for figure in (self.alone, self.end, self.middle) if figure is not None]
        counted = [figure for figure in (self.alone, *self.ganged) if figure is not None]
        if len({figure.unit for figure in (*placed, *counted)}) > 1:
            raise PydanticCustomError(BESIDE_OTHERS, "Enter alone, end and middle in one unit")
        if any(figure.value <= 0 or figure.value > 20_000 for figure in (*placed, *counted)):
            raise ValueError("Enter figures above 0 and at most 20000")
        if any(later.value > earlier.value for row in (placed, counted) for earlier, later in pairwise(row)):
            raise PydanticCustomError(
                BESIDE_OTHERS,
                "Make each figure no higher than the one before: alone, then end, then middle; "
                "a neighbor never lets a device carry more",
            )
        if self.ganged and (self.end or self.middle):
            raise ValueError("Enter figures by position or by number ganged, not both")
        return self


class Channel(Thing):
    """One controlled output of a device."""

    name: Annotated[str, Field(max_length=40)] = ""
    """Where there are several: light, fan."""
    ratings: dict[RatedKind, Rating] = Field(default_factory=dict)
    """A kind of load that is not listed is not permitted."""
    not_permitted: tuple[RatedKind, ...] = ()
    """Kinds the sheet names as not permitted, for the sake of saying so."""
    minimum: Power | None = None
    """Least load it works with, where the sheet states one."""
    minimums: dict[RatedKind, Power] = Field(default_factory=dict)
    """Least load by kind, where the sheet tells them apart."""
    mixing: Mixing = "fractions add"
    """What the sheet says of several kinds on one channel."""
    mixed: Annotated[tuple[dict[RatedKind, Rating], ...], Field(max_length=12)] = ()
    """The sheet's own table of mixed loads: each row gives the most of each kind at once."""
    inrush: Power | None = None
    """The peak of current it may be switched on into [A], where the sheet states one."""

    @field_validator("not_permitted")
    @classmethod
    def _in_order(cls, kinds: tuple[RatedKind, ...]) -> tuple[RatedKind, ...]:
        return tuple(sorted(set(kinds), key=RATED_KINDS.index))

    @field_validator("minimum", "inrush")
    @classmethod
    def _in_their_units(cls, figure: Power | None, info: ValidationInfo) -> Power | None:
        unit, said = ("W", "minimum load") if info.field_name == "minimum" else ("A", "inrush current")
        if figure is not None and figure.unit != unit:
            raise ValueError(f"Enter the {said} in {unit}")
        if figure is not None and not 0 < figure.value <= 20_000:
            raise ValueError("Enter a figure above 0 and at most 20000")
        return figure

    def rated_by(self, load: Load) -> RatedKind | None:
        """The kind of the sheet's figure that holds for a load; None where the sheet does not permit it."""
        if load.kind in self.not_permitted:
            return None
        if load.kind in self.ratings:
            return load.kind
        if load.is_lamp and "lighting" in self.ratings:
            return "lighting"
        return "general" if "general" in self.ratings else None

    @model_validator(mode="after")
    def _units_that_kinds_take(self) -> Self:
        for kind, rating in (pair for row in (self.ratings, *self.mixed) for pair in row.items()):
            if rating.alone is not None and rating.alone.unit not in UNITS[kind]:
                takes = " or ".join(UNITS[kind])
                raise ValueError(f"Enter {takes} for {KIND_WORDS[kind]}, not {rating.alone.unit}")
        if both := set(self.ratings) & set(self.not_permitted):
            raise ValueError(f"Give {KIND_WORDS[both.pop()]} a figure or mark it not permitted, not both")
        if any(least.unit != "W" for least in self.minimums.values()):
            raise ValueError("Enter the minimum load in W")
        if (self.mixing == "own table") != bool(self.mixed):
            raise ValueError("Enter the sheet's own table of mixed loads only where it has one")
        return self
