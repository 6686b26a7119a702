"""The small papers: the note in each box, the label in each plate, the directory on the panel door."""

from __future__ import annotations

from collections.abc import Sequence

from ...model.answer import Amount
from ...model.box import Box
from ...model.edition import EDITIONS
from ...model.job import Job, by_id
from ...model.panel import Circuit, partners
from ...text.format import say
from ..box_note import box_notes
from ..panel_rows import Cell, panel_rows
from ..relamping import LABEL_WORDS, carries
from .paper import Block, Bullets, Coded, Paper, Para, Section, Table, listed, told

PROVES_NOTHING = "Turn off and verify dead first. This note proves nothing."


def notes_paper(job: Job, boxes: Sequence[Box]) -> Paper:
    """The note of each of these boxes with something to tell, to cut out and fold in."""
    cards, wanted = [], {box.id for box in boxes}
    for note in (one for one in box_notes(job) if one.box.id in wanted):
        fed = f"circuit {' and '.join(note.box.circuits)}" if note.box.circuits else "circuit not known"
        blocks: list[Block] = [Para(f"{note.box.room} · {fed}")]
        if note.beware:
            blocks.append(Bullets(tuple(f"{one}." for one in note.beware)))
        if note.done:
            blocks += [Para(f"Put in: {', '.join(note.done)}."), Para("Done ____ / ____ / ____")]
        cards.append(Section(note.box.name, (*blocks, Para(PROVES_NOTHING, "small")), card=True))
    return Paper(
        "notes", "Notes for the boxes", job.name, tuple(cards) or (told("", "Nothing to say of any box yet."),)
    )


def labels_paper(job: Job, boxes: Sequence[Box], coded: bool) -> Paper:
    """The label of every plate: what it carries at most.

    Args:
        job: the house, as far as it fits together.
        boxes: those of it whose labels are wanted.
        coded: whether each has a code that leads to the page of its box.
    """
    sheets, cards = by_id(job.sheets), []
    for box in boxes:
        fed = f"circuit {' and '.join(box.circuits)}" if box.circuits else "circuit not known"
        lines = []
        for one in carries(box, sheets, job.terms_at(box), job.volts):
            most = [f"{LABEL_WORDS[kind]} {_at_most(limit)}" for kind, limit in one.most]
            channel = f", {one.channel}" if one.channel else ""
            lines.append(f"{one.title}{channel}: {'; '.join(most) or 'nothing listed'}")
        blocks: list[Block] = [Para(f"{box.room} · {fed}"), Bullets(tuple(lines or ["No load is switched here."]))]
        counted = EDITIONS[job.terms.code].title
        blocks.append(Para("Never a bulb above the fixture’s own label.", "small"))
        blocks.append(Para(f"Counted by {counted}; not a permission. Turn off and verify dead first.", "small"))
        if coded:
            blocks.append(Coded(box.id))
        cards.append(Section(box.name, tuple(blocks), card=True))
    return Paper("labels", "Plate labels", job.name, tuple(cards) or (told("", "No box in this house yet."),))


def _at_most(limit: Amount | None) -> str:
    return f"{say((limit,))} at most here" if limit else "not known"


def directory_paper(job: Job) -> Paper:
    """Return the directory for the panel door, in two columns as in the panel.

    A space without a recorded breaker says so: it may hold one.

    Source: NEC 408.4(A), from memory of the publication.
    """
    drawn, shared = panel_rows(job.panel, job.circuits), partners(job.circuits)
    rows = tuple(
        (str(left.space), _cell(left, shared), _cell(right, shared), str(right.space)) for left, right in drawn.rows
    )
    main = f", main {job.panel.main} A" if job.panel.main else ""
    sections = [Section("", (Table(("Space", "Left", "Right", "Space"), rows, (2, 10, 10, 2)),))]
    if drawn.unplaced:
        beside = (_circuit(one, shared) for one in drawn.unplaced)
        sections.append(listed("Where they sit isn't known", beside, ""))
    sections.append(told("", "Corrected ____ / ____ / ____ by ____________________"))
    return Paper("directory", "Panel directory", f"{job.name}{main}", tuple(sections))


def _cell(cell: Cell, shared: dict[str, str]) -> str:
    if cell.continues:
        return "second pole of the one above"
    return "; ".join(_circuit(one, shared) for one in cell.circuits) or "not recorded"


def _circuit(one: Circuit, shared: dict[str, str]) -> str:
    poles = ", 2 poles" if one.poles == 2 else ""
    old = f"{one.label} (as the old label says; not traced)" if one.label else "not known"
    both = f"; shares its neutral with {shared[one.id]}: both off" if one.id in shared else ""
    return f"{one.id} ({one.breaker} A{poles}): {one.feeds or old}{both}"
