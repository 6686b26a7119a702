"""What the devices of a box work over the network, and what that means with the network down."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.box import Box, Device, Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from .stages import Stage


@dataclass(frozen=True, slots=True)
class Sender:
    """A device that switches nothing by wire."""

    id: str
    name: str
    commands: str
    """What it works: the key of a box and the id of a device there."""
    told: str
    """What that means; "" where it works nothing."""


def senders_of(job: Job, box: Box, stage: Stage) -> tuple[Sender, ...]:
    """Return the devices with a radio that switch nothing by wire, each with what it works; as planned only."""
    sheets = by_id(job.sheets)
    if stage != "planned":
        return ()
    return tuple(
        Sender(item.id, item.name or sheets[item.sheet].name, item.commands, _told(job, item))
        for item in box.equipment
        if not item.loads and (item.commands or sheets[item.sheet].radio)
    )


def targets_of(job: Job, box: Box) -> tuple[tuple[str, str], ...]:
    """Return what a device of a box can work over the network: everything elsewhere that switches a load."""
    sheets = by_id(job.sheets)
    there = [
        (f"{one.id}/{item.id}", f"{one.name}: {item.name or sheets[item.sheet].name}")
        for one in job.boxes
        for item in one.equipment
        if one.id != box.id and item.loads and _hears(sheets[item.sheet])
    ]
    return (("", "nothing"), *there)


def _hears(sheet: Datasheet) -> bool:
    return bool(sheet.radio)


def _told(job: Job, item: Equipment) -> str:
    """What working a device over the network means, with the network down too."""
    if not item.commands:
        return ""
    key, _, of = item.commands.partition("/")
    box = next((one for one in job.boxes if one.id == key), None)
    target = next((one for one in box.equipment if one.id == of), None) if box else None
    if box is None or target is None:
        return "It works a device that isn’t here any more. Pick another."
    name = f"{target.name or by_id(job.sheets)[target.sheet].name} in {box.name}"
    if isinstance(target, Device):
        return f"With the network down it does nothing. {name} still works by hand."
    return f"With the network down it does nothing. {name} works by hand only from a switch on its own input."
