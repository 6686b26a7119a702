"""The papers of a house: which there are, each as a page to look at and print, and as a PDF; all of them in one."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.ink import Ink
from ....drawing.of_paper import code_of, drawing_of
from ....files.pdf import PaperSize, papers_pdf
from ....store.snapshots import NotFound
from ....store.store import Store
from ....trade.edits.fields import now
from ....trade.model.job import Job
from ....trade.model.keys import slug
from ....trade.plan.records.all_papers import papers
from ....trade.plan.records.paper import OF_BOX, PAPER_KINDS, PAPER_NAMES, Coded, Drawn, Paper, PaperKind, Pictures
from ....trade.rules.check import fitting_job
from ... import urls
from ...deps import TheStore
from ...paging import Paged, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/papers", include_in_schema=False)
Start = Annotated[int, Query(ge=0)]
OF_PIECE: tuple[PaperKind, ...] = ("labels", "notes")
"""Papers with a card for each box."""
BOXES = 20
"""How many boxes' papers a page shows of a large house."""
IN_PDF = 60
"""How many boxes' papers are in one PDF of a large house; `nail-count papers` puts all into one."""


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """Which papers there are."""
    kept = store.house(job)
    pieces = range(0, max(len(kept.cards), 1), IN_PDF)
    return render(
        request, "papers/list.html", job=kept.job, cards=kept.cards, kinds=PAPER_KINDS, names=PAPER_NAMES,
        of_box=OF_BOX, pieces=pieces,
    )  # fmt: skip


@router.get("/pdf")
def all_of_them(store: TheStore, request: Request, job: str, size: PaperSize = "letter", start: Start = 0) -> Response:
    """All papers of a house in one PDF, with contents; of a large house so many boxes at a time."""
    whole = fitting_job(store.whole_job(job))
    piece = paged([one.id for one in whole.boxes], start, IN_PDF)
    if len(piece.shown) == len(whole.boxes):
        return _pdf(store, request, job, whole, list(papers(whole, coded=True)), "papers", size)
    made = [] if start else [*papers(whole, "summary"), *papers(whole, "handover"), *papers(whole, "directory")]
    made += [paper for kind in (*OF_BOX, *OF_PIECE) for paper in papers(whole, kind, piece.shown, coded=True)]
    return _pdf(store, request, job, whole, made, f"papers-{start + 1}", size)


@router.get("/{kind}")
def one(request: Request, store: TheStore, job: str, kind: PaperKind, box: str = "", start: Start = 0) -> Response:
    """A paper to look at and to print."""
    whole, piece = _asked(store, job, kind, box, start, BOXES)
    made = list(papers(whole, kind, piece.shown if piece else None, coded=True))
    base = str(request.base_url).rstrip("/")

    def drawn(asked: Drawn | Coded) -> Ink:
        return drawing_of(whole, asked) if isinstance(asked, Drawn) else code_of(base + urls.box(job, asked.box))

    return render(
        request, "papers/paper.html", job=store.job(job), papers=made, kind=kind, name=PAPER_NAMES[kind], box=box,
        paged=piece, drawn=drawn, pictures=store.photos_here(_pictures(made)),
    )  # fmt: skip


@router.get("/{kind}/pdf")
def one_as_pdf(
    request: Request,
    store: TheStore,
    job: str,
    kind: PaperKind,
    box: str = "",
    size: PaperSize = "letter",
    start: Start = 0,
) -> Response:
    """A paper as a PDF."""
    whole, piece = _asked(store, job, kind, box, start, IN_PDF)
    made = list(papers(whole, kind, piece.shown if piece else None, coded=True))
    if not made:
        raise NotFound("expected something to put on paper; nothing is joined or built yet")
    return _pdf(store, request, job, whole, made, "-".join(filter(None, (kind, box))), size)


def _pictures(made: list[Paper]) -> set[str]:
    """The ids of the pictures on papers."""
    blocks = [block for paper in made for section in paper.sections for block in section.blocks]
    return {id for block in blocks if isinstance(block, Pictures) for id, _ in block.each}


def _asked(store: Store, job: str, kind: PaperKind, box: str, start: int, most: int) -> tuple[Job, Paged[str] | None]:
    """The house, and whose papers are asked for: of a large house so many boxes at a time, each with one or a card."""
    whole = fitting_job(store.whole_job(job))
    if kind not in (*OF_BOX, *OF_PIECE):
        return whole, None
    keys = [one.id for one in whole.boxes]
    if box and box not in keys:
        raise NotFound("expected one of the boxes of this job")
    return whole, paged([box] if box else keys, start, most)


def _pdf(
    store: Store, request: Request, job: str, whole: Job, made: list[Paper], name: str, size: PaperSize
) -> Response:
    base = str(request.base_url).rstrip("/")

    def photo(id: str) -> bytes | None:
        return store.photo(id, small=False) if id in store.photos_here({id}) else None

    content = papers_pdf(whole, made, size, now(), lambda key: base + urls.box(job, key), photo)
    headers = {"content-disposition": f'inline; filename="{slug(whole.name) or "job"}-{name}.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)
