"""Hidden pairs of boxes with an old three-way switch in each, as wired and as found in either box.

They stand in for houses a person stands in front of. Some are wired to code, some are not.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from random import Random
from typing import Literal

from ...model.conductor import Color, Conductor, Role
from ...model.wire import Cable
from .hidden import ALWAYS, BAR, Hidden, HiddenLoad, When, neutral

BoxName = Literal["x", "y"]
Tied = tuple[str, ...]
"""Conductors under one connector, or one screw."""
_COLORS: dict[int, tuple[Color, ...]] = {2: ("black", "white"), 3: ("black", "red", "white")}


@dataclass(slots=True)
class OldThreeWay:
    """One of the two boxes, its switch off its wires, the other switch as it is wired."""

    hidden: Hidden
    common: Tied = ()
    """The wires on the dark screw."""
    travelers: tuple[Tied, Tied] = ((), ())
    tied: list[Tied] = field(default_factory=list)
    """The splices in the back, and the caps."""


@dataclass(slots=True)
class OldPair:
    """Both boxes."""

    kind: str
    x: OldThreeWay
    y: OldThreeWay
    to_code: bool
    runs: tuple[tuple[str, str], ...]
    """What each wire is one with outside its box, however the boxes are wired: x/A1 and hot 0."""
    lamps: tuple[HiddenLoad, ...]


class _Pair:
    """Wires both boxes; every point of one carries its name: x/A1."""

    def __init__(self, kind: str, random: Random) -> None:
        self.random = random
        self.to_code, self.leaky, self.grounded = True, False, True
        self.joins: list[tuple[str, str, When]] = []
        self.ties: list[tuple[str, str]] = []
        """Splices, and wires on one screw: all that work at the boxes can change."""
        self.lit: list[HiddenLoad] = []
        self.standing: list[HiddenLoad] = []
        self.legs: dict[int, int] = {}
        self.sides = {"x": OldThreeWay(Hidden(kind, 120)), "y": OldThreeWay(Hidden(kind, 120))}

    def join(self, one: str, other: str, when: When = ALWAYS) -> None:
        """Two points that are one."""
        self.joins.append((one, other, when))

    def circuit(self, number: int = 0) -> str:
        """The hot of a circuit, with other loads on it."""
        hot = f"hot {number}"
        if number not in self.legs:
            self.legs[number] = self.random.choice((1, -1))
            self.join(f"panel neutral {number}", BAR)
            self.join(neutral(number), f"panel neutral {number}")
            self.join(f"source {number}", hot, ("breaker", number))
            self.standing.append(HiddenLoad(hot, neutral(number), self.random.uniform(15, 600), 100))
        return hot

    def lamp(self) -> tuple[str, str]:
        """A lamp of filament or LED; its two sides."""
        number = len(self.lit)
        led = self.random.random() < 0.6
        ohms = self.random.uniform(8e3, 4e4) if led else self.random.uniform(100, 400)
        self.lit.append(HiddenLoad(f"center {number}", f"shell {number}", ohms, 1e6 if led else ohms / 10))
        return f"center {number}", f"shell {number}"

    def cable(self, box: BoxName, *wires: tuple[Role | None, str]) -> list[str]:
        """A cable by what its wires are and reach, black first and white last; their ids."""
        hidden = self.sides[box].hidden
        letter = "ABCDEFGH"[len(hidden.cables)]
        ids = [f"{letter}{number}" for number in range(1, len(wires) + 1)]
        for id, (role, to) in zip(ids, wires, strict=True):
            self.join(f"{box}/{id}", to)
            hidden.ghosts[id] = self.random.uniform(12e6, 40e6)
            if role is not None:
                hidden.truth[id] = role
        seen = tuple(Conductor(color=color) for color in _COLORS[len(wires)])
        made = Cable.model_validate({"id": letter, "gauge": 14, "insulated": len(wires)})
        hidden.cables.append(made.changed(conductors=seen))
        return ids

    def feed(self, box: BoxName, number: int = 0) -> list[str]:
        """The cable from the panel."""
        ids = self.cable(box, ("line", self.circuit(number)), ("neutral", neutral(number)))
        self.sides[box].hidden.brought.add(ids[1])
        return ids

    def light(self, box: BoxName) -> list[str]:
        """A cable to a lamp."""
        center, shell = self.lamp()
        return self.cable(box, ("switched", center), ("neutral", shell))

    def onward(self, box: BoxName) -> list[str]:
        """A cable to the next box, with a load there."""
        center, shell = self.lamp()
        return self.cable(box, ("onward", center), ("neutral", shell))

    def between(self, *roles: Role | None) -> tuple[list[str], list[str]]:
        """The three-wire cable from one box to the other; its wires in each."""
        number = len(self.joins)
        x, y = ([(role, f"between {number} {n}") for n, role in enumerate(roles)] for _ in "xy")
        return self.cable("x", *x), self.cable("y", *y)

    def tie(self, box: BoxName, *wires: str) -> Tied:
        """Wires under one connector."""
        self.ties += [(f"{box}/{one}", f"{box}/{other}") for one, other in pairwise(wires)]
        return tuple(wires)

    def switch(self, box: BoxName, common: Sequence[str], one: str, other: str) -> None:
        """The old switch of a box: its dark screw, and the two others."""
        side = self.sides[box]
        side.common, side.travelers = self.tie(box, *common), ((one,), (other,))

    def back(self, box: BoxName, *wires: str) -> None:
        """A splice in the back of a box; a wire alone is capped."""
        self.sides[box].tied.append(self.tie(box, *wires))

    def seen_from(self, box: BoxName) -> OldThreeWay:
        """A box with its own switch off, and the other switch as it is wired."""
        side, far = self.sides[box], self.sides["y" if box == "x" else "x"]
        there = "y" if box == "x" else "x"
        thrown: list[tuple[str, str, When]] = [
            (f"{there}/{far.common[0]}", f"{there}/{wire[0]}", ("far", way))
            for way, wire in zip(self.random.sample((1, 2), 2), far.travelers, strict=True)
        ]
        made: list[tuple[str, str, When]] = [(one, other, ALWAYS) for one, other in self.ties]
        hidden = side.hidden
        own = f"{box}/"
        joins = [(a.removeprefix(own), b.removeprefix(own), when) for a, b, when in (*self.joins, *made, *thrown)]
        hidden.joins, hidden.loads, hidden.standing = joins, list(self.lit), list(self.standing)
        hidden.legs, hidden.leaky, hidden.grounded, hidden.places = self.legs, self.leaky, self.grounded, 2
        if not self.grounded:
            hidden.cables = [cable.changed(grounds=0) for cable in hidden.cables]
        return side


def _apart(p: _Pair, more: int = 0, lights: int = 1) -> None:
    """The feed in one box, the light at the other."""
    feed, out = p.feed("x"), [p.onward("x") for _ in range(more)]
    lit = [p.light("y") for _ in range(lights)]
    x, y = p.between("traveler", "traveler", "neutral")
    p.switch("x", (feed[0], *(one[0] for one in out)), x[0], x[1])
    p.back("x", feed[1], *(one[1] for one in out), x[2])
    p.switch("y", [one[0] for one in lit], y[0], y[1])
    p.back("y", *(one[1] for one in lit), y[2])


def _together(p: _Pair) -> None:
    """Feed and light in one box; the other switch's common comes back over the black."""
    feed, lit = p.feed("x"), p.light("x")
    x, y = p.between("switched", "traveler", "traveler")
    p.switch("x", [feed[0]], x[1], x[2])
    p.back("x", feed[1], lit[1])
    p.back("x", lit[0], x[0])
    p.switch("y", [y[0]], y[1], y[2])


