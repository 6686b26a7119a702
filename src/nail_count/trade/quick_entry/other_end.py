"""Find the box at the other end of a cable by its name."""

from __future__ import annotations

from ..documents import BoxLine, Documents
from ..edits.runs import SayRun, run_at
from ..model.box import Box
from ..model.run import WordsEnd


def to_named_boxes(documents: Documents, key: str) -> Documents:
    """Return the documents with each cable that goes to a box by its name joined to the cable there.

    Both ends are looked at: "to bottom" here, where a box is called Bottom; and "to top" in another box, where this one
    is called Top.

    Args:
        key: the box that was entered.
    """
    box, lines = documents.box(key), documents.lines()
    for cable in box.cables:
        words = _words(documents, key, cable.id)
        named = [id for id, line in lines.items() if id != key and words in _names(line)] if words else []
        far = documents.box(named[0]) if len(named) == 1 else _that_names(documents, box, cable.id)
        if far is None:
            continue
        letter = _same_cable(documents, far, box, cable.id, by_name=not words)
        if letter is None and not words:
            continue
        edit = SayRun(box=key, cable=cable.id, to="box", far_box=far.id, far_cable=letter or "")
        documents = edit.apply(documents).documents
    return documents


def _words(documents: Documents, key: str, cable: str) -> str:
    """The words that somebody told of where a cable goes, small, without "to"; "" for none."""
    run = run_at(documents, key, cable)
    end = run.far_from(key, cable) if run else None
    return end.place.casefold() if isinstance(end, WordsEnd) else ""


def _names(line: BoxLine) -> frozenset[str]:
    name, room = line.name.casefold(), line.room.casefold()
    return frozenset((name, f"{room} {name}", f"{name} {room}", f"the {name}"))


def _that_names(documents: Documents, box: Box, cable: str) -> Box | None:
    """The only box with a cable that goes to this box in words, where nobody entered where this cable goes."""
    if run_at(documents, box.id, cable) is not None:
        return None
    names = _names(BoxLine.of(box))
    found = {
        end.box
        for run in documents.runs()
        for end, other in ((run.one, run.other), (run.other, run.one))
        if end.kind == "box" and isinstance(other, WordsEnd)
        and other.place.casefold() in names
    } - {box.id}  # fmt: skip
    return documents.box(found.pop()) if len(found) == 1 else None


def _same_cable(documents: Documents, far: Box, box: Box, cable: str, by_name: bool) -> str | None:
    """The only cable of a box that can be the other end of this one: as many wires as thick, and going nowhere else.

    Args:
        by_name: only one that goes to this box in words.
    """
    (here,) = (one for one in box.cables if one.id == cable)
    names = _names(BoxLine.of(box))
    alike = [one.id for one in far.cables if (one.gauge, one.insulated) == (here.gauge, here.insulated)]
    named = [id for id in alike if _words(documents, far.id, id) in names]
    if by_name:
        return named[0] if len(named) == 1 else None
    free = named or [id for id in alike if run_at(documents, far.id, id) is None]
    return free[0] if len(free) == 1 else None
