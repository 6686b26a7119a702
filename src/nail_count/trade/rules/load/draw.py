"""What a load draws, in the unit its sheet rates it by."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ...model.answer import Amount, Text
from ...model.assumptions import ASSUME, Assume
from ...model.figure import IN_PRACTICE, Figure
from ...model.load import TURNS, Load
from .motor import motor_amps

RETROFIT_TO = Figure("25", "W", "A retrofit LED lamp, or one of unknown kind: up to", IN_PRACTICE)
"""Up to so many watts an LED lamp that is not entered as a luminaire has the smaller power factor [W]."""
CFL_POWER_FACTOR = Figure("0.5", "", "Power factor of a compact fluorescent", IN_PRACTICE)
"""Taken for compact fluorescents that state none; common practice."""
LAMP_SHARE = Figure("0.75", "share", "Lamps, of a transformer's VA", IN_PRACTICE)
"""Of a magnetic transformer's VA its lamps are at most so much, where its loss is not known; common practice."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """What a load draws, piece by piece."""

    each: Fraction | None
    """In the unit asked for; None: cannot be known from what was entered."""
    why: Text
    count: Fraction
    """How many of them."""
    assumed: bool = False
    """Whether something was taken that nobody stated."""
    at_most: bool = False
    """Whether it may draw less: its watts are unknown, and all its volt-amperes count as watts."""

    @property
    def total(self) -> Fraction | None:
        """Of all of them."""
        return None if self.each is None else self.each * self.count


def drawn(load: Load, unit: str, voltage: int, assume: Assume = ASSUME) -> Drawn:
    """What a load draws, in W, VA, A or hp. A measured figure, shared evenly, stands in for the sum of its lamps.

    Args:
        load: with its figure, or a measured one.
        unit: W, VA, A or hp.
        voltage: of the circuit [V].
        assume: what the job takes for granted.

    Source: W = V × A × power factor; motors by NEC Table 430.248; the factors taken are common practice.

    >>> from nail_count.trade.model.measure import Power
    >>> fan = Load(id="l1", kind="fan", each=Power.parse("85 W"), power_factor="0.85")
    >>> drawn(fan, "A", 120).each
    Fraction(5, 6)
    """
    measured = load.measured
    power = load.each if measured is None else measured.power
    count = Fraction(load.quantity)
    value = power.value if measured is None else power.value / count
    each, why, assumed = _converted(load, value, power.unit, unit=unit, voltage=voltage, assume=assume)
    at_most = assumed and unit == "W" and power.unit != "W"
    if measured is None:
        return Drawn(each, why, count, assumed, at_most)
    by = "with a meter" if measured.by == "meter" else "by the relay"
    said = f"measured {by} on {measured.at:%Y-%m-%d}"
    return Drawn(each, (said,) if why == _AS_ENTERED else (f"{said}; ", *why), count, assumed, at_most)


_Converted = tuple[Fraction | None, Text, bool]
_AS_ENTERED: Text = ("as entered",)


def _converted(load: Load, value: Fraction, given: str, *, unit: str, voltage: int, assume: Assume) -> _Converted:
    if given == unit:
        return value, _AS_ENTERED, False
    if given == "hp" or unit == "hp":
        return _horsepower(value, given, unit, voltage)
    if {given, unit} == {"A", "VA"}:
        return (value * voltage if unit == "VA" else value / voltage), (f"at {voltage} V",), False
    if load.kind == "mlv" and load.measured is None:
        return _transformer(load, value, unit, voltage)
    return _by_factor(load, value, given, unit=unit, voltage=voltage, assume=assume)


def _by_factor(load: Load, value: Fraction, given: str, *, unit: str, voltage: int, assume: Assume) -> _Converted:
    """Between watts and what they draw, by the power factor."""
    factor, assumed = _power_factor(load, assume)
    if factor is None and given == "W":
        return None, ("Enter its power factor or its amps: watts alone don’t tell what it draws",), False
    apparent = value * voltage if given == "A" else value if factor is None or given != "W" else value / factor
    if unit == "W" and (factor is None or assumed):  # what nobody stated never lowers what was
        return apparent, (f"{voltage} V, all its VA taken for watts: its power factor isn’t entered",), True
    assert factor is not None
    why: Text = (f"{voltage} V, power factor ", Amount(factor), ", assumed" if assumed else "")
    if unit == "W":
        return apparent * factor, why, assumed
    return (apparent if unit == "VA" else apparent / voltage), why, assumed


def _horsepower(value: Fraction, given: str, unit: str, voltage: int) -> _Converted:
    if unit == "hp":
        return None, ("the sheet rates it in hp: enter its horsepower",), False
    amps = motor_amps(value, voltage)
    if amps is None or unit == "W":
        why: Text = (
            "enter its amps: no table tells what a motor of ",
            Amount(value, "hp"),
            f" draws at {voltage} V",
        )
        return (
            None,
            why if unit != "W" else ("enter its watts: horsepower is its output, not its draw",),
            False,
        )
    why = ("full-load current of ", Amount(value, "hp"), f" at {voltage} V, NEC Table 430.248")
    return (amps if unit == "A" else amps * voltage), why, False


def _transformer(load: Load, value: Fraction, unit: str, voltage: int) -> _Converted:
    """Lamps behind a magnetic transformer: their watts and the transformer's loss are its volt-amperes."""
    if unit == "W":
        return None, ("enter the watts of its lamps: VA alone do not tell them",), False
    if load.loss is not None:
        apparent, assumed = value + load.loss.value, False
        why: Text = ("its lamps and ", Amount(load.loss.value, "W"), " the transformer takes")
    else:
        apparent, assumed = value / LAMP_SHARE, True
        why = ("its lamps taken at 75% of the transformer's VA, assumed",)
    return (apparent if unit == "VA" else apparent / voltage), why, assumed


def _power_factor(load: Load, assume: Assume) -> tuple[Fraction | None, bool]:
    """The factor, and whether it was assumed."""
    if load.power_factor is not None:
        return load.power_factor, False
    if load.kind in ("incandescent", "heater"):
        return Fraction(1), False
    if load.kind in ("led", "elv"):
        small = load.kind == "led" and load.fitting != "luminaire" and load.each.value <= RETROFIT_TO
        return (assume.retrofit_power_factor if small else assume.led_power_factor), True
    if load.kind == "cfl":
        return CFL_POWER_FACTOR, True
    if load.kind in TURNS and assume.motor_power_factor is not None:
        return assume.motor_power_factor, True
    return None, False
