"""How far a house has come, box by box: surveyed, planned, parts there, worked, proven, commissioned, recorded."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal, get_args

from ..edits.documents import Documents, JobAtHand
from ..edits.hookup import wired_with
from ..model.box import Box
from ..model.job import Job, Library, by_id
from ..model.tick import StepKind, Tick, standing
from ..rules.check import check_box
from ..survey.open_points import open_points
from ..wiring.hookup.look import look
from .begun import still_so
from .commission.progress import IN_USE, how_far_each
from .commission.steps import radios, to_commission
from .day.places import done, to_do
from .parts.parts_list import Line, parts_list

StageName = Literal["survey", "found", "plan", "hook-up", "parts", "installed", "proven", "commissioned", "recorded"]
STAGES: tuple[StageName, ...] = get_args(StageName)
"""In the order of work."""
Reached = Literal["done", "begun", "not yet", "no need"]


@dataclass(frozen=True, slots=True)
class Stage:
    """How far one box has come in one stage."""

    name: StageName
    reached: Reached
    says: str


@dataclass(frozen=True, slots=True)
class HowFar:
    """One box, stage by stage."""

    box: Box
    stages: tuple[Stage, ...]


def how_far(job: Job) -> tuple[HowFar, ...]:
    """How far each box of a job has come, in its order.

    Args:
        job: as found, as planned, what the shop has, and what was ticked.
    """
    keys, over = frozenset(to_do(job)), done(job)
    ticks: dict[str, list[Tick]] = {}
    for tick in standing(job.ticks):
        if tick.box is not None:
            ticks.setdefault(tick.box, []).append(tick)
    house = _House(job, by_id(job.sheets), job.volts, _taken(parts_list(job)))
    return tuple(
        HowFar(box, tuple(_stages(house, box, box.id in keys, box.id in over, still_so(ticks.get(box.id, ()), box))))
        for box in job.boxes
    )


@dataclass(frozen=True, slots=True)
class _House:
    """What every box asks of its house, worked out once."""

    job: Job
    sheets: Library
    volts: Mapping[str, int]
    taken: Mapping[str, Sequence[bool]]
    """For each box, of every part it takes: whether that is there."""


def _taken(lines: Sequence[Line]) -> Mapping[str, Sequence[bool]]:
    found: dict[str, list[bool]] = {}
    for line in lines:
        there = not line.to_buy and not line.unknown
        for key in dict.fromkeys(need.box for need in line.needs):
            found.setdefault(key or "", []).append(there)
    return found


def _stages(house: _House, box: Box, work: bool, over: bool, ticks: Sequence[Tick]) -> Iterator[Stage]:
    job = house.job
    left = len(open_points(box))
    yield Stage("survey", "not yet" if left else "done", f"{left} to look at" if left else "nothing left to look at")
    yield Stage("found", "done" if box.found else "not yet", "said" if box.found else "not said")
    if box.planned is None:
        yield Stage("plan", "not yet", "nothing planned")
    else:
        check = check_box(box, house.sheets, job.terms_at(box), house.volts)
        yield Stage("plan", "done" if check.state.passes else "begun", check.state.word)
    joined = any(splice.ends for splice in box.splices)
    leads = any(not house.sheets[item.sheet].is_blank for item in box.equipment)
    if not leads and not joined:
        yield Stage("hook-up", "no need", "nothing to join is planned")
    else:
        yield _hookup(job, box, joined, bool(ticks))
    if not work and not ticks:
        yield from (Stage(name, "no need", "nothing to be done") for name in STAGES[STAGES.index("parts") :])
        return
    kinds = {tick.step.kind for tick in ticks}
    if over or "closed" in kinds:
        yield Stage("parts", "done", "used")
    else:
        yield _parts(house.taken.get(box.id, ())) if work else Stage("parts", "no need", "nothing to be done")
    yield _installed(kinds, over, sum(tick.step.kind not in ("begun", "done", "measured") for tick in ticks))
    yield _proven(box, ticks)
    yield from _in_use(house, box, ticks)


def _hookup(job: Job, box: Box, joined: bool, worked: bool) -> Stage:
    """What joins what; it is proven here only where somebody is at work: a proof of every box takes a while."""
    if not joined:
        return Stage("hook-up", "not yet", "not said")
    if not worked:
        return Stage("hook-up", "begun", "said; its proof is on its page")
    state = look(wired_with(Documents(JobAtHand(job), {}), box), box.id).state
    return Stage("hook-up", "done" if state.passes else "begun", state.word)


def _proven(box: Box, ticks: Sequence[Tick]) -> Stage:
    """Whether every device with something on it was tried by hand, and nothing of it refused."""
    tried = {tick.step.subjects[:1] for tick in ticks if tick.step.kind == "tried by hand"}
    refused = [tick for tick in ticks if tick.step.kind == "refused" and tick.step.subjects[:1] == ("tried by hand",)]
    asked = [item for item in box.equipment if item.loads]
    left = [item for item in asked if (item.id,) not in tried]
    if refused:
        return Stage("proven", "begun", f"{len(refused)} not as it should be")
    if not asked:
        return Stage("proven", "no need", "nothing hangs on it")
    said = f"{len(asked) - len(left)} of {len(asked)} tried"
    return Stage("proven", "done" if not left else "begun" if tried else "not yet", said)


def _in_use(house: _House, box: Box, ticks: Sequence[Tick]) -> Iterator[Stage]:
    """Whether its devices are brought into use, and whether it is on record."""
    if radios(box, house.sheets):
        if not any(tick.step.kind in IN_USE for tick in ticks):
            yield Stage("commissioned", "not yet", "")
        else:  # its steps come from its hook-up, which is looked at only where they are begun
            each = how_far_each(to_commission(wired_with(Documents(JobAtHand(house.job), {}), box), box.id), ticks, box)
            settled, count = sum(one.settled for one in each), sum(len(one.steps) for one in each)
            yield Stage("commissioned", "done" if settled == count else "begun", f"{settled} of {count} steps")
    else:
        yield Stage("commissioned", "no need", "nothing here has a radio")
    built = box.built is not None
    yield Stage("recorded", "done" if built else "not yet", "as built" if built else "what was built is not said")


def _parts(there: Sequence[bool]) -> Stage:
    """Whether all that a box takes is there: of each part, whether it is."""
    missing = len(there) - sum(there)
    if not there:
        return Stage("parts", "no need", "it takes none")
    if missing:
        return Stage("parts", "begun" if missing < len(there) else "not yet", f"{missing} of {len(there)} missing")
    return Stage("parts", "done", "all there")


def _installed(kinds: set[StepKind], over: bool, count: int) -> Stage:
    if over or "closed" in kinds:
        return Stage("installed", "done", "closed" if "closed" in kinds else "done")
    return Stage("installed", "begun" if count else "not yet", f"{count} steps ticked" if count else "")


def totals(rows: Sequence[HowFar]) -> Mapping[StageName, tuple[int, int]]:
    """Of each stage: how many boxes are through it, of how many that need it."""
    return {
        name: (
            sum(stage.reached == "done" for row in rows for stage in row.stages if stage.name == name),
            sum(stage.reached != "no need" for row in rows for stage in row.stages if stage.name == name),
        )
        for name in STAGES
    }
