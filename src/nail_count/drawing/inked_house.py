"""The drawings of a whole house in black and white: the map of its wiring, a day by breaker."""

from __future__ import annotations

from collections.abc import Iterator

from .house_map import BREAKER_WIDE, TALL, WIDE, HouseMap
from .ink import Area, Disc, Ink, Mark, Shape, Stroke, Words
from .timeline import Timeline
from .way import Line


def map_ink(drawn: HouseMap) -> Ink:
    """The map of a house's wiring; the letter of a cable is gray where nobody has entered its way."""
    facts = f"{len(drawn.boxes)} boxes, {len(drawn.ends)} cables."
    return Ink(0, 0, drawn.width, drawn.height, tuple(_map(drawn)), facts, min(drawn.width / 4, 277.0))


def _map(drawn: HouseMap) -> Iterator[Mark]:
    for floor in drawn.floors:
        yield Words(floor.x, floor.y, floor.name, 11, "start", bold=True)
    for room in drawn.rooms:
        yield Area(room.x, room.y, room.width, room.height, "light", 0.8, 6)
        yield Words(room.x + 6, room.y + 15, _short(room.name, WIDE / 7), 11, "start", bold=True)
    for run in drawn.runs:
        yield Stroke(run.way, 1.6)
    for breaker in drawn.circuits:
        yield Area(breaker.x, breaker.y, BREAKER_WIDE, 22, "paper", 1.2, 3)
        yield Words(breaker.x + BREAKER_WIDE / 2, breaker.y + 15, breaker.id, 11, bold=True)
    for one in drawn.boxes:
        middle = one.x + WIDE / 2
        yield Area(one.x, one.y, WIDE, TALL, "paper", 1.2, 20 if one.lamp else 3)
        yield Words(middle, one.y + 16, _short(one.box.name, 20), 11, bold=True)
        on = f"breaker {' and '.join(one.box.circuits)}" if one.box.circuits else ""
        yield Words(middle, one.y + 29, " · ".join(filter(None, (one.state, on))), 9)
    for end in drawn.ends:
        yield Disc(end.x, end.y, 8, "paper" if end.known else "mid", 1.0)
        yield Words(end.x, end.y + 3.5, end.cable, 10, bold=True)
        if end.roomy:
            yield Words(end.x, end.y + 17, end.size, 8)


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
