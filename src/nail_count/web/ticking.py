"""Ticks made on a page: who makes them, and one taken back."""

from __future__ import annotations

from collections.abc import Mapping
from urllib.parse import quote, unquote

from starlette.requests import Request
from starlette.responses import RedirectResponse

from ..store.store import Store
from ..trade.edits.fields import now
from ..trade.model.errors import Rejected
from ..trade.model.tick import Tick
from .deps import ActForm

WHO = "who"
"""The cookie with what a person calls themselves."""
LONGEST_NAME = 60
_REMEMBERED = 400 * 86400
"""How long a browser keeps it [s]."""


def who_asks(request: Request) -> str:
    """What the person at this browser calls themselves; "" where they never said."""
    return unquote(request.cookies.get(WHO, ""))[:LONGEST_NAME]


def who_said(said: Mapping[str, str]) -> str:
    """What a form says of who does it."""
    return said.get("who", "").strip()[:LONGEST_NAME]


def remembering(answer: RedirectResponse, who: str) -> RedirectResponse:
    """An answer that has the browser remember who it was."""
    # A header takes Latin letters only, and people have names in every script.
    answer.set_cookie(WHO, quote(who), max_age=_REMEMBERED, samesite="lax", httponly=True)
    return answer


def take_back(store: Store, job: str, box: str, form: ActForm) -> None:
    """Takes back the tick a form names; it stays among the ticks. Raises Rejected."""
    old = {one.id: one for one in store.ticks(job, box)}.get(form.fields.get("tick", ""))
    if old is None or old.takes_back is not None:
        raise Rejected("expected one of the ticks of this box", "tick")
    store.tick(job, Tick(id="t0", box=box, step=old.step, at=now(), takes_back=old.id), form.token)
