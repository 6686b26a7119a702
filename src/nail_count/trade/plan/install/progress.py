"""How far a box has come: which steps are done, which lapsed, what was refused; and which can be done now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ...model.box import Box
from ...model.errors import Rejected
from ...model.job import Job
from ...model.survey import UNCOVERED
from ...model.tick import Step, StepKind, Tick, standing, ticked
from ..begun import still_so
from ..day.places import fed_by
from ..planned import UNDO
from .step import LIVE, InstallStep

AFTER_DEAD = ("energised",)
"""What makes all lapse that holds only while the breakers are off."""
WHILE_OFF = ("switched off", "locked", "proven dead")
"""What holds only as long as no breaker of the box is on again."""
OFF: frozenset[StepKind] = frozenset(("switched off", "locked"))
"""Turning a breaker off and locking it: one walk to the panel."""
PLAIN: frozenset[StepKind] = frozenset((
    "photographed", "marked", "taken apart", "taken out", "cabled", "trimmed", "joined", "tugged", "compared", "folded",
    "closed",
))  # fmt: skip
"""The steps that may be done in one go and ticked with one tap: no test, and nothing at a breaker."""
MOST_TOGETHER = 4
"""So many at most: more than a person keeps in the head."""
ON_SINCE, REPLANNED = "a breaker has been turned on since", "the plan has changed since"
"""Why a step that was done no longer holds."""


@dataclass(frozen=True, slots=True)
class Done:
    """A step with what was ticked of it."""

    at: InstallStep
    tick: Tick | None
    """The tick that holds; None: not done, or lapsed."""
    refused: Tick | None
    """Why it was not done, where somebody noted it."""
    lapsed: str
    """Why it no longer holds, of one that was done; "" where it does, or never was done."""
    over: bool = False
    """Whether it held until all was done that it had to hold for: the box was switched on again, with nothing left to
    be done inside."""
    waits_for: str = ""
    """The title of the step that must be cleared before this one; "" where none is in the way."""

    @property
    def settled(self) -> bool:
        """Whether a person goes on to the next: it is done, refused, does not apply, or held as long as it had to."""
        return self.tick is not None or self.refused is not None or bool(self.at.idle) or self.over


def progress(steps: Sequence[InstallStep], ticks: Iterable[Tick], box: Box, live: datetime | None) -> tuple[Done, ...]:
    """How far the steps of a box have come.

    Args:
        ticks: of the job, in the order they were made.
        box: as planned.
        live: when a breaker of it was last on, here or at another box; None: not since.
    """
    known = tuple(ticks)
    ever, _ = ticked(known, box.id)
    last, refused = ticked(still_so(known, box), box.id)
    made = []
    for at in steps:
        made_at, lapsed = last.get(at.step), ""
        if made_at is None and at.step in ever:
            lapsed = REPLANNED
        elif made_at is not None and at.step.kind in WHILE_OFF and live is not None and live > made_at.at:
            lapsed = ON_SINCE
        made.append(Done(at, None if lapsed else made_at, refused.get(at.step), lapsed))
    over, blocked, opened = _over(made), _blocked(made), _opened(made, ever)
    return tuple(
        replace(
            one,
            over=one.lapsed == ON_SINCE and (number < over or (opened and _was_closed(one.at.step))),
            waits_for=made[blocked].at.title if number > blocked else "",
        )
        for number, one in enumerate(made)
    )


def _opened(made: Sequence[Done], ever: Mapping[Step, Tick]) -> bool:
    """Whether the box is verified dead with the devices out, or was, and nothing was folded in since."""
    last = Step(kind="proven dead", subjects=UNCOVERED[-1:])
    if any(one.at.step == last and one.tick is not None for one in made):
        return True
    out = ever.get(last)
    return out is not None and not any(
        step.kind in ("folded", "closed") and tick.at >= out.at for step, tick in ever.items()
    )


def _was_closed(step: Step) -> bool:
    """Whether a step tests a box that is still closed: with the plate on, or with the devices in."""
    return step.kind == "proven dead" and len(step.subjects) == 1 and step.subjects != UNCOVERED[-1:]


def _blocked(done: Sequence[Done]) -> int:
    """Where the first step is that something must be recorded or planned for; past the last where none is."""
    return next((number for number, one in enumerate(done) if one.at.missing), len(done))


def _over(done: Sequence[Done]) -> int:
    """How many steps, from the first, had their time: the box was switched on again, with nothing left inside."""
    on = next((number for number, one in enumerate(done) if one.at.step.kind in AFTER_DEAD), 0)
    inside = (one for one in done[:on] if one.at.step.kind not in LIVE)
    return on if done and done[on].tick is not None and all(one.settled for one in inside) else 0


def on_since(job: Job, ticks: Iterable[Tick], box: Box) -> datetime | None:
    """When a breaker of a box was last on, at whichever box: turned on after the work there, or for a live test.

    Where it is not known which breakers feed one of the two, it may have been.

    Args:
        job: with all boxes that share a breaker with it.
        ticks: of the job, in the order they were made.
    """
    moments = [(tick.box, tick.at) for tick in standing(ticks) if tick.step.kind in AFTER_DEAD and tick.box is not None]
    tested = ((one.id, result) for one in job.boxes for result in one.live_test)
    moments += [(key, result.at) for key, result in tested if result.on and result.at is not None]
    keys = {key for key, _ in moments} | {box.id}
    asked = [] if job.house.main_off else [one for one in job.boxes if one.id in keys]
    circuits = {one.id: fed_by(job, one)[0] for one in asked}  # none where the main goes off and on for every box
    mine = circuits.get(box.id, frozenset())
    near = {key for key in keys if key == box.id or not mine or not circuits.get(key) or circuits[key] & mine}
    return max((at for key, at in moments if key in near), default=None)


def refuse_live(done: Sequence[Done], step: Step) -> None:
    """Refuses a tick of work inside the box while dead is not proven. Raises Rejected.

    Source: common practice, and NFPA 70E from memory of the publication: never work live except to test.
    """
    if any(one.at.step == step and one.at.missing for one in done):
        raise Rejected("finish the hook-up first", "step")
    waits = next((one.waits_for for one in done if one.at.step == step), "")
    if waits:
        raise Rejected(f"Do this first: {waits}.", "step")
    if step.kind in LIVE:
        return
    after = [one.at.step for one in done]
    where = after.index(step) if step in after else len(after)
    again = next((n for n, one in enumerate(done) if one.at.step.subjects[1:] == ("again",)), len(after))
    if where > again and step.kind == "folded" and not _verified_again(done):
        raise Rejected("turn the breaker off again and verify dead before you fold the wires", "step")
    energised = next((n for n, one in enumerate(done) if one.at.step.kind == "energised"), len(after))
    if where >= energised:
        return
    first = [one for one in done if one.at.step.kind == "proven dead" and one.at.step.subjects[1:] == ()]
    missing = [one.at.step.subjects[0] for one in first if one.tick is None and not one.over]
    if missing:
        raise Rejected(f"verify dead with the {missing[0]} first", "step")


def _verified_again(done: Sequence[Done]) -> bool:
    """Whether the box was verified dead again after it was tried with the device hanging out."""
    again = [one for one in done if one.at.step.subjects[1:] == ("again",)]
    return all(one.tick is not None for one in again)


def has_open_wires(done: Sequence[Done]) -> bool:
    """Return whether somebody began to take a box apart and hasn't joined everything yet."""
    begun = any(one.tick is not None or one.at.step.subjects[:1] == (UNDO,) for one in _inside(done))
    return begun and has_wires_to_join(done)


def has_wires_to_join(done: Sequence[Done]) -> bool:
    """Return whether anything is left to be opened, taken out or joined."""
    return not all(one.settled for one in _inside(done))


def _inside(done: Sequence[Done]) -> list[Done]:
    return [one for one in done if one.at.step.kind in ("taken apart", "taken out", "joined") and not one.at.idle]


def current(done: Sequence[Done]) -> int:
    """Which step is next, from 0: the first that is not settled; past the last where all are.

    >>> current(())
    0
    """
    return next((number for number, one in enumerate(done) if not one.settled), len(done))


def together(done: Sequence[Done], at: int) -> tuple[Done, ...]:
    """Return the steps from one on that may be done in one go, in order; () where it is not one of them.

    Args:
        at: the number of the first, from 0.
    """
    some: list[Done] = []
    in_row = PLAIN
    for one in done[at:]:
        if one.settled:
            continue
        if not some and one.at.step.kind in OFF:
            in_row = OFF
        warns = one.at.caution and in_row is PLAIN
        if one.at.step.kind not in in_row or warns or one.at.missing or one.waits_for or one.at.to:
            break
        some.append(one)
    return tuple(some[:MOST_TOGETHER])
