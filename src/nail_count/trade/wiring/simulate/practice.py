"""Practice: a hidden box, a meter, names for the wires; how many readings it took against how many it takes."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.box import Box
from ...model.conductor import Role
from ...model.job import Terms
from ...model.practice import Practice
from ..identify.infer import Inference, infer
from ..identify.next_reading import next_reading
from .hidden import ARRANGEMENTS, Hidden, make_hidden
from .meter import measure

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


LEVELS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("One place", ("feed at the switch", "switch loop", "loop with neutral", "feed at the switch, and onward")),
    (
        "One place, odd cables",
        ("fan and light apart", "feed, and a cable not in use", "loop-in at the ceiling", "single wires, one live bus"),
    ),
    (
        "Two places",
        (
            "three-way, feed here and lamp at the other place",
            "three-way, lamp here and feed at the other place",
            "three-way, feed and lamp here",
        ),
    ),
    (
        "Two places or three, the far end",
        (
            "three-way, feed and lamp at the other place",
            "three-way through the lamp, hot down",
            "four-way, between two switches",
        ),
    ),
    ("Two supplies", ("two circuits in one box", "multiwire circuit")),
    ("Anything, and something may be broken", tuple(ARRANGEMENTS)),
)
"""From plain to odd: the name of each level, and what may lie behind it."""


def hidden_of(box: Box, terms: Terms) -> Hidden:
    """The hidden box behind a box to practice on. Raises ValueError where it is none."""
    if box.practice is None or box.practice.arrangement not in ARRANGEMENTS:
        raise ValueError("expected a box to practice on")
    return hide(box.practice, terms.voltage)


def hide(practice: Practice, voltage: int = 120) -> Hidden:
    """The hidden box a practice is about."""
    broken = 0.7 if practice.broken else 0.0
    return make_hidden(practice.arrangement, practice.seed, voltage, broken=broken)


def practice_places(box: Box) -> int | None:
    """From how many places a box is controlled, as the interview or the practice says; None: not known."""
    if box.practice is not None:
        return None if box.practice.arrangement.startswith(("three-way", "four-way")) else 1
    asked = [wish.places for wish in box.wishes if wish.places is not None]
    return 1 if asked and len(asked) == len(box.wishes) and max(asked) == 1 else None


def inference_of(box: Box, terms: Terms, year: int | None = None) -> Inference:
    """What can be told of a box, with what its interview says of places."""
    if box.practice is not None:
        terms = terms.model_copy(update={"colors": hide(box.practice).colors})
    return infer(box, terms, year, practice_places(box))


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
    at = box.model_copy(update={"readings": ()})
    for taken in range(MOST):
        following = next_reading(inference_of(at, terms))
        if following is None:
            return taken
        reading = measure(hidden, following.reading).model_copy(update={"id": f"r{taken + 1}"})
        at = at.model_copy(update={"readings": (*at.readings, reading)})
    return MOST
