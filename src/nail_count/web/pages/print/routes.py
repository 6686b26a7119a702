"""Labels for plates to cut out, and the relamping table of a house, with ways to their pages."""

from __future__ import annotations

from itertools import groupby

import segno
from fastapi import APIRouter
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import Response

from ....store.snapshots import NotFound
from ....trade.plan.relamping import carries, relamping
from ....trade.rules.check import fitting_job
from ... import urls
from ...deps import TheStore
from ...paging import SECTIONS, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("/labels")
def labels(request: Request, store: TheStore, job: str, box: str = "", start: int = 0) -> Response:
    """A label for the inside of each plate, or of one: what it carries at most here, and a code back to its page."""
    kept = store.job(job)
    piece = paged(kept.head.order or () if not box else [box], start, SECTIONS)
    wanted = fitting_job(store.some_boxes(job, piece.shown)).boxes
    if box and not wanted:
        raise NotFound("expected one of the boxes of this job")
    shown = [
        (
            one,
            carries(one, kept.sheets, kept.head.terms_at(one)),
            code(str(request.base_url).rstrip("/") + urls.box(job, one.id)),
        )
        for one in wanted
    ]
    return render(request, "print/labels.html", job=kept, labels=shown, only=box, paged=piece, at=str(request.base_url))


@router.get("/relamping")
def table(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """Which lamps may be fitted where, room by room; of a large house, so many boxes at a time."""
    kept = store.job(job)
    piece = paged(kept.head.order or (), start, SECTIONS)
    whole = fitting_job(store.some_boxes(job, piece.shown))
    rows = relamping(whole.boxes, kept.sheets, kept.head.terms_at)
    rooms = list(dict.fromkeys(row.box.room for row in rows))
    by_room = [
        (room, list(of_room))
        for room, of_room in groupby(
            sorted(rows, key=lambda row: rooms.index(row.box.room)), key=lambda row: row.box.room
        )
    ]
    return render(request, "print/relamping.html", job=kept, rooms=by_room, paged=piece)


def code(address: str) -> Markup:
    """A QR code of an address, as SVG for a page."""
    made = segno.make(address, error="m", micro=False)
    svg = made.svg_inline(border=2, omitsize=True, svgclass="code", lineclass="", dark="#000", light="#fff")
    return Markup(svg)  # noqa: S704 – made of modules alone; the address is in them, not in the markup
