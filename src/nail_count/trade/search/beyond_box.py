"""Moves that change other boxes too: a pair's main to its other end, devices that change places, modules, cables."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction
from itertools import combinations, product

from ..edits.reroutes import (
    ExchangeDevices,
    LandOnward,
    ModuleAtFixture,
    ModuleToOutlet,
    MoveSplice,
    PullCable,
    goes_on,
    through,
)
from ..model.box import Box, Device, Equipment
from ..model.datasheet import Datasheet
from ..model.run import BoxEnd, CircuitEnd, Run
from ..rules.load.heat import standby_of
from ..rules.minutes import A_FOOT, FIRST_FEET
from ..wiring.hookup.wanted import AT_END
from .in_gangs import NO_DEVICE, PLATE_STAYS, is_plain
from .move import Decision, Move, Ruled
from .site import Offer, Site

INCHES_IN_FOOT = 12


def mains_moved(site: Site) -> Iterator[Offer]:
    """The main of a pair moved to its other end."""
    for main in site.plan.mains:
        far = site.plan.far[main.id]
        if len(far) != 1 or site.box.id not in (main.box.id, far[0].box.id) or main.box.id == far[0].box.id:
            continue
        other = far[0]
        if not isinstance(main.item, Device) or not isinstance(other.item, Device) or not main.ends("traveler"):
            continue
        if site.plan.kinds[main.id] not in ("powered", "two-wire"):
            continue
        ends = ((main.box.id, main.item.id), (other.box.id, other.item.id))
        if site.plate_stays_at(main.box) or site.plate_stays_at(other.box):
            yield Ruled("main to the other end", PLATE_STAYS)
            continue
        if main.sheet.end in ("line end", "load end"):
            yield Ruled("main to the other end", f"{main.sheet.name} must stay {AT_END[main.sheet.end]}")
            continue
        edit = ExchangeDevices(
            box=main.box.id, device=main.item.id, other_box=other.box.id, other=other.item.id, with_loads=True
        )
        yield Move(
            "main to the other end",
            f"{main.sheet.name} to {other.box.name}, {other.sheet.name} to {main.box.name}",
            frozenset((main.box.id, other.box.id)),
            frozenset(Decision("device", *end) for end in ends),
            site.minutes("main to the other end"),
            (edit,),
            items=frozenset(ends),
            sheets=((main.box.id, main.sheet, other.sheet), (other.box.id, other.sheet, main.sheet)),
            room={main.box.id: Fraction(0), other.box.id: Fraction(0)},
            eases=site.drawn(*main.item.loads, *other.item.loads) + standby_of(main.sheet) + standby_of(other.sheet),
            wires=True,
        )


def exchanges(site: Site) -> Iterator[Offer]:
    """A device to another place where it holds, and that one here: each does what the other must do."""
    box = site.box
    if site.plate_stays:
        return
    for device in box.devices:
        sheet = site.sheets[device.sheet]
        if not device.loads or sheet.kind in NO_DEVICE:
            continue
        for there in site.job.boxes:
            if there.id == box.id or site.plate_stays_at(there):
                continue
            for other in there.devices:
                if other.loads and _can_change(site, box, device, there=there, other=other, sheet=sheet):
                    yield _exchange(site, box, device, there, other)


def _can_change(site: Site, box: Box, device: Device, *, there: Box, other: Device, sheet: Datasheet) -> bool:
    far = site.sheets[other.sheet]
    if far.id == sheet.id or far.kind in NO_DEVICE or far.gangs != sheet.gangs:
        return False
    return site.does_it(box, device, far) and site.does_it(there, other, sheet)


def _exchange(site: Site, box: Box, device: Device, there: Box, other: Device) -> Move:
    ends = ((box.id, device.id), (there.id, other.id))
    mine, theirs = site.sheets[device.sheet], site.sheets[other.sheet]
    return Move(
        "other place",
        f"{mine.name} to {there.name}, and {theirs.name} from there into gang {device.gang}",
        frozenset((box.id, there.id)),
        frozenset(Decision("device", *end) for end in ends),
        site.minutes("other place"),
        (ExchangeDevices(box=box.id, device=device.id, other_box=there.id, other=other.id),),
        items=frozenset(ends),
        sheets=((box.id, mine, theirs), (there.id, theirs, mine)),
        room={box.id: Fraction(0), there.id: Fraction(0)},
        eases=standby_of(mine) + standby_of(theirs),
    )


def modules_at_outlets(site: Site) -> Iterator[Offer]:
    """A module moved from the box to the outlet it feeds."""
    box = site.box
    for module in box.modules:
        outlet, sheet = _outlet_of(site, module), site.sheets[module.sheet]
        if outlet is None:
            yield Ruled("module to the outlet", f"{sheet.name}: the outlet of all its loads is not known")
            continue
        there = site.check_of(outlet)
        yield Move(
            "module to the outlet",
            f"{sheet.name} to {outlet.name}, the switch here its input",
            frozenset((box.id, outlet.id)),
            frozenset((Decision("module", box.id, module.id),)),
            site.minutes("module to the outlet"),
            (ModuleToOutlet(box=box.id, module=module.id, outlet=outlet.id),),
            items=frozenset(((box.id, module.id),)),
            sheets=((box.id, sheet, None), (outlet.id, None, sheet)),
            room={box.id: site.counted(site.check, module.id), outlet.id: site.counted(there)},
            eases=site.drawn(*module.loads) + standby_of(sheet),
            wires=True,
        )


def modules_at_fixtures(site: Site) -> Iterator[Offer]:
    """Offer a module at the fixture, worked by a plain switch in the gang, in place of a device that did both."""
    box = site.box
    wants = any(one.code == "no-neutral" for answer in site.fails("prohibitions") for one in answer.remarks)
    for device in box.devices:
        old = site.sheets[device.sheet]
        if not device.loads or is_plain(old) or old.kind in NO_DEVICE or site.plan.far.get(f"{box.id}/{device.id}"):
            continue
        outlet = _outlet_of(site, device)
        if outlet is None:
            if wants:
                called, pick = device.name or old.name, "Then pick it under “Hangs at” of the lights"
                yield Ruled("module at the fixture", f"{called}: start the fixture’s box with its cables. {pick}")
            continue
        plain = next((one for one in site.sheets.values() if is_plain(one)), None)
        switch = _old_switch(box, device, site.sheets) or plain
        if switch is None:
            continue
        for sheet in site.sheets.values():
            if sheet.is_module and site.does_it(box, device, sheet):
                yield _at_fixture(site, device, outlet=outlet, switch=switch, sheet=sheet)


def _outlet_of(site: Site, item: Equipment) -> Box | None:
    """Return the outlet where all loads of a device or module are; None where that isn't known, or they are apart."""
    outlets = {load.outlet for load in item.loads}
    outlet = site.boxes.get(next(iter(outlets)) or "") if len(outlets) == 1 else None
    return outlet if outlet is not None and outlet.is_outlet else None


