"""How warm it gets in a box: an estimate, labeled so, that may only lower a limit.

A steady-state network with one node for each gang. Each is tied to the room through the plate, to the wall cavity and
to its neighbors; the rises follow from the heat put in by one linear system. No published conductances exist: those
used are common practice, kept with the job and to be changed there.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ...model.answer import Rule
from ...model.assumptions import Warming
from ...model.box import Box, Equipment, Module
from ...model.datasheet import Datasheet, DeviceKind
from ...model.figure import Figure, table
from ...model.job import NO_VOLTS, Terms, terms_of
from ...model.load import Load
from ..volume.spaces import space_of_gang
from .draw import drawn

ESTIMATE = Rule("Estimate, common practice", "", "practice")
SHARE: dict[DeviceKind, Figure] = table(
    "share", "Heat a {} makes, of its load", ESTIMATE, {"dimmer": "0.015", "fan control": "0.015"}
)
"""Of its load a phase-cut control turns into heat, where its sheet does not say; common practice."""
RADIO = Figure("1", "W", "A radio takes at all times", ESTIMATE)
"""What a radio or a relay takes at all times [W], where the sheet does not say; common practice."""
CONTACT = Figure("0.02", "Ω", "A relay's contact and tracks", ESTIMATE)
"""Resistance of a relay's contact and tracks [Ω], for its losses; common practice."""
RELAYS: frozenset[DeviceKind] = frozenset(("smart switch", "countdown", "sensor", "module"))


@dataclass(frozen=True, slots=True)
class Warmth:
    """How warm it gets."""

    room: float
    """[°C]."""
    gangs: tuple[float, ...]
    """Rise of each gang over the room [K]."""
    heats: Mapping[str, float]
    """What each device and module turns into heat [W], by id."""
    rises: Mapping[str, float]
    """Rise at each device and module [K], by id: at the warmest gang it takes."""

    def ambient(self, id: str) -> Fraction:
        """Around a device or module [°C], rounded up to a tenth."""
        return Fraction(tenths_up(self.room + self.rises[id]), 10)


def tenths_up(celsius: float) -> int:
    """A temperature in tenths of a degree, rounded up; what floats cannot tell from a tenth is that tenth."""
    return math.ceil(celsius * 10 - 1e-6)


def warmth_that_limits(
    box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int] = NO_VOLTS
) -> Warmth | None:
    """How warm it gets; None where no sheet in the box has a limit by it, so that nobody need reckon it."""
    limited = any(sheets[item.sheet].ambient is not None for item in box.equipment)
    return warmth(box, sheets, terms, volts) if limited else None


def warmth(box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int] = NO_VOLTS) -> Warmth:
    """How warm each gang of a box gets with everything on.

    Args:
        box: the box; its loads make the heat.
        sheets: the sheets its devices and modules name, by id.
        terms: conductances, the room, assumptions about loads.
        volts: across what each circuit feeds [V], by its id: a device on another circuit than its box makes its heat
            at the volts of that one.

    Source: common practice; the sheet's own figure for its heat wins.
    """
    heats = {item.id: heat_of(item, sheets[item.sheet], terms_of(item, box, terms, volts)) for item in box.equipment}
    taken = {item.id: _gangs_of(item, sheets[item.sheet], box) for item in box.equipment}
    put_in = [0.0] * box.enclosure.gangs
    for id, gangs in taken.items():
        for gang in gangs:
            put_in[gang - 1] += heats[id] / len(gangs)
    rise = solve(put_in, terms.assume.warming, bool(box.survey.insulated))
    rises = {id: max(rise[gang - 1] for gang in gangs) for id, gangs in taken.items()}
    return Warmth(float(terms.assume.warming.room), rise, heats, rises)


def solve(heats: Sequence[float], warming: Warming, insulated: bool = False) -> tuple[float, ...]:
    """Return the rise of each gang over the room [K].

    Args:
        heats: the heat made in each gang, from the left [W].
        warming: the conductances [W/K].
        insulated: whether the wall is filled with insulation.

    >>> [round(rise, 1) for rise in solve([7.0], Warming())]
    [35.0]
    """
    import numpy as np  # Here, since most boxes have no limit by temperature, and a rule must load fast.

    count = len(heats)
    out = float(warming.to_room + (warming.to_insulated_cavity if insulated else warming.to_cavity))
    beside = float(warming.to_neighbor)
    network = np.diag(np.full(count, out))
    for gang in range(count - 1):
        network[gang, gang] += beside
        network[gang + 1, gang + 1] += beside
        network[gang, gang + 1] = network[gang + 1, gang] = -beside
    return tuple(np.linalg.solve(network, np.asarray(heats, dtype=float)).tolist())


def heat_of(item: Equipment, sheet: Datasheet, terms: Terms) -> float:
    """What a device or module turns into heat with everything on [W]: by its sheet, else by common practice."""
    said = sheet.heat
    standby, by_channel = float(standby_of(sheet)), _by_channel(item, terms)
    watts = sum(by_channel.values())
    if said.share is not None:
        return standby + float(said.share) * watts
    if sheet.kind in RELAYS:
        return standby + sum(float(CONTACT) * (used / terms.voltage) ** 2 for used in by_channel.values())
    return standby + float(SHARE.get(sheet.kind, 0)) * watts


def standby_of(sheet: Datasheet) -> Fraction:
    """What a device takes with everything off [W]: by its sheet, else what a radio or a relay usually takes."""
    if sheet.heat.standby is not None:
        return sheet.heat.standby.value
    awake = (sheet.radio or sheet.kind in RELAYS) and not sheet.battery
    return RADIO if awake else Fraction(0)


def _by_channel(item: Equipment, terms: Terms) -> dict[int, float]:
    found: dict[int, float] = {}
    for load in item.loads:
        found[load.channel] = found.get(load.channel, 0.0) + _watts(load, terms)
    return found


def _watts(load: Load, terms: Terms) -> float:
    """What a load uses [W]; where only its amps are known, volts times amps, which is never less."""
    for unit in ("W", "VA"):
        total = drawn(load, unit, terms.voltage, terms.assume).total
        if total is not None:
            return float(total)
    return 0.0  # a motor of a horsepower no table knows


def _gangs_of(item: Equipment, sheet: Datasheet, box: Box) -> list[int]:
    """The gangs a device takes; for a module the one it lies behind, or all of its space where that is not known."""
    if not isinstance(item, Module):
        return list(range(item.gang, item.gang + sheet.gangs))
    if item.gang is not None and item.gang <= box.enclosure.gangs:
        return [item.gang]
    every = range(1, box.enclosure.gangs + 1)
    return [gang for gang in every if space_of_gang(box, gang) == item.space] or list(every)
