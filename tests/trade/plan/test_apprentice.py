"""The steps come out right for someone who does exactly what they say: over every scheme, whatever was there before.

Set NAIL_COUNT_FUZZ to a number to try that many times as many: `make fuzz`.
"""

from __future__ import annotations

import os
from collections import Counter
from dataclasses import replace
from functools import cache
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, event, given, note, settings
from hypothesis import strategies as st

from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Contents, Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.splice import ConductorEnd, End, GroundEnd, LeadEnd, PigtailEnd, Splice
from nail_count.trade.model.tick import Tick
from nail_count.trade.model.wire import Cable
from nail_count.trade.plan.day.places import fed_by
from nail_count.trade.plan.install.operations import INSIDE
from nail_count.trade.plan.install.progress import Done, current, on_since, progress
from nail_count.trade.plan.install.step import InstallStep
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.parts.joints import joint_needs
from nail_count.trade.plan.planned import SCHEME, UNDO, planned_of
from nail_count.trade.wiring.hookup.colors import wires_of
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.look import look
from nail_count.trade.wiring.hookup.propose import Proposal, propose
from nail_count.trade.wiring.hookup.work import WorkEnd, arriving
from tests.trade.plan.apprentice import Bench, Stuck, bench_of, cable_of, follow, held_against, replanned
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.houses import sheet
from tests.trade.wiring.hookup.schemes import PROVEN, SEVERAL
from tests.trade.wiring.hookup.side_by_side import side_by_side

SLOW: Any = {
    "suppress_health_check": [HealthCheck.too_slow, HealthCheck.data_too_large],
    "phases": [Phase.explicit, Phase.reuse, Phase.generate, Phase.shrink],
}
LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
TOUCHING = ("taken apart", "taken out", "cabled", "joined")
JOINED = ("join", "add", "cap", "land", "pigtail")
ALL_SHEETS = tuple(
    Datasheet.model_validate(sheet(id)) for id in ("switch", "two-wire", "smart", "main", "three-way", "neon")
)
MOST_GANGS = 6
AMERICAN = [name for name, house in PROVEN.items() if house.terms.colors == "US" and "two hots" not in name]
HOUSES = {name: hooked_up(house) for name, house in {**PROVEN, **SEVERAL}.items()}


@st.composite
def found_in(draw: st.DrawFn, job: Job, box: Box, cabled: bool = False) -> tuple[Box, Contents | None]:
    """A box with something recorded of how it was before, and how it really was: any devices, joined in any way."""
    assert box.planned is not None
    if draw(st.integers(0, 5)) == 0:
        return box.changed(found=None), None
    sheets = [sheet for sheet in job.sheets if sheet.terminals and not sheet.is_module and sheet.gangs == 1]
    gangs = box.planned.enclosure.gangs
    devices: list[Device] = []
    stays: dict[str, str] = {}
    for gang in range(1, gangs + 1):
        here = next((one for one in box.planned.devices if one.gang == gang), None)
        kind = draw(st.sampled_from(["none", "stays", "old", "same id", "same model"]))
        if kind == "none":
            continue
        sheet = draw(st.sampled_from(sheets)).id
        id = f"d{gang}" if kind == "same id" else f"x{gang}"
        if here is not None and kind == "stays":
            sheet, stays[here.id] = here.sheet, id
        if here is not None and kind == "same model":
            sheet, id = here.sheet, here.id
        devices.append(Device(id=id, gang=gang, sheet=sheet))
    known = by_id(job.sheets)
    goes = Cable(id="Z", gauge=14, insulated=2)
    brought = draw(st.sampled_from([(), (), *((one.id,) for one in box.entering)])) if cabled else ()
    box = box.changed(planned=box.planned.changed(landed=brought))
    if cabled and draw(st.integers(0, 3)) == 0:
        box = box.changed(cables=(*box.cables, goes)).changed(out=(goes.id,))
    there = [cable for cable in box.cables if cable.id not in brought]
    ends: list[End] = [ConductorEnd(of=id) for cable in there for id in cable.conductor_ids]
    ends += [GroundEnd(cable=cable.id) for cable in there if cable.grounds]
    ends += [LeadEnd(of=one.id, terminal=n + 1) for one in devices for n in range(len(known[one.sheet].terminals))]
    splices, rest, number = [], draw(st.permutations(ends)), 0
    while rest:
        size = draw(st.integers(1, 4))
        number += 1
        if draw(st.integers(0, 4)):
            splices.append(
                Splice(id=f"f{number}", name=draw(st.sampled_from(["", "hot", "neutral"])), ends=rest[:size])
            )
        rest = rest[size:]
    if draw(st.booleans()):  # much of it as planned
        splices = as_planned(box, stays, splices, draw(st.sets(st.integers(0, 8))))
    assert box.planned is not None
    really = Contents(enclosure=box.planned.enclosure, devices=tuple(devices), splices=tuple(splices))
    kept = tuple(one for one in splices if draw(st.integers(0, 3))) if draw(st.booleans()) else really.splices
    planned = box.planned.changed(devices=tuple(one.changed(stays=stays.get(one.id)) for one in box.planned.devices))
    return box.changed(found=really.changed(splices=kept), planned=planned), really


