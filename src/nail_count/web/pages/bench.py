"""The bench: one box, and every act on it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from fastapi import APIRouter
from pydantic import ValidationError
from starlette.exceptions import HTTPException
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ...store.keep import Keep
from ...store.kept import KeptBox, KeptJob, Stale
from ...trade.edits import EDITS, Edit, make_edit
from ...trade.line import enter_line
from ...trade.model.box import Box
from ...trade.model.complaint import Refused, complaints_of
from ..bench_view import NO_REFUSAL, Refusal, bench_view
from ..templating import render
from .common import TheKeep, Typed, asked_by_htmx, whole_number

router = APIRouter(prefix="/jobs/{job}/boxes/{box}", include_in_schema=False)

STALE = (
    "This box was changed elsewhere since you last saw it. What you did was not done; what you typed is still here, "
    "beside the box as it is now."
)


@router.get("")
def show(request: Request, keep: TheKeep, job: str, box: str) -> Response:
    """The bench of a box."""
    return render(request, "bench/page.html", view=bench_view(keep.box(job, box)))


@router.post("/edit/{name}")
def edit(request: Request, keep: TheKeep, typed: Typed, job: str, box: str, name: str) -> Response:
    """Does an edit; the bench as it is after, or the refusal beside what was typed."""
    if name not in EDITS:
        raise HTTPException(404)
    said = {field: value for field, value in typed.items() if field not in ("revision", "asked_by")}

    def change(before: Box, kept: KeptJob) -> Edit:
        return make_edit(before, name, said, kept.sheets)

    return _change(request, keep, typed, job, box, said, change)


def _change(
    request: Request,
    keep: Keep,
    typed: dict[str, str],
    job: str,
    box: str,
    said: dict[str, str],
    change: Callable[[Box, KeptJob], Edit],
) -> Response:
    try:
        kept = keep.change_box(job, box, whole_number(typed.get("revision", "")), change)
    except Refused as wrong:
        return _answer(request, keep.box(job, box), Refusal(typed.get("asked_by", ""), said, tuple(wrong.complaints)))
    except ValidationError as wrong:
        complaints = tuple(complaints_of(wrong))
        return _answer(request, keep.box(job, box), Refusal(typed.get("asked_by", ""), said, complaints))
    except Stale:
        refusal = Refusal(typed.get("asked_by", ""), said, ())
        return _answer(request, keep.box(job, box), refusal, STALE, status=409)
    return _answer(request, kept)


@router.post("/line")
def line(request: Request, keep: TheKeep, typed: Typed, job: str, box: str) -> Response:
    """The box as a line of quick entry describes it."""
    said = {"line": typed.get("line", "")}

    def change(before: Box, kept: KeptJob) -> Edit:
        return enter_line(before, said["line"], kept.sheets)

    return _change(request, keep, typed, job, box, said, change)


@router.post("/{way}")
def step(request: Request, keep: TheKeep, typed: Typed, job: str, box: str, way: Literal["undo", "redo"]) -> Response:
    """Undoes or redoes one edit."""
    try:
        kept = keep.step(job, box, whole_number(typed.get("revision", "")), way)
    except Stale:
        return _answer(request, keep.box(job, box), notice=STALE, status=409)
    return _answer(request, kept)


def _answer(
    request: Request,
    kept: KeptBox,
    refusal: Refusal = NO_REFUSAL,
    notice: str = "",
    status: int = 200,
) -> Response:
    """The bench for htmx; without script a whole page, or a way back to it."""
    job, box = kept.job.key, kept.box.id
    refused = refusal is not NO_REFUSAL or bool(notice)
    status = 422 if refused and status == 200 else status
    if not refused and not asked_by_htmx(request):
        return RedirectResponse(f"/jobs/{job}/boxes/{box}", 303)
    template = "bench/bench.html" if asked_by_htmx(request) else "bench/page.html"
    return render(request, template, status, view=bench_view(kept, refusal, notice))
