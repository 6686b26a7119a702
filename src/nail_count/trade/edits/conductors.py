"""Conductors one by one: what they look like, what is said of them, what was measured on them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, ValidationError

from ..model.box import Box
from ..model.conductor import Color, Conductor, Meter, Reading, ReadingKind, Role, Terminal
from ..model.errors import Rejected, problems_of
from ..model.measure import Number
from ..model.thing import Thing
from ..model.wire import Cable, Condition
from .base import Datasheets, Edit, next_id, with_
from .fields import InInches, Maybe, in_volts, listed, now


class SeeConductor(Thing):
    """What one conductor looks like, where it sat, and what somebody says it is."""

    conductor: str
    color: Annotated[Color | None, Maybe] = None
    sprayed: bool = False
    tape: Annotated[Color | None, Maybe] = None
    sat_on: Annotated[Terminal | None, Maybe] = None
    joined: Annotated[str, Field(max_length=4)] = ""
    asserted_role: Annotated[Role | None, Maybe] = None
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None
    same_as: Annotated[str, Field(max_length=60)] = ""


class NameCable(Thing):
    """What a whole cable is said to be, in one tap."""

    cable: str
    means: Literal["feed", "to the lamp", "onward", "to the other switch", "loop from the lamp"]


class TakeReading(Thing):
    """A reading on a conductor."""

    kind: ReadingKind
    of: str
    to: str = "ground"
    meter: Meter = "loaded"
    on: Annotated[tuple[str, ...], BeforeValidator(listed)] = ()
    lamps_in: bool = False
    far: Literal["1", "2"] = "1"
    volts: Annotated[Number | None, BeforeValidator(in_volts)] = None
    yes: Annotated[bool | None, Maybe] = None
    electronic: bool = False
    at: datetime = Field(default_factory=now)


class DropReading(Thing):
    """A reading that does not hold."""

    reading: str


class SetOtherCircuits(Thing):
    """Which further circuits feed the box, or may."""

    other_circuits: Annotated[tuple[str, ...], BeforeValidator(listed)] = ()


def see_conductor(box: Box, what: SeeConductor, sheets: Datasheets) -> Edit:
    """One conductor as it was looked at."""
    cable, number = conductor_of(box, what.conductor, "conductor")
    conductor = Conductor(**what.model_dump(exclude={"conductor"}))
    looks = (what.tape and f"taped {what.tape}") or ("sprayed over" if what.sprayed else what.color) or "color not said"
    asserted_role = f", taken for {what.asserted_role}" if what.asserted_role else ""
    return Edit(
        _with_conductors(box, cable, {number: conductor}), f"Conductor {what.conductor}: {looks}{asserted_role}"
    )


_MEANS: dict[str, tuple[tuple[Role, ...], tuple[Role, ...]]] = {
    "feed": (("line", "neutral"), ("line", "line", "neutral")),
    "to the lamp": (("switched", "neutral"), ("switched", "switched", "neutral")),
    "onward": (("onward", "neutral"), ("onward", "onward", "neutral")),
    "to the other switch": (("traveler", "traveler"), ("traveler", "traveler", "neutral")),
    "loop from the lamp": (("switched", "line"), ("line", "switched", "neutral")),
}
"""The roles of a two-wire and of a three-wire cable, the white one last."""


def name_cable(box: Box, what: NameCable, sheets: Datasheets) -> Edit:
    """All conductors of a cable as they usually are: the white, or last, one in its usual place."""
    cable = box.cable(what.cable)
    if cable is None:
        raise Rejected(f"expected the letter of a cable in this box; there is no cable {what.cable}", "cable")
    if cable.insulated not in (2, 3):
        raise Rejected("expected a cable of two or three conductors; name these one by one", "cable")
    roles = _MEANS[what.means][cable.insulated - 2]
    numbers = list(range(1, cable.insulated + 1))
    white = next((n for n in numbers if cable.conductor(n).color in ("white", "gray")), cable.insulated)
    order = [*(n for n in numbers if n != white), white]
    new = {n: cable.conductor(n).changed(asserted_role=role) for n, role in zip(order, roles, strict=True)}
    named = box.model_copy(
        update={"cables": tuple(_goes(one, what.means) if one is cable else one for one in box.cables)}
    )
    again = named.cable(cable.id)
    assert again is not None
    return Edit(_with_conductors(named, again, new), f"Cable {cable.id} is taken for {what.means}")


def take_reading(box: Box, what: TakeReading, sheets: Datasheets) -> Edit:
    """One more reading."""
    cable, _ = conductor_of(box, what.of, "of")
    if what.to[:1].isupper():
        other, _ = conductor_of(box, what.to, "to")
        if other is not cable or what.to == what.of:
            raise Rejected(f"expected another conductor of cable {cable.id}, or a point of the list", "to")
    said = what.model_dump() | {"far": int(what.far)}
    try:
        reading = Reading(id=next_id("r", {one.id for one in box.readings}), **said)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        field = str(first.path[0]) if first.path else "volts" if what.kind == "volts" else "yes"
        raise Rejected(first.sentence, field) from wrong
    if len(box.readings) >= 200:
        raise Rejected("expected at most 200 readings on a box", "of")
    shown = f"{float(reading.volts):g} V" if reading.volts is not None else "yes" if reading.yes else "no"
    sentence = f"Reading {reading.id}: {reading.kind} {reading.of} to {reading.to}, {shown}"
    return Edit(with_(box, readings=(*box.readings, reading)), sentence)


def drop_reading(box: Box, what: DropReading, sheets: Datasheets) -> Edit:
    """The box without a reading that does not hold; history keeps it."""
    rest = tuple(reading for reading in box.readings if reading.id != what.reading)
    if len(rest) == len(box.readings):
        raise Rejected("expected one of the readings on this box", "reading")
    return Edit(with_(box, readings=rest), f"Reading {what.reading} dropped")


def set_other_circuits(box: Box, what: SetOtherCircuits, sheets: Datasheets) -> Edit:
    """The further circuits of a box."""
    others = tuple(dict.fromkeys(id for id in what.other_circuits if id != box.circuit))
    if len(others) > 3:
        raise Rejected("expected at most three further circuits", "other_circuits")
    said = f"Circuits that may feed it too: {', '.join(others)}" if others else "No further circuit feeds it"
    return Edit(with_(box, other_circuits=others), said)


def conductor_of(box: Box, id: str, field: str) -> tuple[Cable, int]:
    """The cable and number of a conductor called A1. Raises [Rejected][] at `field` where the box has none such."""
    letter = id.rstrip("0123456789")
    cable, digits = box.cable(letter), id[len(letter) :]
    if cable is None or not digits or not 1 <= int(digits) <= cable.insulated:
        raise Rejected(f"expected a conductor of this box, such as A1; there is no {id or 'such one'}", field)
    return cable, int(digits)


def _goes(cable: Cable, means: str) -> Cable:
    return cable if cable.goes else cable.model_copy(update={"goes": means})


def _with_conductors(box: Box, cable: Cable, new: dict[int, Conductor]) -> Any:
    conductors = tuple(new.get(n) or cable.conductor(n) for n in range(1, cable.insulated + 1))
    changed = cable.model_copy(update={"conductors": conductors})
    return with_(box, cables=tuple(changed if one is cable else one for one in box.cables))
