"""Conductors one by one: how they look, what people say of them, the readings on them."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import BeforeValidator, Field

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.conductor import Color, Conductor, Lamps, Meter, Others, Reading, ReadingKind, Role, Terminal, To
from ..model.errors import Rejected
from ..model.measure import Number
from ..model.run import end_in_words
from ..model.thing import Moment
from ..model.wire import Cable, Condition
from ..text.choices import choices
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import next_id, spliced
from .fields import InInches, Maybe, in_ohms, in_volts, listed, now
from .runs import run_at, said_to_go


class SeeConductor(BoxEdit):
    """What one conductor looks like, where it sat, and what somebody says it is."""

    conductor: str
    color: Annotated[Color | None, Maybe] = None
    sprayed: bool = False
    tape: Annotated[Color | None, Maybe] = None
    sat_on: Annotated[Terminal | None, Maybe] = None
    joined: Annotated[str, Field(max_length=4)] = ""
    """What people call the splice it was found in; "" for none."""
    asserted_role: Annotated[Role | None, Maybe] = None
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None
    same_as: Annotated[str, Field(max_length=60)] = ""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One conductor as it was looked at."""
        cable, number = conductor_of(box, self.conductor, "conductor")
        conductor = Conductor.model_validate(self.said("conductor", "joined"))
        color = "sprayed over" if self.sprayed else self.color or "color not known"
        looks = f"taped {self.tape}" if self.tape else color
        asserted_role = f", taken for {dict(choices('role'))[self.asserted_role]}" if self.asserted_role else ""
        seen = spliced(_with_conductors(box, cable, {number: conductor}), self.conductor, self.joined)
        return BoxEdited(seen, f"Conductor {self.conductor}: {looks}{asserted_role}")


_MEANS: dict[str, tuple[tuple[Role, ...], tuple[Role, ...]]] = {
    "feed": (("line", "neutral"), ("line", "line", "neutral")),
    "to the lamp": (("switched", "neutral"), ("switched", "switched", "neutral")),
    "onward": (("onward", "neutral"), ("onward", "onward", "neutral")),
    "to the other switch": (("traveler", "traveler"), ("traveler", "traveler", "neutral")),
    "loop from the lamp": (("switched", "line"), ("line", "switched", "neutral")),
}
"""The roles of a two-wire and of a three-wire cable, the white one last."""


class NameCable(BoxEdit):
    """Record the conductors of a whole cable in one tap."""

    cable: str
    means: Literal["feed", "to the lamp", "onward", "to the other switch", "loop from the lamp"]

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """All conductors of a cable as they usually are: the white, or last, one in its usual place."""
        cable = box.cable(self.cable)
        if cable is None:
            raise Rejected(f"Give the letter of a cable in this box; there is no cable {self.cable}", "cable")
        if cable.insulated not in (2, 3):
            raise Rejected("Name these conductors one by one: the tap is for cables of two or three", "cable")
        roles = _MEANS[self.means][cable.insulated - 2]
        numbers = list(range(1, cable.insulated + 1))
        white = next((n for n in numbers if cable.conductor(n).color in ("white", "gray")), cable.insulated)
        order = [*(n for n in numbers if n != white), white]
        new = {n: cable.conductor(n).changed(asserted_role=role) for n, role in zip(order, roles, strict=True)}
        return BoxEdited(_with_conductors(box, cable, new), f"Cable {cable.id} is taken for {self.means}")

    def _edited(self, documents: Documents) -> Edited:
        edited = super()._edited(documents)
        if run_at(edited.documents, self.box, self.cable) is not None:
            return edited
        box = edited.documents.box(self.box)
        end = end_in_words(self.means, box.circuit)
        return Edited(said_to_go(edited.documents, box, self.cable, end), edited.sentence)


class TakeReading(BoxEdit):
    """A reading on a conductor."""

    kind: ReadingKind
    of: str
    to: str = "ground"
    meter: Meter = "loaded"
    on: Annotated[tuple[str, ...], BeforeValidator(listed)] = ()
    circuit: Annotated[str | None, Maybe] = None
    lamps: Lamps = "not said"
    others: Others = "as found"
    far: Literal["1", "2"] = "1"
    volts: Annotated[Number | None, BeforeValidator(in_volts)] = None
    ohms: Annotated[Number | None, BeforeValidator(in_ohms)] = None
    yes: Annotated[bool | None, Maybe] = None
    electronic: bool = False
    at: Moment = Field(default_factory=now)

    def blamed(self) -> str:
        """What the meter showed."""
        return (
            "volts"
            if self.kind == "volts"
            else "circuit"
            if self.to.startswith("panel") and not self.circuit
            else "yes"
        )

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One more reading."""
        cable, _ = conductor_of(box, self.of, "of")
        if self.to not in get_args(To):
            other, _ = conductor_of(box, self.to, "to")
            if other is not cable or self.to == self.of:
                raise Rejected(f"Pick another conductor of cable {cable.id}, or a point of the list", "to")
        said = self.said() | {"id": next_id("r", {one.id for one in box.readings}), "far": int(self.far)}
        reading = Reading.model_validate(said)
        if len(box.readings) >= 200:
            raise Rejected("A box keeps at most 200 readings", "of")
        sentence = f"Reading {reading.id}: {reading.kind} {reading.of} to {reading.to}, {reading.value}"
        return BoxEdited(box.changed(readings=(*box.readings, reading)), sentence)


class DropReading(BoxEdit):
    """A reading that does not hold."""

    reading: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without a reading that does not hold; history keeps it."""
        rest = tuple(reading for reading in box.readings if reading.id != self.reading)
        if len(rest) == len(box.readings):
            raise Rejected("Pick one of the readings on this box", "reading")
        return BoxEdited(box.changed(readings=rest), f"Reading {self.reading} dropped")


class SetOtherCircuits(BoxEdit):
    """Which further circuits feed the box, or may."""

    other_circuits: Annotated[tuple[str, ...], BeforeValidator(listed)] = ()

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The further circuits of a box."""
        others = tuple(dict.fromkeys(id for id in self.other_circuits if id != box.circuit))
        if len(others) > 3:
            raise Rejected("A box takes at most three further circuits", "other_circuits")
        said = f"Circuits that may feed it too: {', '.join(others)}" if others else "No further circuit feeds it"
        return BoxEdited(box.changed(other_circuits=others), said)


def conductor_of(box: Box, id: str, field: str) -> tuple[Cable, int]:
    """The cable and number of a conductor called A1. Raises [Rejected][] at `field` where the box has none such."""
    letter = id.rstrip("0123456789")
    cable, digits = box.cable(letter), id[len(letter) :]
    if cable is None or not digits or not 1 <= int(digits) <= cable.insulated:
        raise Rejected(f"Pick a conductor of this box, such as A1; there is no {id or 'such one'}", field)
    return cable, int(digits)


def _with_conductors(box: Box, cable: Cable, new: dict[int, Conductor]) -> Box:
    conductors = tuple(new.get(n) or cable.conductor(n) for n in range(1, cable.insulated + 1))
    changed = cable.changed(conductors=conductors)
    return box.changed(cables=tuple(changed if one.id == cable.id else one for one in box.cables))
