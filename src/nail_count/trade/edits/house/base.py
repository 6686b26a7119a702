"""What edits of a house are made with: their shape, what they must know of the boxes, careful validation."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ...model.errors import Rejected, problems_of
from ...model.job import JobHead


@dataclass(frozen=True, slots=True)
class HouseEdit:
    """A house after a change, and the change in one sentence."""

    head: JobHead
    sentence: str


@dataclass(frozen=True, slots=True)
class BoxIndex:
    """What an edit must know of the boxes: their names, and what feeds them."""

    rooms: Mapping[str, str]
    """The room of each box, by its key."""
    names: Mapping[str, str]
    circuits: Mapping[str, tuple[str, ...]]
    """Every circuit that feeds it, or may."""


def edited(head: JobHead, sentence: str, **changes: object) -> HouseEdit:
    """The house with these fields changed."""
    changes.setdefault("moved", None)
    return HouseEdit(head.model_copy(update=changes), sentence)


def checked(kind: type[Any], said: Mapping[str, object], field: str) -> Any:
    """A thing of this kind, or its first problem as a rejection, at `field` where it names none."""
    try:
        return kind.model_validate(said)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        raise Rejected(first.sentence, str(first.path[0]) if first.path else field) from wrong
