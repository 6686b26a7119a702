"""The spaces of a box: one, or as many as fixed barriers make of it, each counted apart."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.splice import ConductorEnd, Splice


@dataclass(frozen=True, slots=True)
class Space:
    """One space of a box."""

    number: int
    """From the left, from 1."""
    of: int
    """How many the box has."""
    first: int
    """Its leftmost gang."""
    last: int
    box: Box
    """The box with the contents of this space only."""

    @property
    def gangs(self) -> int:
        """How many gangs it has."""
        return self.last - self.first + 1


def spaces(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Space, ...]:
    """The spaces of a box, from the left. A device belongs to the space its leftmost gang is in.

    >>> split = Box(id="b", name="B", room="R", planned={"enclosure": {"gangs": 3, "barriers": [{"after": 1}]}})
    >>> [(space.first, space.last) for space in spaces(split, {})]
    [(1, 1), (2, 3)]
    """
    ends = [*sorted(barrier.after for barrier in box.enclosure.barriers), box.enclosure.gangs]
    if len(ends) == 1:
        return (Space(1, 1, 1, ends[0], box),)
    made, first = [], 1
    for number, last in enumerate(ends, 1):
        here = box.changed(
            cables=tuple(cable for cable in box.entering if cable.space == number),
            devices=tuple(device for device in box.devices if first <= device.gang <= last),
            modules=tuple(module for module in box.modules if module.space == number),
            splices=tuple(splice for splice in box.splices if space_of_splice(box, splice) == number),
            terminal_blocks=tuple(block for block in box.terminal_blocks if block.space == number),
        )
        made.append(Space(number, len(ends), first, last, here))
        first = last + 1
    return tuple(made)


def space_of_splice(box: Box, splice: Splice) -> int:
    """Which space a splice is in: that of the first of its wires, else where it was entered."""
    wires = (end.of for end in splice.ends if isinstance(end, ConductorEnd))
    cables = (box.cable(of.rstrip("0123456789")) for of in wires)
    return next((cable.space for cable in cables if cable is not None), splice.space)


def space_of_gang(box: Box, gang: int) -> int:
    """Which space a gang is in, from 1."""
    return 1 + sum(barrier.after < gang for barrier in box.enclosure.barriers)