def as_planned(box: Box, stays: dict[str, str], splices: list[Splice], which: set[int]) -> list[Splice]:
    """Some of the splices already as they are planned, as far as what is in them was there."""
    assert box.planned is not None
    made: list[Splice] = []
    for number, one in enumerate(box.planned.splices):
        if number not in which or any(isinstance(end, PigtailEnd) for end in one.ends):
            continue
        ends = [
            end.changed(of=stays[end.of]) if isinstance(end, LeadEnd) else end
            for end in one.ends
            if (not isinstance(end, LeadEnd) or end.of in stays)
            and cable_of(WorkEnd("planned", end)) not in box.planned.landed
        ]
        if ends:
            made.append(Splice(id=f"p{number}", name=one.name, ends=tuple(ends), connector=one.connector))
    taken = {end for one in made for end in one.ends}
    left = [one.changed(ends=tuple(end for end in one.ends if end not in taken)) for one in splices]
    return [*made, *(one for one in left if one.ends)]


@cache
def beside(names: tuple[str, ...], circuits: tuple[str, ...]) -> Job | None:
    """Houses in one box, hooked up; None where that can't be."""
    if sum(len(PROVEN[name].boxes[0].contents.devices) for name in names) > MOST_GANGS:
        return None
    job = side_by_side([PROVEN[name] for name in names], circuits)
    found = propose(job, "a")
    if not isinstance(found, Proposal):
        return None
    job = job.changed(boxes=[one.changed(splices=found.splices.get(one.id, ())) for one in job.boxes])
    return None if any(one.missing for one in install_steps(job, "a", ())) else job


@st.composite
def any_house(draw: st.DrawFn) -> Job:
    """A house hooked up as proposed: one of the schemes, or up to six of them in one box, on one circuit or two."""
    gangs = draw(st.sampled_from([1, 1, 2, 2, 3, 4, 6]))
    names = draw(st.lists(st.sampled_from(AMERICAN), min_size=gangs, max_size=gangs)) if gangs > 1 else []
    circuits = [draw(st.sampled_from("12")) for _ in names]
    house = beside(tuple(names), tuple(circuits)) if names else None
    return house or HOUSES[draw(st.sampled_from(sorted(HOUSES)))]


@st.composite
def any_work(draw: st.DrawFn) -> tuple[Job, Box, Contents | None]:
    """A house hooked up as proposed, one of its boxes, and how that really was before."""
    return draw(work_in(draw(any_house()), cabled=True))


@st.composite
def work_in(draw: st.DrawFn, job: Job, cabled: bool = False) -> tuple[Job, Box, Contents | None]:
    """The same in one house."""
    at = draw(st.sampled_from([box for box in job.boxes if box.planned and look(job, box.id).said]))
    box, really = draw(found_in(job, at, cabled))
    prove = draw(st.sampled_from(["plate off", "device out", "closed"]))
    job = job.changed(
        boxes=tuple(box if one.id == box.id else one for one in job.boxes), house=job.house.changed(prove=prove)
    )
    return job, box, really


def worked(job: Job, box: Box, really: Contents | None, steps: tuple[InstallStep, ...]) -> Counter[str]:
    """The box after the apprentice did these steps, held against the plan; what he used."""
    bench = bench_of(job, box, really)
    follow(
        bench,
        steps,
        frozenset(one for step in steps for op in step.operations if op.op == "turn off" for one in op.circuits),
    )
    held_against(bench, box)
    return bench.used


def say_what_it_is(box: Box, really: Contents | None, steps: tuple[InstallStep, ...]) -> None:
    """For whoever reads of a failure."""
    note(f"plan: {[(one.name, one.ends) for one in box.splices]}")
    note(f"recorded: {[one.ends for one in box.found.splices] if box.found else None}")
    note(f"really: {[one.ends for one in really.splices] if really else None}")
    note("\n".join(line for one in steps if one.step.kind in TOUCHING for line in one.what))


def listed(job: Job, box: Box) -> Counter[str]:
    """What the parts list has of connectors, pigtails and sleeves for a box."""
    wires = {wire.id: wire for cable in box.cables for wire in wires_of(cable, job.terms.colors)}
    seen = graph(job).wires_in(box.id)
    found: Counter[str] = Counter()
    for need in joint_needs(box, by_id(job.sheets), seen or wires, ()):
        what = need.part.kind if need.part.kind != "connector" else f"connector {need.part.of}"
        found[what] += need.count or 0
    return found


