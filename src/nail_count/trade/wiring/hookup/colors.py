"""The colors of a cable's conductors by region, and which of them is the neutral’s.

Source: common practice, and NFPA 70 (NEC) 200.7(C) for a white that is used as hot; from memory of the publication.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from ...model.conductor import Color, Role
from ...model.region import REGIONS, ColorCode
from ...model.wire import Cable


@dataclass(frozen=True, slots=True)
class Wire:
    """One conductor of a cable, as the hook-up takes it."""

    id: str
    """A1."""
    color: Color | None
    """Return the color as seen; where no conductor of the cable was looked at, the color its kind is sold with."""
    neutral: bool
    """Whether it is of the neutral's color, or is entered as the neutral."""
    role: Role | None = None
    """What a person says it is."""


@lru_cache(maxsize=2048)
def wires_of(cable: Cable, code: ColorCode) -> tuple[Wire, ...]:
    """Return the conductors of a cable; where none was looked at, with the colors its kind is sold with.

    >>> [wire.color for wire in wires_of(Cable(id="A", gauge=14, insulated=3), "US")]
    ['black', 'red', 'white']
    """
    seen = [cable.conductor(number) for number in range(1, cable.insulated + 1)]
    region = REGIONS[code]
    usual = region.in_cables.get(cable.insulated, ())
    unseen = all(one.color is None for one in seen)
    made = []
    for number, (id, one) in enumerate(zip(cable.conductor_ids, seen, strict=True)):
        color = usual[number] if unseen and number < len(usual) else one.color
        if one.asserted_role is not None:
            neutral = one.asserted_role == "neutral"
        else:
            neutral = region.means(color) == {"neutral"}
        made.append(Wire(id, color, neutral, one.asserted_role))
    return tuple(made)


def outward(cable: Cable, code: ColorCode) -> tuple[Wire, ...]:
    """Return the conductors of a cable to no known box, those joined there first: line, switched.

    >>> roles = [{"asserted_role": "unused"}, {"asserted_role": "line"}, {"asserted_role": "neutral"}]
    >>> feed = Cable.model_validate({"id": "A", "gauge": 14, "insulated": 3, "conductors": roles})
    >>> [wire.id for wire in outward(feed, "US")]
    ['A2', 'A3', 'A1']
    """
    return tuple(sorted(wires_of(cable, code), key=lambda wire: _JOINED_THERE.index(wire.role)))


_JOINED_THERE: tuple[Role | None, ...] = ("line", "switched", "onward", None, "traveler", "neutral", "unused")
"""Roles in the order in which the hot of what lies at the far end takes them; the others stay as they lie."""


def not_seen(cable: Cable) -> bool:
    """Whether the color of some conductor of a cable was not looked at."""
    return any(cable.conductor(number).color is None for number in range(1, cable.insulated + 1))
