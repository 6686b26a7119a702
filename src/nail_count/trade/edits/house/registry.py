"""The changes a person makes to a house: (head, what) → a new head and one sentence for its history."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ...model.assumptions import Assume, Warming
from ...model.errors import Rejected, problems_of
from ...model.house import House, Room
from ...model.job import JobHead, Moved
from ...model.panel import Circuit, Panel, in_order, misplaced
from ...model.stock import StockBox
from ...model.thing import Thing
from . import changes as say


@dataclass(frozen=True, slots=True)
class HouseEdit:
    """A house after a change, and the change in one sentence."""

    head: JobHead
    sentence: str


@dataclass(frozen=True, slots=True)
class BoxIndex:
    """What an edit must know of the boxes: their names, and what feeds them."""

    rooms: Mapping[str, str]
    """The room of each box, by its key."""
    names: Mapping[str, str]
    circuits: Mapping[str, tuple[str, ...]]
    """Every circuit that feeds it, or may."""


def put_circuit(head: JobHead, what: say.PutCircuit, index: BoxIndex) -> HouseEdit:
    """A breaker entered, or put right."""
    was = what.was or what.id
    known = {circuit.id for circuit in head.circuits}
    if what.was and what.was not in known:
        raise Rejected(f"expected one of the circuits; there is no {what.was} any more", "id")
    if was != what.id:
        if what.id in known:
            raise Rejected(f"expected a number of its own; there is a circuit {what.id} already", "id")
        _free_of_boxes(was, index)
    circuit = _checked(Circuit, what.model_dump(exclude={"was"}), "id")
    others = [_renumbered(one, was, what.id) for one in head.circuits if one.id != was]
    circuits = in_order((*others, circuit))
    if wrong := misplaced(head.panel, circuits):
        raise Rejected(f"expected it to fit into the panel; {wrong}", "space")
    done = "put right" if was in known else "entered"
    return _edit(head, f"Circuit {circuit.id} {done}: {circuit.breaker} A{_says(circuit)}", circuits=circuits)


def remove_circuit(head: JobHead, what: say.RemoveCircuit, index: BoxIndex) -> HouseEdit:
    """The panel without this breaker."""
    if what.id not in {circuit.id for circuit in head.circuits}:
        raise Rejected("expected one of the circuits", "id")
    _free_of_boxes(what.id, index)
    rest = tuple(_renumbered(circuit, what.id, None) for circuit in head.circuits if circuit.id != what.id)
    return _edit(head, f"Circuit {what.id} taken out of the panel", circuits=rest)


def set_panel(head: JobHead, what: say.SetPanel, index: BoxIndex) -> HouseEdit:
    """The panel's size and main."""
    panel = _checked(Panel, what.model_dump(), "spaces")
    if wrong := misplaced(panel, head.circuits):
        raise Rejected(f"expected room for every breaker; {wrong}", "spaces")
    main = f", main {panel.main} A" if panel.main else ""
    return _edit(head, f"Panel with {panel.spaces} spaces{main}", panel=panel)


def set_house(head: JobHead, what: say.SetHouse, index: BoxIndex) -> HouseEdit:
    """What is known of the house."""
    house = _checked(
        House, head.house.__dict__ | what.model_dump(exclude={"name", "colors", "code", "modules", "voltage"}), "year"
    )
    terms = head.terms.model_copy(update=what.model_dump(include={"colors", "code", "modules", "voltage"}))
    year = f", built {house.year}" if house.year else ""
    hub = f", hub: {house.hub}" if house.hub else ""
    off = ", the main goes off for work" if house.main_off else ""
    return _edit(
        head, f"House “{what.name}”{year}{hub}{off}, counted by {what.code}", name=what.name, house=house, terms=terms
    )


def set_assumptions(head: JobHead, what: say.SetAssumptions, index: BoxIndex) -> HouseEdit:
    """What the job takes for granted."""
    said = what.model_dump()
    heat = {name: said.pop(name) for name in Warming.model_fields}
    assume = _checked(Assume, said | {"warming": _checked(Warming, heat, "room")}, "led_power_factor")
    turned_on = [words for words, on in (
        ("derating where the sheet gives none", assume.fallback_derating),
        ("a tenth of the incandescent figure for LED", assume.tenth_for_led),
    ) if on]  # fmt: skip
    terms = head.terms.model_copy(update={"assume": assume})
    start = " as at the start" if assume == Assume() else f": {' and '.join(turned_on) or 'changed'}"
    return _edit(head, f"What is taken for granted{start}", terms=terms)


def set_hub(head: JobHead, what: say.SetHub, index: BoxIndex) -> HouseEdit:
    """Which hub the house has."""
    house = head.house.model_copy(update={"hub": what.hub})
    return _edit(head, f"Hub in the house: {what.hub or 'none'}", house=house)


def set_floor(head: JobHead, what: say.SetFloor, index: BoxIndex) -> HouseEdit:
    """The floor of a room."""
    if what.room not in set(index.rooms.values()):
        raise Rejected("expected one of the rooms of this house", "room")
    rooms = [room for room in head.house.rooms if room.name != what.room]
    if what.floor:
        rooms.append(Room(name=what.room, floor=what.floor))
    house = head.house.model_copy(update={"rooms": tuple(rooms)})
    return _edit(
        head,
        f"{what.room} is on the floor “{what.floor}”" if what.floor else f"{what.room}: floor not said",
        house=house,
    )


