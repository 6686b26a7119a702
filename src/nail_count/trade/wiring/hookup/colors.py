"""Know the colors of a cable's conductors by region, and which conductors of a run's two ends are one wire.

Source: common practice, and NFPA 70 (NEC) 200.7(C) for a white that is used as hot; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

from ...model.box import Box
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


def as_sold(cable: Cable, code: ColorCode) -> Cable:
    """Return a cable with the colors its kind is sold with, where nobody had looked at them; what was seen stays.

    >>> [wire.color for wire in as_sold(Cable(id="A", gauge=14, insulated=2), "US").conductors]
    ['black', 'white']
    """
    wires = wires_of(cable, code)
    if not not_seen(cable) or not all(wire.color for wire in wires):
        return cable
    numbered = enumerate(wires, 1)
    return cable.changed(conductors=tuple(cable.conductor(n).changed(color=wire.color) for n, wire in numbered))


End = tuple[Box, Cable]
"""A cable in the box it enters."""
Pairs = tuple[tuple[str, str], ...]


def pairs_of(one: End, other: End, code: ColorCode) -> Pairs | None:
    """Which conductors of a run's two ends are one wire; None where that cannot be told.

    What a person matched, joined at one end and found at the other, outranks colors. Source: common practice.

    Args:
        one: the cable at one end.
        other: the same cable at the other.
        code: what the colors of conductors commonly mean here.
    """
    there = [*_matched(one, other), *((far, near) for near, far in _matched(other, one))]
    matched = dict(there)
    if len(matched) < len(set(there)) or len(set(matched.values())) < len(matched):
        return None  # two wires would be one
    here = [wire for wire in wires_of(one[1], code) if wire.id not in matched]
    far = [wire for wire in wires_of(other[1], code) if wire.id not in matched.values()]
    rest = ((here[0].id, far[0].id),) if matched and len(here) == len(far) == 1 else paired(tuple(here), tuple(far))
    return None if rest is None else tuple(sorted((*matched.items(), *rest)))


def _matched(one: End, other: End) -> Iterator[tuple[str, str]]:
    """What the conductors of one end are matched with at the other: porch, B2; or B2 alone."""
    box, cable = other
    for number, near in enumerate(one[1].conductor_ids, 1):
        said = one[1].conductor(number).same_as.strip().casefold()
        for far in cable.conductor_ids:
            names = (far, f"{box.name}, {far}", f"{box.name} {far}", f"{box.id}, {far}", f"{box.id} {far}")
            if said in {name.casefold() for name in names}:
                yield near, far


def paired(one: tuple[Wire, ...], other: tuple[Wire, ...]) -> Pairs | None:
    """Which conductors of a run's two ends are one wire by color; None where their colors do not pair."""
    colors = [wire.color for wire in one], [wire.color for wire in other]
    if (
        None in colors[0]
        or len(set(colors[0])) < len(colors[0])
        or sorted(map(str, colors[0])) != sorted(map(str, colors[1]))
    ):
        return None
    far = {wire.color: wire.id for wire in other}
    return tuple((wire.id, far[wire.color]) for wire in one)
