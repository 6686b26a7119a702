"""What readings prove of a conductor: for each role, those that no other use of the conductor could give.

They are taken with the wires of the box apart. A role is what the conductor reaches, not how it was joined in the box.
Nothing here knows of ways a place is wired: what proves, proves in a house that is wired as no other.

Source: common practice; power off and dead proven for every reading in ohms.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import chain, permutations

from ...model.box import Box
from ...model.conductor import EVERY, Reading, Role, To
from ...model.wire import Cable
from ..joints import SUPPLY_230
from .shown import Shown, shown

REFERENCES = ("ground", "neutral", "lead")
"""What a voltage is measured to; trusted only after it has shown the full voltage from a proven hot."""
QUIET: tuple[tuple[Role, To], ...] = (("switched", "lamp center"), ("onward", "next hot"), ("unused", "free end"))
"""Roles of wires that are dead while their box is apart, and the point each is one wire with."""
LOAD_SIDE: tuple[To, ...] = ("lamp center", "next hot")
RETURN_SIDE: tuple[To, ...] = ("lamp shell", "next neutral")
THROWN: tuple[To, ...] = ("panel hot", "lamp center")
"""What the common of a far switch is joined to."""


@dataclass(frozen=True, slots=True)
class Evidence:
    """A role that is proven."""

    role: Role
    by: tuple[str, ...]
    """The ids of the readings that do."""
    at: str
    """The point it is one wire with."""


@dataclass(frozen=True, slots=True)
class Proven:
    """All that the readings of a box prove."""

    conductors: Mapping[str, Evidence]
    contradicted: frozenset[str]
    """Conductors whose readings prove two roles: something is not as it was entered."""
    trusted: frozenset[str]
    """Of ground, neutral and lead: those that may be measured to."""
    hot_at: tuple[tuple[str, int], ...]
    """The proven hots, each with a position of the far switch in which it is one."""


NO_WIRE: tuple[Shown, ...] = ("through", "apart", "silent")
"""What shows that two points are not one wire."""


def proven(box: Box, voltage: int) -> Proven:
    """What the readings of a box prove of its conductors.

    Args:
        box: with its cables and readings.
        voltage: of a circuit to neutral [V].

    >>> traced = {"id": "r1", "kind": "continuity", "of": "A1", "to": "panel hot", "circuit": "7", "ohms": "0.4"}
    >>> held = traced | {"lamps": "out", "others": "no change"}
    >>> others = held | {"id": "r2", "to": "panel neutral", "ohms": "40"}, held | {"id": "r3", "of": "A2", "ohms": "40"}
    >>> box = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)], readings=[held, *others])
    >>> proven(box, 120).conductors
    {'A1': Evidence(role='line', by=('r1', 'r2', 'r3'), at='panel hot')}
    """
    return _proven(box.cables, box.readings, voltage)


@lru_cache
def _proven(cables: tuple[Cable, ...], readings: tuple[Reading, ...], voltage: int) -> Proven:
    """Kept once worked out: most acts on a box leave both as they were."""
    taken = [(one, shown(one, voltage)) for one in readings if not one.electronic]
    sound = _sound_neutrals(taken)
    hot_at = tuple(chain.from_iterable(_hot_at(cable, taken, sound) for cable in cables))
    trusted = _trusted(frozenset(hot_at), taken)
    found: dict[str, list[Evidence]] = {}
    parts = main_parts_neutral(voltage)
    for cable in cables:
        for id, proof in _in_cable(cable, taken, trusted, sound, neutral_parts=parts):
            found.setdefault(id, []).append(proof)
    split = frozenset(id for id, proofs in found.items() if len({proof.role for proof in proofs}) > 1)
    return Proven({id: proofs[0] for id, proofs in found.items() if id not in split}, split, trusted, hot_at)


Taken = Sequence[tuple[Reading, Shown | None]]
Sound = Mapping[str | None, str]
"""The circuits whose neutral reaches the box, each with the reading that shows it."""


def _of(id: str, taken: Taken) -> Taken:
    return [(one, showed) for one, showed in taken if one.of == id]


def _hot_at(cable: Cable, taken: Taken, sound: Sound) -> Iterator[tuple[str, int]]:
    """The proven hots of a cable, each with the positions of the far switch in which it is one."""
    mine = {id: _of(id, taken) for id in cable.conductor_ids}
    for id in mine:
        if _line(id, mine, sound):
            yield from ((id, 1), (id, 2))
    for one, other in permutations(mine, 2):
        if _throws(mine[one], mine[other], "panel hot", sound):
            yield from ((one, 1), (other, 2))


def _trusted(hot_at: frozenset[tuple[str, int]], taken: Taken) -> frozenset[str]:
    """The references that showed the full voltage from every proven hot they were measured from."""
    good: set[str] = set()
    bad: set[str] = set()
    for one, showed in taken:
        if (
            (one.of, one.far) in hot_at
            and one.to in REFERENCES
            and one.kind == "volts"
            and one.meter == "loaded"
            and one.on
        ):
            (good if showed == "nominal" else bad).add(one.to)
    return frozenset(good - bad)


def main_parts_neutral(voltage: int) -> bool:
    """Return whether the main of a house of this voltage may open the neutral too, or its ground be a rod of its own.

    Then a neutral has no wire to ground while the power is off, and ohms to ground tell it from nothing.
    """
    return voltage >= SUPPLY_230


def _in_cable(
    cable: Cable, taken: Taken, trusted: frozenset[str], sound: Sound, *, neutral_parts: bool
) -> Iterator[tuple[str, Evidence]]:
    mine = {id: _of(id, taken) for id in cable.conductor_ids}
    to_a_load = any(_wire_to(readings, end) for end in LOAD_SIDE for readings in mine.values())
    for id, readings in mine.items():
        if by := _line(id, mine, sound):
            yield id, Evidence("line", by, "panel hot")
        if by := _neutral(readings, trusted):
            yield id, Evidence("neutral", by, "panel neutral")
        for role, end in QUIET:
            if by := _quiet_wire(readings, end, trusted, neutral_parts=neutral_parts):
                yield id, Evidence(role, by, end)
        for end in RETURN_SIDE if to_a_load else ():
            if by := _quiet_wire(readings, end, trusted, neutral_parts=neutral_parts):
                yield id, Evidence("neutral", by, end)
    for one, other in permutations(mine, 2):
        for point in THROWN:
            if by := _throws(mine[one], mine[other], point, sound):
                yield one, Evidence("traveler", by, point)
                yield other, Evidence("traveler", by, point)


def _wire_to(readings: Taken, end: To) -> tuple[str, ...]:
    """Readings that show one wire to a point, all loads out, whatever switch is flipped meanwhile.

    One that shows it apart from that point in any state, or changing, takes the others away: something is switched.
    """
    there = [(one, showed) for one, showed in readings if one.to == end]
    switched = {one.circuit for one, showed in there if showed in NO_WIRE or one.others == "change"}
    return tuple(
        one.id
        for one, showed in there
        if showed == "joined" and one.lamps == "out" and one.others == "no change" and one.circuit not in switched
    )


def _was_live(readings: Taken, trusted: frozenset[str]) -> bool:
    """Whether a wire ever showed a voltage, on a loaded meter, to a point that may be measured to."""
    loaded = (showed for one, showed in readings if one.to in trusted and one.meter == "loaded" and one.kind == "volts")
    return any(showed != "zero" for showed in loaded)


def _apart(readings: Taken, trusted: frozenset[str], circuit: str | None = None) -> tuple[str, ...]:
    """Readings that show no wire to a ground that is one, the panel as it is, or with a circuit's wires lifted.

    () where another one shows a wire there.
    """
    grounds = trusted - {"neutral"}
    there = [(one.id, showed) for one, showed in readings if one.to in grounds and one.circuit == circuit]
    if any(showed in ("joined", "beeps") for _, showed in there):
        return ()
    return tuple(id for id, showed in there if showed in NO_WIRE)


def _no_wire(readings: Taken, end: To, circuit: str | None, far: int | None = None) -> dict[str, Shown]:
    """Return the readings that show no wire to a point, each with what it shows; none where another shows a wire there.

    With `far` only readings in that position of the far switch count.
    """
    there = {
        one.id: showed
        for one, showed in readings
        if one.to == end and one.circuit == circuit and far in (None, one.far) and showed is not None
    }
    if {"joined", "beeps"} & set(there.values()):
        return {}
    return {id: showed for id, showed in there.items() if showed in NO_WIRE}


def _sound_neutrals(taken: Taken) -> Sound:
    """Return the circuits whose neutral reaches the box, each with the reading that shows it."""
    ids = dict.fromkeys(one.of for one, _ in taken)
    joined = {found for id in ids for found in _wire_to(_of(id, taken), "panel neutral")}
    return {one.circuit: one.id for one, _ in reversed(taken) if one.id in joined}


def _clear_of_neutral(readings: Taken, circuit: str | None, sound: Sound, far: int | None = None) -> tuple[str, ...]:
    """Return the readings that show a conductor to be no neutral of a circuit, though loads of it read as a wire.

    A dozen cold bulbs or a pump elsewhere on the circuit reads under 2 Ω, and so does the neutral to the lifted hot
    through them. It has a wire to the lifted neutral then, unless it is broken on the way. That it isn't is shown by
    the loads of the circuit, read through, or by another conductor of the box that reaches the lifted neutral.
    """
    clear = _no_wire(readings, "panel neutral", circuit, far)
    through = [id for id, showed in clear.items() if showed == "through"]
    if through:
        return (through[0],)
    return (next(iter(clear)), sound[circuit]) if clear and circuit in sound else ()


def _line(id: str, cable: Mapping[str, Taken], sound: Sound) -> tuple[str, ...]:
    """Return the readings that prove one wire with the hot of a circuit: no switch between, and no load.

    It is clear of the neutral, and no other conductor of the cable is one with that hot in every position of the far
    switch: two that are can be a hot and a neutral that is broken on its way, joined by other loads.
    """
    for traced in _wire_to(cable[id], "panel hot"):
        circuit = next(one.circuit for one, _ in cable[id] if one.id == traced)
        clear = _clear_of_neutral(cable[id], circuit, sound)
        beside = [_ever_apart(readings, circuit) for other, readings in cable.items() if other != id]
        if clear and all(beside):
            return (traced, *clear, *chain.from_iterable(beside))
    return ()


def _ever_apart(readings: Taken, circuit: str | None) -> tuple[str, ...]:
    """Return a reading that shows a conductor apart from a circuit's hot in some position of the far switch."""
    found = (_no_wire(readings, "panel hot", circuit, far) for far in (1, 2))
    return next(((next(iter(by)),) for by in found if by), ())


