"""A box as a line of quick entry describes it: an edit of a box, and the start of one."""

from __future__ import annotations

from ..documents import Documents, Edited
from ..edits.base import BoxEdit, BoxEdited, Datasheets
from ..edits.box_parts import pruned
from ..edits.house.boxes import StartBox
from ..edits.runs import said_to_go, without_runs
from ..model.box import Box
from ..model.errors import Rejected
from ..model.panel import Circuit
from ..model.run import end_in_words
from .merge import carried
from .other_end import to_named_boxes
from .parse import Reading, read_line


class EnterLine(BoxEdit):
    """The box as a line describes it."""

    line: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """What a line says in place of what was there; what it cannot say stays where the thing it is about does."""
        _, edited = self._entered(box, sheets)
        return edited

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        reading, edited = self._entered(box, documents.sheets)
        entered = without_runs(documents, self.box).with_box(edited.box)
        for letter, words in reading.goes.items():
            entered = said_to_go(entered, edited.box, letter, end_in_words(words, edited.box.circuit))
        circuit, head = edited.box.circuit, entered.head
        if circuit is not None and circuit != box.circuit and circuit not in head.circuit_ids:
            if head.circuits:
                raise Rejected(f"Breaker {circuit} isn't in the panel of this job. Add it there first", "line")
            entered = entered.with_head(head.changed(circuits=(Circuit(id=circuit),)))
        return Edited(to_named_boxes(entered, self.box), edited.sentence)

    def _entered(self, box: Box, sheets: Datasheets) -> tuple[Reading, BoxEdited]:
        if box.enclosure.barriers:
            raise Rejected("Take the barrier out first: a line can't tell which devices are behind it", "line")
        reading = read_line(self.line, box, sheets)
        if not reading.words:
            raise Rejected("Type a box in a line, such as 18 cu in, two 14/2, switch", "line")
        if reading.box is None:
            wrong = reading.problems[0]
            raise Rejected(f"At “{wrong.text}”: enter {wrong.expected}", "line")
        new = pruned(carried(box, reading.box))
        return reading, BoxEdited(new, f"Entered as a line: {self.line.strip()[:200]}")


class StartByLine(StartBox):
    """A box from nothing, as a line describes it where one was typed."""

    line: str = ""

    def _edited(self, documents: Documents) -> Edited:
        line = self.line.strip()
        if line and not line.startswith(";") and (self.volume or self.trade_size):
            raise Rejected("Enter the volume in the line or in its field, not both", "line")
        begun = super()._edited(documents)
        if not line:
            return begun
        added = (thing for id, thing in begun.documents.changed.items() if id not in documents.changed)
        new = next(thing for thing in added if isinstance(thing, Box))
        entered = EnterLine(box=new.id, line=line).apply(begun.documents)
        return Edited(entered.documents, f"{begun.sentence}. {entered.sentence}")
