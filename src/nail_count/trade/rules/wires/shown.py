"""What a reading shows, in kind. Source: common practice; resistances of lamps and windings as they read cold."""

from __future__ import annotations

from typing import Literal

from ...model.answer import Rule
from ...model.conductor import Reading
from ...model.figure import Figure

Shown = Literal["nominal", "zero", "between", "double", "joined", "through", "apart", "beeps", "silent", "lit", "dark"]

_PRACTICE = Rule("Common practice", "", "practice")
NOMINAL_FROM = Figure("0.85", "share", "A reading is the full voltage from", _PRACTICE)
NOMINAL_TO = Figure("1.15", "share", "A reading is the full voltage up to", _PRACTICE)
ZERO_TO = Figure("0.05", "share", "A reading is nothing up to", _PRACTICE)
DOUBLE_FROM = Figure("1.6", "share", "A reading between two legs or phases from", _PRACTICE)
DOUBLE_TO = Figure("2.3", "share", "A reading between two legs or phases up to", _PRACTICE)
JOINED_BELOW = Figure("2", "ohm", "Two points are one wire below", _PRACTICE)
"""A cold lamp is 10 to 20 Ω, a winding 5 to 60: only less than this speaks for a wire."""
APART_FROM = Figure("20000", "ohm", "Two points are apart from", _PRACTICE)


def shown(reading: Reading, voltage: int) -> Shown | None:
    """What a reading shows, in kind; None where it can be nothing that a house of this voltage has.

    A beeper says neither wire nor load: it beeps for both.

    >>> shown(Reading(id="r1", kind="volts", of="A1", volts="118"), 120)
    'nominal'
    >>> shown(Reading(id="r1", kind="continuity", of="A1", ohms="14"), 120)
    'through'
    """
    if reading.kind == "tester":
        return "lit" if reading.yes else "dark"
    return of_ohms(reading) if reading.kind == "continuity" else _of_volts(reading, voltage)


def of_ohms(reading: Reading) -> Shown:
    """What a reading of continuity shows, in kind."""
    if reading.ohms is None:
        return "beeps" if reading.yes else "silent"
    return "joined" if reading.ohms < JOINED_BELOW else "through" if reading.ohms < APART_FROM else "apart"


def _of_volts(reading: Reading, voltage: int) -> Shown | None:
    assert reading.volts is not None
    share = reading.volts / voltage
    if share <= ZERO_TO:
        return "zero"
    if NOMINAL_FROM <= share <= NOMINAL_TO:
        return "nominal"
    if DOUBLE_FROM <= share <= DOUBLE_TO:
        return "double"
    return "between" if share < NOMINAL_FROM else None
