"""Every address there is, from one place: templates and routes say where to, never how it is written.

>>> job("old-mill", "panel", anchor="circuit", circuit="7/9")
'/jobs/old-mill/panel?circuit=7%2F9#circuit'
>>> box("old-mill", "hall", "edit", "add-cable"), under("/jobs/old-mill", "undo"), photo("0a1b", "small")
('/jobs/old-mill/boxes/hall/edit/add-cable', '/jobs/old-mill/undo', '/photos/0a1b/small.jpg')
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache
from urllib.parse import quote, urlencode

from ..trade.edits.registry import EDITS


def page(*steps: str, anchor: str = "", **query: object) -> str:
    """A page of the application itself: the board, practice, about."""
    return under("", *steps, anchor=anchor, **query) if steps else "/"


def job(key: str, *steps: str, anchor: str = "", **query: object) -> str:
    """A job, or what lies behind it."""
    return under("", "jobs", key, *steps, anchor=anchor, **query)


def box(job: str, key: str, *steps: str, anchor: str = "", **query: object) -> str:
    """A box of a job, or one of its screens and acts."""
    return under("", "jobs", job, "boxes", key, *steps, anchor=anchor, **query)


def datasheet(job: str, id: str, *steps: str, anchor: str = "", **query: object) -> str:
    """A datasheet of a job, or an act on it."""
    return under("", "jobs", job, "sheets", id, *steps, anchor=anchor, **query)


def act(base: str, name: str) -> str:
    """An act on a screen of a box: an edit of the registry, or one of the screen's own such as undo."""
    return under(base, "edit" if name in EDITS else "", name)


def api(*steps: str) -> str:
    """A route for programs, of the version there is now.

    >>> api("jobs", "old-mill")
    '/api/v1/jobs/old-mill'
    """
    return under("/api/v1", *steps)


def photo(id: str, size: str) -> str:
    """A picture, whole or small."""
    return under("", "photos", id, f"{size}.jpg")


def under(base: str, *steps: str, anchor: str = "", **query: object) -> str:
    """What lies behind an address.

    Args:
        base: the address, "" for the root.
        steps: of the path behind it; empty ones are left out.
        anchor: the place on the page; "" for its beginning.
        query: the query; None is left out.
    """
    path = "".join([_quoted(step) for step in steps if step])
    asked = urlencode({name: str(value) for name, value in query.items() if value is not None}) if query else ""
    return f"{base}{path}{f'?{asked}' if asked else ''}{f'#{quote(anchor)}' if anchor else ''}"


def asking(base: str, asked: Sequence[tuple[str, str]]) -> str:
    """An address that asks for things in order, some of them several times.

    >>> asking("/jobs/a", [("at", "b/A1"), ("at", "b/B1")])
    '/jobs/a?at=b%2FA1&at=b%2FB1'
    """
    return f"{base}?{urlencode(asked)}"


@lru_cache(maxsize=4096)
def _quoted(step: str) -> str:
    return f"/{quote(step, safe='')}"
