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
from ...store.kept import KeptJob, Sought
from ...trade.changes import StartBox
from ...trade.edits import Edit, copy_box, start_box
from ...trade.line import enter_line, read_line
from ...trade.model.box import Box
from ...trade.model.complaint import Refused, complaints_of
from ...trade.model.job import Circuit
from ..bench_view import NO_REFUSAL, Refusal
from ..templating import render
from .common import TheKeep, Typed, asked_by_htmx

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("")
def show(
    request: Request, keep: TheKeep, job: str, state: str = "", circuit: str = "", room: str = "", words: str = ""
) -> Response:
    """The boxes of a job by room, or those sought; only the list where htmx asks for it."""
    return _house(request, keep, job, sought=Sought(state, circuit, room, words[:200]))


@router.post("/boxes/{box}/copy")
def copy(keep: TheKeep, job: str, box: str) -> Response:
    """Another box, the same as this one; straight to its bench."""
    same = keep.box(job, box).box

    key = keep.start_box(job, lambda key, kept: copy_box(key, same), f"{same.room} {same.name}")
    return RedirectResponse(f"/jobs/{job}/boxes/{key}", 303)


@router.post("/boxes/{box}/remove")
def remove(keep: TheKeep, job: str, box: str) -> Response:
    """Takes a box out of the list; it can be brought back."""
    keep.remove_box(job, box)
    return RedirectResponse(f"/jobs/{job}", 303)


@router.post("/boxes/{box}/bring-back")
def bring_back(keep: TheKeep, job: str, box: str) -> Response:
    """Puts a removed box back where it was."""
    keep.remove_box(job, box, back=True)
    return RedirectResponse(f"/jobs/{job}#box-{box}", 303)


@router.post("/boxes")
def start(request: Request, keep: TheKeep, typed: Typed, job: str) -> Response:
    """A box from nothing; straight to its bench."""
    line = typed.pop("line", "").strip()

    def begin(key: str, kept: KeptJob) -> Edit:
        if line and not line.startswith(";") and (what.volume or what.trade_size):
            raise Refused("expected the volume in the line or in its field, not both", "line")
        begun = start_box(key, what)
        return enter_line(begun.box, line, kept.sheets) if line else begun

    try:
        what = StartBox.model_validate(typed)
        key = keep.start_box(job, begin, f"{what.room} {what.name}")
    except ValidationError as wrong:
        return _house(request, keep, job, Refusal("start", typed | {"line": line}, tuple(complaints_of(wrong))))
    except Refused as wrong:
        return _house(request, keep, job, Refusal("start", typed | {"line": line}, tuple(wrong.complaints)))
    return RedirectResponse(f"/jobs/{job}/boxes/{key}", 303)


@router.post("/circuits")
def put_circuit(request: Request, keep: TheKeep, typed: Typed, job: str) -> Response:
    """A circuit entered, or changed, by its number in the panel."""
    try:
        keep.put_circuit(job, Circuit.model_validate(typed))
    except ValidationError as wrong:
        return _house(request, keep, job, Refusal("circuit", typed, tuple(complaints_of(wrong))))
    return RedirectResponse(f"/jobs/{job}#circuits", 303)


@router.get("/line")
def echo(request: Request, keep: TheKeep, job: str, line: str = "") -> Response:
    """What is understood of a line as it is typed, word by word."""
    reading = read_line(line, Box(id="line", name="Line", room="Line"), keep.job(job).sheets)
    return render(request, "line/echo.html", reading=reading, line=line)


@router.get("/export")
def export(keep: TheKeep, job: str) -> Response:
    """The whole job as a job file."""
    name = f"{job}.json"
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(write_job(keep.whole_job(job)), media_type="application/json", headers=headers)


def _house(
    request: Request, keep: TheKeep, job: str, refusal: Refusal = NO_REFUSAL, sought: Sought | None = None
) -> Response:
    sought = sought or Sought()
    house = keep.house(job, sought)
    order = {room: place for place, room in enumerate(house.rooms)}
    by_room = sorted(house.cards, key=lambda card: order[card.room])
    rooms = [
        (room, [(card, read_badge(card.rail)) for card in group])
        for room, group in groupby(by_room, key=lambda card: card.room)
    ]
    template = "house/boxes.html" if asked_by_htmx(request) else "house/page.html"
    status = 422 if refusal is not NO_REFUSAL else 200
    return render(request, template, status, house=house, job=house.job, rooms=rooms, sought=sought, refusal=refusal)
