"""The bench: one box, and every act on it."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import EditConflict, JobSnapshot
from ....trade.edits.registry import Edit
from ....trade.model.box import Box
from ....trade.quick_entry.parse import enter_line
from ....trade.rules.fit.box import DoesNotFit
from ....trade.search.best_order import best_order
from ... import urls
from ...box_screen import STALE, Screen, act, screen_router
from ...deps import Form, TheStore, asked_by_htmx, wants_mending, whole_number
from ...form_errors import Notice, did_not_fit
from ...templating import render
from .view import bench_view

BENCH = Screen("", "bench/page.html", "bench/bench.html", bench_view)
router = screen_router(BENCH)

CHANGED = Notice(
    "The box itself has changed since this copy was made. Nothing was kept; look at both, and make the change again on "
    "a new copy, or throw this one away."
)


@router.post("/line")
def line(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
    """The box as a line of quick entry describes it."""
    fields = {"line": form.get("line", "")}

    def change(before: Box, kept: JobSnapshot) -> Edit:
        return enter_line(before, fields["line"], kept.sheets)

    return act(request, store, form, (job, box), BENCH, fields, change)


NONE_STAYS: list[str] = []


@router.get("/best-order")
def offer_order(
    request: Request, store: TheStore, job: str, box: str, stays: Annotated[list[str], Query()] = NONE_STAYS
) -> Response:
    """The best order of the devices, offered with what it is worth; on demand, since every order is gone through.

    `stays`: the devices that keep their gangs.
    """
    kept = store.box(job, box)
    order = best_order(kept.box, kept.job.sheets, kept.job.head.terms_at(kept.box), stays)
    devices = sorted(kept.box.devices, key=lambda device: order.gangs[device.id]) if order else []
    named = [(order.gangs[d.id], d.name or kept.job.sheets[d.sheet].name) for d in devices] if order else []
    template = "bench/order.html" if asked_by_htmx(request) else "bench/order_page.html"
    return render(request, template, revision=kept.number, view=bench_view(kept), order=order, named=named, stays=stays)


@router.post("/mend")
def mend(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
    """The box without what does not fit its job."""
    try:
        kept = store.mend(job, box, whole_number(form.get("revision", "")))
    except EditConflict:
        return BENCH.answer(request, store.box(job, box), notice=STALE, status=409)
    return BENCH.answer(request, kept)


@router.post("/what-if")
def try_out(store: TheStore, job: str, box: str) -> Response:
    """A copy of the box to change freely; straight to its bench."""
    return RedirectResponse(urls.box(job, store.try_out(job, box)), 303)


@router.post("/what-if/end")
def end_what_if(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
    """What was tried is kept, or thrown away; back to the box itself."""
    seen = whole_number(form.get("revision", ""))
    try:
        original = store.end_what_if(job, box, seen, accept=form.get("end") == "keep", mend=wants_mending(form))
    except EditConflict:
        return BENCH.answer(request, store.box(job, box), notice=CHANGED, status=409)
    except DoesNotFit as wrong:
        notice = did_not_fit(wrong, urls.box(job, box, "what-if", "end"), revision=str(seen), end="keep")
        return BENCH.answer(request, store.box(job, box), notice=notice, status=409)
    return RedirectResponse(urls.box(job, original), 303)
