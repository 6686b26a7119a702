"""What a house can be taken out as: the job file, a spreadsheet, a table of each kind, each drawing on its own."""

from __future__ import annotations

from typing import Any, Literal
from urllib.parse import quote

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.of_paper import drawing_of
from ....files.svg import svg
from ....files.tables import TABLE_NAMES, TABLES, TableName, table_csv
from ....store.snapshots import NotFound
from ....trade.plan.records.paper import Drawn
from ....trade.rules.check import fitting_job
from ...deps import TheStore
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/take-out", include_in_schema=False)
What = Literal["count", "front", "hook-up"]
DRAWINGS: tuple[tuple[What, str], ...] = (
    ("count", "the count as a rail"), ("front", "the box from the front"), ("hook-up", "what joins what"),
)  # fmt: skip


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """Everything a house can be taken out as."""
    kept = store.house(job)
    about: dict[str, Any] = {"cards": kept.cards, "tables": TABLES, "names": TABLE_NAMES, "drawings": DRAWINGS}
    return render(request, "take_out/page.html", job=kept.job, **about)


@router.get("/spreadsheet")
def spreadsheet(store: TheStore, job: str) -> Response:
    """All of it as a spreadsheet, its counts as formulas."""
    # Read where it is needed: a server starts without it.
    from ....files.xlsx import job_xlsx

    content = job_xlsx(fitting_job(store.whole_job(job)))
    kind = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    return Response(content, media_type=kind, headers=_named(f"{job}.xlsx"))


@router.get("/tables/{name}")
def table(store: TheStore, job: str, name: TableName) -> Response:
    """One table, as CSV."""
    content = table_csv(fitting_job(store.whole_job(job)), name)
    return Response(content, media_type="text/csv", headers=_named(f"{job}-{name}.csv"))


@router.get("/drawings/{box}/{what}")
def drawing(store: TheStore, job: str, box: str, what: What) -> Response:
    """One drawing of one box, as an SVG that stands alone."""
    whole = fitting_job(store.whole_job(job))
    if box not in {one.id for one in whole.boxes}:
        raise NotFound("expected one of the boxes of this job")
    content = svg(drawing_of(whole, Drawn(what, box)))
    return Response(content, media_type="image/svg+xml", headers=_named(f"{job}-{box}-{what}.svg"))


def _named(name: str) -> dict[str, str]:
    return {"content-disposition": f"attachment; filename*=UTF-8''{quote(name)}"}
