"""The box itself, rings and extensions on it, a fan box."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from ...model.answer import Rule
from ...model.box import Box
from ...model.enclosure import Enclosure
from ...model.figure import every_nec
from ...model.shelf import PartKey
from ...model.stock import StockBox
from .need import Need

FAN: Rule = every_nec("314.27(C)")
COVER: Rule = every_nec("314.25")


def enclosure_needs(box: Box, stock: Sequence[StockBox]) -> Iterator[Need]:
    """Another box, rings, and what carries a fan, as the plan has them and as was not found.

    Args:
        box: with its plan.
        stock: the boxes the shop keeps.
    """
    if box.planned is None:
        return
    after, before = box.planned.enclosure, box.found.enclosure if box.found else None
    added = before is None and box.use == "junction" and _all_new(box)
    if (before is not None and _shape(before) != _shape(after)) or (before is None and box.survey.new_place) or added:
        name, part = named(after, stock)
        why = "another box than was found" if before else "a new place"
        yield Need(PartKey("box", part), name, 1, box.id, why)
    if added:
        yield Need(PartKey("plate", "blank cover"), "Blank cover for the box", 1, box.id, "closes the new box", COVER)
    there = before.rings if before else ()
    rings = Counter(ring.kind for ring in after.rings) - Counter(ring.kind for ring in there)
    for kind, count in rings.items():
        yield Need(PartKey("ring", kind), kind[:1].upper() + kind[1:], count, box.id, "on the front of the box")
    carries = after.fan is not None and after.fan.listed is True
    carried = before is not None and before.fan is not None and before.fan.listed is True
    if box.use == "fan" and carries and before is not None and not carried:
        yield Need(
            PartKey("fan box", "with brace"), "Fan box and brace", 1, box.id, "what was found carries no fan", FAN
        )
    if box.use in ("luminaire", "fan") and (new := [one for one in box.planned.modules if one.stays is None]):
        name = "Closed, dry box with a cover, for a module at the fixture"
        remark = "not where the fixture’s own box is closed and has room: look, or give it its own box"
        yield Need(
            PartKey("box", "module at the fixture"), name, len(new), box.id, "a module at the fixture", remark=remark
        )


def named(enclosure: Enclosure, stock: Sequence[StockBox]) -> tuple[str, str]:
    """What a box is called in a list, and which part it is: one of the stock list where one is so, else by its size."""
    for one in stock:
        same = (one.gangs, one.material, one.clamps) == (enclosure.gangs, enclosure.material, enclosure.clamps)
        if one.kind != "extension" and same and enclosure.volume is not None and one.volume.in3 == enclosure.volume.in3:
            return one.name, one.name
    size = enclosure.trade_size or (str(enclosure.volume) if enclosure.volume else "volume not known")
    words = f"Box, {enclosure.gangs} gang{'' if enclosure.gangs == 1 else 's'}, {enclosure.material}, {size}"
    return words, words


def _all_new(box: Box) -> bool:
    """Whether every cable of a box comes into it by the plan: the box is added, too."""
    return bool(box.cables) and {cable.id for cable in box.cables} <= set(box.contents.brought)


def _shape(enclosure: Enclosure) -> tuple[object, ...]:
    """What makes it another box: not whether its clamps were put right, nor what stands on its front."""
    volume = enclosure.volume.in3 if enclosure.volume else None
    return enclosure.gangs, enclosure.material, volume, enclosure.trade_size