def _neutral(readings: Taken, trusted: frozenset[str]) -> tuple[str, ...]:
    """Return the readings that prove one wire with the neutral of a circuit, lifted in the panel.

    While it is lifted, there is no wire to ground. With every breaker on it is dead: a hot of any circuit can read as
    one wire with a neutral through other loads, and is live then.
    """
    dead = _dead(readings, trusted)
    if not dead or _was_live(readings, trusted):
        return ()
    for one, _ in readings:
        by = _apart(readings, trusted, one.circuit)
        if by and one.id in _wire_to(readings, "panel neutral"):
            return one.id, by[0], dead[0]
    return ()


def _dead(readings: Taken, trusted: frozenset[str]) -> tuple[str, ...]:
    """Return the readings that show nothing with every breaker on and lamps in, whatever switch is flipped."""
    return tuple(
        one.id
        for one, showed in readings
        if one.to in trusted
        and showed == "zero"
        and one.meter == "loaded"
        and EVERY in one.on
        and one.others == "no change"
        and one.lamps in ("in", "cannot come out")
    )


def _quiet_wire(readings: Taken, end: To, trusted: frozenset[str], *, neutral_parts: bool) -> tuple[str, ...]:
    """Return the readings that prove one wire to a point beyond that the panel joins to nothing.

    It is dead with every breaker on and lamps in, so that no load joins it to a hot. It has no wire to ground, as a
    neutral of the panel has; where the main parts the neutral from ground, no voltage from a hot instead.
    """
    there, dead = _wire_to(readings, end), _dead(readings, trusted)
    if not there or not dead or not trusted or _was_live(readings, trusted):
        return ()
    loose = _no_return(readings) if neutral_parts else _apart(readings, trusted)
    return (there[0], dead[0], loose[0]) if loose else ()


