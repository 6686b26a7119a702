"""A sheet's own table of mixed loads: each row says what may hang on a channel of each kind at once."""

from __future__ import annotations

from collections.abc import Sequence
from fractions import Fraction
from typing import Protocol

from ...model.answer import Amount, Line, Part, limit_of
from ...model.channel import Channel
from ...model.datasheet import Datasheet
from ...model.job import Terms
from ...model.load import KIND_WORDS, Load, RatedKind
from .limits import SHEET, limit_steps
from .position import Position


class Hung(Protocol):
    """Loads that one figure holds for."""

    @property
    def kind(self) -> RatedKind: ...  # noqa: D102
    @property
    def loads(self) -> tuple[Load, ...]: ...  # noqa: D102
    @property
    def unit(self) -> str: ...  # noqa: D102
    @property
    def connected(self) -> Fraction | None: ...  # noqa: D102


def mixed_row(
    groups: Sequence[Hung], outlet: Channel, sheet: Datasheet, place: Position, terms: Terms
) -> tuple[tuple[Line, ...], tuple[Line, ...]]:
    """Lines and limit lines, as shares, by the row of the table that leaves most.

    In a row every kind is held to its own figure, and the one nearest to it decides; a row that does not name a kind
    does not permit it: where no row names all kinds, [load_findings][nail_count.trade.rules.load.findings] says so.

    Source: the maker's sheet.
    """
    limit = Line(
        "rating", ("The sheet's own table of mixed loads",), SHEET, ("each kind to its own figure",), value=Fraction(1)
    )
    rows = [_row(groups, number, outlet, sheet, place, terms) for number in range(len(outlet.mixed))]
    known = [row for row in rows if row is not None]
    if known:
        best = min(
            known, key=lambda row: (any(line.value is None for line in row), sum(line.value or 0 for line in row))
        )
        return best, (limit,)
    why = ("no row of the sheet's table names all of these kinds",)
    return tuple(
        Line("lamps", (KIND_WORDS[group.kind],), SHEET, why, Fraction(1), None, None, _parts(group)) for group in groups
    ), (limit,)


def _parts(group: Hung) -> tuple[Part, ...]:
    return tuple(Part(load.id) for load in group.loads)


def _row(
    groups: Sequence[Hung], number: int, outlet: Channel, sheet: Datasheet, place: Position, terms: Terms
) -> tuple[Line, ...] | None:
    row = outlet.mixed[number]
    if any(group.kind not in row for group in groups):
        return None
    shares: list[tuple[Hung, Fraction | None, Fraction | None]] = []
    for group in groups:
        steps = limit_steps(group.kind, row[group.kind], sheet, place, terms.assume)
        top, used = limit_of(steps), group.connected
        shares.append((group, used / top if top and used is not None else None, top))
    binds = max((share for _, share, _ in shares if share is not None), default=Fraction(0))
    lines, counted = [], False
    for group, share, top in shares:
        parts = _parts(group)
        said = KIND_WORDS[group.kind]
        if share is None or top is None or group.connected is None:
            lines.append(Line("lamps", (said,), SHEET, ("a figure is not known",), Fraction(1), None, None, parts))
            continue
        here = share if share == binds and not counted else Fraction(0)
        counted = counted or share == binds
        decides = "; this one decides" if here else ""
        row_said = f" in row {number + 1} of the table{decides}"
        why = (Amount(group.connected, group.unit), " of ", Amount(top, group.unit), row_said)
        lines.append(Line("lamps", (said,), SHEET, why, Fraction(1), here, here, parts))
    return tuple(lines)
