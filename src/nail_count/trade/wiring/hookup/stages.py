"""What is in a box at a stage, as found or as planned, and which nodes of the network its ends are."""

from __future__ import annotations

from typing import Literal

from ...model.box import Box
from ...model.contents import Contents
from ...model.job import Job, by_id
from ...model.load import Load
from ...model.run import RunEnd, WordsEnd
from ...model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd, PigtailEnd
from ...model.wire import Cable
from .gear import halves_of, is_split, lead_node
from .network import Node

Stage = Literal["found", "planned"]


def contents_at(box: Box, stage: Stage) -> Contents:
    """What is in a box, as found or as it is planned."""
    return box.as_found if stage == "found" else box.contents


def cables_at(box: Box, stage: Stage) -> tuple[Cable, ...]:
    """The cables in a box, as found or as planned."""
    if stage == "planned":
        return box.entering
    new = set(box.contents.new)
    return tuple(cable for cable in box.cables if cable.id not in new)


def node_of(box: str, end: End) -> Node:
    """The node an end is."""
    match end:
        case ConductorEnd(of=of):
            return f"{box}/{of}"
        case GroundEnd(cable=cable):
            return f"{box}/{cable}.g"
        case LeadEnd(of=of, terminal=terminal):
            return lead_node(box, of, terminal)
        case FixtureEnd():
            return f"{box}/{end.box}.{end.load}.{end.side}"
        case PigtailEnd(to=to):
            return f"{box}/to {to}"
        case BondEnd():
            return f"{box}/bond"
    raise AssertionError


def box_at(box: Box, stage: Stage) -> Box:
    """The box with what is in it at a stage: its devices and its enclosure are those then."""
    return box if stage == "planned" else box.as_in(box.as_found)


def far_end(job: Job, box: str, cable: str) -> RunEnd | None:
    """Where a cable of a box goes; None where nobody said."""
    return job.far_ends.get((box, cable))


def way_to(job: Job, box: Box, load: Load, stage: Stage) -> Cable | None:
    """The cable to a load that hangs at no box: the one said, or the only one there is for the only load."""
    if load.cable is not None:
        return next((cable for cable in cables_at(box, stage) if cable.id == load.cable), None)
    loads = [one for item in contents_at(box, stage).equipment for one in item.loads if one.outlet is None]
    ways = [cable for cable in cables_at(box, stage) if isinstance(far_end(job, box.id, cable.id), WordsEnd)]
    taken = {one.cable for one in loads}
    left = [cable for cable in ways if cable.id not in taken]
    return left[0] if len(left) == 1 and [one for one in loads if one.cable is None] == [load] else None


def beside_it(job: Job, box: Box, load: Load, stage: Stage) -> int:
    """How many loads come before this one on its cable: each has a conductor of its own."""
    cable = way_to(job, box, load, stage)
    every = [one for item in contents_at(box, stage).equipment for one in item.loads if one.outlet is None]
    return [one.id for one in every if cable and way_to(job, box, one, stage) == cable].index(load.id) if cable else 0


def switched_at(job: Job, box: str) -> list[Load]:
    """The receptacles that switches elsewhere are said to switch at a box."""
    return [load for load in job.loads_at.get(box, ()) if load.kind == "receptacle"]


def switched_half(job: Job, box: Box, load: Load, stage: Stage) -> tuple[Node, Node] | None:
    """The screws of the half of a receptacle a switch switches; None where the box has no receptacle with two hots."""
    if load.kind != "receptacle":
        return None
    sheets = by_id(job.sheets)
    for item in contents_at(box, stage).equipment:
        halves = halves_of(box.id, item, sheets[item.sheet])
        if len(halves) > 1 and is_split(item):
            return halves[-1]
        if halves:
            return halves[0]
    return None