def _no_return(readings: Taken) -> tuple[str, ...]:
    """Return the readings that show nothing from a hot with every breaker on, loads out: a neutral shows it all."""
    from_hot = [(one, showed) for one, showed in readings if one.to == "hot" and one.kind == "volts" and one.on]
    if any(showed != "zero" and one.meter == "loaded" and one.lamps == "out" for one, showed in from_hot):
        return ()
    return tuple(
        one.id
        for one, showed in from_hot
        if showed == "zero"
        and one.meter == "loaded"
        and EVERY in one.on
        and one.others == "no change"
        and one.lamps == "out"
    )


def _throws(one: Taken, other: Taken, point: To, sound: Sound) -> tuple[str, ...]:
    """Return the readings that prove two throws of the far switch.

    Each is joined to one point, in one position only, and each in another. Where that point is the panel's hot, each
    is clear of the neutral then: the switch may stand in the neutral, and read as hot through other loads.
    """
    for circuit in dict.fromkeys(reading.circuit for reading, _ in one if reading.to == point):
        first = _through_far(one, point, circuit, 1, sound)
        second = _through_far(other, point, circuit, 2, sound)
        if first and second:
            return *first, *second
    return ()


def _through_far(readings: Taken, point: To, circuit: str | None, position: int, sound: Sound) -> tuple[str, ...]:
    """Joined to a point while the far switch stands so, and not while it stands the other way."""
    there, gone = "", ""
    for one, showed in readings:
        if one.to == point and one.circuit == circuit and one.lamps == "out" and one.others == "as found":
            if showed == "joined" and one.far == position:
                there = one.id
            if showed in NO_WIRE and one.far != position:
                gone = one.id
    if not there or not gone:
        return ()
    if point != "panel hot":
        return there, gone
    clear = _clear_of_neutral(readings, circuit, sound, position)
    return (there, gone, *clear) if clear else ()
