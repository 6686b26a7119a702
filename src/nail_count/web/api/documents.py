"""Boxes, sheets and runs, each at its newest revision or at an earlier one."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Body, Query
from starlette.responses import Response

from ...store.snapshots import BoxFilter
from ...trade.model.box import Box
from ...trade.model.datasheet import Datasheet
from ...trade.model.errors import Rejected
from ...trade.model.run import Run
from .. import urls
from ..deps import TheStore
from ..threads import beside
from .common import MOST, After, Key, Limit, Number, as_kept, piece, problems
from .conditions import IfNoneMatch, known_already
from .shapes import BoxSummary, EffectShown, Page

router = APIRouter(tags=["documents"])
Sought = Annotated[str, Query(max_length=80, description="Only those; empty: all.")]


@router.get("/jobs/{job}/boxes", responses=problems())
def list_boxes(
    store: TheStore,
    *,
    job: Key,
    state: Sought = "",
    circuit: Sought = "",
    room: Sought = "",
    words: Sought = "",
    after: After = 0,
    limit: Limit = MOST,
) -> Page[BoxSummary]:
    """The boxes of a job in its order, or those sought, and how each stands."""
    sought = BoxFilter(state=state, circuit=circuit, room=room, words=words)
    cards = [BoxSummary.of(card) for card in store.house(job, sought).cards]
    return piece(cards, after, limit, urls.api("jobs", job, "boxes"), sought.said)


@router.get("/jobs/{job}/boxes/{box}", response_model=Box, responses=problems())
def show_box(store: TheStore, job: Key, box: Key, if_none_match: IfNoneMatch = None) -> Response:
    """A box as it is. Its ETag is its revision."""
    kept = store.box(job, box)
    return known_already(if_none_match, kept.number) or as_kept(kept.box, kept.number)


@router.get("/jobs/{job}/boxes/{box}/revisions/{number}", response_model=Box, responses=problems())
def show_earlier_box(store: TheStore, job: Key, box: Key, number: Number) -> Response:
    """A box as it was at an earlier revision."""
    return as_kept(store.earlier(job, box, number).then.box, number)


@router.get("/jobs/{job}/sheets", responses=problems())
def list_sheets(store: TheStore, job: Key, after: After = 0, limit: Limit = MOST) -> Page[Datasheet]:
    """The datasheets of a job."""
    return piece(list(store.job(job).sheets.values()), after, limit, urls.api("jobs", job, "sheets"))


@router.get("/jobs/{job}/sheets/{sheet}", response_model=Datasheet, responses=problems())
def show_sheet(store: TheStore, job: Key, sheet: Key, if_none_match: IfNoneMatch = None) -> Response:
    """A datasheet as it is. Its ETag is its revision."""
    kept = store.sheet(job, sheet)
    return known_already(if_none_match, kept.number) or as_kept(kept.sheet, kept.number)


@router.post("/jobs/{job}/sheets/{sheet}/effects", responses=problems())
async def effects_of(store: TheStore, job: Key, sheet: Key, new: Annotated[Datasheet, Body()]) -> list[EffectShown]:
    """What a changed sheet would do to each box that uses it; nothing is kept."""
    if new.id != sheet:
        raise Rejected(f"Send the sheet {sheet}", "id")
    store.sheet(job, sheet)
    return [EffectShown.of(effect) for effect in await beside(store.effects, job, new)]


@router.get("/jobs/{job}/runs", responses=problems())
def list_runs(store: TheStore, job: Key, after: After = 0, limit: Limit = MOST) -> Page[Run]:
    """Where cables go, as far as that is known."""
    return piece(store.with_runs(job, ()).runs, after, limit, urls.api("jobs", job, "runs"))
