"""How a count stands: over, tight or open; shared by every code that counts volume."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from fractions import Fraction

from ...model.answer import Amount, Line, Part, Rule, State, Text
from ...model.gauge import Gauge, largest
from ...model.measure import exact_sum

Allowances = Mapping[Gauge, Fraction]
"""What one conductor of each gauge takes, in the unit of the code."""


def counted(
    kind: str,
    what: Text,
    gauge: Gauge | None,
    *,
    parts: tuple[Part, ...],
    rule: Rule,
    why: Text,
    count: Fraction | None = None,
    allowances: Allowances,
) -> Line:
    """So many allowances of a gauge; an open line where no gauge is known, or the code has none for it."""
    count = exact_sum(part.count for part in parts) if count is None else count
    if gauge is None:
        why = (*why, "; ", "no conductor has been entered yet")
        return Line(kind, what, rule, why, count, None, None, parts)
    if gauge not in allowances:
        why = (*why, "; ", f"the code has no allowance for {gauge}")
        return Line(kind, what, rule, why, count, None, None, parts)
    allowance = allowances[gauge]
    return Line(kind, what, rule, why, count, allowance, count * allowance, parts)


def judge(
    counting: Iterable[Gauge],
    lines: tuple[Line, ...],
    total: Fraction,
    *,
    limit: Fraction | None,
    allowances: Allowances,
    unit: str,
) -> tuple[State, Text]:
    """Return state and headline. Unknown lines can only add, so a count over the limit without them fails whatever they
    are.

    Args:
        counting: the gauges of the conductors in the box that count under the code.
        lines: what was counted.
        total: of the lines that are known.
        limit: the volume of the box; None: not known.
        allowances: of the code.
        unit: of every figure.
    """
    if limit is None:
        return State.OPEN, ("volume of the box not known",)
    spare, gauges = limit - total, tuple(counting)
    thickest = largest(gauge for gauge in gauges if gauge in allowances)
    if spare < 0:
        return State.FAILS, ("over by ", Amount(-spare, unit), *_too_many(-spare, thickest, allowances))
    if any(line.value is None for line in lines):
        missing = next(line for line in lines if line.value is None)
        if not gauges:
            return State.OPEN, ("no conductor entered yet, so the devices cannot be counted",)
        return State.OPEN, (*missing.what, ": ", missing.why[-1])
    if thickest is not None and spare < allowances[thickest]:
        return State.TIGHT, (("exactly full",) if spare == 0 else (Amount(spare, unit), " to spare"))
    return State.HOLDS, (Amount(spare, unit), " to spare")


def _too_many(over: Fraction, gauge: Gauge | None, allowances: Allowances) -> Text:
    """What the overrun is worth in conductors of the box's largest gauge."""
    if gauge is None:
        return ()
    count = -(-over // allowances[gauge])
    if count == 1:
        return (f": one {gauge} conductor too many",)
    return (f": {count} conductors of {gauge} too many",)
