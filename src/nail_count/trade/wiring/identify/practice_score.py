"""A box told apart with all that is known of it; and how well a practice went against the fewest readings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ...model.box import Box
from ...model.conductor import Role
from ...model.job import Terms
from ..simulate.hidden import Hidden
from ..simulate.meter import measure
from ..simulate.practice import hidden_of, hide, practice_places
from .infer import Inference, infer
from .next_reading import next_reading
from .weights import NOWHERE, FarEnd

MOST = 60
"""No box takes more readings than this."""


@dataclass(frozen=True, slots=True)
class Named:
    """One conductor as the person named it, and as it is."""

    id: str
    said: Role | None
    truth: Role
    left: tuple[Role, ...]
    """What the readings taken leave it."""
    broken: bool
    """Whether it is broken beyond the box."""

    @property
    def right(self) -> bool:
        """Whether the name is right."""
        return self.said == self.truth


@dataclass(frozen=True, slots=True)
class Score:
    """How a practice went."""

    named: tuple[Named, ...]
    readings: int
    """How many the person took."""
    best: int
    """How many the next-reading rule takes on this box, until what can be proven is."""
    proven: int
    """How many conductors the person's readings prove."""

    @property
    def right(self) -> int:
        """How many names are right."""
        return sum(one.right for one in self.named)


def inference_of(box: Box, terms: Terms, year: int | None = None, ends: Mapping[str, FarEnd] = NOWHERE) -> Inference:
    """What can be told of a box, with what its interview says of places, and where its cables go."""
    if box.practice is not None:
        terms = terms.changed(colors=hide(box.practice).colors)
    return infer(box, terms, year, practice_places(box), ends)


def score(box: Box, terms: Terms) -> Score:
    """How well the conductors of a practice box were named, and with how many readings."""
    hidden = hidden_of(box, terms)
    told = inference_of(box, terms)
    left = {one.id: one.possible for one in told.conductors}
    named = [
        Named(id, cable.conductor(number).asserted_role, hidden.truth[id], left[id], hidden.broken == id)
        for cable in box.cables
        for number, id in enumerate(cable.conductor_ids, 1)
    ]
    proven = sum(one.standing == "proven" for one in told.conductors)
    return Score(tuple(named), len(box.readings), readings_needed(box, hidden, terms), proven)


def readings_needed(box: Box, hidden: Hidden, terms: Terms) -> int:
    """How many readings the next-reading rule takes on this hidden box, from nothing."""
    at = box.changed(readings=())
    for taken in range(MOST):
        following = next_reading(inference_of(at, terms))
        if following is None:
            return taken
        reading = measure(hidden, following.reading).changed(id=f"r{taken + 1}")
        at = at.changed(readings=(*at.readings, reading))
    return MOST
