"""What the shop has of parts, and by how many they are sold."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field

from ...documents import Documents, Edited
from ...model.errors import Rejected
from ...model.shelf import PART_KINDS, PartKey, PartKind, Shelf
from ..base import Edit
from .base import edited


def _none_is(default: int) -> BeforeValidator:
    """An empty field means the usual value."""
    return BeforeValidator(lambda value: default if isinstance(value, str) and not value.strip() else value)


class PutOnShelf(Edit):
    """Replace the count of a part on the shelf; an empty count removes the part."""

    kind: PartKind
    of: Annotated[str, Field(min_length=1, max_length=80)]
    on_hand: Annotated[int, _none_is(0), Field(ge=0, le=100_000)] = 0
    pack: Annotated[int, _none_is(1), Field(ge=1, le=10_000)] = 1

    def _edited(self, documents: Documents) -> Edited:
        key = PartKey(self.kind, self.of)
        others = tuple(one for one in documents.head.shelf if one.key != key)
        if self.on_hand == 0 and self.pack == 1:
            if len(others) == len(documents.head.shelf):
                raise Rejected("Enter how many there are, or by how many it is sold", "on_hand")
            return edited(documents, f"Of {self.of}: nothing in the shop", shelf=others)
        new = Shelf.model_validate(self.said())
        shelf = sorted((*others, new), key=lambda one: (PART_KINDS.index(one.kind), one.of))
        packs = f", sold by {self.pack}" if self.pack > 1 else ""
        return edited(documents, f"Of {self.of}: {self.on_hand} in the shop{packs}", shelf=tuple(shelf))
