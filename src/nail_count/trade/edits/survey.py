"""The findings at a box: proven dead, photographed, looked at, and which breaker feeds it."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.errors import Rejected
from ..model.panel import BreakerKind, Circuit, in_order
from ..model.survey import (
    TEST_NAMES,
    UNCOVERED,
    DeadTest,
    GroundWay,
    Holes,
    Looked,
    Mounted,
    Photo,
    Plaster,
    PutOff,
    TestName,
    Tried,
    Uncovered,
    Wall,
    WallBuild,
)
from ..model.thing import Moment
from .base import BoxEdit, BoxEdited, Datasheets
from .fields import InInches, Maybe, listed, now


class SetSetback(BoxEdit):
    """How far the box stands behind the face of the wall, and what the wall is of."""

    setback: InInches = None
    wall: Annotated[Wall | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """How far the box stands back, and in what wall."""
        if self.setback is not None and self.setback.mm > 150:
            raise Rejected("Enter a set-back of at most 150 mm (6 in)", "setback")
        back = f"{self.setback} behind the face of the wall" if self.setback is not None else "set-back not measured"
        wall = f", {self.wall} wall" if self.wall else ""
        return _surveyed(box, f"Box {back}{wall}", setback=self.setback, wall=self.wall)


class SetHoles(BoxEdit):
    """The state of the screw holes, and of paint and plaster inside the box."""

    holes: Annotated[Holes | None, Maybe] = None
    plaster: Annotated[Plaster | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The screw holes, and paint and plaster in the box."""
        said = f"Screw holes {self.holes or 'not looked at'}; paint and plaster {self.plaster or 'not looked at'}"
        return _surveyed(box, said, holes=self.holes, plaster=self.plaster)


