"""Which boxes a house has, in which order and room."""

from __future__ import annotations

from typing import Annotated, Literal, TypeVar

from pydantic import Field

from ...documents import Documents, Edited
from ...model.box import Box, Id, Use
from ...model.contents import Contents, Device, Module
from ...model.enclosure import Enclosure
from ...model.errors import Rejected
from ...model.keys import free_key, slug
from ..base import Edit
from ..box_parts import replace_item
from ..fields import InCubicInches, Maybe
from ..runs import without_runs

Item = TypeVar("Item", Device, Module)


class StartBox(Edit):
    """A box from nothing."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    circuit: Annotated[str | None, Maybe] = None
    use: Use = "control"

    def blamed(self) -> str:
        """What it may hold."""
        return "volume" if self.volume is not None else "trade_size"

    def _edited(self, documents: Documents) -> Edited:
        material = "metal" if self.trade_size else self.material
        enclosure = Enclosure().changed(
            gangs=self.gangs, material=material, volume=self.volume, trade_size=self.trade_size
        )
        key = _free(documents, f"{self.room} {self.name}")
        planned = Contents(enclosure=enclosure)
        box = Box(id=key, name=self.name, room=self.room, use=self.use, circuit=self.circuit, planned=planned)
        return Edited(with_new(documents, box), f"Box “{self.name}” started in {self.room}")


class CopyBox(Edit):
    """Another box like this one, behind it. What was seen, measured or joined here is not known of it."""

    box: Id
    name: Annotated[str, Field(max_length=60)] = ""
    room: Annotated[str, Field(max_length=60)] = ""
    """Where it is; "" for the same room."""
    volume: InCubicInches = None
    """The one stamped in it; None: not read yet."""
    cables: bool = False
    """Whether the same cables come into it, each with its ground as here."""
    lamps: bool = False
    """Whether its devices carry the same lamps."""

    def blamed(self) -> str:
        """What it may hold."""
        return "volume"

    def _edited(self, documents: Documents) -> Edited:
        same = documents.box(self.box)
        room = self.room.strip() or same.room
        name = self.name.strip() or f"{same.name[:55]} copy"
        entering = (cable.changed(conductors=(), free=None, condition=None) for cable in same.cables)
        new = Box(
            id=_free(documents, f"{room} {name}"),
            name=name,
            room=room,
            use=same.use,
            cables=tuple(entering) if self.cables else (),
            planned=self._like(same.contents),
            wishes=same.wishes,
        )
        return Edited(with_new(documents, new, behind=self.box), f"Like “{same.name}”: “{name}” started in {room}")

    def _like(self, contents: Contents) -> Contents:
        """The same devices; of its splices as many connectors; of its loads what they are but not where they hang."""

        def again(item: Item) -> Item:
            loads = tuple(load.changed(outlet=None, cable=None, measured=None, bypass=False) for load in item.loads)
            looked: dict[str, object] = {"broken": (), "lamp_setting": None} if isinstance(item, Device) else {}
            kept = loads if self.lamps else ()
            return item.changed(loads=kept, circuit=None, stays=None, listing=None, commands="", **looked)

        return Contents(
            enclosure=contents.enclosure.changed(volume=self.volume, trade_size=None),
            devices=tuple(map(again, contents.devices)),
            modules=tuple(map(again, contents.modules)),
            splices=tuple(one.changed(name="", ends=()) for one in contents.splices if one.connector is not None),
            terminal_blocks=contents.terminal_blocks,
            out=contents.out if self.cables else (),
            new=contents.new if self.cables else (),
            landed=contents.landed if self.cables else (),
        )


class BringIn(Edit):
    """A box with all that is in it; it gets a key of its own where its is taken."""

    new: Box
    because: Annotated[str, Field(max_length=200)] = ""
    """The sentence about it; "" for only that it came."""

    def _edited(self, documents: Documents) -> Edited:
        box = self.new.changed(id=free_key(self.new.id, documents.taken("box")))
        return Edited(with_new(documents, box), self.because or f"Box “{box.name}” added")


class RemoveBox(Edit):
    """A box is taken out of the house; its history stays."""

    box: Id

    def _edited(self, documents: Documents) -> Edited:
        box, order = documents.box(self.box), documents.head.order or ()
        rest = tuple(key for key in order if key != self.box)
        gone = without_runs(documents, self.box).with_head(documents.head.changed(order=rest))
        if box.is_outlet:
            gone = _nothing_hangs_at(gone, self.box)
        return Edited(gone, f"Box “{box.name}” removed")


class BringBack(Edit):
    """A box that was removed is put back where it was."""

    box: Id

    def _edited(self, documents: Documents) -> Edited:
        box = documents.source.box(self.box, removed=True)
        if box is None:
            raise Rejected("Pick one of the boxes removed from this job", "box")
        order = list(documents.head.order or ())
        order.insert(documents.source.place_of(self.box), self.box)
        head = documents.head.changed(order=tuple(order))
        return Edited(documents.with_head(head), f"Box “{box.name}” brought back")


class MoveBox(Edit):
    """A box goes to another room, or before or behind another box of its room."""

    box: Id
    room: Annotated[str, Field(max_length=60)] = ""
    to: Literal["", "up", "down"] = ""

    def _edited(self, documents: Documents) -> Edited:
        head, lines = documents.head, documents.lines()
        order = list(head.order or ())
        if self.box not in order:
            raise Rejected("Pick one of the boxes of this job", "box")
        name, room = lines[self.box].name, lines[self.box].room
        if self.room and self.room != room:
            box = documents.box(self.box).changed(room=self.room)
            return Edited(documents.with_head(head).with_box(box), f"Box “{name}” moved from {room} to {self.room}")
        beside = [key for key in order if key in lines and lines[key].room == room]
        at = beside.index(self.box) + (-1 if self.to == "up" else 1)
        if not self.to or not 0 <= at < len(beside):
            raise Rejected(f"Pick another room, or a place among the boxes of {room}", "room")
        one, other = order.index(self.box), order.index(beside[at])
        order[one], order[other] = order[other], order[one]
        changed = head.changed(order=tuple(order))
        return Edited(documents.with_head(changed), f"Box “{name}” moved {self.to} in {room}")


def with_new(documents: Documents, box: Box, behind: str = "") -> Documents:
    """The documents with one more box: behind another where that is named, else last."""
    order = list(documents.head.order or ())
    order.insert(order.index(behind) + 1 if behind in order else len(order), box.id)
    return documents.with_head(documents.head.changed(order=tuple(order))).with_box(box)


def _nothing_hangs_at(documents: Documents, outlet: str) -> Documents:
    """The documents with no load at an outlet."""
    for key in documents.lines():
        box = documents.box(key)
        for item in box.equipment:
            if any(load.outlet == outlet for load in item.loads):
                loads = tuple(load.changed(outlet=None) if load.outlet == outlet else load for load in item.loads)
                box = replace_item(box, item.changed(loads=loads))
                documents = documents.with_box(box)
    return documents


def _free(documents: Documents, name: str) -> str:
    return free_key(slug(name) or "box", documents.taken("box"))
