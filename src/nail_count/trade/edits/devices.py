"""Devices go in, come out and change places."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..model.box import Box, Device, Id
from ..model.contents import Listing
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.gauge import GaugeField
from ..model.load import LoadKind
from ..rules.fit.box import newly_wrong
from ..text.device import equipment_words
from ..text.format import and_list
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import called, device_of, gangs_of, in_gang, next_id, on_circuit, pruned, replace_device, width_of
from .fields import Maybe, listed


class PutDevice(BoxEdit):
    """A device of this sheet goes into a gang, in place of the one there."""

    gang: int
    sheet: Id
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A device in a gang. What stood there, or is covered by a wide yoke, comes out."""
        sheet = sheets.get(self.sheet)
        if sheet is None:
            raise Rejected("Pick one of the job's sheets", "sheet")
        if sheet.is_module:
            raise Rejected(f"{sheet.name} is a module: it sits on no yoke and takes no gang", "sheet")
        last = self.gang + sheet.gangs - 1
        if not self.gang >= 1 or last > box.enclosure.gangs:
            raise Rejected(_no_room(box, sheet, self.gang), "gang")
        covered = set(range(self.gang, last + 1))
        stays = tuple(device for device in box.devices if not covered & gangs_of(device, sheets))
        out = [device for device in box.devices if device not in stays]
        new = Device(id=next_id("d", {device.id for device in box.devices}), **self.said())
        sentence = f"{called(new, sheets)} put into gang {self.gang}"
        loads = tuple(load for device in out for load in device.loads)
        if loads and all(load.channel <= len(sheet.channels) for load in loads) and len(out) == 1:
            new = new.changed(loads=loads, circuit=out[0].circuit)
            loads = ()
        if out:
            sentence += f" in place of {' and '.join(called(device, sheets) for device in out)}"
        if loads:
            lost = and_list([load.name or load.kind for load in loads])
            sentence += f"; nothing controls {lost} any more"
        return BoxEdited(pruned(box.changed(devices=(*stays, new))), sentence)


class RemoveDevice(BoxEdit):
    """A device comes out, with its loads."""

    device: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this device and its loads."""
        device = device_of(box, self.device)
        rest = tuple(other for other in box.devices if other is not device)
        return BoxEdited(pruned(box.changed(devices=rest)), f"{called(device, sheets)} taken out of gang {device.gang}")


class ConnectDevice(BoxEdit):
    """The leads of a device, its name, and how it came."""

    device: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None
    circuit: Annotated[str | None, Maybe] = None
    broken: Annotated[tuple[Literal["left", "right"], ...], BeforeValidator(listed)] = ()
    lamp_setting: Annotated[LoadKind | None, Maybe] = None
    tab_broken: bool = False
    listing: Annotated[Listing | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with what was entered about the device; what wasn’t entered stays."""
        device = device_of(box, self.device)
        on_circuit(box, self.circuit)
        new = device.changed(**self.given("device"))
        words = equipment_words(new)
        if new.gauge is None:
            words.insert(0, "largest conductor not known")
        return BoxEdited(replace_device(box, new), ", ".join([f"Gang {device.gang}: {called(new, sheets)}", *words]))


class SwapGangs(BoxEdit):
    """The contents of two gangs change places; either may be empty."""

    one: int
    other: int

    def blamed(self) -> str:
        """Where the first would go."""
        return "other"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Two devices of one width change places, or one moves to an empty gang."""
        for field, gang in (("one", self.one), ("other", self.other)):
            if not 1 <= gang <= box.enclosure.gangs:
                raise Rejected(f"Pick a gang from 1 to {box.enclosure.gangs}", field)
        return BoxEdited(swapped(box, self.one, self.other, sheets), f"Gangs {self.one} and {self.other} swapped")


class ArrangeGangs(BoxEdit):
    """All devices in a new order: each with its leftmost gang, as d1:2, d2:1."""

    order: Annotated[tuple[str, ...], BeforeValidator(listed)]

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """All devices in a new order."""
        pairs = (one.partition(":") for one in self.order)
        gangs = {id: int(gang) for id, _, gang in pairs if gang.isdecimal() and len(gang) < 3}
        if set(gangs) != {device.id for device in box.devices}:
            raise Rejected("Name every device of the box with its gang", "order")
        devices = tuple(device.changed(gang=gangs[device.id]) for device in box.devices)
        new = box.changed(devices=devices)
        if wrong := newly_wrong(box, new, sheets):
            raise Rejected(f"they cannot stand so: {wrong.sentence}", "order")
        in_order = sorted(devices, key=lambda device: device.gang)
        return BoxEdited(new, f"New order: {', '.join(called(device, sheets) for device in in_order)}")


def swapped(box: Box, gang_one: int, gang_other: int, sheets: Datasheets) -> Box:
    """The box with the contents of two gangs exchanged. Raises [Rejected][] where the devices do not fit so."""
    one, other = in_gang(box, gang_one, sheets), in_gang(box, gang_other, sheets)
    if one is other:
        raise Rejected("Pick two gangs with at least one device between them", "other")
    moved = {}
    if one is not None and other is not None:
        left, right = sorted((one, other), key=lambda device: device.gang)
        moved = {right.id: left.gang, left.id: right.gang + width_of(right, sheets) - width_of(left, sheets)}
    elif one is not None:
        moved = {one.id: _landing(gang_other, one, sheets)}
    elif other is not None:
        moved = {other.id: _landing(gang_one, other, sheets)}
    devices = tuple(device.changed(gang=moved[device.id]) if device.id in moved else device for device in box.devices)
    new = box.changed(devices=devices)
    if wrong := newly_wrong(box, new, sheets):
        raise Rejected(f"these two cannot change places: {wrong.sentence}", "other")
    return new


def _landing(gang: int, device: Device, sheets: Datasheets) -> int:
    """The leftmost gang a device takes when moved onto this one from the left or right."""
    return gang if gang < device.gang else gang - width_of(device, sheets) + 1


def _no_room(box: Box, sheet: Datasheet, gang: int) -> str:
    gangs = box.enclosure.gangs
    if not 1 <= gang <= gangs:
        return f"Pick a gang from 1 to {gangs}"
    return f"{sheet.name} takes {sheet.gangs} gangs and would reach past gang {gangs} from gang {gang}"
