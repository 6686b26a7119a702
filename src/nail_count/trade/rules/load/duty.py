"""Which loads are continuous, and what that makes of them.

Source: NFPA 70 (NEC) article 100 and 210.20(A), 424; CSA C22.1 8-104; from memory of the publications.
"""

from __future__ import annotations

from fractions import Fraction

from ...model.answer import Rule
from ...model.job import Code
from ...model.load import Load

QUARTER_MORE = Fraction(5, 4)
"""A continuous load counts so many times, NEC 210.20(A)."""
CSA_SHARE = Fraction(4, 5)
"""Of a breaker a continuous load may take so much, CSA C22.1 8-104."""
NEC_RULE = Rule("NEC", "210.20(A)")
CSA_RULE = Rule("CSA C22.1", "8-104")


def is_continuous(load: Load, code: Code) -> bool:
    """Whether a load counts as continuous.

    NEC: what is expected on for three hours or more at a stretch; fixed electric heating always; a residential light
    only where the job says so. CSA: presumed so unless shown otherwise. Where no code tells them apart: none.
    """
    if code.startswith("nec"):
        return bool(load.continuous) or load.kind == "heater"
    return code == "csa" and load.continuous is not False
