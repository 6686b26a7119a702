"""Read the contents of a box at a stage, as found or as planned, and name its ends as forms and people do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.contents import Contents
from ...model.job import Job, by_id
from ...model.load import Load
from ...model.panel import partners
from ...model.run import RunEnd, WordsEnd
from ...model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd, PigtailEnd
from ...model.wire import Cable
from ...text.device import item_name
from .colors import outward, wires_of
from .gear import halves_of, is_split, lead_node
from .network import Node

Stage = Literal["found", "planned"]


def contents_at(box: Box, stage: Stage) -> Contents:
    """The contents of a box, as found or as it is planned."""
    return box.as_found if stage == "found" else box.contents


def cables_at(box: Box, stage: Stage) -> tuple[Cable, ...]:
    """The cables in a box, as found or as planned."""
    if stage == "planned":
        return box.entering
    brought = set(box.contents.brought)
    return tuple(cable for cable in box.cables if cable.id not in brought)


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
    """The box with its contents at a stage: its devices and its enclosure are those then."""
    return box if stage == "planned" else box.as_in(box.as_found)


def is_grounded(box: Box, stage: Stage) -> bool:
    """Return whether a ground comes into a box: by a wire, or by armor or conduit that was picked as the ground."""
    return is_grounded_by_sheath(box, stage) or any(cable.grounds for cable in cables_at(box, stage))


def is_grounded_by_sheath(box: Box, stage: Stage) -> bool:
    """Return whether armor or conduit was picked as the ground, and some of it enters the metal box."""
    sheath = any(cable.has_metal_sheath for cable in cables_at(box, stage))
    return sheath and box.survey.ground_way == "sheath" and box.enclosure.material == "metal"


def far_end(job: Job, box: str, cable: str) -> RunEnd | None:
    """Where a cable of a box goes; None where nobody entered it."""
    return job.far_ends.get((box, cable))


def way_to(job: Job, box: Box, load: Load, stage: Stage) -> Cable | None:
    """The cable to a load that hangs at no box: the one entered, or the only one there is for the only load."""
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
    """The receptacles that switches elsewhere switch at a box by its record."""
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


def not_known(job: Job, box: Box, stage: Stage) -> bool:
    """Tell whether the contents of a box and the loads at it are unknown: cables to it may then matter."""
    contents = contents_at(box, stage)
    return not (contents.equipment or box.as_found.equipment or job.loads_at.get(box.id))


def has_terminals(job: Job, box: Box, stage: Stage) -> bool:
    """Whether something in a box must be joined with anything: not a blank, not a battery remote."""
    sheets = by_id(job.sheets)
    return any(sheets[one.sheet].terminals for one in contents_at(box, stage).equipment)


def goes_on_with(job: Job, near: Box, beyond: Box, stage: Stage) -> tuple[str, ...]:
    """The circuits that go on from a box to one fed by it, hooked up or not: those of its devices, or all of it.

    () where it needs none, and where nobody entered what switches a lamp or a fan. A box that names no circuit has that
    of the box before it, if that is one.
    """
    shared = tuple(sorted(set(beyond.circuits) & set(near.circuits)))
    named = shared or beyond.circuits or (near.circuits if len(near.circuits) == 1 else ())
    if not_known(job, beyond, stage):
        return named if beyond.use not in ("luminaire", "fan") else ()
    sheets = by_id(job.sheets)
    fed = [one for one in contents_at(beyond, stage).equipment if sheets[one.sheet].terminals]
    return tuple(sorted({beyond.circuit_of(one) or circuit for one in fed for circuit in named[:1]}))


def goes_out_with(job: Job, box: Box, cable: Cable) -> tuple[str, ...]:
    """The circuits that go on by a cable out of the job: both of a multiwire one, where it has the wires for it."""
    partner = partners(job.circuits).get(box.circuit or "")
    hots = [wire for wire in outward(cable, job.terms.colors) if not wire.neutral and wire.role != "unused"]
    if box.circuit and partner in box.circuits and len(hots) > 1:
        return tuple(sorted((box.circuit, partner)))
    return (box.circuit,) if box.circuit else ()


@dataclass(frozen=True, slots=True)
class Named:
    """An end with its names."""

    key: str
    """In forms: A1, Ag, d1-2."""
    end: End
    short: str
    """On the drawing."""
    words: str
    """In a sentence."""
    color: str
    """Of its insulation, or as its sheet names it; "" where that is not known."""
    of: str
    """The cable, the device, the lamp it belongs to."""


def ends_of(job: Job, box: Box, stage: Stage) -> Mapping[str, Named]:
    """Every end of a box: conductors, grounds, leads of devices and lamps, the bond of a metal box.

    Args:
        job: with the boxes whose loads may hang at this one.
        stage: as found, or as planned.
    """
    found: dict[str, Named] = {}

    def put(key: str, end: End, short: str, *, words: str, color: str = "", of: str = "") -> None:
        found[key] = Named(key, end, short, words, color, of)

    for cable in cables_at(box, stage):
        for wire in wires_of(cable, job.terms.colors):
            color = wire.color or ""
            put(
                wire.id, ConductorEnd(of=wire.id), wire.id, words=f"{wire.id} {color}".strip(), color=color, of=cable.id
            )
        if cable.grounds:
            put(
                f"{cable.id}g",
                GroundEnd(cable=cable.id),
                f"{cable.id} g",
                words=f"ground of {cable.id}",
                color="bare",
                of=cable.id,
            )
    sheets = by_id(job.sheets)
    items = contents_at(box, stage).equipment
    for item in items:
        sheet = sheets[item.sheet]
        for number, terminal in enumerate(sheet.terminals, 1):
            name = item_name(item, items, sheets)
            end = LeadEnd(of=item.id, terminal=number)
            put(
                f"{item.id}-{number}",
                end,
                terminal.role,
                words=f"{name}: {terminal.role}",
                color=terminal.color,
                of=item.id,
            )
    for other in job.boxes:
        for item in contents_at(other, stage).equipment:
            for load in (load for load in item.loads if load.outlet == box.id):
                if switched_half(job, box, load, stage):
                    continue  # it is plugged into the receptacle, whose screws are its ends
                for side in ("hot", "neutral", "ground"):
                    called = load.name or item.name or load.kind
                    key = f"{other.id}-{load.id}-{side}"
                    lead = FixtureEnd(box=other.id, load=load.id, side=side)
                    usual = fan_lead(box, load, side)
                    words = f"{called}: {side}{f', usually {usual}' if usual else ''}"
                    put(key, lead, side, words=words, color=usual, of=f"{other.id}-{load.id}")
    if box.enclosure.material == "metal":
        put("bond", BondEnd(), "bond", words="bond of the metal box", color="bare", of="bond")
    return found


def fan_lead(box: Box, load: Load, side: str) -> Literal["black", "blue", "white", ""]:
    """Return the usual color of a ceiling fan's lead, "" for its ground and for any other fixture.

    Black is the motor and blue the light, white comes back from both; common practice.
    """
    if box.use != "fan" or side == "ground":
        return ""
    if side == "neutral":
        return "white"
    return "black" if load.kind == "fan" else "blue"
