"""Jobs in open formats: spreadsheet, tables, drawings, papers, archive."""

from __future__ import annotations

from typing import Annotated, Literal

from anyio import to_thread
from fastapi import APIRouter, Query
from starlette.responses import Response

from ...drawing.of_job import BoxDrawing, box_drawing, drawings_in
from ...files.picture import PictureForm, picture
from ...files.tables import TableName, table_csv
from ...store.snapshots import NotFound
from ...trade.edits.fields import now
from ...trade.plan.papers.all_papers import papers
from ...trade.plan.papers.paper import PaperKind
from ...trade.rules.check import fitting_job
from ..deps import TheStore
from ..downloads import download
from ..threads import beside
from ..transfers import archive_of
from .common import Key, content

router = APIRouter(tags=["files"])
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@router.get("/jobs/{job}/archive", response_class=Response, responses=content("application/zip"))
async def archive(store: TheStore, job: Key) -> Response:
    """The job with its history and pictures, in one file."""
    return download(await to_thread.run_sync(archive_of, store, job), f"{job}.archive")


@router.get("/jobs/{job}/spreadsheet", response_class=Response, responses=content(_XLSX))
async def spreadsheet(store: TheStore, job: Key) -> Response:
    """The job as a spreadsheet, its counts as formulas."""
    # Read where it is needed, here and below: a server starts without it.
    from ...files.xlsx import job_xlsx

    return Response(await beside(lambda: job_xlsx(fitting_job(store.whole_job(job)))), media_type=_XLSX)


@router.get("/jobs/{job}/tables/{name}", response_class=Response, responses=content("text/csv"))
async def table(store: TheStore, job: Key, name: TableName) -> Response:
    """A table of one kind of thing, as CSV."""
    return Response(await beside(lambda: table_csv(fitting_job(store.whole_job(job)), name)), media_type="text/csv")


@router.get(
    "/jobs/{job}/boxes/{box}/drawings/{what}", response_class=Response,
    responses=content("image/svg+xml", "image/png"),
)  # fmt: skip
async def drawing(
    store: TheStore, job: Key, box: Key, what: BoxDrawing,
    form: Annotated[PictureForm, Query(description="As vectors, or as a picture.")] = "svg",
) -> Response:  # fmt: skip
    """A drawing of a box, standing alone."""

    def draw() -> Response:
        whole = fitting_job(store.whole_job(job))
        here = next((one for one in whole.boxes if one.id == box), None)
        if here is None or what not in drawings_in(here):
            raise NotFound("Pick a drawing of one of the boxes of this job")
        drawn, kind = picture(box_drawing(whole, here, what), form)
        return Response(drawn, media_type=kind)

    return await beside(draw)


@router.get(
    "/jobs/{job}/papers/{kind}",
    response_class=Response,
    responses=content("application/pdf"),
)
async def paper(
    store: TheStore, job: Key, kind: PaperKind, box: Annotated[str, Query(max_length=60)] = "",
    size: Literal["letter", "A4"] = "letter",
) -> Response:  # fmt: skip
    """A paper of a job, or of one of its boxes, as a PDF."""
    from ...files.pdf import papers_pdf

    def print_it() -> bytes:
        whole = fitting_job(store.whole_job(job))
        made = list(papers(whole, kind, [box] if box else None))
        if not made:
            raise NotFound("There is nothing to put on paper yet: nothing is hooked up or built")
        return papers_pdf(whole, made, size, made=now())

    return Response(await beside(print_it), media_type="application/pdf")
