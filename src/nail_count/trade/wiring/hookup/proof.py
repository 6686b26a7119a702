"""Whether a hook-up works and hurts nobody, tried in every state of breakers, switches, contacts and inputs.

Cut at the sources a network falls into groups that share no wire; each is tried in every one of its states, none left
out. Source: the trade's own rules of what must be so, and NFPA 70 (NEC) 210.4, 250.24(A), 250.142(B), 300.3(B),
210.7, 300.13(B), 200.11, 250.148, 404.2; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache
from itertools import chain, product
from math import prod

from .currents import Group, carried_by, groups_of, unbalanced
from .network import Gear, Input, InState, Joined, NetLoad, Network, NetworkState, Node, Source, thrown, wired

MOST_STATES = 2**20
"""Of one group: above this it stays open."""

RULES: dict[int, str] = {
    1: "every place of control changes its load from every state, and nothing else’s",
    2: "what needs power has it, load on or off",
    3: "hot never meets neutral, ground or another circuit’s hot; neutrals stay apart, and off the ground",
    4: "the neutral of a load belongs to the circuit of its line, in the cable it came by",
    5: "no input sees what it is not made for, and no lead carries more than it may",
    6: "nothing is switched in its neutral alone, and nothing live ends bare",
    7: "what was fed before is fed after",
    8: "all grounds are joined, the metal box with them",
    9: "every wire is used as its color says",
}
SHORTS = 3
"""The rule that is answered at once, however much is not known yet."""


@dataclass(frozen=True, slots=True)
class Finding:
    """The fault, and the state in which it shows."""

    code: str
    rule: int
    of: str
    """The load, the thing, the circuits, the node it is about."""
    state: NetworkState | None = None
    """The first state it shows in; None: in all of them."""
    node: Node | None = None
    """Where it shows on the drawing, beside what it is about."""


@dataclass(slots=True)
class Proof:
    """What was tried and what was found."""

    findings: list[Finding] = field(default_factory=list)
    states: int = 0
    """How many were tried."""
    burning: int = 0
    """In how many of them some load burned."""
    too_many: list[tuple[str, ...]] = field(default_factory=list)
    """Groups with more states than are tried: what stands in them."""
    live: dict[Node, frozenset[str]] = field(default_factory=dict)
    """For the node that stands for each piece of wire: the circuits it is hot of in some state."""

    @property
    def holds(self) -> bool:
        """Whether nothing was found, and everything was tried."""
        return not self.findings and not self.too_many

    def add(self, finding: Finding) -> None:
        """Notes a finding, once."""
        if all((finding.code, finding.of) != (known.code, known.of) for known in self.findings):
            self.findings.append(finding)


MOST_PROVEN = 64
"""Of how many networks the proof is remembered: a value of a value, asked for again at every throw of a switch."""


FEW_PAIRS = 1000
"""A network with more splices is tried again each time."""


def prove(network: Network) -> Proof:
    """Tries a network in every state.

    Args:
        network: sources, splices, cables, things, loads.

    Returns:
        Each finding once, with the first state it shows in.

    >>> network = Network((Source("1", "h", "n", 1),), (("h", "s1"), ("s2", "a"), ("b", "n")),
    ...     gear=(Gear("s", "switch", ((), (("s1", "s2"),)), ("off", "on"), controls=(("lamp",),)),),
    ...     loads=(NetLoad("lamp", "a", "b", "1"),))
    >>> proof = prove(network)
    >>> proof.holds, proof.states, proof.burning
    (True, 4, 1)
    """
    return remembered(network) if len(network.joined) <= FEW_PAIRS else _proven(network)


@lru_cache(maxsize=MOST_PROVEN)
def remembered(network: Network) -> Proof:
    """As [prove][nail_count.trade.wiring.hookup.proof.prove], of a network asked for again and again."""
    return _proven(network)


def _proven(network: Network) -> Proof:
    proof, base = Proof(), wired(network)
    at_rest = InState(replace(network, gear=()), NetworkState(frozenset(s.circuit for s in network.sources), {}), base)
    _shorts(at_rest, proof)
    proof.live = {root: frozenset(circuits) for root, circuits in at_rest.hot.items()}
    _grounds(network, base, proof)
    _on_ground(network, base, proof)
    _rings(network, proof)
    for group in groups_of(network, base):
        if prod(len(one.positions) for one in group.gear) * 2 ** len(group.breakers) > MOST_STATES:
            proof.too_many.append(tuple(one.id for one in group.gear))
            continue
        _Trial(group, base, proof).run()
    _bare(network, base, proof)
    shared = {base.find(source.neutral) for source in network.sources if source.shares}
    for node in network.through:
        if base.find(node) in shared:
            proof.add(Finding("neutral-through-device", 4, node, None, node))
    _yokes(network, base, proof)
    return proof


def _shorts(now: InState, proof: Proof) -> None:
    """Rule 3, in one state."""
    sources = {source.circuit: source for source in now.network.sources}
    state = now.state if now.network.gear else None
    for root, circuits in now.hot.items():
        if len(circuits) > 1:
            legs = {sources[circuit].leg for circuit in circuits}
            code = "legs-shorted" if len(legs - {None}) > 1 else "circuits-joined"
            proof.add(Finding(code, 3, ",".join(sorted(circuits)), state, root))
        if root in now.cold:
            proof.add(Finding("hot-meets-neutral", 3, ",".join(sorted(circuits | now.cold[root])), state, root))
        if root == now.ground:
            proof.add(Finding("hot-meets-ground", 3, ",".join(sorted(circuits)), state, root))
    for node in now.network.floating:
        if hots := now.hots(node):
            proof.add(Finding("hot-meets-ground", 3, ",".join(sorted(hots)), state, node))
        if neutrals := now.neutrals(node):
            proof.add(Finding("neutral-meets-ground", 3, ",".join(sorted(neutrals)), state, node))
    for root, circuits in now.cold.items():
        apart = {circuit for circuit in circuits if not {sources[circuit].shares} & circuits}
        if len(circuits) > 1 and apart:
            proof.add(Finding("neutrals-joined", 3, ",".join(sorted(circuits)), state, root))
        if root == now.ground:
            proof.add(Finding("neutral-meets-ground", 3, ",".join(sorted(circuits)), state, root))


def _grounds(network: Network, base: Joined, proof: Proof) -> None:
    """Rule 8: every ground is one with the panel's by wires alone, and in its box with the others (NEC 250.148)."""
    for node in network.grounds:
        if not base.are_one(node, network.ground):
            proof.add(Finding("ground-missing", 8, node, None, node))
        elif node in network.grounds_apart:
            proof.add(Finding("grounds-apart", 8, node, None, node))


