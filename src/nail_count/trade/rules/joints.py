"""Figures of joints and of what a meter shows at them: connectors by what meets, strip, voltages to expect.

Source: ANSI C84.1 and NFPA 70 (NEC) 300.14, from memory of the publications; the rest is common practice, and of a
connector the package's own listing binds (NEC 110.3(B), 110.14(B)).
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Literal

from ..model.answer import Rule
from ..model.figure import IN_PRACTICE, Figure, every_nec
from ..model.gauge import Gauge, awg

Size = Literal["small", "medium", "large"]
TAKES: Mapping[Size, tuple[tuple[Gauge, Figure], ...]] = {
    "small": ((awg(14), Figure("2", "", "A small connector: conductors up to 14 AWG", IN_PRACTICE)),),
    "medium": (
        (awg(14), Figure("4", "", "A medium connector: conductors up to 14 AWG", IN_PRACTICE)),
        (awg(12), Figure("3", "", "A medium connector: conductors up to 12 AWG", IN_PRACTICE)),
    ),
    "large": (
        (awg(14), Figure("5", "", "A large connector: conductors up to 14 AWG", IN_PRACTICE)),
        (awg(12), Figure("4", "", "A large connector: conductors up to 12 AWG", IN_PRACTICE)),
        (awg(10), Figure("3", "", "A large connector: conductors up to 10 AWG", IN_PRACTICE)),
    ),
}
"""How many conductors a connector takes at most, by the largest of them; a lead counts as 14 AWG."""
STRIP = Figure("7/16", "in", "Strip for a lever connector, 7/16 in", IN_PRACTICE)
PROUD = Figure("1/8", "in", "A stranded lead stands proud of solid ones, 1/8 in", IN_PRACTICE)
OUTSIDE = Figure("3", "in", "Free length outside a small opening, at least", every_nec("300.14"))
OPENING = Figure("8", "in", "An opening is small when some side of it is under", every_nec("300.14"))

_C84 = Rule("ANSI C84.1", "utilization", "memory")
LOW = Figure("0.9", "share", "Line to neutral at a box where the supply is of 120 V, from", _C84)
HIGH = Figure("1.05", "share", "The same, up to", _C84)
LOW_230 = Figure("0.9", "share", "Line to neutral at a box where the supply is of 230 V, from", IN_PRACTICE)
HIGH_230 = Figure("1.1", "share", "The same, up to", IN_PRACTICE)
SUPPLY_230 = Figure("200", "V", "A supply is taken as one of 230 V from", IN_PRACTICE)
GHOST_UP_TO = Figure("80", "V", "A floating wire on a high-impedance meter up to", IN_PRACTICE)
LOADED_UNDER = Figure("2", "V", "The same on a loaded meter, under", IN_PRACTICE)


def full_voltage(voltage: int) -> tuple[Fraction, Fraction]:
    """From how much to how much the full voltage of a circuit may be at a box [V].

    Args:
        voltage: of the circuit to neutral, nominal [V].

    >>> [float(volts) for volts in full_voltage(120)], [float(volts) for volts in full_voltage(230)]
    ([108.0, 126.0], [207.0, 253.0])
    """
    low, high = (LOW_230, HIGH_230) if voltage >= SUPPLY_230 else (LOW, HIGH)
    return low * voltage, high * voltage


def size_for(count: int, gauge: Gauge) -> Size | None:
    """The smallest connector that takes so many conductors of this gauge; None where none does.

    >>> size_for(4, awg(14)), size_for(4, awg(12)), size_for(6, awg(14))
    ('medium', 'large', None)
    """
    for size, rows in TAKES.items():
        for up_to, most in rows:
            if gauge <= up_to:
                if count <= most:
                    return size
                break
    return None


def most_of(gauge: Gauge) -> int:
    """How many conductors of a gauge the largest connector takes."""
    return next((int(most) for up_to, most in TAKES["large"] if gauge <= up_to), 2)
