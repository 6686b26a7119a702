"""Troubleshooting: what people see, then one check at a time, until one cause is left or somebody must be called."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query
from starlette.requests import Request
from starlette.responses import Response

from ....trade.model.job import Job
from ....trade.model.tick import Tick
from ....trade.plan.install.back_to import back_to
from ....trade.plan.install.steps import install_steps
from ....trade.plan.trouble.causes import Cause
from ....trade.plan.trouble.checks import SKIPPED, Answer, Check, check_named
from ....trade.plan.trouble.narrow import Group, causes_left, grouped, left, next_check
from ....trade.plan.trouble.symptoms import SEEN, STOP_FIRST, SYMPTOMS
from ....trade.plan.trouble.wiring_causes import Setting
from ....trade.plan.trouble.words import Order, answers_of, order_of
from ....trade.wiring.hookup.graph import Graph, graph
from ... import urls
from ...deps import TheStore
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/find-fault", include_in_schema=False)
MOST = 40
"""Answers that an address can hold."""


@dataclass(frozen=True, slots=True)
class Answered:
    """A check that was answered."""

    title: str
    answer: str
    back: str
    """The address before it was answered."""


@dataclass(frozen=True, slots=True)
class Choice:
    """An answer to the check at hand."""

    label: str
    to: str


@dataclass(frozen=True, slots=True)
class FaultView:
    """Where the search stands."""

    loads: tuple[tuple[str, str], ...]
    """The loads on the circuits: id and name."""
    load: str
    symptom: str
    """In a person's words; "" while none is picked."""
    first: str
    """What comes before any check; "" for nothing."""
    answered: tuple[Answered, ...]
    order: Order | None
    """The check that comes next; None where none tells more."""
    risk: str
    choices: tuple[Choice, ...]
    left: tuple[Group, ...]
    """The causes left, those mended the same way together."""
    steps: tuple[str, ...]
    """For each of them the step of the box to go back to; "" where it is not in the wiring."""
    found: bool
    """Whether an answer showed the one that is left, not only that it is none of the others."""


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
    seen = graph(kept.wiring)
    loads = _loads(seen, box)
    known = load if load in dict(loads) else loads[0][0] if len(loads) == 1 else ""
    address = urls.box(job, box, "find-fault")
    picked = next((one for one in SYMPTOMS if one == symptom), None)
    if not known or picked is None:
        view = FaultView(loads, known, "", "", (), None, "", (), (), (), False)
    else:
        at = Setting(kept.wiring, next(one for one in kept.wiring.boxes if one.id == box), known)
        pairs = [(check_named(key), said) for key, said in zip(check, answer, strict=False)]
        answers = {one: said for one, said in pairs if one is not None}
        every = causes_left(kept.wiring, at.box, known, picked, {})
        among = left(every, answers) or causes_left(kept.wiring, at.box, known, picked, answers)
        following = next_check(among, answers)
        groups = grouped(among)
        ticks = store.ticks(job)
        view = FaultView(
            loads,
            known,
            SEEN[picked],
            STOP_FIRST[picked],
            tuple(_answered(request, at, every, one) for one in enumerate(answers.items())),
            order_of(following, at, picked) if following else None,
            following.kind.risk if following else "",
            tuple(Choice(label, _after(request, following, said)) for said, label in answers_of(following, at, among))
            if following
            else (),
            groups,
            () if following else tuple(_back(kept.wiring, job, box, one, ticks) for one in groups),
            len(groups) == 1 and _is_shown(groups[0], answers),
        )
    symptoms = [(SEEN[one], urls.under(address, load=known, symptom=one)) for one in SYMPTOMS]
    return render(request, "find_fault/page.html", kept=kept, view=view, symptoms=symptoms, address=address)


def _loads(seen: Graph, box: str) -> tuple[tuple[str, str], ...]:
    """The loads something in the box switches, or all on its circuits where nothing does: id and name."""
    here = frozenset[str]().union(*(one.all_controls for one in seen.network.gear if seen.box_of[one.id] == box))
    loads = [one.id for one in seen.network.loads if one.id in here] or [one.id for one in seen.network.loads]
    return tuple((one, seen.load_names[one]) for one in loads)


def _is_shown(group: Group, answers: dict[Check, Answer]) -> bool:
    """Whether an answer other than the usual one speaks for a cause."""
    told = {one: said for one, said in answers.items() if said not in (one.kind.usual, SKIPPED)}
    return any(said in group.first.answers(one) for one, said in told.items())


def _answered(
    request: Request, at: Setting, every: tuple[Cause, ...], given: tuple[int, tuple[Check, Answer]]
) -> Answered:
    number, (one, said) = given
    asked = request.query_params
    kept = [(key, value) for key, value in asked.multi_items() if key in ("load", "symptom")]
    pairs = zip(asked.getlist("check")[:number], asked.getlist("answer")[:number], strict=False)
    before = [item for key, value in pairs for item in (("check", key), ("answer", value))]
    symptom = next(one for one in SYMPTOMS if one == asked["symptom"])
    words = dict(answers_of(one, at, every))
    title = order_of(one, at, symptom).title
    return Answered(title, words.get(said, said), urls.asking(request.url.path, [*kept, *before]))


def _back(wiring: Job, job: str, box: str, group: Group, ticks: tuple[Tick, ...]) -> str:
    """The step of the box a cause is in; of a breaker, where this box is switched on; "" for one outside the wiring."""
    if not group.first.faults:
        return ""
    fault = group.first.faults[0]
    at = fault.box or box
    return urls.box(job, at, "install", step=back_to(install_steps(wiring, at, ticks), fault))


def _after(request: Request, check: Check, said: Answer) -> str:
    """The address with one answer more."""
    asked = request.query_params.multi_items()
    return urls.asking(request.url.path, [*asked, ("check", check.key), ("answer", said)])
