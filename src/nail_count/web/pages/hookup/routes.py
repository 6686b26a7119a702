"""The hook-up of a box: as planned, as found; thrown and looked at; the readings sheet."""

from __future__ import annotations

from functools import partial

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.wiring.hookup.graph import Stage
from ...box_screen import Screen, one_part, screen_router
from ...deps import TheStore, asked_by_htmx
from ...templating import render
from .view import PATHS, hookup_view, live_view


def _screen(stage: Stage) -> Screen:
    view = partial(hookup_view, stage)
    return Screen(PATHS[stage], "hookup/page.html", one_part("hookup", "hookup/hookup.html", view), wired=True)


PLANNED, FOUND = _screen("planned"), _screen("found")
router, found_router = screen_router(PLANNED), screen_router(FOUND)


def _live(router: APIRouter, screen: Screen, stage: Stage) -> None:
    @router.get("/live")
    def live(request: Request, store: TheStore, job: str, box: str) -> Response:
        """The drawing in the state the address says: breakers and switches thrown."""
        kept = screen.of(store, job, box)
        shown = live_view(kept, stage, dict(request.query_params))
        template = "hookup/live.html" if asked_by_htmx(request) else "hookup/live_page.html"
        return render(request, template, kept=kept, live=shown)


_live(router, PLANNED, "planned")
_live(found_router, FOUND, "found")


@router.get("/sheet")
def sheet(request: Request, store: TheStore, job: str, box: str) -> Response:
    """The plan and the readings to expect, with room to write: for the ladder."""
    kept = PLANNED.of(store, job, box)
    return render(request, "hookup/sheet.html", kept=kept, view=hookup_view("planned", kept))
