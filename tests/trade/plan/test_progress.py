"""How far a house has come: each stage by what was said and ticked, and nothing by what was not."""

from __future__ import annotations

from typing import Any

from nail_count.trade.model.job import Job
from nail_count.trade.plan.progress import MILESTONES, progress_of, totals
from tests.trade.plan.test_parts import house, with_shop

DONE = house(a=("toggle", "rocker"), b=("toggle", "toggle"), c=("?", "rocker"))


def reached(job: Job, key: str) -> dict[str, str]:
    row = next(one for one in progress_of(job) if one.box.id == key)
    assert tuple(stage.name for stage in row.stages) == tuple(MILESTONES)
    return {stage.name: stage.reached for stage in row.stages}


def ticked(job: Job, *kinds: str) -> Job:
    said: list[dict[str, Any]] = [
        {"id": f"n{n}", "box": "a", "step": {"kind": kind}, "at": f"2026-01-05T{n + 10}:00"}
        for n, kind in enumerate(kinds)
    ]
    return Job.model_validate({**job.model_dump(exclude_none=True), "ticks": [*job.ticks, *said]})


def test_each_stage_by_what_was_said_and_ticked() -> None:
    start = reached(DONE, "a")
    assert (start["found"], start["hook-up"], start["parts"], start["installed"]) == (
        "done",
        "not yet",
        "not yet",
        "not yet",
    )
    assert reached(DONE, "c")["found"] == "not yet"
    assert {name: is_so for name, is_so in reached(DONE, "b").items() if is_so == "no need"} == dict.fromkeys(
        ("parts", "installed", "proven", "commissioned", "recorded"), "no need"
    ), "the same was found as is planned"
    assert reached(with_shop(DONE, {}, {"rocker": 2}), "a")["parts"] == "begun", (
        "the plate is missing, and its connectors"
    )
    assert reached(ticked(DONE, "photographed"), "a")["installed"] == "begun"
    assert reached(ticked(DONE, "photographed", "closed"), "a")["installed"] == "done"
    assert reached(ticked(DONE, "begun", "done"), "a")["installed"] == "done"
    assert reached(ticked(DONE, "tried by hand"), "a")["recorded"] == "not yet"
    assert totals(progress_of(ticked(DONE, "closed")))["installed"] == (1, 2)
