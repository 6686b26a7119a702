"""The list of parts of a house: each line with the boxes it is for, stock, what to buy, leftovers."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from ...model.box import Box
from ...model.datasheet import Packed
from ...model.job import Job, by_id
from ...model.shelf import PartKey, PartKind, Shelf
from ...model.tick import StepKind, standing
from ...wiring.hookup.colors import Wire
from ...wiring.hookup.graph import graph
from .cables import cable_needs
from .devices import device_needs, freed, plate_need
from .enclosures import enclosure_needs
from .hung import hub_needs, hung_needs
from .joints import joint_needs
from .need import Freed, Need, in_order


@dataclass(frozen=True, slots=True)
class PartLine:
    """One part of the list."""

    part: PartKey
    name: str
    unit: str
    needs: tuple[Need, ...]
    """What it is needed for, in the order of the boxes."""
    freed: tuple[Freed, ...]
    """What comes out elsewhere in this job, and can go in again."""
    on_hand: int
    """In the shop, and left from earlier places."""
    pack: int
    """By how many it is sold."""
    bought: int
    """As ticked, less what was given back."""
    loaded: int
    used: int
    packages: tuple[Packed, ...] = ()
    """What lies in the package of one."""
    unpacked: int = 0
    """How many packages were opened and looked through."""
    price: Fraction | None = None
    """Of one, where it is known."""

    @property
    def priced_as(self) -> str:
        """What its price goes by: which of its kind, where that alone says it, else its name."""
        return self.part.of if self.part.kind in PRICED_BY_ID else self.name

    @property
    def needed(self) -> int:
        """How many are needed, as far as is known."""
        return sum(need.count for need in self.needs if need.count is not None)

    @property
    def unknown(self) -> bool:
        """Whether some box needs it, and how many is not known."""
        return any(need.count is None for need in self.needs)

    @property
    def remarks(self) -> tuple[str, ...]:
        """What has to be looked at, or asked."""
        return tuple(dict.fromkeys(need.remark for need in self.needs if need.remark))

    @property
    def out(self) -> int:
        """How many come out of other boxes."""
        return sum(one.count for one in self.freed)

    @property
    def from_job(self) -> int:
        """How many of those go in again."""
        return min(self.needed, self.out)

    @property
    def from_shelf(self) -> int:
        """How many are taken from what the shop has."""
        return min(self.needed - self.from_job, self.on_hand)

    @property
    def to_buy(self) -> int:
        """How many have still to be bought, by whole packs."""
        missing = max(self.needed - self.from_job - self.from_shelf - self.bought, 0)
        return -(-missing // self.pack) * self.pack

    @property
    def left_over(self) -> int:
        """How many are left when all is bought and done: of what was bought, and of what came out."""
        have = self.from_job + self.from_shelf + self.bought + self.to_buy
        return have - self.needed + (self.out - self.from_job)

    @property
    def money(self) -> Fraction | None:
        """The cost of the parts still to buy; None where no price is known."""
        return None if self.price is None else self.price * self.to_buy


PRICED_BY_ID: frozenset[PartKind] = frozenset(("device", "module", "blank", "box"))
"""The kinds whose price names a sheet, or a box of the stock list."""


def parts_list(job: Job) -> tuple[PartLine, ...]:
    """Everything the plans of a house take that is not there yet, and what comes out of it.

    Args:
        job: the house: as found, as planned, what the shop has, and what was ticked.
    """
    needs = tuple(needs_of(job))
    sheets = by_id(job.sheets)
    out = tuple(one for box in job.boxes for one in freed(box, sheets))
    ticked = _ticked(job)
    shelf = {one.key: one for one in job.shelf}
    prices = {one.what: one.each for one in job.prices}
    told = [need.part for need in needs] + [one.part for one in out] + list(ticked)
    return tuple(
        _line(
            part,
            needs,
            out,
            ticked=ticked.get(part, {}),
            shelf=shelf.get(part),
            prices=prices,
            packed=_packed(job, part),
        )
        for part in sorted(set(told), key=in_order)
    )


def needs_of(job: Job) -> Iterator[Need]:
    """What every box of a house needs, box by box, then its cables and hubs."""
    wires = graph(job).wires_by_box()
    for box in job.boxes:
        if box.planned is not None:
            yield from needs_in(job, box, wires.get(box.id, {}))
    yield from cable_needs(job)
    yield from hub_needs(job)


def needs_in(job: Job, box: Box, wires: Mapping[str, Wire]) -> Iterator[Need]:
    """Yield what the plan of one box needs.

    Args:
        job: with its sheets, stock and connectors.
        box: with its plan.
        wires: its conductors, by their names.
    """
    sheets = by_id(job.sheets)
    yield from device_needs(box, sheets)
    yield from plate_need(box, sheets)
    yield from enclosure_needs(box, job.stock)
    yield from joint_needs(box, sheets, wires, job.connectors)
    yield from hung_needs(box, sheets)


def not_said(job: Job) -> tuple[Box, ...]:
    """The boxes with a plan whose record of what was found: all that is planned in them counts as new."""
    return tuple(box for box in job.boxes if box.planned is not None and box.found is None)


def _line(
    part: PartKey,
    needs: Sequence[Need],
    out: Sequence[Freed],
    *,
    ticked: Mapping[StepKind, int],
    shelf: Shelf | None,
    prices: Mapping[str, Fraction],
    packed: tuple[Packed, ...],
) -> PartLine:
    mine = tuple(need for need in needs if need.part == part)
    came = tuple(one for one in out if one.part == part)
    names = [need.name for need in mine] + [one.name for one in came]
    name = names[0] if names else part.of
    line = PartLine(
        part,
        name,
        next((need.unit for need in mine), ""),
        mine,
        came,
        shelf.on_hand if shelf else 0,
        shelf.pack if shelf else 1,
        max(ticked.get("bought", 0) - ticked.get("returned", 0), 0),
        ticked.get("loaded", 0),
        ticked.get("used", 0),
        packed,
        ticked.get("unpacked", 0),
    )
    return replace(line, price=prices.get(line.priced_as))


def _packed(job: Job, part: PartKey) -> tuple[Packed, ...]:
    sheet = by_id(job.sheets).get(part.of) if part.kind in ("device", "module") else None
    return sheet.package if sheet else ()


def _ticked(job: Job) -> dict[PartKey, Counter[StepKind]]:
    """How many of each part were ticked as what."""
    found: dict[PartKey, Counter[StepKind]] = {}
    for tick in standing(job.ticks):
        if tick.step.count is not None:
            kind, of = tick.step.subjects
            part = PartKey(kind, of)  # type: ignore[arg-type]
            found.setdefault(part, Counter())[tick.step.kind] += tick.step.count
    return found
