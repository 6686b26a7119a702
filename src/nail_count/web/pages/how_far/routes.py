"""How far a house has come: every box, stage by stage in the order of work, each a way to its screen."""

from __future__ import annotations

from collections.abc import Mapping

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....trade.plan.how_far import STAGES, StageName, how_far, totals
from ....trade.rules.check import fitting_job
from ...deps import TheStore
from ...paging import SHOWN, paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/progress", include_in_schema=False)
SCREENS: Mapping[StageName, str] = {
    "survey": "survey", "found": "hookup-found", "plan": "", "hook-up": "hookup", "installed": "install",
    "proven": "install", "commissioned": "commission", "recorded": "commission",
}  # fmt: skip
"""Where each stage is worked; parts are the house's."""


@router.get("")
def show(request: Request, store: TheStore, job: str, start: int = 0) -> Response:
    """All boxes, so many at a time."""
    rows = how_far(fitting_job(store.whole_job(job)))
    return render(
        request,
        "how_far/page.html",
        job=store.job(job),
        paged=paged(rows, start, SHOWN),
        totals=totals(rows),
        stages=STAGES,
        screens=SCREENS,
    )
