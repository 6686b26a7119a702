"""Conductors in their box from the front: each by color, pattern and letter, with what it is taken for."""

from __future__ import annotations

from dataclasses import dataclass

from ..trade.model.box import Box
from ..trade.model.conductor import Conductor
from ..trade.wiring.identify.infer import ConductorFinding, Inference

STEP = 15.0
"""From one conductor to the next [mm on the drawing]."""
GAP = 14.0
"""Between cables."""
TALL = 88.9
"""A usual box inside, height [mm]: 3 1/2 in; common practice."""
LETTERS = {"line": "L", "neutral": "N", "switched": "S", "traveler": "T", "onward": "O", "unused": "U"}


@dataclass(frozen=True, slots=True)
class Strand:
    """One conductor."""

    id: str
    x: float
    """[mm]."""
    end: float
    """Where it ends, from the top of the box [mm]."""
    seen: Conductor
    told: ConductorFinding
    letter: str
    """What it is taken for; "?" while that is open."""


@dataclass(frozen=True, slots=True)
class Sheath:
    """One cable where it comes in."""

    letter: str
    size: str
    x: float
    width: float


@dataclass(frozen=True, slots=True)
class Wires:
    """Where everything lies."""

    width: float
    height: float
    strands: tuple[Strand, ...]
    sheaths: tuple[Sheath, ...]
    facts: str
    """The same as a text."""


def wires(box: Box, worked: Inference) -> Wires:
    """Where every conductor lies, cable by cable from the left."""
    told = {one.id: one for one in worked.conductors}
    strands: list[Strand] = []
    sheaths = []
    x, facts = GAP, []
    for cable in box.cables:
        if not cable.insulated:
            continue
        width = STEP * cable.insulated
        sheaths.append(Sheath(cable.id, cable.size, x, width))
        for number, id in enumerate(cable.conductor_ids, 1):
            one, seen = told[id], cable.conductor(number)
            sure = one.best is not None and one.standing != "open"
            letter = LETTERS[one.best] if sure and one.best else "!" if one.standing == "clash" else "?"
            strands.append(Strand(id, x + STEP * (number - 0.5), 48.0 + 9.0 * (number % 2), seen, one, letter))
            looks = "sprayed over" if seen.sprayed else seen.color or "color not looked at"
            facts.append(f"{id}, {looks}: {one.says}{f', {one.best}' if one.best else ''}.")
        x += width + GAP
    return Wires(max(x, 60.0), TALL, tuple(strands), tuple(sheaths), " ".join(facts) or "No conductor in it.")
