"""What the routes for programs share: their problems, pieces of lists, models as they are kept."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, TypeVar

from fastapi import Path, Query, Request
from pydantic import BaseModel
from starlette.responses import Response

from ...files.job_json import holds_halves
from ...trade.model.errors import Rejected
from .. import urls
from ..problems import MEDIA_TYPE
from .conditions import etag
from .shapes import Page

T = TypeVar("T")
Key = Annotated[str, Path(min_length=1, max_length=60, description="By what it is called in addresses.")]
Number = Annotated[int, Path(ge=1, le=2**53, description="Which, from 1.")]
Limit = Annotated[int, Query(ge=1, le=200, description="At most so many.")]
After = Annotated[int, Query(ge=0, le=10_000_000, description="How many come before.")]
MOST = 50


def problems(*statuses: int) -> dict[int | str, dict[str, Any]]:
    """The problems a route may answer with, for its description."""
    said = {"content": {MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/ProblemDetails"}}}}
    return {status: {**said, "description": _WORDS[status]} for status in sorted({401, 404, 422, *statuses})}


def content(*kinds: str) -> dict[int | str, dict[str, Any]]:
    """What a route answers that is no JSON, by its media types, and the problems it may answer with."""
    return {200: {"content": {kind: {} for kind in kinds}}, **problems()}


_WORDS = {
    400: "It cannot be read.",
    401: "A token is needed, or the one brought is not good.",
    404: "It is not here.",
    409: "Something is in the way.",
    412: "What was seen has changed since; nothing was done.",
    413: "It is too large.",
    422: "Something in it is not as expected; what and where, `errors` says.",
    428: "Send the revision you saw, with If-Match.",
}


async def whole_characters(request: Request) -> None:
    """Refuse JSON with halves of characters in it, which no file and no answer could hold.

    Raises:
        Rejected: there are some.
    """
    if "json" not in request.headers.get("content-type", ""):
        return
    if holds_halves((await request.body()).decode("utf-8", "replace")):
        raise Rejected("enter text in whole characters; this has halves of some (\\ud800 to \\udfff)")


def piece(things: Sequence[T], after: int, limit: int, path: str, sought: Mapping[str, str] | None = None) -> Page[T]:
    """A piece of a list.

    Args:
        after: how many come before.
        limit: at most how many.
        path: where the list is.
        sought: what of it is sought, to be asked of the next piece too.
    """
    end = after + limit
    asked = [("after", str(end)), ("limit", str(limit)), *(sought or {}).items()]
    following = urls.asking(path, asked) if end < len(things) else None
    return Page(items=list(things[after:end]), next=following)


def as_kept(thing: BaseModel, number: int | None = None) -> Response:
    """A thing as it stands in a job file, with its revision as ETag."""
    headers = {} if number is None else {"etag": etag(number)}
    return Response(thing.model_dump_json(exclude_none=True), media_type="application/json", headers=headers)
