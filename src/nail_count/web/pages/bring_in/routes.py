"""Boxes from a table and breakers from a directory: looked at row by row, then imported as one act."""

from __future__ import annotations

from typing import Any, Literal

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....files.job_json import BadFile
from ....files.spread import text_of
from ....store.store import Store
from ....trade.edits.base import Edit
from ....trade.model.errors import Problem, Rejected
from ....trade.quick_entry.rows import BringInBoxes, BringInCircuits
from ....trade.rules.fit.box import DoesNotFit
from ... import urls
from ...deps import Sent, SentFiles, TheStore, act_form_of
from ...form_errors import NO_ERRORS, FormErrors
from ...templating import render
from ...threads import beside
from .view import COLUMN_NAMES, DirectoryView, TableView, directory_view, table_view

What = Literal["boxes", "directory"]
router = APIRouter(prefix="/jobs/{job}/bring-in", include_in_schema=False)


@router.get("")
def show(request: Request, store: TheStore, job: str) -> Response:
    """Where a table is put in."""
    return _page(request, store, job, what="boxes")


@router.get("/directory")
def show_directory(request: Request, store: TheStore, job: str) -> Response:
    """Where a directory is put in."""
    return _page(request, store, job, what="directory")


@router.post("/boxes")
async def boxes(request: Request, store: TheStore, sent: SentFiles, job: str) -> Response:
    """A table looked at, or imported as one act."""

    def answer() -> Response:
        try:
            text = text_of(sent.content) if sent.files else sent.form.get("text", "")
            kept = store.house(job)
            view = table_view(text, {} if sent.files else sent.form, kept.job, kept.all_cards)
        except BadFile as wrong:
            return _page(request, store, job, what="boxes", errors=_errors("boxes", sent, wrong.problems[0].sentence))
        if sent.form.get("do") != "land":
            return _page(request, store, job, what="boxes", table=view)
        if not view.landing:
            errors = _errors("boxes", sent, "Tick at least one row that is understood")
            return _page(request, store, job, what="boxes", table=view, errors=errors)
        try:
            return _land(request, store, job, sent, BringInBoxes(new=view.landing))
        except Rejected as wrong:
            return _page(request, store, job, what="boxes", table=view, errors=_errors("boxes", sent, wrong.sentence))

    return await beside(answer)


@router.post("/directory")
async def directory(request: Request, store: TheStore, sent: SentFiles, job: str) -> Response:
    """A directory looked at, or imported as one act."""

    def answer() -> Response:
        view = directory_view(sent.form.get("text", ""), sent.form.get("amps", ""), store.job(job))
        if not view.lines:
            errors = _errors("directory", sent, "Paste the lines of a directory; there are none")
            return _page(request, store, job, what="directory", errors=errors)
        if sent.form.get("do") != "land":
            return _page(request, store, job, what="directory", lines=view)
        if not view.landing:
            errors = _errors("directory", sent, "All of these breakers are in the panel already")
            return _page(request, store, job, what="directory", lines=view, errors=errors)
        try:
            return _land(request, store, job, sent, BringInCircuits(new=view.landing), "panel")
        except Rejected as wrong:
            return _page(
                request, store, job, what="directory", lines=view, errors=_errors("directory", sent, wrong.sentence)
            )

    return await beside(answer)


def _land(request: Request, store: Store, job: str, sent: Sent, edit: Edit, *to: str) -> Response:
    """Brings it in. Raises Rejected, where something of it would not fit as well."""
    try:
        store.act(job, edit, token=act_form_of(request, sent.form).token)
    except DoesNotFit as wrong:
        raise Rejected(f"{wrong.whose}{wrong.misfits[0].sentence}") from wrong
    return RedirectResponse(urls.job(job, *to), 303)


def _errors(key: str, sent: Sent, sentence: str) -> FormErrors:
    return FormErrors(key, sent.form, (Problem(("text",), sentence),))


def _page(
    request: Request,
    store: Store,
    job: str,
    *,
    what: What,
    table: TableView | None = None,
    lines: DirectoryView | None = None,
    errors: FormErrors = NO_ERRORS,
) -> Response:
    names = [("", "leave out"), *COLUMN_NAMES.items()]
    status = 200 if errors is NO_ERRORS else 422
    shown: dict[str, Any] = {"what": what, "table": table, "lines": lines, "errors": errors, "column_names": names}
    return render(request, "bring_in/page.html", status, job=store.job(job), **shown)
