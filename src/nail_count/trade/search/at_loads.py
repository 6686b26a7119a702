"""Moves at the lamps and on the device's settings: fewer watts, a bypass, the lamp type it is set to."""

from __future__ import annotations

from collections.abc import Iterator

from ..edits.devices import ConnectDevice
from ..edits.refits import FitBypass, PutLamps
from ..model.answer import State
from ..model.box import Box, Device, Equipment
from ..model.load import Load
from ..model.prices import ReplacementLamp
from .move import Decision, Move, Ruled
from .site import Offer, Site


def lamps(site: Site) -> Iterator[Offer]:
    """Lamps of the job's own table in place of those fitted, where they replace them and draw less."""
    for box in site.job.boxes:
        if box is not site.box and not set(box.circuits) & site.overloaded:
            continue
        for item in box.equipment:
            for load in item.loads:
                yield from _lamps(site, box, item, load)


def _lamps(site: Site, box: Box, item: Equipment, load: Load) -> Iterator[Offer]:
    if not load.is_lamp or load.kind in ("mlv", "elv"):
        return
    if load.fitting == "luminaire":
        yield Ruled("lamp", f"{load.name or 'the lamps'}: luminaires with drivers of their own, no lamps to change")
        return
    called = load.name or item.name or site.sheets[item.sheet].name
    for lamp in site.job.lamps:
        if not _stands_in(site, load, lamp):
            continue
        if site.sheets[item.sheet].dims and not lamp.dimmable:
            yield Ruled("lamp", f"{lamp.name} on {called}: not known to be made for dimming")
            continue
        edit = PutLamps(
            box=box.id, load=load.id, name=lamp.name, kind=lamp.kind, each=lamp.each, dimmable=lamp.dimmable
        )
        where = "" if box is site.box else f" in {box.name}"
        yield Move(
            "lamp",
            f"{load.quantity} × {lamp.name}, {lamp.each}, on {called}{where}",
            frozenset((box.id,)),
            frozenset((Decision("load", box.id, load.id),)),
            site.minutes("lamp", load.quantity),
            (edit,),
            (lamp.name,) * load.quantity,
            money=site.money((lamp.name,) * load.quantity),
            items=frozenset(((box.id, item.id),)),
            eases=site.drawn(load),
        )


def _stands_in(site: Site, load: Load, lamp: ReplacementLamp) -> bool:
    """Whether a lamp of the table gives the light of the one fitted, as both packages say, and draws less."""
    if lamp.each.unit != load.each.unit or lamp.each.value >= load.each.value or lamp.replaces is None:
        return False
    if load.kind == "incandescent":
        return lamp.replaces == load.each
    fitted = next((one for one in site.job.lamps if one.kind == load.kind and one.each == load.each), None)
    return fitted is not None and fitted.replaces == lamp.replaces


def bypasses(site: Site) -> Iterator[Offer]:
    """A bypass at the lamp, where the maker of its device lists one, for a minimum that is not met."""
    for item in site.box.equipment:
        sheet = site.sheets[item.sheet]
        low = {
            answer.subject.number
            for answer in site.check.ratings
            if answer.subject.of == item.id
            and any(
                one.code in ("below-minimum", "fewest-below-minimum") and one.state is State.FAILS
                for one in answer.remarks
            )
        }
        for load in item.loads:
            if load.channel not in low or load.bypass:
                continue
            called = load.name or item.name or sheet.name
            if not sheet.bypass:
                yield Ruled("bypass", f"the maker of {sheet.name} lists none")
                continue
            yield Move(
                "bypass",
                f"a bypass at {called}",
                frozenset((site.box.id,)),
                frozenset((Decision("bypass", site.box.id, load.id),)),
                site.minutes("bypass"),
                (FitBypass(box=site.box.id, load=load.id),),
                ("bypass",),
                money=site.money(("bypass",)),
                items=frozenset(((site.box.id, item.id),)),
            )


def settings(site: Site) -> Iterator[Offer]:
    """The lamp type a device is set to, to match its lamps."""
    for device in site.box.devices:
        sheet = site.sheets[device.sheet]
        kinds = {load.kind for load in device.loads if load.is_lamp}
        if device.lamp_setting is None or len(kinds) != 1 or device.lamp_setting in kinds:
            continue
        (kind,) = kinds
        if kind not in sheet.lamp_settings:
            yield Ruled("setting", f"{sheet.name} has no setting for the lamps on it")
            continue
        yield Move(
            "setting",
            f"{device.name or sheet.name} set to {kind}",
            frozenset((site.box.id,)),
            frozenset((Decision("device", site.box.id, device.id),)),
            site.minutes("setting"),
            (ConnectDevice.read({"box": site.box.id, "device": device.id, "lamp_setting": kind, **_as_is(device)}),),
            items=frozenset(((site.box.id, device.id),)),
        )


def _as_is(device: Device) -> dict[str, object]:
    """The rest of the fields, which the same edit would change."""
    return {
        "name": device.name,
        "broken": device.broken,
        "tab_broken": device.tab_broken,
        "listing": device.listing,
    }
