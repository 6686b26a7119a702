"""The drawings of a whole house in black and white: the map of its wiring, a day by breaker."""

from __future__ import annotations

from collections.abc import Iterator

from .house_map import TALL, WIDE, HouseMap
from .ink import Area, Disc, Ink, Mark, Shape, Stroke, Words
from .timeline import Timeline
from .way import Line


def map_ink(drawn: HouseMap) -> Ink:
    """The map of a house's wiring; what nobody has entered dashed."""
    facts = f"{len(drawn.boxes)} boxes, {len(drawn.runs)} cables."
    return Ink(0, 0, drawn.width, drawn.height, tuple(_map(drawn)), facts, min(drawn.width / 4, 277.0))


def _map(drawn: HouseMap) -> Iterator[Mark]:
    for room in drawn.rooms:
        yield Area(room.x, room.y, room.width, room.height, "light", 0.8, 6)
        yield Words(room.x + 8, room.y + 14, _short(room.name, room.width / 7), 11, "start", bold=True)
        if room.first and room.floor:
            yield Words(room.x, room.y - 6, room.floor, 10, "start")
    for run in drawn.runs:
        for way in run.ways:
            yield Stroke(way, 1.6, dashed=not run.known)
    for breaker in drawn.circuits:
        yield Area(breaker.x, breaker.y, 62, 22, "paper", 1.2, 3)
        yield Words(breaker.x + 31, breaker.y + 15, breaker.id, 11, bold=True)
    for one in drawn.boxes:
        middle = one.x + WIDE / 2
        yield Area(one.x, one.y, WIDE, TALL, "paper", 1.2, TALL / 2 if one.lamp else 3)
        yield Words(middle, one.y + 17, _short(one.box.name, 20), 11, bold=True)
        on = f" · {' and '.join(one.box.circuits)}" if one.box.circuits else ""
        yield Words(middle, one.y + 31, f"{one.state}{on}", 9)
    for run in drawn.runs:
        yield Disc(run.x, run.y, 9, "paper", 1.0)
        yield Words(run.x, run.y + 3.5, run.cable, 10, bold=True)
        if run.roomy:
            yield Words(run.x, run.y + 18, run.size, 8)
        if run.feed:
            yield Words(run.x, run.y + 28, f"from {run.feed}", 8)


def timeline_ink(drawn: Timeline) -> Ink:
    """A day by breaker: when each is off, and above it who works where."""
    return Ink(0, 0, 500, drawn.height + 4, tuple(_timeline(drawn)), drawn.facts, 277.0)


def _timeline(drawn: Timeline) -> Iterator[Mark]:
    for bar in drawn.breaks:
        yield Area(bar.x, 18, bar.width, drawn.height - 18, "light", 0)
    for hour in drawn.hours:
        yield Stroke(Line(((hour.x, 16), (hour.x, drawn.height))), 0.3, "mid")
        yield Words(hour.x, 12, hour.said, 7)
    for name, y in drawn.rows:
        yield Words(58, y + 12, name, 7, "end")
        yield Stroke(Line(((62, y + 18), (482, y + 18))), 0.3, "mid")
    for bar in drawn.work:
        yield Area(bar.x, bar.y + 2, bar.width, 14, "paper", 0.8, 2)
        yield Words(bar.x + bar.width / 2, bar.y + 12, bar.said, 8, bold=True)
    for bar in drawn.off:
        yield Area(bar.x, bar.y + 4, bar.width, 10, "mid", 0.6)
        if bar.width > 16:
            yield Words(bar.x + bar.width / 2, bar.y + 11.6, bar.said, 6.5, bold=True)
    for flag in drawn.flags:
        yield Stroke(Line(((flag.x, flag.y), (flag.x, flag.y + 18))), 0.8, dashed=not flag.kept)
        points = (flag.x, flag.y), (flag.x + 9, flag.y + 3.4), (flag.x, flag.y + 6.8)
        yield Shape(points, "ink" if flag.kept else "paper", 0.6)
        yield Words(flag.x + 10, flag.y + 6.6, flag.said if flag.kept else f"{flag.said} missed", 6, "start")


def _short(text: str, most: float) -> str:
    room = max(int(most), 4)
    return text if len(text) <= room else f"{text[: room - 1]}…"
