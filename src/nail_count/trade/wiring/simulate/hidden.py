"""A hidden, wired box: what really lies behind a place, to be found out with a simulated meter.

It stands in for the outside world, in practice and in tests. It knows nothing of how conductors are told apart: it is
wires, switches and lamps.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from random import Random
from typing import Literal

from ...model.conductor import Color, Conductor, Role
from ...model.region import ColorCode
from ...model.wire import Cable

When = tuple[Literal["always", "breaker", "far", "other", "bar"], int]
"""What must be so for two points to be joined: a breaker on, the far switch in a position, another switch of the house
closed, the neutral of a circuit on its bar."""
ALWAYS: When = ("always", 0)


@dataclass(frozen=True, slots=True)
class HiddenLoad:
    """A lamp, a fan, anything that draws, between two points."""

    one: str
    other: str
    ohms: float
    """While it works."""
    cold: float
    """As a meter shows it: of a filament a tenth, of a lamp with electronics next to nothing flows."""
    fixed: bool = False
    """Whether it cannot come out."""


@dataclass(slots=True)
class Hidden:
    """The truth behind a box."""

    arrangement: str
    voltage: int
    cables: list[Cable] = field(default_factory=list)
    truth: dict[str, Role] = field(default_factory=dict)
    """The role of each conductor."""
    joins: list[tuple[str, str, When]] = field(default_factory=list)
    """Wires and switches: two points, and when they are joined."""
    loads: list[HiddenLoad] = field(default_factory=list)
    """What the wires of the box lead to; plug-in loads are there while lamps and plugs are in."""
    standing: list[HiddenLoad] = field(default_factory=list)
    """Loads elsewhere on the circuit, which nobody unplugs."""
    closed: dict[int, bool] = field(default_factory=dict)
    """The other switches of the house that matter, and whether each was closed as found."""
    grounded: bool = True
    """Whether the box has a ground."""
    two_pole_main: bool = False
    """Whether the main opens the neutral too."""
    rod: float = 0.0
    """What lies between ground and the supply's neutral where a rod of the house's own is its ground [ohm]; 0: they are
    joined."""
    brought: set[str] = field(default_factory=set)
    """The conductors that bring the neutral of the panel, whole and through no switch."""
    legs: dict[int, int] = field(default_factory=dict)
    """Which leg each circuit is on: 1 or −1."""
    ghosts: dict[str, float] = field(default_factory=dict)
    """How loosely each conductor is coupled to its neighbors [ohm]."""
    places: int = 1
    colors: ColorCode = "US"
    """Whose colors its cables have."""
    leaky: bool = False
    """Whether the far switch is an electronic one, which leaks when it is off."""
    broken: str = ""
    """The conductor that is broken beyond the box."""

    @property
    def circuits(self) -> list[str]:
        """The breakers' names, in order."""
        return [str(number + 1) for number in sorted(self.legs)]


BAR = "bar"
"""The neutral bar of the panel."""
HEAVY = 0.2
"""How often a circuit has so many bulbs, or a pump, that cold it reads as a wire."""


def earth(hidden: Hidden, random: Random) -> None:
    """Give a house of 230 V its main and its ground: both poles opened, or a rod of its own; common practice."""
    if hidden.voltage >= 200:
        hidden.two_pole_main = random.random() < 0.7
        hidden.rod = random.uniform(5, 80) if random.random() < 0.4 else 0.0


def neutral(circuit: int = 0) -> str:
    """The neutral of a circuit, beyond the box."""
    return f"neutral {circuit}"


@dataclass(frozen=True, slots=True)
class Often:
    """How often things are not as they should be."""

    sprayed: float = 0.15
    """A conductor's color cannot be told."""
    swapped: float = 0.15
    """The colors of a cable are not what they should be."""
    broken: float = 0.0
    """A conductor of the box is broken beyond it."""
    heavy: float = HEAVY
    """The other loads of a circuit read as a wire."""


USUAL = Often()


