"""What a person says of the loads of a box; each model is one edit."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..model.load import LoadKind
from ..model.measure import Number, Power
from ..model.thing import Thing
from .changes import Maybe, now


def _watts(value: object) -> object:
    """A bare number is meant in watts; an empty field says nothing."""
    return (Power.parse(value, "W") if value.strip() else None) if isinstance(value, str) else value


class LoadFacts(Thing):
    """What is known of a group of lamps, of a fan or anything else."""

    kind: LoadKind
    each: str
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    power_factor: Annotated[Number | None, Maybe] = None
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    name: Annotated[str, Field(max_length=60)] = ""
    actual: bool = False
    dimmable: Annotated[bool | None, Maybe] = None
    loss: Annotated[Power | None, BeforeValidator(_watts)] = None
    fewest: Annotated[Annotated[int, Field(ge=1, le=500)] | None, Maybe] = None
    continuous: Annotated[bool | None, Maybe] = None
    lights: Literal["", "required light", "stairs"] = ""


class AddLoad(LoadFacts):
    """Lamps, a fan or anything else go onto a device, or a module loose in the box."""

    device: str


class ChangeLoad(LoadFacts):
    """What is known of a load is put right."""

    load: str


class DrawsThat(Thing):
    """An LED lamp of many watts really draws them."""

    load: str


class MeasureLoad(Thing):
    """What a meter read of a group of loads; nothing: the sum counts again."""

    load: str
    power: Annotated[Power | None, BeforeValidator(_watts)] = None
    at: datetime = Field(default_factory=now)


class ReadRelay(Thing):
    """A relay that measures reports what passes through it."""

    device: str
    at: datetime = Field(default_factory=now)


class RemoveLoad(Thing):
    """Lamps or a fan come off."""

    load: str
