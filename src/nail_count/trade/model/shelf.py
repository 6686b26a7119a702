"""Parts by what they are, and what a shop has of each."""

from __future__ import annotations

from typing import Annotated, Literal, NamedTuple, Self, get_args

from pydantic import Field, model_validator

from .thing import Thing

PartKind = Literal[
    "device", "module", "blank", "plate", "box", "ring", "fan box", "connector", "pigtail", "sleeve", "cable", "staple",
    "nail plate", "bypass", "lamp", "hub", "battery",
]  # fmt: skip
"""What a part is, in the order of a list."""
PART_KINDS: tuple[PartKind, ...] = get_args(PartKind)


class PartKey(NamedTuple):
    """Which part: two that are the same stand on one line."""

    kind: PartKind
    of: str
    """Which of its kind: a sheet's id, a box of the stock list, a cable by its size, words."""


class Shelf(Thing):
    """What the shop has of a part, leftovers from earlier places, and how it is sold."""

    kind: PartKind
    of: Annotated[str, Field(min_length=1, max_length=80)]
    on_hand: Annotated[int, Field(ge=0, le=100_000)] = 0
    """In the shop or the van; of cable in feet, or in metres where it is sized in mm²."""
    pack: Annotated[int, Field(ge=1, le=10_000)] = 1
    """By how many it is sold: a bag, a coil."""

    @property
    def key(self) -> PartKey:
        """Which part."""
        return PartKey(self.kind, self.of)

    @model_validator(mode="after")
    def _says_something(self) -> Self:
        if self.on_hand == 0 and self.pack == 1:
            raise ValueError("Enter how many there are, or by how many it is sold")
        return self
