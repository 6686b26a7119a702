"""Readings that cannot be so: two that contradict each other, and those that stop the work whatever they are of."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...model.box import Box
from ...model.conductor import Reading
from ...model.job import Terms
from ...rules.wires.shown import shown


@dataclass(frozen=True, slots=True)
class Clash:
    """Readings that cannot all be so."""

    readings: tuple[str, ...]
    sentence: str


def state_of(reading: Reading) -> tuple[object, ...]:
    """Between which points a reading was taken, and in which state of everything."""
    one = reading
    return one.kind, one.of, one.to, one.on, one.far, one.lamps, one.circuit, one.others == "as found"


def clashes_of(box: Box, terms: Terms) -> Iterator[Clash]:
    """Readings between the same points in the same state that show different things: no house gives both."""
    first: dict[tuple[object, ...], tuple[Reading, str]] = {}
    for one in box.readings:
        showed = shown(one, terms.voltage)
        if one.kind == "tester" or one.electronic or showed is None or showed in ("between", "through"):
            continue  # ghosts and loads come and go; the tester tells too little
        kind = {"beeps": "joined", "silent": "apart"}.get(showed, showed)
        before, was = first.setdefault(state_of(one), (one, kind))
        if was != kind:
            sentence = f"{before.id} and {one.id} cannot both be so: take them again, tester proven first"
            yield Clash((before.id, one.id), sentence)


def warnings_of(box: Box, terms: Terms) -> Iterator[str]:
    """Readings that stop the work, whatever they are of."""
    for reading in box.readings:
        if reading.kind != "volts":
            continue
        assert reading.volts is not None
        showed = shown(reading, terms.voltage)
        volts = float(reading.volts)
        if showed is None:
            yield (
                f"{reading.id}: {volts:g} V is more than a house of {terms.voltage} V has: a broken tester, a lost "
                "neutral, or another supply. Stop, prove the tester, find out"
            )
        elif not reading.on and showed in ("nominal", "double") and reading.to == "ground":
            yield (
                f"{reading.id}: {volts:g} V with every breaker ticked as off: the wrong breaker, a second circuit, "
                "or a broken tester. Stop, main off, prove the tester"
            )
        elif showed == "between" and reading.meter == "loaded" and reading.lamps == "out":
            yield (
                f"{reading.id}: {volts:g} V on a loaded meter with the lamps out is no ghost: something still "
                "connected, or a bad joint. Find it before going on"
            )