def _on_ground(network: Network, base: Joined, proof: Proof) -> None:
    """Rule 3: nothing but grounds is joined with ground, live or not."""
    at_ground = [node for node in network.insulated if base.are_one(node, network.ground)]
    if at_ground and not any(one.code in ("hot-meets-ground", "neutral-meets-ground") for one in proof.findings):
        proof.add(Finding("wire-on-ground", 3, at_ground[0], None, at_ground[0]))


def _rings(network: Network, proof: Proof) -> None:
    """Rule 4: no wire is reached by two cables at once: each would carry a part, and one opened leaves the other live.

    Source: NEC 300.3(B) and 310.10(G), from memory of the publication.
    """
    grounds, over = frozenset(network.grounds) | {network.ground}, Joined(network.joined)
    for one, other in chain.from_iterable(cable.pairs for cable in network.cables if not network.rings):
        if one in grounds or other in grounds:
            continue
        if over.are_one(one, other):
            proof.add(Finding("fed-twice", 4, one, None, one))
        over.join(one, other)


def _bare(network: Network, base: Joined, proof: Proof) -> None:
    """Rule 6: an end in no splice, or one that is capped, is live in no state."""
    for loose in network.loose:
        if proof.live.get(base.find(loose.node)) and not (loose.capped and loose.feed):
            code = "capped-live" if loose.capped else "live-end-bare"
            proof.add(Finding(code, 6, loose.node, None, loose.node))


def _yokes(network: Network, base: Joined, proof: Proof) -> None:
    """Rule 6: what two circuits feed on one yoke, their breakers open together (NEC 210.7)."""
    breaker = {source.circuit: source.breaker for source in network.sources}
    for yoke in network.yokes:
        live = frozenset[str]().union(*(proof.live.get(base.find(node), frozenset()) for node in yoke.nodes))
        breakers = {breaker[circuit] for circuit in live}
        if len(breakers) > 1 and not any(breakers <= together for together in network.tied):
            proof.add(Finding("two-circuits-on-yoke", 6, yoke.id, None, yoke.nodes[0]))


