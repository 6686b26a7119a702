"""Cables come in, go out, and are looked at."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..model.box import Box
from ..model.errors import Rejected
from ..model.wire import Cable, Condition, GaugeField, Run, Side
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import next_letter
from .fields import InInches, Maybe


class AddCable(BoxEdit):
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

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One more cable, with the next free letter."""
        if len(box.cables) >= 40:
            raise Rejected("expected at most 40 cables in a box")
        taken = {cable.id for cable in box.cables}
        cable = Cable(id=next_letter(taken), **self.said())
        return BoxEdited(box.changed(cables=(*box.cables, cable)), f"{_called(cable)} added")


class ChangeCable(AddCable):
    """What is known of a cable is put right."""

    cable: str
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None

    def blamed(self) -> str:
        """How many conductors there are."""
        return "insulated"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with this cable as it was looked at; its letter stays, and so does what is not said."""
        before = box.cable(self.cable)
        if before is None:
            raise Rejected(f"expected the letter of a cable in this box; there is no cable {self.cable}", "cable")
        cable = before.changed(conductors=before.conductors[: self.insulated], **self.given("cable"))
        cables = tuple(cable if one is before else one for one in box.cables)
        condition = f", {cable.condition}" if cable.condition else ""
        free = f", {cable.free} free" if cable.free is not None else ""
        return BoxEdited(box.changed(cables=cables), f"Cable {cable.id} is {cable.size}{free}{condition}")


class RemoveCable(BoxEdit):
    """A cable comes out."""

    cable: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this cable."""
        cable = box.cable(self.cable)
        if cable is None:
            raise Rejected(f"expected the letter of a cable in this box; there is no cable {self.cable}", "cable")
        rest = tuple(other for other in box.cables if other is not cable)
        readings = tuple(reading for reading in box.readings if reading.of not in cable.conductor_ids)
        return BoxEdited(box.changed(cables=rest, readings=readings), f"{_called(cable)} removed")


def _called(cable: Cable) -> str:
    return f"{cable.size} cable {cable.id}" if cable.insulated else f"{cable.size} {cable.id}"
