"""What things cost and what lamps may be put in place of others, as a person entered it; nothing is invented."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from pydantic import Field, field_validator

from .load import LoadKind
from .measure import Number, Power
from .thing import Thing


class Price(Thing):
    """What one of something costs, or an hour of work."""

    what: Annotated[str, Field(min_length=1, max_length=80)]
    """A sheet's id, a box of the stock list, cable by its size, or words of its own."""
    each: Number
    """In the job's money."""

    @field_validator("each")
    @classmethod
    def _not_below_zero(cls, each: Number) -> Number:
        if not 0 <= each <= 1_000_000:
            raise ValueError("Enter a price from 0 to 1000000")
        return each


MoveKind = Literal[
    "order", "device", "lamp", "bypass", "cable out", "clamps outside", "setting", "main to the other end", "one yoke",
    "remote", "module to the outlet", "module behind", "splice moved", "extension", "deeper box", "wider box",
    "new cable", "other place", "split load", "module at the fixture",
]  # fmt: skip
"""What can be done about a box that does not hold."""
MOVE_KINDS: tuple[MoveKind, ...] = get_args(MoveKind)


class MovePrice(Thing):
    """How long a kind of work takes here, in place of the usual time."""

    kind: MoveKind
    minutes: Annotated[int, Field(ge=0, le=10_000)]


class StockConnector(Thing):
    """A connector the shop keeps, and what it takes."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    size: Literal["small", "medium", "large"] = "medium"
    ports: Annotated[int, Field(ge=2, le=12)] | None = None
    """Of one with levers; None: twisted on."""
    most: Annotated[str, Field(max_length=120)] = ""
    """What it takes at most, as its package says."""


class ReplacementLamp(Thing):
    """A lamp that may be put in place of another."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: LoadKind = "led"
    each: Power
    replaces: Power | None = None
    """Of the lamp it replaces, as its package says."""
    dimmable: bool | None = None
