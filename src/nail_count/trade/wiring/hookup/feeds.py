"""By which boxes the feed of a box comes, and which boxes that nobody hooked up yet wait beyond it."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from functools import cached_property
from itertools import chain

from ...model.box import Box
from ...model.job import Job, by_id
from ...model.panel import partners
from ...model.run import BoxEnd, CircuitEnd, RunEnd
from .links import links_of
from .stages import Stage, box_at, cables_at, contents_at, goes_on_with, has_terminals, not_known
from .wanted import Plan


class Feeds:
    """The boxes of a job as a net of runs, from the panel outward."""

    def __init__(self, job: Job, stage: Stage) -> None:
        self.boxes = {box.id: box for box in job.boxes}
        self.hooked = {box.id for box in job.boxes if any(one.ends for one in contents_at(box, stage).splices)}
        """The boxes with a hook-up."""
        self._job, self._stage, self._partners = job, stage, partners(job.circuits)
        self._circuits = {circuit.id for circuit in job.circuits}
        self.unnamed: set[str] = set()
        """The boxes that a cable from the panel enters, whose circuit nobody entered."""
        self._near: dict[str, list[tuple[str, str]]] = {}
        self._fed: dict[str, set[str]] = {}
        self._followed: dict[str, dict[str, str | None]] = {}
        """By circuit, the boxes its feed can be followed to through hooked-up ones."""
        cables = {(box.id, cable.id) for box in job.boxes for cable in cables_at(box, stage)}
        for run in job.runs:
            self._put(run.one, run.other, cables)
            self._put(run.other, run.one, cables)

    def _put(self, here: RunEnd, there: RunEnd, cables: Collection[tuple[str, str | None]]) -> None:
        if not isinstance(here, BoxEnd) or here.cable is None or (here.box, here.cable) not in cables:
            return
        if isinstance(there, BoxEnd) and (there.box, there.cable) in cables:
            self._near.setdefault(here.box, []).append((here.cable, there.box))
        elif isinstance(there, CircuitEnd) and there.circuit in self._circuits:
            self._fed.setdefault(there.circuit or "", set()).add(here.box)
        elif isinstance(there, CircuitEnd):
            self.unnamed.add(here.box)

    @cached_property
    def _entered(self) -> set[str]:
        """The boxes that a cable from the panel enters."""
        return set().union(*self._fed.values())

    def _reached(self, starts: Collection[str], through: Collection[str]) -> dict[str, str | None]:
        """The boxes that lie on ways from some boxes through others, each with the one before it."""
        came: dict[str, str | None] = dict.fromkeys(starts)
        queue = list(came)
        for box in queue:
            if box in through:
                for _, other in self._near.get(box, ()):
                    if other not in came:
                        came[other] = box
                        queue.append(other)
        return came

    def _starts(self, circuit: str) -> set[str]:
        """Where a circuit enters from the panel; where nobody entered that, where any does."""
        return self._fed.get(circuit) or self._fed.get(self._partners.get(circuit, "")) or self._entered

    def lacking(self, box: Box) -> str | None:
        """What keeps the feed of a box from being followed to the panel; None where it can be.

        Returns:
            The first box on its way that is not hooked up, by its key; "" where no run leads there at all.
        """
        for circuit in box.circuits or ("",):
            if circuit not in self._followed:
                self._followed[circuit] = self._reached(self._starts(circuit), self.hooked)
            if box.id in self._followed[circuit]:
                continue
            at, way, came = box.id, [], self._reached(self._starts(circuit), self.boxes)
            while (before := came.get(at)) is not None:
                at = before
                way.append(at)
            return next((one for one in reversed(way) if one not in self.hooked), "")
        return None

    def waiting(self, box: Box) -> Iterator[tuple[str, Box, bool]]:
        """The cables of a hooked-up box to boxes that are not, each with that, and whether it is fed by it alone."""
        others = [(cable, other) for cable, other in self._near.get(box.id, ()) if other not in self.hooked]
        if others and box.id in self._reached(self._entered, self.boxes):
            without = self._reached(self._entered, self.boxes.keys() - {box.id})
            yield from ((cable, self.boxes[other], other not in without) for cable, other in others)

    def circuits_beyond(self, box: Box, beyond: Box) -> tuple[str, ...] | None:
        """The circuits that feed what lies beyond a cable: () where nothing there needs any.

        Returns:
            None where it is not known what the cable carries: a lamp there belongs to a switch on this side, a place of
            control to no known lamp, or nothing is known of the loads there.
        """
        there = self._reached({beyond.id}, self.boxes.keys() - {box.id}).keys() - {box.id}
        if any(group & there and group - there for group in self._groups) or self._astray & there:
            return None
        if any(self.switches_its_cable(box, self.boxes[key]) for key in there):
            return None
        found = set(chain.from_iterable(goes_on_with(self._job, box, self.boxes[key], self._stage) for key in there))
        return tuple(sorted(found)) if found or not any(self._may_need(self.boxes[key]) for key in there) else None

    def switches_its_cable(self, near: Box, box: Box) -> bool:
        """Whether a cable from a fixture box goes to a lone switch that nobody hooked up.

        Such a switch is usually across the two wires of that cable: what it controls is at the fixture, and hot on one
        wire with neutral on the other is a dead short once it closes. A switch with a neutral is not.
        """
        is_lone = len(cables_at(box, self._stage)) == 1 and not self._job.loads_at.get(box.id)
        if not near.is_outlet or box.id in self.hooked or not is_lone:
            return False
        sheets = by_id(self._job.sheets)
        for item in contents_at(box, self._stage).equipment:
            roles = {one.role for one in sheets[item.sheet].terminals}
            if {"load", "traveler"} & roles and "neutral" not in roles and not item.loads:
                return True
        return False

    def _may_need(self, box: Box) -> bool:
        """Whether something in a box may want a feed."""
        return not_known(self._job, box, self._stage) or has_terminals(self._job, box, self._stage)

    @cached_property
    def _groups(self) -> list[set[str]]:
        """The boxes of each device with loads, of those, and of its other places of control."""
        at_stage = self._job.changed(boxes=tuple(box_at(box, self._stage) for box in self.boxes.values()))
        plan = Plan(at_stage, links_of(at_stage))
        return [plan.together(main) for main in plan.mains]

    @cached_property
    def _astray(self) -> set[str]:
        """The boxes in which something is switched from elsewhere, or switches it, and nobody entered what."""
        sheets = by_id(self._job.sheets)
        signalled = {
            box.id
            for box in self.boxes.values()
            for item in contents_at(box, self._stage).equipment
            if {"traveler", "input"} & {one.role for one in sheets[item.sheet].terminals}
        }
        return signalled.difference(*self._groups)
