"""The hook-up of a box: as planned, as found; thrown and looked at; the readings sheet."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.edits.fields import now
from ....trade.model.conductor import MOST_VOLTS
from ....trade.model.errors import Rejected
from ....trade.model.measure import parse_number
from ....trade.model.tick import Step, Tick
from ....trade.wiring.hookup.stages import Stage
from ... import urls
from ...box_screen import Screen, screen_router
from ...deps import TheAct, TheStore, asked_by_htmx
from ...form_errors import FormErrors
from ...templating import render
from .sections import live_shown, sections_of
from .view import PATHS, hookup_view, live_view


def _screen(stage: Stage) -> Screen:
    return Screen(PATHS[stage], "hookup/page.html", sections_of(stage), wired=True)


PLANNED, FOUND = _screen("planned"), _screen("found")
router, found_router = screen_router(PLANNED), screen_router(FOUND)


def _live(router: APIRouter, screen: Screen, stage: Stage) -> None:
    @router.get("/live")
    def live(request: Request, store: TheStore, job: str, box: str) -> Response:
        """The drawing in the state the address says: breakers and switches thrown."""
        kept, said = screen.of(store, job, box), dict(request.query_params)
        if asked_by_htmx(request):
            return replace(screen, sections=sections_of(stage, said)).answer(request, kept)
        drawn = live_shown(live_view(kept, stage, said))
        back = urls.box(job, box, screen.path)
        return render(request, "hookup/live_page.html", kept=kept, drawn=drawn, back=back, screen=back)


_live(router, PLANNED, "planned")
_live(found_router, FOUND, "found")


@router.post("/measure")
def measure(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A reading taken at a point of the hook-up: ticked, and compared with the expected value."""
    kept, point, state = PLANNED.of(store, job, box), form.fields.get("point", ""), form.fields.get("state", "")
    try:
        hookup_view("planned", kept).refuse_reading(point, state)
        step = Step(kind="measured", subjects=(point, state), volts=_volts(form.fields.get("volts", "")))
        store.tick(job, Tick(id="t0", box=box, step=step, at=now()), form.token)
    except Rejected as wrong:
        return PLANNED.answer(request, kept, FormErrors(form.asked_by, form.fields, wrong.problems))
    return PLANNED.answer(request, PLANNED.of(store, job, box))


def _volts(typed: str) -> Fraction:
    """What a meter showed, as people write it: 118, 118 V. Raises Rejected."""
    try:
        volts = parse_number(typed.strip().rstrip("vV"))
    except ValueError as wrong:
        raise Rejected(str(wrong), "volts") from wrong
    if volts > MOST_VOLTS:
        raise Rejected(f"Enter a reading from 0 to {MOST_VOLTS} V", "volts")
    return volts


@router.post("/untick")
def untick(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A reading that does not hold is taken back; it stays among the ticks."""
    known = {tick.id: tick for tick in store.ticks(job, box)}
    tick = known.get(form.fields.get("tick", ""))
    if tick is not None:
        store.tick(job, Tick(id="t0", box=box, step=tick.step, at=now(), takes_back=tick.id), form.token)
    return PLANNED.answer(request, PLANNED.of(store, job, box))


@router.get("/sheet")
def sheet(request: Request, store: TheStore, job: str, box: str) -> Response:
    """The plan and the readings to expect, with room to write: for the ladder."""
    kept = PLANNED.of(store, job, box)
    view = hookup_view("planned", kept)
    screen = urls.box(job, box, PLANNED.path)
    return render(request, "hookup/sheet.html", kept=kept, view=view, drawn=live_shown(view.live), screen=screen)
