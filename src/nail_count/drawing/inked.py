"""The drawings of a box in black and white: its count as a rail, its front, its hook-up."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from .front import Front
from .hookup import LINE, Group, HookupDrawing
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
    return Ink(0, drawn.top, drawn.width, drawn.height, marks, drawn.facts, min(drawn.width / 2, 160.0))


def _hookup(drawn: HookupDrawing) -> Iterator[Mark]:
    yield Area(2, 2, drawn.width - 4, drawn.bottom + 22, "paper", 0.7, 3)
    for group in drawn.groups:
        yield from _group(group, drawn.bottom)
    for splice in sorted(drawn.splices, key=lambda one: not one.behind):
        for way, color, _ in splice.wires:
            yield from _wire(way, color)
    for end in drawn.ends:
        yield from _wire(end.way, end.named.color)
    for splice in drawn.splices:
        x, y, size = splice.x, splice.y, splice.scale
        if splice.size:
            points = ((x - 7 * size, y + 6 * size), (x - 4 * size, y - 7 * size))
            yield Shape((*points, (x + 4 * size, y - 7 * size), (x + 7 * size, y + 6 * size)), "paper", 0.8)
        else:
            yield Disc(x, y, 3.6, "paper", 0.8)
        yield Words(x, y + 2.2, str(splice.count), 5.6, bold=True)
    for end in drawn.ends:
        yield Disc(end.x, end.y, 5.0, "paper", 0.6)
        yield Words(end.x, end.y + 1.9, end.letters or "?", 5)
        x, y = (end.x + 4, end.y - 12) if end.above else (end.x, end.y + 21.6)
        yield Words(x, y, end.short, 4.2, "start" if end.above else "middle")


def _group(group: Group, bottom: float) -> Iterator[Mark]:
    """A cable, a device or a lamp with its name."""
    if group.above:
        yield Area(group.x, 4 - group.height, group.width, group.height + 5, "light", 0.6, 2)
        yield from _lines(group.title, group.middle, 11 - group.height, 5.4, bold=True)
        yield from _lines(group.note, group.middle, 11 - group.height + LINE * len(group.title), 4.6)
        return
    if group.lamp:
        yield Disc(group.middle, bottom + 34, 7, "paper", 0.8)
        yield Stroke(Line(((group.middle - 5, bottom + 29), (group.middle + 5, bottom + 39))), 0.8)
        yield Stroke(Line(((group.middle - 5, bottom + 39), (group.middle + 5, bottom + 29))), 0.8)
        yield from _lines(group.title, group.middle, bottom + 49, 4.6)
        return
    yield Area(group.x, bottom + 13, group.width, 15 + group.height, "light", 0.6, 2)
    yield from _lines(group.title, group.middle, bottom + 34, 5, bold=True)
    if group.network:
        low = bottom + 28 + group.height
        yield Stroke(Line(((group.middle, low), (group.middle, low + 8))), 0.8, dashed=True)
        yield from _lines(group.network, group.middle, low + 14, 4.6)


def _lines(lines: Sequence[str], x: float, y: float, size: float, bold: bool = False) -> Iterator[Mark]:
    """Some lines of text, the first of them at y."""
    for number, line in enumerate(lines):
        yield Words(x, y + LINE * number, line, size, bold=bold)


def _wire(way: Way, color: str) -> Iterator[Mark]:
    yield Stroke(way, 2.0)
    if color in PALE:
        yield Stroke(way, 1.0, "paper")
