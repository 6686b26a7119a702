"""Name the facts nobody has entered that a proof must know.

Colors, where cables go, where the feed of a box comes from, ends left over, devices that are not hooked up yet.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from itertools import chain

from ...model.answer import Text
from ...model.box import Box, Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.panel import partners
from ...model.run import BoxEnd, CircuitEnd, RunEnd, WordsEnd
from ...model.splice import ConductorEnd, End, LeadEnd, conductor_end
from ...text.format import say
from .colors import not_seen
from .nets import links_of
from .network import Node
from .stages import Stage, box_at, cables_at, contents_at, far_end, goes_on_with, has_terminals, node_of, not_known
from .wanted import Plan

MOST_NAMED = 4
"""Ends in no splice, by their names; more are counted."""


@dataclass(frozen=True, slots=True)
class Unsaid:
    """Something nobody has entered that the proof must know."""

    box: str
    code: str
    text: Text
    of: str = ""
    """The device, the sheet or the other box it is about."""


def colors_not_seen(box: Box, stage: Stage) -> Iterator[Unsaid]:
    """The cables of a box whose wire colors aren’t entered."""
    unseen = [cable.id for cable in cables_at(box, stage) if not_seen(cable)]
    if unseen:
        of = f"{'cable' if len(unseen) == 1 else 'cables'} {', '.join(unseen)}"
        text: Text = (f"{box.name}: the colors of {of} aren't entered, and are taken as these cables are sold",)
        yield Unsaid(box.id, "colors-not-seen", text)


def ways_not_said(job: Job, box: Box, stage: Stage, lit: Collection[Node]) -> Iterator[Unsaid]:
    """The cables of a box whose far ends nobody entered, or the loads there.

    `lit`: the nodes at which loads take their hot.
    """
    for cable in cables_at(box, stage):
        if far_end(job, box.id, cable.id) is None:
            yield Unsaid(box.id, "way-not-said", (f"{box.name}: where cable {cable.id} goes is not known",))
    used = {one.cable for item in contents_at(box, stage).equipment for one in item.loads}
    for cable in cables_at(box, stage):
        is_lit = any(f"{box.id}/{id}" in lit for id in cable.conductor_ids)
        if isinstance(far_end(job, box.id, cable.id), WordsEnd) and cable.id not in used and not is_lit:
            text: Text = (f"{box.name}: the load at the far end of cable {cable.id} is not known",)
            yield Unsaid(box.id, "end-not-said", text)


def feed_not_followed(box: Box, feeds: Feeds) -> Iterator[Unsaid]:
    """That the feed of a hooked-up box comes through one that is not, or by no run at all."""
    lacking = feeds.lacking(box)
    if lacking:
        text: Text = (f"{box.name}: its feed comes through {feeds.boxes[lacking].name}, which is not hooked up yet",)
        yield Unsaid(box.id, "feed-not-followed", text, lacking)
    elif lacking is not None and box.id not in feeds.unnamed:
        yield Unsaid(box.id, "feed-not-followed", (f"{box.name}: by which cable its feed comes is not known",))


def beyond_not_known(box: Box, letter: str, beyond: Box) -> Unsaid:
    """That nobody can tell what a cable of a hooked-up box carries to one that is not."""
    what = f"cable {letter} leads to {beyond.name}, which is not hooked up, and what it carries is not known"
    return Unsaid(box.id, "beyond-not-known", (f"{box.name}: {what}",), beyond.id)


def ground_not_picked(box: Box, stage: Stage, sheets: Mapping[str, Datasheet]) -> Iterator[Unsaid]:
    """Ask what makes a device with a ground terminal safe where no ground comes into its box."""
    items = contents_at(box, stage).equipment
    needs = any(one.role == "ground" for item in items for one in sheets[item.sheet].terminals)
    if needs and box.survey.ground_way in (None, "sheath"):  # armor was picked, and none enters
        text: Text = (f"{box.name}: no ground comes here; pick what makes it safe without one, in the survey",)
        yield Unsaid(box.id, "ground-not-picked", text)


def in_no_splice(
    box: Box, stage: Stage, sheets: Mapping[str, Datasheet], names: Mapping[Node, Text]
) -> Iterator[Unsaid]:
    """The conductors and leads of a hooked-up box that are neither joined nor capped; a screw may stay empty."""
    contents = contents_at(box, stage)
    spliced = {end for splice in contents.splices for end in splice.ends}
    if not spliced:
        return
    ends: list[End] = [conductor_end(id) for cable in cables_at(box, stage) for id in cable.conductor_ids]
    for item in contents.equipment:
        for number, one in enumerate(sheets[item.sheet].terminals, 1):
            if one.kind == "lead" and one.role != "ground":
                ends.append(LeadEnd(of=item.id, terminal=number))
    left = [one for one in ends if one not in spliced]
    called = [one.of if isinstance(one, ConductorEnd) else say(names[node_of(box.id, one)]) for one in left]
    if len(left) == 1:
        yield Unsaid(box.id, "in-no-splice", (f"{box.name}: {called[0]} is in no splice; join it, or cap it",))
    elif left:
        what = ", ".join(called) if len(left) <= MOST_NAMED else f"{len(left)} ends"
        yield Unsaid(box.id, "in-no-splice", (f"{box.name}: {what} are in no splice; join each, or cap it",))


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
        for run in job.fed_runs:
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


def not_hooked_up(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Equipment, ...]:
    """The devices and modules of a box none of whose leads is joined with anything, as planned.

    A battery remote, a blank, and a device whose sheet names no leads ask for nothing here.

    >>> leads = [{"role": "line"}, {"role": "load"}]
    >>> sheet = Datasheet.model_validate({"id": "s", "name": "Switch", "kind": "switch", "terminals": leads})
    >>> put = {"enclosure": {}, "devices": [{"id": "d1", "gang": 1, "sheet": "s"}]}
    >>> box = Box.model_validate({"id": "b", "name": "Hall", "room": "Hall", "planned": put})
    >>> [item.id for item in not_hooked_up(box, {"s": sheet})]
    ['d1']
    """
    joined = {end.of for splice in box.splices for end in splice.ends if isinstance(end, LeadEnd)}
    return tuple(item for item in box.equipment if item.id not in joined and sheets[item.sheet].terminals)
