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
from .shown import Shown, shown

REFERENCES = ("ground", "neutral", "lead")
"""What a voltage is measured to; trusted only after it has shown the full voltage from a proven hot."""
QUIET: tuple[tuple[Role, To], ...] = (("switched", "lamp center"), ("onward", "next hot"), ("unused", "free end"))
"""Roles of what is dead while its box is apart, and the point each is one wire with."""
LOAD_SIDE: tuple[To, ...] = ("lamp center", "next hot")
RETURN_SIDE: tuple[To, ...] = ("lamp shell", "next neutral")


@dataclass(frozen=True, slots=True)
class Proof:
    """A role that is proven."""

    role: Role
    by: tuple[str, ...]
    """The ids of the readings that do."""
    at: str
    """The point it is one wire with."""


@dataclass(frozen=True, slots=True)
class Proven:
    """All that the readings of a box prove."""

    conductors: Mapping[str, Proof]
    contradicted: frozenset[str]
    """Conductors whose readings prove two roles: something is not as it was said."""
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
    >>> held = Reading.model_validate(traced | {"lamps": "out", "others": "no change"})
    >>> box = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)], readings=[held])
    >>> proven(box, 120).conductors
    {'A1': Proof(role='line', by=('r1',), at='panel hot')}
    """
    return _proven(box.cables, box.readings, voltage)


@lru_cache
def _proven(cables: tuple[Cable, ...], readings: tuple[Reading, ...], voltage: int) -> Proven:
    """Kept once worked out: most acts on a box leave both as they were."""
    taken = [(one, shown(one, voltage)) for one in readings if not one.electronic]
    hot_at = tuple(chain.from_iterable(_hot_at(cable, taken) for cable in cables))
    trusted = _trusted(frozenset(hot_at), taken)
    found: dict[str, list[Proof]] = {}
    for cable in cables:
        for id, proof in _in_cable(cable, taken, trusted):
            found.setdefault(id, []).append(proof)
    split = frozenset(id for id, proofs in found.items() if len({proof.role for proof in proofs}) > 1)
    return Proven({id: proofs[0] for id, proofs in found.items() if id not in split}, split, trusted, hot_at)


Taken = Sequence[tuple[Reading, Shown | None]]


def _of(id: str, taken: Taken) -> Taken:
    return [(one, showed) for one, showed in taken if one.of == id]


def _hot_at(cable: Cable, taken: Taken) -> Iterator[tuple[str, int]]:
    """The proven hots of a cable, each with the positions of the far switch in which it is one."""
    mine = {id: _of(id, taken) for id in cable.conductor_ids}
    for id, readings in mine.items():
        if _line(readings):
            yield from ((id, 1), (id, 2))
    for one, other in permutations(mine, 2):
        if _throws(mine[one], mine[other], "panel hot"):
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


def _in_cable(cable: Cable, taken: Taken, trusted: frozenset[str]) -> Iterator[tuple[str, Proof]]:
    mine = {id: _of(id, taken) for id in cable.conductor_ids}
    to_a_load = any(_wire_to(readings, end) for end in LOAD_SIDE for readings in mine.values())
    for id, readings in mine.items():
        if by := _line(readings):
            yield id, Proof("line", by, "panel hot")
        if by := _neutral(readings, trusted):
            yield id, Proof("neutral", by, "panel neutral")
        for role, end in QUIET:
            if by := _quiet_wire(readings, end, trusted):
                yield id, Proof(role, by, end)
        for end in RETURN_SIDE if to_a_load else ():
            if by := _quiet_wire(readings, end, trusted):
                yield id, Proof("neutral", by, end)
    for one, other in permutations(mine, 2):
        for point in ("panel hot", "lamp center"):
            if by := _throws(mine[one], mine[other], point):
                yield one, Proof("traveler", by, point)
                yield other, Proof("traveler", by, point)


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


def _line(readings: Taken) -> tuple[str, ...]:
    """One wire with the hot of a circuit, traced to the panel: no switch between, and no load."""
    return _wire_to(readings, "panel hot")[:1]


def _neutral(readings: Taken, trusted: frozenset[str]) -> tuple[str, ...]:
    """One wire with the neutral of a circuit, lifted in the panel; while it is, none with ground; and never live."""
    if _was_live(readings, trusted):
        return ()
    for one, _ in readings:
        by = _apart(readings, trusted, one.circuit)
        if by and one.id in _wire_to(readings, "panel neutral"):
            return one.id, by[0]
    return ()


def _quiet_wire(readings: Taken, end: To, trusted: frozenset[str]) -> tuple[str, ...]:
    """One wire to a point beyond; dead with every breaker on and lamps in, so that no load joins it to a hot; and no
    wire to ground, as a neutral of the panel is."""
    there = _wire_to(readings, end)
    dead = tuple(
        one.id
        for one, showed in readings
        if one.to in trusted
        and showed == "zero"
        and one.meter == "loaded"
        and EVERY in one.on
        and one.others == "no change"
        and one.lamps in ("in", "cannot come out")
    )
    loose = _apart(readings, trusted) if not _was_live(readings, trusted) else ()
    return (there[0], dead[0], loose[0]) if there and dead and loose else ()


def _throws(one: Taken, other: Taken, point: str) -> tuple[str, ...]:
    """The two throws of the far switch: each joined to one point, in one position only, and each in another."""
    for circuit in dict.fromkeys(reading.circuit for reading, _ in one if reading.to == point):
        first = _through_far(one, point, circuit, 1)
        second = _through_far(other, point, circuit, 2)
        if first and second:
            return *first, *second
    return ()


def _through_far(readings: Taken, point: str, circuit: str | None, position: int) -> tuple[str, ...]:
    """Joined to a point while the far switch stands so, and not while it stands the other way."""
    there, gone = "", ""
    for one, showed in readings:
        if one.to == point and one.circuit == circuit and one.lamps == "out" and one.others == "as found":
            if showed == "joined" and one.far == position:
                there = one.id
            if showed in NO_WIRE and one.far != position:
                gone = one.id
    return (there, gone) if there and gone else ()
