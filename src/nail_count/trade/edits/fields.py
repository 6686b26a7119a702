"""How a form field is read: an empty one says nothing, a bare number takes the unit its field is in."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime
from fractions import Fraction
from typing import Annotated

from pydantic import BeforeValidator

from ..model.measure import Length, Measure, Power, Volume, parse_number


def _nothing_is_none(value: object) -> object:
    """An empty form field says nothing."""
    return None if isinstance(value, str) and not value.strip() else value


def _with_unit(kind: type[Measure], unit: str) -> Callable[[object], object]:
    """Reads a bare number as meant in this unit."""

    def read(value: object) -> object:
        return kind.parse(value, unit) if isinstance(value, str) and value.strip() else _nothing_is_none(value)

    return read


Maybe = BeforeValidator(_nothing_is_none)
InCubicInches = Annotated[Volume | None, BeforeValidator(_with_unit(Volume, "in3"))]
in_feet = _with_unit(Length, "ft")
"""A bare number is meant in feet."""
InInches = Annotated[Length | None, BeforeValidator(_with_unit(Length, "in"))]


def listed(value: object) -> object:
    """Several choices, as boxes ticked on a form or as a list."""
    return [one.strip() for one in value.split(",") if one.strip()] if isinstance(value, str) else value


def in_volts(value: object) -> object:
    """Volts as people write them: 118, 118 V, 0.4v."""
    return _nothing_is_none(value.strip().rstrip("vV").strip()) if isinstance(value, str) else value


def in_ohms(value: object) -> object:
    """Ohms as people write them: 0.4, 14 Ω, 2 ohm; nothing and OL say nothing."""
    if not isinstance(value, str):
        return value
    clean = value.strip().lower().removesuffix("ω").removesuffix("ohms").removesuffix("ohm").strip()
    return None if clean == "ol" else _nothing_is_none(clean)


def now() -> datetime:
    """The present, to the second, in UTC."""
    return datetime.now(UTC).replace(microsecond=0, tzinfo=None)


def in_watts(value: object) -> object:
    """A bare number is meant in watts; an empty field says nothing."""
    return (Power.parse(value, "W") if value.strip() else None) if isinstance(value, str) else value


POUNDS_IN_KG = Fraction(100_000_000, 45_359_237)
"""By the definition of the pound: 0.45359237 kg."""


def in_pounds(value: object) -> object:
    """A weight as people write it: 22, 22 lb, 10 kg; an empty field says nothing.

    >>> float(in_pounds("10 kg")), in_pounds("22 lb"), in_pounds(" ")
    (22.046226218487757, '22', None)
    """
    if not isinstance(value, str):
        return value
    clean = value.strip().lower()
    if clean.endswith("kg"):
        return parse_number(clean.removesuffix("kg").strip()) * POUNDS_IN_KG
    return _nothing_is_none(clean.removesuffix("s").removesuffix("lb").strip())


def in_amps(value: object) -> object:
    """A breaker as people write it: 15, 15 A, 15A."""
    return value.strip().rstrip("aA").strip() if isinstance(value, str) else value
