"""What a line of quick entry cannot say stays as it was, where the thing it belongs to is still there."""

from __future__ import annotations

from ..model.box import Box, Device
from ..model.load import Load


def carried(before: Box, after: Box) -> Box:
    """The box after a line, with what was known before of devices and loads that are still the same.

    A device is the same where its sheet stands in the same gang; a load where the line tells of it what it told before.

    >>> known = Device.model_validate({"id": "d1", "gang": 1, "sheet": "dimmer", "broken": ["left"]})
    >>> box = Box(id="b", name="B", room="R", planned={"devices": (known,)})
    >>> carried(box, box.changed(devices=(Device(id="d1", gang=1, sheet="dimmer"),))).devices[0].broken
    ('left',)
    """
    known = {(device.gang, device.sheet): device for device in before.devices}
    devices = tuple(_device(device, known.get((device.gang, device.sheet))) for device in after.devices)
    return after.changed(devices=devices)


def _device(new: Device, was: Device | None) -> Device:
    if was is None:
        return new
    left = list(was.loads)
    loads = tuple(_load(load, left) for load in new.loads)
    seen = {"broken": was.broken, "lamp_setting": was.lamp_setting, "listing": was.listing, "commands": was.commands}
    stays = {"circuit": was.circuit, "loads": loads} | seen
    return new.changed(**stays)


def _load(new: Load, left: list[Load]) -> Load:
    """The load with what was known of the first one left that a line would say the same of."""
    same = next((load for load in left if _said(load) == _said(new)), None)
    if same is None:
        return new
    left.remove(same)
    return same.changed(id=new.id)


def _said(load: Load) -> tuple[object, ...]:
    return load.kind, load.quantity, load.each, load.power_factor, load.channel, load.name
