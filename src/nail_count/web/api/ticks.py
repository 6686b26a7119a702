"""Ticks, setup codes and pictures."""

from __future__ import annotations

from typing import Annotated

from anyio import to_thread
from fastapi import APIRouter, Body, Query, Request
from pydantic import ConfigDict, Field
from starlette.responses import Response

from ...trade.edits.fields import now
from ...trade.model.errors import Rejected
from ...trade.model.thing import Id, Mark, Thing
from ...trade.model.tick import Step, Tick, refusal
from .. import urls
from ..deps import TheStore
from ..ticking import CODE, refuse_untimely
from ..workers import photo_taken_in
from .common import MOST, After, Key, Limit, as_kept, content, piece, problems
from .conditions import IdempotencyKey, refuse_other, token_of
from .shapes import Made, Page

router = APIRouter(tags=["ticks"])


class TickAsked(Thing):
    """A step done, or not done and why; or a tick that does not hold."""

    model_config = ConfigDict(defer_build=False)  # FastAPI takes the body of a request only as a kind that is built

    box: Id | None = None
    """None: ticks of parts."""
    step: Step | None = None
    """What was done; None where a tick is taken back."""
    by: Annotated[str, Field(max_length=60)] = ""
    because: Annotated[str, Field(max_length=200)] = ""
    """Why it was not done; "": it was."""
    takes_back: Mark | None = None
    """The tick that does not hold."""


class Code(Thing):
    """The setup code of a device."""

    model_config = ConfigDict(defer_build=False)  # FastAPI takes the body of a request only as a kind that is built

    code: Annotated[str, Field(min_length=1, max_length=200)]


@router.get("/jobs/{job}/ticks", responses=problems())
def list_ticks(
    store: TheStore, job: Key, box: Annotated[str, Query(max_length=60)] = "", after: After = 0, limit: Limit = MOST
) -> Page[Tick]:
    """The ticks of a job, or of one of its boxes, in the order they were made."""
    return piece(store.ticks(job, box), after, limit, urls.api("jobs", job, "ticks"), {"box": box} if box else None)


@router.post("/jobs/{job}/ticks", status_code=201, response_model=Tick, responses=problems(400))
async def make_tick(
    request: Request, store: TheStore, job: Key, asked: Annotated[TickAsked, Body()],
    idempotency_key: IdempotencyKey = None,
) -> Response:  # fmt: skip
    """A tick made: refused where it comes too early, as on the ladder. None is ever changed."""
    token = token_of(idempotency_key, request, await request.body())

    def make() -> Tick:
        refuse_other(store, job, idempotency_key, token)
        if known := store.tick_of(job, token):
            return known
        if asked.takes_back is not None:
            old = {one.id: one for one in store.ticks(job)}.get(asked.takes_back)
            if old is None or old.takes_back is not None:
                raise Rejected("Name one of the ticks made, to take it back", "takes_back")
            return store.tick(job, Tick(id="t0", box=old.box, step=old.step, at=now(), takes_back=old.id), token)
        if asked.step is None:
            raise Rejected("Send what was done, or a tick to take back", "step")
        refuse_untimely(store, job, asked.box, asked.step, bool(asked.because))
        step = refusal(asked.step) if asked.because and asked.box else asked.step
        made = Tick(id="t0", box=asked.box, step=step, at=now(), by=asked.by, because=asked.because)
        return store.tick(job, made, token)

    answer = as_kept(await to_thread.run_sync(make))
    answer.status_code = 201
    return answer


@router.put("/jobs/{job}/boxes/{box}/codes/{device}", status_code=204, responses=problems())
def put_code(store: TheStore, job: Key, box: Key, device: Key, code: Annotated[Code, Body()]) -> None:
    """Keeps the setup code of a device, apart from everything else. It is shown on its page only, never here."""
    if not CODE.fullmatch(code.code):
        raise Rejected("Enter the letters and figures of its code", "code")
    store.put_code(job, box, device, code.code)


@router.delete("/jobs/{job}/boxes/{box}/codes/{device}", status_code=204, responses=problems())
def delete_code(store: TheStore, job: Key, box: Key, device: Key) -> None:
    """Deletes a setup code for good."""
    store.delete_code(job, box, device)


@router.post(
    "/photos", status_code=201, responses=problems(413),
    openapi_extra={"requestBody": {"required": True, "content": {
        kind: {"schema": {"type": "string", "format": "binary"}} for kind in ("image/jpeg", "image/png", "image/webp")
    }}},
)  # fmt: skip
async def add_photo(request: Request, response: Response, store: TheStore) -> Made:
    """A picture, turned upright and made safe to keep; its key is what add-photo names."""
    photo = await to_thread.run_sync(photo_taken_in, await request.body())
    await to_thread.run_sync(store.add_photo, photo)
    response.headers["location"] = urls.api("photos", photo.id)
    return Made(key=photo.id)


@router.get(
    "/photos/{photo}", response_class=Response, responses=content("image/jpeg")
)  # fmt: skip
def show_photo(store: TheStore, photo: Key, small: bool = False) -> Response:
    """A picture as JPEG."""
    return Response(store.photo(photo, small), media_type="image/jpeg")
