"""What a house can be taken out as: job file, archive, a spreadsheet, a table of each kind, each drawing on its own."""

from __future__ import annotations

from pathlib import Path
from typing import Any
from urllib.parse import quote

from anyio import to_thread
from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.ink import Ink
from ....drawing.of_job import BOX_DRAWING_NAMES, BoxDrawing, box_drawing, day_drawings, drawings_in, floor_maps
from ....files.day_report import plan_of
from ....files.picture import PictureForm, picture
from ....files.tables import TABLE_NAMES, TABLES, TableName, table_csv
from ....store.snapshots import NotFound
from ....trade.rules.check import fitting_job
from ... import workers
from ...deps import TheStore
from ...downloads import download
from ...paging import paged
from ...searches import store_of
from ...templating import render
from ...threads import beside
from ...transfers import archive_of

router = APIRouter(prefix="/jobs/{job}/take-out", include_in_schema=False)
LOOK_FOR = 8.0
"""How long the best plan of the days is looked for [s], as on the page of the days."""


@router.get("")
def show(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """Everything a house can be taken out as; the drawings of so many boxes at a time."""
    kept = store.house(job)
    piece = paged(kept.cards, start)
    boxes = store.some_boxes(job, [card.key for card in piece.shown]).boxes
    drawings = {box.id: [(what, BOX_DRAWING_NAMES[what]) for what in drawings_in(box)] for box in boxes}
    floors = list(dict.fromkeys(kept.job.head.house.floor_of(room) for room in kept.rooms))
    about: dict[str, Any] = {"paged": piece, "tables": TABLES, "names": TABLE_NAMES}
    return render(request, "take_out/page.html", job=kept.job, drawings=drawings, floors=floors, **about)


@router.get("/archive")
async def archive(store: TheStore, job: str) -> Response:
    """The job with its history and pictures, in one file."""

    return download(await to_thread.run_sync(archive_of, store, job), f"{job}.archive")


@router.get("/spreadsheet")
def spreadsheet(store: TheStore, job: str) -> Response:
    """All of it as a spreadsheet, its counts as formulas."""
    # Read where it is needed: a server starts without it.
    from ....files.xlsx import job_xlsx

    content = job_xlsx(fitting_job(store.whole_job(job)))
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(content, media_type=kind, headers=_named(f"{job}.xlsx"))


@router.get("/tables/{name}")
def table(store: TheStore, job: str, name: TableName) -> Response:
    """One table, as CSV."""
    content = table_csv(fitting_job(store.whole_job(job)), name)
    return Response(content, media_type="text/csv", headers=_named(f"{job}-{name}.csv"))


@router.get("/drawings/{box}/{what}.{form}")
def drawing(store: TheStore, job: str, box: str, what: BoxDrawing, form: PictureForm) -> Response:
    """One drawing of one box, standing alone."""
    whole = fitting_job(store.whole_job(job))
    here = next((one for one in whole.boxes if one.id == box), None)
    if here is None or what not in drawings_in(here):
        raise NotFound("Pick a drawing of one of the boxes of this job")
    return _drawn(box_drawing(whole, here, what), f"{job}-{box}-{what}", form)


@router.get("/map/{number}.{form}")
def floor_map(store: TheStore, job: str, number: int, form: PictureForm) -> Response:
    """The map of the wiring of one floor, from 1."""
    whole, house = fitting_job(store.whole_job(job)), store.house(job)
    maps = list(floor_maps(whole, {card.key: card.state for card in house.all_cards}))
    if not 1 <= number <= len(maps):
        raise NotFound("Pick one of the floors of this job")
    return _drawn(maps[number - 1][1], f"{job}-map-{number}", form)


@router.get("/days/{number}.{form}")
async def day(store: TheStore, job: str, number: int, form: PictureForm) -> Response:
    """A day of the plan by breaker, from 1."""

    store.job(job)
    days = await workers.run_async("search", _days, store.file, job)
    if number not in days:
        raise NotFound("Pick a day of this job with something planned")
    return await beside(_drawn, days[number], f"{job}-day-{number}", form)


def _days(file: Path, job: str) -> dict[int, Ink]:
    """Draw the days of a job: asked for of a process of its own."""
    whole = fitting_job(store_of(file).whole_job(job))
    return dict(day_drawings(whole, plan_of(whole, LOOK_FOR)))


def _drawn(ink: Ink, name: str, form: PictureForm) -> Response:
    content, kind = picture(ink, form)
    return Response(content, media_type=kind, headers=_named(f"{name}.{form}"))


def _named(name: str) -> dict[str, str]:
    return {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
