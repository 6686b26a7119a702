"""The inside of a box in black and white: cut from the side, and its conductors one by one."""

from __future__ import annotations

from collections.abc import Iterator

from .ink import Area, Disc, Ink, Mark, Stroke, Words
from .side import Side
from .way import Line
from .wires import Wires

PALE = ("white", "gray", "", None)
"""Colors drawn hollow, and those nobody saw."""


def side_ink(drawn: Side) -> Ink:
    """The box cut from the side, true to scale: each body, the back wall, dashed the depth each one needs."""
    return Ink(-14, 0, drawn.width, drawn.height, tuple(_side(drawn)), drawn.facts, drawn.width)


def _side(drawn: Side) -> Iterator[Mark]:
    yield Area(0, 1, drawn.depth, drawn.height - 2, "light", 0.4)
    yield Stroke(Line(((0, 0), (0, drawn.height))), 0.5)
    yield Stroke(Line(((drawn.depth, 0), (drawn.depth, drawn.height))), 1.2, dashed=not drawn.known)
    for lane in drawn.lanes:
        yield Words(-8, lane.y + 9.5, str(lane.gang), 6, bold=True)
        yield Area(-2, lane.y, 2, 14, "mid", 0.3)
        if lane.back is not None:
            yield Area(0, lane.y + 1.5, lane.back, 11, "paper", 0.9 if lane.touches else 0.5, 1)
        if lane.needs is not None:
            yield Stroke(Line(((lane.needs, lane.y), (lane.needs, lane.y + 14))), 0.7, dashed=True)
        yield Words(max(lane.back or 0, lane.needs or 0) + 2, lane.y + 8.5, lane.name, 3.6, "start")


def wires_ink(drawn: Wires) -> Ink:
    """The conductors of a box, cable by cable; beside each its color in words and what it is taken for."""
    return Ink(0, -34, drawn.width, drawn.height + 46, tuple(_wires(drawn)), drawn.facts, min(drawn.width, 160.0))


def _wires(drawn: Wires) -> Iterator[Mark]:
    yield Area(2, 0, drawn.width - 4, drawn.height, "paper", 0.7, 3)
    for sheath in drawn.sheaths:
        yield Area(sheath.x, -30, sheath.width, 36, "light", 0.6, 2)
        yield Words(sheath.x + sheath.width / 2, -12, f"{sheath.letter} · {sheath.size}", 5, bold=True)
    for strand in drawn.strands:
        x, end = strand.x, strand.end
        way = Line(((x, 5), (x, end)))
        color = "" if strand.seen.sprayed else strand.seen.color
        yield Stroke(way, 2.0)
        if color in PALE:
            yield Stroke(way, 1.0, "paper")
        if strand.seen.tape:
            yield Stroke(Line(((x - 4, 30), (x + 4, 30))), 2)
        yield Disc(x, end + 6, 6, "paper", 1.2 if strand.told.standing == "proven" else 0.4)
        yield Words(x, end + 8.6, strand.letter, 6.4, bold=strand.told.standing == "proven")
        yield Words(x, end + 19, strand.id, 4.6)
        yield Words(x, end + 24, color or "not seen", 3.0)
