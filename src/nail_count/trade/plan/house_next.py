"""Name the one thing to do next in a house, and count the boxes that hold up each phase of it.

Every box is asked what comes next there. What most boxes wait for in the earliest phase comes first; parts are ordered
once everything is planned, and work goes breaker by breaker.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, get_args

from ..documents import Documents, JobAtHand, wired_with
from ..model.box import Box
from ..model.house import HousePutOff
from ..model.job import Job
from ..model.survey import PutOff
from ..model.tick import Tick, standing
from ..text.format import and_list
from ..wiring.hookup.work import arriving
from .commission.progress import is_recorded_as_built
from .next_step import Ask, WayThrough, way_through
from .parts.parts_list import parts_list
from .progress import Phase

HousePhase = Literal["Walk through", "Plan", "Work", "Hand over"]
HOUSE_PHASES: tuple[HousePhase, ...] = get_args(HousePhase)
"""The phases of the work in a house, in their order."""
HousePage = Literal["", "parts", "papers"]
"""Where something is done in a house; "" for the list of its boxes."""
_NAMED = 3
"""So many boxes are named in a sentence; more are only counted."""
_KEPT = 4096


@dataclass(frozen=True, slots=True)
class HouseAsk:
    """Something to do now in a house."""

    code: HousePutOff
    phase: HousePhase
    order: str
    """What to do, as an order."""
    why: str
    page: HousePage = ""
    boxes: tuple[tuple[Box, Ask], ...] = ()
    """The boxes it is about, with the ask there, the one to begin with first; () where a page of the house
    does it."""


@dataclass(frozen=True, slots=True)
class HouseWay:
    """How far the work in a house has come."""

    next: HouseAsk | None
    """None where nothing is left to do."""
    left: Mapping[HousePhase, int]
    """How many boxes have something left in each phase."""
    boxes: Mapping[str, WayThrough]
    """How far each box has come, by its key."""


def house_way(job: Job) -> HouseWay:
    """Return the one thing to do next in a house, and how many boxes have something left in each phase."""
    boxes = {box.id: _way_at(job, box) for box in job.boxes}
    asked = tuple(_asks(job, boxes))
    first = next((one for one in asked if one.code not in job.house.put_off), None)
    left = {
        phase: sum(any(way.left[one] != 0 for one in PHASES_OF[phase]) for way in boxes.values())
        for phase in HOUSE_PHASES
    }
    return HouseWay(first or next(iter(asked), None), left, boxes)


PHASES_OF: Mapping[HousePhase, tuple[Phase, ...]] = {
    "Walk through": ("Look",), "Plan": ("Plan",), "Work": ("Wires", "Work"), "Hand over": ("Record",),
}  # fmt: skip
"""Which phases of a box each phase of a house takes in."""


def _way_at(job: Job, box: Box) -> WayThrough:
    near = wired_with(Documents(JobAtHand(job), {}), box)
    there = {one.id for one in near.boxes}
    return _way(near, box.id, tuple(tick for tick in job.ticks if tick.box is None or tick.box in there))


@lru_cache(maxsize=_KEPT)
def _way(job: Job, key: str, ticks: tuple[Tick, ...]) -> WayThrough:
    """Work out the way through a box once, as long as nothing it is wired together with changes."""
    return way_through(job, key, ticks)


def _asks(job: Job, boxes: Mapping[str, WayThrough]) -> Iterator[HouseAsk]:
    """Everything to do, in order."""
    if not job.boxes:
        yield HouseAsk("boxes", "Walk through", "Enter the first box.", "One line is enough.")
        return
    by_code: dict[PutOff, list[_At]] = {}
    for box in job.boxes:
        if (ask := boxes[box.id].next) is not None:
            by_code.setdefault(ask.code, []).append((box, ask))
    ticks = standing(job.ticks)
    recorded = {box.id for box in job.boxes if is_recorded_as_built(box, ticks)}
    is_over = all(box.id in recorded for box in job.boxes if arriving(box))
    for phase, orders in ORDERS.items():
        for code, order in orders.items():
            if some := by_code.get(code):
                yield _work(job, some) if code == "work" else _ask(code, phase, order, some)
        if phase == "Plan" and not is_over:
            yield from _to_order(job, recorded)
    if is_over:
        order = "Print the papers and hand them over."
        yield HouseAsk("papers", "Hand over", order, "Every box is recorded.", "papers")


_At = tuple[Box, Ask]
"""A box, and what comes next there."""
ORDERS: Mapping[HousePhase, Mapping[PutOff, str]] = {
    "Walk through": {
        "volume": "Enter the volume stamped in {}.",
        "cables": "Enter the cables in {}.",
    },
    "Plan": {
        "device": "Choose the devices for {}.",
        "loads": "Enter the lights on the devices in {}.",
        "fails": "See what makes {} hold.",
        "ends": "Enter where the cables of {} go.",
        "open": "Settle the open points at {}.",
        "hook-up": "Plan what joins what in {}.",
    },
    "Work": {
        "breaker": "Find the breaker of {}.",
        "wiring": "Look at the old wiring and do the live test in {}.",
        "work": "Go on with the work at {}.",
        "set-up": "Set up the devices in {}.",
    },
    "Hand over": {"built": "Record {} as built."},
}
"""The order for what several boxes wait for, by phase; in the order in which it is asked."""


def _ask(code: PutOff, phase: HousePhase, order: str, some: Sequence[_At]) -> HouseAsk:
    first, ask = some[0]
    why = ask.why if len(some) == 1 else f"Begin with {first.name}."
    return HouseAsk(code, phase, order.format(_named(box for box, _ in some)), why, boxes=tuple(some))


def _work(job: Job, some: Sequence[_At]) -> HouseAsk:
    """Go on where work has begun, else begin at the breaker that comes first in the panel."""
    ticked = {tick.box for tick in standing(job.ticks)}
    begun = [one for one in some if one[0].id in ticked]
    if begun:
        return _ask("work", "Work", ORDERS["Work"]["work"], begun)
    first = next(number for circuit in job.circuits for box, _ in some if (number := circuit.id) in box.circuits)
    on_it = [one for one in some if first in one[0].circuits]
    return _ask("work", "Work", f"Start with breaker {first}: {{}}.", on_it)


def _to_order(job: Job, recorded: Collection[str]) -> Iterator[HouseAsk]:
    """Ask for the parts that are still to be bought, but for boxes that are recorded as built."""
    lines = sum(bool(line.to_buy) and any(need.box not in recorded for need in line.needs) for line in parts_list(job))
    if lines:
        why = "One part is still to be bought." if lines == 1 else f"{lines} parts are still to be bought."
        yield HouseAsk("parts", "Plan", "Order the parts.", why, "parts")


def _named(boxes: Iterable[Box]) -> str:
    """Name a few boxes, or count more.

    >>> _named([Box(id="a", name="Hall", room="Hall")])
    'Hall'
    """
    names = [box.name for box in boxes]
    return and_list(names) if len(names) <= _NAMED else f"{len(names)} boxes"
