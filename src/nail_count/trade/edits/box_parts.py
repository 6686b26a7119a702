"""What edits of a box are made with: careful ways to find and change its contents."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from itertools import count
from string import ascii_uppercase

from ..model.box import Box, Device, Equipment
from ..model.contents import Contents
from ..model.errors import Rejected
from ..model.load import Load
from ..model.splice import ConductorEnd, End, GroundEnd, LeadEnd, PigtailEnd, Splice
from ..model.survey import Looked
from .base import Datasheets


def looked_at(box: Box, fact: Looked) -> Box:
    """The box with this noted as looked at."""
    if fact in box.survey.looked:
        return box
    return box.changed(survey=box.survey.changed(looked=(*box.survey.looked, fact)))


def pruned(box: Box) -> Box:
    """The box without ends, in its splices and lists, of cables and devices that are no longer in it."""
    here = {id for cable in box.cables for id in cable.conductor_ids}
    letters = {cable.id for cable in box.cables if cable.grounds}
    every = {cable.id for cable in box.cables}
    changes: dict[str, object] = {}
    for name in ("found", "planned", "built"):
        contents: Contents | None = getattr(box, name)
        if contents is None:
            continue
        items = {item.id for item in contents.equipment} | {splice.id for splice in contents.splices}
        there = partial(_is_there, conductors=here, grounds=letters, items=items)
        splices = tuple(_rest_of(splice, there) for splice in contents.splices)
        left = tuple(splice for splice in splices if splice.ends or splice.connector is not None)
        new = contents.changed(
            splices=left,
            out=tuple(mark for mark in contents.out if mark in every),
            new=tuple(mark for mark in contents.new if mark in every),
            landed=tuple(mark for mark in contents.landed if mark in every),
        )
        if new != contents:
            changes[name] = new
    return box.changed(**changes) if changes else box


def _rest_of(splice: Splice, there: Callable[[End], bool]) -> Splice:
    ends = tuple(end for end in splice.ends if there(end))
    return splice if ends == splice.ends else splice.changed(ends=ends)


def _is_there(end: End, conductors: set[str], grounds: set[str], items: set[str]) -> bool:
    if isinstance(end, ConductorEnd):
        return end.of in conductors
    if isinstance(end, GroundEnd):
        return end.cable in grounds
    if isinstance(end, LeadEnd):
        return end.of in items
    return not isinstance(end, PigtailEnd) or end.to in items


def spliced(box: Box, conductor: str, name: str) -> Box:
    """The box with a conductor found in the splice of this name, or, where it is "", in none."""
    end = ConductorEnd(of=conductor)
    splices = [_rest_of(splice, lambda other: other != end) for splice in box.as_found.splices]
    if name and not any(splice.name == name for splice in splices):
        splices.append(Splice(id=next_id("s", {splice.id for splice in splices}), name=name))
    named = [s.changed(ends=(*s.ends, end)) if name and s.name == name else s for s in splices]
    left = tuple(splice for splice in named if splice.ends or splice.connector is not None)
    if left == box.as_found.splices:
        return box
    return box.changed(found=box.found.changed(splices=left)) if box.found else box.changed(splices=left)


def replace_device(box: Box, new: Device) -> Box:
    """The box with this device in place of the one with its id."""
    return box.changed(devices=tuple(new if device.id == new.id else device for device in box.devices))


def device_of(box: Box, id: str, field: str = "device") -> Device:
    """Return the device with this id. Raises [Rejected][nail_count.trade.model.errors.Rejected] where there is none.

    Args:
        field: names it in the form, and bears the refusal.
    """
    device = box.device(id)
    if device is None:
        raise Rejected("Pick a device that stands in this box", field)
    return device


def on_circuit(box: Box, circuit: str | None) -> None:
    """Refuses a circuit that does not feed the box."""
    if circuit is not None and circuit not in box.circuits:
        known = " or ".join(box.circuits) or "none: say first what feeds the box"
        raise Rejected(f"Pick one of the circuits that feed this box: {known}", "circuit")


def item_of(box: Box, id: str) -> Equipment:
    """The device or module with this id. Raises [Rejected][nail_count.trade.model.errors.Rejected] where none has."""
    item = box.item(id)
    if item is None:
        raise Rejected("Pick a device or module that is in this box", "device")
    return item


def load_of(box: Box, id: str) -> tuple[Equipment, Load]:
    """The device of a load of the box, and the load. Raises Rejected where none has this id."""
    for item in box.equipment:
        for load in item.loads:
            if load.id == id:
                return item, load
    raise Rejected("Pick a load of a device of this box", "load")


def replace_item(box: Box, new: Equipment) -> Box:
    """The box with this device or module in place of the one with its id."""
    if isinstance(new, Device):
        return replace_device(box, new)
    return box.changed(modules=tuple(new if module.id == new.id else module for module in box.modules))


def width_of(device: Device, sheets: Datasheets) -> int:
    """How many gangs a device takes."""
    return sheets[device.sheet].gangs


def gangs_of(device: Device, sheets: Datasheets) -> set[int]:
    """The gangs a device takes."""
    return set(range(device.gang, device.gang + width_of(device, sheets)))


def in_gang(box: Box, gang: int, sheets: Datasheets) -> Device | None:
    """The device that stands in a gang, or reaches over it; None where it is empty."""
    return next((device for device in box.devices if gang in gangs_of(device, sheets)), None)


def called(device: Equipment, sheets: Datasheets) -> str:
    """What a device is called in a sentence: its sheet, and its name where it has one."""
    name = sheets[device.sheet].name
    return f"{name} “{device.name}”" if device.name else name


def next_letter(taken: set[str]) -> str:
    """The next free letter for a cable: A … Z, AA …"""
    letters: list[str] = [*ascii_uppercase, *(a + b for a in ascii_uppercase for b in ascii_uppercase)]
    return next(letter for letter in letters if letter not in taken)


def next_id(prefix: str, taken: set[str]) -> str:
    """The next free id of this kind: d1, d2 …"""
    return next(f"{prefix}{n}" for n in count(1) if f"{prefix}{n}" not in taken)
