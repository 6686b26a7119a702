"""What was joined in a box before its plan changed: what of it still fits, and which ticks no longer hold.

A tick says that something was done. The present contents of the box follow from all of them in order: a splice that was
made again is no longer as it was made first. One that was opened for a new plan isn't there even if the old plan comes
back.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

from ..model.box import Box
from ..model.tick import StepKind, Tick, standing
from .planned import UNDO, fits

CLOSING: frozenset[StepKind] = frozenset(
    ("tugged", "compared", "folded", "closed", "energised", "tried by hand", "measured")
)
"""What has to be done again once anything is opened."""
MOST_KEPT = 23
"""So many splices the step can name."""


@dataclass(frozen=True, slots=True)
class Begun:
    """How far a box was joined, seen from its plan of now."""

    keeps: tuple[str, ...] | None
    """The splices of the plan that stay while all else is undone; None: nothing has to be."""
    undone: frozenset[str]
    """The ids of the ticks that no longer say how the box is."""


@dataclass
class _State:
    """A box after some of its ticks."""

    joined: dict[tuple[str, ...], Tick] = field(default_factory=dict)
    """By what was done and the splice."""
    opened: list[Tick] = field(default_factory=list)
    closing: list[Tick] = field(default_factory=list)
    redone: Tick | None = None
    undone: set[str] = field(default_factory=set)


def begun(ticks: Iterable[Tick], box: Box) -> Begun:
    """Return what was begun in a box under another plan.

    Args:
        ticks: of the job, in the order they were made.
        box: as found and as planned now.
    """
    state = _State()
    for tick in standing(ticks):
        if tick.box == box.id:
            _after(state, tick)
    stale = [tick for tick in (*state.joined.values(), *state.opened) if not fits(tick, box)]
    if stale:
        if state.redone:
            state.undone.add(state.redone.id)
        kept = {at[1] for at, tick in state.joined.items() if at[0] != "re-mark" and fits(tick, box)}
        return Begun(tuple(sorted(kept))[:MOST_KEPT], frozenset(state.undone))
    keeps = state.redone.step.subjects[1:] if state.redone else None
    return Begun(keeps, frozenset(state.undone))


def still_so(ticks: Iterable[Tick], box: Box) -> tuple[Tick, ...]:
    """Return the ticks without those of this box that were made for another plan, or undone since."""
    known = tuple(ticks)
    undone = begun(known, box).undone
    return tuple(one for one in known if one.box != box.id or (one.id not in undone and fits(one, box)))


def _after(state: _State, tick: Tick) -> None:
    """Take in one tick more."""
    kind, subjects = tick.step.kind, tick.step.subjects
    if kind == "joined" and len(subjects) == 2:
        state.joined[subjects] = tick
    elif kind == "taken apart" and subjects[:1] == (UNDO,):
        gone = [at for at in state.joined if at[0] == "re-mark" or at[1] not in subjects]
        state.undone |= {state.joined.pop(at).id for at in gone} | {one.id for one in state.closing}
        state.undone |= {state.redone.id} if state.redone else set()
        state.closing, state.opened, state.redone = [], [], tick
    elif kind in ("taken apart", "taken out"):
        state.opened.append(tick)
    elif kind in CLOSING:
        state.closing.append(tick)
