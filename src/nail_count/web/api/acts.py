"""Acts of programs: edits done as one change, taken back and brought back, tried out."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

from anyio import to_thread
from fastapi import APIRouter, Body, Depends, Query, Request
from starlette.responses import Response

from ...store.revisions import Direction
from ...store.snapshots import BoxSnapshot, Done
from ...store.store import Store
from ...trade.documents import HEAD, DocumentId
from ...trade.edits.datasheets import ChangeSheet
from ...trade.model.box import Box
from ...trade.model.errors import Problem, Rejected
from .. import urls
from ..deps import TheStore
from .common import Key, Number, as_kept, problems
from .conditions import (
    IdempotencyKey,
    IfMatch,
    etag,
    must_have_seen,
    refuse_other,
    seen_number,
    token_of,
)  # fmt: skip
from .edits import BY_NAME, ChangeAsked
from .shapes import ChangeShown, Made

router = APIRouter(tags=["acts"])
Asked = Annotated[ChangeAsked, Body()]
DONE = problems(400, 412, 413)


@dataclass(frozen=True, slots=True)
class Call:
    """What a program says beside what it asks."""

    request: Request
    response: Response
    if_match: str | None
    key: str | None


def _call(
    request: Request, response: Response, if_match: IfMatch = None, idempotency_key: IdempotencyKey = None
) -> Call:
    return Call(request, response, if_match, idempotency_key)


TheCall = Annotated[Call, Depends(_call)]
STEPPED = problems(400, 412, 428)
Mend = Annotated[bool, Query(description="Leave out of boxes what would no longer fit, instead of refusing.")]


async def _act(call: Call, store: Store, job: str, *, at: DocumentId, number: int, asked: ChangeAsked) -> ChangeShown:
    """Do the act asked for on a document that is at a revision now."""
    token = token_of(call.key, call.request, await call.request.body())

    def do() -> Done:
        refuse_other(store, job, call.key, token)
        # One that was done already has itself changed what was seen before it.
        seen = None if store.changes.is_done(job, token) else seen_number(call.if_match, number)
        also = {} if seen is None else {at: seen}
        return store.act(job, asked.edit(), {**asked.seen_ids(), **also}, token, asked.mend)

    return _told(call.response, store, job, at, await to_thread.run_sync(do))


def _told(response: Response, store: Store, job: str, at: DocumentId, done: Done) -> ChangeShown:
    """What was done, with the ETag of what it was done to."""
    change = store.changes.one(job, done.change)
    left = [one.revision for one in change.touched if one.id == at]
    if left:
        response.headers["etag"] = etag(left[-1])
    return ChangeShown.of(change)


@router.post("/jobs/{job}/edits", responses=DONE)
async def edit_job(call: TheCall, store: TheStore, job: Key, asked: Asked) -> ChangeShown:
    """Any edits of a job, done as one change: of the house, its boxes, sheets and runs. If-Match is of the job."""
    return await _act(call, store, job, at=HEAD, number=store.job(job).number, asked=asked)


@router.post("/jobs/{job}/boxes/{box}/edits", responses=DONE)
async def edit_box(call: TheCall, store: TheStore, job: Key, box: Key, asked: Asked) -> ChangeShown:
    """Edits of one box, done as one change. `box` need not stand in them."""
    number = store.box(job, box).number
    about = asked.changed(edits=tuple(_of_box(n, one, box) for n, one in enumerate(asked.edits)))
    return await _act(call, store, job, at=DocumentId("box", box), number=number, asked=about)


def _of_box(number: int, said: dict[str, Any], box: str) -> dict[str, Any]:
    """An edit with the box it is about. Raises Rejected, where it is about no box or another one."""
    kind = BY_NAME.get(str(said.get("edit")))
    if kind is not None and ("box" not in kind.model_fields or said.get("box", box) != box):
        raise Rejected.of([Problem(("edits", number, "box"), f"Send only edits of the box {box} only")])
    return {**said, "box": box}


@router.post("/jobs/{job}/sheets/{sheet}/edits", responses=DONE)
async def edit_sheet(call: TheCall, store: TheStore, job: Key, sheet: Key, asked: Asked) -> ChangeShown:
    """A changed datasheet, in place of the one there is."""
    number, edit = store.sheet(job, sheet).number, asked.edit()
    if not isinstance(edit, ChangeSheet) or edit.sheet.id != sheet:
        raise Rejected.of([Problem(("edits",), f"Send one change-sheet of {sheet}")])
    return await _act(call, store, job, at=DocumentId("sheet", sheet), number=number, asked=asked)


async def _step(
    call: Call, store: Store, job: str, *, at: DocumentId, number: int, way: Direction, mend: bool
) -> ChangeShown:
    """Undoes or redoes what was done to a document that is at a revision now."""
    token = token_of(call.key, call.request, await call.request.body())

    def do() -> Done:
        refuse_other(store, job, call.key, token)
        seen = number if store.changes.is_done(job, token) else must_have_seen(call.if_match, number)
        done = store.step(job, at, seen, way=way, token=token, mend=mend)
        if done is None:
            raise Rejected(f"There is nothing to {way}")
        return done

    return _told(call.response, store, job, at, await to_thread.run_sync(do))


def _steps(way: Direction) -> None:
    """The three routes of a direction."""
    words = "Takes back" if way == "undo" else "Brings back what was taken back of"
    about = f"{words} the newest change that touched {{}}, whole. Send If-Match."

    @router.post(f"/jobs/{{job}}/{way}", name=f"{way}_job", responses=STEPPED, description=about.format("the house"))
    async def step_job(call: TheCall, store: TheStore, job: Key, mend: Mend = False) -> ChangeShown:
        return await _step(call, store, job, at=HEAD, number=store.job(job).number, way=way, mend=mend)

    of_box = f"/jobs/{{job}}/boxes/{{box}}/{way}"

    @router.post(of_box, name=f"{way}_box", responses=STEPPED, description=about.format("a box"))
    async def step_box(call: TheCall, store: TheStore, job: Key, box: Key, mend: Mend = False) -> ChangeShown:
        return await _step(
            call, store, job, at=DocumentId("box", box), number=store.box(job, box).number, way=way, mend=mend
        )

    of_sheet = f"/jobs/{{job}}/sheets/{{sheet}}/{way}"

    @router.post(of_sheet, name=f"{way}_sheet", responses=STEPPED, description=about.format("a sheet"))
    async def step_sheet(call: TheCall, store: TheStore, job: Key, sheet: Key, mend: Mend = False) -> ChangeShown:
        number = store.sheet(job, sheet).number
        return await _step(call, store, job, at=DocumentId("sheet", sheet), number=number, way=way, mend=mend)


@router.post("/jobs/{job}/boxes/{box}/take-back/{number}", response_model=Box, responses=STEPPED)
async def take_box_back(
    call: TheCall, *, store: TheStore, job: Key, box: Key, number: Number, mend: Mend = False
) -> Response:
    """The box becomes as it was at an earlier revision, by one more. If-Match must be sent."""
    token = token_of(call.key, call.request, await call.request.body())
    now = store.box(job, box).number

    def do() -> BoxSnapshot:
        refuse_other(store, job, call.key, token)
        seen = now if store.changes.is_done(job, token) else must_have_seen(call.if_match, now)
        return store.take_back(job, box, seen, number=number, token=token, mend=mend)

    kept = await to_thread.run_sync(do)
    return as_kept(kept.box, kept.number)


_steps("undo")
_steps("redo")


@router.post("/jobs/{job}/boxes/{box}/trials", status_code=201, responses=problems())
def try_out(response: Response, store: TheStore, job: Key, box: Key) -> Made:
    """A what-if begun at a box, or the one that is open there: a job of its own key, seen as it would be."""
    trial = store.try_out(job, box)
    response.headers["location"] = urls.api("jobs", trial)
    return Made(key=trial)


@router.post("/jobs/{job}/keep", responses=problems(412))
async def keep_trial(
    request: Request, store: TheStore, job: Key, mend: Mend = False, idempotency_key: IdempotencyKey = None
) -> Made:
    """Everything that was tried out becomes so, as one change. `job`: the key of the what-if."""
    token = token_of(idempotency_key, request, await request.body())
    return Made(key=await to_thread.run_sync(lambda: store.end_trial(job, {}, accept=True, token=token, mend=mend)))


@router.post("/jobs/{job}/throw-away", responses=problems())
def throw_trial_away(store: TheStore, job: Key) -> Made:
    """What was tried out is forgotten. `job`: the key of the what-if."""
    return Made(key=store.end_trial(job, {}, accept=False))
