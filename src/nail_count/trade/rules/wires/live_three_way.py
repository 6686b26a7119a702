"""Measure what the wires at one of two switches of a light are, by looking at it and one live test.

The wires of this switch are taken off; the other switch of the light stays as it is wired, and is flipped once. A wire
counts only if its readings in both positions fit one listed way such a pair is wired, and no other.

Source: common practice in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property

from ...model.box import Box
from ...model.wire import Cable
from ..joints import SUPPLY_230
from .live_points import Found, LiveTest, Point, Results, Row, Trouble, is_on_one_circuit, old_cables, points_of


def may_be_three_way(box: Box, voltage: int) -> bool:
    """Tell whether a box may hold one of the switches of a light: one gang, and one cable of three wires.

    Args:
        voltage: of a circuit to neutral [V].

    >>> cables = [Cable(id=letter, gauge=14, insulated=wires) for letter, wires in (("A", 2), ("B", 3))]
    >>> may_be_three_way(Box(id="hall", name="Hall", room="Hall", cables=cables), 120)
    True
    """
    cables = old_cables(box)
    jackets = all(cable.insulated >= 2 and cable.kind != "conduit" for cable in cables)
    one = sum(cable.insulated > 2 for cable in cables) == box.enclosure.gangs == 1
    place = box.use == "control" and box.practice is None
    return voltage < SUPPLY_230 and one and jackets and is_on_one_circuit(box) and place


def three_way_test(box: Box, voltage: int) -> LiveTest | None:
    """Return how the live test at a three-way switch stands; None for other boxes, and until somebody looked.

    Args:
        voltage: of a circuit to neutral [V].
    """
    points, cables = points_of(box), old_cables(box)
    looked = box.survey.on_off is False and box.survey.worked
    if not looked or not may_be_three_way(box, voltage) or not _accounts(box, points, cables):
        return None
    taken = _ThreeWay(box, points, voltage)
    test = LiveTest(tuple(taken.rows()), {}, None, False, tuple(taken.troubles()))
    if not test.is_done:
        return test
    return replace(test, wires=taken.wires(), neutral=taken.neutral(), ground=taken.is_grounded())


def _accounts(box: Box, points: tuple[Point, ...], cables: tuple[Cable, ...]) -> bool:
    """Tell whether the look accounts for every wire: three connections on the one switch, one of them dark."""
    wires = sorted(wire for point in points for wire in point.wires)
    every = sorted(wire for cable in cables for wire in cable.conductor_ids)
    on = [point for point in points if point.on]
    dark = [point for point in on if _is_dark(box, point)]
    return wires == every and len({point.on for point in on}) == len(dark) == 1 and len(on) - len(dark) == 2


def _is_dark(box: Box, point: Point) -> bool:
    """Whether a connection is on the dark screw."""
    sat = {f"{cable.id}{n}": wire.sat_on for cable in box.cables for n, wire in enumerate(cable.conductors, 1)}
    return any(sat.get(wire) == "common" for wire in point.wires)


class _ThreeWay(Results):
    """The results of a test at a three-way switch by what they are of."""

    def __init__(self, box: Box, points: tuple[Point, ...], voltage: int) -> None:
        super().__init__(points, old_cables(box), box.live_test, voltage)
        self.mates = _mates(old_cables(box))
        (self.three,) = (frozenset(one.conductor_ids) for one in old_cables(box) if one.insulated > 2)
        on = [point for point in points if point.on]
        (self.common,) = (point for point in on if _is_dark(box, point))
        self.travelers = [point for point in on if point != self.common]
        self.back = [point for point in points if not point.on and not point.is_cap]

    @property
    def is_fed(self) -> bool:
        """Whether the dark screw is at the hot: the feed comes in here."""
        return self.at(self.common) == "full"

    @property
    def hot_splices(self) -> list[Point]:
        """The splices in the back through which the hot passes."""
        return [point for point in self.back if self.at(point) == "full"]

    @cached_property
    def hot(self) -> Point | None:
        """The connection on the switch that is hot once the other switch is flipped; None where none can be."""
        if self.is_fed:
            return self.common
        dead = [point for point in self.travelers if self.at(point) == "none"]
        return dead[0] if len(dead) == 1 else None

    @cached_property
    def white(self) -> tuple[Point, str] | None:
        """The hot to test from, and the wire beside it in its own cable that may be the neutral; None for none.

        It is in a splice that is dead, and so are the wires beside all other hots of that connection.
        """
        dead = {wire: point for point in self.back if self.at(point) == "none" for wire in point.wires}
        through = [point for point in self.hot_splices if self.three.intersection(point.wires)]
        for point in ((self.hot,) if self.hot else ()) + tuple(through):
            beside = [wire for own in point.wires for wire in self.mates[own] if wire in dead]
            all_beside = point != self.common or len(beside) == len(point.wires)
            if beside and all_beside and len({dead[one] for one in beside}) == 1:
                return point, beside[0]
        return None

    def rows(self) -> Iterator[Row]:
        """Every touch of the test, as far as it is known which they are."""
        for point in self.points:
            yield self.row(point, "wires")
        hot = self.hot
        if any(self.at(point) is None for point in self.points) or hot is None:
            return
        yield self.row(hot, "flipped", flipped=True)
        for point in self.hot_splices:
            yield self.row(point, "still flipped", flipped=True)
        if self.white:
            yield self.row(self.white[0], "back", self.white[1], flipped=True)
        yield self.row(hot, "off", flipped=True)

    def troubles(self) -> Iterator[Trouble]:
        """What no listed way shows."""
        yield from self.off_scale()
        yield from self.hot_caps()
        on = [self.common, *self.travelers]
        wires = tuple(wire for point in on for wire in point.wires)
        shows = [self.at(point) for point in on]
        hots = shows.count("full")
        if all(show == "none" for show in shows):
            yield Trouble("no-hot", wires)
        elif hots > 1:
            yield Trouble("no-scheme", wires)
        if self.hot is None or None in shows:
            return
        again = (self.hot, *self.hot_splices)
        if any(self.row(point, "flipped", flipped=True).shows not in (None, "full") for point in again):
            yield Trouble("no-scheme", wires)
        if self.white:
            point, white = self.white
            if self.shows(self.last(point, white, flipped=True)) not in (None, "full"):
                yield Trouble("no-return", (white,))
        if self.row(self.hot, "off", flipped=True).shows not in (None, "none"):
            yield Trouble("stays-hot", self.hot.wires)

    def wires(self) -> dict[str, Found]:
        """What each wire is, of a test that is done and shows no trouble; a splice nobody can tell is left out."""
        use: Found = "line hot" if self.is_fed else "switch leg"
        of = dict.fromkeys(self.common.wires, use)
        of |= {wire: "traveler" for point in self.travelers for wire in point.wires}
        neutral = self._neutral_splice
        for point in self.back:
            if point in self.hot_splices:
                of |= dict.fromkeys(point.wires, "line hot")
            elif point == neutral:
                of |= dict.fromkeys(point.wires, "neutral")
            elif self._comes_back(point):
                of |= dict.fromkeys(point.wires, "switch leg")
        return of

    @property
    def _neutral_splice(self) -> Point | None:
        return next((point for point in self.back if self.white and self.white[1] in point.wires), None)

    def _comes_back(self, point: Point) -> bool:
        """Whether a splice takes the common of the other switch on to the light.

        The feed is here, and of the cable to the other switch one wire goes on to a cable whose white is a neutral.
        """
        neutral = self._neutral_splice
        there, onward = self.three.intersection(point.wires), set(point.wires) - self.three
        if not (self.is_fed and neutral and len(there) == 1 and onward):
            return False
        return all(set(self.mates[wire]) <= set(neutral.wires) for wire in onward)

    def neutral(self) -> bool | None:
        """Whether the neutral of the hot is here."""
        if self.white:
            return True
        return None if any(self.at(point) == "none" for point in self.points if not point.on) else False

    def is_grounded(self) -> bool:
        """Whether hot to ground and hot to neutral were read as figures, and agree."""
        return self.white is not None and self.are_alike(*self.white, flipped=True)


def _mates(cables: tuple[Cable, ...]) -> Mapping[str, tuple[str, ...]]:
    """The other wires of each wire's own cable."""
    return {
        wire: tuple(other for other in cable.conductor_ids if other != wire)
        for cable in cables
        for wire in cable.conductor_ids
    }
