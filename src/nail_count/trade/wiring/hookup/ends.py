"""The ends a box has, each by what forms and files call it, and what people call it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.job import Job, by_id
from ...model.load import Load
from ...model.splice import BondEnd, ConductorEnd, End, FixtureEnd, GroundEnd, LeadEnd
from .colors import wires_of
from .stages import Stage, cables_at, contents_at, switched_half


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
    for item in contents_at(box, stage).equipment:
        sheet = sheets[item.sheet]
        for number, terminal in enumerate(sheet.terminals, 1):
            name = item.name or sheet.name
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
