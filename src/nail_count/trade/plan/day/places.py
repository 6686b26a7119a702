"""List the places with work: its kind, how long it takes, and which breakers must be off
for it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.day import PlaceKind
from ...model.job import Job, by_id
from ...model.panel import partners
from ...model.run import BoxEnd, CircuitEnd
from ...model.tick import Tick, standing
from ...rules.places import learned, usual_minutes
from ...wiring.hookup.colors import Wire
from ...wiring.hookup.graph import graph
from ...wiring.hookup.propose import groups
from ...wiring.hookup.work import work
from ..parts.cables import new_in
from ..parts.devices import coming, freed
from ..parts.enclosures import enclosure_needs
from ..planned import fits

From = Literal["usual", "learned", "said"]
"""Where a time comes from: the table, what such places took on this job, or a person."""
LONGEST = 24 * 60
"""A place left open longer than this was not worked at all the time [min]."""


@dataclass(frozen=True, slots=True)
class Piece:
    """A kind of work at a place, how many devices it is, and how long it takes."""

    kind: PlaceKind
    count: int
    minutes: int
    source: From


@dataclass(frozen=True, slots=True)
class Place:
    """A box with work in it."""

    box: Box
    pieces: tuple[Piece, ...]
    """() where all its time is in that of the place it is switched with."""
    circuits: frozenset[str]
    """All that must be off for it."""
    unknown: bool
    """Whether nobody knows what feeds it."""
    why: tuple[str, ...]
    """Why circuits beside its own must be off."""
    minutes: int
    """How long it takes [min], as entered, or all its pieces."""
    said: bool
    """Whether a person entered how long."""
    behind_wall: bool
    """Whether a wall is opened for it, to be closed after its inspection."""


def to_do(job: Job) -> tuple[str, ...]:
    """The keys of the boxes of a job where the plan differs from what was found, in its order."""
    sheets, wires, several = by_id(job.sheets), graph(job).wires_by_box(), _several(job)
    between = frozenset().union(*(group for group in groups(job) if group & set(several)))
    return tuple(
        box.id
        for box in job.boxes
        if _has_work(box, sheets, wires.get(box.id, {}), job, stays_as_is=_stays(box) and box.id not in between)
    )


def places(job: Job) -> tuple[Place, ...]:
    """Return every box of a job with work in it, in the order of the job.

    Args:
        job: as found, as planned, and what was ticked.
    """
    keys, several = frozenset(to_do(job)), _several(job)
    known, times = {box.id: box for box in job.boxes}, _learned(job, several)
    return tuple(_place(job, known[key], several, times) for key in known if key in keys)


def _stays(box: Box) -> bool:
    """Return whether the splices of a box are taken to stay: those of a lamp's box whose wiring nobody has recorded."""
    return box.is_outlet and box.found is None


def _has_work(
    box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire], job: Job, *, stays_as_is: bool
) -> bool:
    if box.planned is None:
        return False
    changed = bool(coming(box)) or any(True for _ in freed(box, sheets)) or bool(box.planned.out or box.planned.brought)
    box_changes = any(True for _ in enclosure_needs(box, job.stock))
    if changed or box_changes:
        return True
    return not stays_as_is and any(step.act != "leave" for step in work(box, sheets, wires))


def _several(job: Job) -> Mapping[str, frozenset[str]]:
    """For each box that shares its lamps with other places of control: these, and it."""
    control = {box.id for box in job.boxes if not box.is_outlet}
    found = [group & control for group in groups(job)]
    return {key: group for group in found if len(group) > 1 for key in group}


def _place(job: Job, box: Box, several: Mapping[str, frozenset[str]], times: Mapping[PlaceKind, int]) -> Place:
    counted = _kinds(job, box, several)
    pieces = tuple(_piece(kind, count, times) for kind, count in counted)
    said = job.day.place(box.id).minutes
    circuits, why = fed_by(job, box)
    minutes = said if said is not None else sum(piece.minutes for piece in pieces)
    behind = any(kind in ("new box", "fishing") for kind, _ in counted)
    return Place(box, pieces, circuits, not circuits, why, minutes, said is not None, behind)


def _kinds(job: Job, box: Box, several: Mapping[str, frozenset[str]]) -> tuple[tuple[PlaceKind, int], ...]:
    """What a place is: each kind, with how many devices."""
    found: list[tuple[PlaceKind, int]] = []
    if any(_fished(job, box, letter) for letter in new_in(box)):
        found.append(("fishing", 1))
    if any(need.part.kind in ("box", "fan box") for need in enclosure_needs(box, job.stock)):
        found.append(("new box", 1))
    swapped = len(coming(box))
    if box.id in several:
        group = [one for one in job.boxes if one.id in several[box.id]]
        told = all(any(splice.ends for splice in one.splices) for one in group)
        # The pair is worked out once, one device at each of its places in it: its time stands at the first of them.
        if group[0].id == box.id:
            found.append(("known several places" if told else "unknown several places", 1))
        swapped = max(swapped - 1, 0)
    if box.is_outlet:
        found.append(("outlet", 1))
    if swapped > 0 or not (found or box.id in several):
        found.append(("plain swap", max(swapped, 1)))
    return tuple(found)


