"""Conductors told apart: their look, their readings, their roles; and practice on a hidden box."""

from __future__ import annotations

from itertools import count
from random import choice, randrange

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.store import Store
from ....trade.edits.house.boxes import BringIn
from ....trade.edits.practice import MeasureHere, Reveal
from ....trade.model.box import Box
from ....trade.model.job import Job
from ....trade.model.practice import Practice
from ....trade.rules.fit.house import MOST_BOXES
from ....trade.wiring.identify.next_reading import next_reading
from ....trade.wiring.identify.practice_score import inference_of
from ....trade.wiring.identify.readings_sheet import Point, points
from ....trade.wiring.simulate.practice import LEVELS, hide
from ... import urls
from ...box_screen import Screen, act, one_section, screen_router
from ...deps import Form, TheAct, TheStore
from ...templating import render
from .view import wires_view

PRACTICE_KEY = "practice"


WIRES = Screen("wires", "wires/page.html", one_section("wires", "wires/wires.html", wires_view))
router = screen_router(WIRES)
practice_router = APIRouter(prefix="/practice", include_in_schema=False)


@router.post("/measure")
def measure_it(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """A reading with the simulated meter, on a box to practice on."""
    return act(
        request, store, form, where=(job, box), screen=WIRES, read=lambda: MeasureHere.read(form.fields | {"box": box})
    )


@router.post("/reveal")
def reveal(request: Request, store: TheStore, form: TheAct, job: str, box: str) -> Response:
    """What really lies behind a box to practice on."""
    return act(request, store, form, where=(job, box), screen=WIRES, read=lambda: Reveal(box=box))


@router.get("/sheet")
def sheet(request: Request, store: TheStore, job: str, box: str) -> Response:
    """The points to probe, in what states, with room to write: for the ladder."""
    kept = store.box(job, box)
    worked = inference_of(kept.box, kept.job.head.terms, kept.job.head.house.year, kept.ends)
    rows: tuple[Point, ...] = points(worked)
    return render(request, "wires/sheet.html", kept=kept, rows=rows, following=next_reading(worked))


@practice_router.post("")
def begin(store: TheStore, form: Form) -> Response:
    """A new hidden box of a level; straight to its wires."""
    number = form.get("level", "0")
    level = int(number) % len(LEVELS) if number.isdecimal() and len(number) < 4 else 0
    practice = Practice(
        arrangement=choice(LEVELS[level][1]),  # noqa: S311 – a game, not a secret
        seed=randrange(2**32),  # noqa: S311
        broken=level == len(LEVELS) - 1,
    )
    hidden = hide(practice)
    job = _practice_job(store)
    box = Box(
        id="hidden",
        name=f"Hidden box, level {level + 1}",
        room="Practice",
        circuit="1",
        other_circuits=tuple(hidden.circuits[1:]),
        cables=tuple(hidden.cables),
        practice=practice,
    )

    done = store.act(job, BringIn(new=box, because=f"A hidden box of level {level + 1}: {LEVELS[level][0]}"))
    return RedirectResponse(urls.box(job, done.boxes[0], "wires"), 303)


def _practice_job(store: Store) -> str:
    """The job hidden boxes go into: never one of a person's own that is called so."""
    for number in count(1):
        key = PRACTICE_KEY if number == 1 else f"{PRACTICE_KEY}-{number}"
        if not store.has_job(key):
            circuits = [{"id": str(n), "breaker": 15, "label": "Practice", "space": n} for n in (1, 2)]
            return store.add_job(Job.model_validate({"name": "Practice", "circuits": circuits}), key)
        head = store.job(key).head
        own = [circuit.label for circuit in head.circuits if circuit.id in ("1", "2")]
        if own == ["Practice", "Practice"] and len(head.order or ()) < MOST_BOXES:
            return key
    raise AssertionError
