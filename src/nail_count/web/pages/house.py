"""A house: its boxes as small rails by room; a box started from nothing; the job file taken out."""

from __future__ import annotations

from itertools import groupby
from urllib.parse import quote

from fastapi import APIRouter
from pydantic import ValidationError
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ...drawing.badge import read_badge
from ...files.job_file import write_job
from ...store.kept import KeptJob
from ...trade.changes import StartBox
from ...trade.edits import Edit, start_box
from ...trade.line import enter_line, read_line
from ...trade.model.box import Box
from ...trade.model.complaint import Refused, complaints_of
from ...trade.model.trade_size import TRADE_SIZES
from ..bench_view import NO_REFUSAL, Refusal
from ..templating import render
from .common import TheKeep, Typed

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("")
def show(request: Request, keep: TheKeep, job: str) -> Response:
    """The boxes of a job, by room."""
    return _house(request, keep, job)


@router.post("/boxes")
def start(request: Request, keep: TheKeep, typed: Typed, job: str) -> Response:
    """A box from nothing; straight to its bench."""
    line = typed.pop("line", "").strip()

    def start(key: str, kept: KeptJob) -> Edit:
        begun = start_box(key, what)
        return enter_line(begun.box, line, kept.sheets) if line else begun

    try:
        what = StartBox.model_validate(typed)
        key = keep.start_box(job, start, f"{what.room} {what.name}")
    except ValidationError as wrong:
        return _house(request, keep, job, Refusal("start", typed | {"line": line}, tuple(complaints_of(wrong))))
    except Refused as wrong:
        return _house(request, keep, job, Refusal("start", typed | {"line": line}, tuple(wrong.complaints)))
    return RedirectResponse(f"/jobs/{job}/boxes/{key}", 303)


@router.get("/line")
def echo(request: Request, keep: TheKeep, job: str, line: str = "") -> Response:
    """What is understood of a line as it is typed, word by word."""
    kept, _ = keep.job(job)
    reading = read_line(line, Box(id="line", name="Line", room="Line"), kept.sheets)
    return render(request, "line/echo.html", reading=reading, line=line)


@router.get("/export")
def export(keep: TheKeep, job: str) -> Response:
    """The whole job as a job file."""
    name = f"{job}.json"
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(write_job(keep.whole_job(job)), media_type="application/json", headers=headers)


def _house(request: Request, keep: TheKeep, job: str, refusal: Refusal = NO_REFUSAL) -> Response:
    kept, cards = keep.job(job)
    order = {room: place for place, room in reversed(list(enumerate(card.room for card in cards)))}
    by_room = sorted(cards, key=lambda card: order[card.room])
    rooms = [
        (room, [(card, read_badge(card.rail)) for card in group])
        for room, group in groupby(by_room, key=lambda card: card.room)
    ]
    counts = {state: sum(card.state == state for card in cards) for state in ("fails", "open", "tight", "holds")}
    return render(
        request,
        "house/page.html",
        422 if refusal is not NO_REFUSAL else 200,
        job=kept,
        rooms=rooms,
        counts=counts,
        refusal=refusal,
        trade_sizes=list(TRADE_SIZES),
    )
