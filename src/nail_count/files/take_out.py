"""A job in other forms, file by file, each made when it is its turn."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from ..drawing.ink import Ink
from ..drawing.of_job import box_drawing, day_drawings, drawings_in, floor_maps
from ..trade.model.job import Job
from ..trade.rules.check import check_job
from .day_report import plan_of
from .svg import svg
from .tables import TABLES, table_csv

PLAN_FOR = 10.0
"""How long the best plan of the days is looked for, before the best so far is drawn [s]."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """The files taken out, each with its place; None: not wanted."""

    xlsx: Path | None = None
    tables: Path | None = None
    """A folder, here and below."""
    svg: Path | None = None
    png: Path | None = None

    @property
    def any(self) -> bool:
        """Whether anything is wanted."""
        return self != Wanted()


def taken_out(job: Job, wanted: Wanted) -> Iterator[tuple[Path, bytes]]:
    """Where each file goes, and its content.

    Args:
        job: the house, as far as it fits together.
    """
    # Read where they are needed: a command starts without what others need.
    if wanted.xlsx is not None:
        from .xlsx import job_xlsx

        yield wanted.xlsx, job_xlsx(job)
    if wanted.tables is not None:
        for name in TABLES:
            yield wanted.tables / f"{name}.csv", table_csv(job, name).encode()
    if wanted.svg is None and wanted.png is None:
        return
    from .png import png

    for called, ink in drawings(job):
        if wanted.svg is not None:
            yield wanted.svg / f"{called}.svg", svg(ink).encode()
        if wanted.png is not None:
            yield wanted.png / f"{called}.png", png(ink)


def drawings(job: Job) -> Iterator[tuple[str, Ink]]:
    """Every drawing of a job, by the name of its file: of each box, of each floor, of each day that is planned."""
    for box in job.boxes:
        for what in drawings_in(box):
            yield f"{box.id}-{what}", box_drawing(job, box, what)
    if job.boxes:
        states = {one.box.id: one.state.word for one in check_job(job).boxes}
        for number, (floor, ink) in enumerate(floor_maps(job, states), 1):
            yield f"map-{number}{_plain(floor)}", ink
        for day, ink in day_drawings(job, plan_of(job, PLAN_FOR)):
            yield f"day-{day}", ink


def _plain(name: str) -> str:
    """A name as part of a file's."""
    clean = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:40]
    return f"-{clean}" if clean else ""
