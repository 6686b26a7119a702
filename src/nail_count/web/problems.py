"""The answer to a program when something goes wrong: problem details, as RFC 9457 has them."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import JSONResponse

from ..trade.model.errors import Problem

MEDIA_TYPE = "application/problem+json"
MOST_TOLD = 50
"""Of the things that are wrong, so many are told."""
KINDS: dict[int, str] = {
    400: "not-understood", 401: "no-token", 403: "refused", 404: "not-here", 405: "not-that-way", 409: "in-the-way",
    412: "changed-since", 413: "too-large", 415: "other-kind", 422: "not-done", 428: "say-what-you-saw",
    500: "broken", 507: "no-room",
}  # fmt: skip
"""What kind of problem each status is."""


class Wrong(BaseModel):
    """One thing that is wrong with what was sent."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    pointer: str
    """Where, as a JSON pointer into what was sent (RFC 6901); "" for the whole."""
    detail: str
    """What was expected there."""


class ProblemDetails(BaseModel):
    """A problem, as RFC 9457 has it. What kind it is, `type` says; the sentences are for people."""

    model_config = ConfigDict(use_attribute_docstrings=True)

    type: str
    """Which kind: urn:nail-count:problem:changed-since and others."""
    title: str
    status: Annotated[int, Field(ge=400, le=599)]
    detail: str
    errors: list[Wrong] = []
    """Each thing that is wrong, with its place."""


def problem(
    status: int, title: str, detail: str, problems: Sequence[Problem] = (), headers: dict[str, str] | None = None
) -> JSONResponse:
    """The answer that says so.

    Args:
        status: of HTTP.
        title: of this kind of problem.
        detail: the sentence.
        problems: the errors in the request.
        headers: of the answer.
    """
    said = ProblemDetails(
        type=f"urn:nail-count:problem:{KINDS.get(status, 'refused')}", title=title, status=status,
        detail=detail, errors=[Wrong(pointer=pointer(one), detail=one.sentence) for one in problems[:MOST_TOLD]],
    )  # fmt: skip
    return JSONResponse(said.model_dump(), status, headers, MEDIA_TYPE)


def pointer(of: Problem) -> str:
    """Where a problem is, as a JSON pointer.

    >>> pointer(Problem(("edits", 0, "a/b"), "expected"))
    '/edits/0/a~1b'
    """
    return "".join(f"/{str(step).replace('~', '~0').replace('/', '~1')}" for step in of.path)
