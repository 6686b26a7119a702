"""Times of the day and how long things take, as people write them."""

from __future__ import annotations

import re
from typing import Annotated

from pydantic import BeforeValidator, PlainSerializer, WithJsonSchema

MINUTES_IN_HOUR = 60
DAY = 24 * MINUTES_IN_HOUR
_CLOCK = re.compile(r"(\d{1,2})(?:\s*[:.h]\s*(\d{2})?)?\s*([ap])?\.?\s*(?:m\.?)?", re.IGNORECASE)
_LASTS = re.compile(
    r"(?:(?P<hours>\d{1,3}(?:\.\d{1,2})?)\s*(?:h|hr|hrs|hour|hours)\b\.?)?\s*"
    r"(?:(?P<minutes>\d{1,4})\s*(?:m|min|mins|minute|minutes)?\b\.?)?",
    re.IGNORECASE,
)


def parse_clock(text: str) -> int:
    """A time of the day as people write it [minutes since midnight]: 8, 8:30, 7.30, 4 pm, 16h.

    Raises:
        ValueError: it is none; the message says what was expected.

    >>> parse_clock("8:30"), parse_clock("4 pm"), parse_clock("12 am"), parse_clock("16h")
    (510, 960, 0, 960)
    """
    found = _CLOCK.fullmatch(text.strip())
    expected = "Enter a time of the day such as 8:30 or 4 pm"
    if found is None:
        raise ValueError(expected)
    hour, minute, half = int(found[1]), int(found[2] or 0), (found[3] or "").lower()
    if half:
        if not 1 <= hour <= 12:
            raise ValueError(expected)
        hour = hour % 12 + (12 if half == "p" else 0)
    if minute >= MINUTES_IN_HOUR or hour * MINUTES_IN_HOUR + minute > DAY:
        raise ValueError(expected)
    return hour * MINUTES_IN_HOUR + minute


def write_clock(minutes: int) -> str:
    """A time of the day.

    >>> write_clock(510), write_clock(960)
    ('8:30', '16:00')
    """
    return f"{minutes // MINUTES_IN_HOUR}:{minutes % MINUTES_IN_HOUR:02d}"


def parse_minutes(text: str) -> int:
    """How long something takes as people write it [min]: 45, 45 min, 1 h 30, 1.5 h, 1:30.

    Raises:
        ValueError: it is none; the message says what was expected.

    >>> parse_minutes("45"), parse_minutes("1 h 30"), parse_minutes("1.5 h"), parse_minutes("1:30")
    (45, 90, 90, 90)
    """
    clean = text.strip()
    hours, colon, rest = clean.partition(":")
    if colon and hours.strip().isdigit() and len(rest.strip()) == 2 and rest.strip().isdigit():
        return int(hours) * MINUTES_IN_HOUR + int(rest)
    found = _LASTS.fullmatch(clean) if clean else None
    if found is None or (found["hours"] is None and found["minutes"] is None):
        raise ValueError("Enter a time such as 45 min or 1 h 30")
    return round(float(found["hours"] or 0) * MINUTES_IN_HOUR) + int(found["minutes"] or 0)


def write_minutes(minutes: int) -> str:
    """How long something takes.

    >>> write_minutes(45), write_minutes(90), write_minutes(120)
    ('45 min', '1 h 30', '2 h')
    """
    hours, rest = divmod(minutes, MINUTES_IN_HOUR)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest:02d}" if rest else f"{hours} h"


def _read_clock(value: object) -> object:
    return parse_clock(value) if isinstance(value, str) else value


def _read_minutes(value: object) -> object:
    return parse_minutes(value) if isinstance(value, str) else value


Clock = Annotated[
    int,
    BeforeValidator(_read_clock),
    PlainSerializer(write_clock, return_type=str),
    WithJsonSchema({"type": "string", "examples": ["8:30", "4 pm"]}),
]
"""A time of the day [minutes since midnight]."""
Lasts = Annotated[
    int,
    BeforeValidator(_read_minutes),
    PlainSerializer(write_minutes, return_type=str),
    WithJsonSchema({"type": "string", "examples": ["45 min", "1 h 30"]}),
]
"""How long something takes [min]."""
