"""One box on the ladder: a step at a time; done, refused with a reason, taken back; left and found again anywhere."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.store import Store
from ....trade.edits.fields import now
from ....trade.model.errors import Rejected
from ....trade.model.tick import Tick, refusal
from ....trade.plan.install.progress import current, refuse_live
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, FormErrors
from ...templating import render
from ...ticking import on_the_ladder, refuse_while_open, remembering, take_back, who_asks, who_said
from .view import InstallView

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/install", include_in_schema=False)


def _view(request: Request, store: Store, job: str, box: str, at: int | None) -> InstallView:
    kept, done = on_the_ladder(store, job, box)
    shown = current(done) if at is None or not 0 <= at < len(done) else at
    return InstallView(kept, done, shown, who_asks(request))


@router.get("")
def show(request: Request, store: TheStore, job: str, box: str, step: int | None = None) -> Response:
    """A step, from 1; the first that is not settled where none is named."""
    return _page(request, _view(request, store, job, box, None if step is None else step - 1))


def _page(request: Request, view: InstallView, errors: FormErrors = NO_ERRORS) -> Response:
    status = 200 if errors is NO_ERRORS else 422
    return render(request, "install/page.html", status, kept=view.kept, view=view, errors=errors)


@router.post("/tick")
def tick(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A step done, or refused with a reason; on to the next."""
    said = form.fields
    number = said.get("number", "")
    at = int(number) - 1 if number.isdecimal() and len(number) < 5 else -1
    view = _view(request, store, job, box, at)
    try:
        if not 0 <= at < len(view.done) or view.said != said.get("step"):
            raise Rejected("look at the steps again: the plan has changed, and this is the step now", "number")
        step, because = view.done[at].at.step, said.get("because", "").strip()
        if said.get("refuse") == "true":
            if not because:
                raise Rejected("Enter why it is not done", "because")
            step = refusal(step)
        else:
            refuse_live(view.done, step)
            refuse_while_open(store, job, box, step)
        who = who_said(said)
        made = Tick(id="t0", box=box, step=step, at=now(), by=who, because=because[:200])
        store.tick(job, made, form.token)
    except Rejected as wrong:
        return _page(request, view, FormErrors(form.asked_by, said, wrong.problems))
    return remembering(RedirectResponse(urls.box(job, box, "install"), 303), who)


@router.post("/untick")
def untick(store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A tick that does not hold is taken back; it stays among the ticks."""
    take_back(store, job, box, form)
    return RedirectResponse(urls.box(job, box, "install"), 303)