class _Wiring:
    """Wires a hidden box cable by cable."""

    def __init__(self, arrangement: str, seed: int, voltage: int, often: Often) -> None:
        self.random = Random(f"{arrangement}/{seed}")  # noqa: S311 – a game, not a secret
        # What came later is drawn apart, so that boxes hidden before are what they were.
        self.more = Random(f"more {arrangement}/{seed}")  # noqa: S311 – a game, not a secret
        self.heavy = Random(f"heavy {arrangement}/{seed}")  # noqa: S311 – a game, not a secret
        self.often = often
        self.box = Hidden(arrangement, voltage)
        self.lamps = 0

    def circuit(self, number: int = 0, leg: int | None = None) -> str:
        """The hot of a circuit behind its breaker, with something else on it."""
        hot = f"hot {number}"
        if number not in self.box.legs:
            self.box.legs[number] = leg or self.random.choice((1, -1))
            self.box.joins.append((f"source {number}", hot, ("breaker", number)))
            ohms = self.random.uniform(60, 600)
            cold = self.more.uniform(3, 300)
            if self.heavy.random() < self.often.heavy:
                cold = self.heavy.uniform(0.6, 2.5)
            self.box.standing.append(HiddenLoad(hot, neutral(number), ohms, cold))
            self.box.joins.append((neutral(number), f"panel neutral {number}", ALWAYS))
            self.box.joins.append((f"panel neutral {number}", BAR, ("bar", number)))
        return hot

    def lamp(self, shell: str | None = "neutral 0") -> int:
        """A lamp with its center and shell; its number."""
        self.lamps += 1
        number = self.lamps
        led = self.random.random() < 0.6
        ohms = self.random.uniform(8e3, 4e4) if led else self.random.uniform(100, 400)
        cold = self.more.uniform(1e5, 1e7) if led else ohms / 10
        self.box.loads.append(HiddenLoad(f"center {number}", f"shell {number}", ohms, cold))
        if shell is not None:
            self.join(f"shell {number}", shell)
        return number

    def join(self, one: str, other: str, when: When = ALWAYS) -> None:
        self.box.joins.append((one, other, when))

    def switch(self, common: str) -> tuple[str, str]:
        """A three-way switch at the far end; its two travelers, the first through as it was found."""
        first, second = f"far a {len(self.box.cables)}", f"far b {len(self.box.cables)}"
        self.join(common, first, ("far", 1))
        self.join(common, second, ("far", 2))
        return first, second

    def cable(self, *wires: tuple[Role, str, Color]) -> None:
        """A cable into the box; each wire with its role, what it reaches and the color it should have."""
        letter = "ABCDEFGH"[len(self.box.cables)]
        order = list(wires)
        colors = [color for _, _, color in order]
        if self.random.random() < self.often.swapped:
            self.random.shuffle(colors)
        placed = list(zip(order, colors, strict=True))
        self.random.shuffle(placed)
        seen = []
        for number, ((role, far, _), color) in enumerate(placed, 1):
            id = f"{letter}{number}"
            self.box.truth[id] = role
            if id != self.box.broken:
                self.join(id, far or f"free {id}")
                self.box.brought |= {id} if far.startswith("neutral ") else set()
            self.box.ghosts[id] = self.random.uniform(12e6, 40e6)
            seen.append(Conductor(color=color, sprayed=self.random.random() < self.often.sprayed))
        gauge = self.random.choice((14, 12))
        made = Cable.model_validate({"id": letter, "gauge": gauge, "insulated": len(wires)})
        self.box.cables.append(made.changed(conductors=tuple(seen)))


def _feed(w: _Wiring, k: int = 0) -> None:
    w.cable(("line", w.circuit(k), "black"), ("neutral", neutral(k), "white"))


def _to_lamp(w: _Wiring) -> None:
    n = w.lamp(None)
    w.cable(("switched", f"center {n}", "black"), ("neutral", f"shell {n}", "white"))


def _onward(w: _Wiring) -> None:
    ohms = w.random.uniform(60, 600)
    w.box.loads.append(HiddenLoad("next hot", "next neutral", ohms, w.more.uniform(10, 600)))
    w.cable(("onward", "next hot", "black"), ("neutral", "next neutral", "white"))


