"""Moves inside the box: another device, two controls on one yoke, a remote, a module behind a switch or out again."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from itertools import combinations

from ..edits.refits import DeviceForModule, ModuleBehind, OnOneYoke, ReplaceDevice, SplitLoad
from ..model.box import Device
from ..model.datasheet import Datasheet
from ..model.load import Load
from ..model.prices import MoveKind
from ..rules.load.heat import standby_of
from ..rules.minutes import A_WIDER_DEVICE
from ..text.loads import write_loads
from .move import Decision, Move, Ruled
from .site import Offer, Site

PLATE_STAYS = "the plate and its switch stay as they are"
NO_DEVICE = ("blank", "receptacle", "remote", "module")


def devices(site: Site) -> Iterator[Offer]:
    """Another device in a gang that does what was wished."""
    box = site.box
    for device in box.devices:
        old = site.sheets[device.sheet]
        if not device.loads or old.kind in NO_DEVICE:
            continue
        if site.plate_stays:
            yield Ruled("device", f"{old.name}: {PLATE_STAYS}")
            continue
        for sheet in site.sheets.values():
            if sheet.kind in NO_DEVICE or sheet.id == old.id or not site.does_it(box, device, sheet):
                continue
            words = f"{sheet.name} in gang {device.gang}, in place of {old.name}"
            wider = max(sheet.gangs - old.gangs, 0) * int(A_WIDER_DEVICE)
            several = bool(site.plan.far.get(f"{box.id}/{device.id}"))
            yield _instead(
                site,
                "device",
                device,
                sheet=sheet,
                words=words,
                room=_narrower(site, device, old, sheet),
                more=wider,
                wires=several,
            )


def _instead(
    site: Site,
    kind: MoveKind,
    device: Device,
    *,
    sheet: Datasheet,
    words: str,
    room: Fraction,
    wires: bool,
    more: int = 0,
) -> Move:
    """Put another sheet in place of a device; `more`: minutes past the usual ones."""
    box, old = site.box, site.sheets[device.sheet]
    return Move(
        kind,
        words,
        frozenset((box.id,)),
        frozenset((Decision("device", box.id, device.id),)),
        site.minutes(kind) + more,
        (ReplaceDevice(box=box.id, device=device.id, sheet=sheet.id),),
        (sheet.id,),
        (old.id,),
        money=site.money((sheet.id,)),
        items=frozenset(((box.id, device.id),)),
        sheets=((box.id, old, sheet),),
        room={box.id: room},
        eases=standby_of(old),
        wires=wires,
    )


def _narrower(site: Site, device: Device, old: Datasheet, new: Datasheet) -> Fraction:
    """The most a device frees of the count by taking fewer gangs."""
    own = site.counted(site.check, device.id)
    return own * (old.gangs - new.gangs) / old.gangs if new.gangs < old.gangs else Fraction(0)


def one_yoke(site: Site) -> Iterator[Offer]:
    """Two controls on one yoke, where a sheet has a channel for each and does what both must do."""
    box = site.box
    pairs = combinations([one for one in box.devices if one.loads], 2)
    if site.plate_stays:
        return
    for one, other in pairs:
        alike = all({load.channel for load in device.loads} == {1} for device in (one, other))
        if not alike or one.circuit != other.circuit:
            continue
        for sheet in site.sheets.values():
            does = site.does_it(box, one, sheet) and site.does_it(box, other, sheet)
            if sheet.kind in NO_DEVICE or len(sheet.channels) < len((one, other)) or sheet.gangs > 1 or not does:
                continue
            both = [(box.id, device.id) for device in (one, other)]
            yield Move(
                "one yoke",
                f"{sheet.name} in gang {one.gang} for both, gang {other.gang} left empty",
                frozenset((box.id,)),
                frozenset(Decision("device", *item) for item in both),
                site.minutes("one yoke"),
                (OnOneYoke(box=box.id, one=one.id, other=other.id, sheet=sheet.id),),
                (sheet.id, "blank filler"),
                (one.sheet, other.sheet),
                money=site.money((sheet.id, "blank filler")),
                items=frozenset(both),
                sheets=((box.id, site.sheets[one.sheet], sheet), (box.id, site.sheets[other.sheet], None)),
                room={box.id: max(site.counted(site.check, device.id) for device in (one, other))},
                eases=standby_of(site.sheets[one.sheet]) + standby_of(site.sheets[other.sheet]),
            )


MOST_PARTED = 4
"""Loads of one device, above which each is offered alone to a second device, and no group of them."""


def split_loads(site: Site) -> Iterator[Offer]:
    """Offer a second device like one that carries too much, in an empty gang, for some of its loads."""
    box = site.box
    over = {answer.subject.of for answer in site.fails("rating") if answer.limit and answer.total > answer.limit}
    taken = {
        device.gang + beyond
        for device in box.devices
        if not site.sheets[device.sheet].is_blank
        for beyond in range(site.sheets[device.sheet].gangs)
    }
    free = [gang for gang in range(1, box.enclosure.gangs + 1) if gang not in taken]
    for device in box.devices if free else ():
        sheet = site.sheets[device.sheet]
        if device.id not in over or sheet.gangs > 1 or site.plan.far.get(f"{box.id}/{device.id}"):
            continue
        if site.plate_stays:
            yield Ruled("split load", PLATE_STAYS)
        elif len(device.loads) == 1:
            yield Ruled(
                "split load",
                f"{write_loads(device.loads)} on {sheet.name} is one load. If two cables feed it, enter it as two",
            )
        else:
            for loads in _parted(device.loads):
                yield _split(site, device, loads=loads, gang=free[0])


def _parted(loads: tuple[Load, ...]) -> Iterator[tuple[Load, ...]]:
    """Yield the groups of loads that can go to another device: the first load stays where it is."""
    most = len(loads) if len(loads) <= MOST_PARTED else 2
    for count in range(1, most):
        yield from combinations(loads[1:], count)


def _split(site: Site, device: Device, *, loads: tuple[Load, ...], gang: int) -> Move:
    box, sheet = site.box, site.sheets[device.sheet]
    stay = [load for load in device.loads if load not in loads]
    apart = {load.cable for load in loads}.isdisjoint({load.cable for load in stay}) and all(
        load.cable for load in device.loads
    )
    return Move(
        "split load",
        f"Second {sheet.name} in gang {gang}, for {write_loads(loads)}",
        frozenset((box.id,)),
        frozenset((Decision("device", box.id, device.id), Decision("gang", box.id, str(gang)))),
        site.minutes("split load"),
        (SplitLoad(box=box.id, device=device.id, gang=gang, loads=tuple(load.id for load in loads)),),
        (sheet.id,),
        money=site.money((sheet.id,)),
        items=frozenset(((box.id, device.id),)),
        sheets=((box.id, None, sheet),),
        room={box.id: Fraction(0)},
        look="" if apart else f"the cable to {write_loads(loads)}: it must come into this box by itself",
    )


def remotes(site: Site) -> Iterator[Offer]:
    """A place of control replaced by a wireless remote on the wall, where the main talks to one."""
    box = site.box
    far = {
        one.id: main
        for id, places in site.plan.far.items()
        for one in places
        for main in site.plan.mains
        if main.id == id
    }
    for device in box.devices:
        main = far.get(f"{box.id}/{device.id}")
        if main is None or device.loads:
            continue
        if site.plate_stays:
            yield Ruled("remote", PLATE_STAYS)
            return
        found = [
            one for one in site.sheets.values() if one.kind == "remote" and one.radio and one.radio == main.sheet.radio
        ]
        if not found:
            yield Ruled("remote", f"no remote of the job’s sheets talks to {main.sheet.name}")
        old = site.sheets[device.sheet]
        for sheet in found:
            words = f"{sheet.name} on the wall in place of {old.name} in gang {device.gang}"
            yield _instead(
                site, "remote", device, sheet=sheet, words=words, room=site.counted(site.check, device.id), wires=True
            )


def modules_behind(site: Site) -> Iterator[Offer]:
    """A module behind a plain switch, in place of a deep device."""
    box = site.box
    plain = next((one for one in site.sheets.values() if is_plain(one)), None)
    if site.plate_stays:
        yield Ruled("module behind", PLATE_STAYS)
        return
    for device in box.devices:
        old = site.sheets[device.sheet]
        if not device.loads or is_plain(old) or old.kind in NO_DEVICE or site.plan.far.get(f"{box.id}/{device.id}"):
            continue
        for sheet in site.sheets.values():
            if not sheet.is_module or plain is None or not site.does_it(box, device, sheet):
                continue
            yield Move(
                "module behind",
                f"{sheet.name} behind {plain.name} in gang {device.gang}, in place of {old.name}",
                frozenset((box.id,)),
                frozenset((Decision("device", box.id, device.id),)),
                site.minutes("module behind"),
                (ModuleBehind(box=box.id, device=device.id, switch=plain.id, module=sheet.id),),
                (sheet.id, plain.id),
                (old.id,),
                money=site.money((sheet.id, plain.id)),
                items=frozenset(((box.id, device.id),)),
                sheets=((box.id, old, plain), (box.id, None, sheet)),
                room={box.id: Fraction(0)},
                eases=standby_of(old),
            )


def is_plain(sheet: Datasheet) -> bool:
    """Whether a sheet is of a switch for one place that only switches."""
    return sheet.kind == "switch" and sheet.places == "one" and not sheet.radio and sheet.gangs == 1


def modules_out(site: Site) -> Iterator[Offer]:
    """One device in the gang, in place of its switch and the module behind it."""
    box = site.box
    if site.plate_stays:
        return
    for module in box.modules:
        device = next((one for one in box.devices if one.gang == module.gang), None)
        if device is None or device.loads:
            continue
        gone = site.sheets[module.sheet]
        for sheet in site.sheets.values():
            if sheet.kind in NO_DEVICE or sheet.gangs > 1 or not site.does_it(box, module, sheet):
                continue
            yield Move(
                "module behind",
                f"{sheet.name} in gang {device.gang}; {gone.name} and its switch out",
                frozenset((box.id,)),
                frozenset((Decision("device", box.id, device.id), Decision("module", box.id, module.id))),
                site.minutes("module behind"),
                (DeviceForModule(box=box.id, module=module.id, device=device.id, sheet=sheet.id),),
                (sheet.id,),
                (gone.id, device.sheet),
                money=site.money((sheet.id,)),
                items=frozenset(((box.id, device.id), (box.id, module.id))),
                sheets=((box.id, site.sheets[device.sheet], sheet), (box.id, gone, None)),
                room={box.id: site.counted(site.check, module.id)},
                eases=standby_of(gone) + standby_of(site.sheets[device.sheet]),
            )
