"""What all pages share."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, cast

from fastapi import Depends
from starlette.datastructures import FormData, UploadFile
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from ..store.store import Store


async def store_of(request: Request) -> Store:
    """What is kept, of the application this request came to."""
    return cast(Store, request.app.state.store)


TheStore = Annotated[Store, Depends(store_of)]


async def form(request: Request) -> dict[str, str]:
    """The fields of a form as typed, several values of one name parted by commas; files are left out."""
    async with request.form() as form:
        return _fields(form)


Form = Annotated[dict[str, str], Depends(form)]


@dataclass(frozen=True, slots=True)
class Sent:
    """A form with files, as it arrived."""

    form: dict[str, str]
    files: tuple[tuple[str, bytes], ...]
    """Name and content of each file chosen."""
    by_script: bool
    """Whether a script sent it, which shows the answer beside the form instead of a new page."""

    @property
    def content(self) -> bytes:
        """Of the first file; empty where none was chosen."""
        return self.files[0][1] if self.files else b""


async def sent(request: Request) -> Sent:
    """A form with at most a few files."""
    async with request.form(max_files=MOST_FILES) as form:
        files = [value for _, value in form.multi_items() if isinstance(value, UploadFile) and value.filename]
        read = [(_clean(file.filename or ""), await file.read()) for file in files]
        return Sent(_fields(form), tuple(read), request.headers.get("accept") == "application/json")


SentFiles = Annotated[Sent, Depends(sent)]
MOST_FILES = 12


def _fields(form: FormData) -> dict[str, str]:
    fields: dict[str, str] = {}
    for name, value in form.multi_items():
        if isinstance(value, str):
            known, text = _clean(name), _clean(value)
            fields[known] = f"{fields[known]},{text}" if known in fields else text
    return fields


def _clean(text: str) -> str:
    """Without halves of a character, which a strange encoding can leave and no file takes."""
    return text.encode("utf-8", "replace").decode()


def uploaded(sent: Sent, to: str, wrong: Sequence[str]) -> Response | None:
    """The answer for the script that sends files: where to look, or what was wrong; None where a page is wanted."""
    if not sent.by_script:
        return None
    if wrong:
        return JSONResponse({"title": "Not taken", "detail": "; ".join(wrong)}, 422)
    return JSONResponse({"to": to})


def whole_number(text: str) -> int:
    """The whole number typed; 0, which is no revision of anything, where it is none."""
    return int(text) if text.isdecimal() and len(text) < 10 else 0


def wants_mending(form: Mapping[str, str]) -> bool:
    """Whether an act that does not fit is to be done all the same, leaving out what does not."""
    return form.get("mend") == "true"


def asked_by_htmx(request: Request) -> bool:
    """Whether a part of a page is wanted instead of a whole one."""
    return request.headers.get("hx-request") == "true"
