"""What is found at a box: proven dead, photographed, looked at, and which breaker feeds it."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from pydantic import Field, ValidationError

from ..model.box import Box
from ..model.errors import Rejected, problems_of
from ..model.survey import STAGES, TICKS, Holes, Looked, Photo, Plaster, Proof, Stage, Tick, Tried, Wall
from ..model.thing import Thing
from .base import Datasheets, Edit, with_
from .fields import InInches, Maybe, now


class SetSetback(Thing):
    """How far the box stands behind the face of the wall, and what the wall is of."""

    setback: InInches = None
    wall: Annotated[Wall | None, Maybe] = None


class SetHoles(Thing):
    """The state of the screw holes, and of paint and plaster inside the box."""

    holes: Annotated[Holes | None, Maybe] = None
    plaster: Annotated[Plaster | None, Maybe] = None


class SetFound(Thing):
    """Whether a neutral is in the box, and whether the wall is filled with insulation."""

    neutral: Annotated[bool | None, Maybe] = None
    insulated: Annotated[bool | None, Maybe] = None


class Look(Thing):
    """Something with a usual answer has been looked at, or must be looked at again."""

    fact: Looked
    seen: bool = False


class TickDead(Thing):
    """One tick of proving dead."""

    stage: Stage
    tick: Tick
    at: datetime = Field(default_factory=now)


class ClearDead(Thing):
    """The ticks of a stage, and of those after it, no longer hold: the breaker was on again."""

    stage: Stage


class AddPhoto(Thing):
    """A picture of the box."""

    photo: str
    caption: Annotated[str, Field(max_length=80)] = ""
    at: datetime = Field(default_factory=now)


class RemovePhoto(Thing):
    """A picture is taken away."""

    photo: str


class TryBreaker(Thing):
    """A breaker was switched off: did the light go out?"""

    circuit: str
    went_out: bool


class SearchAgain(Thing):
    """The search for the breaker begins anew."""


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
}


def tick_dead(box: Box, what: TickDead, sheets: Datasheets) -> Edit:
    """One tick more; within a stage in order, since a tester proven afterwards alone proves nothing."""
    made = {proof.tick for proof in box.survey.proofs if proof.stage == what.stage}
    if what.tick in made:
        raise Rejected(f"expected a tick not made yet; “{_TICKED[what.tick]}” is ticked for {what.stage}", "tick")
    if (missing := TICKS[len(made)]) != what.tick:
        raise Rejected(f"expected “{_TICKED[missing]}” first, then “{_TICKED[what.tick]}”", "tick")
    proofs = (*box.survey.proofs, Proof(stage=what.stage, tick=what.tick, at=what.at))
    return _surveyed(box, f"{what.stage.capitalize()}: {_TICKED[what.tick]}", proofs=proofs)


def clear_dead(box: Box, what: ClearDead, sheets: Datasheets) -> Edit:
    """The ticks of this stage and the later ones taken back."""
    later = STAGES[STAGES.index(what.stage) :]
    rest = tuple(proof for proof in box.survey.proofs if proof.stage not in later)
    return _surveyed(box, f"Must be proven dead again, from {what.stage} on", proofs=rest)


def add_photo(box: Box, what: AddPhoto, sheets: Datasheets) -> Edit:
    """One more picture."""
    if what.photo in {photo.id for photo in box.survey.photos}:
        raise Rejected("expected a picture that is not there yet; this one is", "photo")
    try:
        photo = Photo(id=what.photo, caption=what.caption, at=what.at)
    except ValidationError as wrong:
        raise Rejected(problems_of(wrong)[0].sentence, "photo") from wrong
    if len(box.survey.photos) >= 60:
        raise Rejected("expected at most 60 pictures of a box", "photo")
    return _surveyed(box, f"Picture added{_captioned(photo)}", photos=(*box.survey.photos, photo))


def remove_photo(box: Box, what: RemovePhoto, sheets: Datasheets) -> Edit:
    """The box without this picture; undo brings it back."""
    gone = next((photo for photo in box.survey.photos if photo.id == what.photo), None)
    if gone is None:
        raise Rejected("expected one of the pictures of this box", "photo")
    rest = tuple(photo for photo in box.survey.photos if photo is not gone)
    return _surveyed(box, f"Picture taken away{_captioned(gone)}", photos=rest)


def set_setback(box: Box, what: SetSetback, sheets: Datasheets) -> Edit:
    """How far the box stands back, and in what wall."""
    if what.setback is not None and what.setback.mm > 150:
        raise Rejected("expected a set-back of at most 150 mm (6 in)", "setback")
    back = f"{what.setback} behind the face of the wall" if what.setback is not None else "set-back not measured"
    wall = f", {what.wall} wall" if what.wall else ""
    return _surveyed(box, f"Box {back}{wall}", setback=what.setback, wall=what.wall)


def set_holes(box: Box, what: SetHoles, sheets: Datasheets) -> Edit:
    """The screw holes, and paint and plaster in the box."""
    said = f"Screw holes {what.holes or 'not looked at'}; paint and plaster {what.plaster or 'not looked at'}"
    return _surveyed(box, said, holes=what.holes, plaster=what.plaster)


def set_found(box: Box, what: SetFound, sheets: Datasheets) -> Edit:
    """Whether a neutral is in the box, and whether the wall is filled; what is not said stays."""
    words = {None: "not looked at", True: "yes", False: "no"}
    said = what.model_dump(include=what.model_fields_set)
    names = {"neutral": "Neutral in the box", "insulated": "Insulation in the wall"}
    return _surveyed(box, "; ".join(f"{names[name]}: {words[value]}" for name, value in said.items()), **said)


def look(box: Box, what: Look, sheets: Datasheets) -> Edit:
    """Something noted as looked at, or to be looked at again."""
    rest = tuple(fact for fact in box.survey.looked if fact != what.fact)
    looked = (*rest, what.fact) if what.seen else rest
    return _surveyed(box, f"{_LOOKED[what.fact]} {'looked at' if what.seen else 'to be looked at'}", looked=looked)


def try_breaker(box: Box, what: TryBreaker, sheets: Datasheets) -> Edit:
    """A breaker tried; the one at which the light goes out feeds the box."""
    if what.circuit in {tried.circuit for tried in box.survey.tried}:
        raise Rejected("expected a breaker that has not been tried yet", "circuit")
    tried = (*box.survey.tried, Tried(circuit=what.circuit, went_out=what.went_out))
    if not what.went_out:
        return _surveyed(box, f"Breaker {what.circuit} off: light stays on", tried=tried)
    found: Box = with_(box, circuit=what.circuit)
    return _surveyed(found, f"Breaker {what.circuit} off: light goes out, so it feeds this box", tried=tried)


def search_again(box: Box, what: SearchAgain, sheets: Datasheets) -> Edit:
    """No breaker tried; what feeds the box is not known."""
    return _surveyed(with_(box, circuit=None), "Search for the breaker begun anew", tried=())


def _surveyed(box: Box, sentence: str, **found: Any) -> Edit:
    return Edit(with_(box, survey=with_(box.survey, **found)), sentence)


def _captioned(photo: Photo) -> str:
    return f": {photo.caption}" if photo.caption else ""
