"""Practice: a hidden box whose wires are told apart; one hooked up by hand; a fault found; a crowded box planned."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from random import randrange
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response

from ....store.snapshots import NotFound
from ....trade.documents import Documents, JobAtHand, wired_with
from ....trade.model.job import Job
from ....trade.model.keys import free_key
from ....trade.search.crowded import crowded_score
from ....trade.text.format import say
from ....trade.wiring.hookup.find_fault import STATES, HiddenFault, Point, Seen, hide_fault, hookup_score, still
from ....trade.wiring.hookup.graph import graph
from ....trade.wiring.simulate.practice import LEVELS
from ... import urls
from ...deps import Form, TheStore
from ...templating import render
from .exercises import CROWDED, HOOKED, bare, crowded, hooked, shipped

router = APIRouter(prefix="/practice", include_in_schema=False)
MOST = 40
"""Readings that an address can say."""
BEGUN = {"hook-up": ("practice-hook-up", bare), "crowded": ("practice-crowded", crowded)}
"""Exercises that are boxes of a job of their own: what its key begins with, and what makes it."""
DOES = {Seen(False, False): "never comes on", Seen(True, True): "never goes off", Seen(True, False): "is reversed"}


@router.get("")
def show(request: Request, store: TheStore) -> Response:
    """What there is to practice, and what was begun."""
    cards = [card for card in store.jobs() if not card.removed]
    begun = [
        (card.key, card.name, kind)
        for card in cards
        for kind, (prefix, _) in BEGUN.items()
        if card.key.startswith(prefix)
    ]
    return render(
        request,
        "practice/page.html",
        levels=[name for name, _ in LEVELS],
        hooked=_named(HOOKED),
        crowded=_named(CROWDED),
        begun=begun,
    )


def _named(boxes: tuple[tuple[str, str], ...]) -> list[str]:
    return [next(box.name for box in shipped(house).boxes if box.id == key) for house, key in boxes]


@router.post("/begin/{kind}")
def begin(store: TheStore, form: Form, kind: Literal["hook-up", "crowded"]) -> Response:
    """A box to hook up, or a crowded one: a job of its own, straight to where it is worked."""
    prefix, make = BEGUN[kind]
    job, key = make(_number(form, len(HOOKED) if kind == "hook-up" else len(CROWDED)))
    kept = store.add_job(job, free_key(prefix, {card.key for card in store.jobs()}))
    return RedirectResponse(urls.box(kept, key, "hookup" if kind == "hook-up" else ""), 303)


@router.post("/begin-fault")
def begin_fault(form: Form) -> Response:
    """A fault hidden in a box that is hooked up."""
    number = _number(form, len(HOOKED))
    return RedirectResponse(urls.page("practice", "fault", level=number, seed=randrange(2**31)), 303)  # noqa: S311


def _number(form: dict[str, str], count: int) -> int:
    typed = form.get("level", "0")
    return int(typed) % count if typed.isdecimal() and len(typed) < 4 else 0


@router.get("/score/{kind}/{job}")
def score(request: Request, store: TheStore, kind: Literal["hook-up", "crowded"], job: str) -> Response:
    """How well it went, against the best there is."""
    whole = store.whole_job(job)
    if not whole.boxes or not job.startswith(BEGUN[kind][0]):
        raise NotFound("Begin an exercise first")
    key = whole.boxes[0].id
    documents = Documents(JobAtHand(whole), {})
    box = documents.box(key)
    hook = hookup_score(wired_with(documents, box), key) if kind == "hook-up" else None
    tight = crowded_score(whole, box) if kind == "crowded" else None
    return render(request, "practice/score.html", job=store.job(job), box=box, hook=hook, tight=tight, kind=kind)


@dataclass(frozen=True, slots=True)
class FaultPractice:
    """Where the search for a hidden fault stands."""

    box: str
    load: str
    does: str
    taken: tuple[tuple[str, str, bool], ...]
    points: tuple[tuple[str, str], ...]
    """Where can be measured: its key, and what people call it."""
    states: tuple[str, ...]
    causes: tuple[str, ...]
    left: int
    """How many causes the readings leave."""
    guess: str
    right: bool
    truth: str
    best: int


@router.get("/fault")
def fault(
    request: Request,
    *,
    level: Annotated[int, Query(ge=0, lt=len(HOOKED))] = 0,
    seed: Annotated[int, Query(ge=0, lt=2**31)] = 0,
    at: Annotated[tuple[str, ...], Query(max_length=MOST)] = (),
    state: Annotated[tuple[int, ...], Query(max_length=MOST)] = (),
    guess: int | None = None,
) -> Response:
    """A hidden fault: readings taken and a cause named; all that was done is in the address."""
    job, key = hooked(level)
    hidden = hide_fault(job, key, seed)
    if hidden is None:
        raise NotFound("Pick a box in which a fault shows")
    view = _view(job, key, hidden, [(a, STATES[s]) for a, s in zip(at, state, strict=False) if s in (0, 1)], guess)
    asked = [(name, value) for name, value in request.query_params.multi_items() if name != "guess"]
    return render(request, "practice/fault.html", view=view, asked=asked, states=STATES, level=level)


def _view(job: Job, key: str, hidden: HiddenFault, said: list[tuple[str, str]], guess: int | None) -> FaultPractice:
    seen = graph(job)
    points = dict.fromkeys(point.node for point in hidden.truth.reads)
    taken = {Point(node, name): hidden.shown(Point(node, name)) for node, name in said if node in points}
    named = hidden.causes[guess] if guess is not None and 0 <= guess < len(hidden.causes) else None
    called: Callable[[str], str] = lambda node: say(seen.names[node])  # noqa: E731 – a short name for a long call
    return FaultPractice(
        next(box.name for box in job.boxes if box.id == key),
        seen.load_names[hidden.load],
        DOES[hidden.does],
        tuple((called(point.node), point.state, full) for point, full in taken.items()),
        tuple((node, called(node)) for node in points),
        STATES,
        tuple(one.fault.words for one in hidden.causes),
        still(hidden, taken),
        named.fault.words if named else "",
        named is not None and hidden.same(named),
        hidden.truth.fault.words,
        hidden.best,
    )
