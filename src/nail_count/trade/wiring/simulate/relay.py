"""A stand-in for relays that measure: what one would report, simulated. No device is asked."""

from __future__ import annotations

from fractions import Fraction
from zlib import crc32

from ...model.job import Terms
from ...model.load import Load
from ...rules.load.draw import drawn

MOST_OFF = 6
"""How far lamps draw from their printed watts, in percent, either way; invented."""


def relay_reading(load: Load, terms: Terms | None = None) -> Fraction:
    """What the simulated relay reports of a group of loads [W]: a little off the print, always the same.

    Args:
        terms: voltage and assumptions; the defaults where None.

    Raises:
        ValueError: nothing entered tells its watts; the message says what was expected.

    >>> from nail_count.trade.model.measure import Power
    >>> six = Load(id="l1", kind="led", quantity=6, each=Power.parse("9 W"))
    >>> 50 < relay_reading(six) < 58
    True
    """
    terms = terms or Terms()
    printed = load.changed(measured=None)
    total = drawn(printed, "W", terms.voltage, terms.assume).total
    if total is None:  # a motor: the stand-in takes what it draws for what it uses
        total = drawn(printed, "VA", terms.voltage, terms.assume).total
    if total is None:
        raise ValueError("Enter the load so that its watts can be worked out")
    off = crc32(f"{load.id} {load.kind} {load.each}".encode()) % (2 * MOST_OFF + 1) - MOST_OFF
    return Fraction(round(total * (100 + off) / 10), 10)