def _fished(job: Job, box: Box, letter: str) -> bool:
    """Whether a new cable is fished, as far as is known: one that is stapled along open framing is not."""
    run = next((run for run in job.runs if run.far_from(box.id, letter) is not None), None)
    return run is None or run.fished is not False


def _piece(kind: PlaceKind, count: int, times: Mapping[PlaceKind, int]) -> Piece:
    if kind in times:
        return Piece(kind, count, times[kind] * (count if kind == "plain swap" else 1), "learned")
    return Piece(kind, count, usual_minutes(kind, count), "usual")


def breakers_off(job: Job, box: Box) -> tuple[str, ...]:
    """Return the breakers that must be off before a box is opened, in the order of the panel; () for the main.

    The main goes off where it always does here, and where some breaker isn't in the panel as recorded.

    Args:
        job: with its runs.
        box: one of its boxes, as entered.
    """
    circuits, _ = fed_by(job, box)
    listed = tuple(one.id for one in job.circuits if one.id in circuits)
    return () if job.house.main_off or len(listed) < len(circuits) else listed


def fed_by(job: Job, box: Box) -> tuple[frozenset[str], tuple[str, ...]]:
    """All circuits that must be off before a box is worked on, and why those beside its own: never too few.

    Its own; those its cables come from; those that feed the boxes its cables lead to; and whatever shares a neutral
    with one of them, since a shared neutral parted can put twice the voltage on a load. None at all where it is not
    known, or where more cables come from the panel than circuits of the box are known: then the main goes off.

    Args:
        job: with its runs.
        box: one of its boxes.

    Source: common practice.
    """
    boxes = {one.id: one for one in job.boxes}
    found, why = dict.fromkeys(box.circuits), []
    traced, untraced = set[str](), list[str]()
    for run in job.runs:
        ends = [end.cable for end in run.box_ends if end.box == box.id and end.cable is not None]
        for cable in ends:
            match run.far_from(box.id, cable):
                case CircuitEnd(circuit=None):
                    untraced.append(cable)
                case CircuitEnd(circuit=str(circuit)):
                    traced.add(circuit)
                    if circuit not in found:
                        found[circuit] = None
                        why.append(f"cable {cable} comes from circuit {circuit}")
                case BoxEnd(box=far) if far in boxes:
                    for circuit in boxes[far].circuits:
                        if circuit not in found:
                            found[circuit] = None
                            why.append(f"cable {cable} leads to {boxes[far].name}, on circuit {circuit}")
    shared = partners(job.circuits)
    for circuit in list(found):
        other = shared.get(circuit)
        if other is not None and other not in found:
            found[other] = None
            why.append(f"circuit {other} shares its neutral with {circuit}")
    if len(untraced) > len(set(box.circuits) - traced):
        cables = " and ".join(untraced)
        return frozenset(), (f"which breaker cable {cables} comes from isn't known, so the main goes off",)
    return frozenset(found), tuple(why)


def _learned(job: Job, several: Mapping[str, frozenset[str]]) -> Mapping[PlaceKind, int]:
    """How long each kind of place took on this job, from those that were of one kind alone; the median."""
    boxes = {box.id: box for box in job.boxes}
    took: dict[PlaceKind, list[int]] = {}
    for key, minutes in timed(job.ticks).items():
        kinds = _kinds(job, boxes[key], several) if key in boxes else ()
        if len(kinds) == 1:
            kind, count = kinds[0]
            took.setdefault(kind, []).append(-(-minutes // count))
    return {kind: median for kind, all_of in took.items() if (median := learned(all_of)) is not None}


def timed(ticks: Iterable[Tick]) -> dict[str, int]:
    """How long each place took that was ticked as begun and as done [min], the last time it was.

    Args:
        ticks: of a job, in the order they were made.
    """
    begun: dict[str, datetime] = {}
    took: dict[str, int] = {}
    for tick in standing(ticks):
        if tick.box is None:
            continue
        if tick.step.kind == "begun":
            begun[tick.box] = tick.at
        elif tick.step.kind == "done" and tick.box in begun:
            minutes = round((tick.at - begun.pop(tick.box)).total_seconds() / 60)
            if 0 < minutes <= LONGEST:
                took[tick.box] = minutes
    return took


def done(job: Job) -> frozenset[str]:
    """The places of a job that were ticked as done, and neither begun again nor planned again since."""
    last: dict[str | None, Tick] = {}
    for tick in standing(job.ticks):
        if tick.step.kind in ("begun", "done"):
            last[tick.box] = tick
    over = (box for box in job.boxes if box.id in last and fits(last[box.id], box))
    return frozenset(box.id for box in over if last[box.id].step.kind == "done")
