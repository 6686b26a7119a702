"""The shop's stock list."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...model.errors import Rejected
from ...model.job import JobHead
from ...model.stock import StockBox
from ...model.thing import Thing
from ..fields import InCubicInches, InInches
from .base import BoxIndex, HouseEdit, checked, edited


class PutStock(Thing):
    """A box of the stock list, in place of the one of its name where there is one."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches
    depth: InInches = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False


class RemoveStock(Thing):
    """A box the shop no longer keeps."""

    name: str


def put_stock(head: JobHead, what: PutStock, index: BoxIndex) -> HouseEdit:
    """A box of the stock list entered, or put right."""
    if what.volume is None:
        raise Rejected("expected the volume marked in it, such as 20.3 in3", "volume")
    new = checked(StockBox, what.model_dump(), "name")
    others = [one for one in head.stock if one.name != new.name]
    stock = tuple(sorted((*others, new), key=lambda one: (one.gangs, one.volume.in3, one.name)))
    return edited(head, f"In stock: {new.name}, {new.volume}", stock=stock)


def remove_stock(head: JobHead, what: RemoveStock, index: BoxIndex) -> HouseEdit:
    """The stock list without a box."""
    rest = tuple(one for one in head.stock if one.name != what.name)
    if len(rest) == len(head.stock):
        raise Rejected("expected one of the boxes in stock", "name")
    return edited(head, f"No longer in stock: {what.name}", stock=rest)
