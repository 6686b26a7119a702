"""The drawings of a box in black and white: its count as a rail, its front, its hook-up."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from .front import Front
from .hookup import HookupDrawing
from .ink import Area, Disc, Ink, Mark, Shape, Stroke, Words
from .rail import Rail
from .way import Line, Way

PALE = ("white", "gray", "")
"""Colors drawn hollow, and those nobody saw."""
RAIL = 1000.0
"""Width of a rail in its own units."""


def rail_ink(drawn: Rail, facts: str) -> Ink:
    """The rail of a count: wood to scale, a nail for each allowance, numbered as its lines are; past the end bent."""
    return Ink(-4, 0, RAIL + 8, 112, tuple(_rail(drawn)), facts)


def _rail(drawn: Rail) -> Iterator[Mark]:
    def at(value: Fraction) -> float:
        return float(value / drawn.scale) * RAIL

    known = drawn.capacity is not None
    wood = at(drawn.capacity if drawn.capacity is not None else drawn.scale)
    yield Area(0, 14, wood, 52, "light" if known else "none", 2, 3, dashed=not known)
    for mark in drawn.marks:
        yield Stroke(Line(((at(mark), 34), (at(mark), 52))), 2)
    for nail in drawn.nails:
        start, end = at(nail.start), at(nail.start + nail.length)
        long = end - start
        body = [(start + long * 0.03, 40.0), (start + long * 0.93, 40.0)]
        if nail.hangs:
            bend = start + long * max(min(nail.inside, 60.0), 3.0) / 100
            body = [body[0], (bend, 40.0), (end - long * 0.04, 82.0)]
        yield Stroke(Line(tuple(body)), 5, "ink", dashed=nail.open)
        yield Stroke(Line(((body[0][0], 28), (body[0][0], 52))), 6)
    if known:
        yield Stroke(Line(((wood, 4), (wood, 76))), 5)
    for group in drawn.groups:
        middle = (at(group.start) + at(group.end)) / 2
        yield Words(middle, 104, str(group.number), 22, bold=True)


def front_ink(drawn: Front, names: dict[str, str]) -> Ink:
    """The box from the front.

    Args:
        drawn: where everything lies.
        names: what each device and module is called, by its id.
    """
    view = drawn.view
    return Ink(view.x, view.y, view.width, view.height, tuple(_front(drawn, names)), drawn.facts, view.width)


def _front(drawn: Front, names: dict[str, str]) -> Iterator[Mark]:
    inside = drawn.inside
    yield Area(-2.4, -2.4, inside.width + 4.8, inside.height + 4.8, "light", 0.5, 3)
    yield Area(0, 0, inside.width, inside.height, "paper", 0.6, 1.2, dashed=drawn.assumed)
    for entry in drawn.entries:
        for way, thick, ground in entry.wires:
            yield Stroke(way, 0.7 if ground else min(thick, 1.6), "mid")
        sheath = entry.sheath
        yield Area(sheath.x, sheath.y, sheath.width, sheath.height, "light", 0.5, 1)
        yield Disc(*entry.label, 5.0, "paper", 0.5)
        yield Words(entry.label[0], entry.label[1] + 2.2, entry.cable.id, 6.2, bold=True)
    for loose in drawn.loose:
        rect = loose.rect
        yield Area(rect.x, rect.y, rect.width, rect.height, "paper", 0.5, 2, dashed=True)
        yield from _named(names[loose.module.id], rect.centre[0], rect.centre[1], rect.width)
    for body in drawn.bodies:
        strap, rect = body.strap, body.rect
        yield Area(strap.x, strap.y, strap.width, strap.height, "light", 0.4, 1.5)
        yield Area(rect.x, rect.y, rect.width, rect.height, "paper", 0.7, 2, dashed=body.assumed)
        for fin, broken in body.fins:
            yield Area(fin.x, fin.y, fin.width, fin.height, "none" if broken else "mid", 0.3, dashed=broken)
        for end in (strap.y + 6, strap.y + strap.height - 6):
            yield Disc(strap.centre[0], end, 2.0, "paper", 0.4)
        yield from _named(names[body.device.id], rect.centre[0], rect.centre[1], rect.width)
    for x in drawn.barriers:
        yield Stroke(Line(((x, 0), (x, inside.height))), 1.4)


def _named(name: str, x: float, y: float, width: float) -> Iterator[Mark]:
    """A name in lines as long as there is room."""
    most = max(int(width / 2.6), 6)
    lines: list[str] = []
    for word in name.split():
        if lines and len(lines[-1]) + 1 + len(word) <= most:
            lines[-1] += f" {word}"
        else:
            lines.append(word)
    for number, line in enumerate(lines[:4]):
        shown = line if len(line) <= most else f"{line[: most - 1]}…"
        yield Words(x, y + 1.6 + 5.2 * (number - (min(len(lines), 4) - 1) / 2), shown, 4.6)


def hookup_ink(drawn: HookupDrawing) -> Ink:
    """A hook-up, as it is joined; which color a wire has stands beside it in letters."""
    marks = tuple(_hookup(drawn))
    return Ink(0, -26, drawn.width, drawn.height + 34, marks, drawn.facts, min(drawn.width / 2, 160.0))


def _hookup(drawn: HookupDrawing) -> Iterator[Mark]:
    yield Area(2, 2, drawn.width - 4, drawn.bottom + 22, "paper", 0.7, 3)
    for group in drawn.groups:
        middle = group.x + group.width / 2
        if group.above:
            yield Area(group.x, -20, group.width, 29, "light", 0.6, 2)
            yield Words(middle, -10, group.title, 5.4, bold=True)
            yield Words(middle, 0, _short(group.note, group.width / 3.0), 4.2)
        elif group.lamp:
            yield Disc(middle, drawn.bottom + 34, 7, "paper", 0.8)
            yield Stroke(Line(((middle - 5, drawn.bottom + 29), (middle + 5, drawn.bottom + 39))), 0.8)
            yield Stroke(Line(((middle - 5, drawn.bottom + 39), (middle + 5, drawn.bottom + 29))), 0.8)
            yield Words(middle, drawn.bottom + 50, _short(group.title, group.width / 2.6), 4.6)
        else:
            yield Area(group.x, drawn.bottom + 13, group.width, 38, "light", 0.6, 2)
            yield Words(middle, drawn.bottom + 44, _short(group.title, group.width / 2.6), 5, bold=True)
            if group.network:
                low = drawn.bottom + 51
                yield Stroke(Line(((middle, low), (middle, low + 12))), 0.8, dashed=True)
                yield Words(middle, low + 20, _short(group.network, group.width / 2.2), 4.2)
    for splice in drawn.splices:
        for way, color, _ in splice.wires:
            yield from _wire(way, color)
    for end in drawn.ends:
        yield from _wire(end.way, end.named.color)
    for splice in drawn.splices:
        x, y = splice.x, splice.y
        if splice.size:
            yield Shape(((x - 7, y + 6), (x - 4, y - 7), (x + 4, y - 7), (x + 7, y + 6)), "paper", 0.8)
        else:
            yield Disc(x, y, 3.6, "paper", 0.8)
        yield Words(x, y + 2.2, str(splice.count), 5.6, bold=True)
        yield Words(x + 9, y + 2, splice.name, 4.4, "start")
    for end in drawn.ends:
        yield Disc(end.x, end.y, 5.0, "paper", 0.6)
        yield Words(end.x, end.y + 1.9, end.letters or "?", 5)
        x, y = (end.x + 4, end.y - 12) if end.above else (end.x, end.y + 21.6)
        yield Words(x, y, end.short, 4.2, "start" if end.above else "middle")


def _wire(way: Way, color: str) -> Iterator[Mark]:
    yield Stroke(way, 2.0)
    if color in PALE:
        yield Stroke(way, 1.0, "paper")


def _short(text: str, most: float) -> str:
    room = max(int(most), 4)
    return text if len(text) <= room else f"{text[: room - 1]}…"
