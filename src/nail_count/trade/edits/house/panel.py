"""Breakers come in, are put right and go out; the panel itself."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ...model.errors import Rejected
from ...model.job import JobHead
from ...model.panel import Circuit, Panel, in_order, misplaced
from ...model.thing import Thing
from ..fields import Maybe, in_amps
from .base import BoxIndex, HouseEdit, checked, edited


class PutCircuit(Thing):
    """A breaker as found and as corrected; `was` says which one it was before."""

    id: Annotated[str, Field(min_length=1, max_length=20)]
    was: Annotated[str | None, Maybe] = None
    breaker: Annotated[int, BeforeValidator(in_amps), Field(ge=1, le=200)] = 15
    label: Annotated[str, Field(max_length=80)] = ""
    feeds: Annotated[str, Field(max_length=120)] = ""
    space: Annotated[Annotated[int, Field(ge=1, le=84)] | None, Maybe] = None
    poles: int = 1
    half: Literal["", "a", "b"] = ""
    neutral_with: Annotated[str | None, Maybe] = None


class RemoveCircuit(Thing):
    """A breaker that is not there."""

    id: str


class SetPanel(Thing):
    """How many spaces the panel has, and its main."""

    spaces: Annotated[int, Field(ge=2, le=84)] = 24
    main: Annotated[Annotated[int, Field(ge=15, le=600)] | None, BeforeValidator(in_amps), Maybe] = None


def put_circuit(head: JobHead, what: PutCircuit, index: BoxIndex) -> HouseEdit:
    """A breaker entered, or put right."""
    was = what.was or what.id
    known = {circuit.id for circuit in head.circuits}
    if what.was and what.was not in known:
        raise Rejected(f"expected one of the circuits; there is no {what.was} any more", "id")
    if was != what.id:
        if what.id in known:
            raise Rejected(f"expected a number of its own; there is a circuit {what.id} already", "id")
        _free_of_boxes(was, index)
    circuit = checked(Circuit, what.model_dump(exclude={"was"}), "id")
    others = [_renumbered(one, was, what.id) for one in head.circuits if one.id != was]
    circuits = in_order((*others, circuit))
    if wrong := misplaced(head.panel, circuits):
        raise Rejected(f"expected it to fit into the panel; {wrong}", "space")
    done = "put right" if was in known else "entered"
    return edited(head, f"Circuit {circuit.id} {done}: {circuit.breaker} A{_says(circuit)}", circuits=circuits)


def remove_circuit(head: JobHead, what: RemoveCircuit, index: BoxIndex) -> HouseEdit:
    """The panel without this breaker."""
    if what.id not in {circuit.id for circuit in head.circuits}:
        raise Rejected("expected one of the circuits", "id")
    _free_of_boxes(what.id, index)
    rest = tuple(_renumbered(circuit, what.id, None) for circuit in head.circuits if circuit.id != what.id)
    return edited(head, f"Circuit {what.id} taken out of the panel", circuits=rest)


def set_panel(head: JobHead, what: SetPanel, index: BoxIndex) -> HouseEdit:
    """The panel's size and main."""
    panel = checked(Panel, what.model_dump(), "spaces")
    if wrong := misplaced(panel, head.circuits):
        raise Rejected(f"expected room for every breaker; {wrong}", "spaces")
    main = f", main {panel.main} A" if panel.main else ""
    return edited(head, f"Panel with {panel.spaces} spaces{main}", panel=panel)


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
