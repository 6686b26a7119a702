"""Which loads are continuous, and what that makes of them.

Source: NFPA 70 (NEC) article 100 and 210.20(A), 424; CSA C22.1 8-104; from memory of the publications.
"""

from __future__ import annotations

from ...model.answer import Rule
from ...model.edition import EDITIONS, Code
from ...model.figure import Figure, every_nec
from ...model.load import Load

CSA_RULE = Rule("CSA C22.1", "8-104")
QUARTER_MORE = Figure("1.25", "share", "A continuous load counts", every_nec("210.20(A)"))
"""A continuous load counts so many times, NEC 210.20(A)."""
CSA_SHARE = Figure("0.8", "share", "Continuous load, of its breaker", CSA_RULE)
"""Of a breaker a continuous load may take so much, CSA C22.1 8-104."""
NEC_RULE = Rule("NEC", "210.20(A)")


def is_continuous(load: Load, code: Code) -> bool:
    """Tell whether a load counts as continuous.

    NEC: loads expected on for three hours or more at a stretch; fixed electric heating always; a residential light
    only where the job says so. CSA: presumed so unless shown not to be. Where no code tells them apart: none.
    """
    presumed = EDITIONS[code].continuous
    if presumed == "said":
        return bool(load.continuous) or load.kind == "heater"
    return presumed == "presumed" and load.continuous is not False
