"""The strip above every page of a house: its phases, and the one thing to do next."""

from __future__ import annotations

from dataclasses import replace

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....store.store import Store
from ....trade.edits.house.rooms import AskHouseLater
from ....trade.plan.house_next import house_way
from ....trade.rules.check import fitting_job
from ... import urls
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house
from ...templating import HOUSE_PATHS, render

router = APIRouter(prefix="/jobs/{job}/next", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str, at: str | None = None) -> Response:
    """The strip, for a page that asks for it; else a page of its own."""
    return _shown(request, store, job, at)


@router.post("/later")
def later(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """The ask put off; back to the page it was shown on."""
    at = form.fields.get("at") or ""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _shown(request, store, job, at, errors=errors, notice=notice)

    return act_on_house(
        store,
        replace(form, revision=None),  # a newer revision of the house doesn't matter to it
        job,
        read=lambda: AskHouseLater.read({"ask": form.fields.get("ask", "")}),
        back=urls.job(job, *((at,) if at in HOUSE_PATHS else ())),
        refused=refused,
    )


def _shown(
    request: Request,
    store: Store,
    job: str,
    at: str | None,
    *,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    way = house_way(fitting_job(store.whole_job(job)))
    template = "next/house_way.html" if asked_by_htmx(request) else "next/house_page.html"
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    here = at if at in HOUSE_PATHS else None
    return render(request, template, status, job=store.job(job), way=way, at=here, errors=errors, notice=notice)
