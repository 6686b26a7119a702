"""It does not work: the symptom, the reading that splits its causes best, then the next, until one cause is left."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Query
from starlette.requests import Request
from starlette.responses import Response

from ....trade.model.job import Job
from ....trade.model.tick import Tick
from ....trade.plan.install.back_to import back_to
from ....trade.plan.install.steps import install_steps
from ....trade.text.format import say
from ....trade.wiring.hookup.find_fault import STATES, Point, Seen, Suspect, as_it_should, left, next_reading, suspects
from ....trade.wiring.hookup.graph import Graph, graph
from ... import urls
from ...deps import TheStore
from ...templating import render

router = APIRouter(prefix="/jobs/{job}/boxes/{box}/find-fault", include_in_schema=False)
DOES: Mapping[str, tuple[str, Seen]] = {
    "never": ("never comes on", Seen(off=False, on=False)),
    "always": ("never goes off", Seen(off=True, on=True)),
    "reversed": ("is on when it should be off, and off when it should be on", Seen(off=True, on=False)),
}
"""What a load can do that it should not."""
MOST = 40
"""Readings that an address can say."""


@dataclass(frozen=True, slots=True)
class Read:
    """A reading taken."""

    words: str
    state: str
    full: bool


@dataclass(frozen=True, slots=True)
class FaultView:
    """Where the search stands."""

    loads: tuple[tuple[str, str], ...]
    """The loads on the circuits: id and name."""
    load: str
    does: str
    taken: tuple[Read, ...]
    left: tuple[Suspect, ...]
    where: str
    """Where the next reading is taken; "" where none would tell more."""
    state: str
    full: str
    """The address after it showed the full voltage."""
    nothing: str
    back: tuple[str, ...]
    """For each cause that is left when no reading tells more: the step to go back to."""
    is_so: bool
    """Whether the load should do just that, so that nothing is wrong."""


@router.get("")
def show(
    request: Request,
    *,
    store: TheStore,
    job: str,
    box: str,
    load: str = "",
    does: str = "",
    at: Annotated[tuple[str, ...], Query(max_length=MOST)] = (),
    state: Annotated[tuple[int, ...], Query(max_length=MOST)] = (),
    full: Annotated[tuple[bool, ...], Query(max_length=MOST)] = (),
) -> Response:
    """Where the search stands; all answers are in the address, so that going back takes the last answer back."""
    kept = store.wired_box(job, box)
    assert kept.wiring is not None
    seen, ticks = graph(kept.wiring), store.ticks(job)
    names = tuple((one.id, seen.load_names[one.id]) for one in seen.network.loads)
    known = load in dict(names) and does in DOES
    said = [
        (Point(node, STATES[number]), shown)
        for node, number, shown in zip(at, state, full, strict=False)
        if number in range(len(STATES)) and node in seen.names
    ]
    taken = dict(said)
    among = left(suspects(kept.wiring, box), load, DOES[does][1], taken) if known else ()
    point = next_reading(among, taken) if known else None
    view = FaultView(
        names,
        load,
        does,
        tuple(Read(_words(seen, one.node), one.state, shown) for one, shown in said),
        among,
        _words(seen, point.node) if point else "",
        point.state if point else "",
        _after(request, point, True) if point else "",
        _after(request, point, False) if point else "",
        tuple(_back(kept.wiring, job, box, one, ticks) for one in among) if point is None else (),
        known and as_it_should(kept.wiring).get(load) == DOES[does][1],
    )
    choices = [(key, words) for key, (words, _) in DOES.items()]
    address = urls.box(job, box, "find-fault")
    return render(request, "find_fault/page.html", kept=kept, view=view, does=choices, address=address)


def _back(wiring: Job, job: str, box: str, one: Suspect, ticks: tuple[Tick, ...]) -> str:
    """The step of the box a cause is in; of a breaker, where this box is switched on."""
    at = one.fault.box or box
    return urls.box(job, at, "install", step=back_to(install_steps(wiring, at, ticks), one.fault))


def _words(seen: Graph, node: str) -> str:
    return say(seen.names[node])


def _after(request: Request, point: Point, full: bool) -> str:
    """The address that says one reading more."""
    asked = request.query_params.multi_items()
    more = [("at", point.node), ("state", str(STATES.index(point.state))), ("full", "true" if full else "false")]
    return urls.asking(request.url.path, [*asked, *more])
