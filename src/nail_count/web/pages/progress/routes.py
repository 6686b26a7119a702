"""How far a house has come: every box, stage by stage in the order of work, each a way to its screen."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.plan.progress import MILESTONES, Milestone, progress_of, totals
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


@router.get("")
def show(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """All boxes, so many at a time."""
    rows = progress_of(fitting_job(store.whole_job(job)))

    def screen(box: str, milestone: Milestone) -> str:
        path = SCREENS[milestone]
        return urls.job(job, path[1:]) if path[:1] == "/" else urls.box(job, box, path)

    return render(
        request,
        "progress/page.html",
        job=store.job(job),
        paged=paged(rows, start, SHOWN),
        totals=totals(rows),
        stages=MILESTONES,
        screens=screen,
    )
