"""Put the findings of a proof into words, and say in which boxes each is mended.

With them the wires used against their color, as planned. Source: NFPA 70 (NEC) 200.6(A) and 200.7(C)(1), 2023, from
memory of the publication. Where cores are sleeved at their ends, as in the UK and India, any color may carry anything;
and so may an old wire that was told to.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass

from ...model.answer import Text
from .graph import Graph
from .network import Gear, Joined, NetLoad, NetworkState, Node, Source
from .proof import RULES, Finding

WHITES = frozenset(("white", "gray"))
COLORS = 9
"""The rule."""


def misused(seen: Graph, base: Joined) -> Iterator[Finding]:
    """The conductors whose color says something else; each once, at one end.

    Args:
        seen: the network, and the conductor each of its nodes is.
        base: its wires.
    """
    neutrals = {base.find(source.neutral) for source in seen.network.sources}
    switched = {base.find(load.one) for load in seen.network.loads if load.legs == 1 and not load.always} - neutrals
    told: set[str] = set()
    for node, wire in seen.wire_of.items():
        if node in told or wire.color is None:
            continue
        code = ""
        if wire.color not in WHITES and wire.role != "neutral" and base.find(node) in neutrals:
            code = "neutral-on-color"
        elif wire.color in WHITES and wire.role != "switched" and base.find(node) in switched:
            code = "white-returns"
        if code:
            told |= {end for cable in seen.network.cables for pair in cable.pairs if node in pair for end in pair}
            yield Finding(code, COLORS, node, None, node)


class Mending:
    """The boxes of a network, by what lies in them.

    Args:
        seen: the network, and in which box each of its nodes lies.
        base: its wires.
    """

    def __init__(self, seen: Graph, base: Joined) -> None:
        self._seen, self._base = seen, base
        self._gear = {one.id: one for one in seen.network.gear}
        self._loads = {one.id: one for one in seen.network.loads}
        self._at: dict[Node, set[str]] = {}
        for node, box in seen.box_of.items():
            self._at.setdefault(base.find(node), set()).add(box)

    def nodes_in(self, box: str) -> set[Node]:
        """For each piece of wire in a box the node that stands for it."""
        return {node for node, boxes in self._at.items() if box in boxes}

    def is_in(self, finding: Finding, boxes: Collection[str]) -> bool:
        """Whether what a finding is about lies in one of these boxes."""
        return self._seen.box_of.get(finding.of) in boxes or self._seen.box_of.get(finding.node or "") in boxes

    def concerns(self, finding: Finding, boxes: Collection[str]) -> bool:
        """Whether a finding is about one of these boxes, or is mended there.

        A neighbor without power is mended where the cable to it is left out of the hot splice: there the wire that
        lacks its source and the source lie side by side.
        """
        return self.is_in(finding, boxes) or any(
            not self._at.get(mine, set()).isdisjoint(self._at.get(its, set()) & set(boxes))
            for node, source in self._lacking(finding.of)
            if (mine := self._base.find(node)) != (its := self._base.find(source))
        )

    def cut_off(self, finding: Finding, box: str) -> Iterator[Node]:
        """The ends in a box of the wires that lack what a finding wants of them."""
        mine = {
            self._base.find(node) for node, source in self._lacking(finding.of) if not self._base.are_one(node, source)
        }
        yield from (one for one, at in self._seen.box_of.items() if at == box and self._base.find(one) in mine)

    def _lacking(self, of: str) -> Iterator[tuple[Node, Node]]:
        """The point a thing, a load or a ground must be joined with by wires alone: each node with its source."""
        if of in self._gear:
            yield from self._of_gear(self._gear[of])
        elif of in self._loads:
            yield from self._of_load(self._loads[of])
        elif of in self._seen.network.grounds:
            yield of, self._seen.network.ground

    def _of_gear(self, gear: Gear) -> Iterator[tuple[Node, Node]]:
        for source in self._sources(gear.circuit):
            lines = (gear.line,) if gear.line is not None else tuple(gear.nodes)
            yield from ((line, source.hot) for line in lines)
            if gear.neutral is not None:
                yield gear.neutral, source.neutral

    def _of_load(self, load: NetLoad) -> Iterator[tuple[Node, Node]]:
        for source in self._sources(load.circuit):
            if load.legs == 1:
                yield load.other, source.neutral
            if load.always:
                yield load.one, source.hot

    def _sources(self, circuit: str | None) -> Iterator[Source]:
        yield from (one for one in self._seen.network.sources if circuit in (None, one.circuit))


_SAID: dict[str, tuple[str, tuple[str, ...]]] = {
    "does-not-change": ("does not change its load from every state", ("see which wire goes to its common",)),
    "changes-another": ("changes a load that is not its own", ("look for a hot spliced to another device’s load",)),
    "not-powered": ("has no power in every state with its breaker on", (
        "line and load may be exchanged", "a two-wire device needs its lamp, and nothing around it")),
    "legs-shorted": ("the hots of two legs meet", ("take them apart before anything is switched on",)),
    "circuits-joined": ("the hots of two circuits meet", ("keep each circuit in a splice of its own",)),
    "neutrals-joined": ("the neutrals of two circuits meet", ("keep each neutral in a splice of its own",)),
    "hot-meets-neutral": ("hot meets neutral: a short", ("take them apart before anything is switched on",)),
    "hot-meets-ground": ("hot meets ground: a short", ("take them apart before anything is switched on",)),
    "neutral-meets-ground": ("neutral meets ground outside the service", ("take the bond out of the box",)),
    "neutral-of-another": ("has its hot from one circuit and its neutral from another", (
        "join its neutral with that of its own circuit",)),
    "fed-twice": ("is reached by two cables at once: NEC 300.3(B), 310.10(G)", (
        "join one of the two, and cap the other at both ends",)),
    "returns-elsewhere": ("its current does not return in the cable it came by", (
        "bring its neutral by the same cable",)),
    "mains-on-dry-input": ("mains on an input for dry contacts", (
        "take both conductors of the loop off hot", "a module whose input takes mains")),
    "neutral-at-two-hots": ("lies between two hots, and has a neutral: half its volts", (
        "bring both hots of its breaker to it",)),
    "two-breakers": ("has its two hots from two breakers", ("take both from one breaker of two poles",)),
    "terminal-overloaded": ("carries more than its sheet allows", (
        "splice what goes on, with a pigtail to the device", "fewer lamps")),
    "leaks-into-input": ("may take what leaks through an open switch for being on", (
        "a plain switch, with no neon in it", "an input for dry contacts")),
    "two-circuits-on-yoke": ("is fed by two circuits, and nothing is known that opens them together: NEC 210.7", (
        "one breaker of two poles, or a tie between the handles", "feed both halves from one circuit")),
    "neutral-switched": ("its neutral is switched or missing", ("switch the hot, never the neutral",)),
    "polarity-switched": ("its hot and its neutral change places", ("re-wire it: travelers between the switches",)),
    "polarity-reversed": ("has its hot where its neutral belongs: NEC 200.11", ("exchange the two",)),
    "past-protector": ("takes hot and neutral from two sides of what trips", ("take both from past it",)),
    "line-side-not-fed": ("has no feed at its line terminals", (
        "bring hot and neutral of the feed to the line terminals, and what it protects to the load terminals",)),
    "protector-bypassed": ("has feed at its load terminals, too: what hangs there is fed when it has tripped", (
        "land only what it protects on the load terminals",)),
    "neutral-through-device": (
        "a neutral that two circuits share goes through a device",
        ("splice it, and bring a pigtail to the device: NEC 300.13(B)",),
    ),
    "companion-given-load": ("has more on its signal than a signal", ("a companion never carries the load",)),
    "bridged": ("has both its sides in one splice: it switches nothing", ("keep its two sides apart",)),
    "input-held": ("has an input that is closed for good", ("keep the signal in a splice of its own", "cap it")),
    "input-never-changes": ("has an input that its switch never changes", (
        "bring the hot to one side of the switch, and the input to the other",)),
    "signal-on-neutral": ("has a neutral on its signal", ("keep the signal in a splice of its own",)),
    "wire-on-ground": ("is joined with ground, and is none", ("take it out of the grounds",)),
    "onward-not-fed": ("is not fed in every position", ("splice what goes on with the feed, not behind a switch",)),
    "ground-missing": ("is not joined with ground", ("join it with the other grounds",)),
    "grounds-apart": ("is not joined with the other grounds of its box, whatever its cable does: NEC 250.148", (
        "join it with the other grounds",)),
    "neutral-on-color": ("carries a neutral, and is not white: NEC 200.6(A)", ("the neutral on the white",)),
    "white-returns": ("brings the switched hot on white: NEC 200.7(C), its supply alone may be white", (
        "the hot on the white, re-marked, and the switched hot on the black",)),
    "live-end-bare": ("ends in no splice, and is live", ("join it, or cap it at both ends",)),
    "capped-live": ("is capped here, and live from its far end", ("cap it at both ends",)),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class FindingText:
    """A finding in words."""

    finding: Finding
    text: Text
    rule: str
    """What must be so."""
    state: str
    """In which state it shows; "" where in all."""
    ways: tuple[str, ...]


def said(finding: Finding, seen: Graph, beyond: bool = False) -> FindingText:
    """A finding in words.

    Args:
        finding: of the proof of that network.
        seen: what its nodes are called.
        beyond: whether it shows in another box, and is mended in the one looked at.
    """
    about, ways = _SAID[finding.code]
    if beyond:
        ways = ("what leads there passes through here: join it here with what feeds it", *ways)
    return FindingText(
        finding,
        (*name_of(finding.of, seen), f": {about}"),
        RULES[finding.rule],
        "" if finding.state is None else state_words(finding.state, seen),
        ways,
    )


def name_of(of: str, seen: Graph) -> Text:
    """What people call a load, a thing or a node; circuits stay as they are."""
    gear = next((one for one in seen.network.gear if one.id == of), None)
    if gear is not None:
        return (seen.gear_names.get(of, of),)
    if of in seen.load_names:
        return (seen.load_names[of],)
    named = seen.names.get(of)
    if named is None:
        poles = {source.circuit: source.pole_of for source in seen.network.sources}
        called = [f"{poles[one]} (its other pole)" if poles.get(one) else one for one in of.split(",")]
        return (f"circuits {' and '.join(called)}" if len(called) > 1 else f"circuit {called[0]}",)
    box = seen.box_of.get(of)
    return (f"{seen.box_names[box]}, ", *named) if box else named


def state_words(state: NetworkState, seen: Graph) -> str:
    """A state as a person says it: breaker 9 on, far switch down, main off.

    Only what matters to it is named: the breakers and things it says.
    """
    breakers = [
        f"breaker {source.circuit} on"
        for source in seen.network.sources
        if source.circuit in state.on and source.pole_of is None
    ]
    things = [
        f"{seen.gear_names.get(gear.id, gear.id)} {gear.words[state.positions[gear.id]]}"
        for gear in seen.network.gear
        if gear.id in state.positions and len(gear.positions) > 1
    ]
    return ", ".join([*(breakers or ["every breaker off"]), *things])
