"""Hidden boxes with plain old switches in them, as wired and as found: the wires on each screw and in the back.

They stand in for houses a person stands in front of. Some are wired to code, some are not.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from itertools import pairwise
from random import Random

from ...model.conductor import Conductor, Role
from ...model.wire import Cable
from .hidden import ALWAYS, BAR, Hidden, HiddenLoad, neutral

Tied = tuple[str, ...]
"""Conductors under one connector, or one screw."""


@dataclass(slots=True)
class OldSwitch:
    """A hidden box with its old switches."""

    kind: str
    hidden: Hidden
    to_code: bool = True
    screws: list[tuple[Tied, Tied]] = field(default_factory=list)
    """For each switch the wires on its line screw and on its load screw; nobody can see which screw is which."""
    tied: list[Tied] = field(default_factory=list)
    """The splices in the back that are on no switch."""
    off: set[int] = field(default_factory=set)
    """Circuits whose breakers nobody turns on, since nobody knows that they feed the box."""


class _Wiring:
    """Wires such a box."""

    def __init__(self, kind: str, random: Random) -> None:
        self.random = random
        self.made = OldSwitch(kind, Hidden(kind, 120))
        self.box = self.made.hidden
        self.lamps = 0

    def circuit(self, number: int = 0, leg: int | None = None) -> str:
        """The hot of a circuit, with other loads on it."""
        hot = f"hot {number}"
        if number not in self.box.legs:
            self.box.legs[number] = leg or self.random.choice((1, -1))
            self.join(f"panel neutral {number}", BAR)
            self.join(neutral(number), f"panel neutral {number}")
            self.box.joins.append((f"source {number}", hot, ("breaker", number)))
            ohms = self.random.uniform(15, 600)
            self.box.standing.append(HiddenLoad(hot, neutral(number), ohms, self.random.uniform(0.5, 300)))
        return hot

    def lamp(self, center: str, shell: str) -> None:
        """A lamp of filament or LED between two points."""
        led = self.random.random() < 0.6
        ohms = self.random.uniform(8e3, 4e4) if led else self.random.uniform(100, 400)
        self.box.loads.append(HiddenLoad(center, shell, ohms, 1e6 if led else ohms / 10))

    def join(self, one: str, other: str) -> None:
        """Two points that are one."""
        self.box.joins.append((one, other, ALWAYS))

    def cable(self, black: tuple[Role | None, str], white: tuple[Role | None, str]) -> tuple[str, str]:
        """A cable by what its two wires are and reach; their ids."""
        letter = "ABCDEFGH"[len(self.box.cables)]
        ids = f"{letter}1", f"{letter}2"
        for id, (role, to) in zip(ids, (black, white), strict=True):
            self.join(id, to)
            self.box.ghosts[id] = self.random.uniform(12e6, 40e6)
            if role is not None:
                self.box.truth[id] = role
        seen = (Conductor(color="black"), Conductor(color="white"))
        gauge = self.random.choice((14, 12))
        self.box.cables.append(
            Cable.model_validate({"id": letter, "gauge": gauge, "insulated": 2}).changed(conductors=seen)
        )
        return ids

    def feed(self, number: int = 0) -> tuple[str, str]:
        """The cable from the panel."""
        hot = self.circuit(number)
        black, white = self.cable(("line", hot), ("neutral", neutral(number)))
        self.box.brought.add(white)
        return black, white

    def to_lamp(self) -> tuple[str, str]:
        """A cable to a lamp."""
        self.lamps += 1
        center, shell = f"center {self.lamps}", f"shell {self.lamps}"
        self.lamp(center, shell)
        return self.cable(("switched", center), ("neutral", shell))

    def onward(self) -> tuple[str, str]:
        """A cable to the next box, with loads there."""
        self.lamps += 1
        self.lamp(f"next hot {self.lamps}", f"next neutral {self.lamps}")
        return self.cable(("onward", f"next hot {self.lamps}"), ("neutral", f"next neutral {self.lamps}"))

    def tie(self, *wires: str) -> Tied:
        """Wires under one connector."""
        for one, other in pairwise(wires):
            self.join(one, other)
        return tuple(wires)


def _usual(w: _Wiring, more: int = 0, legs: int = 1, switches: int = 1) -> None:
    feed, out = w.feed(), [w.onward() for _ in range(more)]
    lit = [w.to_lamp() for _ in range(max(legs, switches))]
    hot = w.tie(feed[0], *(one[0] for one in out))
    groups = [w.tie(*(one[0] for one in lit))] if switches == 1 else [(one[0],) for one in lit]
    w.made.screws = [(hot, group) for group in groups]
    w.made.tied = [w.tie(feed[1], *(one[1] for one in out), *(one[1] for one in lit))]


def _loop(w: _Wiring) -> None:
    hot = w.circuit()
    w.lamp("center 1", neutral(0))
    black, white = w.cable(("switched", "center 1"), ("line", hot))
    w.made.screws = [((white,), (black,))]


def _two_circuits(w: _Wiring, one_off: bool = False) -> None:
    for number in (0, 1):
        w.circuit(number, 1 - 2 * number)
        feed, lit = w.feed(number), w.to_lamp()
        w.made.screws.append(((feed[0],), (lit[0],)))
        w.made.tied.append(w.tie(feed[1], lit[1]))
    w.made.off = {1} if one_off else set()


def _heater(w: _Wiring) -> None:
    """A heater on two hots; the thermostat is a plain switch in one of them."""
    one, other = w.circuit(0, 1), w.circuit(1, -1)
    feed = w.cable(("line", one), ("line", other))
    w.lamp("center 1", "shell 1")
    out = w.cable(("switched", "center 1"), ("line", "shell 1"))
    w.made.screws = [((feed[0],), (out[0],))]
    w.made.tied = [w.tie(feed[1], out[1])]


def _not_in_use(w: _Wiring) -> None:
    _usual(w)
    black, white = w.cable(("unused", "far end 1"), ("unused", "far end 2"))
    w.made.tied += [(black,), (white,)]


def _no_ground(w: _Wiring) -> None:
    _usual(w)
    w.box.grounded = False
    w.box.cables = [cable.changed(grounds=0) for cable in w.box.cables]


def _unbonded(w: _Wiring) -> None:
    """Armor without a bonding strip: it looks like a ground, and hardly is one."""
    _usual(w)
    w.box.grounded = False
    if w.random.random() < 0.7:
        w.box.standing.append(HiddenLoad("ground", BAR, w.random.uniform(20, 2000), 100))
    w.box.cables = [cable.changed(kind="armored", grounds=0) for cable in w.box.cables]


def _borrowed(w: _Wiring) -> None:
    """The hot of one circuit, returning over the neutral of another: not to code."""
    w.made.to_code = False
    w.circuit(1, 1)
    hot = w.circuit(0, 1)
    feed = w.cable(("line", hot), (None, "free end"))
    other, lit = w.feed(1), w.to_lamp()
    w.made.screws = [((feed[0],), (lit[0],))]
    w.made.tied = [w.tie(feed[1], other[1], lit[1])]
    w.made.tied += [(other[0],)]


def _broken_neutral(w: _Wiring) -> None:
    """The white of the feed is broken on its way; the light works over a cable that brings another circuit's."""
    w.made.to_code = False
    hot = w.circuit(0, 1)
    w.circuit(1, w.random.choice((1, -1)))
    feed = w.cable(("line", hot), (None, "broken end"))
    lit = w.cable(("switched", "center 1"), (None, neutral(1)))
    w.lamp("center 1", neutral(1))
    w.made.screws = [((feed[0],), (lit[0],))]
    w.made.tied = [w.tie(feed[1], lit[1])]


