"""Screens that act on a box: each shows it in its own way; an act on any of them is an edit, saved, and shown again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from fastapi import APIRouter
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ..store.revisions import Way
from ..store.snapshots import BoxSnapshot, EditConflict
from ..store.store import Store
from ..trade.edits.base import BoxEdit, Edit
from ..trade.edits.documents import DocumentId
from ..trade.edits.registry import EDITS
from ..trade.model.errors import Rejected
from ..trade.rules.fit.box import DoesNotFit
from . import urls
from .deps import ActForm, TheAct, TheStore, asked_by_htmx
from .form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit, stale
from .templating import render

BOX = "/jobs/{job}/boxes/{box}"


@dataclass(frozen=True, slots=True)
class Screen:
    """A way to show a box and act on it."""

    path: str
    """Behind the box's own address: "" for the bench."""
    page: str
    """Template of the whole page."""
    part: str
    """Template of what an act brings anew."""
    view: Callable[[BoxSnapshot, FormErrors, Notice], Any]
    """What the templates show: the box, a refused act, a notice."""

    def answer(
        self,
        request: Request,
        kept: BoxSnapshot,
        errors: FormErrors = NO_ERRORS,
        notice: Notice = NO_NOTICE,
        status: int = 200,
    ) -> Response:
        """The screen for htmx; without script a whole page, or a way back to it."""
        refused = errors is not NO_ERRORS or bool(notice)
        status = 422 if refused and status == 200 else status
        if not refused and not asked_by_htmx(request):
            return RedirectResponse(urls.box(kept.job.key, kept.box.id, self.path), 303)
        template = self.part if asked_by_htmx(request) else self.page
        return render(request, template, status, kept.number, view=self.view(kept, errors, notice))


def screen_router(screen: Screen) -> APIRouter:
    """The routes of a screen: the box as it is, an edit, undo and redo."""
    router = APIRouter(prefix=f"{BOX}/{screen.path}".rstrip("/"), include_in_schema=False)

    @router.get("")
    def show(request: Request, store: TheStore, job: str, box: str) -> Response:
        kept = store.box(job, box)
        return render(request, screen.page, revision=kept.number, view=screen.view(kept, NO_ERRORS, NO_NOTICE))

    @router.post("/edit/{name}")
    def edit(request: Request, store: TheStore, form: TheAct, job: str, box: str, name: str) -> Response:
        kind = EDITS.get(name)
        if kind is None or not issubclass(kind, BoxEdit):
            raise HTTPException(404)
        return act(request, store, form, (job, box), screen, lambda: kind.read(form.fields | {"box": box}))

    def step(request: Request, store: Store, form: ActForm, where: tuple[str, str], way: Way) -> Response:
        job, box = where
        try:
            store.step(job, DocumentId("box", box), form.seen, way, form.token, form.mend)
        except EditConflict as wrong:
            return screen.answer(request, store.box(job, box), notice=stale("box", wrong.came_since), status=409)
        except DoesNotFit as wrong:
            notice = did_not_fit(wrong, urls.box(job, box, screen.path, way), revision=str(form.seen))
            return screen.answer(request, store.box(job, box), notice=notice, status=409)
        return screen.answer(request, store.box(job, box))

    @router.post("/undo")
    def undo(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "undo")

    @router.post("/redo")
    def redo(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "redo")

    return router


def act(
    request: Request,
    store: Store,
    form: ActForm,
    where: tuple[str, str],
    screen: Screen,
    read: Callable[[], Edit],
) -> Response:
    """Makes an edit and shows the box after it, or the refusal beside what was typed.

    Args:
        request: whose answer it is.
        store: what is kept.
        form: the form that asks for it.
        where: job and box.
        screen: which screen it is shown on.
        read: makes the edit of what was typed; raises Rejected where that is none.
    """
    try:
        kept = store.act_on_box(*where, read(), form.seen, form.token, form.mend)
    except Rejected as wrong:
        return screen.answer(request, store.box(*where), FormErrors(form.asked_by, form.fields, wrong.problems))
    except EditConflict as wrong:
        errors = FormErrors(form.asked_by, form.fields, ())
        return screen.answer(request, store.box(*where), errors, stale("box", wrong.came_since), status=409)
    return screen.answer(request, kept)
