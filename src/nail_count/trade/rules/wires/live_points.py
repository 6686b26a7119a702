"""The touches of a live test at old switches, and what each of them showed.

The wires on the switch are taken off, each in a connector of its own; the splices in the back stay made. What the test
shows is measured, not proven: it is right in a house that is wired to code in jacketed cables. What else such a test
takes for granted is in [TAKEN_FOR_GRANTED][].

Source: common practice in the US and Canada; ANSI C84.1 for the full voltage, from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from ...model.box import Box
from ...model.contents import OLD_WIRING, Contents
from ...model.figure import IN_PRACTICE, Figure
from ...model.live_test import LiveResult, Reference
from ...model.splice import ConductorEnd, LeadEnd
from ...model.wire import Cable
from ..joints import full_voltage
from .shown import DOUBLE_FROM

NONE_UNDER = Figure("3", "V", "A loaded tester reads nothing under", IN_PRACTICE)
ALIKE = Figure("3", "V", "The ground is one where hot to ground and hot to neutral are within", IN_PRACTICE)

Found = Literal["line hot", "neutral", "switch leg", "traveler"]
"""What a wire is: fed, before any switch here; the return of that hot; what the switch feeds; one of the two wires from
a three-way switch to the next."""
RowStep = Literal["wires", "back", "again", "flipped", "still flipped", "off"]
"""Each connector to the reference; the hot to the wire beside it; the hot once more, to show that the tester still
reads; a wire once more as the other switch is flipped; another one with it left so; the hot with the breaker off
again."""
Touch = Literal["full", "none", "two hots", "other"]
TroubleCode = Literal[
    "two-hots", "odd-voltage", "hot-whites", "no-hot", "both-hot", "dead-switch", "two-feeds", "no-return", "stays-hot",
    "no-scheme",
]  # fmt: skip
TAKEN_FOR_GRANTED = (
    "Each cable is whole, and brings its hot and its neutral in one jacket.",
    "Nothing is borrowed from another circuit, and no ground is used as a neutral.",
    "No other switch stands between the panel and this box.",
)
"""What a live test takes for granted: a house wired to code."""
OF_SEVERAL_PLACES = (
    *TAKEN_FOR_GRANTED[:2],
    "The other switches of this light are plain ones, and are wired as they were.",
)
"""The same, at one of several switches of a light."""


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
    step: RowStep = "wires"
    flipped: bool = False
    """With the other switch of the same light flipped."""


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


def circuits_in(box: Box) -> frozenset[str]:
    """Return the circuits a box has by its record, and those whose wires were traced into it."""
    said = {box.circuit, *box.other_circuits, *(item.circuit for item in box.equipment)}
    return frozenset(one for one in (*said, *(one.circuit for one in box.readings)) if one is not None)


def is_on_one_circuit(box: Box) -> bool:
    """Tell whether a box is usually on one circuit only; from two gangs up somebody must have entered which."""
    return len(circuits_in(box)) <= 1 and (box.enclosure.gangs == 1 or box.circuit is not None)


def old_cables(box: Box) -> tuple[Cable, ...]:
    """Return the cables of line voltage that were in a box before any work."""
    return tuple(cable for cable in box.cables if cable.id not in box.contents.brought and not cable.class2)


class Results:
    """The results of a live test by what they are of."""

    def __init__(
        self, points: tuple[Point, ...], cables: tuple[Cable, ...], results: tuple[LiveResult, ...], voltage: int
    ) -> None:
        self.points, self.voltage = points, voltage
        known = {point.wires for point in points}
        self.results = tuple(one for one in results if one.wires in known)
        grounded = any(cable.grounds or cable.has_metal_sheath for cable in cables)
        self.reference: Reference = "ground" if grounded else "cord"

    def last(self, point: Point, to: str, *, on: bool = True, flipped: bool = False) -> LiveResult | None:
        """The latest result of a touch."""
        state = (to, on, flipped)
        mine = (one for one in reversed(self.results) if one.wires == point.wires)
        return next((one for one in mine if (one.to, one.on, one.flipped) == state), None)

    def shows(self, result: LiveResult | None) -> Touch | None:
        """What a result shows, in kind."""
        return None if result is None else touch(result, self.voltage)

    def at(self, point: Point) -> Touch | None:
        """What a point shows to the reference."""
        return self.shows(self.last(point, self.reference))

    def row(self, point: Point, step: RowStep, to: str = "", *, flipped: bool = False) -> Row:
        """A touch with its result; to the reference where nothing else is named."""
        to = to or self.reference
        result = self.last(point, to, on=step != "off", flipped=flipped)
        if step in ("back", "again", "flipped", "still flipped"):
            result = self.after_zeros(result)
        return Row(point, to, result, self.shows(result), step, flipped)

    def after_zeros(self, result: LiveResult | None) -> LiveResult | None:
        """A result that came after the last reading of nothing: a zero counts only if the tester still reads then."""
        if result is None:
            return None
        zeros = [n for n, one in enumerate(self.results) if one.on and touch(one, self.voltage) == "none"]
        at = max(n for n, one in enumerate(self.results) if one == result)
        return result if at >= max(zeros, default=-1) else None

    def are_alike(self, hot: Point, mate: str, *, flipped: bool = False) -> bool:
        """Whether hot to ground and hot to neutral were read as figures, and agree."""
        if self.reference != "ground":
            return False
        there, back = self.last(hot, "ground", flipped=flipped), self.last(hot, mate, flipped=flipped)
        if there is None or back is None or there.volts is None or back.volts is None:
            return False
        return abs(there.volts - back.volts) <= ALIKE

    def off_scale(self) -> Iterator[Trouble]:
        """What reads neither full voltage nor nothing."""
        showed = {point: self.at(point) for point in self.points}
        yield from (Trouble("two-hots", point.wires) for point, one in showed.items() if one == "two hots")
        yield from (Trouble("odd-voltage", point.wires) for point, one in showed.items() if one == "other")

    def hot_caps(self) -> Iterator[Trouble]:
        """Capped wires that are hot: another feed."""
        capped = (point for point in self.points if point.is_cap)
        yield from (Trouble("two-feeds", point.wires) for point in capped if self.at(point) == "full")


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
