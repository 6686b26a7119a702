"""Equipment that is fastened in place, beside lights or receptacles on one circuit: half the breaker at most.

Source: NFPA 70 (NEC) 210.23, of breakers of 15 and 20 A; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ...model.answer import Amount, Remark, State, Text
from ...model.figure import Figure, every_nec
from ...model.job import Terms
from ...model.load import Load, LoadKind
from ...model.panel import Circuit
from ..citing import Cite
from ..load.draw import drawn

FASTENED_SHARE = Figure("0.5", "share", "Equipment fastened in place beside lights or receptacles", every_nec("210.23"))
LARGEST = Figure("20", "A", "It is judged so on a breaker of at most", every_nec("210.23"))
FASTENED: frozenset[LoadKind] = frozenset(("fan", "motor", "heater"))


def fastened_findings(
    circuit: Circuit, loads: Sequence[Load], receptacles: bool, voltage: int, terms: Terms
) -> Iterator[Remark]:
    """Yield a finding where heaters, fans and motors take more than half of a breaker that feeds lights too.

    A light in the unit itself, at the same outlet, is part of it.

    Args:
        circuit: the breaker.
        loads: everything it feeds.
        receptacles: whether it feeds receptacles that nothing was entered for.
        voltage: across it [V].
        terms: whose code is asked, and the assumptions about loads.
    """
    if not Cite(terms.code).nec or circuit.breaker > LARGEST:
        return
    units = {load.outlet for load in loads if load.kind in FASTENED and load.outlet is not None}
    fixed = [load for load in loads if load.kind in FASTENED or load.outlet in units]
    others = receptacles or len(fixed) < len(loads)
    total = sum((_takes(load, voltage, terms) for load in fixed), start=Fraction(0))
    most = FASTENED_SHARE * circuit.breaker * voltage
    if not others or total <= most:
        return
    text: Text = (
        "heaters, fans and motors take ", Amount(total, "VA"), " of a circuit with lights or receptacles; "
        "half of the breaker is ", Amount(most, "VA"),
    )  # fmt: skip
    ways = ("a circuit of its own for the heater", "a smaller heater or fan")
    yield Remark("fastened-over-half", text, Cite(terms.code)("210.23"), State.FAILS, ways)


def _takes(load: Load, voltage: int, terms: Terms) -> Fraction:
    """Return what a load takes [VA]; its watts where its power factor isn't known, nothing where they aren't either."""
    by_unit = (drawn(load, unit, voltage, terms.assume).total for unit in ("VA", "W"))
    return next((total for total in by_unit if total is not None), Fraction(0))