@settings(max_examples=120 * LONGER, **SLOW)
@given(any_work())
def test_the_box_is_joined_as_planned_and_nothing_is_left_over(made: tuple[Job, Box, Contents | None]) -> None:
    job, box, really = made
    steps = install_steps(job, box.id, ())
    say_what_it_is(box, really, steps)
    assert not any(one.missing for one in steps)
    used = worked(job, box, really, steps)
    jumpers = sum(isinstance(end, PigtailEnd) for one in box.splices for end in one.ends)
    used["pigtail"] += jumpers // 2
    assert +used == +listed(job, box)


@settings(max_examples=30 * LONGER, **SLOW)
@given(any_work(), st.data())
def test_a_mistake_in_any_step_is_found(made: tuple[Job, Box, Contents | None], data: st.DataObject) -> None:
    """An end exchanged, a step dropped, the wrong device taken, a step moved before dead is verified."""
    job, box, really = made
    steps = list(install_steps(job, box.id, ()))
    inside = [
        n
        for n, one in enumerate(steps)
        if any(op.op in INSIDE - {"trim", "tug", "fold", "put in", "mount", "re-mark"} for op in one.operations)
        and does_something(job, box, really, one)
    ]
    if not inside:
        return
    at = data.draw(st.sampled_from(inside))
    how = data.draw(st.sampled_from(["dropped", "too early", "exchanged"]))
    if how == "dropped":
        del steps[at]
    elif how == "too early":
        steps.insert(0, steps.pop(at))
    else:
        bench = bench_of(job, box, really)
        called = {end: name for name, end in bench.names.items()}
        made_of = [end for op in steps[at].operations if op.op in JOINED for end in op.ends]
        if not made_of:
            return
        right, wrong = data.draw(st.sampled_from(made_of)), data.draw(st.sampled_from(sorted(called, key=repr)))
        if wrong in made_of:
            return
        steps[at] = replace(
            steps[at], what=tuple(line.replace(called[right], called[wrong]) for line in steps[at].what)
        )
    say_what_it_is(box, really, tuple(steps))
    with pytest.raises((Stuck, AssertionError)):
        assert +worked(job, box, really, tuple(steps)) == +worked(job, box, really, install_steps(job, box.id, ()))


def lies_free(bench: Bench, end: WorkEnd, leaves: set[str]) -> bool:
    """Whether it is joined with nothing, or only with wires of cables that come out."""
    return all(one == end or cable_of(one) in leaves for one in bench.group(end))


def does_something(job: Job, box: Box, really: Contents | None, step: InstallStep) -> bool:
    """Whether a step is more than taking off what lies free already, or what comes off with its cable anyway."""
    if any(op.op not in ("disconnect", "uncap") for op in step.operations):
        return True
    bench = bench_of(job, box, really)
    leaves = set(box.planned.out) if box.planned else set()
    ends = [end for op in step.operations for end in op.ends if cable_of(end) not in leaves]
    # A cap left on what the plan joins with nothing changes nothing.
    return any(not lies_free(bench, end, leaves) or end in bench.capped & bench.wanted for end in ends)


@cache
def with_another(name: str, at: str, device: str, sheet: str) -> Job | None:
    """A house with another device in one of its places, hooked up for it; None where that can't be."""
    made: list[Box] = []
    for box in HOUSES[name].boxes:
        planned = box.planned
        assert planned is not None
        devices = [
            one.changed(sheet=sheet, loads=[load.changed(channel=1) for load in one.loads])
            if (box.id, one.id) == (at, device)
            else one
            for one in planned.devices
        ]
        made.append(box.changed(planned=planned.changed(devices=devices, splices=())))
    (known,) = (one for one in ALL_SHEETS if one.id == sheet)
    sheets = {one.id: one for one in (known, *HOUSES[name].sheets)}
    job = HOUSES[name].changed(boxes=made, sheets=tuple(sheets.values()))
    found = propose(job, at)
    if not isinstance(found, Proposal):
        return None
    job = job.changed(boxes=[one.changed(splices=found.splices.get(one.id, ())) for one in job.boxes])
    return None if any(one.missing for one in install_steps(job, at, ())) else job


