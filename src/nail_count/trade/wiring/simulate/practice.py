"""Practice: a hidden box by its level and seed, and what the interview says of it."""

from __future__ import annotations

from ...model.box import Box
from ...model.job import Terms
from ...model.practice import Practice
from .hidden import ARRANGEMENTS, Hidden, Often, make_hidden

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
        raise ValueError("Only boxes to practice on have this")
    return hide(box.practice, terms.voltage)


def hide(practice: Practice, voltage: int = 120) -> Hidden:
    """The hidden box a practice is about."""
    broken = 0.7 if practice.broken else 0.0
    return make_hidden(practice.arrangement, practice.seed, voltage, Often(broken=broken))


def practice_places(box: Box) -> int | None:
    """From how many places a box is controlled, as the interview or the practice says; None: not known."""
    if box.practice is not None:
        return None if box.practice.arrangement.startswith(("three-way", "four-way")) else 1
    asked = [wish.places for wish in box.wishes if wish.places is not None]
    return 1 if asked and len(asked) == len(box.wishes) and max(asked) == 1 else None
