"""A hook-up as a network: nodes that wires make one, contacts that join more of them, sources, loads, what needs power.

It knows no boxes: a proof here holds for any network, whatever it was made from.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import chain
from typing import Literal

Node = str
Pair = tuple[Node, Node]
GearKind = Literal["switch", "three-way", "four-way", "powered", "two-wire", "companion", "module", "protector"]
"""A plain contact; common to one of two; straight or crossed; a device with a neutral; one that lives through its load;
a wired companion; a module with outputs and inputs; a device that trips."""
InputKind = Literal["signal", "mains", "dry", "low voltage"]


Behavior = Literal["toggles", "follows", "detached"]
"""What an output does when its input closes or opens."""


@dataclass(frozen=True, slots=True)
class Source:
    """A circuit at the panel."""

    circuit: str
    hot: Node
    neutral: Node
    leg: int | None
    """Which leg it is on; None: not known."""
    shares: str | None = None
    """The circuit it shares one neutral with, where the two are one multiwire circuit."""
    pole_of: str | None = None
    """The circuit whose breaker opens it together with that one, where it is the second pole of one; None: its own."""

    @property
    def breaker(self) -> str:
        """The circuit whose breaker opens it."""
        return self.pole_of or self.circuit


@dataclass(frozen=True, slots=True)
class Input:
    """What a device is switched by from elsewhere."""

    node: Node
    kind: InputKind
    closes_onto: tuple[Node, ...] = ()
    """The terminals it is closed by being joined to; for mains, closed while it is hot."""
    output: int = 0
    """Which of its outputs it acts on, from 0."""
    behavior: Behavior = "toggles"


@dataclass(frozen=True, slots=True)
class Gear:
    """Whatever stands between wires and has a position: a switch, a dimmer, a module."""

    id: str
    kind: GearKind
    positions: tuple[tuple[Pair, ...], ...]
    """In each position, the pairs of terminals its contacts join."""
    words: tuple[str, ...]
    """What each position is called."""
    line: Node | None = None
    load: Node | None = None
    neutral: Node | None = None
    """Where it takes its power from; a two-wire device takes it between line and load."""
    inputs: tuple[Input, ...] = ()
    controls: tuple[tuple[str, ...], ...] = ()
    """The loads each output is to change; () where nothing is expected of it."""
    circuit: str | None = None
    """Which circuit is to feed it; None: any one."""
    signal: Node | None = None
    """Of a companion: where it signals."""
    past: Node | None = None
    """Of what trips: its neutral terminal for what hangs past it."""
    leaks: bool = False
    """Whether a little passes its open contact: an electronic switch, a switch with a neon."""

    @property
    def nodes(self) -> Iterator[Node]:
        """Its terminals, one or more times."""
        for pairs in self.positions:
            for pair in pairs:
                yield from pair
        yield from (node for node in (self.line, self.load, self.neutral, self.signal, self.past) if node is not None)
        for one in self.inputs:
            yield one.node
            yield from one.closes_onto

    @property
    def all_controls(self) -> frozenset[str]:
        """Every load it is to change."""
        return frozenset(load for of_output in self.controls for load in of_output)


@dataclass(frozen=True, slots=True)
class NetLoad:
    """A lamp, a fan, what goes on from here: between two nodes."""

    id: str
    one: Node
    other: Node
    circuit: str | None
    """Whose it is; None: not known."""
    legs: Literal[1, 2] = 1
    """2: between two hots, without a neutral."""
    always: bool = False
    """Whether it was fed before and must be in every position: an onward feed, a neighbor."""
    amps: Fraction | None = None
    """What it draws [A]; None: not known."""


@dataclass(frozen=True, slots=True)
class CableWires:
    """The conductors of one cable, as pairs of nodes that are one wire."""

    id: str
    pairs: tuple[Pair, ...]


@dataclass(frozen=True, slots=True)
class Loose:
    """A conductor end that is in no splice, or alone under a cap."""

    node: Node
    capped: bool
    feed: bool = False
    """Whether its cable comes straight from the panel, or nothing is in its box yet: capped, it waits for use."""


@dataclass(frozen=True, slots=True)
class Yoke:
    """A device on one yoke."""

    id: str
    nodes: tuple[Node, ...]
    """Its terminals."""


@dataclass(frozen=True, slots=True)
class Network:
    """All of it."""

    sources: tuple[Source, ...]
    joined: tuple[Pair, ...] = ()
    """Splices: pairs of ends that are one."""
    cables: tuple[CableWires, ...] = ()
    gear: tuple[Gear, ...] = ()
    loads: tuple[NetLoad, ...] = ()
    grounds: tuple[Node, ...] = ()
    """Everything that must be ground."""
    grounds_apart: tuple[Node, ...] = ()
    """Those that no splice joins with the other grounds of their box, whatever their cables do."""
    ground: Node = "ground"
    """The ground of the panel."""
    floating: tuple[Node, ...] = ()
    """The ground terminals and metal boxes to which no ground comes: they may meet nothing live and no neutral."""
    loose: tuple[Loose, ...] = ()
    through: tuple[Node, ...] = ()
    """Where several conductors meet under the screws of a device and nowhere else."""
    insulated: tuple[Node, ...] = ()
    """Everything that is no ground, and may meet none."""
    yokes: tuple[Yoke, ...] = ()
    tied: tuple[frozenset[str], ...] = ()
    """Circuits whose breakers open together."""
    rings: bool = False
    """Whether a circuit may come back to where it began: a ring of sockets in the UK."""
    carries: Mapping[Node, Fraction] = field(default_factory=dict, hash=False)
    """What a terminal may carry, where its sheet says so [A]."""

    def poles(self, circuit: str) -> frozenset[str]:
        """Every hot that the breaker of a circuit opens, itself among them."""
        breaker = next((one.breaker for one in self.sources if one.circuit == circuit), circuit)
        return frozenset(one.circuit for one in self.sources if one.breaker == breaker)


class Joined:
    """Which nodes are one: a forest of nodes, each under the one that stands for it."""

    __slots__ = ("_over",)

    def __init__(self, pairs: Iterable[Pair] = ()) -> None:
        self._over: dict[Node, Node] = {}
        for one, other in pairs:
            self.join(one, other)

    def find(self, node: Node) -> Node:
        """The node that stands for all that are one with this."""
        over = self._over
        top = node
        while (next_up := over.get(top, top)) != top:
            top = next_up
        while node != top:
            over[node], node = top, over.get(node, node)
        return top

    def join(self, one: Node, other: Node) -> None:
        """Makes two nodes one."""
        a, b = self.find(one), self.find(other)
        if a != b:
            self._over[a] = b

    def are_one(self, one: Node, other: Node) -> bool:
        """Whether two nodes are one."""
        return self.find(one) == self.find(other)


def wired(network: Network) -> Joined:
    """What splices and cables make one, whatever any contact does."""
    return Joined(chain(network.joined, *(cable.pairs for cable in network.cables)))


@dataclass(frozen=True, slots=True)
class NetworkState:
    """One state of a network: which breakers are on, and how everything stands."""

    on: frozenset[str]
    positions: Mapping[str, int]

    def changed(self, gear: str, position: int) -> NetworkState:
        """The same, but for one thing in another position."""
        return NetworkState(self.on, {**self.positions, gear: position})


class InState:
    """A network in one state: hot nodes, neutral nodes, loads that are on."""

    def __init__(self, network: Network, state: NetworkState, base: Joined | None = None) -> None:
        self.network, self.state = network, state
        base = base or wired(network)
        self._base, self._over = base, Joined()
        self._tops: dict[Node, Node] = {}
        for gear in network.gear:
            for one, other in gear.positions[state.positions.get(gear.id, 0)]:
                self._over.join(base.find(one), base.find(other))
        self.hot: dict[Node, set[str]] = {}
        self.cold: dict[Node, set[str]] = {}
        for source in network.sources:
            if source.circuit in state.on:
                self.hot.setdefault(self.at(source.hot), set()).add(source.circuit)
            self.cold.setdefault(self.at(source.neutral), set()).add(source.circuit)
        self.ground = self.at(network.ground)

    def at(self, node: Node) -> Node:
        """The node that stands for all that are one with this now. Asked again and again, once nothing is joined."""
        top = self._tops.get(node)
        if top is None:
            top = self._tops[node] = self._over.find(self._base.find(node))
        return top

    def hots(self, node: Node) -> frozenset[str]:
        """The circuits a node is hot of."""
        return frozenset(self.hot.get(self.at(node), ()))

    def neutrals(self, node: Node) -> frozenset[str]:
        """The circuits whose neutral a node is."""
        return frozenset(self.cold.get(self.at(node), ()))

    def burns(self, load: NetLoad) -> bool:
        """Whether a load has what it needs between its sides, rightly or not."""
        one, other = self.at(load.one), self.at(load.other)
        if one == other:
            return False
        hot_one, hot_other = self.hot.get(one), self.hot.get(other)
        if hot_one and hot_other:
            return self._other_leg(one, other)
        return bool(hot_one and self.cold.get(other)) or bool(hot_other and self.cold.get(one))

    def _legs(self, circuits: set[str]) -> set[int | None]:
        return {source.leg for source in self.network.sources if source.circuit in circuits}

    def closed(self, one: Input) -> bool:
        """Whether an input is closed."""
        if one.kind == "mains":
            return bool(self.hot.get(self.at(one.node)))
        return any(self.at(one.node) == self.at(node) for node in one.closes_onto)

    def powered(self, gear: Gear) -> bool:
        """Whether a device has its power: hot at its line, and a neutral or, of two wires, a way through its load."""
        if gear.line is not None and not self.hot.get(self.at(gear.line)):
            return False
        if gear.kind == "two-wire":
            assert gear.line is not None and gear.load is not None
            bridged = self.state.positions.get(gear.id, 0) == 0 and self.at(gear.load) == self.at(gear.line)
            return not bridged and self._returns(gear.load, self.at(gear.line))
        return gear.neutral is None or bool(self.cold.get(self.at(gear.neutral)))

    def _returns(self, load: Node, line: Node) -> bool:
        """Whether the load side reaches a neutral through a load of its own, and through nothing else."""
        here = self.at(load)
        if here != line and (self.hot.get(here) or self.cold.get(here)):
            return False
        ways = [
            self.at(far)
            for one in self.network.loads
            for near, far in ((one.one, one.other), (one.other, one.one))
            if self.at(near) == here and not one.always
        ]
        return any(self.cold.get(far) or self._other_leg(line, far) for far in ways)

    def _other_leg(self, one: Node, other: Node) -> bool:
        """Whether two pieces of wire are the hots of two legs."""
        hot_one, hot_other = self.hot.get(one), self.hot.get(other)
        return bool(hot_one and hot_other) and self._legs(hot_one or set()).isdisjoint(self._legs(hot_other or set()))


def thrown(
    network: Network, state: NetworkState, gear: Gear, output: int = 0, base: Joined | None = None
) -> NetworkState:
    """The state after a person throws something: the far ends of signals and inputs follow as they do.

    Args:
        state: before.
        gear: the thing thrown; a switch to its other position, an output to its other state, a companion pressed.
        output: which output of it, from 0.
        base: its wires, where they are known already.
    """
    base = base or wired(network)
    before = InState(network, state, base)
    if gear.kind == "companion":
        return _pressed(network, state, gear, before)
    after = state.changed(gear.id, _other(gear, state.positions.get(gear.id, 0), output))
    for _ in range(4):  # an input that acts on what another one hears of; a ring of them is never built
        now, was = InState(network, after, base), before
        changed = after
        for one in network.gear:
            if one.id != gear.id and one.inputs and was.powered(one):
                changed = _heard(one, was, now, changed)
        if changed == after:
            return after
        before, after = now, changed
    return after


def _heard(gear: Gear, was: InState, now: InState, state: NetworkState) -> NetworkState:
    """A state with what a device does about its inputs."""
    for one in gear.inputs:
        closed = now.closed(one)
        if closed == was.closed(one) or one.behavior == "detached" or not now.powered(gear):
            continue
        position = state.positions.get(gear.id, 0)
        if one.behavior == "toggles" or bool(position >> one.output & 1) != closed:
            state = state.changed(gear.id, position ^ (1 << one.output))
    return state


def _pressed(network: Network, state: NetworkState, gear: Gear, now: InState) -> NetworkState:
    """A companion signals: what hears it toggles."""
    if gear.signal is None or not now.powered(gear):
        return state
    for one in network.gear:
        for heard in one.inputs:
            if heard.kind == "signal" and now.at(heard.node) == now.at(gear.signal) and now.powered(one):
                state = state.changed(one.id, state.positions.get(one.id, 0) ^ 1)
    return state


def _other(gear: Gear, position: int, output: int) -> int:
    return position ^ (1 << output) if len(gear.positions) > 2 else 1 - position
