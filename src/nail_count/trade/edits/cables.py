"""Cables come in, go out, and are looked at."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, ValidationError

from ..model.box import Box
from ..model.errors import Rejected, problems_of
from ..model.thing import Thing
from ..model.wire import Cable, Condition, GaugeField, Run, Side
from .base import Datasheets, Edit, next_letter, with_
from .fields import InInches, Maybe


class AddCable(Thing):
    """A cable comes into the box."""

    gauge: GaugeField
    insulated: Annotated[int, Field(ge=0, le=20)]
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    ground_gauge: Annotated[GaugeField | None, Maybe] = None
    metal: Literal["copper", "aluminum"] = "copper"
    class2: bool = False
    isolated: bool = False
    canopy: bool = False
    space: Annotated[int, Field(ge=1, le=5)] = 1
    run: Run = "ends"
    enters: Side = "top"
    goes: Annotated[str, Field(max_length=60)] = ""


class ChangeCable(AddCable):
    """What is known of a cable is put right."""

    cable: str
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None


class RemoveCable(Thing):
    """A cable comes out."""

    cable: str


def add_cable(box: Box, what: AddCable, sheets: Datasheets) -> Edit:
    """One more cable, with the next free letter."""
    if len(box.cables) >= 40:
        raise Rejected("expected at most 40 cables in a box")
    taken = {cable.id for cable in box.cables}
    cable = Cable(id=next_letter(taken), **what.model_dump())
    return Edit(with_(box, cables=(*box.cables, cable)), f"{_called(cable)} added")


def remove_cable(box: Box, what: RemoveCable, sheets: Datasheets) -> Edit:
    """The box without this cable."""
    cable = box.cable(what.cable)
    if cable is None:
        raise Rejected(f"expected the letter of a cable in this box; there is no cable {what.cable}", "cable")
    rest = tuple(other for other in box.cables if other is not cable)
    readings = tuple(reading for reading in box.readings if reading.of not in cable.conductor_ids)
    return Edit(with_(box, cables=rest, readings=readings), f"{_called(cable)} removed")


def change_cable(box: Box, what: ChangeCable, sheets: Datasheets) -> Edit:
    """The box with this cable as it was looked at; its letter stays, and so does what is not said."""
    before = box.cable(what.cable)
    if before is None:
        raise Rejected(f"expected the letter of a cable in this box; there is no cable {what.cable}", "cable")
    try:
        conductors = before.conductors[: what.insulated]
        said = what.model_dump(include=what.model_fields_set - {"cable"})
        cable = with_(before, conductors=conductors, **said)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        raise Rejected(first.sentence, str(first.path[-1]) if first.path else "insulated") from wrong
    cables = tuple(cable if one is before else one for one in box.cables)
    condition = f", {cable.condition}" if cable.condition else ""
    free = f", {cable.free} free" if cable.free is not None else ""
    return Edit(with_(box, cables=cables), f"Cable {cable.id} is {cable.size}{free}{condition}")


def _called(cable: Cable) -> str:
    return f"{cable.size} cable {cable.id}" if cable.insulated else f"{cable.size} {cable.id}"
