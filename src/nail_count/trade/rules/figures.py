"""Every figure the rules reckon with, and where it comes from: read from where it stands, beside its use."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from types import ModuleType

from ..model import load as lamps
from ..model.answer import Rule
from ..model.assumptions import ASSUME, Assume, Warming
from ..model.edition import EDITIONS
from ..model.figure import Figure
from ..model.thing import described
from ..model.trade_size import TRADE_SIZES
from ..text.format import amount, figure
from . import conductor_volumes, joints, minutes, places, prohibitions, supplies
from .circuit import branch, fastened, panel
from .load import draw, duty, findings, heat, inrush, limits, motor, position, rating
from .space import bulk, depth, room
from .volume import capacity, csa, nec, nec_lines
from .wires import live_points, shown


@dataclass(frozen=True, slots=True)
class Row:
    """One figure in use."""

    what: str
    value: str
    """With its unit."""
    rule: Rule


STANDING: Sequence[tuple[str, tuple[ModuleType, ...]]] = (
    ("Volume allowance of a conductor, NEC", (conductor_volumes,)),
    ("Volume, NEC", (capacity, nec, nec_lines)),
    ("The Canadian count", (csa,)),
    ("Depth", (depth,)),
    ("Bulk, an estimate", (bulk, room)),
    ("Heat, an estimate", (heat,)),
    ("What goes where", (prohibitions,)),
    ("Joints, and readings at them", (joints,)),
    ("Circuits", (duty, branch, fastened, panel)),
    ("Motors at 115 V", (motor,)),
    ("Inrush of LED drivers, worst case at 120 V", (inrush,)),
    ("Conductors told apart", (shown, live_points)),
    ("Minutes of work, to start from", (minutes, places)),
    ("Parts", (supplies,)),
    ("Loads", (lamps, draw, limits, rating, findings, position)),
)
"""Which modules the figures of each group stand in."""


def figures() -> tuple[tuple[str, tuple[Row, ...]], ...]:
    """All figures by the rule they belong to, as the code has them now.

    >>> dict(figures())["Volume allowance of a conductor, NEC"][2].value
    '2 in³'
    """
    seen: set[int] = set()
    return (
        *((title, tuple(_row(one) for one in standing_in(modules, seen))) for title, modules in STANDING),
        ("Where the editions differ", tuple(_editions())),
        ("Metal boxes by trade size", tuple(_sizes())),
        ("Taken for granted, to be changed in a job", tuple(_assumed())),
    )


def standing_in(modules: Sequence[ModuleType], seen: set[int]) -> Iterator[Figure]:
    """The figures that stand in modules, in tables among them, in order; those seen before are left out and noted."""
    for module in modules:
        for name, value in vars(module).items():
            # The interpreter keeps the value it displayed last among the built-in names.
            own = () if name == "__builtins__" else _within(value)
            for one in own:
                if id(one) not in seen:
                    seen.add(id(one))
                    yield one


def _within(value: object) -> Iterator[Figure]:
    if isinstance(value, Figure):
        yield value
    elif isinstance(value, Mapping):
        for one in value.values():
            yield from _within(one)
    elif isinstance(value, tuple):
        for one in value:
            yield from _within(one)


def _row(one: Figure) -> Row:
    value = f"{figure(one * 100)}%" if one.unit == "share" else amount(one, one.unit)
    return Row(one.what, value, one.rule)


def _editions() -> Iterator[Row]:
    for edition in EDITIONS.values():
        count, rule = edition.count, edition.rule("(B)(5)")
        if count is None:
            continue
        if count.isolated_apart:
            yield Row(f"{edition.name}: grounds", "all in one; an isolated set in one more", rule)
        else:
            past = figure(count.ground_past)
            yield Row(f"{edition.name}: grounds", f"{count.grounds_in_one} in one, {past} each past that", rule)
        blocks = "one each" if count.blocks_count else "not counted"
        yield Row(f"{edition.name}: terminal blocks", blocks, edition.rule("(B)(6)"))
        lone = "not allowed" if edition.battery_control else "allowed"
        yield Row(f"{edition.name}: a required light on a battery control alone", lone, edition.rule("210.70(A)(2)"))


def _sizes() -> Iterator[Row]:
    rule = Rule("NEC, all editions", "Table 314.16(A)")
    for size in TRADE_SIZES.values():
        yield Row(size.name, f"{figure(size.in3)} in³{' per gang' if size.per_gang else ''}", rule)


def _assumed() -> Iterator[Row]:
    """The start values, as their own descriptions call them."""
    for name, about in described(Assume).items():
        value = getattr(ASSUME, name)
        if name != "warming" and not isinstance(value, bool):
            yield Row(_called(name, about), "open" if value is None else figure(value), limits.PRACTICE)
    for name, about in described(Warming).items():
        yield Row(_called(name, about), figure(getattr(ASSUME.warming, name)), heat.ESTIMATE)


def _called(name: str, about: str) -> str:
    return f"{name.replace('_', ' ').capitalize()}: {about}"
