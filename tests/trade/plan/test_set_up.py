"""Setting up smart devices after the last place of a plan of days: with the power on, outside the breaks."""

from __future__ import annotations

from importlib.resources import files

from hypothesis import given
from hypothesis import strategies as st

from nail_count.files.job_json import read_job
from nail_count.trade.model.job import Job
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.plan.day.problem import Problem, Task, problem
from nail_count.trade.plan.day.set_up import A_DEVICE, set_up
from nail_count.trade.plan.day.solve import planned
from nail_count.trade.rules.check import fitting_job

HOUSE = fitting_job(read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes()))


def hours(start: int, end: int, breaks: tuple[tuple[int, int], ...], days: int) -> Problem:
    places = [task for task in problem(HOUSE).tasks if task.breakers]
    short = tuple(Task(one.id, one.name, one.boxes, 20, one.breakers) for one in places)
    return Problem(short, start, end, breaks, days=days)


@given(
    st.integers(7, 9),
    st.integers(10, 17),
    st.lists(st.tuples(st.integers(36, 66), st.integers(1, 8)), max_size=3, unique_by=lambda one: one[0]),
    st.integers(1, 3),
)
def test_it_comes_after_the_last_place_and_never_in_a_break(
    start: int, end: int, pauses: list[tuple[int, int]], days: int
) -> None:
    """By plain minutes: as many outside the breaks as the devices take, and none of them free before."""
    breaks: list[tuple[int, int]] = []
    for at, length in sorted(pauses):
        if not breaks or at * 15 > breaks[-1][1]:
            breaks.append((at * 15, (at + length) * 15))
    at_hand = hours(start * 60, end * 60, tuple(breaks), days)
    plan = planned(at_hand, 0.0)
    found = set_up(HOUSE, at_hand, plan)
    sheets = {sheet.id: sheet for sheet in HOUSE.sheets}
    done = {key for slot in plan.slots for key in slot.task.boxes}
    at_places = [item for box in HOUSE.boxes if box.id in done for item in box.equipment]
    if not any(sheets[item.sheet].radio and item.stays is None for item in at_places):
        assert found is None, "no device at the places of the plan joins a network"
        return
    assert found is not None and found.minutes == found.count * int(A_DEVICE)
    last = max((slot.day, slot.end) for slot in plan.slots)
    free = [
        (day, minute)
        for day in range(last[0], days)
        for minute in range(at_hand.start, at_hand.end)
        if (day, minute) >= last and not any(pause <= minute < back for pause, back in breaks)
    ]
    by_day = {day: [minute for one, minute in free if one == day] for day in range(last[0], days)}
    fits = [day for day, minutes in by_day.items() if len(minutes) >= found.minutes]
    assert found.day == (fits[0] if fits else None)
    if fits:
        minutes = by_day[fits[0]][: found.minutes]
        assert (found.start, found.end) == (minutes[0], minutes[-1] + 1)


def test_what_is_joined_already_needs_no_time() -> None:
    at_hand = problem(HOUSE)
    plan = planned(at_hand, 2.0)
    found = set_up(HOUSE, at_hand, plan)
    assert found is not None
    places = {key for slot in plan.slots for key in slot.task.boxes}
    sheets = {sheet.id: sheet for sheet in HOUSE.sheets}
    at, item = next(
        (box.id, item.id)
        for box in HOUSE.boxes
        if box.id in places
        for item in box.equipment
        if sheets[item.sheet].radio and item.stays is None
    )
    tick = Tick(id="t999", box=at, step=Step(kind="joined the hub", subjects=(item,)), at="2026-10-12T15:00:00")
    joined = HOUSE.changed(ticks=(*HOUSE.ticks, tick))
    after = set_up(joined, at_hand, plan)
    assert after is not None and after.count == found.count - 1


def test_plain_devices_are_not_set_up() -> None:
    plain = Job.model_validate(
        HOUSE.model_dump() | {"sheets": [sheet.model_dump() | {"radio": ""} for sheet in HOUSE.sheets]}
    )
    at_hand = problem(HOUSE)
    assert set_up(plain, at_hand, planned(at_hand, 0.0)) is None
