"""The best order of a box's devices: the one that leaves most margin on its weakest channel."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from .check import ratings_of
from .fixes import weakest
from .model.box import Box, Device
from .model.job import Terms
from .model.sheet import Sheet
from .rules.heat import Warmth, solve, warmth
from .rules.places import Place


@dataclass(frozen=True, slots=True)
class Order:
    """An order of the devices, and what it is worth."""

    gangs: Mapping[str, int]
    """The leftmost gang of each device."""
    before: Fraction
    """Margin of the weakest channel as it stands, as a share of its limit."""
    after: Fraction
    """The same in this order."""
    moves: int
    """How many devices change places."""


@dataclass(slots=True)
class _Item:
    """A device, or an empty gang."""

    device: Device | None
    sheet: Sheet | None
    width: int = 1
    margins: dict[Place, Fraction] = field(default_factory=dict)
    """By where it stands, as far as reckoned."""

    @property
    def yoke(self) -> bool:
        """Whether it is somebody's neighbor."""
        return self.sheet is not None and not self.sheet.is_blank

    def margin(self, place: Place, terms: Terms) -> Fraction:
        """Of its weakest channel in a place: reckoned once for each, since a limit depends on nothing else."""
        if place not in self.margins:
            assert self.device is not None and self.sheet is not None
            self.margins[place] = weakest(ratings_of(place, self.device, self.sheet, terms))
        return self.margins[place]


def best_order(
    box: Box, sheets: Mapping[str, Sheet], terms: Terms | None = None, fixed: Sequence[str] = ()
) -> Order | None:
    """The order that leaves most margin on its weakest channel; None where none is better than the one there is.

    Every order is gone through, eight gangs being 40,320 at most. Of two that leave as much, the one with fewer
    moves is taken.

    Args:
        box: the box.
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
        fixed: devices that stay where they are, by id.
    """
    terms = terms or Terms()
    items = list(_items(box, sheets))
    warm = None
    if any(item.sheet is not None and item.sheet.ambient is not None for item in items):
        warm = _Warm(box, warmth(box, sheets, terms), terms)
    places = [number for number, item in enumerate(items) if item.device is None or item.device.id not in fixed]
    before = _margin(items, warm, terms)
    best: tuple[Fraction, int] | None = None
    found: list[_Item] = []
    for order in _orders([items[number] for number in places]):
        laid = list(items)
        for number, item in zip(places, order, strict=True):
            laid[number] = item
        if fixed and not _stay(laid, fixed):
            continue
        key = _margin(laid, warm, terms), -_moves(laid)
        if best is None or key > best:
            best, found = key, laid
    if best is None or best[0] <= before:
        return None
    return Order(_gangs(found), before, best[0], -best[1])


class _Warm:
    """How warm each device gets in an order: rises add, so the network is solved once for each gang."""

    def __init__(self, box: Box, now: Warmth, terms: Terms) -> None:
        gangs = box.enclosure.gangs
        warming, insulated = terms.assume.warming, bool(box.survey.insulated)
        units = ([float(gang == at) for gang in range(gangs)] for at in range(gangs))
        self._rise = [[float(rise) for rise in solve(unit, warming, insulated)] for unit in units]
        ids = {device.id for device in box.devices}
        self._heats = {id: heat for id, heat in now.heats.items() if id in ids}
        self._room = now.room
        self._modules = list(now.gangs)
        for device in box.devices:
            self._add(self._modules, device.id, device.gang, now.widths[device.id], -1)

    def _add(self, rises: list[float], id: str, gang: int, width: int, times: float = 1) -> None:
        for own in range(gang - 1, gang - 1 + width):
            for at, rise in enumerate(self._rise[own]):
                rises[at] += times * self._heats[id] / width * rise

    def of(self, laid: Sequence[tuple[str, int, int]]) -> Warmth:
        """The warmth of devices laid out so: id, leftmost gang, width of each."""
        rises = list(self._modules)
        for id, gang, width in laid:
            self._add(rises, id, gang, width)
        highest = {id: max(rises[gang - 1 : gang - 1 + width]) for id, gang, width in laid}
        return Warmth(self._room, tuple(rises), self._heats, {}, highest)


def _items(box: Box, sheets: Mapping[str, Sheet]) -> Iterator[_Item]:
    gang, by_gang = 1, {device.gang: device for device in box.devices}
    while gang <= box.enclosure.gangs:
        device = by_gang.get(gang)
        sheet = sheets[device.sheet] if device else None
        item = _Item(device, sheet, sheet.gangs if sheet else 1)
        yield item
        gang += item.width


def _orders(items: list[_Item]) -> Iterator[list[_Item]]:
    """Every order; two empty gangs are taken for one another."""
    if not items:
        yield []
        return
    emptied = False
    for number, item in enumerate(items):
        if item.device is None:
            if emptied:
                continue
            emptied = True
        for rest in _orders(items[:number] + items[number + 1 :]):
            yield [item, *rest]


def _margin(items: Sequence[_Item], warm: _Warm | None, terms: Terms) -> Fraction:
    """Of the weakest channel in this order."""
    least = Fraction(1)
    gangs = _gangs(items)
    here = None
    if warm is not None:
        here = warm.of([(i.device.id, gangs[i.device.id], i.width) for i in items if i.device is not None])
    for number, item in enumerate(items):
        device, sheet = item.device, item.sheet
        if device is None or sheet is None or not item.yoke:
            continue
        first, last = number, number
        while first > 0 and items[first - 1].yoke:
            first -= 1
        while last + 1 < len(items) and items[last + 1].yoke:
            last += 1
        sides = (first < number or "left" in device.broken) + (last > number or "right" in device.broken)
        ambient = here.ambient(device.id) if here is not None and sheet.ambient is not None else None
        least = min(least, item.margin(Place(sides, last - first + 1, ambient, bool(device.broken)), terms))
    return least


def _gangs(items: Sequence[_Item]) -> dict[str, int]:
    gang, gangs = 1, {}
    for item in items:
        if item.device is not None:
            gangs[item.device.id] = gang
        gang += item.width
    return gangs


def _moves(items: Sequence[_Item]) -> int:
    gangs = _gangs(items)
    return sum(item.device is not None and gangs[item.device.id] != item.device.gang for item in items)


def _stay(items: Sequence[_Item], fixed: Sequence[str]) -> bool:
    gangs = _gangs(items)
    return all(gangs[item.device.id] == item.device.gang for item in items if item.device and item.device.id in fixed)
