"""Which programs may call: those on this machine, and those that bring a token that is good."""

from __future__ import annotations

from typing import Annotated

from fastapi import Depends, Request
from fastapi.security import HTTPAuthorizationCredentials, HTTPBearer

from ...store.store import Store
from ..deps import store_of
from ..security import from_here

BEARER = HTTPBearer(
    auto_error=False, scheme_name="token", description="Made and withdrawn at /tokens. Needed off the loopback address."
)


class NotAllowed(Exception):
    """No token, or none that is good."""


def allowed(
    request: Request,
    store: Annotated[Store, Depends(store_of)],
    given: Annotated[HTTPAuthorizationCredentials | None, Depends(BEARER)],
) -> None:
    """Lets a program in. A token that is brought must be good, wherever it comes from.

    Raises:
        NotAllowed: it may not call; it says what was expected.
    """
    brought = "authorization" in request.headers
    if given is not None and (wrong := store.tokens.refusal(given.credentials)):
        raise NotAllowed(wrong)
    if given is None and brought:
        raise NotAllowed("Send a bearer token")
    if given is None and not from_here(request):
        raise NotAllowed("Send a bearer token: programs on other machines need one, made at /tokens")
