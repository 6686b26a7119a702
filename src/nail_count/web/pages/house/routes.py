"""A house: its boxes as small rails by floor and room; boxes started, copied, moved, removed; the file taken out."""

from __future__ import annotations

from itertools import groupby
from typing import Literal
from urllib.parse import quote

from fastapi import APIRouter
from pydantic import ValidationError
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....drawing.badge import read_badge
from ....files.job_json import write_job
from ....store.snapshots import BoxFilter, EditConflict, JobSnapshot
from ....trade.edits.enclosure import StartBox
from ....trade.edits.registry import Edit, copy_box, start_box
from ....trade.model.box import Box
from ....trade.model.errors import Rejected, problems_of
from ....trade.quick_entry.parse import enter_line, read_line
from ....trade.rules.check import fitting_job
from ....trade.rules.fit.box import DoesNotFit
from ....trade.survey.open_points import open_points
from ... import urls
from ...deps import Form, TheStore, asked_by_htmx, wants_mending, whole_number
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit
from ...house_screen import STALE, act_on_house
from ...templating import render

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("")
def show(
    request: Request,
    store: TheStore,
    job: str,
    state: str = "",
    circuit: str = "",
    room: str = "",
    words: str = "",
    todo: str = "",
) -> Response:
    """The boxes of a job by floor and room, or those sought; only the list where htmx asks for it."""
    return _house(request, store, job, sought=BoxFilter(state, circuit, room, bool(todo), words[:200]))


@router.post("/edit/{name}")
def edit(request: Request, store: TheStore, form: Form, job: str, name: str) -> Response:
    """An act on the house; the house after it, or the refusal beside what was typed."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _house(request, store, job, errors, notice=notice)

    anchor = f"box-{form['box']}" if "box" in form else ""
    return act_on_house(store, form, job, name, urls.job(job, anchor=anchor), refused)


@router.post("/boxes/{box}/copy")
def copy(store: TheStore, job: str, box: str) -> Response:
    """Another box, the same as this one, behind it; straight to its bench."""
    same = store.box(job, box).box
    key = store.start_box(job, lambda key, kept: copy_box(key, same), f"{same.room} {same.name}", after=box)
    return RedirectResponse(urls.box(job, key), 303)


@router.post("/boxes/{box}/remove")
def remove(store: TheStore, job: str, box: str) -> Response:
    """Takes a box out of the list; undo, or the list of those removed, brings it back."""
    store.remove_box(job, box)
    return RedirectResponse(urls.job(job), 303)


@router.post("/boxes/{box}/bring-back")
def bring_back(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
    """Puts a removed box back."""
    try:
        store.bring_back(job, box, mend=wants_mending(form))
    except DoesNotFit as wrong:
        return _house(request, store, job, notice=did_not_fit(wrong, urls.box(job, box, "bring-back")))
    return RedirectResponse(urls.job(job, anchor=f"box-{box}"), 303)


@router.post("/boxes")
def start(request: Request, store: TheStore, form: Form, job: str) -> Response:
    """A box from nothing; straight to its bench."""
    line = form.pop("line", "").strip()

    def begin(key: str, kept: JobSnapshot) -> Edit:
        if line and not line.startswith(";") and (what.volume or what.trade_size):
            raise Rejected("expected the volume in the line or in its field, not both", "line")
        begun = start_box(key, what)
        return enter_line(begun.box, line, kept.sheets) if line else begun

    try:
        what = StartBox.model_validate(form)
        key = store.start_box(job, begin, f"{what.room} {what.name}")
    except ValidationError as wrong:
        return _house(request, store, job, FormErrors("start", form | {"line": line}, tuple(problems_of(wrong))))
    except Rejected as wrong:
        return _house(request, store, job, FormErrors("start", form | {"line": line}, tuple(wrong.problems)))
    return RedirectResponse(urls.box(job, key), 303)


@router.get("/line")
def echo(request: Request, store: TheStore, job: str, line: str = "") -> Response:
    """What is understood of a line as it is typed, word by word."""
    reading = read_line(line, Box(id="line", name="Line", room="Line"), store.job(job).sheets)
    return render(request, "line/echo.html", reading=reading, line=line)


@router.get("/export")
def export(store: TheStore, job: str) -> Response:
    """The whole job as a job file."""
    name = f"{job}.json"
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(write_job(store.whole_job(job)), media_type="application/json", headers=headers)


@router.get("/next-visit")
def next_visit(request: Request, store: TheStore, job: str) -> Response:
    """Everything not known yet, box by box: what to look at on the next visit."""
    kept, whole = store.job(job), fitting_job(store.whole_job(job))
    left = [(box, points) for box in whole.boxes if (points := open_points(box))]
    return render(request, "house/next_visit.html", job=kept, left=left, boxes=len(whole.boxes))


@router.post("/undo")
def undo(request: Request, store: TheStore, form: Form, job: str) -> Response:
    """Undoes one act on the house."""
    return _step(request, store, form, job, "undo")


@router.post("/redo")
def redo(request: Request, store: TheStore, form: Form, job: str) -> Response:
    """Redoes one act on the house."""
    return _step(request, store, form, job, "redo")


def _step(request: Request, store: TheStore, form: Form, job: str, way: Literal["undo", "redo"]) -> Response:
    seen = form.get("revision", "")
    try:
        store.step_house(job, whole_number(seen), way, mend=wants_mending(form))
    except EditConflict:
        return _house(request, store, job, notice=STALE)
    except DoesNotFit as wrong:
        notice = did_not_fit(wrong, urls.job(job, way), revision=seen, back=form.get("back", ""))
        return _house(request, store, job, notice=notice)
    back = "panel" if form.get("back") == "panel" else ""
    return RedirectResponse(urls.job(job, back), 303)


def _house(
    request: Request,
    store: TheStore,
    job: str,
    errors: FormErrors = NO_ERRORS,
    sought: BoxFilter | None = None,
    notice: Notice = NO_NOTICE,
) -> Response:
    sought = sought or BoxFilter()
    house = store.house(job, sought)
    about = house.job.head.house
    order = {room: place for place, room in enumerate(house.rooms)}
    floors = list(dict.fromkeys(about.floor_of(room) for room in house.rooms))
    by_room = sorted(house.cards, key=lambda card: (floors.index(about.floor_of(card.room)), order[card.room]))
    shown = [
        (
            floor,
            [
                (room, [(card, read_badge(card.rail)) for card in cards])
                for room, cards in groupby(of_floor, key=lambda card: card.room)
            ],
        )
        for floor, of_floor in groupby(by_room, key=lambda card: about.floor_of(card.room))
    ]
    template = "house/boxes.html" if asked_by_htmx(request) else "house/page.html"
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        template,
        status,
        house=house,
        job=house.job,
        floors=shown,
        known_floors=[floor for floor in floors if floor],
        sought=sought,
        errors=errors,
        notice=notice,
    )
