"""For programs: jobs as files, checks as data, and a page that says so without loading anything from elsewhere."""

from __future__ import annotations

import json
from typing import Any

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from ....files.job_json import BadFile, job_schema, read_job
from ....files.report import check_data
from ....trade.rules.check import check_job
from ...beside import beside
from ...deps import TheStore
from ...templating import render

router = APIRouter()


@router.get("/docs", include_in_schema=False)
def docs(request: Request) -> Response:
    """Every route for programs, from the application's own OpenAPI description."""
    described = request.app.openapi()
    routes = [
        (method.upper(), path, described_as)
        for path, methods in described["paths"].items()
        for method, described_as in methods.items()
    ]
    return render(request, "api/page.html", routes=routes, schema=json.dumps(job_schema(), indent=1))


@router.get("/schema/job.json", tags=["files"])
def schema() -> dict[str, Any]:
    """The JSON Schema of the job file."""
    return job_schema()


@router.get("/api/jobs", tags=["jobs"])
def jobs(store: TheStore) -> list[dict[str, Any]]:
    """All jobs: key, name, and how many boxes stand how."""
    return [{"key": card.key, "name": card.name, "boxes": card.states} for card in store.jobs()]


@router.get("/api/jobs/{job}/check", tags=["jobs"], responses={404: {"description": "There is no such job."}})
async def check_kept(store: TheStore, job: str) -> dict[str, Any]:
    """All answers of a job kept here, as `nail-count check --json` prints them."""

    def check() -> dict[str, Any]:
        whole = store.whole_job(job)
        return check_data(whole, check_job(whole))

    return await beside(check)


@router.post(
    "/api/check",
    tags=["files"],
    responses={
        413: {"description": "More than a job file ever is."},
        422: {"description": "What is wrong, and where."},
    },
    openapi_extra={"requestBody": {"required": True, "content": {"application/json": {"schema": {"type": "object"}}}}},
)
async def check_sent(request: Request) -> Response:
    """All answers for the job file sent as the body; 422 with what is wrong and where."""
    content = await request.body()

    def check() -> dict[str, Any]:
        job = read_job(content)
        return check_data(job, check_job(job))

    try:
        return JSONResponse(await beside(check))
    except BadFile as wrong:
        problems = [{"where": problem.where, "expected": problem.sentence} for problem in wrong.problems]
        return JSONResponse({"complaints": problems}, 422)
