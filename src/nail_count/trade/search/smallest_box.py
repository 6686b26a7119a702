"""The other way round: the smallest box of the stock list that takes these cables and devices."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from ..model.answer import Answer
from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.enclosure import Enclosure
from ..model.job import Terms
from ..model.stock import StockBox
from ..rules.check import BoxCheck, check_box
from ..rules.fit.house import stock_misfits


@dataclass(frozen=True, slots=True)
class Tried:
    """A box of the stock list with everything in it."""

    stock: StockBox
    check: BoxCheck

    @property
    def against(self) -> tuple[Answer, ...]:
        """Of count, depth and bulk, those that do not pass."""
        answers = (*self.check.fills, *((self.check.depth,) if self.check.depth else ()), self.check.bulk)
        return tuple(answer for answer in answers if not answer.state.passes)

    @property
    def fits(self) -> bool:
        """Whether count, depth and bulk all pass."""
        return not self.against


def smallest(
    box: Box, stock: Iterable[StockBox], sheets: Mapping[str, Datasheet], terms: Terms | None = None
) -> tuple[Tried, ...]:
    """Every box of the stock list with enough gangs, the smallest that fits first, then those that do not.

    Args:
        box: what has to go in: its cables, devices, modules, connectors.
        stock: the stock list.
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
    """
    needed = max((device.gang + sheets[device.sheet].gangs - 1 for device in box.devices), default=1)
    tried = []
    for one in stock:
        if one.kind == "extension" or one.gangs < needed or stock_misfits(one):
            continue
        enclosure = Enclosure(
            gangs=one.gangs, material=one.material, volume=one.volume, depth=one.depth, clamps=one.clamps
        )
        cables = tuple(cable.changed(space=1) for cable in box.cables)
        modules = tuple(module.changed(space=1) for module in box.modules)
        new = box.changed(enclosure=enclosure, cables=cables, modules=modules)
        tried.append(Tried(one, check_box(new, sheets, terms)))
    return tuple(sorted(tried, key=lambda at: (not at.fits, at.stock.volume.in3, at.stock.gangs)))
