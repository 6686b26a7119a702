"""What all pages share."""

from __future__ import annotations

from typing import Annotated, cast

from fastapi import Depends
from starlette.requests import Request

from ...store.keep import Keep


async def keep_of(request: Request) -> Keep:
    """What is kept, of the application this request came to."""
    return cast(Keep, request.app.state.keep)


TheKeep = Annotated[Keep, Depends(keep_of)]


async def typed(request: Request) -> dict[str, str]:
    """The fields of a form as typed, several values of one name parted by commas; files are left out."""
    said: dict[str, str] = {}
    async with request.form() as form:
        for name, value in form.multi_items():
            if isinstance(value, str):
                said[name] = f"{said[name]},{value}" if name in said else value
    return said


Typed = Annotated[dict[str, str], Depends(typed)]


def whole_number(text: str) -> int:
    """The whole number typed; 0, which is no revision of anything, where it is none."""
    return int(text) if text.isdecimal() and len(text) < 10 else 0


def asked_by_htmx(request: Request) -> bool:
    """Whether a part of a page is wanted instead of a whole one."""
    return request.headers.get("hx-request") == "true"
