"""Jobs: listed, begun, imported, removed; each by its head."""

from __future__ import annotations

from typing import IO, Annotated

from anyio import to_thread
from fastapi import APIRouter, Query, Request
from starlette.responses import Response

from ...files.archive import BadArchive
from ...files.job_json import BadFile, write_job
from ...trade.model.errors import Rejected
from ...trade.model.job import Job
from .. import urls
from ..deps import TheStore, body_file
from ..threads import beside
from ..transfers import import_archive, import_job
from .common import MOST, After, Key, Limit, Number, as_kept, piece, problems
from .conditions import IdempotencyKey, IfNoneMatch, known_already, refuse_other, token_of
from .shapes import ChangeShown, JobShown, JobSummary, Made, Page

router = APIRouter(tags=["jobs"])


@router.get("/jobs", responses=problems())
def list_jobs(store: TheStore, after: After = 0, limit: Limit = MOST) -> Page[JobSummary]:
    """All jobs, the newest first; removed ones too, marked so."""
    return piece([JobSummary.of(card) for card in store.jobs()], after, limit, urls.api("jobs"))


@router.post(
    "/jobs", status_code=201, responses=problems(400, 413),
    openapi_extra={"requestBody": {
        "required": True, "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Job"}}},
    }},
)  # fmt: skip
async def start_job(
    request: Request, response: Response, store: TheStore, idempotency_key: IdempotencyKey = None
) -> Made:
    """Start a job from a job file; at the least its format, version and name.

    Without boxes and sheets it begins with the sheets that ship.
    """
    content = await request.body()
    token = token_of(idempotency_key, request, content)

    def start() -> str:
        refuse_other(store, None, idempotency_key, token)
        try:
            return import_job(store, content, token, begins=True)
        except BadFile as wrong:
            raise Rejected.of(wrong.problems) from wrong

    key = await to_thread.run_sync(start)
    response.headers["location"] = urls.api("jobs", key)
    return Made(key=key)


@router.post(
    "/archives", status_code=201, responses=problems(400, 413),
    openapi_extra={"requestBody": {
        "required": True, "content": {"application/zip": {"schema": {"type": "string", "format": "binary"}}},
    }},
)  # fmt: skip
async def put_archive(request: Request, response: Response, store: TheStore) -> Made:
    """An archive, with its history and pictures, imported as a new job."""

    def put(file: IO[bytes]) -> str:
        try:
            return import_archive(store, file)
        except BadArchive as wrong:
            raise Rejected(str(wrong)) from wrong

    async with body_file(request) as file:
        key = await to_thread.run_sync(put, file)
    response.headers["location"] = urls.api("jobs", key)
    return Made(key=key)


@router.get("/jobs/{job}", response_model=JobShown, responses=problems())
def show_job(store: TheStore, job: Key, if_none_match: IfNoneMatch = None) -> Response:
    """A job without its sheets, boxes and runs."""
    kept = store.job(job)
    shown = JobShown(key=kept.key, head=kept.head)
    return known_already(if_none_match, kept.number) or as_kept(shown, kept.number)


@router.delete("/jobs/{job}", status_code=204, responses=problems())
def put_job_away(store: TheStore, job: Key) -> None:
    """Takes a job off the list; everything in it stays."""
    store.remove_job(job)


@router.post("/jobs/{job}/take-up", status_code=204, responses=problems())
def take_job_up(store: TheStore, job: Key) -> None:
    """Puts a job back onto the list."""
    store.remove_job(job, back=True)


@router.get("/jobs/{job}/file", response_model=Job, responses=problems())
async def job_file(store: TheStore, job: Key) -> Response:
    """The whole job, as its file: all but pictures, history and setup codes."""
    text = await beside(lambda: write_job(store.whole_job(job)))
    return Response(text, media_type="application/json")


@router.get("/jobs/{job}/changes", responses=problems())
def list_changes(
    store: TheStore,
    job: Key,
    before: Annotated[int | None, Query(ge=1, le=2**53, description="Only those before this one.")] = None,
    limit: Limit = MOST,
) -> Page[ChangeShown]:
    """What was done to a job, the newest first."""
    made = store.changes.before(job, before, limit + 1)
    more = None
    if len(made) > limit:
        asked = [("before", str(made[limit - 1].number)), ("limit", str(limit))]
        more = urls.asking(urls.api("jobs", job, "changes"), asked)
    return Page(items=[ChangeShown.of(one) for one in made[:limit]], next=more)


@router.get("/jobs/{job}/changes/{number}", responses=problems())
def show_change(store: TheStore, job: Key, number: Number) -> ChangeShown:
    """One act that was done to a job."""
    return ChangeShown.of(store.changes.one(job, number))
