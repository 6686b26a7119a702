"""Every drawing of a job by what it is called: those of each box, the map of each floor, each day of a plan."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, get_args

from ..trade.assume.usual import ends_in
from ..trade.model.box import Box
from ..trade.model.job import Job, by_id
from ..trade.plan.day.day_plan import DayPlan
from ..trade.plan.day.problem import problem
from ..trade.plan.papers.paper import Drawn
from ..trade.rules.check import check_box
from ..trade.wiring.identify.practice_score import inference_of
from ..trade.wiring.identify.weights import NOWHERE
from .house_map import house_map
from .ink import Ink
from .inked_house import map_ink, timeline_ink
from .inked_inside import side_ink, wires_ink
from .of_paper import drawing_of
from .side import side
from .timeline import timelines
from .wires import wires

BoxDrawing = Literal["count", "front", "side", "wires", "hook-up"]
BOX_DRAWINGS: tuple[BoxDrawing, ...] = get_args(BoxDrawing)
BOX_DRAWING_NAMES: dict[BoxDrawing, str] = {
    "count": "the count as a rail", "front": "the box from the front", "side": "cut from the side",
    "wires": "its conductors", "hook-up": "what joins what",
}  # fmt: skip


def drawings_in(box: Box) -> tuple[BoxDrawing, ...]:
    """Name the drawings of a box: one only where the box has something to draw.

    >>> drawings_in(Box(id="hall", name="Hall", room="Hall"))
    ('count', 'front')
    """
    there = {
        "side": bool(box.devices),
        "wires": any(cable.insulated for cable in box.cables),
        "hook-up": any(splice.ends for splice in box.splices),
    }
    return tuple(name for name in BOX_DRAWINGS if there.get(name, True))


def box_drawing(job: Job, box: Box, what: BoxDrawing) -> Ink:
    """A drawing of a box.

    Args:
        job: the house, as far as it fits together.
        box: one of its boxes.
        what: one of [drawings_in][nail_count.drawing.of_job.drawings_in] it.
    """
    sheets = by_id(job.sheets)
    match what:
        case "side":
            check = check_box(box, sheets, job.terms_at(box), job.volts)
            return side_ink(side(box, sheets, check.depth, job.terms.code))
        case "wires":
            worked = inference_of(box, job.terms, job.house.year, ends_in(job).get(box.id, NOWHERE))
            return wires_ink(wires(box, worked))
        case _:
            return drawing_of(job, Drawn(what, box.id))


def floor_maps(job: Job, states: dict[str, str]) -> Iterator[tuple[str, Ink]]:
    """The map of the wiring of each floor on which there is a box; "" for the floor nobody has entered.

    Args:
        job: the house, as far as it fits together.
        states: how each box stands, by its key.
    """
    floors = {box.room: job.house.floor_of(box.room) for box in job.boxes}
    for floor in dict.fromkeys(floors.values()):
        here = tuple(box for box in job.boxes if floors[box.room] == floor)
        yield floor, map_ink(house_map(job.changed(boxes=here, ticks=()), floors, states))


def day_drawings(job: Job, plan: DayPlan) -> Iterator[tuple[int, Ink]]:
    """Each day of a plan on which something is done, from 1."""
    numbers = {slot.task.id: number for number, slot in enumerate(plan.slots, 1)}
    for drawn in timelines(problem(job), plan, numbers):
        yield drawn.day, timeline_ink(drawn)
