"""Measure what the wires at a switch are, by looking at the old wiring and one live test.

The wires on the switch are taken off, each in a connector of its own; the splices in the back stay made. What the test
shows is measured, not proven: it is right in a house that is wired to code in jacketed cables. What else such a test
takes for granted is in [TAKEN_FOR_GRANTED][].

Source: common practice in the US and Canada; ANSI C84.1 for the full voltage, from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations
from typing import Literal

from ...model.box import Box
from ...model.contents import OLD_WIRING, Contents
from ...model.figure import IN_PRACTICE, Figure
from ...model.live_test import LiveResult, Reference
from ...model.splice import ConductorEnd, LeadEnd
from ...model.wire import Cable
from ..joints import SUPPLY_230, full_voltage
from .shown import DOUBLE_FROM

NONE_UNDER = Figure("3", "V", "A loaded tester reads nothing under", IN_PRACTICE)
ALIKE = Figure("3", "V", "The ground is one where hot to ground and hot to neutral are within", IN_PRACTICE)

Found = Literal["line hot", "neutral", "switch leg"]
"""What a wire is: fed, before any switch here; the return of that hot; what the switch feeds."""
Touch = Literal["full", "none", "two hots", "other"]
TroubleCode = Literal[
    "two-hots", "odd-voltage", "hot-whites", "no-hot", "both-hot", "dead-switch", "two-feeds", "no-return", "stays-hot",
]  # fmt: skip
TAKEN_FOR_GRANTED = (
    "Each cable is whole, and brings its hot and its neutral in one jacket.",
    "Nothing is borrowed from another circuit, and no ground is used as a neutral.",
    "No other switch stands between the panel and this box.",
)
"""What a live test takes for granted: a house wired to code."""


@dataclass(frozen=True, slots=True)
class Point:
    """Wires that were one connection as found: what one connector holds during the test."""

    wires: tuple[str, ...]
    """Its insulated conductors, by their ids."""
    on: tuple[str, ...]
    """The old devices it was on; () for a splice in the back."""

    @property
    def is_cap(self) -> bool:
        """Whether it is a lone wire under a cap."""
        return not self.on and len(self.wires) == 1


@dataclass(frozen=True, slots=True)
class Row:
    """One touch of the probe, with its latest result."""

    point: Point
    to: Reference | str
    result: LiveResult | None
    shows: Touch | None
    step: Literal["wires", "back", "again", "off"] = "wires"
    """Each connector to the reference; the hot to the wire beside it; the hot once more, to show that the tester still
    reads; the hot with the breaker off again."""


@dataclass(frozen=True, slots=True)
class Trouble:
    """Something a plain switch box wired to code cannot show."""

    code: TroubleCode
    wires: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LiveTest:
    """A live test as far as it has come."""

    rows: tuple[Row, ...]
    """In the order they are taken."""
    wires: Mapping[str, Found]
    """What each wire is; nothing before the whole test is done."""
    neutral: bool | None
    """Whether the neutral of the circuit is here; None: not measured."""
    ground: bool
    """Whether the ground is measured to be one."""
    troubles: tuple[Trouble, ...]

    @property
    def is_done(self) -> bool:
        """Whether every touch was made, and none shows trouble."""
        return not self.troubles and all(row.result is not None for row in self.rows)

    @property
    def next(self) -> Row | None:
        """The next touch; None where none is left, or what was seen must be cleared first."""
        left = (row for row in self.rows if row.result is None)
        return None if self.troubles else next(left, None)


def points_of(box: Box) -> tuple[Point, ...]:
    """Return what was one connection in a box as found: those on the switches first, then the splices in the back.

    () where the old wiring isn't recorded.
    """
    found = box.found
    if found is None or any(one.code == OLD_WIRING for one in found.rests_on):
        return ()
    return _points(found)


@lru_cache
def _points(found: Contents) -> tuple[Point, ...]:
    points = []
    for splice in found.splices:
        wires = tuple(sorted(end.of for end in splice.ends if isinstance(end, ConductorEnd)))
        on = tuple(sorted({end.of for end in splice.ends if isinstance(end, LeadEnd)}))
        if wires:
            points.append(Point(wires, on))
    return tuple(sorted(points, key=lambda point: (not point.on, point.wires)))


def is_plain(box: Box, voltage: int) -> bool:
    """Tell whether one look and one live test can measure a box: two-wire cables, one circuit, switches on their own.

    Args:
        voltage: of a circuit to neutral [V].

    >>> cables = [Cable(id=letter, gauge=14, insulated=2) for letter in "AB"]
    >>> is_plain(Box(id="hall", name="Hall", room="Hall", cables=cables), 120)
    True
    """
    cables = old_cables(box)
    jackets = all(cable.insulated == 2 and cable.kind != "conduit" for cable in cables)
    place = box.use == "control" and box.practice is None and box.survey.on_off is not False
    return voltage < SUPPLY_230 and bool(cables) and jackets and is_on_one_circuit(box) and place


def circuits_in(box: Box) -> frozenset[str]:
    """Return the circuits a box has by its record, and those whose wires were traced into it."""
    said = {box.circuit, *box.other_circuits, *(item.circuit for item in box.equipment)}
    return frozenset(one for one in (*said, *(one.circuit for one in box.readings)) if one is not None)


def is_on_one_circuit(box: Box) -> bool:
    """Tell whether a box is usually on one circuit only; from two gangs up somebody must have entered which."""
    return len(circuits_in(box)) <= 1 and (box.enclosure.gangs == 1 or box.circuit is not None)


def old_cables(box: Box) -> tuple[Cable, ...]:
    """Return the cables of line voltage that were in a box before any work."""
    return tuple(cable for cable in box.cables if cable.id not in box.contents.new and not cable.class2)


def live_test(box: Box, voltage: int) -> LiveTest | None:
    """Return how the live test of a box stands; None where somebody must look first, or it is no plain switch box.

    Args:
        voltage: of a circuit to neutral [V].
    """
    points = points_of(box)
    looked = box.survey.on_off and box.survey.worked
    if not looked or not is_plain(box, voltage) or not _accounts(points, old_cables(box)):
        return None
    taken = _Results(points, old_cables(box), box.live_test, voltage)
    test = LiveTest(tuple(taken.rows()), {}, None, False, tuple(taken.troubles()))
    if not test.is_done:
        return test
    return replace(test, wires=taken.wires(), neutral=taken.neutral(), ground=taken.is_grounded())


def _accounts(points: Sequence[Point], cables: Sequence[Cable]) -> bool:
    """Tell whether the look accounts for every wire.

    Each switch has two connections; the rest are tied together in one splice, or capped one by one.
    """
    wires = sorted(wire for point in points for wire in point.wires)
    tied = [point for point in points if not point.on and not point.is_cap]
    switches = {device for point in points for device in point.on}
    screws = [sum(device in point.on for point in points) for device in switches]
    every = sorted(wire for cable in cables for wire in cable.conductor_ids)
    return wires == every and bool(switches) and set(screws) == {2} and len(tied) <= 1


class _Results:
    """The results of a test by what they are of."""

    def __init__(
        self, points: tuple[Point, ...], cables: tuple[Cable, ...], results: tuple[LiveResult, ...], voltage: int
    ) -> None:
        self.points, self.voltage = points, voltage
        known = {point.wires for point in points}
        self.results = tuple(one for one in results if one.wires in known)
        grounded = any(cable.grounds or cable.has_metal_sheath for cable in cables)
        self.reference: Reference = "ground" if grounded else "cord"
        self.beside = {one: other for cable in cables for one, other in _pairs(cable)}

    def last(self, point: Point, to: str, on: bool = True) -> LiveResult | None:
        """The latest result of a touch."""
        mine = (one for one in reversed(self.results) if one.wires == point.wires and one.to == to and one.on == on)
        return next(mine, None)

    def shows(self, result: LiveResult | None) -> Touch | None:
        """What a result shows, in kind."""
        return None if result is None else touch(result, self.voltage)

    def at(self, point: Point) -> Touch | None:
        """What a point shows to the reference."""
        return self.shows(self.last(point, self.reference))

    @property
    def hot(self) -> Point | None:
        """The connection that reads full voltage to the reference, on a switch."""
        return next((point for point in self.points if point.on and self.at(point) == "full"), None)

    @property
    def tied(self) -> Point | None:
        """The splice in the back that is on no switch."""
        return next((point for point in self.points if not point.on and not point.is_cap), None)

    @property
    def mates(self) -> tuple[str, ...]:
        """The wires beside the hot ones in their own cables, where all of them are tied together in the back."""
        if self.hot is None or self.tied is None:
            return ()
        beside = tuple(self.beside[wire] for wire in self.hot.wires)
        return beside if set(beside) <= set(self.tied.wires) else ()

    def rows(self) -> Iterator[Row]:
        """Every touch of the test, as far as it is known which they are."""
        for point in self.points:
            result = self.last(point, self.reference)
            yield Row(point, self.reference, result, self.shows(result))
        hot = self.hot
        if any(self.at(point) is None for point in self.points) or hot is None:
            return
        if self.mates:
            result = self._after_zeros(self.last(hot, self.mates[0]))
            yield Row(hot, self.mates[0], result, self.shows(result), "back")
        elif self._after_zeros(self.last(hot, self.reference)) is None:
            yield Row(hot, self.reference, None, None, "again")
        result = self.last(hot, self.reference, on=False)
        yield Row(hot, self.reference, result, self.shows(result), "off")

    def _after_zeros(self, result: LiveResult | None) -> LiveResult | None:
        """A result that came after the last reading of nothing: a zero counts only if the tester still reads then."""
        if result is None:
            return None
        zeros = [n for n, one in enumerate(self.results) if one.on and touch(one, self.voltage) == "none"]
        at = max(n for n, one in enumerate(self.results) if one == result)
        return result if at >= max(zeros, default=-1) else None

    def troubles(self) -> Iterator[Trouble]:
        """What a plain switch box wired to code cannot show."""
        showed = {point: self.at(point) for point in self.points}
        yield from (Trouble("two-hots", point.wires) for point, one in showed.items() if one == "two hots")
        yield from (Trouble("odd-voltage", point.wires) for point, one in showed.items() if one == "other")
        if self.tied is not None and showed[self.tied] == "full":
            yield Trouble("hot-whites", self.tied.wires)
        yield from (
            Trouble("two-feeds", point.wires) for point in self.points if point.is_cap and self.at(point) == "full"
        )
        on = [point for point in self.points if point.on]
        hots = [point for point in on if showed[point] == "full"]
        if len(hots) > 1 and not any(set(one.on) & set(other.on) for one, other in combinations(hots, 2)):
            yield Trouble("two-feeds", tuple(wire for point in hots for wire in point.wires))
        if all(showed[point] == "none" for point in on):
            yield Trouble("no-hot", tuple(wire for point in on for wire in point.wires))
        else:
            yield from self._of_switches(on)
        if hots and self.mates and self.shows(self.last(hots[0], self.mates[0])) not in (None, "full"):
            yield Trouble("no-return", self.mates)
        if hots and self.shows(self.last(hots[0], self.reference, on=False)) not in (None, "none"):
            yield Trouble("stays-hot", hots[0].wires)

    def _of_switches(self, on: Sequence[Point]) -> Iterator[Trouble]:
        """Switches with two hot wires, or with none."""
        for device in sorted({device for point in on for device in point.on}):
            mine = [point for point in on if device in point.on]
            shows = {self.at(point) for point in mine}
            wires = tuple(wire for point in mine for wire in point.wires)
            if shows == {"full"}:
                yield Trouble("both-hot", wires)
            elif shows == {"none"}:
                yield Trouble("dead-switch", wires)

    def wires(self) -> dict[str, Found]:
        """What each wire is, of a test that is done and shows no trouble."""
        of: dict[str, Found] = {}
        for point in self.points:
            use: Found = "neutral" if not point.on else "line hot" if self.at(point) == "full" else "switch leg"
            if point.on or (self.mates and not point.is_cap):
                of |= dict.fromkeys(point.wires, use)
        return of

    def neutral(self) -> bool | None:
        """Whether the neutral of the hot is here."""
        if self.mates:
            return True
        return False if self.tied is None else None

    def is_grounded(self) -> bool:
        """Whether hot to ground and hot to neutral were read as figures, and agree."""
        hot, mates = self.hot, self.mates
        if hot is None or not mates or self.reference != "ground":
            return False
        there, back = self.last(hot, "ground"), self.last(hot, mates[0])
        if there is None or back is None or there.volts is None or back.volts is None:
            return False
        return abs(there.volts - back.volts) <= ALIKE


def touch(result: LiveResult, voltage: int) -> Touch:
    """Return what a result shows, in kind.

    Args:
        voltage: of a circuit to neutral [V].

    >>> touch(LiveResult(wires=("A1",), volts="121"), 120), touch(LiveResult(wires=("A1",), volts="60"), 120)
    ('full', 'other')
    """
    if result.volts is None:
        return result.tapped or "other"
    low, high = full_voltage(voltage)
    if low <= result.volts <= high:
        return "full"
    if result.volts < NONE_UNDER:
        return "none"
    return "two hots" if result.volts >= DOUBLE_FROM * voltage else "other"


def _pairs(cable: Cable) -> Iterator[tuple[str, str]]:
    """The two wires of a cable, each with the other."""
    if cable.insulated == 2:
        one, other = cable.conductor_ids
        yield from ((one, other), (other, one))
