"""How far a house has come, as a picture: a row a box, a cell a phase, filled as far as it is."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.plan.progress import Milestone, progress_of, totals
from ....trade.rules.check import fitting_job
from ... import urls
from ...deps import TheStore
from ...paging import SHOWN, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/progress", include_in_schema=False)
SCREENS: Mapping[Milestone, str] = {
    "survey": "survey", "found": "hookup-found", "plan": "", "hook-up": "hookup", "parts": "/parts",
    "installed": "install", "proven": "install", "commissioned": "commission", "recorded": "commission",
}  # fmt: skip
"""The screen of a box where each is worked; with a slash, the screen of the house."""
CALLED: Mapping[Milestone, str] = {
    "survey": "Survey", "found": "Old wiring", "plan": "Devices and loads", "hook-up": "Hook-up", "parts": "Parts",
    "installed": "Installed", "proven": "Tried by hand", "commissioned": "Set up", "recorded": "Recorded as built",
}  # fmt: skip
"""What each is called on the page."""


@router.get("")
def show(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """All boxes, so many at a time, those that hold up the earliest phase first."""
    rows = sorted(progress_of(fitting_job(store.whole_job(job))), key=lambda row: row.first_open)

    def screen(box: str, milestone: Milestone) -> str:
        path = SCREENS[milestone]
        return urls.job(job, path[1:]) if path[:1] == "/" else urls.box(job, box, path)

    return render(
        request,
        "progress/page.html",
        job=store.job(job),
        paged=paged(rows, start, SHOWN),
        totals=totals(rows),
        called=CALLED,
        screens=screen,
    )
