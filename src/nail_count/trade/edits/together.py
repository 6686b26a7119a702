"""Several acts as one: done whole or not at all, and taken back in one step."""

from __future__ import annotations

from ..documents import Documents, Edited
from .base import Edit


class Together(Edit):
    """Acts one after the other, as one change."""

    edits: tuple[Edit, ...]
    sentence: str
    """The act in one sentence."""

    def _edited(self, documents: Documents) -> Edited:
        for edit in self.edits:
            documents = edit.apply(documents).documents
        return Edited(documents, self.sentence)
