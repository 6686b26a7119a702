"""How far a box has come: which steps are done, which lapsed, what was refused; and which can be done now."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ...model.box import Box
from ...model.errors import Rejected
from ...model.tick import Step, Tick, standing, ticked
from ..begun import still_so
from ..planned import UNDO
from .step import LIVE, InstallStep

AFTER_DEAD = ("energised",)
"""What makes all lapse that holds only while the breakers are off."""
WHILE_OFF = ("switched off", "locked", "proven dead")
"""What holds only as long as no breaker of the box is on again."""
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


def progress(
    steps: Sequence[InstallStep], ticks: Iterable[Tick], box: Box, on_since: datetime | None
) -> tuple[Done, ...]:
    """How far the steps of a box have come.

    Args:
        ticks: of the job, in the order they were made.
        box: as planned.
        on_since: when a breaker of it was last switched on again, here or at another box; None: not since. A live test
            in the box turns it on too.
    """
    known = tuple(ticks)
    touched = (result.at for result in box.live_test if result.on and result.at)
    live = max((*touched, *((on_since,) if on_since else ())), default=None)
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
    over, blocked = _over(made), _blocked(made)
    return tuple(
        replace(
            one,
            over=number < over and one.lapsed == ON_SINCE,
            waits_for=made[blocked].at.title if number > blocked else "",
        )
        for number, one in enumerate(made)
    )


def _blocked(done: Sequence[Done]) -> int:
    """Where the first step is that something must be recorded or planned for; past the last where none is."""
    return next((number for number, one in enumerate(done) if one.at.missing), len(done))


def _over(done: Sequence[Done]) -> int:
    """How many steps, from the first, had their time: the box was switched on again, with nothing left inside."""
    on = next((number for number, one in enumerate(done) if one.at.step.kind in AFTER_DEAD), 0)
    inside = (one for one in done[:on] if one.at.step.kind not in LIVE)
    return on if done and done[on].tick is not None and all(one.settled for one in inside) else 0


def on_since(ticks: Iterable[Tick], circuits: Mapping[str, frozenset[str]], box: str) -> datetime | None:
    """When a breaker of a box was last switched on, at whichever box of them; where it is not known which feed one of
    the two, it may have been.

    Args:
        circuits: what must be off for each box; () where that is not known, and the main goes off.
    """
    mine = circuits.get(box, frozenset())
    moments = []
    for tick in standing(ticks):
        if tick.step.kind in AFTER_DEAD and tick.box is not None:
            theirs = circuits.get(tick.box, frozenset())
            if tick.box == box or not mine or not theirs or theirs & mine:
                moments.append(tick.at)
    return max(moments, default=None)


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
    missing = [one.at.step.subjects[0] for one in first if one.tick is None]
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