class _Trial:
    """One group, tried in every state."""

    def __init__(self, group: Group, base: Joined, proof: Proof) -> None:
        self.group, self.network, self.base, self.proof = group, group.network, base, proof
        self.sources: dict[str, Source] = {one.circuit: one for one in group.network.sources}
        protectors = [gear for gear in group.gear if gear.kind == "protector"]
        steady = wired(group.network) if protectors else base
        for gear in protectors:  # it opens both poles together: for its neutral it is a wire
            for one, other in gear.positions[1]:
                steady.join(one, other)
        self.neutral_at = {steady.find(source.neutral) for source in group.network.sources}
        self.steady = steady
        self.hot_sides: dict[str, set[bool]] = {}
        self.returns_seen: set[str] = set()
        self.told: dict[tuple[str, Node], set[bool]] = {
            (gear.id, one.node): set() for gear in group.gear for one in gear.inputs if self._is_told(gear, one)
        }
        """Of each input that only tells another device what its switch does: how it was seen."""

    def run(self) -> None:
        """Try every state, and then take what all of them show together."""
        self._at_rest()
        every = [range(len(gear.positions)) for gear in self.group.gear]
        for on in product((False, True), repeat=len(self.group.breakers)):
            lit = frozenset[str]().union(*(c for c, is_on in zip(self.group.breakers, on, strict=True) if is_on))
            for numbers in product(*every):
                self._state(NetworkState(lit, {g.id: n for g, n in zip(self.group.gear, numbers, strict=True)}))
        for (id, node), seen in self.told.items():
            if len(seen) < 2:
                self.proof.add(Finding("input-never-changes", 1, id, None, node))
        for id, ways in self.hot_sides.items():
            if len(ways) > 1:
                self.proof.add(Finding("polarity-switched", 6, id))
            elif ways == {False}:
                self.proof.add(Finding("polarity-reversed", 4, id))

    def _at_rest(self) -> None:
        """Rules 1, 5 and 6, as far as no state matters."""
        for load in self.network.loads:
            sides = {self.steady.find(load.one), self.steady.find(load.other)}
            if not load.always and load.legs == 1 and not sides & self.neutral_at:
                self.proof.add(Finding("neutral-switched", 6, load.id))
        for gear in self.group.gear:
            if len(gear.positions) > 1 and self._does_nothing(gear):
                self.proof.add(Finding("bridged", 1, gear.id, None, next(gear.nodes)))
            for one in gear.inputs:
                onto = one.closes_onto or ((gear.line,) if gear.line is not None else ())
                if any(self.base.are_one(one.node, node) for node in onto):
                    self.proof.add(Finding("input-held", 5, gear.id, None, one.node))

    def _is_told(self, gear: Gear, one: Input) -> bool:
        """Whether an input works nothing of its own device, and something that can be thrown is in front of it."""
        others = (other for other in self.group.gear if other.id != gear.id and len(other.positions) > 1)
        wired_to = any(self.base.are_one(one.node, node) for other in others for node in other.nodes)
        return one.behavior == "detached" and wired_to

    def _does_nothing(self, gear: Gear) -> bool:
        """Whether a contact of it joins what splices do already; of a three-way, every one, since one throw may."""
        every = list(chain(*gear.positions))
        if not any(self.base.are_one(*pair) for pair in every):
            return False
        own = set(gear.nodes)
        pairs = chain(self.network.joined, *(cable.pairs for cable in self.network.cables))
        beyond = {self.base.find(node) for node in chain(*pairs) if node not in own}
        beyond |= {self.base.find(node) for source in self.network.sources for node in (source.hot, source.neutral)}
        beyond |= {self.base.find(node) for load in self.network.loads for node in (load.one, load.other)}
        joins = [pair for pair in every if {self.base.find(node) for node in pair} <= beyond] or every
        thrown = all if gear.kind in ("three-way", "four-way") else any
        return thrown(self.base.are_one(*pair) for pair in joins)

    def _state(self, state: NetworkState) -> None:
        now = InState(self.network, state, self.base)
        self.proof.states += 1
        _shorts(now, self.proof)
        for root, circuits in now.hot.items():
            for piece in self._pieces(root, now):
                self.proof.live[piece] = self.proof.live.get(piece, frozenset()) | circuits
        burning = frozenset(load.id for load in self.network.loads if now.burns(load))
        self.proof.burning += any(not load.always and load.id in burning for load in self.network.loads)
        for load in self.network.loads:
            self._load(load, now, load.id in burning)
        for gear in self.group.gear:
            self._gear(gear, now, burning)
            for one in gear.inputs:
                if (gear.id, one.node) in self.told:
                    self.told[gear.id, one.node].add(now.closed(one))
            if gear.leaks and state.positions[gear.id] == 0:
                self._leaks(gear, now)
        if self.network.carries:
            self._carried(now, burning)

    def _pieces(self, root: Node, now: InState) -> Iterator[Node]:
        """The pieces of wire that are one in this state."""
        yield root
        for gear in self.group.gear:
            for one in chain.from_iterable(gear.positions[now.state.positions[gear.id]]):
                if now.at(one) == root:
                    yield self.base.find(one)

    def _load(self, load: NetLoad, now: InState, burns: bool) -> None:
        """Rules 4 and 7, of one load in one state."""
        if load.always and not self._is_tripped(now):
            fed = load.circuit in now.state.on if load.circuit else len(now.state.on) == len(self.group.circuits)
            if not burns and fed:
                self.proof.add(Finding("onward-not-fed", 7, load.id, now.state))
        if not burns:
            return
        if load.legs == 2:
            self._across(load, now)
            return
        is_first = bool(now.hots(load.one))
        hot, cold = (load.one, load.other) if is_first else (load.other, load.one)
        self.hot_sides.setdefault(load.id, set()).add(is_first)
        if now.hots(hot).isdisjoint(self._owners(now.neutrals(cold))):
            self.proof.add(Finding("neutral-of-another", 4, load.id, now.state, cold))
        if load.id not in self.returns_seen:
            self.returns_seen.add(load.id)
            self._returns(load, hot, cold, now)
        for gear in self.group.gear:
            if gear.kind == "protector" and now.state.positions[gear.id] == 1:
                without = InState(self.network, now.state.changed(gear.id, 0), self.base)
                if bool(without.hots(hot)) != bool(without.neutrals(cold)):
                    self.proof.add(Finding("past-protector", 4, load.id, now.state, cold))

    def _across(self, load: NetLoad, now: InState) -> None:
        """Rule 4, of a load between two hots: both of one breaker, and no neutral."""
        for node in (load.one, load.other):
            if now.neutrals(node):
                self.proof.add(Finding("neutral-at-two-hots", 4, load.id, now.state, node))
                return
        one, other = ({self.sources[of].breaker for of in now.hots(node)} for node in (load.one, load.other))
        if one.isdisjoint(other) and not any(one | other <= together for together in self.network.tied):
            self.proof.add(Finding("two-breakers", 4, load.id, now.state, load.other))
        hots = [{self.sources[of].hot for of in now.hots(node)} for node in (load.one, load.other)]
        for cable in unbalanced(self.network, now.state, (load.one, load.other), (hots[0], hots[1])):
            pairs = next(one.pairs for one in self.network.cables if one.id == cable)
            self.proof.add(Finding("returns-elsewhere", 4, load.id, now.state, pairs[0][0]))

    def _carried(self, now: InState, burning: frozenset[str]) -> None:
        """Rule 5: what the loads that burn draw through each terminal, against what its sheet lets it carry."""
        sum_at: dict[Node, Fraction] = {}
        for load in self.network.loads:
            if load.id in burning and load.amps is not None:
                for node in carried_by(self.network, now, load):
                    sum_at[node] = sum_at.get(node, Fraction()) + load.amps
        for node, amps in sum_at.items():
            if node in self.network.carries and amps > self.network.carries[node]:
                self.proof.add(Finding("terminal-overloaded", 5, node, now.state, node))

    def _leaks(self, gear: Gear, now: InState) -> None:
        """Rule 5: what an open contact lets through, no input takes for being closed."""
        for pair in chain.from_iterable(gear.positions[1:]):
            for near, far in (pair, pair[::-1]):
                if not now.hots(near) or now.hots(far):
                    continue
                for other in self.group.gear:
                    for one in other.inputs:
                        if one.kind in ("mains", "signal") and other.id != gear.id and now.at(one.node) == now.at(far):
                            self.proof.add(Finding("leaks-into-input", 5, other.id, now.state, one.node))

    def _owners(self, neutrals: frozenset[str]) -> set[str]:
        """The circuits a neutral belongs to: those of a multiwire circuit share one."""
        shared = {self.sources[circuit].shares for circuit in neutrals}
        return {circuit for circuit in (*neutrals, *shared) if circuit is not None}

    def _returns(self, load: NetLoad, hot: Node, cold: Node, now: InState) -> None:
        """Rule 4: in every cable what flows one way flows back."""
        hots = {self.sources[circuit].hot for circuit in now.hots(hot)}
        colds = {self.sources[circuit].neutral for circuit in now.neutrals(cold)}
        for cable in unbalanced(self.network, now.state, (hot, cold), (hots, colds)):
            pairs = next(one.pairs for one in self.network.cables if one.id == cable)
            self.proof.add(Finding("returns-elsewhere", 4, load.id, now.state, pairs[0][0]))

    def _gear(self, gear: Gear, now: InState, burning: frozenset[str]) -> None:
        """Rules 1, 2, 4 and 5, of one thing in one state."""
        for one in gear.inputs:
            if one.kind in ("dry", "low voltage") and (now.hots(one.node) or now.neutrals(one.node)):
                self.proof.add(Finding("mains-on-dry-input", 5, gear.id, now.state, one.node))
            if one.kind == "signal" and now.neutrals(one.node):
                self.proof.add(Finding("signal-on-neutral", 5, gear.id, now.state, one.node))
        if gear.signal is not None and (now.hots(gear.signal) or now.neutrals(gear.signal)):
            self.proof.add(Finding("companion-given-load", 5, gear.id, now.state, gear.signal))
        if gear.kind == "protector":
            self._protector(gear, now)
            return
        if self._is_tripped(now):  # as a breaker that is off: what hangs past it has no power, and need not
            return
        on = now.state.on
        needs = gear.line is not None or gear.neutral is not None
        if needs and (gear.circuit in on if gear.circuit else len(on) == len(self.group.circuits)):
            if not self._powered(gear, now):
                self.proof.add(Finding("not-powered", 2, gear.id, now.state, gear.line or gear.neutral))
                return
            hots = now.hots(gear.line) if gear.line is not None else on
            if gear.neutral is not None and hots.isdisjoint(self._owners(now.neutrals(gear.neutral))):
                self.proof.add(Finding("neutral-of-another", 4, gear.id, now.state, gear.neutral))
        if gear.all_controls and self._consistent(now):
            self._controls(gear, now, burning)

    def _is_tripped(self, now: InState) -> bool:
        """Whether anything that trips has tripped."""
        return any(one.kind == "protector" and now.state.positions[one.id] == 0 for one in self.group.gear)

    def _protector(self, gear: Gear, now: InState) -> None:
        """Rules 2 and 4, of what trips: fed at its line side, with nothing that gets past it."""
        if now.state.positions[gear.id] or not (gear.circuit in now.state.on if gear.circuit else now.state.on):
            return
        for node, has in ((gear.line, now.hots), (gear.neutral, now.neutrals)):
            if node is not None and not has(node) and self._all_on(gear, now):
                self.proof.add(Finding("line-side-not-fed", 2, gear.id, now.state, node))
        if gear.line is not None and gear.neutral is not None:
            hots, neutrals = now.hots(gear.line), now.neutrals(gear.neutral)
            if hots and neutrals and hots.isdisjoint(self._owners(neutrals)):
                self.proof.add(Finding("neutral-of-another", 4, gear.id, now.state, gear.neutral))
        for node, has in ((gear.load, now.hots), (gear.past, now.neutrals)):
            if node is not None and has(node):
                self.proof.add(Finding("protector-bypassed", 4, gear.id, now.state, node))

    def _all_on(self, gear: Gear, now: InState) -> bool:
        """Whether nothing but this has tripped, and its circuit is on; where that isn't known, every one."""
        others = (one for one in self.group.gear if one.kind == "protector" and one.id != gear.id)
        is_fed = gear.circuit in now.state.on if gear.circuit else len(now.state.on) == len(self.group.circuits)
        return is_fed and all(now.state.positions[one.id] for one in others)

    def _powered(self, gear: Gear, now: InState) -> bool:
        """A two-wire device lives through its load while its own contact is open, whatever else is closed."""
        if gear.kind != "two-wire":
            return now.powered(gear)
        return InState(self.network, now.state.changed(gear.id, 0), self.base).powered(gear)

    def _consistent(self, now: InState) -> bool:
        """Whether every output that follows its input does."""
        return all(
            bool(now.state.positions[gear.id] >> one.output & 1) == now.closed(one)
            for gear in self.group.gear
            for one in gear.inputs
            if one.behavior == "follows" and now.powered(gear)
        )

    def _controls(self, gear: Gear, now: InState, burning: frozenset[str]) -> None:
        """Rule 1, in one state."""
        circuits = {load.id: load.circuit for load in self.network.loads}
        everything = len(now.state.on) == len(self.group.circuits)
        for output, mine in enumerate(gear.controls):
            expected = {one for one in mine if (circuits.get(one) in now.state.on if circuits.get(one) else everything)}
            if not mine or not now.state.on or expected != set(mine):
                continue
            after = InState(self.network, thrown(self.network, now.state, gear, output, self.base), self.base)
            lit = {load.id for load in self.network.loads if after.burns(load)}
            changed = {load.id for load in self.network.loads if (load.id in lit) != (load.id in burning)}
            if expected - changed:
                self.proof.add(Finding("does-not-change", 1, gear.id, now.state))
            others = {load.id for load in self.network.loads if load.id in changed - set(mine) and not load.always}
            if others:
                self.proof.add(Finding("changes-another", 1, gear.id, now.state))
