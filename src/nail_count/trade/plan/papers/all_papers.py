"""Which papers a house has, each made when it is asked for; and all of them in order."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Mapping
from dataclasses import dataclass, replace
from typing import Literal

from ...model.box import Box
from ...model.errors import Rejected
from ...model.job import Job, by_id
from ...rules.check import check_job
from ...rules.prohibitions import unlisted
from .as_built import as_built_paper
from .boxes import directory_paper, labels_paper, notes_paper
from .handover import handover_paper
from .inspector import inspector_paper, summary_paper
from .paper import Bullets, Paper, PaperKind, Section
from .wiring_map import map_papers


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
        raise Rejected(f"Pick one of the boxes of this job; there is no {min(strange)}", "box")
    boxes = job.boxes if only is None else tuple(box for box in job.boxes if box.id in set(only))
    asked = (kind,) if kind else tuple(key for key, one in PAPERS.items() if only is None or one.per == "box")
    for one in asked:
        yield from (_warned(job, paper, boxes) for paper in PAPERS[one].make(job, boxes, coded))


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


@dataclass(frozen=True, slots=True)
class KindOfPaper:
    """A kind of paper, and how it is made."""

    name: str
    per: Literal["house", "box", "card"]
    """How many there are: one for the house, one for each box, or one for the house with a card for each box."""
    make: Callable[[Job, tuple[Box, ...], bool], Iterator[Paper]]
    """From the job, the boxes it is for, and whether labels have a code."""


def _each_as_built(job: Job, boxes: tuple[Box, ...], _coded: bool) -> Iterator[Paper]:
    told = [box for box in boxes if len(boxes) == 1 or box.built or any(one.ends for one in box.splices)]
    yield from (as_built_paper(job, box) for box in told)


PAPERS: Mapping[PaperKind, KindOfPaper] = {
    "summary": KindOfPaper(
        "Summary for the inspector", "house", lambda job, *_: iter((summary_paper(job, check_job(job)),))
    ),
    "inspector": KindOfPaper(
        "Inspector’s sheet", "box", lambda job, boxes, _: (inspector_paper(job, box) for box in boxes)
    ),
    "as-built": KindOfPaper("As built", "box", _each_as_built),
    "handover": KindOfPaper("Handover", "house", lambda job, *_: iter((handover_paper(job),))),
    "directory": KindOfPaper("Panel directory", "house", lambda job, *_: iter((directory_paper(job),))),
    "map": KindOfPaper("Wiring map", "house", lambda job, boxes, _: map_papers(job, boxes)),
    "notes": KindOfPaper("Notes for the boxes", "card", lambda job, boxes, _: iter((notes_paper(job, boxes),))),
    "labels": KindOfPaper("Plate labels", "card", lambda job, boxes, coded: iter((labels_paper(job, boxes, coded),))),
}
"""Every kind of paper, in the order they are put together."""
