"""What a device measured beside the sum of its lamps, and what explains the difference.

Source: common practice.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ...model.answer import Amount, Text
from ...model.assumptions import Assume
from ...model.box import Equipment
from ...model.datasheet import Datasheet
from ...rules.load.draw import drawn

ALIKE = Fraction(1, 10)
"""Up to this share apart, lamps draw the watts printed on them. [practice]"""


@dataclass(frozen=True, slots=True)
class Weighed:
    """Measured beside reckoned."""

    measured: Fraction
    """[W]"""
    sum: Fraction | None
    """Of its loads [W]; None where it cannot be worked out."""
    alike: bool
    says: Text


def sum_of(item: Equipment, voltage: int, assume: Assume) -> Fraction | None:
    """The watts of all loads of a device [W], as printed; None where something cannot be worked out.

    Args:
        item: the device or module.
        voltage: of its circuit [V].
        assume: the assumptions about loads.
    """
    total = Fraction(0)
    for load in item.loads:
        one = drawn(load.changed(measured=None), "W", voltage, assume)
        if one.total is None or one.at_most:
            return None
        total += one.total
    return total


def weighed(measured: Fraction, item: Equipment, sheet: Datasheet, voltage: int, assume: Assume) -> Weighed:
    """What a device measured, beside the sum of its loads.

    Args:
        measured: with everything on it on [W].
        item: the device or module.
        voltage: of its circuit [V].
        assume: the assumptions about loads.
    """
    total = sum_of(item, voltage, assume)
    if total is None:
        return Weighed(measured, None, False, ("The watts of its loads aren’t known: only amps or VA were entered.",))
    off = measured - total
    if abs(off) <= ALIKE * total:
        return Weighed(measured, total, True, ("They agree within a tenth, as printed watts do.",))
    by = Amount(Fraction(round(abs(off) * 10), 10), "W")
    if off > 0:
        more: Text = (by, " more than its lamps: one more than entered, another kind, or a transformer that warms.")
        return Weighed(measured, total, False, more)
    dark = [load for load in item.loads if drawn_one(load.each.value, off)]
    which = f", which is about one {dark[0].name or dark[0].kind}" if dark else ""
    own = " Its own standby is not in it." if sheet.heat.standby is None else ""
    less: Text = (by, f" less than its lamps{which}: one is out, dimmed, or smaller than entered.{own}")
    return Weighed(measured, total, False, less)


def drawn_one(each: Fraction, off: Fraction) -> bool:
    """Whether one of a load is about the watts missing, within a tenth.

    >>> drawn_one(Fraction(9), Fraction(-9)), drawn_one(Fraction(9), Fraction(-20))
    (True, False)
    """
    return abs(each + off) <= ALIKE * each
