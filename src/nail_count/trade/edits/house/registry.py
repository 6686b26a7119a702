"""The changes a person makes to a house, by name: (head, what) → a new head and one sentence for its history."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from ...model.job import JobHead
from ...model.thing import Thing
from . import boxes, panel, rooms, stock
from .base import BoxIndex, HouseEdit


@dataclass(frozen=True, slots=True)
class HouseKind:
    """An edit of a house by name: what it needs, and the function that does it."""

    what: type[Thing]
    do: Callable[[JobHead, Any, BoxIndex], HouseEdit]


HOUSE_EDITS: dict[str, HouseKind] = {
    "put-circuit": HouseKind(panel.PutCircuit, panel.put_circuit),
    "remove-circuit": HouseKind(panel.RemoveCircuit, panel.remove_circuit),
    "set-panel": HouseKind(panel.SetPanel, panel.set_panel),
    "set-house": HouseKind(rooms.SetHouse, rooms.set_house),
    "set-assumptions": HouseKind(rooms.SetAssumptions, rooms.set_assumptions),
    "set-hub": HouseKind(rooms.SetHub, rooms.set_hub),
    "set-floor": HouseKind(rooms.SetFloor, rooms.set_floor),
    "put-stock": HouseKind(stock.PutStock, stock.put_stock),
    "remove-stock": HouseKind(stock.RemoveStock, stock.remove_stock),
    "move-box": HouseKind(boxes.MoveBox, boxes.move_box),
}
"""Every edit a person can make to a house, by the name that pages use; boxes come and go beside these."""


def make_house_edit(head: JobHead, name: str, fields: Mapping[str, object], index: BoxIndex) -> HouseEdit:
    """Does the edit of this name with these fields.

    Raises:
        KeyError: no edit has this name.
        ValidationError: a field is not what the edit needs.
        Rejected: the house cannot be changed so.
    """
    kind = HOUSE_EDITS[name]
    return kind.do(head, kind.what.model_validate(fields), index)
