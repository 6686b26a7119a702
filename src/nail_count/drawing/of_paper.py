"""The drawings that a paper asks for, and the square codes on it: of the box as planned, or as it was built."""

from __future__ import annotations

from itertools import groupby

import segno

from ..trade.model.box import Box
from ..trade.model.job import Job, by_id
from ..trade.plan.floors import ON_SHEET
from ..trade.plan.papers.as_built import built_look
from ..trade.plan.papers.paper import Drawn, Mapped
from ..trade.rules.check import check_box
from ..trade.text.format import sum_up
from ..trade.wiring.hookup.stages import ends_of
from .front import front
from .hookup import hookup_drawing
from .house_map import house_map
from .ink import Area, Ink, Mark
from .inked import front_ink, hookup_ink, rail_ink
from .inked_house import map_ink
from .rail import rail
from .titles import titles_of


def drawing_of(job: Job, asked: Drawn) -> Ink:
    """Return the drawing that a paper asks for.

    Args:
        job: the house, as far as it fits together.
        asked: the drawing and its box, a box of the house.
    """
    box = next(one for one in job.boxes if one.id == asked.box)
    sheets = by_id(job.sheets)
    if asked.what == "hook-up":
        return _hookup(job, box)
    if asked.what == "front":
        names = {item.id: item.name or sheets[item.sheet].name for item in box.equipment}
        return front_ink(front(box, sheets), names)
    fill = check_box(box, sheets, job.terms_at(box), job.volts).fill
    return rail_ink(rail(fill), f"Rail of the count: {sum_up(fill)}, {fill.state.word}.")


def _hookup(job: Job, box: Box) -> Ink:
    seen = built_look(job, box.id)
    ends = ends_of(seen.job, seen.box, "planned")
    splices = [one for one in seen.box.splices if one.ends]
    titles = titles_of(seen.job, seen.box)
    return hookup_ink(hookup_drawing(ends, splices, titles))


def map_of(job: Job, asked: Mapped) -> Ink:
    """The map of some boxes that a paper asks for.

    Args:
        job: the house, as far as it fits together.
        asked: boxes and breakers of the house.
    """
    here = tuple(box for box in job.boxes if box.id in asked.boxes)
    floors = {box.room: job.house.floor_of(box.room) for box in job.boxes}
    circuits = tuple(one for one in job.circuits if one.id in asked.circuits)
    return map_ink(house_map(job.changed(boxes=here, circuits=circuits, ticks=()), floors, {}, ON_SHEET))


def code_of(address: str) -> Ink:
    """An address as a square code, as many units wide as it has modules."""
    made = segno.make(address, error="m", micro=False)
    rows = [list(row) for row in made.matrix_iter(border=2)]
    marks: list[Mark] = []
    for y, row in enumerate(rows):
        x = 0
        for dark, run in groupby(row):  # dark squares side by side are one bar
            wide = len(list(run))
            if dark:
                marks.append(Area(x, y, wide, 1.02, "ink", 0))
            x += wide
    return Ink(0, 0, len(rows[0]), len(rows), tuple(marks), f"A code that leads to {address}", 26)
