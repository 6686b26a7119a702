"""Lengths, volumes and load figures, exact, as people write them.

Every figure is a [fractions.Fraction][]: a box exactly full holds, and no binary float is ever compared.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from math import lcm
from typing import Annotated, Any, ClassVar, Self

from pydantic import BeforeValidator, GetCoreSchemaHandler, PlainSerializer, WithJsonSchema
from pydantic_core import CoreSchema, core_schema

_VULGAR = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}
_NUMBER = re.compile(
    r"(?P<whole>\d{1,7})(?:\s*[-\s]\s*)(?P<top>\d{1,3})/(?P<bottom>\d{1,3})"
    r"|(?P<t>\d{1,7})/(?P<b>\d{1,7})"
    r"|(?P<decimal>\d{1,7}(?:\.\d{1,9})?|\.\d{1,9})"
)


def parse_number(text: str) -> Fraction:
    """A number as people write it: ``2.125``, ``2 1/8``, ``2-1/8``, ``2⅛`` or ``1/8``, exactly.

    Raises:
        ValueError: it is not such a number; the message says what was expected.

    >>> parse_number("2-1/8")
    Fraction(17, 8)
    """
    clean = text.strip()
    for sign, spelled in _VULGAR.items():
        clean = clean.replace(sign, f" {spelled}")
    found = _NUMBER.fullmatch(clean.strip())
    if not found:
        raise ValueError("Enter a number such as 18, 20.3 or 2 1/8")
    if found["decimal"]:
        return Fraction(found["decimal"])
    whole, top, bottom = found["whole"] or "0", found["top"] or found["t"], found["bottom"] or found["b"]
    if int(bottom) == 0:
        raise ValueError("Enter a fraction with more than 0 under the line")
    return int(whole) + Fraction(int(top), int(bottom))


def write_number(value: Fraction) -> str:
    """The shortest text that [parse_number][] reads back as the same number.

    >>> write_number(Fraction(17, 8)), write_number(Fraction(1, 3))
    ('2.125', '1/3')
    """
    top, bottom = value.numerator, value.denominator
    for places in range(10):
        scaled, rest = divmod(abs(top) * 10**places, bottom)  # whole numbers: exact, and quick
        if rest == 0:
            digits = str(scaled).rjust(places + 1, "0")
            text = f"{digits[:-places]}.{digits[-places:]}" if places else digits
            return f"-{text}" if top < 0 else text
    return f"{top}/{bottom}"


def _exact(value: object) -> Fraction:
    if isinstance(value, Fraction):
        return value
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise ValueError("Enter a number")
    return parse_number(value if isinstance(value, str) else repr(value))


def exact_sum(values: Iterable[Fraction]) -> Fraction:
    """The sum of these, exactly: over one denominator, which takes a fraction of the time of adding one by one.

    >>> exact_sum([Fraction(1, 2), Fraction(1, 3), Fraction(2)])
    Fraction(17, 6)
    """
    ratios = [value.as_integer_ratio() for value in values]
    bottom = lcm(*(under for _, under in ratios))
    return Fraction(sum(top * (bottom // under) for top, under in ratios), bottom)


Number = Annotated[
    Fraction,
    BeforeValidator(_exact),
    PlainSerializer(write_number, return_type=str),
    WithJsonSchema({"anyOf": [{"type": "number", "minimum": 0}, {"type": "string"}], "examples": ["0.9", 120]}),
]
"""An exact number with no unit, written in a document as a number or as text."""


@dataclass(frozen=True, slots=True)
class Measure:
    """A figure with the unit it was written in. Kinds of measure say which units they take."""

    value: Fraction
    unit: str

    UNITS: ClassVar[dict[str, Fraction]] = {}
    SPELLINGS: ClassVar[dict[str, str]] = {}
    EXAMPLES: ClassVar[tuple[str, ...]] = ()

    @classmethod
    def parse(cls, text: str, unit: str | None = None) -> Self:
        """What was meant by this text.

        Args:
            text: a number and a unit, in any common spelling: ``2 1/8 in``, ``54mm``, ``20.3 in³``.
            unit: the unit meant where the text names none; without it, a bare number is refused.

        Raises:
            ValueError: not such a measure; the message says what was expected.

        >>> Length.parse('2 1/8"').mm
        Fraction(2159, 40)
        """
        kind: Any = cls  # mypy takes no class for hashable
        found = _parse(kind, text, unit)
        assert isinstance(found, cls)
        return found

    def __str__(self) -> str:
        return f"{write_number(self.value)} {self.unit}"

    def to(self, unit: str) -> Fraction:
        """The figure in a unit of the same kind, exactly."""
        if unit == self.unit:
            return self.value
        kind: Any = type(self)  # mypy takes no class for hashable
        return self.value * _factor(kind, self.unit, unit)

    @classmethod
    def __get_pydantic_core_schema__(cls, source: type, handler: GetCoreSchemaHandler) -> CoreSchema:
        """Text in, text out, so that documents read as people write."""

        def read(value: Any) -> Measure:
            if isinstance(value, cls):
                return value
            if isinstance(value, str):
                return cls.parse(value)
            raise ValueError(f"Enter text with its unit, such as “{cls.EXAMPLES[0]}”")

        return core_schema.no_info_plain_validator_function(
            read,
            serialization=core_schema.plain_serializer_function_ser_schema(str),
            json_schema_input_schema=core_schema.str_schema(
                metadata={"pydantic_js_extra": {"examples": list(cls.EXAMPLES)}}
            ),
        )

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: object) -> dict[str, Any]:
        """A text with examples of what it takes."""
        units = ", ".join(cls.UNITS)
        return {
            "type": "string",
            "title": cls.__name__,
            "description": f"A number and its unit: {units}.",
            "examples": list(cls.EXAMPLES),
        }


class Length(Measure):
    """A length; 1 in is 25.4 mm exactly."""

    __slots__ = ()
    UNITS: ClassVar = {
        "in": Fraction(254, 10),
        "mm": Fraction(1),
        "cm": Fraction(10),
        "ft": Fraction(3048, 10),
    }
    SPELLINGS: ClassVar = {
        '"': "in", "″": "in", "”": "in", "inch": "in", "inches": "in", "'": "ft", "′": "ft", "feet": "ft",
    }  # fmt: skip
    EXAMPLES: ClassVar = ("2 1/8 in", "54 mm")

    @property
    def mm(self) -> Fraction:
        """Millimetres [mm]."""
        return self.to("mm")

    @property
    def inches(self) -> Fraction:
        """Inches [in]."""
        return self.to("in")


class Volume(Measure):
    """A volume; 1 in³ is 16.387064 mL exactly."""

    __slots__ = ()
    UNITS: ClassVar = {"in3": Fraction(16387064, 1000000), "mL": Fraction(1), "cm3": Fraction(1)}
    SPELLINGS: ClassVar = {
        "in³": "in3", "in^3": "in3", "cu in": "in3", "cu. in.": "in3", "cu.in.": "in3", "cu in.": "in3",
        "cubic inches": "in3", "cubic inch": "in3", "cuin": "in3", "ci": "in3",
        "ml": "mL", "cm³": "cm3", "cm^3": "cm3", "cc": "cm3", "cu cm": "cm3",
    }  # fmt: skip
    EXAMPLES: ClassVar = ("20.3 in3", "295 cm3", "245 mL")

    @property
    def in3(self) -> Fraction:
        """Cubic inches [in³]."""
        return self.to("in3")


class Power(Measure):
    """What a load draws or a device may carry: W, VA, A or hp. They never convert by themselves."""

    __slots__ = ()
    UNITS: ClassVar = {"W": Fraction(1), "VA": Fraction(1), "A": Fraction(1), "hp": Fraction(1)}
    SPELLINGS: ClassVar = {
        "w": "W", "watt": "W", "watts": "W", "va": "VA",
        "a": "A", "amp": "A", "amps": "A", "ampere": "A", "amperes": "A", "horsepower": "hp",
    }  # fmt: skip
    EXAMPLES: ClassVar = ("9 W", "0.9 A")


def _celsius(value: object) -> Fraction:
    """A temperature as people write it: 40, 40 °C, 104 °F."""
    if isinstance(value, Fraction):
        return value
    found = _TEMPERATURE.fullmatch(str(value).strip()) if not isinstance(value, bool) else None
    if found is None:
        raise ValueError("Enter a temperature such as 40 °C or 104 °F")
    number = parse_number(found[1])
    celsius = (number - 32) * 5 / 9 if found[2].lower() == "f" else number
    if not 0 <= celsius <= 150:
        raise ValueError("Enter a temperature from 0 to 150 °C (32 to 302 °F)")
    return celsius


_TEMPERATURE = re.compile(r"([\d./ ]+?)\s*(?:°\s*)?([CcFf]?)")
Celsius = Annotated[
    Fraction,
    BeforeValidator(_celsius),
    PlainSerializer(write_number, return_type=str),
    WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}], "examples": ["40", "104 °F"]}),
]
"""A temperature [°C]."""


@lru_cache(maxsize=64)
def _factor(kind: type[Measure], unit: str, to: str) -> Fraction:
    """Cached: exact division is slow, and there are a few units only."""
    return kind.UNITS[unit] / kind.UNITS[to]


@lru_cache(maxsize=4096)
def _parse(kind: type[Measure], text: str, unit: str | None) -> Measure:
    """Cached: a job says the same few measures over and over."""
    clean = text.strip()
    expected = f"Enter a {kind.__name__.lower()} such as “{kind.EXAMPLES[0]}”"
    split = re.search(r"[^\d\s./½¼¾⅛⅜⅝⅞-].*$", clean)
    spelled = split.group(0).strip() if split else ""
    number = clean[: split.start()] if split else clean
    if not clean:
        raise ValueError(expected)
    if spelled:
        found = spelled if spelled in kind.UNITS else kind.SPELLINGS.get(spelled.lower())
        found = found or next((known for known in kind.UNITS if known.lower() == spelled.lower()), None)
        if found is None:
            raise ValueError(f"{expected}. “{spelled[:20]}” isn’t a unit for this")
        unit = found
    if unit is None:
        raise ValueError(f"{expected}. “{clean[:40]}” has no unit")
    try:
        return kind(parse_number(number), unit)
    except ValueError as wrong:
        raise ValueError(expected) from wrong
