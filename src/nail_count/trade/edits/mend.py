"""What does not fit its job is left out of a box."""

from __future__ import annotations

from collections.abc import Collection

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.errors import Rejected
from ..rules.fit.box import fit, mends
from .base import BoxEdit, BoxEdited, Datasheets


class Mend(BoxEdit):
    """A box without what does not fit its job."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without what does not fit these sheets; whether its circuits are there is not judged."""
        return _mended(box, sheets, None, None)

    def _edited(self, documents: Documents) -> Edited:
        head = documents.head
        known = head.circuit_ids, frozenset(head.order or ())
        edited = _mended(documents.box(self.box), documents.sheets, *known)
        return Edited(documents.with_box(edited.box), edited.sentence)


def _mended(box: Box, sheets: Datasheets, circuits: Collection[str] | None, boxes: Collection[str] | None) -> BoxEdited:
    found = fit(box, sheets, circuits, boxes)
    if not found.misfits:
        raise Rejected("Everything fits: there is nothing to mend")
    return BoxEdited(found.box, f"Mended: {mends(found.misfits)}")
