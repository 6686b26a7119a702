"""What a job takes for granted where nothing is known: start values of common practice, all to be changed."""

from __future__ import annotations

from fractions import Fraction
from typing import Any, Self

from pydantic import field_validator, model_validator

from .measure import Celsius, Number, parse_number
from .thing import Thing


class Warming(Thing):
    """How heat leaves a box: no published figures exist, so these are common practice, for an estimate."""

    room: Celsius = Fraction(25)
    """The room, and the wall cavity [°C]."""
    to_room: Number = parse_number("0.12")
    """Through the plate, a gang [W/K]."""
    to_cavity: Number = parse_number("0.08")
    """Into the wall, a gang [W/K]."""
    to_insulated_cavity: Number = parse_number("0.03")
    """The same where the wall is filled with insulation [W/K]."""
    to_neighbor: Number = parse_number("0.10")
    """From one gang to the next [W/K]."""

    @field_validator("to_room", "to_cavity", "to_insulated_cavity", "to_neighbor")
    @classmethod
    def _likely(cls, conductance: Fraction) -> Fraction:
        if not parse_number("0.005") <= conductance <= 5:
            raise ValueError("Enter a conductance from 0.005 to 5 W/K")
        return conductance


class Assume(Thing):
    """The assumptions for loads and limits; shown as assumed wherever it is used."""

    led_power_factor: Number = parse_number("0.9")
    """Of an LED driver or luminaire that states none."""
    retrofit_power_factor: Number = parse_number("0.6")
    """Of a small LED lamp in place of another one, or of one nobody described."""
    motor_power_factor: Number | None = None
    """Of a fan or motor given in watts; None: its amps stay open."""
    fallback_derating: bool = False
    """Whether a sheet that gives no derating loses 20 % for one neighbor and 35 % for two."""
    tenth_for_led: bool = False
    """Whether LED listed without a figure is taken at a tenth of the incandescent figure."""
    roomy: Number = parse_number("0.45")
    """Share of its room taken, by bulk, up to which a box is roomy."""
    snug: Number = parse_number("0.60")
    """The same up to which it is snug; above it, crammed."""
    warming: Warming = Warming()

    @model_validator(mode="before")
    @classmethod
    def _once_below_5_w(cls, said: Any) -> Any:
        """What was assumed of LED lamps below 5 W; where nobody changed it, the new start value holds."""
        if not isinstance(said, dict) or "small_led_power_factor" not in said:
            return said
        rest = {name: value for name, value in said.items() if name != "small_led_power_factor"}
        before = said["small_led_power_factor"]
        return rest if str(before) in ("0.5", "1/2") else {"retrofit_power_factor": before} | rest

    @field_validator("led_power_factor", "retrofit_power_factor", "motor_power_factor")
    @classmethod
    def _factor(cls, factor: Fraction | None) -> Fraction | None:
        if factor is not None and not 0 < factor <= 1:
            raise ValueError("Enter a power factor above 0 and at most 1")
        return factor

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if not 0 < self.roomy <= self.snug <= 1:
            raise ValueError("Enter shares of the room from 0 to 1, roomy no more than snug")
        return self


ASSUME = Assume()
"""The start values."""
