"""The best order of a box's devices: the one that leaves most margin on its weakest channel."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from .fixes import weakest
from .model.box import Box, Device
from .model.job import Terms
from .model.sheet import Sheet
from .rules.rating import Position, rating_at

_POSITIONS: tuple[Position, ...] = ("alone", "end", "middle")


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


@dataclass(frozen=True, slots=True)
class _Item:
    """A device, or an empty gang."""

    device: Device | None
    width: int
    yoke: bool
    """Whether it is somebody's neighbor."""
    margins: tuple[Fraction, ...]
    """By how many neighbors it has."""


def best_order(
    box: Box, sheets: Mapping[str, Sheet], terms: Terms | None = None, fixed: Sequence[str] = ()
) -> Order | None:
    """The order that leaves most margin on its weakest channel; None where none is better than the one there is.

    Every order is gone through, eight gangs being 40,320 at most. A limit depends only on how many neighbors a device
    has, so each device is reckoned three times in all.

    Args:
        box: the box.
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
        fixed: devices that stay where they are, by id.
    """
    voltage = (terms or Terms()).voltage
    items = list(_items(box, sheets, voltage))
    places = [number for number, item in enumerate(items) if item.device is None or item.device.id not in fixed]
    before = _margin(items)
    best: tuple[Fraction, int] | None = None
    found: list[_Item] = []
    for order in _orders([items[number] for number in places]):
        laid = list(items)
        for number, item in zip(places, order, strict=True):
            laid[number] = item
        if fixed and not _stay(laid, fixed):
            continue
        key = _margin(laid), -_moves(laid)
        if best is None or key > best:
            best, found = key, laid
    if best is None or best[0] <= before:
        return None
    return Order(_gangs(found), before, best[0], -best[1])


def _items(box: Box, sheets: Mapping[str, Sheet], voltage: int) -> Iterator[_Item]:
    gang, by_gang = 1, {device.gang: device for device in box.devices}
    while gang <= box.enclosure.gangs:
        device = by_gang.get(gang)
        if device is None:
            yield _Item(None, 1, False, (Fraction(1),) * 3)
            gang += 1
            continue
        sheet = sheets[device.sheet]
        channels = range(1, len(sheet.channels) + 1)
        margins = tuple(
            weakest(rating_at(position, device, channel, sheet, voltage) for channel in channels)
            for position in _POSITIONS
        )
        yield _Item(device, sheet.gangs, not sheet.is_blank, margins)
        gang += sheet.gangs


def _orders(items: list[_Item]) -> Iterator[list[_Item]]:
    """Every order; two empty gangs, or two devices that are worth the same everywhere, are taken for one another."""
    if not items:
        yield []
        return
    seen = set()
    for number, item in enumerate(items):
        key = (item.width, item.yoke, item.margins, item.device and item.device.id)
        if item.device is None:
            key = (1, False, (), None)
        if key in seen:
            continue
        seen.add(key)
        for rest in _orders(items[:number] + items[number + 1 :]):
            yield [item, *rest]


def _margin(items: Sequence[_Item]) -> Fraction:
    """Of the weakest channel in this order."""
    least = Fraction(1)
    for number, item in enumerate(items):
        if item.device is None or not item.yoke:
            continue
        left = number > 0 and items[number - 1].yoke
        right = number + 1 < len(items) and items[number + 1].yoke
        least = min(least, item.margins[left + right])
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
