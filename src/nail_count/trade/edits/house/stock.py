"""The shop's stock list."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ...documents import Documents, Edited
from ...model.errors import Rejected
from ...model.stock import StockBox, StockKind
from ..base import Edit
from ..fields import InCubicInches, InInches, Maybe
from .base import edited, without


class PutStock(Edit):
    """A box of the stock list, in place of the one of its name where there is one."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches
    depth: InInches = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False
    kind: Annotated[StockKind | None, Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        """A box of the stock list entered, or put right."""
        head = documents.head
        if self.volume is None:
            raise Rejected("Enter the volume marked in it, such as 20.3 in3", "volume")
        new = StockBox.model_validate(self.said())
        others = [one for one in head.stock if one.name != new.name]
        stock = tuple(sorted((*others, new), key=lambda one: (one.gangs, one.volume.in3, one.name)))
        return edited(documents, f"In stock: {new.name}, {new.volume}", stock=stock)


class RemoveStock(Edit):
    """A box the shop no longer keeps."""

    name: str

    def _edited(self, documents: Documents) -> Edited:
        """The stock list without a box."""
        gone = Rejected("Pick one of the boxes in stock", "name")
        rest = without(documents.head.stock, lambda one: one.name == self.name, gone)
        return edited(documents, f"No longer in stock: {self.name}", stock=rest)
