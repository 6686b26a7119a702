"""Breakers come in, are put right and go out; the panel itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ...documents import DocumentId, Documents, Edited
from ...model.errors import Rejected
from ...model.panel import BreakerKind, Circuit, Panel, Serves, Supply, in_order, misplaced
from ...model.run import CircuitEnd
from ..base import Edit
from ..fields import Maybe, in_amps
from .base import edited


class PutCircuit(Edit):
    """A breaker as found and as corrected; `was` says which one it was before."""

    id: Annotated[str, Field(min_length=1, max_length=20)]
    was: Annotated[str | None, Maybe] = None
    breaker: Annotated[int, BeforeValidator(in_amps), Field(ge=1, le=200)] = 15
    label: Annotated[str, Field(max_length=80)] = ""
    feeds: Annotated[str, Field(max_length=120)] = ""
    space: Annotated[Annotated[int, Field(ge=1, le=84)] | None, Maybe] = None
    poles: int = 1
    serves: Annotated[Serves | None, Maybe] = None
    tied: Annotated[bool | None, Maybe] = None
    kind: Annotated[BreakerKind | None, Maybe] = None
    half: Literal["", "a", "b"] = ""
    neutral_with: Annotated[str | None, Maybe] = None
    supply: Supply = "mains"

    def _edited(self, documents: Documents) -> Edited:
        """A breaker entered, or put right."""
        head = documents.head
        was = self.was or self.id
        known = {circuit.id for circuit in head.circuits}
        if self.was and self.was not in known:
            raise Rejected(f"Circuit {self.was} isn't there any more", "id")
        if was != self.id:
            if self.id in known:
                raise Rejected(f"Pick another number; there is a circuit {self.id} already", "id")
            _free_of_boxes(was, documents)
        circuit = Circuit.model_validate(self.said("was"))
        others = [_renumbered(one, was, self.id) for one in head.circuits if one.id != was]
        circuits = in_order((*others, circuit))
        if wrong := misplaced(head.panel, circuits):
            raise Rejected(f"It doesn't fit into the panel: {wrong}", "space")
        done = "put right" if was in known else "entered"
        if was != self.id:
            documents = _runs_follow(documents, was, self.id)
        day = head.day.renumbered(was, self.id)
        sentence = f"Circuit {circuit.id} {done}: {circuit.breaker} A{_says(circuit)}"
        return edited(documents, sentence, circuits=circuits, day=day)


class RemoveCircuit(Edit):
    """A breaker that is not there."""

    id: str

    def _edited(self, documents: Documents) -> Edited:
        """The panel without this breaker."""
        head = documents.head
        if self.id not in {circuit.id for circuit in head.circuits}:
            raise Rejected("Pick one of the circuits", "id")
        _free_of_boxes(self.id, documents)
        rest = tuple(_renumbered(circuit, self.id, None) for circuit in head.circuits if circuit.id != self.id)
        documents = _runs_follow(documents, self.id, None)
        day = head.day.renumbered(self.id, None)
        return edited(documents, f"Circuit {self.id} removed from the panel", circuits=rest, day=day)


class SetPanel(Edit):
    """How many spaces the panel has, and its main."""

    spaces: Annotated[int, Field(ge=2, le=84)] = 24
    main: Annotated[Annotated[int, Field(ge=15, le=600)] | None, BeforeValidator(in_amps), Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        """The panel's size and main."""
        head = documents.head
        panel = Panel.model_validate(self.said())
        if wrong := misplaced(panel, head.circuits):
            raise Rejected(f"Not every breaker has room: {wrong}", "spaces")
        main = f", main {panel.main} A" if panel.main else ""
        return edited(documents, f"Panel with {panel.spaces} spaces{main}", panel=panel)


def _renumbered(circuit: Circuit, was: str, new: str | None) -> Circuit:
    """A circuit that keeps to its neighbor under its new number, or alone where the neighbor is gone."""
    if circuit.neutral_with != was:
        return circuit
    return circuit.changed(neutral_with=new)


def _runs_follow(documents: Documents, was: str, new: str | None) -> Documents:
    """The documents with every run that ends at a circuit ending at it under its new number, or at none known."""
    gone, there = CircuitEnd(circuit=was), CircuitEnd(circuit=new)
    for run in documents.runs():
        if gone in (run.one, run.other):
            one, other = (there if end == gone else end for end in (run.one, run.other))
            documents = documents.with_thing(DocumentId("run", run.id), run.changed(one=one, other=other))
    return documents


def _free_of_boxes(id: str, documents: Documents) -> None:
    hanging = [line.name for line in documents.lines().values() if id in line.circuits]
    if hanging:
        named = ", ".join(f"“{name}”" for name in hanging[:3])
        raise Rejected(f"Put {named} on another circuit than {id} first", "id")


def _says(circuit: Circuit) -> str:
    said = f", “{circuit.label}”" if circuit.label else ", not labeled"
    return f"{said}, feeds {circuit.feeds}" if circuit.feeds else said
