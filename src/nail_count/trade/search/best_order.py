"""The best order of a box's devices: the one that leaves most margin on its weakest channel."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import permutations

from ..model.answer import Answer
from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.job import NO_VOLTS, Terms, terms_of
from ..rules.check import ratings_of
from ..rules.load.heat import Warmth, solve, tenths_up, warmth
from ..rules.load.position import Position

NOTHING_ALLOWED = Fraction(-(10**6))
"""Stands for the margin of a channel that may carry nothing here, with something on it: worse than any other."""


def weakest(ratings: Iterable[Answer]) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    return min((_share_left(answer) for answer in ratings if answer.limit is not None), default=Fraction(1))


def _share_left(answer: Answer) -> Fraction:
    if not answer.limit:
        return NOTHING_ALLOWED if answer.total else Fraction(1)
    return 1 - answer.total / answer.limit


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


def best_order(
    box: Box,
    sheets: Mapping[str, Datasheet],
    terms: Terms | None = None,
    fixed: Sequence[str] = (),
    volts: Mapping[str, int] = NO_VOLTS,
) -> Order | None:
    """The order that leaves most margin on its weakest channel; None where none is better than the one there is.

    Every order is gone through, eight gangs being 40,320 at most. Of two that leave as much, the one with fewer
    moves is taken.

    Args:
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
        fixed: devices that stay where they are, by id.
        volts: across what each circuit feeds [V], by its id.
    """
    terms = terms or Terms()
    search = _Search(box, sheets, terms, volts)
    now = tuple(range(len(search.items)))
    before = search.margin(now)
    best, order, fewest = before, now, 0
    for other in search.orders(fixed):
        margin = search.margin(other)
        if margin < best or (margin == best and best == before):
            continue
        moves = search.moves(other)
        if margin > best or moves < fewest:
            best, order, fewest = margin, other, moves
    return None if best == before else Order(search.gangs(order), before, best, fewest)


@dataclass(slots=True)
class _Item:
    """A device, or an empty gang."""

    device: Device | None
    sheet: Datasheet | None
    width: int = 1
    margins: dict[tuple[int, int, int], Fraction] = field(default_factory=dict)
    """By sides off, yokes ganged, and tenths of a degree around it, as far as reckoned."""

    @property
    def yoke(self) -> bool:
        """Whether it is somebody's neighbor."""
        return self.sheet is not None and not self.sheet.is_blank


