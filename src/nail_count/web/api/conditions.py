"""Revisions as ETags, and what a program asks under which conditions."""

from __future__ import annotations

import re
from hashlib import sha256
from typing import Annotated

from fastapi import Header, Request
from starlette.responses import Response

from ...store.store import Store
from ...trade.model.errors import Problem, Rejected

_TAG = re.compile(r'(?:W/)?"([^"]*)"')
IfMatch = Annotated[
    str | None, Header(description="The ETag of what was last seen: if it has changed since, nothing is done (412).")
]
IfNoneMatch = Annotated[str | None, Header(description="The ETag you have: if nothing changed since, 304.")]
IdempotencyKey = Annotated[
    str | None,
    Header(
        min_length=1,
        max_length=200,
        description="A word of the program's own for this act. Sent again, the act is not done again and gets the "
        "answer it got. Another act under the same key is refused.",
    ),
]


class ChangedSince(Exception):
    """What was seen is no longer so; nothing was done."""


class NotSaid(Exception):
    """The revision seen must be sent."""


def etag(number: int) -> str:
    """The ETag of a revision.

    >>> etag(12)
    '"12"'
    """
    return f'"{number}"'


def tags(header: str) -> set[str]:
    """The ETags in a header.

    >>> sorted(tags('"3", W/"4"'))
    ['3', '4']
    """
    return set(_TAG.findall(header))


def seen_number(if_match: str | None, number: int) -> int | None:
    """The revision an act depends on, where it depends on one.

    Args:
        if_match: the header, as sent.
        number: the revision that is there now.

    Raises:
        ChangedSince: it is none of those that were seen.
    """
    if if_match is None or if_match.strip() == "*":
        return None
    if str(number) not in tags(if_match) or 'W/"' in if_match:  # a weak tag never matches here: RFC 9110, 13.1.1
        raise ChangedSince
    return number


def must_have_seen(if_match: str | None, number: int) -> int:
    """As [seen_number][], where one must be sent. Raises NotSaid, ChangedSince."""
    if if_match is None:
        raise NotSaid
    return seen_number(if_match, number) or number


def known_already(if_none_match: str | None, number: int) -> Response | None:
    """The answer to a program that has this revision already; None where it has not."""
    if if_none_match is None:
        return None
    known = if_none_match.strip() == "*" or str(number) in tags(if_none_match)
    return Response(status_code=304, headers={"etag": etag(number)}) if known else None


def token_of(key: str | None, request: Request, body: bytes) -> str:
    """The token of a change that a program asks for under a key; "" where it gave none.

    It begins with what the key is, and ends with the part that is asked: the same key with another act is told apart.
    """
    if key is None:
        return ""
    asked = f"{request.method} {request.url.path}\n".encode() + body
    return key_of(key) + sha256(asked).hexdigest()[:32]


def key_of(key: str) -> str:
    """How the tokens of everything asked under a key begin."""
    return sha256(key.encode()).hexdigest()[:32]


def refuse_other(store: Store, job: str | None, key: str | None, token: str) -> None:
    """Refuses another act under a key that was used, in a job or, with none, in any. Raises Rejected, NotFound."""
    if key is not None and store.changes.other_of_token(job, key_of(key), token):
        raise Rejected.of([Problem((), "Send another key: an act was done under this one already")])
