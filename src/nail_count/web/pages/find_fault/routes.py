"""Troubleshooting: what people see, then one check at a time, until one cause is left or somebody must be called."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from starlette.requests import Request
from starlette.responses import Response

from ....trade.plan.trouble.checks import check_named
from ....trade.plan.trouble.symptoms import SEEN, SYMPTOMS
from ....trade.plan.trouble.wiring_causes import Setting
from ....trade.wiring.hookup.graph import graph
from ... import urls
from ...deps import TheStore
from ...templating import render
from .view import FaultView, loads_of

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/find-fault", include_in_schema=False)
MOST = 40
"""Answers that an address can hold."""


@router.get("")
def show(
    request: Request,
    *,
    store: TheStore,
    job: str,
    box: str,
    load: str = "",
    symptom: str = "",
    check: Annotated[tuple[str, ...], Query(max_length=MOST)] = (),
    answer: Annotated[tuple[str, ...], Query(max_length=MOST)] = (),
) -> Response:
    """Show where the search stands; every answer is in the address, so going back takes the last answer back."""
    kept = store.wired_box(job, box)
    assert kept.wiring is not None
    loads = loads_of(graph(kept.wiring), box)
    known = load if load in loads else next(iter(loads)) if len(loads) == 1 else ""
    picked = next((one for one in SYMPTOMS if one == symptom), None)
    view = None
    if known and picked is not None:
        here = next(one for one in kept.wiring.boxes if one.id == box)
        pairs = [(check_named(key), said) for key, said in zip(check, answer, strict=False)]
        answers = {one: said for one, said in pairs if one is not None}
        view = FaultView(Setting(kept.wiring, here, known), picked, answers, store.ticks(job), job)
    address = urls.box(job, box, "find-fault")
    symptoms = [(SEEN[one], urls.under(address, load=known, symptom=one)) for one in SYMPTOMS]
    return render(
        request,
        "find_fault/page.html",
        kept=kept,
        loads=loads,
        load=known,
        view=view,
        symptoms=symptoms,
        address=address,
    )