class _Search:
    """Orders of the items of a box, each as the items' numbers from left to right, and what they are worth."""

    def __init__(self, box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int]) -> None:
        self.terms = {item.id: terms_of(item, box, terms, volts) for item in box.devices}
        self.items = list(_items(box, sheets))
        self._yokes = [item.yoke for item in self.items]
        self._widths = [item.width for item in self.items]
        self._wary = [item.sheet is not None and item.sheet.ambient is not None for item in self.items]
        self._warm = _Warm(box, self.items, warmth(box, sheets, terms, volts), terms) if any(self._wary) else None

    def orders(self, fixed: Sequence[str]) -> Iterator[tuple[int, ...]]:
        """Every other order in which the fixed devices stay in their gangs. Empty gangs are taken for one another."""
        stays = [number for number, item in enumerate(self.items) if item.device and item.device.id in fixed]
        moves = [number for number in range(len(self.items)) if number not in stays]
        empty = [number for number in moves if self.items[number].device is None]
        for laid in permutations(moves):
            if len(empty) > 1 and [number for number in laid if number in empty] != empty:
                continue
            rest = iter(laid)
            order = tuple(number if number in stays else next(rest) for number in range(len(self.items)))
            if not stays or self._stay(order, stays):
                yield order

    def margin(self, order: Sequence[int]) -> Fraction:
        """Of the weakest channel in this order; 1 where nothing is limited."""
        least = _ALL
        tenths = self._warm.tenths(order) if self._warm is not None else None
        for place, run in self._runs(order):
            number = order[place]
            item = self.items[number]
            device = item.device
            assert device is not None
            first, last, ganged = run
            neighbors = (place > first or "left" in device.broken) + (place < last or "right" in device.broken)
            key = (neighbors, ganged, tenths[number] if tenths is not None and self._wary[number] else -1)
            margin = item.margins.get(key)
            if margin is None:
                margin = item.margins[key] = self._reckoned(item, device, key)
            least = min(least, margin)
        return least

    def _reckoned(self, item: _Item, device: Device, key: tuple[int, int, int]) -> Fraction:
        """Of a device in a place: once for each, since a limit depends on nothing else."""
        assert item.sheet is not None
        neighbors, ganged, tenths = key
        ambient = None if tenths < 0 else Fraction(tenths, 10)
        place = Position(neighbors, ganged, ambient, bool(device.broken))
        return weakest(ratings_of(place, device, item.sheet, self.terms[device.id]))

    def _runs(self, order: Sequence[int]) -> Iterator[tuple[int, tuple[int, int, int]]]:
        """The place of each yoke in the order, with the first and last place of its run and how many it has."""
        first = 0
        count = len(order)
        while first < count:
            if not self._yokes[order[first]]:
                first += 1
                continue
            last = first
            while last + 1 < count and self._yokes[order[last + 1]]:
                last += 1
            run = (first, last, last - first + 1)
            for place in range(first, last + 1):
                yield place, run
            first = last + 1

    def gangs(self, order: Sequence[int]) -> dict[str, int]:
        """The leftmost gang of each device."""
        gang, gangs = 1, {}
        for number in order:
            device = self.items[number].device
            if device is not None:
                gangs[device.id] = gang
            gang += self._widths[number]
        return gangs

    def moves(self, order: Sequence[int]) -> int:
        """How many devices are elsewhere in it."""
        gangs = self.gangs(order)
        return sum(item.device is not None and gangs[item.device.id] != item.device.gang for item in self.items)

    def _stay(self, order: Sequence[int], stays: Sequence[int]) -> bool:
        gangs = self.gangs(order)
        devices = [self.items[number].device for number in stays]
        return all(device is not None and gangs[device.id] == device.gang for device in devices)


_ALL = Fraction(1)


class _Warm:
    """How warm each device gets in an order: rises add, so the network is solved once for each gang."""

    def __init__(self, box: Box, items: Sequence[_Item], now: Warmth, terms: Terms) -> None:
        gangs = box.enclosure.gangs
        warming, insulated = terms.assume.warming, bool(box.survey.insulated)
        units = ([float(gang == at) for gang in range(gangs)] for at in range(gangs))
        rise = [[float(one) for one in solve(unit, warming, insulated)] for unit in units]
        self._room = now.room
        self._widths = [item.width for item in items]
        self._by_gang = [self._from(item, now, rise, gangs) for item in items]
        """For each item and each gang it could begin in: what it adds to the rise of every gang [K]."""
        self._modules = list(now.gangs)
        for number, item in enumerate(items):
            if item.device is not None:
                added = self._by_gang[number][item.device.gang - 1]
                self._modules = [whole - own for whole, own in zip(self._modules, added, strict=True)]

    @staticmethod
    def _from(item: _Item, now: Warmth, rise: list[list[float]], gangs: int) -> list[list[float]]:
        heat = now.heats[item.device.id] / item.width if item.device is not None else 0.0
        return [
            [heat * sum(rise[own][at] for own in range(begin, begin + item.width)) for at in range(gangs)]
            for begin in range(gangs - item.width + 1)
        ]

    def tenths(self, order: Sequence[int]) -> dict[int, int]:
        """Around each item of an order, in tenths of a degree Celsius, rounded up as [Warmth.ambient][] does."""
        begins: dict[int, int] = {}
        rises = self._modules
        begin = 0
        for number in order:
            begins[number] = begin
            rises = [one + other for one, other in zip(rises, self._by_gang[number][begin], strict=True)]
            begin += self._widths[number]
        return {
            number: tenths_up(self._room + max(rises[begin : begin + self._widths[number]]))
            for number, begin in begins.items()
        }


def _items(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[_Item]:
    gang, by_gang = 1, {device.gang: device for device in box.devices}
    while gang <= box.enclosure.gangs:
        device = by_gang.get(gang)
        sheet = sheets[device.sheet] if device else None
        item = _Item(device, sheet, sheet.gangs if sheet else 1)
        yield item
        gang += item.width