def put_stock(head: JobHead, what: say.PutStock, index: BoxIndex) -> HouseEdit:
    """A box of the stock list entered, or put right."""
    if what.volume is None:
        raise Rejected("expected the volume marked in it, such as 20.3 in3", "volume")
    new = _checked(StockBox, what.model_dump(), "name")
    others = [one for one in head.stock if one.name != new.name]
    stock = tuple(sorted((*others, new), key=lambda one: (one.gangs, one.volume.in3, one.name)))
    return _edit(head, f"In stock: {new.name}, {new.volume}", stock=stock)


def remove_stock(head: JobHead, what: say.RemoveStock, index: BoxIndex) -> HouseEdit:
    """The stock list without a box."""
    rest = tuple(one for one in head.stock if one.name != what.name)
    if len(rest) == len(head.stock):
        raise Rejected("expected one of the boxes in stock", "name")
    return _edit(head, f"No longer in stock: {what.name}", stock=rest)


def move_box(head: JobHead, what: say.MoveBox, index: BoxIndex) -> HouseEdit:
    """A box in another room, or one place up or down among those of its room."""
    order = list(head.order or ())
    if what.box not in order:
        raise Rejected("expected one of the boxes of this job", "box")
    name, room = index.names[what.box], index.rooms[what.box]
    if what.room and what.room != room:
        moved = Moved(box=what.box, before=room, after=what.room)
        return _edit(head, f"Box “{name}” moved from {room} to {what.room}", moved=moved)
    beside = [key for key in order if index.rooms.get(key) == room]
    at = beside.index(what.box) + (-1 if what.to == "up" else 1)
    if not what.to or not 0 <= at < len(beside):
        raise Rejected(f"expected another room, or a place among the boxes of {room}", "room")
    one, other = order.index(what.box), order.index(beside[at])
    order[one], order[other] = order[other], order[one]
    return _edit(head, f"Box “{name}” moved {what.to} in {room}", order=tuple(order))


def with_box(head: JobHead, key: str, sentence: str, after: str | None = None, at: int | None = None) -> HouseEdit:
    """The house with one more box: behind another one where that is named, at a place where that is, else last."""
    order = list(head.order or ())
    place = order.index(after) + 1 if after in order else len(order) if at is None else at
    order.insert(place, key)
    return _edit(head, sentence, order=tuple(order))


def without_box(head: JobHead, key: str, name: str) -> HouseEdit:
    """The house without this box; undo brings it back."""
    order = tuple(one for one in head.order or () if one != key)
    return _edit(head, f"Box “{name}” removed", order=order)


@dataclass(frozen=True, slots=True)
class HouseKind:
    """An edit of a house by name: what it needs, and the function that does it."""

    what: type[Thing]
    do: Callable[[JobHead, Any, BoxIndex], HouseEdit]


HOUSE_EDITS: dict[str, HouseKind] = {
    "put-circuit": HouseKind(say.PutCircuit, put_circuit),
    "remove-circuit": HouseKind(say.RemoveCircuit, remove_circuit),
    "set-panel": HouseKind(say.SetPanel, set_panel),
    "set-house": HouseKind(say.SetHouse, set_house),
    "set-assumptions": HouseKind(say.SetAssumptions, set_assumptions),
    "set-hub": HouseKind(say.SetHub, set_hub),
    "set-floor": HouseKind(say.SetFloor, set_floor),
    "put-stock": HouseKind(say.PutStock, put_stock),
    "remove-stock": HouseKind(say.RemoveStock, remove_stock),
    "move-box": HouseKind(say.MoveBox, move_box),
}
"""Every edit a person can make to a house, by the name that pages use; boxes come and go beside these."""


def make_house_edit(head: JobHead, name: str, said: Mapping[str, object], index: BoxIndex) -> HouseEdit:
    """Does the edit of this name with what was said.

    Raises:
        KeyError: no edit has this name.
        ValidationError: a field is not what the edit needs.
        Refused: the house cannot be changed so.
    """
    kind = HOUSE_EDITS[name]
    return kind.do(head, kind.what.model_validate(said), index)


def _edit(head: JobHead, sentence: str, **changes: object) -> HouseEdit:
    changes.setdefault("moved", None)
    return HouseEdit(head.model_copy(update=changes), sentence)


def _checked(kind: type[Any], said: Mapping[str, object], field: str) -> Any:
    try:
        return kind.model_validate(said)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        raise Rejected(first.sentence, str(first.path[0]) if first.path else field) from wrong


def _renumbered(circuit: Circuit, was: str, new: str | None) -> Circuit:
    """A circuit that keeps to its neighbor under its new number, or alone where the neighbor is gone."""
    if circuit.neutral_with != was:
        return circuit
    return circuit.model_copy(update={"neutral_with": new})


def _free_of_boxes(id: str, index: BoxIndex) -> None:
    hanging = [index.names[key] for key, circuits in index.circuits.items() if id in circuits]
    if hanging:
        named = ", ".join(f"“{name}”" for name in hanging[:3])
        raise Rejected(f"expected no box to hang on circuit {id} first; {named} does", "id")


def _says(circuit: Circuit) -> str:
    said = f", “{circuit.label}”" if circuit.label else ", not labeled"
    return f"{said}, feeds {circuit.feeds}" if circuit.feeds else said
