"""The map of a house's wiring: boxes open from it, and runs are entered on it."""

from __future__ import annotations

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from ....drawing.house_map import house_map
from ....trade.edits.base import Edit
from ....trade.edits.runs import SayRun
from ... import urls
from ...deps import TheAct, TheStore
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice
from ...house_screen import act_on_house
from ...paging import paged
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/map", include_in_schema=False)
AT_ONCE = 200
"""Up to how many boxes the whole house is shown; beyond, floor by floor."""


@router.get("")
def show(request: Request, store: TheStore, job: str, floor: str | None = None, start: int = 0) -> Response:
    """The house, or one floor of it; of a large floor, so many boxes at a time."""
    return _map(request, store, job, floor=floor, start=start)


@router.post("/edit/say-run")
def say(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """Says where a cable goes; back to the map."""

    def read() -> Edit:
        return SayRun.read({name: value for name, value in form.fields.items() if name in SayRun.model_fields})

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _map(request, store, job, floor=None, start=0, errors=errors, notice=notice)

    return act_on_house(store, form, job, read=read, back=urls.job(job, "map"), refused=refused)


def _map(
    request: Request,
    store: TheStore,
    job: str,
    *,
    floor: str | None,
    start: int,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    house = store.house(job)
    about = house.job.head.house
    floors = {room: about.floor_of(room) for room in house.rooms}
    every = list(dict.fromkeys(floors.values()))
    if floor not in every:
        floor = every[0] if len(house.cards) > AT_ONCE and every else None
    piece = paged([card for card in house.cards if floor is None or floors[card.room] == floor], start, AT_ONCE)
    whole = store.with_runs(job, [card.key for card in piece.shown])
    drawn = house_map(whole, floors, {card.key: card.state for card in piece.shown})
    named = {card.key: f"{card.room}: {card.name}" for card in house.cards}
    return render(
        request,
        "wiring_map/page.html",
        409 if notice else 422 if errors is not NO_ERRORS else 200,
        job=house.job,
        drawn=drawn,
        floors=every,
        floor=floor,
        paged=piece,
        boxes=list(named.items()),
        names=named,
        errors=errors,
        notice=notice,
    )
