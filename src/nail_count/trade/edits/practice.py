"""Edits on a box to practice on, which the program has wired and hidden."""

from __future__ import annotations

from ..documents import Documents, Edited
from ..model.box import Box
from ..model.errors import Rejected
from ..wiring.simulate.meter import measure
from ..wiring.simulate.practice import hidden_of
from .base import BoxEdit, BoxEdited, Datasheets
from .conductors import TakeReading


class MeasureHere(TakeReading):
    """A reading with the simulated meter."""

    def _edited(self, documents: Documents) -> Edited:
        box, terms = documents.box(self.box), documents.head.terms
        if box.practice is None:
            raise Rejected("On a real box the meter is yours; only practice boxes are measured here", "of")
        blank = {"yes": True} if self.kind != "volts" else {"volts": 0}
        asked = self.changed(**blank).change(box, documents.sheets).box.readings[-1]
        shown = measure(hidden_of(box, terms), asked)
        said = self.changed(
            yes=shown.yes,
            ohms=None if shown.ohms is None else str(float(shown.ohms)),
            volts=None if shown.volts is None else str(float(shown.volts)),
            lamps=shown.lamps,
            others=shown.others,
        )
        edited = said.change(box, documents.sheets)
        return Edited(documents.with_box(edited.box), edited.sentence)


class Reveal(BoxEdit):
    """What really lies behind the box is looked at."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with its back marked as looked at."""
        if box.practice is None:
            raise Rejected("Only boxes to practice on have this")
        return BoxEdited(box.changed(practice=box.practice.changed(shown=True)), "Looked behind it")
