"""Which papers a house has, each made when it is asked for; and all of them in order."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import replace

from ...model.box import Box
from ...model.errors import Rejected
from ...model.job import Job, by_id
from ...rules.check import check_job
from ...rules.prohibitions import unlisted
from .as_built import as_built_paper
from .boxes import directory_paper, labels_paper, notes_paper
from .handover import handover_paper
from .inspector import inspector_paper, summary_paper
from .paper import OF_BOX, PAPER_KINDS, Bullets, Paper, PaperKind, Section


def papers(
    job: Job, kind: PaperKind | None = None, only: Collection[str] | None = None, coded: bool = False
) -> Iterator[Paper]:
    """The papers of a house.

    Args:
        job: the house, with its ticks, as far as it fits together.
        kind: which; None: all of them.
        only: keys of the boxes whose papers are wanted; None: of all. With no kind, those of the house are left out.
        coded: whether labels have a code that leads to the page of their box.

    Raises:
        Rejected: it has no such box.
    """
    known = {one.id: one for one in job.boxes}
    if strange := set(only or ()) - set(known):
        raise Rejected(f"expected one of the boxes of this job; there is no {min(strange)}", "box")
    boxes = job.boxes if only is None else tuple(box for box in job.boxes if box.id in set(only))
    asked = (kind,) if kind else tuple(one for one in PAPER_KINDS if only is None or one in OF_BOX)
    for one in asked:
        yield from (_warned(job, paper, boxes) for paper in _made(job, one, boxes, coded))


def _warned(job: Job, paper: Paper, boxes: tuple[Box, ...]) -> Paper:
    """Return a paper that begins with the devices on it whose listing is void; that of the inspector has them."""
    if paper.kind == "inspector":
        return paper
    sheets, built = by_id(job.sheets), paper.kind == "as-built"
    void = []
    for box in (one for one in boxes if paper.box in ("", one.id)):
        contents = box.built if built and box.built is not None else box.contents
        void += [f"{box.room}: {box.name}: {text}." for _, text in unlisted(contents.equipment, sheets)]
    if not void:
        return paper
    first = Section("Replace these devices", (Bullets(tuple(void)),))
    return replace(paper, sections=(first, *paper.sections))


def _made(job: Job, kind: PaperKind, boxes: tuple[Box, ...], coded: bool) -> Iterator[Paper]:
    match kind:
        case "summary":
            yield summary_paper(job, check_job(job))
        case "inspector":
            yield from (inspector_paper(job, box) for box in boxes)
        case "as-built":
            told = [box for box in boxes if len(boxes) == 1 or box.built or any(one.ends for one in box.splices)]
            yield from (as_built_paper(job, box) for box in told)
        case "handover":
            yield handover_paper(job)
        case "directory":
            yield directory_paper(job)
        case "notes":
            yield notes_paper(job, boxes)
        case "labels":
            yield labels_paper(job, boxes, coded)
