"""The strip above every screen of a box: its phases, and the one thing to do next."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import EditConflict
from ....store.store import Store
from ....trade.edits.survey import AskLater
from ....trade.model.errors import Rejected
from ....trade.plan.next_step import way_through
from ... import urls
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, FormErrors
from ...templating import BOX_PATHS, render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/next", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str, box: str, at: str | None = None) -> Response:
    """The strip, for a screen that asks for it; else a page of its own."""
    return _shown(request, store, (job, box), at)


def _shown(
    request: Request, store: Store, where: tuple[str, str], at: str | None, errors: FormErrors = NO_ERRORS
) -> Response:
    kept = store.wired_box(*where)
    assert kept.wiring is not None
    way = way_through(kept.wiring, kept.box.id, store.ticks(kept.job.key))  # those at boxes wired together with it, too
    template = "next/way.html" if asked_by_htmx(request) else "next/page.html"
    status = 200 if errors is NO_ERRORS else 422
    here = at if at in BOX_PATHS else None
    return render(request, template, status, kept.number, kept=kept, way=way, at=here, errors=errors)


@router.post("/later")
def later(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """The ask put off; back to the screen it was shown on."""
    at = form.fields.get("at") or ""
    try:
        put_off(store, form, job, box)
    except Rejected as wrong:
        return _shown(request, store, (job, box), at, FormErrors(form.asked_by, form.fields, wrong.problems))
    return RedirectResponse(urls.box(job, box, *((at,) if at in BOX_PATHS and at else ())), 303)


def put_off(store: Store, form: TheAct, job: str, box: str) -> None:
    """Put off an ask. A newer revision of the box doesn't matter to it. Raises Rejected."""
    edit, seen = AskLater.read({"box": box, "ask": form.fields.get("ask", "")}), form.seen
    while True:
        try:
            store.act_on_box(job, box, edit, seen=seen, token=form.token)
            return
        except EditConflict:
            seen = store.box(job, box).number
