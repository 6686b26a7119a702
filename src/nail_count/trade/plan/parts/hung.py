"""List the parts that devices bring along: replacement lamps, bypasses, and hubs for new radios."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ...model.box import Box
from ...model.contents import Contents
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.load import KIND_WORDS, Load
from ...model.shelf import PartKey
from .devices import coming
from .need import Need


def hung_needs(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Need]:
    """The lamps and bypasses a plan has that were not found; a group that nobody found is its owner's.

    Args:
        box: with its plan.
        sheets: of everything in it, by id.
    """
    if box.planned is None:
        return
    before = _loads(box.found) if box.found else {}
    for item in box.planned.equipment:
        for load in item.loads:
            was = before.get(load.id)
            called = load.name or item.name or load.kind
            if load.bypass and not (was and was.bypass):
                sheet = sheets[item.sheet]
                yield Need(PartKey("bypass", sheet.id), f"Bypass listed for {sheet.name}", 1, box.id, called)
            if was is not None and load.is_lamp:
                count = load.quantity if _lamp(load) != _lamp(was) else load.quantity - was.quantity
                if count > 0:
                    yield Need(PartKey("lamp", _lamp(load)), _lamp(load), count, box.id, called)


def _loads(contents: Contents) -> dict[str, Load]:
    return {load.id: load for item in contents.equipment for load in item.loads}


def _lamp(load: Load) -> str:
    """What a lamp is called: LED lamp, 9 W, made for dimming."""
    return f"{KIND_WORDS[load.kind]} lamp, {load.each}{', made for dimming' if load.dimmable else ''}"


def hub_needs(job: Job) -> Iterator[Need]:
    """One hub or bridge for each radio that comes into a house and that it has none for."""
    sheets, hub = by_id(job.sheets), job.house.hub
    needs: dict[str, list[str]] = {}
    for box in job.boxes:
        for item in coming(box):
            radio = sheets[item.sheet].radio
            if radio and radio != hub:
                needs.setdefault(radio, []).append(box.name)
    for radio, boxes in needs.items():
        asked = "" if hub is not None else "whether the house has it was not asked"
        why = f"devices at {', '.join(dict.fromkeys(boxes))}"
        yield Need(PartKey("hub", radio), radio[:1].upper() + radio[1:], 1, "", why, remark=asked)
