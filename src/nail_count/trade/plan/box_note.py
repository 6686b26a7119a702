"""The note that is folded into a box: everything that isn't as it looks, and what was done. Never a code."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ..model.box import Box
from ..model.job import Job, by_id
from ..model.splice import ConductorEnd, Splice
from ..wiring.hookup.colors import Wire
from ..wiring.hookup.graph import graph
from .parts.devices import coming

NO_NEUTRAL: Mapping[str, str] = {
    "hot": "is hot",
    "switched": "is switched hot",
    "traveler": "is a traveler",
    "signal": "carries a signal to an input",
}
"""What a white is in a splice of this name, that is no neutral."""


@dataclass(frozen=True, slots=True)
class BoxNote:
    """What a note says of a box."""

    box: Box
    beware: tuple[str, ...]
    """Everything that isn't as it looks."""
    done: tuple[str, ...]
    """What was put in."""


def box_notes(job: Job) -> tuple[BoxNote, ...]:
    """The notes of a house: of every box with something to tell, as it is planned.

    Source: common practice.
    """
    wires, sheets = graph(job).wires_by_box(), by_id(job.sheets)
    made = []
    for box in job.boxes:
        beware = tuple(_beware(box, wires.get(box.id, {})))
        done = tuple(f"{sheets[item.sheet].name}{f' ({item.name})' if item.name else ''}" for item in coming(box))
        if beware or done:
            made.append(BoxNote(box, beware, done))
    return tuple(made)


def _beware(box: Box, wires: Mapping[str, Wire]) -> Iterator[str]:
    if len(box.circuits) > 1:
        yield f"Two circuits or more: {' and '.join(box.circuits)}. All of them off"
    for splice in box.splices:
        ends = [end.of for end in splice.ends if isinstance(end, ConductorEnd)]
        for of in ends:
            wire = wires.get(of)
            if wire is not None and wire.neutral and splice.name in NO_NEUTRAL:
                yield f"{of} is {wire.color or 'colored like a neutral'} and {NO_NEUTRAL[splice.name]}"
        yield from _straight_through(splice, ends)
        if splice.name == "cap" and ends:
            yield f"{', '.join(ends)} capped: not in use here, and perhaps live"
    if not box.circuits:
        yield "Which breaker feeds it was not found: the main off"


def _straight_through(splice: Splice, ends: list[str]) -> Iterator[str]:
    """A hot or a switched leg joined from cable to cable: whatever stands in front of it switches nothing of it."""
    plain = len(ends) == len(splice.ends) == 2 and len({end.rstrip("0123456789") for end in ends}) == 2
    if plain and splice.name in ("switched", "signal"):
        yield f"{ends[0]} and {ends[1]} are joined straight through: nothing here switches them"
