"""Devices, modules, blanks and plates of one box; what lies in packages; batteries."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping

from ...model.box import Box, Device, Equipment
from ...model.contents import Contents
from ...model.datasheet import Datasheet
from ...model.shelf import PartKey, PartKind
from ...rules.supplies import MIXED_UP_TO, OPENINGS_ALIKE, PLATES_UP_TO
from ...wiring.hookup.work import arriving, leaving
from .need import Freed, Need

BLANK = "blank"
UNKNOWN = "opening not on the sheet"


def device_needs(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Need]:
    """Devices put into a box that were not in it: each device, module and blank, and a battery where one lives on it.

    Args:
        box: with its plan; those found in it are taken off where they are known.
        sheets: of everything in it, by id.
    """
    for item in coming(box):
        sheet = sheets[item.sheet]
        where = f"gang {item.gang}" if isinstance(item, Device) else "loose in the box"
        named = f", {item.name}" if item.name else ""
        yield Need(_part(sheet), sheet.name, 1, box.id, f"{where}{named}")
        if sheet.battery:
            yield Need(PartKey("battery", sheet.id), f"Battery of {sheet.name}", 1, box.id, f"{where}{named}")


def freed(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Freed]:
    """What was found in a box and comes out of it; what its own like replaces isn't put in again anywhere."""
    out = leaving(box)
    items = box.found.equipment if box.found else ()
    gone = Counter(item.sheet for item in items if item.id in out) - Counter(item.sheet for item in coming(box))
    for sheet, count in gone.items():
        yield Freed(_part(sheets[sheet]), sheets[sheet].name, count, box.id)


def coming(box: Box) -> tuple[Equipment, ...]:
    """The planned devices and modules of a box that don't stay from what was found; all of them where nothing was."""
    new = arriving(box)
    return tuple(item for item in box.planned.equipment if item.id in new) if box.planned else ()


def _part(sheet: Datasheet) -> PartKey:
    kind: PartKind = "module" if sheet.is_module else "blank" if sheet.is_blank else "device"
    return PartKey(kind, sheet.id)


def plate_need(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Need]:
    """The plate of a box, by its gangs and openings from the left; none where the one that is there fits, or stays.

    Args:
        box: with its plan.
        sheets: of everything in it, by id.
    """
    bare = not box.planned.devices and (box.found is None or not box.found.devices) if box.planned else True
    if box.planned is None or (bare and box.use != "junction") or _plate_stays(box):
        return
    after = openings(box.planned, sheets)
    if box.found is not None and openings(box.found, sheets) == after:
        return
    gangs, kinds = len(after), set(after)
    words = ", ".join(after)
    name = f"Plate, {gangs} gang{'' if gangs == 1 else 's'}: {words}"
    why = "what was found has other openings" if box.found else "what was found isn't recorded"
    yield Need(PartKey("plate", f"{gangs}: {words}"), name, 1, box.id, why, remark=_made(gangs, kinds))


def _plate_stays(box: Box) -> bool:
    """Whether the plate that is there must stay, as the survey or a wish says."""
    return bool(box.survey.plate_stays) or any(wish.stays in ("the plate", "both") for wish in box.wishes)


def _made(gangs: int, kinds: set[str]) -> str:
    """Whether such a plate is commonly made; "" where it is."""
    if UNKNOWN in kinds:
        return "the sheet of a device does not say which opening it takes"
    if gangs > PLATES_UP_TO:
        return f"plates are commonly made up to {int(PLATES_UP_TO)} gangs"
    if len(kinds) > OPENINGS_ALIKE:
        return "perhaps none is made so: another order, one opening for all, or a plate of sections"
    if len(kinds) > 1 and gangs > MIXED_UP_TO:
        return f"of two kinds, plates are commonly made up to {int(MIXED_UP_TO)} gangs: ask, or a plate of sections"
    return ""


def openings(contents: Contents, sheets: Mapping[str, Datasheet]) -> tuple[str, ...]:
    """The openings a plate needs, gang by gang from the left; a gang with nothing in it is closed by a blank.

    >>> openings(Contents(), {})
    ('blank',)
    """
    found = [BLANK] * contents.enclosure.gangs
    for device in contents.devices:
        sheet = sheets[device.sheet]
        trim = sheet.trim.split(",")[0].strip().casefold() or UNKNOWN
        last = min(device.gang + sheet.gangs - 1, contents.enclosure.gangs)
        found[device.gang - 1 : last] = [trim] * (last - device.gang + 1)
    return tuple(found)
