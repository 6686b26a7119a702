"""What a box, or a space of it, may hold: marked, by trade size, or measured; rings added, barriers taken off."""

from __future__ import annotations

from fractions import Fraction

from ...model.answer import Line, Rule, Text, add_up
from ...model.enclosure import Barrier, Ring
from ...model.figure import Figure, every_nec
from ...model.trade_size import TRADE_SIZES
from .spaces import Space

_ONE = Fraction(1)
MEASURED = Rule("Measured", "", "practice")
SHARED = Rule("Common practice", "", "practice")
BARRIER_METAL = Figure("1/2", "in3", "Barrier of metal, unmarked", every_nec("314.16(A)"))
BARRIER_OTHER = Figure("1", "in3", "Barrier of anything else, unmarked", every_nec("314.16(A)"))


def capacity(space: Space, rule: Rule, table: Rule | None) -> tuple[Line, ...]:
    """Lines in in³ that add up to what the space may hold.

    Args:
        rule: of the code, for marks.
        table: of the code's table of trade sizes; None where it has none, and a trade size then says nothing.
    """
    lines = (_box(space, rule, table), *_rings(space, rule, table))
    if space.of == 1:
        return lines
    barriers = space.box.enclosure.barriers
    taken = tuple(_barrier(barrier, rule) for barrier in barriers)
    whole = add_up((*lines, *taken))
    if any(line.value is None for line in lines):
        return lines
    gangs = space.box.enclosure.gangs
    rest = whole * space.gangs / gangs - whole
    why: Text = ("the rest of the box is behind a barrier; it is taken to be shared by gangs, unless it is marked",)
    return *lines, *taken, Line("capacity", (f"Of {gangs} gangs, {space.gangs} here",), SHARED, why, _ONE, rest, rest)


def _box(space: Space, rule: Rule, table: Rule | None) -> Line:
    enclosure = space.box.enclosure
    size = enclosure.size
    if enclosure.volume is not None:
        volume = enclosure.volume.in3
        return Line("capacity", ("Marked in the box",), rule, ("as read in the box",), _ONE, volume, volume)
    if size is not None and table is not None:
        count = Fraction(enclosure.gangs if size.per_gang else 1)
        gangs = f", {enclosure.gangs} ganged" if count > 1 else ""
        why: Text = ("least volume of this trade size; a ganged box is the sum of its sections",)
        return Line("capacity", (f"Trade size {size.name}{gangs}",), table, why, count, size.in3, count * size.in3)
    if (measured := enclosure.measured) is not None:
        why = ("width × height × depth as measured inside: an estimate, since walls taper and corners are round",)
        return Line("capacity", ("Measured inside, an estimate",), MEASURED, why, _ONE, measured, measured)
    why = ("read the mark in the box, or choose its trade size if it is metal",)
    if size is not None:
        why = ("this code goes by the mark in the box; the table of trade sizes is another code's",)
    return Line("capacity", ("Volume not known",), rule, why, _ONE, None, None)


def _rings(space: Space, rule: Rule, table: Rule | None) -> tuple[Line, ...]:
    return tuple(_ring(ring, rule, table) for ring in space.box.enclosure.rings)


def _ring(ring: Ring, rule: Rule, table: Rule | None) -> Line:
    if ring.volume is not None:
        in3 = ring.volume.in3
        return Line("capacity", (f"{ring.kind}, marked",), rule, ("as marked on it",), _ONE, in3, in3)
    if ring.trade_size is not None and table is not None:
        size, why = TRADE_SIZES[ring.trade_size], ("unmarked, but itself a box of the table",)
        return Line("capacity", (f"{ring.kind}, trade size {size.name}",), table, why, _ONE, size.in3, size.in3)
    return Line("capacity", (f"{ring.kind}, unmarked",), rule, ("a ring without a marked volume adds nothing",))


def _barrier(barrier: Barrier, rule: Rule) -> Line:
    if barrier.volume is not None:
        taken, why = barrier.volume.in3, "as marked on it"
    else:
        taken = BARRIER_METAL if barrier.material == "metal" else BARRIER_OTHER
        why = "unmarked: half a cubic inch of metal, one of anything else"
    return Line("capacity", (f"Barrier behind gang {barrier.after}",), rule, (why,), Fraction(-1), taken, -taken)
