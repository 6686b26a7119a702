"""Plans of days: against trying everything; what must hold in every plan; the usual day as the trade would plan it."""

from __future__ import annotations

import os
from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import combinations, pairwise, product
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.trade.model.clock import DAY
from nail_count.trade.model.job import Job
from nail_count.trade.model.splice import ConductorEnd, Splice
from nail_count.trade.plan.day.day_plan import DayPlan
from nail_count.trade.plan.day.places import done, fed_by, places, timed
from nail_count.trade.plan.day.problem import MAIN, Kept, Problem, Task, problem
from nail_count.trade.plan.day.schedule_text import without
from nail_count.trade.plan.day.solve import planned
from nail_count.trade.plan.planned import planned_of
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.houses import box, job, lamp
from tests.trade.wiring.hookup.schemes import apart, feed

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
HOUR = 60
Interval = tuple[int, int]
Score = tuple[int, int, int, int, int]

# everything tried, on a day of whole hours


def hours_of(at: Problem, day: int) -> list[list[int]]:
    """The whole hours that can be worked on a day, in pieces between the breaks."""
    begins = max(at.start, at.resume or 0) if day == 0 else at.start
    pieces: list[list[int]] = [[]]
    for hour in range(begins, at.end, HOUR):
        if any(start < hour + HOUR and hour < end for start, end in at.breaks):
            pieces.append([])
        else:
            pieces[-1].append(day * DAY + hour)
    return [piece for piece in pieces if piece]


def ways_to_place(at: Problem, task: Task) -> Iterator[Interval]:
    """Each time it could be: within a piece of a day where one holds it, else over a break."""
    long = task.minutes // HOUR
    for day in range(at.days):
        pieces = hours_of(at, day)
        held = [piece[n : n + long] for piece in pieces for n in range(len(piece) - long + 1)]
        worked = [hour for piece in pieces for hour in piece]
        over = [worked[n : n + long] for n in range(len(worked) - long + 1)]
        for hours in held or over:
            yield hours[0], hours[-1] + HOUR


