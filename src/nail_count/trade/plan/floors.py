"""The boxes of a house as a map lays them out: floor by floor, room by room, in columns, bands and sheets."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import groupby

from ..model.box import Box

IN_COLUMN = 4
"""How many boxes of a room stand above each other."""
ON_SHEET, BANDS_ON_SHEET = 3, 2
"""How many columns, and how many bands of them, a sheet of paper has room for in letters one can read."""


@dataclass(frozen=True, slots=True)
class Column:
    """Boxes of one room, one above the other."""

    room: str
    boxes: tuple[Box, ...]
    first: bool
    """Whether it is the first of its room in its band."""


@dataclass(frozen=True, slots=True)
class Band:
    """Columns side by side on one floor."""

    floor: str
    columns: tuple[Column, ...]
    first: bool
    """Whether it is the first of its floor."""


def bands(boxes: Iterable[Box], floors: Mapping[str, str], most: int) -> list[Band]:
    """Put boxes into columns by their rooms, and columns into bands by their floors.

    Args:
        boxes: in the order of the house.
        floors: the floor of each room, in order.
        most: how many columns stand side by side.
    """
    levels = list(dict.fromkeys(floors.values()))
    order = {room: (levels.index(floor), place) for place, (room, floor) in enumerate(floors.items())}
    in_order = sorted(boxes, key=lambda box: order.get(box.room, (0, 0)))
    made: list[Band] = []
    for floor, on_floor in groupby(in_order, key=lambda box: floors.get(box.room, "")):
        rows: list[list[Column]] = [[]]
        for room, group in groupby(on_floor, key=lambda box: box.room):
            _put(rows, room, list(group), most)
        made += [Band(floor, tuple(row), number == 0) for number, row in enumerate(rows)]
    return made


def _put(rows: list[list[Column]], room: str, boxes: Sequence[Box], most: int) -> None:
    """Put the boxes of a room into the last row; begin a new one where they don't fit there."""
    starts = range(0, len(boxes), IN_COLUMN)
    if rows[-1] and len(rows[-1]) + len(starts) > most:
        rows.append([])
    for start in starts:
        if len(rows[-1]) == most:
            rows.append([])
        first = start == 0 or not rows[-1]
        rows[-1].append(Column(room, tuple(boxes[start : start + IN_COLUMN]), first))


def sheets(boxes: Iterable[Box], floors: Mapping[str, str]) -> list[tuple[Box, ...]]:
    """The boxes on each sheet of paper, in order.

    Args:
        boxes: in the order of the house.
        floors: the floor of each room, in order.
    """
    rows = bands(boxes, floors, ON_SHEET)
    return [
        tuple(box for band in rows[start : start + BANDS_ON_SHEET] for column in band.columns for box in column.boxes)
        for start in range(0, len(rows), BANDS_ON_SHEET)
    ]
