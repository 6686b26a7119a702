"""The application: guards, shipped files, pages, and what is said when something goes wrong."""

from __future__ import annotations

from collections.abc import Iterable
from importlib.resources import as_file, files
from pathlib import Path

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from sqlalchemy.exc import OperationalError
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import Response
from starlette.staticfiles import StaticFiles

from .. import __version__
from ..store.database import open_database
from ..store.keep import Keep
from ..store.kept import Missing
from .bench_view import summarise
from .guard import SafeHeaders, SameOriginOnly
from .pages import (
    about,
    api,
    bench,
    board,
    choose,
    count,
    history,
    house,
    interview,
    panel,
    paper,
    sheets,
    survey,
    wires,
)
from .templating import render

LOOPBACK = ("localhost", "127.0.0.1", "[::1]")


def make_app(database: Path, hosts: Iterable[str] = LOOPBACK) -> FastAPI:
    """The application on this database.

    Args:
        database: its file; made where it is missing.
        hosts: the names this server may be called by; a request for another is refused.

    Raises:
        OSError: the database's folder cannot be made or written to.
    """
    app = FastAPI(title="Nail Count", version=__version__, docs_url=None, redoc_url=None, openapi_url="/openapi.json")
    app.state.keep = Keep(open_database(database), summarise)
    with as_file(files("nail_count.web") / "static") as folder:
        app.mount("/static", StaticFiles(directory=folder), name="static")
    screens = (
        survey.survey_router,
        survey.breaker_router,
        survey.router,
        interview.router,
        history.router,
        wires.router,
        choose.router,
        count.router,
    )
    for router in (
        board.router,
        wires.practice_router,
        panel.router,
        sheets.router,
        paper.router,
        house.router,
        *screens,
        bench.router,
        about.router,
        api.router,
    ):
        app.include_router(router)
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=2)
    app.add_middleware(SameOriginOnly)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(hosts), www_redirect=False)
    app.add_middleware(SafeHeaders)
    app.add_exception_handler(Missing, _missing)
    app.add_exception_handler(HTTPException, _http_error)
    app.add_exception_handler(RequestValidationError, _bad_address)
    app.add_exception_handler(OperationalError, _not_kept)
    app.add_exception_handler(Exception, _defect)
    return app


def _trouble(request: Request, status: int, title: str, sentence: str) -> Response:
    """A page of its own; for htmx a notice, so that what was typed stays where it is."""
    if request.headers.get("hx-request"):
        answer = render(request, "notice.html", status, title=title, sentence=sentence)
        answer.headers["HX-Retarget"], answer.headers["HX-Reswap"] = "#notice", "innerHTML"
        return answer
    return render(request, "trouble.html", status, title=title, sentence=sentence)


def _missing(request: Request, wrong: Exception) -> Response:
    return _trouble(request, 404, "Not here", f"{str(wrong).capitalize()}. It may have been called otherwise.")


def _http_error(request: Request, wrong: Exception) -> Response:
    assert isinstance(wrong, HTTPException)
    sentence = "There is no such page." if wrong.status_code == 404 else str(wrong.detail)
    return _trouble(request, wrong.status_code, "Not here" if wrong.status_code == 404 else "Refused", sentence)


def _bad_address(request: Request, wrong: Exception) -> Response:
    """Something in the address that no page of this program asks for."""
    return _trouble(request, 422, "Not understood", "Expected an address as a page of Nail Count makes it.")


def _defect(request: Request, wrong: Exception) -> Response:
    """A defect of this program: said on the page, its trace in the server's log."""
    sentence = "This is a defect of Nail Count, not of what you did. Everything saved before is still there."
    return _trouble(request, 500, "Something broke", sentence)


def _not_kept(request: Request, wrong: Exception) -> Response:
    """The database said no: a full disk, a file that cannot be written."""
    reason = str(getattr(wrong, "orig", wrong))
    sentence = f"The last act was not saved: {reason}. Everything saved before is still there; make room and try again."
    return _trouble(request, 507, "Not saved", sentence)
