"""The papers of a house: which there are, each as a page to look at and print, and as a PDF; all of them in one."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.of_paper import code_of, drawing_of, map_of
from ....files.pdf import PaperSize, papers_pdf
from ....files.svg import svg
from ....store.snapshots import NotFound
from ....store.store import Store
from ....trade.edits.fields import now
from ....trade.model.job import Job
from ....trade.model.keys import slug
from ....trade.plan.papers.all_papers import PAPERS, papers
from ....trade.plan.papers.paper import Coded, Drawn, Mapped, Paper, PaperKind, Pictures
from ....trade.rules.check import fitting_job
from ... import urls
from ...deps import TheStore
from ...paging import SECTIONS, Paged, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/papers", include_in_schema=False)
Start = Annotated[int, Query(ge=0)]
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
        request, "papers/list.html", job=kept.job, cards=kept.cards, kinds=PAPERS, pieces=pieces,
    )  # fmt: skip


@router.get("/pdf")
def all_of_them(store: TheStore, request: Request, job: str, size: PaperSize = "letter", start: Start = 0) -> Response:
    """All papers of a house in one PDF, with contents; of a large house so many boxes at a time."""
    whole = fitting_job(store.whole_job(job))
    piece = paged([one.id for one in whole.boxes], start, IN_PDF)
    if len(piece.shown) == len(whole.boxes):
        return _pdf(store, request, job, whole=whole, made=list(papers(whole, coded=True)), name="papers", size=size)
    once = [kind for kind, one in PAPERS.items() if one.per == "house" and not start]
    made = [paper for kind in once for paper in papers(whole, kind)]
    for kind in (kind for kind, one in PAPERS.items() if one.per != "house"):
        made += papers(whole, kind, piece.shown, coded=True)
    return _pdf(store, request, job, whole=whole, made=made, name=f"papers-{start + 1}", size=size)


@router.get("/{kind}")
def one(request: Request, *, store: TheStore, job: str, kind: PaperKind, box: str = "", start: Start = 0) -> Response:
    """A paper to look at and to print."""
    whole, piece = _asked(store, job, kind, box=box, start=start, most=BOXES)
    made = list(papers(whole, kind, piece.shown if piece else None, coded=True))
    base = str(request.base_url).rstrip("/")

    def drawn(asked: Drawn | Mapped | Coded) -> Markup:
        coded = isinstance(asked, Coded)
        match asked:
            case Coded():
                ink = code_of(base + urls.box(job, asked.box))
            case Mapped():
                ink = map_of(whole, asked)
            case Drawn():
                ink = drawing_of(whole, asked)
        return Markup('<div class="ink{}">{}</div>').format(" code" if coded else "", Markup(svg(ink)))  # noqa: S704

    return render(
        request, "papers/paper.html", job=store.job(job), papers=made, kind=kind, name=PAPERS[kind].name, box=box,
        paged=piece, drawn=drawn, pictures=store.photos_here(_pictures(made)),
    )  # fmt: skip


@router.get("/{kind}/pdf")
def one_as_pdf(
    request: Request,
    *,
    store: TheStore,
    job: str,
    kind: PaperKind,
    box: str = "",
    size: PaperSize = "letter",
    start: Start = 0,
) -> Response:
    """A paper as a PDF."""
    whole, piece = _asked(store, job, kind, box=box, start=start, most=IN_PDF)
    made = list(papers(whole, kind, piece.shown if piece else None, coded=True))
    if not made:
        raise NotFound("There is nothing to put on paper yet: nothing is hooked up or built")
    return _pdf(store, request, job, whole=whole, made=made, name="-".join(filter(None, (kind, box))), size=size)


def _pictures(made: list[Paper]) -> set[str]:
    """The ids of the pictures on papers."""
    blocks = [block for paper in made for section in paper.sections for block in section.blocks]
    return {id for block in blocks if isinstance(block, Pictures) for id, _ in block.each}


def _asked(
    store: Store, job: str, kind: PaperKind, *, box: str, start: int, most: int
) -> tuple[Job, Paged[str] | None]:
    """The house, and whose papers are asked for: of a large house so many boxes at a time, each with one or a card."""
    if PAPERS[kind].per == "house":
        return fitting_job(store.whole_job(job)), None
    keys = store.job(job).head.order or ()
    if box and box not in keys:
        raise NotFound("Pick one of the boxes of this job")
    piece = paged([box] if box else keys, start, most if PAPERS[kind].per == "box" else SECTIONS)
    # A label says nothing of other boxes, so they need not be read.
    here = store.some_boxes(job, piece.shown) if kind == "labels" else store.whole_job(job)
    return fitting_job(here), piece


def _pdf(
    store: Store, request: Request, job: str, *, whole: Job, made: list[Paper], name: str, size: PaperSize
) -> Response:
    base = str(request.base_url).rstrip("/")

    def photo(id: str) -> bytes | None:
        return store.photo(id, small=False) if id in store.photos_here({id}) else None

    content = papers_pdf(whole, made, size, made=now(), address=lambda key: base + urls.box(job, key), photo=photo)
    headers = {"content-disposition": f'inline; filename="{slug(whole.name) or "job"}-{name}.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)
