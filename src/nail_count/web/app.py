"""The application: guards, shipped files, pages, and the pages for errors."""

from __future__ import annotations

from asyncio import create_task
from collections.abc import AsyncIterator, Iterable, Sequence
from contextlib import asynccontextmanager
from dataclasses import replace
from importlib.resources import as_file, files
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.exceptions import RequestValidationError
from pydantic import ValidationError
from sqlalchemy.exc import DBAPIError
from starlette.exceptions import HTTPException
from starlette.middleware.gzip import GZipMiddleware
from starlette.middleware.trustedhost import TrustedHostMiddleware
from starlette.requests import Request
from starlette.responses import Response
from starlette.staticfiles import StaticFiles

from .. import __version__
from ..store.database import open_database
from ..store.snapshots import CannotBeRead, EditConflict, NotFound
from ..store.store import Store
from ..store.trouble import Trouble, trouble_of, trouble_of_os
from ..trade.model.errors import Problem, Rejected, problems_of, sentenced
from . import workers
from .api.allowed import NotAllowed
from .api.conditions import ChangedSince, NotSaid
from .api.routes import described
from .api.routes import router as for_programs
from .background import BoxSearch, DaySearch, HouseSearch, Searches
from .look_over import look_over
from .pages.about import routes as about
from .pages.api import routes as api
from .pages.bench import routes as bench
from .pages.board import routes as board
from .pages.breaker import routes as breaker
from .pages.bring_in import routes as bring_in
from .pages.choose import routes as choose
from .pages.commission import routes as commission
from .pages.count import routes as count
from .pages.datasheets import routes as datasheets
from .pages.day import routes as day
from .pages.day.view import PlanView
from .pages.find_fault import routes as find_fault
from .pages.fix import routes as fix
from .pages.goes import routes as goes
from .pages.history import routes as history
from .pages.hookup import routes as hookup
from .pages.house import routes as house
from .pages.install import routes as install
from .pages.interview import routes as interview
from .pages.next import routes as next_step
from .pages.next_in_house import routes as next_in_house
from .pages.panel import routes as panel
from .pages.papers import routes as papers
from .pages.parts import routes as parts
from .pages.practice import routes as practice
from .pages.print import routes as paper
from .pages.progress import routes as progress
from .pages.survey import routes as survey
from .pages.take_out import routes as take_out
from .pages.wires import routes as wires
from .pages.wiring_map import routes as wiring_map
from .problems import problem
from .security import BoundedBodies, NoTrace, SafeHeaders, SameOriginOnly
from .templating import render
from .workers import TookTooMuch

LOOPBACK = ("localhost", "127.0.0.1", "[::1]")


def make_app(database: Path, hosts: Iterable[str] = LOOPBACK) -> FastAPI:
    """The application on this database.

    Args:
        database: its file; made where it is missing.
        hosts: the names this server may be called by; a request for another is refused.

    Raises:
        Trouble: the database cannot be used.
    """
    store = Store(open_database(database))

    @asynccontextmanager
    async def until_stopped(_: FastAPI) -> AsyncIterator[None]:
        looking = create_task(look_over(store))
        yield
        looking.cancel()
        app.state.box_searches.close()
        app.state.house_searches.close()
        app.state.day_searches.close()
        workers.stop()
        store.close()

    app = FastAPI(
        title="Nail Count", version=__version__, docs_url=None, redoc_url=None, openapi_url="/openapi.json",
        lifespan=until_stopped, generate_unique_id_function=lambda route: route.name,
    )  # fmt: skip
    app.openapi = lambda: _described(app)  # type: ignore[method-assign]
    app.state.store = store
    app.state.box_searches = Searches[BoxSearch]()
    app.state.house_searches = Searches[HouseSearch]()
    app.state.day_searches = Searches[DaySearch[PlanView]]()
    with as_file(files("nail_count.web") / "static") as folder:
        app.mount("/static", StaticFiles(directory=folder), name="static")
    screens = (
        survey.survey_router,
        breaker.router,
        survey.router,
        interview.router,
        history.router,
        goes.router,
        wires.router,
        choose.router,
        next_step.router,
        next_in_house.router,
        count.router,
        fix.router,
        install.router,
        commission.router,
        papers.router,
        practice.router,
        take_out.router,
        bring_in.router,
        find_fault.router,
    )
    # Routes are tried one after the other: those of the acts done most come first.
    for router in (
        bench.router,
        hookup.router,
        hookup.found_router,
        board.router,
        wires.practice_router,
        panel.router,
        datasheets.router,
        wiring_map.router,
        paper.router,
        parts.router,
        day.router,
        progress.router,
        house.router,
        *screens,
        about.router,
        api.router,
        for_programs,
    ):
        app.include_router(router)
    app.add_middleware(GZipMiddleware, minimum_size=1000, compresslevel=5)
    app.add_middleware(BoundedBodies, say=trouble_page)
    app.add_middleware(NoTrace, say=trouble_page)
    app.add_middleware(SameOriginOnly)
    app.add_middleware(TrustedHostMiddleware, allowed_hosts=list(hosts), www_redirect=False)
    app.add_middleware(SafeHeaders)
    app.add_exception_handler(NotFound, _missing)
    app.add_exception_handler(EditConflict, _stale)
    app.add_exception_handler(Rejected, _refused)
    app.add_exception_handler(ValidationError, _not_valid)
    app.add_exception_handler(CannotBeRead, _unreadable)
    app.add_exception_handler(HTTPException, _http_error)
    app.add_exception_handler(RequestValidationError, _bad_address)
    app.add_exception_handler(Trouble, _trouble)
    app.add_exception_handler(TookTooMuch, _stopped)
    app.add_exception_handler(DBAPIError, _database)
    app.add_exception_handler(OSError, _system)
    app.add_exception_handler(NotAllowed, _no_token)
    app.add_exception_handler(ChangedSince, _stale)
    app.add_exception_handler(NotSaid, _not_said)
    return app


