"""Edits for a box that does not hold, inside it: another device, another box, lamps, a bypass, a module."""

from __future__ import annotations

from collections.abc import Collection
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..documents import Documents
from ..model.box import Box, Device, Id, Module
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.load import KIND_WORDS, LoadKind
from ..model.measure import Power
from ..model.splice import FixtureEnd, LeadEnd
from ..text.loads import write_loads
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import called, device_of, in_gang, load_of, next_id, pruned, replace_device, replace_item
from .fields import InCubicInches, InInches, Maybe, in_watts, listed


def unhooked(box: Box, items: Collection[str], loads: Collection[tuple[str, str]] = ()) -> Box:
    """The box with these devices, and these loads by box and id, in no splice of its plan."""
    if box.planned is None and box.found is None:
        return box

    def stays(end: object) -> bool:
        if isinstance(end, LeadEnd):
            return end.of not in items
        return not (isinstance(end, FixtureEnd) and (end.box, end.load) in loads)

    splices = tuple(one.changed(ends=tuple(end for end in one.ends if stays(end))) for one in box.splices)
    left = tuple(s for s, was in zip(splices, box.splices, strict=True) if s.ends or not was.ends)
    return box if left == box.splices else box.changed(splices=left)


def worked_at(documents: Documents, was: str, now: str) -> Documents:
    """Return the documents with every device that worked one over the network at a place working it at another.

    Args:
        was: the place of the device that is worked, box/device.
        now: where it is now.
    """
    for key in [key for key, line in documents.lines().items() if was in line.works]:
        box = documents.box(key)
        for item in box.equipment:
            if item.commands == was:
                box = replace_item(box, item.changed(commands=now))
        documents = documents.with_box(box)
    return documents


def taking_over(item: Device | Module, sheet: Datasheet, sheets: Datasheets) -> dict[str, object]:
    """The fields of a device or module that another sheet takes the place of: its loads stay, channel by
    channel. Raises Rejected where the sheet has no channel for it."""
    if any(load.channel > max(len(sheet.channels), 1) for load in item.loads):
        raise Rejected(f"{sheet.name} has no channel for all loads of {called(item, sheets)}", "sheet")
    return {"sheet": sheet.id, "stays": None, "listing": None, "commands": ""}


class ReplaceDevice(BoxEdit):
    """Another device in place of one: its gang, its name, its circuit and its loads stay."""

    device: str
    sheet: Id

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with the other device, not hooked up yet."""
        device, sheet = device_of(box, self.device), sheets.get(self.sheet)
        if sheet is None or sheet.is_module:
            raise Rejected("Pick one of the job's sheets, of a device on a yoke", "sheet")
        if device.gang + sheet.gangs - 1 > box.enclosure.gangs:
            raise Rejected(f"{sheet.name} takes {sheet.gangs} gangs and would reach past the last", "sheet")
        reached = set(range(device.gang, device.gang + sheet.gangs))
        if any(reached & {other.gang} for other in box.devices if other is not device):
            raise Rejected(f"{sheet.name} would reach over its neighbor", "sheet")
        setting = device.lamp_setting if device.lamp_setting in sheet.lamp_settings else None
        new = device.changed(**taking_over(device, sheet, sheets), lamp_setting=setting, broken=(), tab_broken=False)
        after = unhooked(replace_device(box, new), {device.id})
        return BoxEdited(after, f"Gang {device.gang}: {sheet.name} in place of {called(device, sheets)}")


class ReplaceBox(BoxEdit):
    """Another box in its place, with everything that was in it."""

    name: Annotated[str, Field(max_length=60)] = ""
    """What it is called in stock."""
    gangs: Annotated[int, Field(ge=1, le=8)]
    volume: InCubicInches
    depth: InInches = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    clamps: bool = False

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box as another one, nothing on its front; what the survey found stays as found, until it is looked at."""
        if self.volume is None:
            raise Rejected("Enter the volume marked in it, such as 20.3 in3", "volume")
        if box.enclosure.barriers:
            raise Rejected("Take the barrier out first: another box would need one made for it", "gangs")
        enclosure = box.enclosure.changed(
            gangs=self.gangs, volume=self.volume, depth=self.depth, material=self.material, clamps=self.clamps,
            trade_size=None, rings=(), width=None, height=None,
        )  # fmt: skip
        return BoxEdited(box.changed(enclosure=enclosure), f"Another box: {self.name or 'as said'}, {self.volume}")


