"""What would make a box hold, what would make a house hold; each tried as one what-if; prices; the quote."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import cast

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.acts import NOTHING_SEEN
from ....store.snapshots import EditConflict
from ....store.store import Store
from ....trade.edits.base import Edit
from ....trade.edits.together import Together
from ....trade.model.errors import Rejected
from ....trade.model.job import Job
from ....trade.model.prices import MOVE_KINDS
from ....trade.rules.fit.box import DoesNotFit
from ....trade.rules.minutes import A_LOOK, MINUTES, WORK
from ....trade.search.whole_job import HOUR, Mended, to_mend, total
from ....trade.text.choices import choices
from ... import urls
from ...background import BoxSearch, HouseSearch, Searches
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house, named_edit
from ...templating import render
from .view import ORDERS, fix_view, sorted_rows, way_view

router = APIRouter(prefix="/jobs/{job}", include_in_schema=False)
BOX = "/boxes/{box}/fix"
BLINK = 0.25
"""How long a page waits for a search before it shows what has come out so far [s]."""


# a box


@router.get(BOX)
def show(request: Request, store: TheStore, job: str, box: str) -> Response:
    """Show the box as it is beside the ways to make it hold; the search begins by itself."""
    return _page(request, store, job, box=box)


@router.get(BOX + "/ways")
def ways_so_far(request: Request, store: TheStore, job: str, box: str) -> Response:
    """Show what has come out so far, asked again and again while the search goes on."""
    if not asked_by_htmx(request):
        return RedirectResponse(urls.box(job, box, "fix"), 303)
    return _page(request, store, job, box=box, template="fix/ways.html")


@router.post(BOX + "/stop")
def stop_box(request: Request, job: str, box: str) -> Response:
    """Stop the search for one box: the ways found so far stay."""
    known = _box_searches(request).of((job, box))
    if known is not None:
        known.stop()
        known.wait(BLINK)
    return RedirectResponse(urls.box(job, box, "fix"), 303)


@router.post(BOX + "/again")
def again_box(request: Request, store: TheStore, job: str, box: str) -> Response:
    """Begin the search for one box again, after it was stopped."""
    _search(request, store.mended_in(job, store.box(job, box)), job, box, again=True)
    return RedirectResponse(urls.box(job, box, "fix"), 303)


def _box_searches(request: Request) -> Searches[BoxSearch]:
    return cast(Searches[BoxSearch], request.app.state.box_searches)


def _search(request: Request, around: Job, job: str, box: str, *, again: bool = False) -> BoxSearch:
    return _box_searches(request).begin((job, box), around, lambda: BoxSearch(around, box), again=again)


def _page(
    request: Request,
    store: Store,
    job: str,
    *,
    box: str,
    notice: Notice = NO_NOTICE,
    status: int = 200,
    template: str = "fix/page.html",
) -> Response:
    kept = store.box(job, box)
    around = store.mended_in(job, kept)
    search = _search(request, around, job, box)
    search.wait(BLINK)
    view = fix_view(around, kept.check, search.found)
    return render(request, template, status, kept=kept, view=view, search=search, notice=notice, A_LOOK=A_LOOK)


@router.post(BOX + "/try")
def try_way(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """Make a way as a what-if, and go to the bench of the copy."""
    kept = store.box(job, box)
    if form.revision is not None and form.revision != kept.number:
        moved_on = Notice("The box has changed since. These are its ways now.")
        return _page(request, store, job, box=box, notice=moved_on, status=409)
    if kept.open_trial:
        return _page(request, store, job, box=box, notice=_open_trial(kept.box.name), status=409)
    number = form.fields.get("way", "1")
    search = _search(request, store.mended_in(job, kept), job, box)
    way = search.way(int(number)) if number.isdecimal() else None
    if way is None:
        return _page(request, store, job, box=box, notice=Notice("Choose one of the ways below."), status=422)
    return _tried(request, store, job, box, way.edits) or RedirectResponse(urls.box(store.try_out(job, box), box), 303)


def _open_trial(name: str) -> Notice:
    return Notice(f"A what-if of {name} is open already: keep it, or throw it away, first.")


def _tried(request: Request, store: Store, job: str, box: str, edits: Sequence[Edit]) -> Response | None:
    """Does edits in a what-if, as one change; the answer where one cannot be done."""
    trial = store.try_out(job, box)
    try:
        store.act(trial, Together(edits=tuple(edits), sentence="A fix, tried"))
    except (Rejected, DoesNotFit, EditConflict) as wrong:
        if trial != job:  # a what-if that was open before keeps what a person did in it
            store.end_trial(trial, NOTHING_SEEN, accept=False)
        return _page(request, store, job, box=box, notice=Notice(f"Nothing was changed: {wrong}"), status=409)
    return None


@router.get(BOX + "/quote")
def quote_box(request: Request, store: TheStore, job: str, box: str, way: int = 1) -> Response:
    """The quote for a box: the moves, the time, the cost."""
    kept = store.box(job, box)
    around = store.mended_in(job, kept)
    search = _search(request, around, job, box)
    chosen = search.way(way)
    if search.found is None or chosen is None:
        return RedirectResponse(urls.box(job, box, "fix"), 303)
    rows = [Mended(box, kept.box.name, kept.box.room, replace(search.found, ways=(chosen,)), agreed=True)]
    return _quote(request, kept.job.key, around, rows)


# a house


def _runs(request: Request) -> Searches[HouseSearch]:
    return cast(Searches[HouseSearch], request.app.state.house_searches)


def _current(request: Request, store: Store, job: str) -> HouseSearch | None:
    """The run of a job; None where there is none, or the house has changed since it was through."""
    run = _runs(request).of(job)
    over = run is not None and not run.going_on and run.job != store.whole_job(job)
    return None if over else run


@router.get("/fixes")
def run_page(request: Request, store: TheStore, job: str, by: str = "price", work: str = "") -> Response:
    """All failing and tight boxes of a house, and what would make them hold; the search begins by itself."""
    return _run(request, store, job, by=by, work=work)


@router.get("/fixes/rows")
def run_rows(request: Request, store: TheStore, job: str, by: str = "price", work: str = "") -> Response:
    """How far the run has come, asked again and again while it goes on."""
    if not asked_by_htmx(request):
        return RedirectResponse(urls.job(job, "fixes"), 303)
    return _run(request, store, job, by=by, work=work, template="fix/run.html")


def _run(
    request: Request,
    store: Store,
    key: str,
    *,
    by: str,
    work: str,
    notice: Notice = NO_NOTICE,
    template: str = "fix/job.html",
) -> Response:
    kept, run = store.job(key), _current(request, store, key)
    by = by if by in ORDERS else "price"
    rows = list(run.rows) if run else []
    shown = sorted_rows(rows, by, work)
    views = [(one, way_view(run.job, 1, one.way) if run and one.way else None) for one in shown]
    return render(
        request,
        template,
        409 if notice else 200,
        job=kept,
        run=run,
        rows=views,
        waiting=() if run else to_mend(store.whole_job(key)),
        sums=total(run.job, rows) if run else None,
        names={sheet.id: sheet.name for sheet in kept.sheets.values()},
        works=sorted({one.way.work for one in rows if one.way}),
        by=by,
        work=work,
        orders=ORDERS,
        notice=notice,
    )


@router.post("/fixes/start")
def start(request: Request, store: TheStore, job: str) -> Response:
    """A run over the house begins, or goes on."""
    whole = store.whole_job(job)
    _runs(request).begin(job, whole, lambda: HouseSearch(whole), again=True)
    if asked_by_htmx(request):
        return _run(request, store, job, by="price", work="", template="fix/run.html")
    return RedirectResponse(urls.job(job, "fixes"), 303)


@router.post("/fixes/stop")
def stop(request: Request, job: str) -> Response:
    """The run is stopped: what came out so far stays."""
    run = _runs(request).of(job)
    if run is not None:
        run.stop()
    return RedirectResponse(urls.job(job, "fixes"), 303)


@router.post("/fixes/try")
def try_all(request: Request, store: TheStore, job: str) -> Response:
    """All that came out, as one what-if: kept or thrown away whole."""
    run = _runs(request).of(job)
    ready = [one for one in run.rows if one.way] if run else []
    if run is None or run.going_on or not ready:
        return _run(
            request,
            store,
            job,
            by="price",
            work="",
            notice=Notice("Wait until the search is done and has something to do."),
        )
    if store.whole_job(job) != run.job:
        return _run(
            request, store, job, by="price", work="", notice=Notice("The house has changed since: begin the run again.")
        )
    first = ready[0].box
    if store.box(job, first).open_trial:
        return _run(request, store, job, by="price", work="", notice=_open_trial(ready[0].name))
    edits = [edit for one in ready if one.way for edit in one.way.edits]
    return _tried(request, store, job, first, edits) or RedirectResponse(
        urls.box(store.try_out(job, first), first), 303
    )


@router.get("/quote")
def quote(request: Request, store: TheStore, job: str) -> Response:
    """The quote for a house as it is now, from its run; where there is none yet, to the page that begins it."""
    run = _runs(request).of(job)
    if run is None or run.job != store.whole_job(job):
        return RedirectResponse(urls.job(job, "fixes"), 303)
    return _quote(request, job, run.job, list(run.rows))


def _quote(request: Request, key: str, job: Job, rows: Sequence[Mended]) -> Response:
    views = [(one, way_view(job, 1, one.way)) for one in rows if one.way]
    prices = {price.what: price.each for price in job.prices}
    names = {sheet.id: sheet.name for sheet in job.sheets}
    return render(
        request,
        "fix/quote.html",
        key=key,
        job=job,
        rows=views,
        sums=total(job, rows),
        prices=prices,
        names=names,
        HOUR=HOUR,
    )


# prices


@router.get("/prices")
def prices(request: Request, store: TheStore, job: str) -> Response:
    """How long kinds of work take here, and what has no price yet."""
    return _prices(request, store, job)


@router.post("/prices/edit/{name}")
def edit_prices(request: Request, store: TheStore, form: TheAct, job: str, name: str) -> Response:
    """An act on the prices of a job."""

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _prices(request, store, job, errors, notice)

    return act_on_house(store, form, job, read=named_edit(name, form), back=urls.job(job, "prices"), refused=refused)


def _prices(
    request: Request, store: Store, job: str, errors: FormErrors = NO_ERRORS, notice: Notice = NO_NOTICE
) -> Response:
    kept = store.job(job)
    own = {one.kind: one.minutes for one in kept.head.moves}
    named_kinds = dict(choices("kind of work"))
    kinds = [(kind, named_kinds[kind], WORK[kind], int(MINUTES[kind]), own.get(kind)) for kind in MOVE_KINDS]
    named = {price.what for price in kept.head.prices}
    asked = [
        HOUR,
        *(id for id in kept.sheets),
        *(one.name for one in kept.head.stock),
        *(one.name for one in kept.head.lamps),
    ]
    status = 409 if notice else 422 if errors is not NO_ERRORS else 200
    return render(
        request,
        "fix/prices.html",
        status,
        job=kept,
        kinds=kinds,
        names={sheet.id: sheet.name for sheet in kept.sheets.values()},
        unpriced=[what for what in dict.fromkeys(asked) if what not in named],
        errors=errors,
        notice=notice,
        HOUR=HOUR,
    )