def split(times: Sequence[Interval]) -> Iterator[list[Interval]]:
    """Every way to switch a breaker on between the times it must be off, or not to; always on overnight."""
    order = sorted(times)
    gaps = [n for n in range(1, len(order)) if order[n][0] > max(end for _, end in order[:n])]
    must = {n for n in gaps if order[n][0] // DAY != order[n - 1][0] // DAY}
    free = [n for n in gaps if n not in must]
    for count in range(len(free) + 1):
        for chosen in combinations(free, count):
            cuts = sorted(must | set(chosen))
            pieces = [order[a:b] for a, b in zip([0, *cuts], [*cuts, len(order)], strict=True)]
            yield [(piece[0][0], max(end for _, end in piece)) for piece in pieces]


def score(at: Problem, put: dict[str, Interval]) -> Score | None:
    """The best that can be made of these times; None where two things would be off that may not be."""
    tasks = {task.id: task for task in at.tasks}
    off: dict[str, list[Interval]] = {}
    for id, when in put.items():
        for breaker in tasks[id].breakers:
            off.setdefault(breaker, []).append(when)
    best: Score | None = None
    for chosen in product(*(list(split(times)) for times in off.values())):
        blocks = dict(zip(off, chosen, strict=True))
        clash = any(
            a < d and c < b for one, other in at.apart for a, b in blocks.get(one, ()) for c, d in blocks.get(other, ())
        )
        if clash:
            continue
        broken = sum(
            (kept.back_by is not None and end % DAY > kept.back_by)
            or (kept.longest is not None and end - start > kept.longest)
            for kept in at.promises
            for start, end in blocks.get(kept.circuit, ())
        )
        days = len({start // DAY for start, _ in put.values()})
        every = [one for times in blocks.values() for one in times]
        here = (len(tasks) - len(put), broken, days, len(every), sum(end - start for start, end in every))
        best = here if best is None or here < best else best
    return best


def tried(at: Problem) -> Score:
    """The best of all plans there are."""
    ways = {task.id: list(ways_to_place(at, task)) for task in at.tasks}
    for missing in range(len(at.tasks) + 1):
        found: Score | None = None
        for out in combinations(at.tasks, missing):
            names = [task.id for task in at.tasks if task not in out]
            for times in _together(at.people, [ways[name] for name in names], []):
                here = score(at, dict(zip(names, times, strict=True)))
                if here is not None and (found is None or here < found):
                    found = here
        if found is not None:
            return found
    raise AssertionError


def _together(people: int, ways: list[list[Interval]], taken: list[Interval]) -> Iterator[list[Interval]]:
    if not ways:
        yield list(taken)
        return
    for start, end in ways[0]:
        moments = [start, *(a for a, _ in taken if start < a < end)]
        if all(sum(a <= at < b for a, b in taken) < people for at in moments):
            yield from _together(people, ways[1:], [*taken, (start, end)])


BREAKERS = ("1", "2", "3")
off_for = st.sets(st.sampled_from(BREAKERS), min_size=1, max_size=2).map(frozenset)


@st.composite
def problems(draw: st.DrawFn, most: int = 4) -> Problem:
    count = draw(st.integers(1, most))
    tasks = [
        Task(f"t{n}", f"T{n}", (f"t{n}",), HOUR * draw(st.sampled_from((1, 1, 1, 2, 3))), draw(off_for))
        for n in range(count)
    ]
    end = 8 * HOUR + HOUR * draw(st.integers(3, 6))
    pause = draw(st.sampled_from((None, 9, 10, 11)))
    promises = [
        Kept(circuit, draw(st.sampled_from((None, 9, 10, 12))), draw(st.sampled_from((None, 1, 2))))
        for circuit in draw(st.sets(st.sampled_from(BREAKERS), max_size=2))
    ]
    return Problem(
        tuple(tasks),
        8 * HOUR,
        end,
        ((pause * HOUR, (pause + 1) * HOUR),) if pause else (),
        draw(st.sampled_from((1, 1, 2))),
        draw(st.integers(1, 2)),
        tuple(Kept(k.circuit, k.back_by and k.back_by * HOUR, k.longest and k.longest * HOUR) for k in promises),
        draw(st.sampled_from(((), (("1", "2"),)))),
        None,
        draw(st.sampled_from((None, 9 * HOUR))),
    )


def scored(plan: DayPlan, at: Problem) -> Score:
    """A plan's own figures, counted anew from what it says."""
    days = len({slot.day for slot in plan.slots})
    broken = sum(
        (kept.back_by is not None and one.end % DAY > kept.back_by)
        or (kept.longest is not None and one.end - one.start > kept.longest)
        for kept in at.promises
        for one in plan.off
        if one.breaker in (kept.circuit, MAIN)
    )
    return len(plan.left_out), broken, days, len(plan.off), sum(one.end - one.start for one in plan.off)


@settings(max_examples=12 * LONGER, deadline=None)
@given(problems())
def test_nothing_tried_is_better(at: Problem) -> None:
    plan, best = planned(at, 60), tried(at)
    assert plan.finished
    assert scored(plan, at) == best
    for one, least in zip(planned(at, 0.01).proven, best, strict=False):
        assert one.bound <= least, "stopped in time, it claims no more than is so"
        if one.value != least:
            break


def test_a_plan_that_leaves_another_place_out_may_open_fewer_breakers() -> None:
    """Four hours for 60 and 180 min on breaker 2 and 60 on breaker 1: the long one stays in, and breaker 1 on."""
    tasks = tuple(
        Task(f"t{n}", f"T{n}", (f"t{n}",), minutes, frozenset(off))
        for n, (minutes, off) in enumerate(((60, "2"), (180, "2"), (60, "1")))
    )
    at = Problem(tasks, 480, 780, resume=540)
    plan = planned(at, 60)
    assert plan.finished and scored(plan, at) == tried(at) == (1, 0, 1, 1, 240)


@pytest.mark.parametrize("count", range(1, 5))
@pytest.mark.parametrize("hours", range(1, 6))
def test_places_of_an_hour_on_one_breaker(count: int, hours: int) -> None:
    """One opening for as many as the hours hold, and no more minutes than they take."""
    tasks = tuple(Task(f"t{n}", f"T{n}", (f"t{n}",), HOUR, frozenset("2")) for n in range(count))
    at = Problem(tasks, 480, 480 + hours * HOUR)
    placed = min(count, hours)
    assert scored(planned(at, 20), at) == (count - placed, 0, 1, 1, placed * HOUR)


@pytest.mark.parametrize("apart_from", [(), (("1", "3"),)])
def test_six_places_and_three_breakers(apart_from: tuple[tuple[str, str], ...]) -> None:
    """A crossed one: pairs that share breakers, one promise in the middle of the day."""
    needs = ("1", "12", "2", "23", "3", "13" if not apart_from else "1")
    tasks = tuple(Task(f"t{n}", f"T{n}", (f"t{n}",), HOUR, frozenset(of)) for n, of in enumerate(needs))
    at = Problem(tasks, 480, 900, ((660, 720),), promises=(Kept("2", 660, None),), apart=apart_from)
    plan = planned(at, 60)
    assert plan.finished and scored(plan, at) == tried(at)


@settings(max_examples=25 * LONGER, deadline=None)
@given(problems(most=7))
def test_every_plan_is_safe_and_says_what_it_breaks(at: Problem) -> None:
    """Whatever was found in time: no slot works on a place whose every breaker is not off."""
    plan = planned(at, 3)
    assert {slot.task for slot in plan.slots} | {task for task, _ in plan.left_out} == set(at.tasks)
    for slot in plan.slots:
        assert slot.day * DAY + at.start <= slot.start < slot.end <= slot.day * DAY + at.end
        assert sum(a.start <= slot.start < a.end for a in plan.slots) <= at.people
        assert not any(
            a.person == slot.person and a != slot and a.start < slot.end and slot.start < a.end for a in plan.slots
        )
        for breaker in slot.task.breakers:
            assert any(one.breaker == breaker and one.start <= slot.start and slot.end <= one.end for one in plan.off)
        for start, end in at.breaks:
            inside = slot.start % DAY < end and start < slot.start % DAY + slot.end - slot.start
            assert not inside or slot.end - slot.start > slot.task.minutes, "over a break, and longer for it"
    for off in plan.off:
        assert off.start // DAY == off.end // DAY and at.start <= off.start % DAY and off.end % DAY <= at.end
        assert any(off.breaker in slot.task.breakers and off.start <= slot.start < off.end for slot in plan.slots)
    for one, other in at.apart:
        for a, b in product(plan.off, plan.off):
            assert (a.breaker, b.breaker) != (one, other) or a.end <= b.start or b.end <= a.start
    own = {one.aim: one.value for one in plan.proven}
    for aim, value in zip(("places left out", "promises broken", "days"), scored(plan, at), strict=False):
        assert own.get(aim, value) == value


# against plain work circuit by circuit, and against plans known to be best


def circuit_by_circuit(at: Problem) -> Score:
    """What a person does without a plan: the circuits in order, each place where it fits next, no time lost."""
    hours = [(a, b) for day in range(at.days) for a, b in _worked(at, day)]
    off: list[tuple[str, int, int]] = []
    left, days, n, now = 0, set[int](), 0, hours[0][0]
    for task in sorted(at.tasks, key=lambda one: (sorted(one.breakers), one.id)):
        while n < len(hours) and max(now, hours[n][0]) + task.minutes > hours[n][1]:
            n += 1
        if n == len(hours):
            left += 1
            continue
        start = max(now, hours[n][0])
        now = start + task.minutes
        days.add(start // DAY)
        for breaker in task.breakers:
            last = next((one for one in reversed(off) if one[0] == breaker), None)
            if last is not None and last[2] == start:
                off.remove(last)
                off.append((breaker, last[1], now))
            else:
                off.append((breaker, start, now))
    broken = sum(
        kept.back_by is not None and end % DAY > kept.back_by
        for kept in at.promises
        for breaker, _, end in off
        if breaker == kept.circuit
    )
    return left, broken, len(days), len(off), sum(end - start for _, start, end in off)


def _worked(at: Problem, day: int) -> Iterator[Interval]:
    ((a, b),) = at.breaks
    yield day * DAY + at.start, day * DAY + a
    yield day * DAY + b, day * DAY + at.end


@settings(max_examples=3 * LONGER, deadline=None)
@given(st.integers(0, 2**32))
def test_no_plan_is_worse_than_circuit_by_circuit(seed: int) -> None:
    """A usual house, stopped long before anything is proven: as many places, as few days, no more openings and no more
    minutes without power."""
    r = Random(seed)
    tasks = tuple(
        Task(f"t{n:02}", f"T{n}", (f"t{n}",), r.choice((20, 25, 25, 30, 40, 60)),
             frozenset(r.choices("123456789", k=r.choice((1, 1, 1, 1, 1, 1, 2)))))
        for n in range(30)
    )  # fmt: skip
    at = Problem(tasks, 480, 990, ((720, 750),), days=3, promises=(Kept("3", 700, None),))
    plain, ours = circuit_by_circuit(at), scored(planned(at, 3), at)
    assert ours[:3] <= plain[:3]
    assert ours[:3] < plain[:3] or (ours[3] <= plain[3] and ours[4] <= plain[4])


def known_best(places: int, breakers: int, days: int, seed: int) -> Problem:
    """Days filled to the minute, each breaker opened once and off only while somebody works on it; then shuffled."""
    r, tasks = Random(seed), list[Task]()
    halves = 2 * days
    names = iter(range(breakers))
    for half in range(halves):
        mine = [next(names) for _ in range(breakers // halves + (half < breakers % halves))]
        counts = [places // breakers + (name < places % breakers) for name in mine]
        cuts = sorted(r.sample(range(1, 48), sum(counts) - 1))
        sizes = iter([(b - a) * 5 for a, b in pairwise([0, *cuts, 48])])
        for name, count in zip(mine, counts, strict=True):
            tasks += [Task("", "", ("",), next(sizes), frozenset((str(name + 1),))) for _ in range(count)]
    r.shuffle(tasks)
    named = tuple(replace(task, id=f"t{n:03}", boxes=(f"t{n:03}",)) for n, task in enumerate(tasks))
    return Problem(named, 480, 990, ((720, 750),), days=days)


@pytest.mark.parametrize("seed", range(2))
def test_forty_places_on_twelve_breakers_come_within_a_twentieth_of_the_best(seed: int) -> None:
    at = known_best(40, 12, 3, seed)
    left, broken, days, openings, dark = scored(planned(at, 60), at)
    assert (left, broken, days) == (0, 0, 3)
    assert openings <= 12 * 1.05 and dark <= 3 * 480 * 1.05


# the usual day


def test_a_refrigerator_promised_early_comes_first_and_the_unknown_last() -> None:
    """By common practice: what is promised early first; what nobody knows last, with the main off."""
    tasks = (
        Task("hall", "Hall", ("hall",), 90, frozenset("5")),
        Task("shed", "Shed", ("shed",), 60, frozenset((MAIN,)), last=True),
        Task("kitchen", "Kitchen", ("kitchen",), 120, frozenset("7")),
    )
    plan = planned(Problem(tasks, 480, 960, ((720, 750),), promises=(Kept("7", 630, None),)), 30)
    assert [slot.task.id for slot in plan.slots] == ["kitchen", "hall", "shed"] and plan.finished
    late = planned(Problem(tasks, 480, 960, ((720, 750),), promises=(Kept("7", 540, None),)), 30)
    assert late.value("promises broken") == 2, "two hours are not done by nine, and the main is off after that"


def test_daylight_an_inspection_and_a_place_too_long() -> None:
    dark, lit = (Task(id, id, (id,), 60, frozenset("1"), any_light=id == "lit") for id in ("dark", "lit"))
    plan = planned(Problem((dark, lit), 480, 720, light=(600, 1020)), 30)
    assert {slot.task.id: slot.start for slot in plan.slots}["dark"] >= 600 and len(plan.off) == 1
    wall = Task("wall", "Wall", ("wall",), 60, frozenset("1"), behind_wall=True)
    close = Task("close", "Close", ("wall",), 40, frozenset(), closes=True)
    plan = planned(Problem((close, wall), 480, 720, days=2, inspection=1), 30)
    assert [(slot.task.id, slot.day) for slot in plan.slots] == [("wall", 0), ("close", 1)]
    never = planned(Problem((Task("long", "Long", ("long",), 600, frozenset("1")),), 480, 720), 30)
    assert never.slots == () and "no day from 8:00 to 12:00 holds it" in never.left_out[0][1]
    both = Task("both", "Both", ("both",), 60, frozenset("12"))
    never = planned(Problem((both,), 480, 720, apart=(("1", "2"),)), 30)
    assert "circuits 1 and 2 may not be off together" in never.left_out[0][1]


def ticks(*said: tuple[str, str, str]) -> list[dict[str, object]]:
    return [
        {"id": f"t{n}", "box": box, "step": {"kind": kind}, "at": f"2026-01-05T{at}"}
        for n, (box, kind, at) in enumerate(said)
    ]


def test_a_pair_is_one_slot_and_what_is_done_is_planned_no_more() -> None:
    """Both ends and the outlet between in one slot; times from the table, then from what the job's own ticks say."""
    pair = apart("main", "three-way")
    unknown, known = problem(pair).tasks, problem(hooked_up(pair)).tasks
    assert [task.boxes for task in unknown] == [("a", "b")], "nothing is planned at the lamp yet"
    assert unknown[0].minutes == 150, "an unknown pair takes 60 to 180, and a quarter more"
    assert [task.boxes for task in known] == [("a", "b", "lamp")]
    assert known[0].minutes == 70, "a known one 20 to 40, the outlet 15 to 30 (25 by the step), and a quarter more"
    alone = [box(key, "A2 B2", {"d1": "smart"}, "d1@B", circuit=circuit) for key, circuit in (("x", "1"), ("y", "2"))]
    house = job(alone, "x.A=1 x.B=? y.A=2 y.B=?", ticks=ticks(("x", "begun", "08:00"), ("x", "done", "08:40")))
    assert done(house) == {"x"} and timed(house.ticks) == {"x": 40}
    (begun, over), (x, y) = house.ticks, house.boxes
    kept = house.changed(ticks=(begun, over.changed(planned=planned_of(over.step, x))))
    other = x.changed(splices=(Splice(id="s9", ends=(ConductorEnd(of="A1"), ConductorEnd(of="B1"))),))
    assert done(kept) == {"x"} and done(kept.changed(boxes=(other, y))) == frozenset(), "planned otherwise since"
    left = problem(house)
    assert [task.boxes for task in left.tasks] == [("y",)] and left.tasks[0].minutes == 50
    assert next(place for place in places(house) if place.box.id == "y").pieces[0].source == "learned"


def test_a_plain_swap_makes_no_stop_at_a_lamp_nobody_has_looked_into() -> None:
    """The splices of a lamp's box are taken to stay until somebody records them as they are now (common practice)."""
    house = hooked_up(feed("smart"))
    switch, *outlets = house.boxes
    assert outlets and [task.boxes for task in problem(house).tasks] == [(switch.id,)]
    recorded = outlets[0].changed(found=outlets[0].contents.changed(splices=()))
    (both,) = problem(house.changed(boxes=(switch, recorded))).tasks
    assert both.boxes == (switch.id, recorded.id), "its wires lie open as recorded, and must be joined"


def test_what_must_be_off_beside_its_own() -> None:
    """A cable from another box's circuit, a shared neutral; where nobody knows, the main."""
    boxes = [
        box("x", "A2 B2", {"d1": "smart"}, "d1@lamp"),
        box("y", "A2 B2", {"d1": "smart"}),
        lamp("lamp", circuit="2"),
    ]
    shared = [{"id": "1", "neutral_with": "3"}, {"id": "2"}, {"id": "3"}]
    house = job(boxes, "x.A=1 x.B=lamp.A", circuits=shared)
    circuits, why = fed_by(house, house.boxes[0])
    assert circuits == {"1", "2", "3"} and len(why) == 2
    dark = house.changed(boxes=tuple(one.changed(circuit=None) for one in house.boxes), runs=())
    assert next((task.breakers, task.last) for task in problem(dark).tasks) == (frozenset((MAIN,)), True)
    whole: Job = house.changed(house={"main_off": True})
    assert {breaker for task in problem(whole).tasks for breaker in task.breakers} == {MAIN}
    plan = planned(problem(whole), 30)
    assert without(whole, problem(whole), plan)[0].what == "everything"


def test_a_wall_is_closed_after_its_inspection_and_work_behind_it_comes_before() -> None:
    """A new cable fished, with an inspection after the first day: the place on day 1, the wall on day 2."""
    near = box("x", "A2 B2 C2", {"d1": "smart"}, "d1@B")
    near["planned"]["new"] = ["C"]
    house = job([near], "x.A=1 x.B=? x.C=on", day={"days": 2, "inspection": 1})
    tasks = problem(house).tasks
    assert [(task.behind_wall, task.closes, task.breakers) for task in tasks] == [
        (True, False, frozenset("1")), (False, True, frozenset()),
    ]  # fmt: skip
    assert tasks[0].minutes == 175, "fishing 60 to 180 and one device 15 to 20, and a quarter more"
    plan = planned(problem(house), 30)
    assert [(slot.task.closes, slot.day) for slot in plan.slots] == [(False, 0), (True, 1)]
    early = planned(problem(house.changed(day={"days": 1, "inspection": 1})), 30)
    assert [why for _, why in early.left_out] == ["the inspection is after the last of these days"]


def test_a_house_too_large_to_be_proven_in_time_gets_a_safe_plan_and_says_so() -> None:
    """Sixty places on three breakers in two seconds: all of them, in as few days as the work takes."""
    tasks = tuple(Task(f"t{n}", f"T{n}", (f"t{n}",), 45, frozenset("123"[n % 3])) for n in range(60))
    at = Problem(tasks, 480, 990, ((720, 750),), days=8, promises=(Kept("2", 900, None),))
    plan = planned(at, 2)
    assert not plan.left_out and scored(plan, at)[1] == 0 and scored(plan, at)[2] == 6, "2700 min of 480 a day"
    assert all(one.bound <= one.value for one in plan.proven) and plan.value("days") == 6
    for slot in plan.slots:
        (breaker,) = slot.task.breakers
        assert any(one.breaker == breaker and one.start <= slot.start and slot.end <= one.end for one in plan.off)