class PutLamps(BoxEdit):
    """Other lamps in place of those of a load."""

    load: str
    name: Annotated[str, Field(max_length=60)] = ""
    """Of the lamp."""
    kind: LoadKind
    each: Annotated[Power, BeforeValidator(in_watts)]
    dimmable: Annotated[bool | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with these lamps: what a meter read of the old ones goes."""
        item, was = load_of(box, self.load)
        new = was.changed(
            kind=self.kind, each=self.each, dimmable=self.dimmable, measured=None, power_factor=None, loss=None,
            actual=True, fitting="retrofit" if self.kind == "led" else None,
        )  # fmt: skip
        loads = tuple(new if one is was else one for one in item.loads)
        said = f"{was.quantity} × {self.name or KIND_WORDS[self.kind]}, {self.each}, in place of {was.each}"
        return BoxEdited(replace_item(box, item.changed(loads=loads)), said)


class FitBypass(BoxEdit):
    """The bypass the maker lists is fitted at a lamp."""

    load: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with a bypass at one of the lamps of a load."""
        item, was = load_of(box, self.load)
        if not sheets[item.sheet].bypass:
            raise Rejected(f"Pick a device whose maker lists a bypass; {called(item, sheets)} has none", "load")
        loads = tuple(one.changed(bypass=True) if one is was else one for one in item.loads)
        return BoxEdited(replace_item(box, item.changed(loads=loads)), f"A bypass at {was.name or 'the lamp'}")


class OnOneYoke(BoxEdit):
    """Two controls on one yoke, in place of two devices."""

    one: str
    other: str
    sheet: Id

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with one device for both, in the gang of the first; the other gang is empty."""
        one, other, sheet = device_of(box, self.one, "one"), device_of(box, self.other, "other"), sheets.get(self.sheet)
        if sheet is None or sheet.is_module or len(sheet.channels) < len((one, other)):
            raise Rejected("Pick one of the job's sheets, with a channel for each of both", "sheet")
        if one is other:
            raise Rejected("Pick two devices", "other")
        if one.circuit != other.circuit:
            raise Rejected("Put both on one circuit first: one yoke has one feed", "other")
        both = (*(load.changed(channel=1) for load in one.loads), *(load.changed(channel=2) for load in other.loads))
        name = " and ".join(filter(None, (one.name, other.name)))[:60]
        new = one.changed(
            **taking_over(one, sheet, sheets), loads=both, name=name, lamp_setting=None, broken=(), tab_broken=False
        )
        rest = tuple(new if device is one else device for device in box.devices if device is not other)
        after = pruned(unhooked(box.changed(devices=rest), {one.id, other.id}))
        said = f"{sheet.name} for {called(one, sheets)} and {called(other, sheets)}"
        return BoxEdited(after, said)


class SplitLoad(BoxEdit):
    """A second device like one of the box, in an empty gang or in place of a blank, takes some of its loads."""

    device: str
    gang: Annotated[int, Field(ge=1, le=8)]
    loads: Annotated[tuple[str, ...], BeforeValidator(listed), Field(min_length=1, max_length=20)]

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with both devices, neither hooked up yet."""
        device = device_of(box, self.device)
        taken = tuple(load for load in device.loads if load.id in self.loads)
        if len(taken) < len(set(self.loads)) or len(taken) == len(device.loads):
            raise Rejected(f"Pick some of the loads of {called(device, sheets)}, and leave it one", "loads")
        if sheets[device.sheet].gangs > 1 or self.gang > box.enclosure.gangs:
            raise Rejected("Pick a gang of the box, and a device one gang wide", "gang")
        there = in_gang(box, self.gang, sheets)
        if there is not None and not sheets[there.sheet].is_blank:
            raise Rejected(f"Pick an empty gang: {called(there, sheets)} stands in gang {self.gang}", "gang")
        rest = tuple(load for load in device.loads if load not in taken)
        new = device.changed(
            id=next_id("d", {one.id for one in box.devices}), stays=None, gang=self.gang, loads=taken, listing=None,
            name=taken[0].name, broken=(),
        )  # fmt: skip
        devices = (*(one for one in box.devices if one not in (device, there)), device.changed(loads=rest), new)
        after = box.changed(devices=tuple(sorted(devices, key=lambda one: one.gang)))
        gone = {device.id} | ({there.id} if there else set())
        words = f"Gang {self.gang}: another {sheets[device.sheet].name}, for {write_loads(taken)}"
        return BoxEdited(pruned(unhooked(after, gone)), words)


class ModuleBehind(BoxEdit):
    """A module behind a plain switch, in place of a device that did both."""

    device: str
    switch: Id
    module: Id

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with a switch in the gang, and a module that carries the loads of the device."""
        device, switch, module = device_of(box, self.device), sheets.get(self.switch), sheets.get(self.module)
        if switch is None or switch.is_module or module is None or not module.is_module:
            raise Rejected("Pick a switch and a module of the job's sheets", "module")
        if len(box.modules) >= 8:
            raise Rejected("A box takes at most 8 modules", "module")
        fields = taking_over(device, module, sheets)
        new = Module(
            id=next_id("m", {one.id for one in box.modules}), loads=device.loads, name=device.name,
            circuit=device.circuit, gang=device.gang, control="wired", **fields,
        )  # fmt: skip
        bare = device.changed(loads=(), lamp_setting=None, broken=(), tab_broken=False)
        plain = bare.changed(**taking_over(bare, switch, sheets))
        with_both = replace_device(box, plain).changed(modules=(*box.modules, new))
        return BoxEdited(
            unhooked(with_both, {device.id}), f"Gang {device.gang}: {switch.name}, {module.name} behind it"
        )


class DeviceForModule(BoxEdit):
    """One device in a gang, in place of the switch there and the module behind it."""

    module: str
    device: str
    sheet: Id

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with a device that does both; the module comes out."""
        device, sheet = device_of(box, self.device), sheets.get(self.sheet)
        module = next((one for one in box.modules if one.id == self.module), None)
        if module is None:
            raise Rejected("Pick a module that is in this box", "module")
        if sheet is None or sheet.is_module or sheet.gangs > 1:
            raise Rejected("Pick one of the job's sheets, of a device of one gang", "sheet")
        new = device.changed(**taking_over(module, sheet, sheets), loads=module.loads, lamp_setting=None)
        rest = tuple(one for one in box.modules if one is not module)
        devices = tuple(new if one is device else one for one in box.devices)
        after = unhooked(box.changed(devices=devices, modules=rest), {device.id, module.id})
        return BoxEdited(pruned(after), f"Gang {device.gang}: {sheet.name}, and {called(module, sheets)} out")
