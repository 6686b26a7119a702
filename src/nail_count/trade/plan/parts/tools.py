"""The tools of a house, by the step they are for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...model.box import Box
from ...model.job import Job, by_id
from ...model.shelf import PartKind
from ...rules.supplies import LEAD_BEFORE, TORQUE_FROM, TORQUE_TO
from ...text.format import figure
from .parts_list import PartLine


@dataclass(frozen=True, slots=True)
class Tool:
    """Something to carry."""

    step: str
    """What it is for."""
    name: str
    why: str = ""


def tools(job: Job, lines: tuple[PartLine, ...]) -> tuple[Tool, ...]:
    """What a person takes along, in the order of work; only what this house asks for.

    Source: common practice; the torque of a screw by its sheet.
    """
    return tuple(_tools(job, frozenset(line.part.kind for line in lines if line.needs)))


def _tools(job: Job, parts: frozenset[PartKind]) -> Iterator[Tool]:
    boxes = [box for box in job.boxes if box.planned is not None]
    if not boxes:
        return
    yield Tool("switch off, lock", "Lockout for breakers, tags, the sheet for the panel door")
    yield Tool("prove dead", "Two-pole tester and its proving unit")
    yield Tool("prove dead", "Headlamp, work light on a battery", "rooms are dark while their breaker is off")
    if any(_not_told(box) for box in boxes):
        yield Tool(
            "tell conductors apart", "Loaded meter, clamp meter, wire markers", "not every conductor is told yet"
        )
    if any(box.is_outlet for box in boxes):
        yield Tool("open up", "Stepladder", "outlets on the ceiling")
    if parts & {"box", "ring", "fan box"}:
        yield Tool("box", "Multitool and blades, knife, level", "another box, or a wider opening")
    if job.house.year is not None and job.house.year < LEAD_BEFORE and parts & {"box", "fan box"}:
        why = f"the house is of {job.house.year}: lead and asbestos first"
        yield Tool("box", "Respirator, sheeting, vacuum with a fine filter", why)
    if "cable" in parts:
        yield Tool("cable", "Fish tape, rods, drill and bits", "new cable")
    if parts & {"staple", "nail plate"}:
        yield Tool("cable", "Hammer", "staples, nail plates")
    if parts & {"connector", "pigtail", "device", "module"}:
        yield Tool("hook up", "Strippers, side cutters, long-nose pliers")
    if parts & {"device", "pigtail"}:
        yield Tool("hook up", "Torque driver", _torque(job, boxes))
    if "sleeve" in parts:
        yield Tool("hook up", "Marker or tape for whites that are hot")
    if "hub" in parts or any(by_id(job.sheets)[item.sheet].radio for box in boxes for item in box.equipment):
        yield Tool("commission", "Phone or tablet, charged; the network's name and password from its owner")


def _not_told(box: Box) -> bool:
    return any(conductor.color is None for cable in box.cables for conductor in cable.conductors) or any(
        len(cable.conductors) < cable.insulated for cable in box.cables
    )


def _torque(job: Job, boxes: list[Box]) -> str:
    """To what screws are tightened: as their sheets say, else the usual tools."""
    sheets = by_id(job.sheets)
    used = {item.sheet: sheets[item.sheet] for box in boxes for item in box.equipment}.values()
    said = sorted({sheet.torque for sheet in used if sheet.torque is not None})
    common = f"{figure(TORQUE_FROM)} to {figure(TORQUE_TO)} lb·in where a sheet says nothing"
    return f"{', '.join(figure(one) for one in said)} lb·in by their sheets; {common}" if said else common
