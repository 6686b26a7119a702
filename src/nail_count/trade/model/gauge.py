"""How thick a conductor is: by the American wire gauge, or by its cross-section."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Annotated, Literal

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

from .measure import parse_number, write_number


@dataclass(frozen=True, slots=True, order=True)
class Gauge:
    """A conductor's size; of two, the one of the larger cross-section is the larger.

    >>> awg(12) > awg(14) > mm2("1.5"), str(awg(14)), str(mm2("2.5"))
    (True, '14 AWG', '2.5 mm²')
    """

    area: float
    """Its cross-section [mm²]. By it alone gauges are compared: no cross-section of one kind is one of the other."""
    number: str = field(compare=False)
    """Without its unit, as cables are called: the 14 of 14/2."""
    unit: Literal["AWG", "mm2"] = field(compare=False)

    @property
    def written(self) -> str:
        """As documents and forms say it: 14 AWG, 2.5 mm2."""
        return f"{self.number} {self.unit}"

    def __str__(self) -> str:
        return f"{self.number} {'AWG' if self.unit == 'AWG' else 'mm²'}"


@lru_cache(maxsize=64)
def awg(number: int) -> Gauge:
    """A size of the American wire gauge: by ASTM B258 the diameter grows 92-fold over 39 steps from 0.005 in."""
    diameter = 0.127 * 92 ** ((36 - number) / 39)
    return Gauge(math.pi / 4 * diameter**2, str(number), "AWG")


def mm2(square: str) -> Gauge:
    """A cross-section in square millimeters, as written: 2.5."""
    value = parse_number(square)
    return Gauge(float(value), write_number(value), "mm2")


AWG_SIZES: tuple[Gauge, ...] = tuple(awg(number) for number in (24, 22, 20, 18, 16, 14, 12, 10, 8, 6, 4))
METRIC_SIZES: tuple[Gauge, ...] = tuple(map(mm2, ("0.5", "0.75", "1", "1.5", "2.5", "4", "6", "10", "16", "25")))
"""The sizes of IEC 60228, from memory, as far as a switch box sees them."""
GAUGES: tuple[Gauge, ...] = (*AWG_SIZES, *METRIC_SIZES)

_WRITTEN = re.compile(
    r"(?:#|no\.?|awg)?\s*(?P<awg>\d{1,2})\s*(?:awg|ga\.?|gauge)?|(?P<square>\d{1,2}(?:\.\d{1,2})?)\s*(?:sq\.?\s*)?mm\s*[2²]?",
    re.IGNORECASE,
)


def read_gauge(value: object) -> Gauge:
    """A gauge as people write it: 12, #12, 12 AWG, 12 ga, 2.5 mm², 2.5mm2.

    Raises:
        ValueError: it is none that comes into a switch box; the message says what was expected.

    >>> read_gauge("#12") == read_gauge(12) == awg(12), read_gauge("2.5mm²") == mm2("2.5")
    (True, True)
    """
    if isinstance(value, Gauge):
        return value
    text = str(value) if isinstance(value, int) and not isinstance(value, bool) else value
    if isinstance(text, str) and (gauge := _read(text)):
        return gauge
    sizes = ", ".join(one.number for one in AWG_SIZES)
    square = ", ".join(one.number for one in METRIC_SIZES)
    raise ValueError(f"Enter one of the gauges {sizes} AWG, such as 12, #12 or 12 AWG, or {square} mm²")


@lru_cache(maxsize=512)
def _read(text: str) -> Gauge | None:
    found = _WRITTEN.fullmatch(text.strip())
    if found is None:
        return None
    gauge = awg(int(found["awg"])) if found["awg"] else mm2(found["square"])
    return gauge if gauge in GAUGES else None


GaugeField = Annotated[
    Gauge,
    BeforeValidator(read_gauge),
    PlainSerializer(lambda gauge: gauge.written, return_type=str),
    WithJsonSchema({"anyOf": [{"type": "string"}, {"type": "integer"}], "examples": ["14 AWG", "2.5 mm2", 12]}),
]


def largest(gauges: Iterable[Gauge]) -> Gauge | None:
    """The thickest of these, or None where there are none.

    >>> str(largest([awg(14), awg(12), awg(14)]))
    '12 AWG'
    """
    return max(gauges, default=None)


def smallest(gauges: Iterable[Gauge]) -> Gauge | None:
    """The thinnest of these, or None where there are none."""
    return min(gauges, default=None)