def _hot_sent_on(p: _Pair) -> None:
    """Feed and light in one box; the hot goes on to the other switch over the black."""
    feed, lit = p.feed("x"), p.light("x")
    x, y = p.between("line", "traveler", "traveler")
    p.switch("x", [lit[0]], x[1], x[2])
    p.back("x", feed[1], lit[1])
    p.back("x", feed[0], x[0])
    p.switch("y", [y[0]], y[1], y[2])


def _light_first(p: _Pair) -> None:
    """The feed is at the light: its hot comes down a white, and goes straight on over a white."""
    center, shell = p.lamp()
    p.join(shell, neutral())
    drop = p.cable("x", ("switched", center), ("line", p.circuit()))
    x, y = p.between("traveler", "traveler", "line")
    p.switch("x", [drop[0]], x[0], x[1])
    p.back("x", drop[1], x[2])
    p.switch("y", [y[2]], y[0], y[1])


def _dead_ends(p: _Pair) -> None:
    """A three-wire cable from the light to each switch; the travelers meet at the light."""
    center, shell = p.lamp()
    p.join(shell, neutral())
    x = p.cable("x", ("line", p.circuit()), ("traveler", "meets 1"), ("traveler", "meets 2"))
    y = p.cable("y", ("switched", center), ("traveler", "meets 1"), ("traveler", "meets 2"))
    p.switch("x", [x[0]], x[1], x[2])
    p.switch("y", [y[0]], y[1], y[2])


