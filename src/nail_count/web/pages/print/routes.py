"""The relamping table of a house, with ways to its boxes."""

from __future__ import annotations

from itertools import groupby

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.plan.relamping import relamping
from ....trade.rules.check import fitting_job
from ...deps import TheStore
from ...paging import SECTIONS, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("/relamping")
def table(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """Which lamps may be fitted where, room by room; of a large house, so many boxes at a time."""
    kept = store.job(job)
    piece = paged(kept.head.order or (), start, SECTIONS)
    whole = fitting_job(store.some_boxes(job, piece.shown))
    rows = relamping(whole.boxes, kept.sheets, kept.head.terms_at, kept.volts)
    rooms = list(dict.fromkeys(row.box.room for row in rows))
    by_room = [
        (room, list(of_room))
        for room, of_room in groupby(
            sorted(rows, key=lambda row: rooms.index(row.box.room)), key=lambda row: row.box.room
        )
    ]
    return render(request, "print/relamping.html", job=kept, rooms=by_room, paged=piece)