class SetFound(BoxEdit):
    """What else was found at the box, or picked for it; a field that isn't sent stays."""

    neutral: Annotated[bool | None, Maybe] = None
    insulated: Annotated[bool | None, Maybe] = None
    ground_way: Annotated[GroundWay | None, Maybe] = None
    pigtails: Annotated[str, Field(max_length=60)] = ""
    new_place: Annotated[bool | None, Maybe] = None
    damp: Annotated[bool | None, Maybe] = None
    bonded: Annotated[bool | None, Maybe] = None
    plate_stays: Annotated[bool | None, Maybe] = None
    metal_plate: Annotated[bool | None, Maybe] = None
    cavity: InInches = None
    built: Annotated[WallBuild | None, Maybe] = None
    mounted: Annotated[Mounted | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with the facts entered; a field that isn't sent stays."""
        given = self.given()
        if not given:
            raise Rejected("Enter what you found", "neutral")
        said = [f"{named}: {_word(given[field])}" for field, named in _FOUND.items() if field in given]
        return _surveyed(box, "; ".join(said), **given)


def _word(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    return "not looked at" if value is None else str(value) or "none"


class SetBreakerKind(BoxEdit):
    """What the breaker that feeds a box protects from, as read on it."""

    kind: Annotated[BreakerKind | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box itself stays as it is: the breaker is read, in the panel."""
        return BoxEdited(box, f"Breaker read: {self.kind or 'not looked at'}")

    def _edited(self, documents: Documents) -> Edited:
        """The panel with that breaker read."""
        box, head = documents.box(self.box), documents.head
        if box.circuit not in head.circuit_ids:
            raise Rejected("Find the breaker first", "kind")
        circuits = tuple(one.changed(kind=self.kind) if one.id == box.circuit else one for one in head.circuits)
        sentence = f"Breaker {box.circuit}: {self.kind or 'not looked at'}"
        return Edited(documents.with_head(head.changed(circuits=circuits)), sentence)


_FOUND = {
    "neutral": "Neutral in the box",
    "insulated": "Insulation in the wall",
    "ground_way": "For want of a ground",
    "pigtails": "Pigtails, joined with",
    "new_place": "A new place for a switch",
    "damp": "A damp or wet place",
    "bonded": "The metal box is bonded",
    "plate_stays": "The plate must stay",
    "metal_plate": "A metal plate",
    "cavity": "Wall cavity",
    "built": "The wall is",
    "mounted": "The box sits",
}


class Look(BoxEdit):
    """Something with a usual answer has been looked at, or must be looked at again."""

    fact: Looked
    seen: bool = False

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Something noted as looked at, or to be looked at again."""
        rest = tuple(fact for fact in box.survey.looked if fact != self.fact)
        looked = (*rest, self.fact) if self.seen else rest
        return _surveyed(box, f"{_LOOKED[self.fact]} {'looked at' if self.seen else 'to be looked at'}", looked=looked)


class TickDead(BoxEdit):
    """One tick of proving dead."""

    stage: Uncovered
    tick: TestName
    at: Moment = Field(default_factory=now)

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One tick more; within a stage in order, since a tester proven afterwards alone proves nothing."""
        made = {proof.tick for proof in box.survey.proofs if proof.stage == self.stage}
        if self.tick in made:
            raise Rejected(f"“{_TICKED[self.tick]}” is ticked for {self.stage} already", "tick")
        if (missing := TEST_NAMES[len(made)]) != self.tick:
            raise Rejected(f"Tick “{_TICKED[missing]}” first, then “{_TICKED[self.tick]}”", "tick")
        proofs = (*box.survey.proofs, DeadTest(stage=self.stage, tick=self.tick, at=self.at))
        return _surveyed(box, f"{self.stage.capitalize()}: {_TICKED[self.tick]}", proofs=proofs)


class ClearDead(BoxEdit):
    """The ticks of a stage, and of those after it, no longer hold: the breaker was on again."""

    stage: Uncovered

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The ticks of this stage and the later ones taken back."""
        later = UNCOVERED[UNCOVERED.index(self.stage) :]
        rest = tuple(proof for proof in box.survey.proofs if proof.stage not in later)
        return _surveyed(box, f"Must be proven dead again, from {self.stage} on", proofs=rest)


class AddPhoto(BoxEdit):
    """A picture of the box."""

    photo: str
    caption: Annotated[str, Field(max_length=80)] = ""
    step: Annotated[tuple[str, ...], BeforeValidator(listed), Field(max_length=25)] = ()
    at: Moment = Field(default_factory=now)

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """One more picture."""
        if self.photo in {photo.id for photo in box.survey.photos}:
            raise Rejected("This picture is there already", "photo")
        photo = Photo(id=self.photo, caption=self.caption, at=self.at, step=self.step)
        if len(box.survey.photos) >= 60:
            raise Rejected("A box keeps at most 60 pictures", "photo")
        return _surveyed(box, f"Picture added{_captioned(photo)}", photos=(*box.survey.photos, photo))


class RemovePhoto(BoxEdit):
    """A picture is taken away."""

    photo: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this picture; undo brings it back."""
        gone = next((photo for photo in box.survey.photos if photo.id == self.photo), None)
        if gone is None:
            raise Rejected("Pick one of the pictures of this box", "photo")
        rest = tuple(photo for photo in box.survey.photos if photo is not gone)
        return _surveyed(box, f"Picture taken away{_captioned(gone)}", photos=rest)


class TryBreaker(BoxEdit):
    """A breaker was switched off: did the light go out?"""

    circuit: str
    went_out: bool

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A breaker tried; the one at which the light goes out feeds the box."""
        if self.circuit in {tried.circuit for tried in box.survey.tried}:
            raise Rejected("Pick a breaker that has not been tried yet", "circuit")
        tried = (*box.survey.tried, Tried(circuit=self.circuit, went_out=self.went_out))
        if not self.went_out:
            return _surveyed(box, f"Breaker {self.circuit} off: light stays on", tried=tried)
        found: Box = box.changed(circuit=self.circuit)
        return _surveyed(found, f"Breaker {self.circuit} off: light goes out, so it feeds this box", tried=tried)


class FoundBreaker(BoxEdit):
    """The breaker at which the light went out, by its number in the panel and the amps on its handle."""

    breaker: Annotated[str, Field(max_length=40)]
    """9, 15 A; its number alone where the panel is entered."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box on this circuit."""
        number, _ = self._read()
        tried = tuple(one for one in box.survey.tried if one.circuit != number)
        found: Box = box.changed(circuit=number)
        sentence = f"Breaker {number} off: light goes out, so it feeds this box"
        return _surveyed(found, sentence, tried=(*tried, Tried(circuit=number, went_out=True)))

    def _edited(self, documents: Documents) -> Edited:
        """The box on this circuit, and the breaker in the panel."""
        number, amps = self._read()
        head, circuits = documents.head, {one.id: one for one in documents.head.circuits}
        if number not in circuits and amps is None:
            raise Rejected("Add the amps on its handle: 9, 15 A", "breaker")
        if number not in circuits:
            new = Circuit.model_validate({"id": number, "breaker": amps})
            documents = documents.with_head(head.changed(circuits=in_order((*head.circuits, new))))
        elif amps is not None and amps != circuits[number].breaker:
            known = circuits[number].breaker
            raise Rejected(f"In the panel, breaker {number} is one of {known} A. Correct it there first", "breaker")
        return super()._edited(documents)

    def _read(self) -> tuple[str, int | None]:
        number, _, amps = (part.strip() for part in self.breaker.partition(","))
        amps = amps.rstrip("aA").strip()
        if not number or (amps and not amps.isdecimal()):
            raise Rejected("Enter its number and the amps on its handle: 9, 15 A", "breaker")
        return number, int(amps) if amps else None


class AskLater(BoxEdit):
    """Ask for something at this box last."""

    ask: PutOff

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with this put off."""
        if self.ask in box.survey.put_off:
            raise Rejected("This is put off already. It is all that's left here.", "ask")
        return _surveyed(box, f"Put off: {self.ask}", put_off=(*box.survey.put_off, self.ask))


class SearchAgain(BoxEdit):
    """The search for the breaker starts over."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with no breaker tried, and none known to feed it."""
        return _surveyed(box.changed(circuit=None), "Search for the breaker started over", tried=())


_TICKED = {
    "tester before": "tester proven on a known live point",
    "box dead": "box tested, dead",
    "tester after": "tester proven again",
}
_LOOKED = {
    "gangs": "Gangs",
    "material": "Material",
    "clamps": "Tabs or clamps",
    "ring": "Ring or extension",
    "cables": "Cables",
    "labels": "Labels on the fixtures",
}


def _surveyed(box: Box, sentence: str, **found: Any) -> BoxEdited:
    return BoxEdited(box.changed(survey=box.survey.changed(**found)), sentence)


def _captioned(photo: Photo) -> str:
    return f": {photo.caption}" if photo.caption else ""
