"""The steps of a box as text and as data."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from ..trade.model.job import Job
from ..trade.model.tick import Tick
from ..trade.plan.install.names import names_of
from ..trade.plan.install.operations import operation_data
from ..trade.plan.install.step import InstallStep
from ..trade.plan.install.steps import install_steps


def steps_data(job: Job, key: str, ticks: Iterable[Tick]) -> dict[str, Any]:
    """Return the steps of a box as plain data: each as sentences and as operations.

    Args:
        job: with every box and run on its circuits.
        ticks: of the job, in the order they were made.
    """
    (box,) = (one for one in job.boxes if one.id == key)
    names = names_of(job, box)
    return {
        "box": box.id,
        "steps": [
            {
                "kind": one.step.kind,
                "subjects": list(one.step.subjects),
                "title": one.title,
                "what": list(one.what),
                "caution": one.caution or None,
                "nothing_to_do": one.idle or None,
                "missing": one.missing,
                "operations": [operation_data(op, names) for op in one.operations],
            }
            for one in install_steps(job, key, ticks)
        ],
    }


def steps_text(job: Job, key: str, ticks: Iterable[Tick]) -> str:
    """Return the same as plain text, without the steps that have nothing to do here."""
    (box,) = (one for one in job.boxes if one.id == key)
    lines = [f"{box.room}: {box.name}"]
    steps = [one for one in install_steps(job, key, ticks) if not one.idle]
    for number, one in enumerate(steps, 1):
        lines += _lines(number, one)
    return "\n".join(lines)


def _lines(number: int, one: InstallStep) -> list[str]:
    caution = [f"     Caution: {one.caution}"] if one.caution else []
    return [f"{number:3}. {one.title}", *(f"     {line}" for line in one.what), *caution]
