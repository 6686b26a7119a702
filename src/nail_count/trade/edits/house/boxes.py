"""Which boxes a house has, in which order and room."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...model.errors import Rejected
from ...model.job import JobHead, Moved
from ...model.thing import Thing
from .base import BoxIndex, HouseEdit, edited


class MoveBox(Thing):
    """A box goes to another room, or before or behind another box."""

    box: str
    room: Annotated[str, Field(max_length=60)] = ""
    to: Literal["", "up", "down"] = ""


def move_box(head: JobHead, what: MoveBox, index: BoxIndex) -> HouseEdit:
    """A box in another room, or one place up or down among those of its room."""
    order = list(head.order or ())
    if what.box not in order:
        raise Rejected("expected one of the boxes of this job", "box")
    name, room = index.names[what.box], index.rooms[what.box]
    if what.room and what.room != room:
        moved = Moved(box=what.box, before=room, after=what.room)
        return edited(head, f"Box “{name}” moved from {room} to {what.room}", moved=moved)
    beside = [key for key in order if index.rooms.get(key) == room]
    at = beside.index(what.box) + (-1 if what.to == "up" else 1)
    if not what.to or not 0 <= at < len(beside):
        raise Rejected(f"expected another room, or a place among the boxes of {room}", "room")
    one, other = order.index(what.box), order.index(beside[at])
    order[one], order[other] = order[other], order[one]
    return edited(head, f"Box “{name}” moved {what.to} in {room}", order=tuple(order))


def with_box(head: JobHead, key: str, sentence: str, after: str | None = None, at: int | None = None) -> HouseEdit:
    """The house with one more box: behind another one where that is named, at a place where that is, else last."""
    order = list(head.order or ())
    place = order.index(after) + 1 if after in order else len(order) if at is None else at
    order.insert(place, key)
    return edited(head, sentence, order=tuple(order))


def without_box(head: JobHead, key: str, name: str) -> HouseEdit:
    """The house without this box; undo brings it back."""
    order = tuple(one for one in head.order or () if one != key)
    return edited(head, f"Box “{name}” removed", order=order)
