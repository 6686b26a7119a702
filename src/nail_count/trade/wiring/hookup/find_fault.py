"""Find the single fault that gives a symptom, by the readings that split the causes best; and practice it.

Each fault is put into this group's own network; nothing is taken from a list of usual causes. With few causes left the
readings are the fewest there can be at worst; with many, each is the one whose worse answer leaves fewest.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from random import Random
from typing import NamedTuple

from ...model.answer import State
from ...model.job import Job
from .graph import Graph, graph
from .look import look
from .network import InState, NetworkState, Node
from .propose import Refusal, propose
from .readings import FULL, SingleFault, kind_at, points_of, single_faults, usual_states

EXACT = 8
"""Up to so many causes the fewest readings at worst are worked out; beyond, the best worst-case split is taken."""
STATES = ("breakers on, everything off", "breakers on, everything on")
"""In which readings are taken: every breaker off shows nothing."""


class Point(NamedTuple):
    """A reading to take: where, in which of the usual states."""

    node: Node
    state: str


class Seen(NamedTuple):
    """What a load does: with everything switched off, and on."""

    off: bool
    on: bool


@dataclass(frozen=True, slots=True)
class Suspect:
    """A fault that could be it."""

    fault: SingleFault
    loads: Mapping[str, Seen]
    """What each load does with it."""
    reads: Mapping[Point, bool | None]
    """Whether a loaded meter shows the full voltage; None: behind an open electronic switch it shows anything."""


def suspects(job: Job, box: str) -> tuple[Suspect, ...]:
    """Every single fault around a box, each with what it does to the loads and to the readings in the box.

    Args:
        job: with every box on the same circuits, as planned.
        box: key of the box that is measured in.
    """
    seen = graph(job)
    states = usual_states(seen)
    points = points_of(seen, box)
    return tuple(_suspect(one, seen, states, points) for one in single_faults(job, box, "planned", seen))


def _suspect(fault: SingleFault, seen: Graph, states: Mapping[str, NetworkState], points: Sequence[Node]) -> Suspect:
    now = {name: fault.in_state(states[name]) for name in STATES}
    loads = {load.id: Seen(*(now[name].burns(load) for name in STATES)) for load in seen.network.loads}
    reads = {Point(node, name): _full(now[name], node) for name in STATES for node in points}
    return Suspect(fault, loads, reads)


def _full(now: InState, node: Node) -> bool | None:
    kind = kind_at(now, node)
    return None if kind == "leaks" else kind in FULL


def as_it_should(job: Job) -> Mapping[str, Seen]:
    """What each load does where nothing is wrong."""
    seen = graph(job)
    states = usual_states(seen)
    return {
        load.id: Seen(*(InState(seen.network, states[name]).burns(load) for name in STATES))
        for load in seen.network.loads
    }


def left(all_of: Sequence[Suspect], load: str, does: Seen, taken: Mapping[Point, bool]) -> tuple[Suspect, ...]:
    """The faults that give the symptom and the readings.

    Args:
        all_of: as [suspects][] gives them.
        load: what does not work.
        taken: the readings so far: whether the full voltage was there.
    """
    return tuple(
        one
        for one in all_of
        if one.loads.get(load) == does and all(one.reads[at] in (shown, None) for at, shown in taken.items())
    )


def next_reading(among: Sequence[Suspect], taken: Mapping[Point, bool]) -> Point | None:
    """The reading that splits these best; None where none of those in this box tells them apart.

    Args:
        among: the faults left.
        taken: the readings so far.
    """
    useful = [at for at, _ in _splits(among) if at not in taken]
    if not useful:
        return None
    if len(among) <= EXACT:
        return min(useful, key=lambda at: (_worst(among, at), useful.index(at)))
    return min(useful, key=lambda at: (max(map(len, _parted(among, at))), useful.index(at)))


def _splits(among: Sequence[Suspect]) -> Iterator[tuple[Point, tuple[int, int]]]:
    """The readings that part these: where every one of them predicts the reading, and not all the same."""
    for at in among[0].reads if among else ():
        shown = [one.reads[at] for one in among]
        if None not in shown and 0 < sum(map(bool, shown)) < len(shown):
            yield at, (sum(map(bool, shown)), len(shown) - sum(map(bool, shown)))


def _parted(among: Sequence[Suspect], at: Point) -> tuple[list[Suspect], list[Suspect]]:
    return [one for one in among if one.reads[at]], [one for one in among if not one.reads[at]]


def _worst(among: Sequence[Suspect], at: Point) -> int:
    """How many readings it takes at worst, this one first."""
    points = tuple(among[0].reads)
    rows = tuple(tuple(one.reads[point] for point in points) for one in among)
    number = points.index(at)
    return 1 + max(_depth(tuple(row for row in dict.fromkeys(rows) if row[number] is shown)) for shown in (True, False))


@lru_cache(maxsize=4096)
def _depth(rows: tuple[tuple[bool | None, ...], ...]) -> int:
    """How many readings it takes at worst to part rows as far as they can be."""
    best: int | None = None
    for number in range(len(rows[0]) if len(rows) > 1 else 0):
        shown = [row[number] for row in rows]
        if None in shown or len(set(shown)) == 1:
            continue
        here = 1 + max(_depth(tuple(row for row in rows if row[number] is side)) for side in (True, False))
        best = here if best is None else min(best, here)
        if best == 1:
            break
    return best or 0


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
