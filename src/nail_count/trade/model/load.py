"""Lamps and fans: what a device carries."""

from typing import Annotated, Literal, Self

from pydantic import Field, field_validator, model_validator

from .measure import Number, Power
from .thing import Mark, Thing

LoadKind = Literal["led", "incandescent", "fan"]
"""The kinds of load a person can hang on a device."""

RatedKind = Literal["led", "incandescent", "fan", "lighting"]
"""The kinds a sheet gives figures for. `lighting` is a general switch's figure for any lamp."""

KIND_WORDS: dict[RatedKind, str] = {
    "led": "LED",
    "incandescent": "incandescent",
    "fan": "fan",
    "lighting": "lighting",
}


class Load(Thing):
    """Some lamps, or a fan, on one channel of a device."""

    id: Mark
    kind: LoadKind
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    each: Power
    """What one draws: actual watts for lamps (never the lamp it replaces); amps or watts for a fan."""
    power_factor: Number | None = None
    """Where known; above 0, at most 1."""
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    """Of the device, from 1."""
    name: Annotated[str, Field(max_length=60)] = ""
    """What people call it: bench pendants."""

    @field_validator("each")
    @classmethod
    def _some_power(cls, each: Power) -> Power:
        if not 0 < each.value <= 20_000:
            raise ValueError(f"expected more than 0 and at most 20000 {each.unit}")
        return each

    @field_validator("power_factor")
    @classmethod
    def _factor(cls, factor: Number | None) -> Number | None:
        if factor is not None and not 0 < factor <= 1:
            raise ValueError("expected a power factor above 0 and at most 1")
        return factor

    @model_validator(mode="after")
    def _right_unit(self) -> Self:
        takes = ("W", "A") if self.kind == "fan" else ("W",)
        if self.each.unit not in takes:
            raise ValueError(f"expected {' or '.join(takes)} for {KIND_WORDS[self.kind]}, not {self.each.unit}")
        return self
