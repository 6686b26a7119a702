"""A house: its boxes as small rails by floor and room; boxes started, copied, moved, removed; the file taken out."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from itertools import groupby
from urllib.parse import quote

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....drawing.badge import read_badge
from ....files.job_json import write_job
from ....store.revisions import Direction
from ....store.snapshots import BoxFilter, CannotBeRead, Done, EditConflict
from ....store.store import Store
from ....trade.assume.verdict import Verdict
from ....trade.documents import HEAD
from ....trade.edits.base import Edit
from ....trade.edits.house.boxes import BringBack, CopyBox, RemoveBox
from ....trade.model.answer import State
from ....trade.model.box import Box
from ....trade.quick_entry.enter_line import StartByLine
from ....trade.quick_entry.parse import read_line
from ....trade.rules.fit.box import DoesNotFit
from ....trade.survey.open_points import TO_BRING, open_at_panel, open_points, tasks_of
from ....trade.text.loads import write_loads
from ... import urls
from ...deps import ActForm, TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit, stale
from ...house_screen import act_on_house, named_edit
from ...paging import SECTIONS, SHOWN, Paged, paged
from ...templating import render

BACK = ("panel", "parts", "day")
"""The pages of a house that undo and redo lead back to."""
router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)


@router.get("")
def show(
    request: Request,
    *,
    store: TheStore,
    job: str,
    state: str = "",
    circuit: str = "",
    room: str = "",
    words: str = "",
    todo: str = "",
    start: int = 0,
    at: str = "",
) -> Response:
    """The boxes of a job by floor and room, or those sought; only the list where htmx asks for it.

    `start`: with which of them the piece that is shown begins; `at`: the key of one it has in it.
    """
    sought = BoxFilter(state, circuit, room, bool(todo), words[:200])
    return _house(request, store, job, sought=sought, start=start, at=at)


@router.post("/edit/{name}")
def edit(request: Request, store: TheStore, form: TheAct, job: str, name: str) -> Response:
    """An act on the house; the house after it, or the refusal beside what was typed."""
    box = form.fields.get("box")
    back = urls.job(job, anchor=f"box-{box}", at=box) if box else urls.job(job)
    return _act(request, store, form, job=job, read=named_edit(name, form), back=back)


@router.get("/boxes/{box}/copy")
def like(request: Request, store: TheStore, job: str, box: str) -> Response:
    """Ask what may differ in another box like this one."""
    return _like(request, store, job, box=box)


@router.post("/boxes/{box}/copy")
def copy(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Start another box like this one, behind it; straight to its bench."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _like(request, store, job, box=box, errors=errors, notice=notice)

    named = replace(form, asked_by="like")
    said = {name: value for name, value in form.fields.items() if name in CopyBox.model_fields}
    return act_on_house(
        store,
        named,
        job,
        read=lambda: CopyBox.read(said | {"box": box}),
        back=lambda done: urls.box(job, done.boxes[0]),
        refused=refused,
    )


def _like(
    request: Request,
    store: Store,
    job: str,
    *,
    box: str,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    kept = store.box(job, box)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    lamps = [(item.name or kept.job.sheets[item.sheet].name, write_loads(item.loads)) for item in kept.box.equipment]
    return render(request, "house/like.html", status, kept=kept, lamps=lamps, errors=errors, notice=notice)


@router.post("/boxes/{box}/remove")
def remove(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Takes a box out of the list; undo, or the list of those removed, brings it back."""
    return _act(request, store, form, job=job, read=lambda: RemoveBox(box=box), back=urls.job(job))


