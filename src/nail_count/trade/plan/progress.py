"""How far a house has come, box by box: surveyed, planned, parts there, worked, proven, commissioned, recorded."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal, get_args

from ..assume.wired import look_as_usual
from ..documents import Documents, JobAtHand, wired_with
from ..model.box import Box
from ..model.job import Job, Library, by_id
from ..model.tick import Tick, standing
from ..rules.check import check_box
from ..survey.open_points import open_points, survey_steps
from .begun import still_so
from .commission.progress import IN_USE, is_recorded_as_built, progress_of_each
from .commission.steps import radios, to_commission
from .day.places import done, to_do
from .parts.parts_list import PartLine, parts_list

Phase = Literal["Look", "Wires", "Plan", "Work", "Record"]
PHASES: tuple[Phase, ...] = get_args(Phase)
"""The phases of the work at a box, in their order."""
Milestone = Literal["survey", "found", "plan", "hook-up", "parts", "installed", "proven", "commissioned", "recorded"]
How = Literal["done", "begun", "not yet", "no need"]
Reached = tuple[How, str]
"""How far, and that in a few words."""


@dataclass(frozen=True, slots=True)
class Reach:
    """How far one box has come in one stage."""

    name: Milestone
    reached: How
    says: str
    share: Fraction
    """How much of it is done, from 0 to 1; a milestone that can't be counted is half done once it is begun."""


@dataclass(frozen=True, slots=True)
class PhaseProgress:
    """How far one box has come in one phase."""

    phase: Phase
    stages: tuple[Reach, ...]

    @property
    def share(self) -> Fraction | None:
        """How much of the phase is done, from 0 to 1; None: no milestone of it is needed."""
        needed = [one.share for one in self.stages if one.reached != "no need"]
        return sum(needed, Fraction(0)) / len(needed) if needed else None

    @property
    def holds_up(self) -> bool:
        """Whether something in it is still to be done."""
        return self.share is not None and self.share < 1


