"""A job in other forms, file by file, each made when it is its turn."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from ..drawing.of_paper import drawing_of
from ..trade.model.job import Job
from ..trade.plan.records.paper import Drawn
from .svg import svg
from .tables import TABLES, table_csv


def taken_out(job: Job, xlsx: Path | None, tables: Path | None, drawings: Path | None) -> Iterator[tuple[Path, bytes]]:
    """Where each file goes, and what is in it.

    Args:
        job: the house, as far as it fits together.
        xlsx: where the spreadsheet goes; None: none is wanted.
        tables: the folder of the tables; None: none.
        drawings: the folder of the drawings; None: none.
    """
    if xlsx is not None:
        from .xlsx import job_xlsx

        yield xlsx, job_xlsx(job)
    if tables is not None:
        for name in TABLES:
            yield tables / f"{name}.csv", table_csv(job, name).encode()
    if drawings is not None:
        for box in job.boxes:
            yield drawings / f"{box.id}-count.svg", svg(drawing_of(job, Drawn("count", box.id))).encode()
            yield drawings / f"{box.id}-front.svg", svg(drawing_of(job, Drawn("front", box.id))).encode()
            if any(splice.ends for splice in box.splices):
                yield drawings / f"{box.id}-hook-up.svg", svg(drawing_of(job, Drawn("hook-up", box.id))).encode()