@router.post("/boxes/{box}/bring-back")
def bring_back(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Puts a removed box back."""
    try:
        store.act(job, BringBack(box=box), token=form.token, mend=form.mend)
    except DoesNotFit as wrong:
        return _house(request, store, job, notice=did_not_fit(wrong, urls.box(job, box, "bring-back")))
    return RedirectResponse(urls.job(job, anchor=f"box-{box}", at=box), 303)


@router.post("/boxes")
def start(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """A box from nothing, or from a line; straight to its bench."""
    named = replace(form, asked_by="start")
    return _act(
        request,
        store,
        named,
        job=job,
        read=lambda: StartByLine.read(form.fields),
        back=lambda done: urls.box(job, done.boxes[0]),
    )


@router.get("/line")
def echo(request: Request, store: TheStore, job: str, line: str = "") -> Response:
    """The line as it is understood while it is typed, word by word."""
    reading = read_line(line, Box(id="line", name="Line", room="Line"), store.job(job).sheets)
    return render(request, "line/echo.html", reading=reading, line=line)


@router.get("/export")
def export(store: TheStore, job: str) -> Response:
    """The whole job as a job file."""
    name = f"{job}.json"
    headers = {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
    return Response(write_job(store.whole_job(job)), media_type="application/json", headers=headers)


@router.get("/next-visit")
def next_visit(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """Everything not known yet: what to bring, each thing to do with its boxes, and the boxes one by one."""
    left = store.left_to_see(job, lambda keys: paged(keys, start, SECTIONS).shown)
    boxes = tuple(map(left.job.mended, left.boxes))
    tasks = tasks_of(boxes)
    groups = [
        (title, some)
        for decides, title in ((True, "Could change an answer"), (False, "See these too"))
        if (some := [task for task in tasks if task.decides is decides])
    ]
    return render(
        request,
        "house/next_visit.html",
        job=left.job,
        bring=tuple(dict.fromkeys(thing for task in tasks for thing in TO_BRING[task.step])),
        groups=groups,
        shown=[(box, len(open_points(box))) for box in boxes],
        boxes=len(left.job.boxes),
        paged=paged(left.keys, start, SECTIONS),
        panel=open_at_panel(left.job.head.circuits, left.used),
    )


@router.post("/undo")
def undo(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """Undoes one act on the house."""
    return _step(request, store, form, job, "undo")


@router.post("/redo")
def redo(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """Redoes one act on the house."""
    return _step(request, store, form, job, "redo")


def _step(request: Request, store: Store, form: ActForm, job: str, way: Direction) -> Response:
    back = form.fields.get("back", "")
    try:
        store.step(job, HEAD, form.seen, way=way, token=form.token, mend=form.mend)
    except EditConflict as wrong:
        return _house(request, store, job, notice=stale("house", wrong.came_since))
    except DoesNotFit as wrong:
        notice = did_not_fit(wrong, urls.job(job, way), revision=str(form.seen), back=back)
        return _house(request, store, job, notice=notice)
    return RedirectResponse(urls.job(job, back if back in BACK else ""), 303)


def _piece(keys: Sequence[str], start: int, at: str) -> Paged[str]:
    """The piece of a list of boxes that begins with the one of a number, or has the one of a key in it."""
    return paged(keys, keys.index(at) // SHOWN * SHOWN if at in keys else start)


def _act(
    request: Request,
    store: Store,
    form: ActForm,
    *,
    job: str,
    read: Callable[[], Edit],
    back: str | Callable[[Done], str],
) -> Response:
    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _house(request, store, job, errors=errors, notice=notice)

    return act_on_house(store, form, job, read=read, back=back, refused=refused)


def _verdicts(store: Store, job: str, boxes: Sequence[str]) -> Mapping[str, Verdict]:
    """How open boxes stand if wired as usual; nothing where one of them can't be read, which says so on its page."""
    try:
        return store.verdicts(job, boxes) if boxes else {}
    except CannotBeRead:
        return {}


def _house(
    request: Request,
    store: TheStore,
    job: str,
    *,
    errors: FormErrors = NO_ERRORS,
    sought: BoxFilter | None = None,
    notice: Notice = NO_NOTICE,
    start: int = 0,
    at: str = "",
) -> Response:
    sought = sought or BoxFilter()
    house = store.outline(job, sought, lambda keys: _piece(keys, start, at).shown)
    rooms = house.rooms
    floor_of = {room: house.job.head.house.floor_of(room) for room in rooms}
    shown = [
        (
            floor,
            [
                (room, [(card, read_badge(card.rail)) for card in cards])
                for room, cards in groupby(of_floor, key=lambda card: card.room)
            ],
        )
        for floor, of_floor in groupby(house.cards, key=lambda card: floor_of[card.room])
    ]
    template = "house/boxes.html" if asked_by_htmx(request) else "house/page.html"
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        template,
        status,
        house=house,
        verdicts=_verdicts(store, job, [card.key for card in house.cards if card.state == State.OPEN.word]),
        job=house.job,
        rooms=rooms,
        floors=shown,
        paged=_piece([box.key for box in house.sought], start, at),
        known_floors=[floor for floor in dict.fromkeys(floor_of.values()) if floor],
        sought=sought,
        errors=errors,
        notice=notice,
    )
