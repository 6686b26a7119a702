"""Screens that act on a box: each shows it in its own way; an act on any of them is an edit, saved, and shown again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, Literal

from fastapi import APIRouter
from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ..store.snapshots import BoxSnapshot, EditConflict, JobSnapshot
from ..store.store import Store
from ..trade.edits.registry import EDITS, Edit, make_edit
from ..trade.model.box import Box
from ..trade.model.errors import Rejected, problems_of
from ..trade.rules.fit.box import DoesNotFit
from . import urls
from .deps import Form, TheStore, asked_by_htmx, wants_mending, whole_number
from .form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice, did_not_fit
from .templating import render

STALE = Notice(
    "This box was changed elsewhere since you last saw it. What you did was not done; what you typed is still here, "
    "beside the box as it is now."
)
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
    def edit(request: Request, store: TheStore, form: Form, job: str, box: str, name: str) -> Response:
        if name not in EDITS:
            raise HTTPException(404)
        fields = {field: value for field, value in form.items() if field not in ("revision", "asked_by")}

        def change(before: Box, kept: JobSnapshot) -> Edit:
            return make_edit(before, name, fields, kept.sheets)

        return act(request, store, form, (job, box), screen, fields, change)

    def step(
        request: Request, store: Store, form: dict[str, str], where: tuple[str, str], way: Literal["undo", "redo"]
    ) -> Response:
        seen = form.get("revision", "")
        try:
            kept = store.step(*where, whole_number(seen), way, mend=wants_mending(form))
        except EditConflict:
            return screen.answer(request, store.box(*where), notice=STALE, status=409)
        except DoesNotFit as wrong:
            notice = did_not_fit(wrong, urls.box(*where, screen.path, way), revision=seen)
            return screen.answer(request, store.box(*where), notice=notice, status=409)
        return screen.answer(request, kept)

    @router.post("/undo")
    def undo(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "undo")

    @router.post("/redo")
    def redo(request: Request, store: TheStore, form: Form, job: str, box: str) -> Response:
        return step(request, store, form, (job, box), "redo")

    return router


def act(
    request: Request,
    store: Store,
    form: dict[str, str],
    where: tuple[str, str],
    screen: Screen,
    fields: dict[str, str],
    change: Callable[[Box, JobSnapshot], Edit],
) -> Response:
    """Makes an edit and shows the box after it, or the refusal beside what was typed."""
    asked_by = form.get("asked_by", "")
    try:
        kept = store.change_box(*where, whole_number(form.get("revision", "")), change)
    except Rejected as wrong:
        return screen.answer(request, store.box(*where), FormErrors(asked_by, fields, tuple(wrong.problems)))
    except ValidationError as wrong:
        return screen.answer(request, store.box(*where), FormErrors(asked_by, fields, tuple(problems_of(wrong))))
    except EditConflict:
        return screen.answer(request, store.box(*where), FormErrors(asked_by, fields, ()), STALE, status=409)
    return screen.answer(request, kept)
