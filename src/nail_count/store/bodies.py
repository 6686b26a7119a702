"""The things that bodies hold, and the bodies of things. A body of an earlier format is upgraded when it is read."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any, TypeVar, cast

from pydantic import ValidationError
from pydantic_core import PydanticSerializationError

from ..trade.documents import DocumentKind
from ..trade.model.box import Box
from ..trade.model.datasheet import Datasheet
from ..trade.model.errors import Rejected, problems_of
from ..trade.model.job import JobHead
from ..trade.model.run import Run
from ..trade.model.thing import Thing
from ..trade.upgrades import to_version_2, to_version_3
from .revisions import FORMAT, GONE, Found, Revision
from .snapshots import CannotBeRead

T = TypeVar("T", bound=Thing)
_Upgrade = Callable[[dict[str, Any]], dict[str, Any]]
_UPGRADES: Mapping[type[Thing], Mapping[int, _Upgrade]] = {
    Box: {1: to_version_2.box, 2: to_version_3.box},
    JobHead: {1: to_version_2.head},
}
"""From each format to the next; a field that isn't named here stayed the same."""
_MODELS: Mapping[DocumentKind, type[Thing]] = {"head": JobHead, "sheet": Datasheet, "box": Box, "run": Run}


MOST_PARSED = 256
"""How many bodies of things are remembered with what they hold."""


@lru_cache(maxsize=MOST_PARSED)
def _parsed(kind: type[Thing], body: str) -> Thing:
    """What a body of today's format holds: a value, the same each time. Raises ValidationError."""
    return kind.model_validate_json(body)


def written(thing: Thing | None) -> str:
    """Return a thing as it is kept, read back once: what could not be read again is never written. Raises Rejected."""
    if thing is None:
        return GONE
    try:
        body = thing.model_dump_json(exclude_none=True)
        _parsed(type(thing), body)
    except ValidationError as wrong:
        raise Rejected.of(problems_of(wrong)) from wrong
    except PydanticSerializationError as wrong:
        raise Rejected("enter text in whole characters") from wrong
    return body


def parsed(kind: type[T], body: str) -> T:
    """The thing of this kind that a body of today's format holds. Raises CannotBeRead."""
    try:
        return cast(T, _parsed(kind, body))
    except ValidationError as wrong:
        raise CannotBeRead(kind.__name__) from wrong


def read(kind: type[T], revision: Revision) -> T:
    """The thing of this kind that a revision holds.

    Raises:
        CannotBeRead: it holds none.
    """
    if not revision.is_whole:
        raise CannotBeRead(kind.__name__)
    steps = [step for at, step in sorted(_UPGRADES.get(kind, {}).items()) if revision.format <= at < FORMAT]
    if not steps:
        return parsed(kind, revision.body)
    try:
        body = json.loads(revision.body)
        for step in steps:
            body = step(body) if isinstance(body, dict) else body
        return kind.model_validate(body)
    except (ValueError, LookupError, TypeError, AttributeError) as wrong:  # an upgrade takes its shape for granted
        raise CannotBeRead(kind.__name__) from wrong


def read_any(found: Found, at: Revision) -> Thing | None:
    """What a document held at one of its revisions; None where it was taken out. Raises CannotBeRead."""
    if at.body == GONE:
        return None
    return read_box(found, at) if found.which.kind == "box" else read(_MODELS[found.which.kind], at)


def read_box(found: Found, at: Revision | None = None) -> Box:
    """The box a document holds, or held at one of its revisions; its key is its id. Raises CannotBeRead."""
    box = read(Box, at or found.revision)
    return box if box.id == found.which.key else box.changed(id=found.which.key)  # a copy once had a key of its own


def read_run(found: Found) -> Run:
    """The run a document holds. Raises CannotBeRead."""
    return read(Run, found.revision)
