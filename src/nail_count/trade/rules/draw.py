"""What a load draws, in the unit its sheet rates it by."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..model.answer import Amount, Text
from ..model.load import Load

LED_POWER_FACTOR = Fraction(9, 10)
"""Taken for LED lamps of 5 W and more that state none; common practice."""
SMALL_LED_POWER_FACTOR = Fraction(1, 2)
"""Taken for LED lamps below 5 W that state none; common practice."""
SMALL_LED = Fraction(5)
"""[W]."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """What one lamp or fan of a load draws."""

    each: Fraction | None
    """In the unit asked for; None: cannot be known from what was entered."""
    why: Text
    assumed: bool = False
    """Whether a power factor was taken that nobody stated."""


def drawn(load: Load, unit: str, voltage: int) -> Drawn:
    """What one of a load draws, in W, VA or A.

    Args:
        load: lamps or a fan, with its figure in W or A.
        unit: W, VA or A.
        voltage: of the circuit [V].

    Source: W = V × A × power factor; the factors taken for LED lamps are common practice.

    >>> from nail_count.trade.model.measure import Power
    >>> fan = Load(id="l1", kind="fan", each=Power.parse("85 W"), power_factor="0.85")
    >>> drawn(fan, "A", 120).each
    Fraction(5, 6)
    """
    value, given = load.each.value, load.each.unit
    if given == unit:
        return Drawn(value, ("as entered",))
    if {given, unit} == {"A", "VA"}:
        return Drawn(value * voltage if unit == "VA" else value / voltage, (f"at {voltage} V",))
    factor, assumed = _power_factor(load)
    if factor is None:
        why: Text = ("expected its power factor or its amps: watts alone do not tell what a motor draws",)
        if given == "A":
            why = ("expected its power factor or its watts: amps alone do not tell what a motor uses",)
        return Drawn(None, why)
    taken = ", assumed" if assumed else ""
    why = (f"{voltage} V, power factor ", Amount(factor), taken)
    apparent = value / factor if given == "W" else value * voltage
    if unit == "W":
        return Drawn(apparent * factor, why, assumed)
    return Drawn(apparent if unit == "VA" else apparent / voltage, why, assumed)


def _power_factor(load: Load) -> tuple[Fraction | None, bool]:
    """The factor, and whether it was assumed."""
    if load.power_factor is not None:
        return load.power_factor, False
    if load.kind == "incandescent":
        return Fraction(1), False
    if load.kind == "led":
        return (SMALL_LED_POWER_FACTOR if load.each.value < SMALL_LED else LED_POWER_FACTOR), True
    return None, False
