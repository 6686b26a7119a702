"""Measure what the wires at plain switches are, by looking at the old wiring and one live test.

Source: common practice in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from itertools import combinations

from ...model.box import Box
from ...model.live_test import LiveResult
from ...model.wire import Cable
from ..joints import SUPPLY_230
from .live_points import (
    Found,
    LiveTest,
    Point,
    Results,
    Row,
    Trouble,
    circuits_in,
    is_on_one_circuit,
    old_cables,
    points_of,
)


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


def waits_for_breaker(box: Box, voltage: int) -> bool:
    """Tell whether a box of several gangs could be looked at and tested, if somebody entered which breaker feeds it.

    Args:
        voltage: of a circuit to neutral [V].
    """
    return not circuits_in(box) and is_plain(box.changed(circuit="found"), voltage) and not is_plain(box, voltage)


def plain_test(box: Box, voltage: int) -> LiveTest | None:
    """Return how the live test at plain switches stands; None for other boxes, and until somebody looked.

    Args:
        voltage: of a circuit to neutral [V].
    """
    points = points_of(box)
    looked = box.survey.on_off and box.survey.worked
    if not looked or not is_plain(box, voltage) or not _accounts(points, old_cables(box)):
        return None
    taken = _Plain(points, old_cables(box), box.live_test, voltage)
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


class _Plain(Results):
    """The results of a test at plain switches by what they are of."""

    def __init__(
        self, points: tuple[Point, ...], cables: tuple[Cable, ...], results: tuple[LiveResult, ...], voltage: int
    ) -> None:
        super().__init__(points, cables, results, voltage)
        self.beside = {one: other for cable in cables for one, other in _pairs(cable)}

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
            yield self.row(point, "wires")
        hot = self.hot
        if any(self.at(point) is None for point in self.points) or hot is None:
            return
        if self.mates:
            yield self.row(hot, "back", self.mates[0])
        elif (again := self.row(hot, "again")).result is None:
            yield again
        yield self.row(hot, "off")

    def troubles(self) -> Iterator[Trouble]:
        """What a plain switch box wired to code cannot show."""
        showed = {point: self.at(point) for point in self.points}
        yield from self.off_scale()
        if self.tied is not None and showed[self.tied] == "full":
            yield Trouble("hot-whites", self.tied.wires)
        yield from self.hot_caps()
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
        return self.hot is not None and bool(self.mates) and self.are_alike(self.hot, self.mates[0])


def _pairs(cable: Cable) -> Iterator[tuple[str, str]]:
    """The two wires of a cable, each with the other."""
    if cable.insulated == 2:
        one, other = cable.conductor_ids
        yield from ((one, other), (other, one))