def _old_switch(box: Box, device: Device, sheets: Mapping[str, Datasheet]) -> Datasheet | None:
    """Return the plain switch that was found in the gang of a device; None where none was recorded."""
    found = box.found.devices if box.found else ()
    plain = (sheets[one.sheet] for one in found if one.gang == device.gang and is_plain(sheets[one.sheet]))
    return next(plain, None)


def _at_fixture(site: Site, device: Device, *, outlet: Box, switch: Datasheet, sheet: Datasheet) -> Move:
    box, old, there = site.box, site.sheets[device.sheet], site.check_of(outlet)
    stays = _old_switch(box, device, site.sheets) is not None
    parts = (sheet.id,) if stays else (sheet.id, switch.id)
    return Move(
        "module at the fixture",
        f"{sheet.name} at {outlet.name}; {'the old switch' if stays else switch.name} in gang {device.gang} works it",
        frozenset((box.id, outlet.id)),
        frozenset((Decision("device", box.id, device.id),)),
        site.minutes("module at the fixture"),
        (ModuleAtFixture(box=box.id, device=device.id, switch=switch.id, module=sheet.id, outlet=outlet.id),),
        parts,
        (old.id,),
        money=site.money(parts),
        items=frozenset(((box.id, device.id),)),
        sheets=((box.id, old, switch), (outlet.id, None, sheet)),
        room={box.id: Fraction(0), outlet.id: site.counted(there)},
        eases=site.drawn(*device.loads) + standby_of(old),
        look=f"{outlet.name}: its size and its cables must be as entered",
        wires=True,
    )


