"""A box's history: any earlier state beside the present, what is otherwise, and the way back."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....drawing.front import front
from ....drawing.rail import rail
from ....store.snapshots import MARKS, EditConflict
from ....trade.compare.boxes import differences
from ....trade.rules.fit.box import DoesNotFit
from ... import urls
from ...deps import Form, TheAct, TheStore, whole_number
from ...form_errors import NO_NOTICE, Notice, did_not_fit, stale
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/history", include_in_schema=False)


@router.get("")
def show(
    request: Request, store: TheStore, job: str, box: str, at: int | None = None, beside: int | None = None
) -> Response:
    """All steps, newest first; the state at one of them beside the present, or beside another."""
    return _history(request, store, job, box, at, beside)


@router.post("")
def take_back(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Takes the box back to a step, as a further step that can be undone."""
    number = whole_number(form.fields.get("at", ""))
    try:
        store.take_back(job, box, form.seen, number, form.token, form.mend)
    except EditConflict as wrong:
        return _history(request, store, job, box, number, notice=stale("box", wrong.came_since))
    except DoesNotFit as wrong:
        again = did_not_fit(wrong, urls.box(job, box, "history"), revision=str(form.seen), at=str(number))
        return _history(request, store, job, box, number, notice=again)
    return RedirectResponse(urls.box(job, box), 303)


@router.post("/mark")
def mark(store: TheStore, form: Form, job: str, box: str) -> Response:
    """Marks a step as found, as planned or as built; at no step, takes the mark off."""
    at = form.get("at", "")
    store.mark(job, box, form.get("mark", ""), whole_number(at) if at else None)
    return RedirectResponse(urls.box(job, box, "history", at=at) if at else urls.box(job, box, "history"), 303)


def _history(
    request: Request,
    store: TheStore,
    job: str,
    box: str,
    at: int | None,
    beside: int | None = None,
    notice: Notice = NO_NOTICE,
) -> Response:
    number = at if at is not None else max(store.box(job, box).number - 1, 1)
    found = store.earlier(job, box, number, beside)
    now = found.now
    sheets = now.job.sheets
    named = {number: name for name, number in now.marks.items()}
    other = found.beside or now.check

    def titled(number: int) -> str:
        return f"Step {number}, {named[number]}" if number in named else f"Step {number}"

    title = titled(beside) if beside is not None else "Now"
    states = [
        (title, check, rail(check.fill), front(check.box, sheets))
        for title, check in ((titled(number), found.then), (title, other))
    ]
    changed = differences(found.then.box, other.box, sheets)
    status = 409 if notice else 200
    return render(
        request,
        "history/page.html",
        status,
        found=found,
        states=states,
        changed=changed,
        marked=named,
        marks=MARKS,
        notice=notice,
    )
