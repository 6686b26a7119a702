"""The days of a job: the terms, the plan, its ticks, the sheet for the panel door."""

from __future__ import annotations

from typing import cast

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.store import Store
from ....trade.edits.fields import now
from ....trade.model.errors import Rejected
from ....trade.model.job import Job
from ....trade.model.tick import Step, Tick
from ....trade.rules.check import fitting_job
from ... import urls
from ...background import DaySearch, Searches
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render
from .view import LOOK_FOR, PlanView, place_rows, plan_view

BLINK = 0.2
"""How long a page waits for a search before it shows what has come out so far [s]."""

router = APIRouter(prefix="/jobs/{job}/day", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """What the days are planned by; the plan comes after it, where the page can ask for it by itself."""
    return _page(request, store, job)


@router.get("/plan")
def plan(request: Request, store: TheStore, job: str) -> Response:
    """Show the plan as far as it has come, asked again and again while the search goes on."""
    if not asked_by_htmx(request):
        return RedirectResponse(urls.job(job, "day"), 303)
    search = _searches(request).of(job) or _search(request, store.whole_job(job), job)
    search.wait(BLINK)
    return render(request, "day/plan.html", job=store.job(job), view=search.found, search=search)


@router.post("/stop")
def stop(request: Request, job: str) -> Response:
    """Stop the search: the best plan found so far stays."""
    known = _searches(request).of(job)
    if known is not None:
        known.stop()
        known.wait(BLINK)
    return RedirectResponse(urls.job(job, "day"), 303)


@router.post("/again")
def again(request: Request, store: TheStore, job: str) -> Response:
    """Look for the best plan again, after the search was stopped."""
    _search(request, store.whole_job(job), job, again=True)
    return RedirectResponse(urls.job(job, "day"), 303)


def _searches(request: Request) -> Searches[DaySearch[PlanView]]:
    return cast(Searches[DaySearch[PlanView]], request.app.state.day_searches)


def _search(request: Request, whole: Job, job: str, *, again: bool = False) -> DaySearch[PlanView]:
    return _searches(request).begin(job, whole, lambda: DaySearch(whole, plan_view, LOOK_FOR), again=again)


@router.get("/door")
def door(request: Request, store: TheStore, job: str) -> Response:
    """The sheet for the door of the panel: which breakers are off when, and why."""
    whole = store.whole_job(job)
    search = _search(request, whole, job)
    search.wait()
    if search.found is None:  # stopped before there was any plan
        search = _search(request, whole, job, again=True)
        search.wait()
    if search.found is None:
        return RedirectResponse(urls.job(job, "day"), 303)
    return render(request, "day/door.html", job=store.job(job), view=search.found)


@router.post("/edit/{name}")
def edit(request: Request, store: TheStore, form: TheAct, job: str, name: str) -> Response:
    """An act on what the days are planned by."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _page(request, store, job, errors=errors, notice=notice)

    return act_on_house(store, form, job, read=named_edit(name, form), back=urls.job(job, "day"), refused=refused)


@router.post("/tick")
def tick(store: TheStore, form: TheAct, job: str) -> Response:
    """A place begun, or done."""
    box, kind = form.fields.get("box", ""), form.fields.get("step", "")
    if kind not in ("begun", "done"):
        raise Rejected("Send begun or done", "step")
    step = Step.model_validate({"kind": kind})
    store.tick(job, Tick(id="t0", box=box, step=step, at=now()), form.token)
    return RedirectResponse(urls.job(job, "day"), 303)


@router.post("/untick")
def untick(store: TheStore, form: TheAct, job: str) -> Response:
    """A tick that does not hold is taken back; it stays among the ticks."""
    old = {one.id: one for one in store.ticks(job)}.get(form.fields.get("tick", ""))
    if old is None or old.step.kind not in ("begun", "done"):
        raise Rejected("Pick one of the ticks made of a place", "tick")
    store.tick(job, Tick(id="t0", box=old.box, step=old.step, at=now(), takes_back=old.id), form.token)
    return RedirectResponse(urls.job(job, "day"), 303)


def _page(
    request: Request,
    store: Store,
    job: str,
    *,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    kept, whole = store.job(job), store.whole_job(job)
    rows = place_rows(fitting_job(whole))
    search = _search(request, whole, job)
    search.wait(BLINK)
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "day/page.html",
        status,
        job=kept,
        day=kept.head.day,
        rows=rows,
        view=search.found,
        search=search,
        errors=errors,
        notice=notice,
    )