def _loop(w: _Wiring, with_neutral: bool = False) -> None:
    n = w.lamp()
    wires: list[tuple[Role, str, Color]] = [("line", w.circuit(), "white"), ("switched", f"center {n}", "black")]
    if with_neutral:
        wires = [("line", w.circuit(), "black"), ("switched", f"center {n}", "red"), ("neutral", neutral(), "white")]
    w.cable(*wires)


def _far_lamp(w: _Wiring) -> None:
    """Place 1: the three-wire cable goes to the far switch, which has the lamp."""
    n = w.lamp(None)
    a, b = w.switch(f"center {n}")
    w.cable(("traveler", a, "black"), ("traveler", b, "red"), ("neutral", f"shell {n}", "white"))


def _far_feed(w: _Wiring) -> None:
    """Place 2: the three-wire cable comes from the far switch, which has the feed."""
    a, b = w.switch(w.circuit())
    w.cable(("traveler", a, "black"), ("traveler", b, "red"), ("neutral", neutral(), "white"))


def _far_both(w: _Wiring, hot_down: bool) -> None:
    """Feed and lamp at the far switch; only the three-wire cable here, all of it in use."""
    n = w.lamp()
    if hot_down:
        a, b = w.switch(f"center {n}")
        w.cable(("traveler", a, "red"), ("traveler", b, "white"), ("line", w.circuit(), "black"))
    else:
        a, b = w.switch(w.circuit())
        w.cable(("traveler", a, "red"), ("traveler", b, "white"), ("switched", f"center {n}", "black"))


def _far_and_back(w: _Wiring) -> None:
    """Place 1 with feed and lamp: the three-wire cable goes to the far switch and back."""
    common = f"far common {len(w.box.cables)}"
    a, b = w.switch(common)
    w.cable(("traveler", a, "red"), ("traveler", b, "white"), ("switched", common, "black"))


def _fan_and_light(w: _Wiring) -> None:
    fan, light = w.lamp(None), w.lamp(None)
    w.join(f"shell {fan}", f"shell {light}")
    w.cable(
        ("switched", f"center {fan}", "black"),
        ("switched", f"center {light}", "red"),
        ("neutral", f"shell {fan}", "white"),
    )


def _multiwire(w: _Wiring) -> None:
    one, other = w.circuit(0, 1), w.circuit(1, -1)
    w.cable(("line", one, "black"), ("line", other, "red"), ("neutral", neutral(), "white"))


def _not_in_use(w: _Wiring) -> None:
    w.cable(("unused", "", "black"), ("unused", "", "white"))


def _loop_in(w: _Wiring) -> None:
    """The fixture holds feed in, feed out and the switch drop; only the drop comes down."""
    w.box.colors = "UK today"
    w.cable(("line", w.circuit(), "brown"), ("switched", f"center {w.lamp()}", "blue"))


def _modular(w: _Wiring) -> None:
    """Single wires: one live bus, a neutral, a wire for each lamp."""
    w.box.colors = "India"
    w.cable(("line", w.circuit(), "red"))
    w.cable(("neutral", neutral(), "black"))
    for color in ("yellow", "blue"):
        w.cable(("switched", f"center {w.lamp()}", color))


def _fed_at_the_fan(w: _Wiring) -> None:
    """Hot and two switched legs in one three-wire cable: no neutral, whatever its white looks like."""
    fan, light = w.lamp(), w.lamp()
    w.cable(
        ("switched", f"center {fan}", "black"),
        ("switched", f"center {light}", "red"),
        ("line", w.circuit(), "white"),
    )


def _onward_multiwire(w: _Wiring) -> None:
    w.box.loads.append(HiddenLoad("next hot a", "next neutral", w.more.uniform(60, 600), w.more.uniform(10, 600)))
    w.box.loads.append(HiddenLoad("next hot b", "next neutral", w.more.uniform(60, 600), w.more.uniform(10, 600)))
    w.cable(("onward", "next hot a", "black"), ("onward", "next hot b", "red"), ("neutral", "next neutral", "white"))


def _half_hot(w: _Wiring) -> None:
    n = w.lamp(None)
    w.join(f"shell {n}", "next neutral")
    w.cable(("onward", "next hot", "black"), ("switched", f"center {n}", "red"), ("neutral", "next neutral", "white"))


