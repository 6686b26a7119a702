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

from ..store.snapshots import KeptBox, KeptJob, Stale
from ..store.store import Keep
from ..trade.edits.registry import EDITS, Edit, make_edit
from ..trade.model.box import Box
from ..trade.model.errors import Refused, complaints_of
from ..trade.rules.fit.box import DoesNotFit
from .deps import TheKeep, Typed, asked_by_htmx, wants_mending, whole_number
from .form_errors import NO_NOTICE, NO_REFUSAL, Notice, Refusal, did_not_fit
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
    view: Callable[[KeptBox, Refusal, Notice], Any]
    """What the templates show: the box, a refused act, a notice."""

    def answer(
        self,
        request: Request,
        kept: KeptBox,
        refusal: Refusal = NO_REFUSAL,
        notice: Notice = NO_NOTICE,
        status: int = 200,
    ) -> Response:
        """The screen for htmx; without script a whole page, or a way back to it."""
        refused = refusal is not NO_REFUSAL or bool(notice)
        status = 422 if refused and status == 200 else status
        if not refused and not asked_by_htmx(request):
            return RedirectResponse(f"/jobs/{kept.job.key}/boxes/{kept.box.id}{self.path}", 303)
        template = self.part if asked_by_htmx(request) else self.page
        return render(request, template, status, kept.number, view=self.view(kept, refusal, notice))


def screen_router(screen: Screen) -> APIRouter:
    """The routes of a screen: the box as it is, an edit, undo and redo."""
    router = APIRouter(prefix=BOX + screen.path, include_in_schema=False)

    @router.get("")
    def show(request: Request, keep: TheKeep, job: str, box: str) -> Response:
        kept = keep.box(job, box)
        return render(request, screen.page, revision=kept.number, view=screen.view(kept, NO_REFUSAL, NO_NOTICE))

    @router.post("/edit/{name}")
    def edit(request: Request, keep: TheKeep, typed: Typed, job: str, box: str, name: str) -> Response:
        if name not in EDITS:
            raise HTTPException(404)
        said = {field: value for field, value in typed.items() if field not in ("revision", "asked_by")}

        def change(before: Box, kept: KeptJob) -> Edit:
            return make_edit(before, name, said, kept.sheets)

        return act(request, keep, typed, (job, box), screen, said, change)

    def step(
        request: Request, keep: Keep, typed: dict[str, str], where: tuple[str, str], way: Literal["undo", "redo"]
    ) -> Response:
        seen = typed.get("revision", "")
        try:
            kept = keep.step(*where, whole_number(seen), way, mend=wants_mending(typed))
        except Stale:
            return screen.answer(request, keep.box(*where), notice=STALE, status=409)
        except DoesNotFit as wrong:
            notice = did_not_fit(wrong, f"{BOX.format(job=where[0], box=where[1])}{screen.path}/{way}", revision=seen)
            return screen.answer(request, keep.box(*where), notice=notice, status=409)
        return screen.answer(request, kept)

    @router.post("/undo")
    def undo(request: Request, keep: TheKeep, typed: Typed, job: str, box: str) -> Response:
        return step(request, keep, typed, (job, box), "undo")

    @router.post("/redo")
    def redo(request: Request, keep: TheKeep, typed: Typed, job: str, box: str) -> Response:
        return step(request, keep, typed, (job, box), "redo")

    return router


def act(
    request: Request,
    keep: Keep,
    typed: dict[str, str],
    where: tuple[str, str],
    screen: Screen,
    said: dict[str, str],
    change: Callable[[Box, KeptJob], Edit],
) -> Response:
    """Makes an edit and shows the box after it, or the refusal beside what was typed."""
    asked_by = typed.get("asked_by", "")
    try:
        kept = keep.change_box(*where, whole_number(typed.get("revision", "")), change)
    except Refused as wrong:
        return screen.answer(request, keep.box(*where), Refusal(asked_by, said, tuple(wrong.complaints)))
    except ValidationError as wrong:
        return screen.answer(request, keep.box(*where), Refusal(asked_by, said, tuple(complaints_of(wrong))))
    except Stale:
        return screen.answer(request, keep.box(*where), Refusal(asked_by, said, ()), STALE, status=409)
    return screen.answer(request, kept)
