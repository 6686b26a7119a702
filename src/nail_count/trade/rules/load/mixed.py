"""A sheet's own table of mixed loads: each row gives the most of each kind at once on a channel."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from fractions import Fraction
from typing import Protocol

from ...model.answer import Amount, Line, Part, Rule, Text, limit_of
from ...model.channel import Channel, Rating
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
    @property
    def continuous(self) -> bool: ...  # noqa: D102
    @property
    def snap_switch(self) -> Rule | None: ...  # noqa: D102
    @property
    def at_most(self) -> bool: ...  # noqa: D102


def mixed_row(
    groups: Sequence[Hung], outlet: Channel, sheet: Datasheet, place: Position, terms: Terms
) -> tuple[tuple[Line, ...], tuple[Line, ...]]:
    """Lines and limit lines, as shares, by the row of the table that leaves most.

    In a row every kind is held to its own figure, all that hangs under one figure together, and the one nearest to
    its figure decides; a row that does not name a kind
    does not permit it: where no row names all kinds, [load_findings][nail_count.trade.rules.load.findings] says so.

    Source: the maker's sheet.
    """
    limit = Line(
        "rating", ("The sheet's own table of mixed loads",), SHEET, ("each kind to its own figure",), value=Fraction(1)
    )
    rows = [_row(groups, number, outlet, sheet=sheet, place=place, terms=terms) for number in range(len(outlet.mixed))]
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
    groups: Sequence[Hung], number: int, outlet: Channel, *, sheet: Datasheet, place: Position, terms: Terms
) -> tuple[Line, ...] | None:
    row = outlet.mixed[number]
    if any(group.kind not in row for group in groups if group.kind != "mlv lamps"):
        return None
    held = [_held(group, row, sheet, place, terms) for group in groups if group.kind in row]
    used: dict[RatedKind, Fraction | None] = {}
    for group, top in held:
        share = group.connected / top if top and group.connected is not None else None
        so_far = used.get(group.kind, Fraction(0))
        used[group.kind] = None if share is None or so_far is None else so_far + share
    binds = max((kind for kind in used if used[kind] is not None), key=lambda kind: used[kind] or 0, default=None)
    return tuple(_line(group, top, number, decides=group.kind == binds) for group, top in held)


def _held(
    group: Hung, row: Mapping[RatedKind, Rating], sheet: Datasheet, place: Position, terms: Terms
) -> tuple[Hung, Fraction | None]:
    """What hangs under a figure of a row, and what that comes down to here."""
    given = row[group.kind]
    steps = limit_steps(
        group.kind,
        given,
        sheet,
        place=place,
        assume=terms.assume,
        snap_switch=group.snap_switch,
        continuous=group.continuous,
    )
    return group, limit_of(steps)


def _line(group: Hung, top: Fraction | None, number: int, *, decides: bool) -> Line:
    said, parts = KIND_WORDS[group.kind], _parts(group)
    if top is None or not top or group.connected is None:
        return Line("lamps", (said,), SHEET, ("a figure is not known",), Fraction(1), None, None, parts)
    here = group.connected / top if decides else Fraction(0)
    why: Text = (f" in row {number + 1} of the table{'; this one decides' if decides else ''}",)
    return Line(
        "lamps",
        (said,),
        SHEET,
        (Amount(group.connected, group.unit), " of ", Amount(top, group.unit), *why),
        Fraction(1),
        here,
        here,
        parts,
        group.at_most,
    )
