"""What things cost, which connectors are kept, which lamps may stand in for others."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ...documents import Documents, Edited
from ...model.errors import Rejected
from ...model.load import LoadKind
from ...model.measure import Number, Power
from ...model.prices import MOVE_KINDS, MoveKind, MovePrice, Price, ReplacementLamp, StockConnector
from ..base import Edit
from ..fields import Maybe, in_watts
from .base import edited, without


class PutPrice(Edit):
    """What one of something costs, in place of the old price."""

    what: Annotated[str, Field(min_length=1, max_length=80)]
    each: Number

    def _edited(self, documents: Documents) -> Edited:
        price = Price.model_validate(self.said())
        others = [one for one in documents.head.prices if one.what != price.what]
        prices = tuple(sorted((*others, price), key=lambda one: one.what))
        return edited(documents, f"{price.what} costs {float(self.each):.2f}", prices=prices)


class RemovePrice(Edit):
    """Its price is forgotten."""

    what: str

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick something with a price", "what")
        rest = without(documents.head.prices, lambda one: one.what == self.what, gone)
        return edited(documents, f"What {self.what} costs: not known", prices=rest)


class PutMovePrice(Edit):
    """How long a kind of work takes here, in place of the usual time."""

    kind: MoveKind
    minutes: Annotated[int, Field(ge=0, le=10_000)]

    def _edited(self, documents: Documents) -> Edited:
        price = MovePrice.model_validate(self.said())
        others = [one for one in documents.head.moves if one.kind != price.kind]
        moves = tuple(sorted((*others, price), key=lambda one: MOVE_KINDS.index(one.kind)))
        return edited(documents, f"{price.kind.capitalize()} takes {price.minutes} min here", moves=moves)


class RemoveMovePrice(Edit):
    """A kind of work takes as long as is usual again."""

    kind: MoveKind

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick a kind of work with a time of its own", "kind")
        rest = without(documents.head.moves, lambda one: one.kind == self.kind, gone)
        return edited(documents, f"{self.kind.capitalize()}: as long as is usual", moves=rest)


class PutConnector(Edit):
    """A connector that is kept, in place of the one of its name where there is one."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    size: Literal["small", "medium", "large"] = "medium"
    ports: Annotated[Annotated[int, Field(ge=2, le=12)] | None, Maybe] = None
    most: Annotated[str, Field(max_length=120)] = ""

    def _edited(self, documents: Documents) -> Edited:
        new = StockConnector.model_validate(self.said())
        others = tuple(one for one in documents.head.connectors if one.name != new.name)
        return edited(documents, f"Connector kept: {new.name}, {new.size}", connectors=(*others, new))


class RemoveConnector(Edit):
    """A connector that is no longer kept."""

    name: str

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick one of the connectors kept", "name")
        rest = without(documents.head.connectors, lambda one: one.name == self.name, gone)
        return edited(documents, f"Connector no longer kept: {self.name}", connectors=rest)


class PutLamp(Edit):
    """A lamp that may be put in place of others."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    kind: LoadKind = "led"
    each: Annotated[Power, BeforeValidator(in_watts)]
    replaces: Annotated[Power | None, BeforeValidator(in_watts)] = None
    dimmable: Annotated[bool | None, Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        new = ReplacementLamp.model_validate(self.said())
        others = tuple(one for one in documents.head.lamps if one.name != new.name)
        return edited(documents, f"Replacement lamp: {new.name}, {new.each}", lamps=(*others, new))


class RemoveLamp(Edit):
    """A lamp that is not used any more."""

    name: str

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick one of the replacement lamps", "name")
        rest = without(documents.head.lamps, lambda one: one.name == self.name, gone)
        return edited(documents, f"Replacement lamp no longer used: {self.name}", lamps=rest)
