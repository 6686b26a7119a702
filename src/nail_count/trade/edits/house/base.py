"""What edits of a house are made with."""

from __future__ import annotations

from ..documents import Documents, Edited


def edited(documents: Documents, sentence: str, **changes: object) -> Edited:
    """The documents with these fields of the head changed."""
    return Edited(documents.with_head(documents.head.changed(**changes)), sentence)