def _converted_here(w: _Wiring) -> None:
    """The old drop here, its two wires and the common carried on to the second switch by three cores."""
    common = f"far common {len(w.box.cables)}"
    a, b = w.switch(common)
    w.cable(("onward", a, "brown"), ("switched", b, "black"), ("traveler", common, "gray"))


def _converted_there(w: _Wiring) -> None:
    """The second switch of such a pair: the hot, the switched leg, and the common of the first."""
    w.box.colors = "UK today"
    hot, lit, common = w.circuit(), f"center {w.lamp()}", f"far common {len(w.box.cables)}"
    w.join(common, hot, ("far", 1))
    w.join(common, lit, ("far", 2))
    w.cable(("line", hot, "brown"), ("switched", lit, "black"), ("traveler", common, "gray"))


def _polarity(w: _Wiring) -> None:
    """Wire the lamp between two switches; each puts its side at the hot or the neutral."""
    n = w.lamp(None)
    a, b = w.switch(f"center {n}")
    w.cable(("traveler", a, "black"), ("traveler", b, "red"), ("switched", f"shell {n}", "white"))


ARRANGEMENTS: dict[str, tuple[Callable[[_Wiring], None], ...]] = {
    "feed at the switch": (_feed, _to_lamp),
    "switch loop": (_loop,),
    "loop with neutral": (lambda w: _loop(w, with_neutral=True),),
    "feed at the switch, and onward": (_feed, _onward, _to_lamp),
    "fan and light apart": (_feed, _fan_and_light),
    "three-way, feed here and lamp at the other place": (_feed, _far_lamp),
    "three-way, lamp here and feed at the other place": (_far_feed, _to_lamp),
    "three-way, feed and lamp here": (_feed, _to_lamp, _far_and_back),
    "three-way, feed and lamp at the other place": (lambda w: _far_both(w, hot_down=False),),
    "three-way through the lamp, hot down": (lambda w: _far_both(w, hot_down=True),),
    "four-way, between two switches": (_far_feed, _far_lamp),
    "two circuits in one box": (_feed, lambda w: _feed(w, 1), _to_lamp, _to_lamp),
    "multiwire circuit": (_multiwire, _to_lamp, _onward),
    "feed, and a cable not in use": (_feed, _to_lamp, _not_in_use),
    "loop-in at the ceiling": (_loop_in,),
    "single wires, one live bus": (_modular,),
    "fan and light, fed at the fan": (_fed_at_the_fan,),
    "multiwire circuit, both going onward": (_multiwire, _to_lamp, _onward_multiwire),
    "feed, and a receptacle half of it switched": (_feed, _half_hot),
    "three-way, converted, the old place": (_loop_in, _converted_here),
    "three-way, converted, the new place": (_converted_there,),
    "three-way, polarity switched at the lamp": (_feed, _polarity),
}
"""Ways a switch place is fed, from plain to odd: what lies in the box."""

SEVERAL_PLACES = ("three-way", "four-way")


def make_hidden(
    arrangement: str,
    seed: int,
    voltage: int = 120,
    often: Often = USUAL,
) -> Hidden:
    """Make a hidden box of this arrangement; the same seed makes the same box.

    Args:
        arrangement: one of [ARRANGEMENTS][].
        seed: which of its wirings.
        voltage: of each circuit to neutral [V].
        often: how often things are not as they should be.

    Raises:
        KeyError: no such arrangement.

    >>> box = make_hidden("switch loop", 7)
    >>> sorted(box.truth.values()), box.places
    (['line', 'switched'], 1)
    """
    wiring = _Wiring(arrangement, seed, voltage, often)
    earth(wiring.box, wiring.heavy)
    if wiring.random.random() < often.broken:
        wiring.box.broken = wiring.random.choice("AABC") + wiring.random.choice("112")
    for lay in ARRANGEMENTS[arrangement]:
        lay(wiring)
    wiring.box.places = 2 if arrangement.startswith(SEVERAL_PLACES) else 1
    return wiring.box
