"""Which breaker to switch off next when looking for the one that feeds a box."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

from ..model.box import Box
from ..model.panel import Circuit, in_order

_LIGHTING = re.compile(r"\b(lights?|lamps?|lighting|lts)\b", re.IGNORECASE)
_HEAVY = re.compile(r"\b(range|oven|dryer|heat(er|ing)?|water|furnace|ac|air|pump|charger|washer)\b", re.IGNORECASE)
MOST_FOR_LIGHTS = 20
"""A lighting circuit of a house is on a breaker of 15 or 20 A [A]; common practice."""


@dataclass(frozen=True, slots=True)
class Candidate:
    """A breaker that may feed the box."""

    circuit: Circuit
    why: str
    """Why it stands where it does in the row."""


def next_breakers(box: Box, circuits: Sequence[Circuit]) -> tuple[Candidate, ...]:
    """The breakers not tried yet, the likeliest first; the last of the row are the least likely, not ruled out.

    Labels lie, so they only order the row: every breaker is in it until it has been tried.

    Args:
        box: with the breakers tried so far.
        circuits: the panel's.

    >>> hall = Box(id="b", name="Stair foot", room="Hall")
    >>> panel = [Circuit(id="1", label="Range", breaker=40), Circuit(id="2"), Circuit(id="3", label="Hall lights")]
    >>> [candidate.circuit.id for candidate in next_breakers(hall, panel)]
    ['3', '2', '1']
    """
    tried = {one.circuit for one in box.survey.tried}
    here = {word for word in re.findall(r"[a-z]+", f"{box.room} {box.name}".lower()) if len(word) > 2}
    ranked = []
    for place, circuit in enumerate(in_order(circuits)):
        if circuit.id not in tried:
            rank, why = _rank(circuit, here)
            ranked.append((rank, place, Candidate(circuit, why)))
    return tuple(candidate for _, _, candidate in sorted(ranked, key=lambda one: one[:2]))


def _rank(circuit: Circuit, here: set[str]) -> tuple[int, str]:
    """How likely, from 0, and why."""
    says = f"{circuit.label} {circuit.feeds}"
    named = sorted(here & set(re.findall(r"[a-z]+", says.lower())))
    lights = _LIGHTING.search(says) is not None
    ranks = (
        (circuit.poles == 2, 5, "two poles: hardly a lighting circuit"),
        (circuit.breaker > MOST_FOR_LIGHTS, 4, f"{circuit.breaker} A: hardly a lighting circuit"),
        (bool(named) and lights, 0, f"the panel says lights and “{''.join(named[:1])}”"),
        (bool(named), 1, f"the panel says “{''.join(named[:1])}”"),
        (lights, 2, "the panel says lights"),
        (not says.strip(), 2, "unlabeled, and of a size for lights"),
        (_HEAVY.search(says) is not None, 4, "the panel says something else"),
        (True, 3, "of a size for lights"),
    )
    return next((rank, why) for holds, rank, why in ranks if holds)


def panel_is_unlabelled(circuits: Sequence[Circuit]) -> bool:
    """Whether no label says anything: then the main goes off for work, not a breaker."""
    return not any(circuit.label.strip() for circuit in circuits)