def _described(app: FastAPI) -> dict[str, Any]:
    """The description of the routes for programs: made when it is first asked for."""
    if app.openapi_schema is None:
        app.openapi_schema = described(app)
    return app.openapi_schema


def trouble_page(
    request: Request, status: int, title: str, sentence: str, problems: Sequence[Problem] = ()
) -> Response:
    """A page of its own; for htmx a notice, so that what was typed stays where it is; for programs as data."""
    if _asked_by_program(request) or request.headers.get("accept") == "application/json":
        return problem(status, title, sentence, problems)
    if request.headers.get("hx-request"):
        answer = render(request, "notice.html", status, title=title, sentence=sentence)
        answer.headers["HX-Retarget"], answer.headers["HX-Reswap"] = "#notice", "innerHTML"
        return answer
    return render(request, "trouble.html", status, title=title, sentence=sentence)


def _asked_by_program(request: Request) -> bool:
    return request.url.path.startswith(("/api/", "/schema/"))


def _no_token(request: Request, wrong: Exception) -> Response:
    return problem(401, "No token", f"{str(wrong).capitalize()}.", headers={"www-authenticate": "Bearer"})


def _not_said(request: Request, wrong: Exception) -> Response:
    return trouble_page(request, 428, "Say what you saw", "Expected If-Match, with the ETag of what was last seen.")


def _missing(request: Request, wrong: Exception) -> Response:
    return trouble_page(request, 404, "Not here", f"{str(wrong).capitalize()}. It may have had another name.")


def _stale(request: Request, wrong: Exception) -> Response:
    sentence = (
        "This was changed elsewhere since you last saw it, and was left as it is. Go back, look, and do it again."
    )
    return trouble_page(request, 412 if _asked_by_program(request) else 409, "Not done", sentence)


def _refused(request: Request, wrong: Exception) -> Response:
    """An act refused that has no form of its own on the page it came from."""
    assert isinstance(wrong, Rejected)
    sentence = f"{wrong.sentence[:1].upper()}{wrong.sentence[1:]}."
    return trouble_page(request, 422, "Not done", sentence, wrong.problems)


def _not_valid(request: Request, wrong: Exception) -> Response:
    """What was sent is not what an act needs."""
    assert isinstance(wrong, ValidationError)
    said = "; ".join(f"{one.where}: {one.sentence}" if one.where else one.sentence for one in problems_of(wrong)[:5])
    return trouble_page(request, 422, "Not done", f"{said[:1].upper()}{said[1:]}.")


def _unreadable(request: Request, wrong: Exception) -> Response:
    sentence = (
        "Something kept for this page cannot be read. Nothing was changed. Take a backup. Then go back to an earlier "
        "step in its history, or restore an earlier backup."
    )
    return trouble_page(request, 500, "Cannot be read", sentence)


def _http_error(request: Request, wrong: Exception) -> Response:
    assert isinstance(wrong, HTTPException)
    sentence = "There is no such page." if wrong.status_code == 404 else f"{str(wrong.detail).rstrip('.')}."
    return trouble_page(request, wrong.status_code, "Not here" if wrong.status_code == 404 else "Refused", sentence)


def _bad_address(request: Request, wrong: Exception) -> Response:
    """Something in the address that no page of this program asks for; or of what a program sent."""
    assert isinstance(wrong, RequestValidationError)
    if _asked_by_program(request):
        return _not_as_described(request, wrong)
    return trouble_page(request, 422, "Not understood", "This address is not one of Nail Count's.")


def _not_as_described(request: Request, wrong: RequestValidationError) -> Response:
    found = [sentenced(error) for error in wrong.errors()]
    if any(one.code == "json_invalid" for one in found):
        return trouble_page(request, 400, "Not understood", "Expected JSON, and what was sent is none.")
    told = [
        replace(one, path=one.path[1:])
        if one.path[:1] == ("body",)
        else replace(one, sentence=f"{one.path[-1]}: {one.sentence}", path=())
        for one in found
    ]
    first = f"{told[0].sentence[:1].upper()}{told[0].sentence[1:]}"
    return trouble_page(request, 422, "Not understood", f"{first}.", told)


def _stopped(request: Request, wrong: Exception) -> Response:
    assert isinstance(wrong, TookTooMuch)
    return trouble_page(request, 503, "Stopped", wrong.sentence)


def _trouble(request: Request, wrong: Exception) -> Response:
    assert isinstance(wrong, Trouble)
    return trouble_page(request, 507, wrong.title, wrong.sentence)


def _database(request: Request, wrong: Exception) -> Response:
    """The database answered no: what that means, in words."""
    return _trouble(request, trouble_of(wrong, request.app.state.store.file))


def _system(request: Request, wrong: Exception) -> Response:
    """The disk refused, while a backup was written say."""
    assert isinstance(wrong, OSError)
    return _trouble(request, trouble_of_os(wrong, request.app.state.store.file))
