"""How far a house has come: each stage by what was said and ticked, and nothing by what was not."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

from nail_count.trade.model.job import Job
from nail_count.trade.plan.progress import MILESTONES, MILESTONES_OF, PHASES, progress_of, totals
from nail_count.web.pages.progress.routes import CALLED, SCREENS
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
        ("found", "parts", "installed", "proven", "commissioned", "recorded"), "no need"
    ), "the same was found as is planned"
    assert reached(with_shop(DONE, {}, {"rocker": 2}), "a")["parts"] == "begun", (
        "the plate is missing, and its connectors"
    )
    assert reached(ticked(DONE, "photographed"), "a")["installed"] == "begun"
    assert reached(ticked(DONE, "photographed", "closed"), "a")["installed"] == "done"
    assert reached(ticked(DONE, "begun", "done"), "a")["installed"] == "done"
    assert reached(ticked(DONE, "tried by hand"), "a")["recorded"] == "not yet"


def test_a_phase_is_filled_as_far_as_what_is_needed_in_it_is_done() -> None:
    """Box a is closed, and its device not set up: half of its work. Box b needs no work at all."""
    rows = {row.box.id: row for row in progress_of(ticked(DONE, "closed"))}
    shares = {key: {one.phase: one.share for one in row.phases} for key, row in rows.items()}
    assert (shares["a"]["Wires"], shares["a"]["Work"], shares["a"]["Record"]) == (1, F(1, 2), 0)
    assert (shares["b"]["Wires"], shares["b"]["Work"], shares["b"]["Record"]) == (None, None, None)
    assert [rows[key].first_open for key in "abc"] == [0, 0, 0], "nobody has looked at any of them"
    through = totals(progress_of(ticked(DONE, "closed")))
    assert (through["Wires"], through["Work"], through["Record"]) == ((1, 2), (0, 2), (0, 2))


def test_each_milestone_is_of_one_phase_and_has_its_screen_and_words() -> None:
    every = [name for names in MILESTONES_OF.values() for name in names]
    assert sorted(every) == sorted(MILESTONES) and tuple(MILESTONES_OF) == PHASES
    assert set(CALLED) == set(SCREENS) == set(MILESTONES)
