"""The changes a person makes to a box: (box, what) → a new box and one sentence for the history.

Taps, keys, forms, import and the search for fixes all go through here. Each edit is a function; its `what` is a model,
so that a form, a key and a test say the same thing in the same words. [EDITS][] lists them by name.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from itertools import count
from string import ascii_uppercase
from typing import Any

from pydantic import ValidationError

from .changes import (
    AddCable,
    AddLoad,
    ConnectDevice,
    PutDevice,
    RemoveCable,
    RemoveDevice,
    RemoveLoad,
    Rename,
    SetClamps,
    SetGangs,
    SetMaterial,
    SetVolume,
    StartBox,
    SwapGangs,
)
from .model.box import Box, Device
from .model.complaint import Refused, complaints_of
from .model.enclosure import Enclosure
from .model.job import misfit
from .model.load import KIND_WORDS, Load
from .model.measure import Power
from .model.sheet import Sheet
from .model.thing import Thing
from .model.wire import Cable

Sheets = Mapping[str, Sheet]


@dataclass(frozen=True, slots=True)
class Edit:
    """A box after a change, and the change in one sentence."""

    box: Box
    sentence: str


def start_box(id: str, what: StartBox) -> Edit:
    """A new box with this id, empty, in its room."""
    material = "metal" if what.trade_size else what.material
    enclosure = _enclosure(
        Enclosure(),
        gangs=what.gangs,
        material=material,
        volume=what.volume,
        trade_size=what.trade_size,
    )
    box = Box(id=id, name=what.name, room=what.room, circuit=what.circuit, enclosure=enclosure)
    return Edit(box, f"Box “{what.name}” started in {what.room}")


def copy_box(id: str, same: Box) -> Edit:
    """Another box with this id, the same as that one."""
    return Edit(_with(same, id=id, name=f"{same.name[:55]} copy"), f"Same as “{same.name}”")


def add_cable(box: Box, what: AddCable, sheets: Sheets) -> Edit:
    """One more cable, with the next free letter."""
    if len(box.cables) >= 40:
        raise Refused("expected at most 40 cables in a box")
    taken = {cable.id for cable in box.cables}
    cable = Cable(id=_next_letter(taken), **what.model_dump())
    return Edit(_with(box, cables=(*box.cables, cable)), f"{cable.size} cable {cable.id} added")


def remove_cable(box: Box, what: RemoveCable, sheets: Sheets) -> Edit:
    """The box without this cable."""
    cable = box.cable(what.cable)
    if cable is None:
        raise Refused(f"expected the letter of a cable in this box; there is no cable {what.cable}", "cable")
    rest = tuple(other for other in box.cables if other is not cable)
    return Edit(_with(box, cables=rest), f"{cable.size} cable {cable.id} removed")


def put_device(box: Box, what: PutDevice, sheets: Sheets) -> Edit:
    """A device in a gang. What stood there, or is covered by a wide yoke, comes out."""
    sheet = sheets.get(what.sheet)
    if sheet is None:
        raise Refused("expected one of the job's sheets", "sheet")
    last = what.gang + sheet.gangs - 1
    if not what.gang >= 1 or last > box.enclosure.gangs:
        raise Refused(_no_room(box, sheet, what.gang), "gang")
    covered = set(range(what.gang, last + 1))
    stays = tuple(device for device in box.devices if not covered & _gangs(device, sheets))
    out = [device for device in box.devices if device not in stays]
    new = Device(id=_next_id("d", {device.id for device in box.devices}), **what.model_dump())
    sentence = f"{_called(new, sheets)} put into gang {what.gang}"
    if out:
        sentence += f" in place of {' and '.join(_called(device, sheets) for device in out)}"
    return Edit(_with(box, devices=(*stays, new)), sentence)


def remove_device(box: Box, what: RemoveDevice, sheets: Sheets) -> Edit:
    """The box without this device and its loads."""
    device = _device(box, what.device)
    rest = tuple(other for other in box.devices if other is not device)
    return Edit(_with(box, devices=rest), f"{_called(device, sheets)} taken out of gang {device.gang}")


def connect_device(box: Box, what: ConnectDevice, sheets: Sheets) -> Edit:
    """The device with its name and the largest conductor connected to it."""
    device = _device(box, what.device)
    new = _with(device, name=what.name, gauge=what.gauge)
    on_it = f"{what.gauge} AWG on it" if what.gauge else "largest conductor not said"
    return Edit(_replace_device(box, new), f"Gang {device.gang}: {_called(new, sheets)}, {on_it}")


def swap_gangs(box: Box, what: SwapGangs, sheets: Sheets) -> Edit:
    """Two devices of one width change places, or one moves to an empty gang."""
    for field, gang in (("one", what.one), ("other", what.other)):
        if not 1 <= gang <= box.enclosure.gangs:
            raise Refused(f"expected a gang from 1 to {box.enclosure.gangs}, not {gang}", field)
    one, other = _in_gang(box, what.one, sheets), _in_gang(box, what.other, sheets)
    if one is other:
        raise Refused("expected two gangs with at least one device between them", "other")
    moved = {}
    if one is not None and other is not None:
        left, right = sorted((one, other), key=lambda device: device.gang)
        moved = {right.id: left.gang, left.id: right.gang + _width(right, sheets) - _width(left, sheets)}
    elif one is not None:
        moved = {one.id: _landing(what.other, one, sheets)}
    elif other is not None:
        moved = {other.id: _landing(what.one, other, sheets)}
    devices = tuple(_with(device, gang=moved.get(device.id, device.gang)) for device in box.devices)
    new = _with(box, devices=devices)
    if wrong := misfit(new, sheets):
        raise Refused(f"these two cannot change places: {wrong}", "other")
    return Edit(new, f"Gangs {what.one} and {what.other} swapped")


def add_load(box: Box, what: AddLoad, sheets: Sheets) -> Edit:
    """Lamps or a fan on one channel of a device."""
    device = _device(box, what.device)
    sheet = sheets[device.sheet]
    if what.channel > len(sheet.channels):
        raise Refused(f"{sheet.name} controls nothing a load could hang on", "channel")
    try:
        each = Power.parse(what.each, "A" if what.kind == "fan" else "W")
    except ValueError as wrong:
        raise Refused(str(wrong), "each") from wrong
    taken = {load.id for other in box.devices for load in other.loads}
    said = what.model_dump(exclude={"device", "each"})
    try:
        load = Load(id=_next_id("l", taken), each=each, **said)
    except ValidationError as wrong:
        raise Refused(complaints_of(wrong)[0].sentence, "each") from wrong
    new = _with(device, loads=(*device.loads, load))
    named = f" “{load.name}”" if load.name else ""
    what_on = f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{named}"
    return Edit(_replace_device(box, new), f"{what_on} on {_called(device, sheets)}")


def remove_load(box: Box, what: RemoveLoad, sheets: Sheets) -> Edit:
    """The box without this load."""
    for device in box.devices:
        for load in device.loads:
            if load.id == what.load:
                new = _with(device, loads=tuple(other for other in device.loads if other is not load))
                sentence = f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]} off {_called(device, sheets)}"
                return Edit(_replace_device(box, new), sentence)
    raise Refused("expected a load that hangs on a device of this box", "load")


def set_volume(box: Box, what: SetVolume, sheets: Sheets) -> Edit:
    """The box with its marked volume or its trade size; a trade size makes it a metal one."""
    material = "metal" if what.trade_size else box.enclosure.material
    enclosure = _enclosure(box.enclosure, volume=what.volume, trade_size=what.trade_size, material=material)
    if enclosure.volume is not None:
        return Edit(_with(box, enclosure=enclosure), f"Volume marked {what.volume}")
    if enclosure.size is not None:
        return Edit(_with(box, enclosure=enclosure), f"Trade size {enclosure.trade_size}")
    return Edit(_with(box, enclosure=enclosure), "Volume left open")


def set_material(box: Box, what: SetMaterial, sheets: Sheets) -> Edit:
    """The box of another material; refused while a trade size says it is metal."""
    return Edit(_with(box, enclosure=_enclosure(box.enclosure, material=what.material)), f"Box is {what.material}")


def set_clamps(box: Box, what: SetClamps, sheets: Sheets) -> Edit:
    """The box with or without clamps inside."""
    enclosure = _enclosure(box.enclosure, clamps=what.clamps)
    return Edit(_with(box, enclosure=enclosure), "Clamps inside the box" if what.clamps else "No clamps inside the box")


def set_gangs(box: Box, what: SetGangs, sheets: Sheets) -> Edit:
    """The box wider or narrower; refused while a device stands in a gang that would go."""
    enclosure = _enclosure(box.enclosure, gangs=what.gangs)
    beyond = [device for device in box.devices if max(_gangs(device, sheets)) > what.gangs]
    if beyond:
        gangs = " and ".join(str(device.gang) for device in beyond)
        raise Refused(f"expected gang {gangs} to be empty first; a device stands there", "gangs")
    plural = "gang" if what.gangs == 1 else "gangs"
    return Edit(_with(box, enclosure=enclosure), f"Box has {what.gangs} {plural}")


def rename(box: Box, what: Rename, sheets: Sheets) -> Edit:
    """The box under its new name, room and circuit."""
    fed = f", circuit {what.circuit}" if what.circuit else ""
    return Edit(_with(box, **what.model_dump()), f"Box is “{what.name}” in {what.room}{fed}")


@dataclass(frozen=True, slots=True)
class Kind:
    """An edit by name: what it needs, and the function that does it."""

    what: type[Thing]
    do: Callable[[Box, Any, Sheets], Edit]


EDITS: dict[str, Kind] = {
    "add-cable": Kind(AddCable, add_cable),
    "remove-cable": Kind(RemoveCable, remove_cable),
    "put-device": Kind(PutDevice, put_device),
    "remove-device": Kind(RemoveDevice, remove_device),
    "connect-device": Kind(ConnectDevice, connect_device),
    "swap-gangs": Kind(SwapGangs, swap_gangs),
    "add-load": Kind(AddLoad, add_load),
    "remove-load": Kind(RemoveLoad, remove_load),
    "set-volume": Kind(SetVolume, set_volume),
    "set-material": Kind(SetMaterial, set_material),
    "set-clamps": Kind(SetClamps, set_clamps),
    "set-gangs": Kind(SetGangs, set_gangs),
    "rename": Kind(Rename, rename),
}
"""Every edit a person can make to a box, by the name that pages and keys use."""


def make_edit(box: Box, name: str, said: Mapping[str, object], sheets: Sheets) -> Edit:
    """Does the edit of this name with what was said.

    Raises:
        KeyError: no edit has this name.
        ValidationError: a field is not what the edit needs.
        Refused: the box cannot be changed so.
    """
    kind = EDITS[name]
    return kind.do(box, kind.what.model_validate(said), sheets)


def _with(thing: Any, **changes: object) -> Any:
    """A copy with these fields changed, checked like any other."""
    return type(thing).model_validate(thing.__dict__ | changes)


def _enclosure(enclosure: Enclosure, **changes: object) -> Enclosure:
    try:
        changed: Enclosure = _with(enclosure, **changes)
    except ValidationError as wrong:
        first = complaints_of(wrong)[0]
        raise Refused(first.sentence, str(first.path[-1]) if first.path else _first_given(changes)) from wrong
    return changed


def _first_given(changes: Mapping[str, object]) -> str:
    return next((name for name, value in changes.items() if value is not None), "")


def _replace_device(box: Box, new: Device) -> Box:
    devices = tuple(new if device.id == new.id else device for device in box.devices)
    changed: Box = _with(box, devices=devices)
    return changed


def _device(box: Box, id: str) -> Device:
    device = box.device(id)
    if device is None:
        raise Refused("expected a device that stands in this box", "device")
    return device


def _width(device: Device, sheets: Sheets) -> int:
    return sheets[device.sheet].gangs


def _gangs(device: Device, sheets: Sheets) -> set[int]:
    return set(range(device.gang, device.gang + _width(device, sheets)))


def _in_gang(box: Box, gang: int, sheets: Sheets) -> Device | None:
    return next((device for device in box.devices if gang in _gangs(device, sheets)), None)


def _landing(gang: int, device: Device, sheets: Sheets) -> int:
    """The leftmost gang a device takes when moved onto this one from the left or right."""
    return gang if gang < device.gang else gang - _width(device, sheets) + 1


def _no_room(box: Box, sheet: Sheet, gang: int) -> str:
    gangs = box.enclosure.gangs
    if not 1 <= gang <= gangs:
        return f"expected a gang from 1 to {gangs}, not {gang}"
    return f"{sheet.name} takes {sheet.gangs} gangs and would reach past gang {gangs} from gang {gang}"


def _called(device: Device, sheets: Sheets) -> str:
    name = sheets[device.sheet].name
    return f"{name} “{device.name}”" if device.name else name


def _next_letter(taken: set[str]) -> str:
    letters: list[str] = [*ascii_uppercase, *(a + b for a in ascii_uppercase for b in ascii_uppercase)]
    return next(letter for letter in letters if letter not in taken)


def _next_id(prefix: str, taken: set[str]) -> str:
    return next(f"{prefix}{n}" for n in count(1) if f"{prefix}{n}" not in taken)
