"""The bench: one box, and every act on it."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import Query
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import EditConflict, NotFound
from ....store.store import Store
from ....trade.documents import DocumentId
from ....trade.model.answer import State
from ....trade.quick_entry.enter_line import EnterLine
from ....trade.rules.fit.box import DoesNotFit
from ....trade.search.best_order import best_order
from ... import urls
from ...box_screen import Screen, act, screen_router
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import Notice, did_not_fit
from ...searches import AT_ONCE, searched_ways
from ...templating import render
from .sections import bench_sections
from .view import Ways

BENCH = Screen("", "bench/page.html", lambda kept, errors, notice: bench_sections(kept, notice))
router = screen_router(BENCH)


@router.post("/line")
def line(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """The box as a line of quick entry describes it."""
    said = {"box": box, "line": form.fields.get("line", "")}
    return act(request, store, form, where=(job, box), screen=BENCH, read=lambda: EnterLine.read(said))


NONE_STAYS: list[str] = []


@router.get("/best-order")
def offer_order(
    request: Request, store: TheStore, job: str, box: str, stays: Annotated[list[str], Query()] = NONE_STAYS
) -> Response:
    """The best order of the devices, offered with what it is worth; on demand, since every order is gone through.

    `stays`: the devices that keep their gangs.
    """
    kept = store.box(job, box)
    order = best_order(kept.box, kept.job.sheets, kept.job.head.terms_at(kept.box), stays, kept.job.volts)
    names = {device.id: device.name or kept.job.sheets[device.sheet].name for device in kept.box.devices}
    template = "bench/order.html" if asked_by_htmx(request) else "bench/order_page.html"
    shown: dict[str, Any] = {"kept": kept, "order": order, "names": names, "stays": stays, "base": urls.box(job, box)}
    return render(request, template, revision=kept.number, **shown)


@router.get("/ways")
def ways(request: Request, store: TheStore, job: str, box: str) -> Response:
    """The least work after which a failing box holds; asked for by itself: nothing waits until all is tried."""
    if not asked_by_htmx(request):
        return RedirectResponse(urls.box(job, box, "fix"), 303)
    try:
        shown = _ways(store, job, box)
    except NotFound:  # a what-if that was ended while its page still asked
        return Response(status_code=204)
    return render(request, "bench/ways.html", revision=shown.number, view=shown, base=urls.box(job, box))


def _ways(store: Store, job: str, box: str) -> Ways:
    """What would hold; not tried yet where the box was acted on meanwhile, and its page is to ask again."""
    kept = store.box(job, box)
    if kept.check.state is not State.FAILS:
        return Ways(0, True)
    found = searched_ways(store.mended_in(job, kept), box, 1, AT_ONCE)
    if store.box(job, box).number != kept.number:
        return Ways(kept.number, False)
    return Ways(kept.number, True, found.ways[0] if found.ways else None, bool(found.leaves), found.unfinished)


@router.post("/what-if")
def try_out(store: TheStore, job: str, box: str) -> Response:
    """A copy of the box to change freely; straight to its bench."""
    return RedirectResponse(urls.box(store.try_out(job, box), box), 303)


@router.post("/what-if/end")
def end_what_if(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """What was tried is kept, or thrown away; back to the box itself."""
    keep = form.fields.get("end") == "keep"
    try:
        base = store.end_trial(job, {DocumentId("box", box): form.seen}, keep, form.token, form.mend)
    except EditConflict as wrong:
        return BENCH.answer(request, store.box(job, box), notice=_moved_on(wrong), status=409)
    except DoesNotFit as wrong:
        notice = did_not_fit(wrong, urls.box(job, box, "what-if", "end"), revision=str(form.seen), end="keep")
        return BENCH.answer(request, store.box(job, box), notice=notice, status=409)
    return RedirectResponse(urls.box(base, box), 303)


def _moved_on(wrong: EditConflict) -> Notice:
    since = f" Since then: {wrong.came_since}." if wrong.came_since else ""
    return Notice(
        "The box itself has changed since this copy was made, or the copy since you last saw it. Nothing was kept; "
        f"look at both, and make the change again on a new copy, or throw this one away.{since}"
    )
