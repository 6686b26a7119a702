"""Count the wire connectors that the usual hook-up of a box takes, while nobody has entered any.

Source: common practice of joints: whites together, grounds together, one hot splice with a lead or a pigtail for each
device, one connector for each further lead, joined or capped.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from math import ceil

from ..model.box import Box, Equipment
from ..model.datasheet import Datasheet
from ..model.gauge import Gauge
from ..model.wire import Cable
from .joints import TAKES

COMMON = ("line", "neutral", "ground")
"""Roles whose leads share a splice with others; every further lead has a connector of its own."""
WITH_LEADS, WITH_SCREWS = "lead", "screw"


def usual_connectors(box: Box, sheets: Mapping[str, Datasheet]) -> int:
    """Return how many connectors the usual hook-up takes: none in a box without cables.

    Args:
        sheets: the sheets its devices name, by id.

    >>> cables = [Cable(id=letter, gauge=14, insulated=2) for letter in "AB"]
    >>> usual_connectors(Box(id="b", name="B", room="R", cables=cables), {})
    3
    """
    cables = [cable for cable in box.entering if cable.insulated and not cable.class2]
    if not cables:
        return 0
    fed = [item for item in box.equipment if not sheets[item.sheet].is_blank and not sheets[item.sheet].battery]
    ends = [(role, kind) for item in fed for role, kind in _terminals(sheets[item.sheet])]
    returns = [cable for cable in cables if cable.insulated > 1]
    whites = len(returns) if len(cables) > 1 else int(cables[0].insulated > 2)
    bonded = box.enclosure.material == "metal"
    grounds = sum(cable.grounds for cable in cables) + bonded
    single = sum(role not in COMMON and kind == WITH_LEADS for role, kind in ends)
    gauge = max(cable.gauge for cable in cables)
    shared = _splice(grounds, ends, "ground", gauge) + _splice(whites, ends, "neutral", gauge)
    return shared + _hots(box, cables, fed, sheets) + single


def _hots(box: Box, cables: list[Cable], fed: list[Equipment], sheets: Mapping[str, Datasheet]) -> int:
    """The hot splices: one for each circuit, with the hots that no device switches."""
    by_circuit: dict[str | None, list[tuple[str, str]]] = {}
    for item in fed:
        by_circuit.setdefault(box.circuit_of(item), []).extend(_terminals(sheets[item.sheet]))
    if not fed:
        return int(len(cables) > 1)
    legs = sum(sum(role.endswith("load") for role, _ in _terminals(sheets[item.sheet])) for item in fed)
    left = max(len(cables) - legs, len(by_circuit))
    shares = [left - len(by_circuit) + 1, *(1 for _ in range(len(by_circuit) - 1))]
    return sum(
        _splice(hots, ends, "line", max(cable.gauge for cable in cables))
        for hots, ends in zip(shares, by_circuit.values(), strict=True)
    )


def _splice(wires: int, ends: list[tuple[str, str]], role: str, gauge: Gauge) -> int:
    """The connectors for wires and the terminals of a role: none for a lone wire that goes under a screw."""
    mine = [kind for of, kind in ends if of == role]
    if wires + len(mine) <= 1:
        return int(WITH_LEADS in mine)
    return 0 if wires == 1 and mine == [WITH_SCREWS] else held_by(wires + len(mine), gauge)


def held_by(ends: int, gauge: Gauge) -> int:
    """Return how many connectors of the largest size hold so many ends, with a jumper from one to the next.

    >>> from nail_count.trade.model.gauge import awg
    >>> held_by(5, awg(14)), held_by(6, awg(14)), held_by(9, awg(12))
    (1, 2, 4)
    """
    most = next((int(most) for up_to, most in TAKES["large"] if gauge <= up_to), 2)
    return 1 if ends <= most or most <= 2 else ceil((ends - 2) / (most - 2))


def _terminals(sheet: Datasheet) -> Iterator[tuple[str, str]]:
    """The terminals of a sheet, each with its kind; where it names none, those of a plain device."""
    if sheet.terminals:
        yield from ((one.role, one.kind) for one in sheet.terminals)
        return
    usual = ("line", "load", "ground")
    screws = sheet.kind in ("switch", "receptacle") if sheet.leads is None else sheet.leads == 0
    kind = WITH_SCREWS if screws else WITH_LEADS
    yield from ((role, kind) for role in (usual[: sheet.leads] if sheet.leads else usual))