def _ground_as_neutral(w: _Wiring) -> None:
    """The light returns over the ground: not to code."""
    w.made.to_code = False
    feed = w.cable(("line", w.circuit()), (None, "broken end"))
    w.lamp("center 1", "shell 1")
    lit = w.cable(("switched", "center 1"), ("neutral", "shell 1"))
    w.made.screws = [((feed[0],), (lit[0],))]
    w.made.tied = [w.tie(feed[1], lit[1], "ground")]


KINDS: dict[str, Callable[[_Wiring], None]] = {
    "feed and light": _usual,
    "switch loop": _loop,
    "feed, light and onward": lambda w: _usual(w, more=1),
    "one switch, two lights": lambda w: _usual(w, legs=2),
    "two switches": lambda w: _usual(w, switches=2),
    "two switches, and onward": lambda w: _usual(w, more=w.random.choice((1, 2)), switches=2),
    "three switches": lambda w: _usual(w, switches=3),
    "two circuits": _two_circuits,
    "two circuits, one breaker off": lambda w: _two_circuits(w, one_off=True),
    "heater on 240 V": _heater,
    "a cable not in use": _not_in_use,
    "no ground": _no_ground,
    "armor without a bonding strip": _unbonded,
    "borrowed neutral": _borrowed,
    "broken neutral": _broken_neutral,
    "ground as a neutral": _ground_as_neutral,
}
"""Ways such a box is wired."""


def old_switch(kind: str, seed: int) -> OldSwitch:
    """Make a hidden box of a kind; the same seed makes the same box.

    >>> old_switch("switch loop", 3).screws
    [(('A2',), ('A1',))]
    """
    random = Random(f"{kind}/{seed}")  # noqa: S311 – a test, not a secret
    wiring = _Wiring(kind, random)
    KINDS[kind](wiring)
    return wiring.made
