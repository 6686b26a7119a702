"""What was refused on the ladder and in commissioning, as papers say it."""

from __future__ import annotations

from collections.abc import Iterator

from ...model.job import Job
from ...model.tick import ticked


def not_done(job: Job, box: str) -> Iterator[str]:
    """Each step of a box that was refused, with why.

    Args:
        job: with its ticks.
    """
    _, refused = ticked(job.ticks, box)
    for step, tick in refused.items():
        yield f"{step.kind}: not done, {tick.because}"