def pulled_cables(site: Site) -> Iterator[Offer]:
    """A new cable with a wire more between two ends, where a neutral is wanted and not there."""
    box = site.box
    wants = any(one.code == "no-neutral" for answer in site.fails("prohibitions") for one in answer.remarks)
    for run in site.job.runs if wants else ():
        here = [end for end in run.box_ends if end.box == box.id and end.cable]
        cable = box.cable(here[0].cable or "") if here else None
        ends = (run.one, run.other)
        known = all(
            isinstance(end, CircuitEnd) or (isinstance(end, BoxEnd) and end.box in site.boxes and end.cable)
            for end in ends
        )
        if cable is None or cable not in box.entering or not known or cable.insulated >= 4:
            continue
        wires = cable.insulated + 1
        boxes = frozenset(end.box for end in run.box_ends)
        feet = run.length.inches / INCHES_IN_FOOT if run.length else Fraction(0)
        more = max(feet - FIRST_FEET, Fraction(0)) * A_FOOT
        others = [site.boxes[key].name for key in sorted(boxes - {box.id})] or ["the panel"]
        part = f"{cable.changed(insulated=wires, conductors=()).size} cable"
        yield Move(
            "new cable",
            f"a new cable of {wires} wires to {' and '.join(others)}, in place of {cable.id}",
            boxes,
            frozenset((Decision("run", box.id, run.id),)),
            site.minutes("new cable") + int(more),
            (PullCable(run=run.id, insulated=wires),),
            (part,),
            money=site.money((part,)),
            look="" if run.length else "the way it would be fished, and how long it is",
            wires=True,
        )


def splices_moved(site: Site) -> Iterator[Offer]:
    """A feed-through splice moved: its cables end in a box both pass, which can be got at (NEC 314.29, from memory)."""
    box = site.box
    passes = {end.cable: run.passes for run in site.job.runs for end in run.box_ends if end.box == box.id and end.cable}
    for one, other in combinations([cable.id for cable in box.entering], 2):
        if not through(box, one, other):
            continue
        to = passes.get(one)
        if to is None or passes.get(other) != to or to not in site.boxes or site.boxes[to].use != "junction":
            yield Ruled("splice moved", f"{one} and {other} only pass through; no box is known where they could end")
            continue
        check, there = site.check, site.boxes[to]
        by_gauge = site.of_kind(check, "clamps", "devices", "grounds", "modules", "fittings", "terminal blocks")
        yield Move(
            "splice moved",
            f"{one} and {other}, which only pass through, joined in {there.name} instead",
            frozenset((box.id, to)),
            frozenset(Decision("run", box.id, run.id) for run in site.job.runs if _ends_at(run, box.id, one, other)),
            site.minutes("splice moved"),
            (MoveSplice(box=box.id, one=one, other=other, to=to),),
            room={box.id: site.counted(check, one, other) + by_gauge, to: Fraction(0)},
            look="slack enough in both cables to end there",
            wires=True,
        )


def onwards_landed(site: Site) -> Iterator[Offer]:
    """Offer to start a cable that goes on from a box at a junction box which it and the feed pass, and to cut the feed
    there (NEC 314.29: that box stays accessible; from memory of the publication)."""
    box = site.box
    if not site.fails("fill", "bulk"):
        return
    runs = {end.cable: run for run in site.job.runs for end in run.box_ends if end.box == box.id and end.cable}
    feeds = [letter for letter, run in runs.items() if any(isinstance(end, CircuitEnd) for end in (run.one, run.other))]
    switched = {load.cable for device in box.equipment for load in device.loads}
    legs = sum(bool(item.loads) for item in box.equipment)
    if len(box.entering) - len(feeds) <= legs:
        return  # every other cable is needed for a load of this box
    for feed, cable in product(feeds, box.entering):
        onward = cable.id
        if onward in feeds or onward in switched or not goes_on(box, feed, onward, site.job.terms.colors):
            continue
        to = runs[feed].passes
        there = site.boxes.get(to or "")
        if there is None or there.use != "junction" or onward not in runs or runs[onward].passes != to:
            what = f"cable {onward} may start at a junction box instead, if it and the feed {feed} pass one"
            pick = f"Start that box. Then pick it for both on “Where cable {onward} goes”, under “Passes”"
            yield Ruled("splice moved", f"{what}. {pick}")
            continue
        by_gauge = site.of_kind(site.check, "clamps", "devices", "grounds", "modules", "fittings", "terminal blocks")
        yield Move(
            "splice moved",
            f"feed {feed} cut at {there.name} and joined there with {onward}, which comes out of this box",
            frozenset((box.id, there.id)),
            frozenset(Decision("run", box.id, runs[letter].id) for letter in (feed, onward)),
            site.minutes("splice moved"),
            (LandOnward(box=box.id, feed=feed, onward=onward, to=there.id),),
            room={box.id: site.counted(site.check, onward) + by_gauge, there.id: Fraction(0)},
            look=f"that {onward} is fed straight from {feed}, and slack enough in both to end there",
            wires=True,
            joined=frozenset((there.id,)),
        )


def _ends_at(run: Run, box: str, *cables: str) -> bool:
    return any(end.box == box and end.cable in cables for end in run.box_ends)
