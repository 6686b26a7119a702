"""The wiring of a house as a map: breakers, boxes by floor and room, runs between them; what nobody has entered
dashed."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from ..trade.model.box import Box
from ..trade.model.job import Job
from ..trade.model.run import BoxEnd, CircuitEnd, OnwardEnd
from ..trade.text.runs import end_words
from .way import Curve, Line, Way

WIDE, TALL, GAP, ROOM_GAP = 132.0, 40.0, 46.0, 22.0
"""Of a box on the map, between boxes, between rooms [units of the drawing]."""
IN_COLUMN = 4
"""How many boxes of a room stand above each other."""
STUB = 13.0


@dataclass(frozen=True, slots=True)
class MapBox:
    """A box on the map."""

    box: Box
    x: float
    y: float
    state: str
    lamp: bool
    """Whether loads hang at it."""


@dataclass(frozen=True, slots=True)
class MapRun:
    """A run on the map, from one box."""

    box: str
    cable: str
    ways: tuple[Way, ...]
    size: str
    known: bool
    """Whether it is known where it goes."""
    feed: str
    """The breaker it comes from; "" for any other."""
    words: str
    x: float
    y: float
    """Where its label stands."""
    roomy: bool
    """Whether there is room for its size beside those of the other cables."""

    @property
    def path(self) -> str:
        """Its ways as one SVG path."""
        return "".join(map(str, self.ways))


@dataclass(frozen=True, slots=True)
class MapRoom:
    """A room on the map."""

    name: str
    floor: str
    x: float
    y: float
    width: float
    height: float
    first: bool
    """Whether it is the first of its floor."""


@dataclass(frozen=True, slots=True)
class MapCircuit:
    """A breaker at the edge of the map."""

    id: str
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class HouseMap:
    """Where everything lies."""

    width: float
    height: float
    rooms: tuple[MapRoom, ...]
    boxes: tuple[MapBox, ...]
    circuits: tuple[MapCircuit, ...]
    runs: tuple[MapRun, ...]


def house_map(job: Job, floors: Mapping[str, str], states: Mapping[str, str], most: float = 1180) -> HouseMap:
    """Where boxes, breakers and runs of a house lie.

    Args:
        job: with the boxes to show.
        floors: of each room.
        most: how wide it may become.
    """
    circuits = tuple(MapCircuit(one.id, 8, 30 + 34.0 * place) for place, one in enumerate(job.circuits))
    boxes, rooms, x, y, tallest = [], [], 86.0, 26.0, 0.0
    levels = list(dict.fromkeys(floors.values()))
    order = {room: (levels.index(floor), place) for place, (room, floor) in enumerate(floors.items())}
    in_order = sorted(job.boxes, key=lambda box: order.get(box.room, (0, 0)))
    level = None
    for room, group in groupby(in_order, key=lambda box: box.room):
        here = list(group)
        columns = -(-len(here) // IN_COLUMN)
        rows = min(len(here), IN_COLUMN)
        width = columns * (WIDE + GAP) - GAP + 20
        height = rows * (TALL + GAP) + 12
        new_level = floors.get(room) != level
        if x > 86 and (new_level or x + width > most):
            x, y, tallest = 86.0, y + tallest + ROOM_GAP * (2 if new_level else 1), 0.0
        level = floors.get(room)
        rooms.append(MapRoom(room, level or "", x, y, width, height, new_level))
        for place, box in enumerate(here):
            column, row = divmod(place, IN_COLUMN)
            at = (x + 10 + column * (WIDE + GAP), y + 22 + row * (TALL + GAP))
            boxes.append(MapBox(box, *at, states.get(box.id, "open"), box.is_outlet))
        x, tallest = x + width + ROOM_GAP, max(tallest, height)
    height = max(y + tallest, 30 + 34.0 * len(circuits)) + 20
    width = max([room.x + room.width for room in rooms] + [300.0]) + 12
    return HouseMap(width, height, tuple(rooms), tuple(boxes), circuits, tuple(_runs(job, boxes, circuits)))


def _runs(job: Job, boxes: Sequence[MapBox], circuits: Sequence[MapCircuit]) -> list[MapRun]:
    """Every cable once: as a way to its other end, or as a stub where that is nowhere on the map."""
    places = {one.box.id: one for one in boxes}
    named = {key: place.box for key, place in places.items()}
    breakers = {one.id for one in circuits}
    made, done = [], set()
    for one in boxes:
        cables = one.box.entering
        for number, cable in enumerate(cables):
            far = job.far_ends.get((one.box.id, cable.id))
            x, y = one.x + WIDE * (number + 1) / (len(cables) + 1), one.y + TALL
            words = end_words(far, named) if far else "where it goes is not known"
            ways: tuple[Way, ...] = (Line(((x, y), (x, y + STUB))),)
            if isinstance(far, BoxEnd) and far.box in places and (one.box.id, cable.id) not in done:
                done.add((far.box, far.cable or ""))
                ways = _between(x, y, *_entry(places[far.box], far.cable))
            feed = far.circuit if isinstance(far, CircuitEnd) and far.circuit in breakers else None
            known = feed is not None or isinstance(far, BoxEnd | OnwardEnd)
            made.append(
                MapRun(one.box.id, cable.id, ways, cable.size, known, feed or "", words, x, y + STUB, len(cables) < 5)
            )
    return made


def _entry(place: MapBox, cable: str | None) -> tuple[float, float]:
    """Where a cable lies at its box."""
    letters = [one.id for one in place.box.entering]
    number = letters.index(cable) + 1 if cable in letters else (len(letters) + 1) / 2
    return place.x + WIDE * number / (len(letters) + 1), place.y + TALL


def _between(x: float, y: float, to_x: float, to_y: float) -> tuple[Way, ...]:
    """A way from under one box to under another."""
    down, to_down = y + STUB, to_y + STUB
    low = max(down, to_down) + 20
    bow = Curve((x, down), (x, low), (to_x, low), (to_x, to_down))
    return Line(((x, y), (x, down))), bow, Line(((to_x, to_down), (to_x, to_y)))
