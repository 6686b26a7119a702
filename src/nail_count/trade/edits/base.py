"""What all edits are made with: the shape of an edit, and careful ways to change a frozen thing."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import count
from string import ascii_uppercase
from typing import Any

from pydantic import ValidationError

from ..model.box import Box, Device, Equipment
from ..model.datasheet import Datasheet
from ..model.enclosure import Enclosure
from ..model.errors import Rejected, problems_of
from ..model.survey import Looked

Datasheets = Mapping[str, Datasheet]


@dataclass(frozen=True, slots=True)
class Edit:
    """A box after a change, and the change in one sentence."""

    box: Box
    sentence: str


def with_(thing: Any, **changes: object) -> Any:
    """A copy with these fields changed, checked like any other."""
    return thing.changed(**changes)


def looked_at(box: Box, fact: Looked) -> Box:
    """The box with this noted as looked at."""
    if fact in box.survey.looked:
        return box
    survey = with_(box.survey, looked=(*box.survey.looked, fact))
    changed: Box = with_(box, survey=survey)
    return changed


def changed_enclosure(enclosure: Enclosure, **changes: object) -> Enclosure:
    """The enclosure with these facts changed; refused with a sentence where they contradict each other."""
    try:
        changed: Enclosure = with_(enclosure, **changes)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        raise Rejected(first.sentence, str(first.path[-1]) if first.path else _first_given(changes)) from wrong
    return changed


def _first_given(changes: Mapping[str, object]) -> str:
    return next((name for name, value in changes.items() if value is not None), "")


def replace_device(box: Box, new: Device) -> Box:
    """The box with this device in place of the one with its id."""
    devices = tuple(new if device.id == new.id else device for device in box.devices)
    changed: Box = with_(box, devices=devices)
    return changed


def device_of(box: Box, id: str) -> Device:
    """The device with this id. Raises [Rejected][nail_count.trade.model.errors.Refused] where there is none."""
    device = box.device(id)
    if device is None:
        raise Rejected("expected a device that stands in this box", "device")
    return device


def on_circuit(box: Box, circuit: str | None) -> None:
    """Refuses a circuit that does not feed the box."""
    if circuit is not None and circuit not in box.circuits:
        known = " or ".join(box.circuits) or "none: say first what feeds the box"
        raise Rejected(f"expected one of the circuits that feed this box: {known}", "circuit")


def item_of(box: Box, id: str) -> Equipment:
    """The device or module with this id. Raises [Rejected][nail_count.trade.model.errors.Refused] where none has."""
    item = box.item(id)
    if item is None:
        raise Rejected("expected a device or module that is in this box", "device")
    return item


def replace_item(box: Box, new: Equipment) -> Box:
    """The box with this device or module in place of the one with its id."""
    if isinstance(new, Device):
        return replace_device(box, new)
    changed: Box = with_(box, modules=tuple(new if module.id == new.id else module for module in box.modules))
    return changed


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
