"""Count the wire connectors that the usual hook-up of a box takes, while nobody has entered any.

Source: common practice of joints: whites together, grounds together, one hot splice with a lead or a pigtail for each
device, one connector for each further lead, joined or capped.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ..model.box import Box, Equipment
from ..model.datasheet import Datasheet
from ..model.gauge import Gauge
from ..model.wire import Cable
from .joints import Size, most_of, size_for

COMMON = ("line", "neutral", "ground")
"""Roles whose leads share a splice with others; every further lead has a connector of its own."""
WITH_LEADS, WITH_SCREWS = "lead", "screw"


def usual_connectors(box: Box, sheets: Mapping[str, Datasheet]) -> tuple[Size, ...]:
    """Return the connectors that the usual hook-up takes, each by its size: none in a box without cables.

    Args:
        sheets: the sheets its devices name, by id.

    >>> cables = [Cable(id=letter, gauge=14, insulated=2) for letter in "AB"]
    >>> usual_connectors(Box(id="b", name="B", room="R", cables=cables), {})
    ('small', 'small', 'small')
    """
    cables = [cable for cable in box.entering if cable.insulated and not cable.class2]
    if not cables:
        return ()
    fed = [item for item in box.equipment if not sheets[item.sheet].is_blank and not sheets[item.sheet].battery]
    ends = [(role, kind) for item in fed for role, kind in _terminals(sheets[item.sheet])]
    returns = [cable for cable in cables if cable.insulated > 1]
    whites = len(returns) if len(cables) > 1 else int(cables[0].insulated > 2)
    grounds = sum(cable.grounds for cable in cables) + (box.enclosure.material == "metal")
    gauge = max(cable.gauge for cable in cables)
    single = [one for role, kind in ends if role not in COMMON and kind == WITH_LEADS for one in held_by(2, gauge)]
    shared = *_splice(grounds, ends, "ground", gauge), *_splice(whites, ends, "neutral", gauge)
    return (*shared, *_hots(box, cables, fed, sheets), *single)


def _hots(box: Box, cables: list[Cable], fed: list[Equipment], sheets: Mapping[str, Datasheet]) -> Iterator[Size]:
    """The hot splices: one for each circuit, with the hots that no device switches."""
    gauge = max(cable.gauge for cable in cables)
    by_circuit: dict[str | None, list[tuple[str, str]]] = {}
    for item in fed:
        by_circuit.setdefault(box.circuit_of(item), []).extend(_terminals(sheets[item.sheet]))
    if not fed:
        yield from held_by(len(cables), gauge) if len(cables) > 1 else ()
        return
    legs = sum(_legs(item, sheets[item.sheet]) for item in fed)
    left = max(len(cables) - legs, len(by_circuit))
    shares = [left - len(by_circuit) + 1, *(1 for _ in range(len(by_circuit) - 1))]
    for hots, ends in zip(shares, by_circuit.values(), strict=True):
        yield from _splice(hots, ends, "line", gauge)


def _legs(item: Equipment, sheet: Datasheet) -> int:
    """How many switch legs leave from a device: one for each channel with a load, and for each it has where none is."""
    every = sum(role.endswith("load") for role, _ in _terminals(sheet))
    return min(len({load.channel for load in item.loads}) or every, every)


def _splice(wires: int, ends: list[tuple[str, str]], role: str, gauge: Gauge) -> tuple[Size, ...]:
    """The connectors for wires and the terminals of a role: none for a lone wire that goes under a screw."""
    mine = [kind for of, kind in ends if of == role]
    if wires + len(mine) <= 1:
        return held_by(1, gauge) if WITH_LEADS in mine else ()
    return () if wires == 1 and mine == [WITH_SCREWS] else held_by(wires + len(mine), gauge)


def held_by(ends: int, gauge: Gauge) -> tuple[Size, ...]:
    """Return the connectors that hold so many ends: where no size takes them all, with jumpers from one to the next.

    >>> from nail_count.trade.model.gauge import awg
    >>> held_by(5, awg(14)), held_by(6, awg(14))
    (('large',), ('large', 'medium'))
    """
    most, left, sizes = most_of(gauge), max(ends, 2), list[Size]()
    while most > 2 and left > most:
        sizes.append("large")
        left -= most - 2  # a jumper leaves here, and comes in at the next
    return (*sizes, size_for(left, gauge) or "large")


def _terminals(sheet: Datasheet) -> Iterator[tuple[str, str]]:
    """The terminals of a sheet, each with its kind; where it names none, those of a plain device."""
    if sheet.terminals:
        yield from ((one.role, one.kind) for one in sheet.terminals)
        return
    usual = ("line", "load", "ground")
    screws = sheet.kind in ("switch", "receptacle") if sheet.leads is None else sheet.leads == 0
    kind = WITH_SCREWS if screws else WITH_LEADS
    yield from ((role, kind) for role in (usual[: sheet.leads] if sheet.leads else usual))
