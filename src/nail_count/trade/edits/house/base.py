"""What edits of a house are made with."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from ...documents import Documents, Edited
from ...model.errors import Rejected

T = TypeVar("T")


def edited(documents: Documents, sentence: str, **changes: object) -> Edited:
    """The documents with these fields of the head changed."""
    return Edited(documents.with_head(documents.head.changed(**changes)), sentence)


def without(items: tuple[T, ...], is_it: Callable[[T], bool], refusal: Rejected) -> tuple[T, ...]:
    """The items without the one that is meant. Raises the refusal where none is."""
    rest = tuple(one for one in items if not is_it(one))
    if len(rest) == len(items):
        raise refusal
    return rest
