"""Practice with a hook-up: one made by hand against the best there is, and a fault hidden in one, to be found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from random import Random

from ...model.answer import State
from ...model.job import Job
from .find_fault import Point, Seen, Suspect, as_it_should, left, next_reading, suspects
from .look import look
from .propose import Refusal, propose

MOST = 40
"""No search takes more readings than this."""


@dataclass(frozen=True, slots=True)
class HookupScore:
    """How a hook-up made by hand stands against the one that is proposed."""

    state: State
    """Of its proof."""
    states: int
    """How many states it was tried in."""
    findings: int
    joins: int
    """Splices made."""
    best: int | None
    """Splices of the hook-up that is proposed for it; None where none is."""


def hookup_score(job: Job, box: str) -> HookupScore:
    """How well a box was hooked up by hand.

    Args:
        job: with every box on the same circuits.
    """
    seen, made = look(job, box), propose(job, box)
    best = None if isinstance(made, Refusal) else sum(bool(one.ends) for one in made.splices[box])
    joins = sum(bool(one.ends) for one in seen.box.splices)
    return HookupScore(seen.state, seen.proof.states, len(seen.shown), joins, best)


@dataclass(frozen=True, slots=True)
class HiddenFault:
    """A box in which something does not work."""

    causes: tuple[Suspect, ...]
    """Everything that gives the symptom; one of them it is."""
    truth: Suspect
    load: str
    """What does not work."""
    does: Seen

    def shown(self, at: Point) -> bool:
        """What a loaded meter shows: whether the full voltage; behind an open electronic switch, some of it."""
        return bool(self.truth.reads[at])

    def same(self, one: Suspect) -> bool:
        """Whether no reading in this box tells a cause from the one it is."""
        return one.reads == self.truth.reads and one.loads == self.truth.loads

    @property
    def best(self) -> int:
        """How many readings the rule that splits best takes to this fault."""
        return readings_to(self.causes, self.truth, self.load, self.does)


def hide_fault(job: Job, box: str, seed: int) -> HiddenFault | None:
    """A fault hidden around a box; None where none shows. The same seed hides the same one.

    Args:
        job: with every box on the same circuits, as planned and proven.
        box: which box is measured in.
        seed: which fault.
    """
    every, right = suspects(job, box), as_it_should(job)
    showing = [(one, load) for one in every for load, does in one.loads.items() if does != right[load]]
    if not showing:
        return None
    truth, load = Random(seed).choice(showing)  # noqa: S311 – a game, not a secret
    does = truth.loads[load]
    return HiddenFault(left(every, load, does, {}), truth, load, does)


def readings_to(causes: Sequence[Suspect], truth: Suspect, load: str, does: Seen) -> int:
    """How many readings it takes by the rule of [find_fault][nail_count.trade.wiring.hookup.find_fault].

    Args:
        causes: what it may be.
        truth: what it is.
        load: what does not work.
    """
    taken: dict[Point, bool] = {}
    while len(taken) < MOST:
        at = next_reading(left(causes, load, does, taken), taken)
        if at is None:
            break
        taken[at] = bool(truth.reads[at])
    return len(taken)


def still(hidden: HiddenFault, taken: Mapping[Point, bool]) -> int:
    """How many causes the readings leave."""
    return len(left(hidden.causes, hidden.load, hidden.does, taken))
