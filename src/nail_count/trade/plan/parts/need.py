"""A need: so many of a part, for one box, and why."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.answer import Rule
from ...model.figure import IN_PRACTICE
from ...model.shelf import PART_KINDS, PartKey


@dataclass(frozen=True, slots=True)
class Need:
    """So many of a part, for one box."""

    part: PartKey
    name: str
    """As a list says it."""
    count: int | None
    """How many; of cable in feet, or in metres where it is sized in mm². None: not known."""
    box: str
    """Its key; "" for the house."""
    why: str
    rule: Rule = IN_PRACTICE
    """What says so."""
    unit: str = ""
    """"" for pieces."""
    remark: str = ""
    """What has to be looked at, or asked."""


@dataclass(frozen=True, slots=True)
class Freed:
    """A device or a module that comes out of a box."""

    part: PartKey
    name: str
    count: int
    box: str


def in_order(part: PartKey) -> tuple[int, str]:
    """Where a part stands in a list."""
    return PART_KINDS.index(part.kind), part.of
