"""Where a cable goes: entered at one end, it is known at the other."""

from __future__ import annotations

from typing import Annotated

from pydantic import BeforeValidator, Field

from ..documents import DocumentId, Documents, Edited
from ..model.box import Box
from ..model.errors import Rejected
from ..model.keys import cut, free_key
from ..model.measure import Length
from ..model.run import BoxEnd, CircuitEnd, OnwardEnd, Run, RunEnd, To, WordsEnd
from ..model.thing import Id
from ..text.runs import end_words
from .base import Edit
from .fields import Maybe, in_feet
from .replan import replanned


class SayRun(Edit):
    """Where a cable of a box goes."""

    box: Id
    cable: str
    to: To = ""
    circuit: Annotated[str | None, Maybe] = None
    far_box: Annotated[str, Field(max_length=40)] = ""
    far_cable: Annotated[str, Field(max_length=12)] = ""
    """Its letter there; "" where nobody entered which."""
    words: Annotated[str, Field(max_length=60)] = ""
    length: Annotated[Length | None, BeforeValidator(in_feet)] = None
    passes: Annotated[Id | None, Maybe] = None
    fished: Annotated[bool | None, Maybe] = None
    near_holes: Annotated[int, BeforeValidator(lambda value: value or 0), Field(ge=0, le=200)] = 0

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        if box.cable(self.cable) is None:
            raise Rejected(f"Give the letter of a cable in this box; there is no cable {self.cable}", "cable")
        end = self._end(documents, box)
        if self.passes is not None and self.passes not in documents.lines():
            raise Rejected("Pick one of the boxes of this job", "passes")
        laid = {name: getattr(self, name) for name in ("length", "passes", "fished", "near_holes")}
        said = said_to_go(documents, box, self.cable, end, **laid)
        if isinstance(end, BoxEnd):
            said = _without_less(said, end).with_box(said.box(end.box))  # its page shows it, and takes it back as well
        where = end_words(end, documents.lines()) if end else "not known"
        return Edited(replanned(documents, said.with_box(box), box.id), f"Cable {self.cable} goes to: {where}")

    def _end(self, documents: Documents, box: Box) -> RunEnd | None:
        if self.to == "circuit":
            if self.circuit is not None and self.circuit not in documents.head.circuit_ids:
                raise Rejected("Pick one of the circuits in the panel, or none while it is not known", "circuit")
            return CircuitEnd(circuit=self.circuit)
        if self.to == "box":
            return self._at_box(documents, box)
        if self.to == "words":
            if not self.words:
                raise Rejected("Enter a few words: to the lamp, to the shed", "words")
            return WordsEnd(words=self.words)
        return OnwardEnd() if self.to == "onward" else None

    def _at_box(self, documents: Documents, box: Box) -> BoxEnd:
        if self.far_box not in documents.lines():
            raise Rejected("Pick one of the boxes and outlets of this job", "far_box")
        far = documents.box(self.far_box)
        letter = self.far_cable.strip() or None
        if letter is not None and far.cable(letter) is None:
            has = ", ".join(cable.id for cable in far.cables) or "none yet"
            raise Rejected(f"Pick a cable of “{far.name}”: it has {has}", "far_cable")
        if far.id == box.id and letter in (None, self.cable):
            raise Rejected("Pick another cable, since it comes back to the same box", "far_cable")
        known = run_at(documents, far.id, letter) if letter else None
        there = known.far_from(far.id, letter or "") if known else None
        here = (BoxEnd(box=box.id, cable=self.cable), BoxEnd(box=box.id))
        if there is not None and not isinstance(there, WordsEnd) and there not in here:
            goes = end_words(there, documents.lines())
            said = f"Pick a cable that goes nowhere else; {letter} of “{far.name}” goes to {goes}"
            raise Rejected(said, "far_cable")
        return BoxEnd(box=far.id, cable=letter)


def _without_less(documents: Documents, end: BoxEnd) -> Documents:
    """The documents without what was told of the cable at an end in words, or without its letter: now it is known."""
    for run in documents.runs_at(end.box) if end.cable else ():
        far = run.far_from(end.box, end.cable or "")
        if isinstance(far, WordsEnd) or (isinstance(far, BoxEnd) and far.cable is None):
            documents = documents.with_thing(DocumentId("run", run.id), None)
    return documents


def run_at(documents: Documents, box: str, cable: str) -> Run | None:
    """The run that ends at a cable of a box; None where nobody entered where it goes."""
    return next((run for run in documents.runs_at(box) if run.far_from(box, cable) is not None), None)


def said_to_go(
    documents: Documents,
    box: Box,
    cable: str,
    end: RunEnd | None,
    **laid: object,
) -> Documents:
    """Return the documents with a cable going to this end; None: its end is not known.

    Args:
        box: one of its boxes.
        end: where it goes.
        laid: the other fields of the run: its length, what it passes, how it is laid.
    """
    known = run_at(documents, box.id, cable)
    if end is None:
        return documents if known is None else documents.with_thing(DocumentId("run", known.id), None)
    taken = documents.taken("run")
    key = known.id if known else free_key(f"{cut(box.id, 34)}-{cable.lower()}", taken)
    run = Run.model_validate({"id": key, "one": BoxEnd(box=box.id, cable=cable), "other": end, **laid})
    return documents.with_thing(DocumentId("run", key), run)


def without_runs(documents: Documents, box: str, cable: str | None = None) -> Documents:
    """The documents without the runs that end at a cable of a box, or anywhere in it."""
    for run in documents.runs_at(box):
        if any(end.box == box and cable in (None, end.cable) for end in run.box_ends):
            documents = documents.with_thing(DocumentId("run", run.id), None)
    return documents
