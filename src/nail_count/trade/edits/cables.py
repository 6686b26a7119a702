"""Cables come in, go out, and are looked at."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..documents import Documents, Edited
from ..model.box import Box, CableWork
from ..model.errors import Rejected
from ..model.gauge import GaugeField
from ..model.run import end_in_words
from ..model.wire import Cable, CableKind, Condition, Passage, Side
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import next_letter, pruned
from .fields import InInches, Maybe
from .runs import said_to_go, without_runs


class CableFacts(BoxEdit):
    """The facts of a cable."""

    gauge: GaugeField
    insulated: Annotated[int, Field(ge=0, le=20)]
    grounds: Annotated[int, Field(ge=0, le=6)] = 1
    ground_gauge: Annotated[GaugeField | None, Maybe] = None
    metal: Literal["copper", "aluminum"] = "copper"
    kind: Annotated[CableKind | None, Maybe] = None
    class2: bool = False
    isolated: bool = False
    canopy: bool = False
    space: Annotated[int, Field(ge=1, le=5)] = 1
    run: Passage = "ends"
    enters: Side = "top"


class AddCable(CableFacts):
    """A cable comes into the box."""

    goes: Annotated[str, Field(max_length=60)] = ""
    """Where it goes, in words: feed, onward, to the lamp."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One more cable, with the next free letter."""
        if len(box.cables) >= 40:
            raise Rejected("A box takes at most 40 cables")
        taken = {cable.id for cable in box.cables}
        cable = Cable.model_validate(self.said("goes") | {"id": next_letter(taken)})
        return BoxEdited(box.changed(cables=(*box.cables, cable)), f"{_called(cable)} added")

    def _edited(self, documents: Documents) -> Edited:
        edited = super()._edited(documents)
        if not self.goes:
            return edited
        box = edited.documents.box(self.box)
        end = end_in_words(self.goes, box.circuit)
        return Edited(said_to_go(edited.documents, box, box.cables[-1].id, end), edited.sentence)


class ChangeCable(CableFacts):
    """A cable is corrected."""

    cable: str
    free: InInches = None
    condition: Annotated[Condition | None, Maybe] = None
    work: CableWork = "stays"
    """What the plan does with it."""

    def blamed(self) -> str:
        """How many conductors there are."""
        return "insulated"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with this cable as it was looked at; its letter stays, and so does every field that isn't sent."""
        before = box.cable(self.cable)
        if before is None:
            raise Rejected(f"Give the letter of a cable in this box; there is no cable {self.cable}", "cable")
        cable = before.changed(conductors=before.conductors[: self.insulated], **self.given("cable", "work"))
        cables = tuple(cable if one is before else one for one in box.cables)
        new = pruned(box.changed(cables=cables))
        if "work" in self.model_fields_set:
            new = new.changed(out=_with(box.contents.out, cable.id, self.work == "comes out"),
                              new=_with(box.contents.new, cable.id, self.work == "new"),
                              landed=_with(box.contents.landed, cable.id, self.work == "lands here"))  # fmt: skip
        condition = f", {cable.condition}" if cable.condition else ""
        free = f", {cable.free} free" if cable.free is not None else ""
        work = f", {self.work}" if self.work != "stays" else ""
        return BoxEdited(new, f"Cable {cable.id} is {cable.size}{free}{condition}{work}")


class RemoveCable(BoxEdit):
    """A cable comes out."""

    cable: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this cable."""
        cable = box.cable(self.cable)
        if cable is None:
            raise Rejected(f"Give the letter of a cable in this box; there is no cable {self.cable}", "cable")
        rest = tuple(other for other in box.cables if other is not cable)
        readings = tuple(reading for reading in box.readings if reading.of not in cable.conductor_ids)
        tested = tuple(one for one in box.live_test if not {*one.wires, one.to} & set(cable.conductor_ids))
        left = box.changed(cables=rest, readings=readings, live_test=tested)
        return BoxEdited(pruned(left), f"{_called(cable)} removed")

    def _edited(self, documents: Documents) -> Edited:
        edited = super()._edited(documents)
        return Edited(without_runs(edited.documents, self.box, self.cable), edited.sentence)


def _with(marks: tuple[str, ...], mark: str, there: bool) -> tuple[str, ...]:
    rest = tuple(one for one in marks if one != mark)
    return (*rest, mark) if there else rest


def _called(cable: Cable) -> str:
    return f"{cable.size} cable {cable.id}" if cable.insulated else f"{cable.size} {cable.id}"
