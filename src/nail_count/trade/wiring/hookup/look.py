"""The hook-up of one box, looked at as a whole: what joins what, what was proven of it, and what nobody has entered."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ...model.answer import State
from ...model.box import Box
from ...model.job import Job, by_id
from ...model.splice import Splice
from .findings import FindingText, Mending, misused, said
from .graph import Graph, graph
from .network import Node, wired
from .proof import SHORTS, Proof, prove
from .propose import group_of
from .stages import Stage, box_at, contents_at
from .unsaid import Unsaid
from .work import too_small


@dataclass(frozen=True, slots=True)
class HookUp:
    """The hook-up of a box."""

    job: Job
    """Every box and run on its circuits."""
    box: Box
    stage: Stage
    seen: Graph
    proof: Proof
    group: frozenset[str]
    """The boxes that share a lamp or a place of control with it."""
    findings: tuple[FindingText, ...]
    """What fails of it and of those."""
    elsewhere: int
    """How much fails on the same circuits beyond them."""
    unsaid: tuple[Unsaid, ...]
    """What must be known before it can be proven."""
    breakers: tuple[str, ...]
    """What must be off before anything here is touched: the circuits that make something in it live in some state."""
    cut_off: frozenset[Node]
    """The ends in it of wires that go on, and lack their hot or their neutral here."""

    @property
    def overfull(self) -> tuple[Splice, ...]:
        """The splices whose connector does not take what meets there."""
        sheets, box = by_id(self.job.sheets), box_at(self.box, self.stage)
        return tuple(one for one in box.splices if one.ends and too_small(box, one, sheets))

    @property
    def said(self) -> bool:
        """Whether anything is joined in it yet."""
        return any(splice.ends for splice in contents_at(self.box, self.stage).splices)

    @property
    def state(self) -> State:
        """Fails where something is wrong, open while something is not known, else it holds."""
        shorts = any(one.finding.rule == SHORTS for one in self.findings)
        if shorts or self.overfull or (self.findings and not self._unfinished):
            return State.FAILS
        return State.OPEN if self.unsaid or self.findings or self.proof.too_many else State.HOLDS

    @property
    def _unfinished(self) -> bool:
        waits = ("not-hooked-up", "no-terminals", "load-not-found", "feed-not-said", "feed-not-followed")
        return any(one.code in waits for one in self.unsaid)

    @property
    def shown(self) -> Sequence[FindingText]:
        """The findings to show: of a box that is not finished only the shorts."""
        return [one for one in self.findings if one.finding.rule == SHORTS or not self._unfinished]


def look(job: Job, box: str, stage: Stage = "planned") -> HookUp:
    """The hook-up of a box.

    Args:
        job: with every box and run on its circuits.
        stage: as found, or as planned.
    """
    seen = graph(job, stage)
    proof, base = prove(seen.network), wired(seen.network)
    at = next(one for one in job.boxes if one.id == box)
    group, mending = group_of(job, box), Mending(seen, base)
    by_color = [*misused(seen, base)] if stage == "planned" and job.terms.region.marks_whites else []
    mine = [one for one in (*proof.findings, *by_color) if one.rule == SHORTS or mending.concerns(one, group)]
    beyond = [one for one in mine if one.rule != SHORTS and not mending.is_in(one, group)]
    goes_on = [*beyond, *(one for one in mine if one.code == "onward-not-fed")]
    here = mending.nodes_in(box)
    live = frozenset[str]().union(*(proof.live.get(root, frozenset()) for root in here))
    order = [circuit.id for circuit in job.circuits if seen.network.poles(circuit.id) & live]
    at_all = {one.id for one in job.boxes if any(splice.ends for splice in contents_at(one, stage).splices)}
    return HookUp(
        job,
        at,
        stage,
        seen,
        proof,
        group,
        tuple(said(one, seen, one in beyond) for one in mine),
        sum(one not in mine and seen.box_of.get(one.of) in at_all for one in proof.findings),
        tuple(_unsaid(seen, box, group)),
        tuple(order),
        frozenset(node for one in goes_on for node in mending.cut_off(one, box)),
    )


def _unsaid(seen: Graph, box: str, group: frozenset[str]) -> Iterator[Unsaid]:
    """The unknowns of these boxes; what keeps the feed from them once, and not where it is one of themselves."""
    told: set[str] = set()
    for one in sorted(seen.unsaid, key=lambda one: one.box != box):
        if one.box not in group:
            continue
        if one.code == "feed-not-followed":
            if one.of in group or one.of in told:
                continue
            told.add(one.of)
        yield one
