"""The map of a house's wiring: boxes open from it, and runs are entered on it."""

from __future__ import annotations

from typing import Annotated, NamedTuple

from fastapi import APIRouter, Query
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
Start = Annotated[int, Query(ge=0)]


class _Shown(NamedTuple):
    """Which boxes are asked for."""

    floor: str | None = None
    circuit: str = ""
    start: int = 0


WHOLE = _Shown()


@router.get("")
def show(
    request: Request, *, store: TheStore, job: str, floor: str | None = None, circuit: str = "", start: Start = 0
) -> Response:
    """The house, one floor of it, or what one breaker feeds; of many boxes, so many at a time."""
    return _map(request, store, job, shown=_Shown(floor, circuit, start))


@router.post("/edit/say-run")
def say(request: Request, store: TheStore, form: TheAct, job: str) -> Response:
    """Says where a cable goes; back to the map."""

    def read() -> Edit:
        return SayRun.read({name: value for name, value in form.fields.items() if name in SayRun.model_fields})

    def refused(errors: FormErrors, notice: Notice) -> Response:
        return _map(request, store, job, errors=errors, notice=notice)

    return act_on_house(store, form, job, read=read, back=urls.job(job, "map"), refused=refused)


def _map(
    request: Request,
    store: TheStore,
    job: str,
    *,
    shown: _Shown = WHOLE,
    errors: FormErrors = NO_ERRORS,
    notice: Notice = NO_NOTICE,
) -> Response:
    house = store.house(job)
    about = house.job.head.house
    floors = {room: about.floor_of(room) for room in house.rooms}
    every = list(dict.fromkeys(floors.values()))
    fed = [card for card in house.cards if not shown.circuit or shown.circuit in card.circuits]
    floor = shown.floor
    if floor not in every:
        floor = every[0] if len(fed) > AT_ONCE and every else None
    piece = paged([card for card in fed if floor is None or floors[card.room] == floor], shown.start, AT_ONCE)
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
        circuit=shown.circuit,
        paged=piece,
        boxes=list(named.items()),
        names=named,
        errors=errors,
        notice=notice,
    )