_SHARES: Mapping[How, Fraction] = {
    "done": Fraction(1), "begun": Fraction(1, 2), "not yet": Fraction(0), "no need": Fraction(1),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class BoxProgress:
    """One box, milestone by milestone."""

    box: Box
    stages: tuple[Reach, ...]

    @property
    def phases(self) -> tuple[PhaseProgress, ...]:
        """The same, phase by phase."""
        reached = {one.name: one for one in self.stages}
        return tuple(
            PhaseProgress(phase, tuple(reached[name] for name in names)) for phase, names in MILESTONES_OF.items()
        )

    @property
    def first_open(self) -> int:
        """The number of the first phase in which something is left; past the last where nothing is."""
        return next((number for number, one in enumerate(self.phases) if one.holds_up), len(self.phases))


MILESTONES_OF: Mapping[Phase, tuple[Milestone, ...]] = {
    "Look": ("survey",),
    "Wires": ("found",),
    "Plan": ("plan", "hook-up", "parts"),
    "Work": ("installed", "proven", "commissioned"),
    "Record": ("recorded",),
}
"""The milestones of each phase."""


def progress_of(job: Job) -> tuple[BoxProgress, ...]:
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
    made = []
    for box in job.boxes:
        mine = still_so(ticks.get(box.id, ()), box)
        made.append(BoxProgress(box, tuple(_reaches(_Seen(house, box, box.id in keys, box.id in over, mine)))))
    return tuple(made)


@dataclass(frozen=True, slots=True)
class _House:
    """What every box asks of its house, worked out once."""

    job: Job
    sheets: Library
    volts: Mapping[str, int]
    taken: Mapping[str, Sequence[bool]]
    """For each box, of every part it takes: whether that is there."""


@dataclass(frozen=True, slots=True)
class _Seen:
    """One box, as every milestone looks at it."""

    house: _House
    box: Box
    work: bool
    """Whether the plan has work in it."""
    over: bool
    """Whether somebody ticked all of it as done."""
    ticks: Sequence[Tick]

    @property
    def idle(self) -> bool:
        """Whether the plan has no work in it, and nobody began any."""
        return not self.work and not self.ticks


def _taken(lines: Sequence[PartLine]) -> Mapping[str, Sequence[bool]]:
    found: dict[str, list[bool]] = {}
    for line in lines:
        there = not line.to_buy and not line.unknown
        for key in dict.fromkeys(need.box for need in line.needs):
            found.setdefault(key or "", []).append(there)
    return found


def _surveyed(seen: _Seen) -> Reached:
    left = len(open_points(seen.box))
    if not left:
        return "done", "nothing left to look at"
    return "begun" if any(step.done for step in survey_steps(seen.box)) else "not yet", f"{left} to look at"


def _found(seen: _Seen) -> Reached:
    return ("done", "recorded") if seen.box.found else ("not yet", "not recorded")


def _planned(seen: _Seen) -> Reached:
    box, house = seen.box, seen.house
    if box.planned is None:
        return "not yet", "nothing planned"
    check = check_box(box, house.sheets, house.job.terms_at(box), house.volts)
    return "done" if check.state.passes else "begun", check.state.word


def _hooked_up(seen: _Seen) -> Reached:
    """Whether the hook-up is entered; it is proven here only where somebody is at work, since a proof takes a while."""
    box = seen.box
    joined = any(splice.ends for splice in box.splices)
    if not joined and all(seen.house.sheets[item.sheet].is_blank for item in box.equipment):
        return "no need", "nothing to join is planned"
    if not joined:
        return "not yet", "nothing is joined yet"
    if not seen.ticks:
        return "begun", "entered; its proof is on its page"
    hookup, rests_on = look_as_usual(wired_with(Documents(JobAtHand(seen.house.job), {}), box), box.id)
    if rests_on:
        return "begun", f"{hookup.state.word} if it is wired as usual"
    return "done" if hookup.state.passes else "begun", hookup.state.word


def _parts(seen: _Seen) -> Reached:
    """Whether all that a box takes is there."""
    if seen.over or any(tick.step.kind == "closed" for tick in seen.ticks):
        return "done", "used"
    if not seen.work:
        return "no need", "nothing to be done"
    there = seen.house.taken.get(seen.box.id, ())
    missing = len(there) - sum(there)
    if not there:
        return "no need", "it takes none"
    if missing:
        return "begun" if missing < len(there) else "not yet", f"{missing} of {len(there)} missing"
    return "done", "all there"


def _installed(seen: _Seen) -> Reached:
    kinds = [tick.step.kind for tick in seen.ticks]
    if seen.over or "closed" in kinds:
        return "done", "closed" if "closed" in kinds else "done"
    count = sum(kind not in ("begun", "done", "measured") for kind in kinds)
    return "begun" if count else "not yet", f"{count} steps ticked" if count else ""


def _proven(seen: _Seen) -> Reached:
    """Whether every device with a load was tried by hand, and none of that refused."""
    ticks = seen.ticks
    tried = {tick.step.subjects[:1] for tick in ticks if tick.step.kind == "tried by hand"}
    refused = [tick for tick in ticks if tick.step.kind == "refused" and tick.step.subjects[:1] == ("tried by hand",)]
    asked = [item for item in seen.box.equipment if item.loads]
    left = [item for item in asked if (item.id,) not in tried]
    if refused:
        return "begun", f"{len(refused)} not as it should be"
    if not asked:
        return "no need", "it has no load"
    return "done" if not left else "begun" if tried else "not yet", f"{len(asked) - len(left)} of {len(asked)} tried"


def _commissioned(seen: _Seen) -> Reached:
    box, house, ticks = seen.box, seen.house, seen.ticks
    if not radios(box, house.sheets):
        return "no need", "nothing here has a radio"
    if not any(tick.step.kind in IN_USE for tick in ticks):
        return "not yet", ""
    # Its steps come from its hook-up, which is looked at only where they are begun.
    near = wired_with(Documents(JobAtHand(house.job), {}), box)
    each = progress_of_each(to_commission(near, box.id), ticks, box)
    settled, count = sum(one.settled for one in each), sum(len(one.steps) for one in each)
    return "done" if settled == count else "begun", f"{settled} of {count} steps"


def _recorded(seen: _Seen) -> Reached:
    return ("done", "as built") if is_recorded_as_built(seen.box, seen.ticks) else ("not yet", "not recorded")


MILESTONES: Mapping[Milestone, Callable[[_Seen], Reached]] = {
    "survey": _surveyed, "found": _found, "plan": _planned, "hook-up": _hooked_up, "parts": _parts,
    "installed": _installed, "proven": _proven, "commissioned": _commissioned, "recorded": _recorded,
}  # fmt: skip
"""How each is judged, in the order of work."""
OF_WORK: frozenset[Milestone] = frozenset(("found", "parts", "installed", "proven", "commissioned", "recorded"))
"""Those that a box needs only if the plan has work in it."""


_IDLE: Reached = ("no need", "nothing to be done")


def _reaches(seen: _Seen) -> Iterator[Reach]:
    for name, judge in MILESTONES.items():
        how, says = _IDLE if seen.idle and name in OF_WORK else judge(seen)
        share = _SHARES[how]
        if name == "survey":
            steps = survey_steps(seen.box)
            share = Fraction(sum(step.done for step in steps), len(steps))
        yield Reach(name, how, says, share)


def totals(rows: Sequence[BoxProgress]) -> Mapping[Phase, tuple[int, int]]:
    """Of each phase: how many boxes are through it, of how many that need it."""
    needed = {phase: [one for row in rows for one in row.phases if one.phase == phase] for phase in MILESTONES_OF}
    return {
        phase: (sum(one.share == 1 for one in all_of), sum(one.share is not None for one in all_of))
        for phase, all_of in needed.items()
    }