@st.composite
def another_plan(draw: st.DrawFn, name: str, job: Job, box: Box) -> tuple[Job, Box] | None:
    """The same box, planned otherwise: another device in it, or one that stays after all."""
    assert box.planned is not None
    at = draw(st.sampled_from([one.id for one in box.planned.devices] or [""]))
    other = with_another(name, box.id, at, draw(st.sampled_from([one.id for one in ALL_SHEETS]))) if at else None
    if other is None:
        return None
    (new,) = (one for one in other.boxes if one.id == box.id)
    assert new.planned is not None
    there = {one.id: one for one in box.found.equipment} if box.found else {}
    devices: list[Device] = []
    for one in new.planned.devices:
        old = next((old for old in there.values() if old.sheet == one.sheet), None)
        stays = draw(st.sampled_from([None, old.id])) if old else None
        devices.append(one.changed(stays=stays if stays not in [each.stays for each in devices] else None))
    new = new.changed(found=box.found, planned=new.planned.changed(devices=devices))
    house = other.house.changed(prove=job.house.prove)
    whole = other.changed(house=house, boxes=[new if one.id == box.id else one for one in other.boxes])
    # A plan that rests on wiring nobody has tested waits for the test.
    return None if any(one.missing for one in install_steps(whole, box.id, ())) else (whole, new)


def ticked(box: Box, done: Done, minute: int) -> Tick:
    """A step done for the plan as it is."""
    planned = planned_of(done.at.step, box)
    at = f"2026-01-05T{9 + minute // 60:02}:{minute % 60:02}:00"
    said = {"id": f"t{minute}", "box": box.id, "step": done.at.step, "at": at, "planned": planned, "scheme": SCHEME}
    return Tick.model_validate(said)


@settings(max_examples=30 * LONGER, **SLOW)
@given(st.data())
def test_a_plan_changed_half_way_comes_out_as_planned_last(data: st.DataObject) -> None:
    """He stops after any step, the plan changes, he does what the screen asks for next; back to the first plan, too."""
    name = data.draw(st.sampled_from(sorted(HOUSES)))
    job, box, really = data.draw(work_in(HOUSES[name]))
    plans = [(job, box)]
    for _ in range(data.draw(st.integers(1, 3))):
        new = data.draw(another_plan(name, *plans[-1]))
        plans.append(new or plans[0])
        if data.draw(st.booleans()):
            plans.append(plans[0])
    bench, ticks = bench_of(job, box, really), list[Tick]()
    for number, (now, at) in enumerate(plans):
        if number:
            replanned(bench, plans[number - 1][1], at, now)
        circuits = {one.id: fed_by(now, one)[0] for one in now.boxes}
        left = data.draw(st.integers(5, 25)) if number + 1 < len(plans) else 99
        for _ in range(left):
            steps = install_steps(now, at.id, ticks)
            assert not any(one.missing for one in steps)
            done = progress(steps, ticks, at, on_since(now, ticks, at))
            if (where := current(done)) == len(done):
                break
            note(f"{number}: {done[where].at.step.kind} {done[where].at.step.subjects} {done[where].at.what}")
            follow(bench, [done[where].at], circuits[at.id])
            if done[where].at.step.subjects[:1] == (UNDO,):
                event(f"undone, {len(done[where].at.step.subjects) - 1} kept")
            ticks.append(ticked(at, done[where], len(ticks)))
        else:
            assert number + 1 < len(plans), "expected the steps to come to an end"
    held_against(bench, plans[-1][1])
    assert bench.is_on or plans[-1][0].house.prove == "device out", "expected it to be switched on after the last wire"


@settings(max_examples=30 * LONGER, **SLOW)
@given(st.data())
def test_boxes_wired_together_are_all_joined_before_one_is_switched_on(data: st.DataObject) -> None:
    """He begins at any of them; the power comes on once, with every box that gets a device as planned."""
    job = data.draw(any_house())
    work = [box for box in job.boxes if box.planned and box.planned.equipment and look(job, box.id).said]
    benches: dict[str, Bench] = {}
    for box in work:
        at, really = data.draw(found_in(job, box))
        job = job.changed(boxes=[at if one.id == at.id else one for one in job.boxes])
        benches[at.id] = bench_of(job, at, really)
    boxes, sheets = {one.id: one for one in job.boxes}, by_id(job.sheets)
    wired = {key for key in benches if any(sheets[one.sheet].terminals for one in boxes[key].contents.equipment)}
    start = data.draw(st.sampled_from(sorted(wired)))

    def before_power(key: str) -> list[str]:
        """What he does until the power comes on; where he has to go first."""
        for one in install_steps(job, key, ()):
            on = [op for op in one.operations if op.op == "turn on"]
            if on:
                return [there for op in on for there in op.after]
            follow(benches[key], [one], fed_by(job, boxes[key])[0] or frozenset(("main",)))
        raise AssertionError("expected the power to come on")

    asked = {start, *before_power(start)}
    for key in asked - {start}:
        before_power(key)
    assert asked >= {key for key in wired if arriving(boxes[key])}
    for key in asked:
        held_against(benches[key], boxes[key])


@pytest.mark.parametrize("name", PROVEN)
def test_every_scheme_from_a_box_nobody_recorded(name: str) -> None:
    job = HOUSES[name]
    for box in job.boxes:
        if box.planned and look(job, box.id).said:
            worked(job, box, None, install_steps(job, box.id, ()))
