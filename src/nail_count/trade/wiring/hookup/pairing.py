"""Which conductors of a run's two ends are one wire: by a match that was read, else by color."""

from __future__ import annotations

from collections.abc import Iterator

from ...model.box import Box
from ...model.region import ColorCode
from ...model.wire import Cable
from .colors import Wire, wires_of

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
