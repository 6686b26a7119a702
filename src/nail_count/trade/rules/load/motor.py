"""What a motor draws by its horsepower, and what a switch may carry of it.

Source: NFPA 70 (NEC) Table 430.248, single-phase motors, and 404.14(A), 430.109(C); from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction

from ...model.answer import Rule
from ...model.figure import Figure, every_nec
from ...model.measure import parse_number

TABLE = Rule("NEC", "Table 430.248")
SNAP_SWITCH = "404.14(A), 430.109(C)"
"""Articles of the NEC on motors on general-use switches."""
SWITCH_SHARE = Figure("0.8", "share", "A snap switch carries of a motor", every_nec(SNAP_SWITCH))
"""Of its rating a general-use AC snap switch carries of a motor."""
SWITCH_MOST_HP = Figure("2", "hp", "The largest motor on a snap switch", every_nec(SNAP_SWITCH))
"""The largest motor on a general-use AC snap switch [hp]."""
MOTOR_AMPS: Mapping[Fraction, Figure] = {
    parse_number(hp): Figure(amps, "A", f"{hp} hp", TABLE)
    for hp, amps in (
        ("1/6", "4.4"), ("1/4", "5.8"), ("1/3", "7.2"), ("1/2", "9.8"), ("3/4", "13.8"), ("1", "16"),
        ("1 1/2", "20"), ("2", "24"),
    )
}  # fmt: skip
"""Full-load current at 115 V [A], for systems of 110 to 120 V."""


def motor_amps(hp: Fraction, voltage: int) -> Fraction | None:
    """Full-load current of a single-phase motor [A]; None where the table has no row or no column for it.

    Args:
        hp: horsepower.
        voltage: of the circuit [V]: 110 to 120 is the column of 115 V, 220 to 240 that of 230 V, half as much.

    >>> motor_amps(Fraction(1, 2), 120)
    Fraction(49, 5)
    """
    row = MOTOR_AMPS.get(hp)
    if row is None:
        return None
    if 110 <= voltage <= 120:
        return row
    return row / 2 if 220 <= voltage <= 240 else None
