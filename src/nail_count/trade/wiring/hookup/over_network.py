"""What the devices of a box work over the network, and what that means with the network down."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
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
        Sender(item.id, item.name or sheets[item.sheet].name, item.commands, without_network(job, item))
        for item in box.equipment
        if _can_send(item, sheets)
    )


def has_senders(box: Box, sheets: Mapping[str, Datasheet]) -> bool:
    """Return whether a box has a device that could work another over the network, as planned."""
    return any(_can_send(item, sheets) for item in box.equipment)


def _can_send(item: Equipment, sheets: Mapping[str, Datasheet]) -> bool:
    return not item.loads and bool(item.commands or sheets[item.sheet].radio)


def targets_of(job: Job, box: Box) -> tuple[tuple[str, str], ...]:
    """Return what a device of a box can work over the network: everything in the house that switches a load.

    Args:
        job: the whole job.
        box: the device’s own box, whose devices are left out.
    """
    sheets = by_id(job.sheets)
    there = [
        (f"{one.id}/{item.id}", f"{one.name}: {item.name or sheets[item.sheet].name}")
        for one in job.boxes
        for item in one.equipment
        if one.id != box.id and item.loads and _hears(sheets[item.sheet])
    ]
    return (("", "nothing"), *there)


def network_links(job: Job, box: Box) -> Mapping[str, str]:
    """Return what each device of a box works over the network, or is worked by, in words; by its id, as planned."""
    found: dict[str, list[str]] = {}
    for from_box, sender in _all(job):
        to_box, target = device_at(job, sender.commands)
        if target is None or to_box is None:
            continue
        if from_box.id == box.id:
            found.setdefault(sender.id, []).append(f"works {called(job, target)}, {to_box.name}")
        if to_box.id == box.id:
            found.setdefault(target.id, []).append(f"worked by {called(job, sender)}, {from_box.name}")
    return {of: "; ".join(words) for of, words in found.items()}


def device_at(job: Job, place: str) -> tuple[Box, Equipment] | tuple[None, None]:
    """Return the box and the device that a place names, "box/device"; None and None where it isn't there any more."""
    key, _, of = place.partition("/")
    return next(((box, item) for box, item in _all(job) if (box.id, item.id) == (key, of)), (None, None))


def _all(job: Job) -> Iterator[tuple[Box, Equipment]]:
    return ((box, item) for box in job.boxes for item in box.equipment)


def called(job: Job, item: Equipment) -> str:
    """Return what people call a device."""
    return item.name or by_id(job.sheets)[item.sheet].name


def _hears(sheet: Datasheet) -> bool:
    return bool(sheet.radio)


def without_network(job: Job, item: Equipment) -> str:
    """Return what a device does with the network down; "" where it works nothing over it."""
    if not item.commands:
        return ""
    box, target = device_at(job, item.commands)
    if box is None or target is None:
        return "It works a device that isn’t here any more. Pick another."
    name = f"{called(job, target)} in {box.name}"
    if isinstance(target, Device):
        return f"With the network down it does nothing. {name} still works by hand."
    return f"With the network down it does nothing. {name} works by hand only from a switch on its own input."
