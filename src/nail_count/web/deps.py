"""What all pages share."""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping, Sequence
from contextlib import asynccontextmanager
from dataclasses import dataclass
from hashlib import sha256
from tempfile import SpooledTemporaryFile
from typing import IO, Annotated, cast

from fastapi import Depends
from starlette.datastructures import FormData, UploadFile
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from ..store.store import Store
from .problems import problem


async def store_of(request: Request) -> Store:
    """The store of the application this request came to."""
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


@asynccontextmanager
async def body_file(request: Request) -> AsyncIterator[IO[bytes]]:
    """What was sent, as a file on the disk: it may be larger than fits into memory."""
    with SpooledTemporaryFile(max_size=IN_MEMORY) as file:
        async for piece in request.stream():
            file.write(piece)
        file.seek(0)
        yield file


@asynccontextmanager
async def sent_file(request: Request) -> AsyncIterator[tuple[str, IO[bytes] | None, bool]]:
    """The one file of a form, as it lies on the disk: its name, itself or None where none was chosen, and whether a
    script sent it."""
    async with request.form(max_files=1) as form:
        files = [one for _, one in form.multi_items() if isinstance(one, UploadFile) and one.filename]
        name = _clean(files[0].filename or "") if files else ""
        yield name, files[0].file if files else None, request.headers.get("accept") == "application/json"


MOST_FILES = 12
IN_MEMORY = 1_000_000
"""Of a file that is sent, so much is held in memory; larger ones lie on the disk [bytes]."""


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


def uploaded(by_script: bool, to: str, wrong: Sequence[str]) -> Response | None:
    """The answer for the script that sends files: where to look, or what was wrong; None where a page is wanted."""
    if not by_script:
        return None
    if wrong:
        return problem(422, "Not taken", "; ".join(wrong))
    return JSONResponse({"to": to})


def whole_number(text: str) -> int:
    """The whole number typed; 0, which is no revision of anything, where it is none."""
    return int(text) if text.isdecimal() and len(text) < 10 else 0


@dataclass(frozen=True, slots=True)
class ActForm:
    """A form that asks for an act: what it says of the act, and what it says of itself."""

    fields: dict[str, str]
    """Of the act."""
    asked_by: str
    """Which of the page's forms it is."""
    revision: int | None
    """What the page showed; None where the act does not depend on it."""
    token: str
    """Of this form with this in it: sent twice, it is done once; "" where it may be done again."""
    mend: bool
    """Whether an act that does not fit may be done all the same, leaving out what does not."""

    @property
    def seen(self) -> int:
        """The revision the page showed; 0, which is none of anything, where it did not say."""
        return self.revision or 0


async def act_form(request: Request) -> ActForm:
    """The form of an act."""
    return act_form_of(request, await form(request))


TheAct = Annotated[ActForm, Depends(act_form)]
_OF_ITSELF = ("asked_by", "revision", "token", "mend")


def act_form_of(request: Request, typed: Mapping[str, str]) -> ActForm:
    """The form of an act, from what was typed."""
    token = typed.get("token", "")
    said = repr((token, request.url.path, sorted((name, value) for name, value in typed.items() if name != "token")))
    return ActForm(
        fields={name: value for name, value in typed.items() if name not in _OF_ITSELF},
        asked_by=typed.get("asked_by", ""),
        revision=whole_number(typed["revision"]) if "revision" in typed else None,
        token=sha256(said.encode()).hexdigest() if token else "",
        mend=typed.get("mend") == "true",
    )


def asked_by_htmx(request: Request) -> bool:
    """Tell whether sections of a page are wanted instead of a whole one."""
    return request.headers.get("hx-request") == "true"