def _four_way(p: _Pair) -> None:
    """A four-way switch on the way, in either position."""
    feed, lit = p.feed("x"), p.light("y")
    crossed = p.random.random() < 0.5
    ways = ("way 1", "way 2") if not crossed else ("way 2", "way 1")
    x = p.cable("x", ("traveler", "way 1"), ("traveler", "way 2"), ("neutral", "white on the way"))
    y = p.cable("y", ("traveler", ways[0]), ("traveler", ways[1]), ("neutral", "white on the way"))
    p.switch("x", [feed[0]], x[0], x[1])
    p.back("x", feed[1], x[2])
    p.switch("y", [lit[0]], y[0], y[1])
    p.back("y", lit[1], y[2])


def _not_in_use(p: _Pair) -> None:
    _apart(p)
    ids = p.cable("x", ("unused", "far end 1"), ("unused", "far end 2"))
    for id in ids:
        p.back("x", id)


def _no_ground(p: _Pair) -> None:
    _apart(p)
    p.grounded = False


def _electronic(p: _Pair) -> None:
    """Electronic switches, which leak."""
    _apart(p)
    p.leaky = True


def _polarity(p: _Pair) -> None:
    """Each switch puts one side of the lamp at the hot or at the neutral: not to code."""
    p.to_code = False
    center, shell = p.lamp()
    x_feed, y_feed = p.feed("x"), p.feed("y")
    x = p.cable("x", (None, center), ("unused", "far end 1"), ("unused", "far end 2"))
    y = p.cable("y", (None, shell), ("unused", "far end 3"), ("unused", "far end 4"))
    p.switch("x", [x[0]], x_feed[0], x_feed[1])
    p.switch("y", [y[0]], y_feed[0], y_feed[1])
    for box, ids in (("x", x), ("y", y)):
        for id in ids[1:]:
            p.back("x" if box == "x" else "y", id)


def _borrowed(p: _Pair) -> None:
    """The hot of one floor and the neutral of another: not to code."""
    p.to_code = False
    feed, lit, other = p.feed("x"), p.light("y"), p.feed("y", 1)
    x, y = p.between("traveler", "traveler", None)
    p.switch("x", [feed[0]], x[0], x[1])
    p.back("x", feed[1])
    p.back("x", x[2])
    p.switch("y", [lit[0]], y[0], y[1])
    p.back("y", lit[1], other[1])
    p.back("y", other[0])
    p.back("y", y[2])


PAIRS: dict[str, Callable[[_Pair], None]] = {
    "feed and light apart": _apart,
    "feed and light apart, and onward": lambda p: _apart(p, more=1),
    "two lights": lambda p: _apart(p, lights=2),
    "feed and light in one box": _together,
    "hot sent on": _hot_sent_on,
    "light first": _light_first,
    "dead ends": _dead_ends,
    "four-way between": _four_way,
    "a cable not in use": _not_in_use,
    "no ground": _no_ground,
    "electronic switches": _electronic,
    "polarity switched": _polarity,
    "borrowed neutral": _borrowed,
}
"""Ways such a pair is wired."""


def old_pair(kind: str, seed: int) -> OldPair:
    """Make a hidden pair of a kind; the same seed makes the same pair.

    >>> old_pair("dead ends", 3).x.common
    ('A1',)
    """
    pair = _Pair(kind, Random(f"{kind}/{seed}"))  # noqa: S311 – a test, not a secret
    PAIRS[kind](pair)
    runs = tuple((one, other) for one, other, when in pair.joins if when == ALWAYS)
    return OldPair(kind, pair.seen_from("x"), pair.seen_from("y"), pair.to_code, runs, tuple(pair.lit))
