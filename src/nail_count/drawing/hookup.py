"""A box's hook-up drawn: cables from above, devices and lamps below, splices between as connectors with their count."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from ..trade.model.splice import PigtailEnd, Splice
from ..trade.wiring.hookup.stages import Named
from .way import Curve, Line, Way

STEP = 19.0
"""From one end to the next [mm on the drawing]."""
GAP = 13.0
"""Between cables, and between devices."""
TOP = 34.0
"""Where conductors end."""
LEVEL = 25.0
"""From one row of splices to the next."""
NETWORK = 22.0
"""Below the devices, where one of them works over the network."""
USUALLY_JOINED = 3
"""Ends in a splice, when all of a box is joined."""
LETTERS: Mapping[str, str] = {
    "black": "bk", "white": "wh", "red": "rd", "blue": "bu", "brown": "br", "gray": "gy", "yellow": "yl",
    "green-yellow": "gn", "green": "gn", "bare": "g", "brass": "bs", "silver": "si", "orange": "or", "violet": "vi",
}  # fmt: skip
"""How a color is written beside its wire, so that it reads in black and white."""


SHORT: Mapping[str, str] = {
    "neutral": "neut.", "ground": "gnd", "traveler": "trav.", "second load": "2nd", "third load": "3rd",
    "input common": "com", "load neutral": "ld n", "input": "in",
}  # fmt: skip
"""What a terminal is called where there is little room."""
DRAWN_COLORS = frozenset(LETTERS) - {"brass", "silver"}
"""Those a wire is drawn in; a screw has none."""


@dataclass(frozen=True, slots=True)
class DrawnEnd:
    """An end of a wire."""

    named: Named
    x: float
    y: float
    above: bool
    """Whether it comes from a cable above, else from a device or a lamp below."""
    splice: str
    """In which splice it is; "" for none."""
    letters: str
    live: bool
    failing: bool
    lit: bool = False
    """Whether the step at hand is about it."""

    @property
    def short(self) -> str:
        """What stands beside it."""
        return SHORT.get(self.named.short, self.named.short)

    @property
    def way(self) -> Line:
        """Its own piece, from where it comes."""
        return Line(((self.x, self.y - 24 if self.above else self.y + 16), (self.x, self.y)))


@dataclass(frozen=True, slots=True)
class DrawnSplice:
    """A splice, or the wires under one screw."""

    id: str
    x: float
    y: float
    count: int
    name: str
    size: str
    """Of its connector; "" for a screw."""
    live: bool
    wires: tuple[tuple[Way, str, bool], ...]
    """Of each wire to it: its way, its color, and whether it is live."""
    lit: bool = False


@dataclass(frozen=True, slots=True)
class Group:
    """A cable, a device, a lamp: what ends belong to."""

    title: str
    note: str
    x: float
    width: float
    above: bool
    on: bool
    """Whether it is a device that is switched on, or a lamp that burns."""
    lamp: bool
    network: str
    """What it works over the network, or is worked by; "" for nothing."""


@dataclass(frozen=True, slots=True)
class HookupDrawing:
    """Where everything lies."""

    width: float
    height: float
    bottom: float
    """Where the leads below end."""
    ends: tuple[DrawnEnd, ...]
    splices: tuple[DrawnSplice, ...]
    groups: tuple[Group, ...]
    facts: str
    """The same as a text."""


@dataclass(frozen=True, slots=True)
class Titles:
    """What stands at a cable, a device or a lamp."""

    title: str
    note: str
    above: bool
    on: bool = False
    lamp: bool = False
    network: str = ""


def hookup_drawing(
    ends: Mapping[str, Named],
    splices: Sequence[Splice],
    titles: Mapping[str, Titles],
    *,
    live: frozenset[str] = frozenset(),
    failing: frozenset[str] = frozenset(),
    lit: frozenset[str] = frozenset(),
) -> HookupDrawing:
    """Where every end, splice and wire lies.

    Args:
        titles: of each cable, device and lamp, by what its ends belong to.
        live: keys of the ends that are live now.
        failing: keys of those that something failing is about.
        lit: keys of those that the step at hand is about.
    """
    held = {end: splice for splice in splices for end in splice.ends}
    used = [splice for splice in splices if splice.ends]
    many = max(len(used), len(ends) // USUALLY_JOINED, 2)  # as high before anything is joined: nothing jumps meanwhile
    bottom = TOP + LEVEL * (many**0.5 * 1.5 + 1.5)
    at, groups = _rows(ends, titles)
    drawn = tuple(
        DrawnEnd(
            named, at[key], TOP if _above(named, titles) else bottom, _above(named, titles),
            held[named.end].id if named.end in held else "", LETTERS.get(named.color, ""),
            live=key in live, failing=key in failing, lit=key in lit,
        )
        for key, named in ends.items()
    )  # fmt: skip
    placed = _placed(used, drawn, bottom)
    width = max([group.x + group.width for group in groups] + [80.0]) + GAP
    said = "; ".join(
        f"{splice.name or 'splice'} {splice.id}: {', '.join(e.named.words for e in drawn if e.splice == splice.id)}"
        for splice in used
    )
    loose = ", ".join(end.named.words for end in drawn if not end.splice)
    facts = (said or "Nothing is joined yet") + (f". In no splice: {loose}." if loose else ".")
    links = [f"{group.title} {group.network} over the network." for group in groups if group.network]
    facts = " ".join((facts, *links))
    return HookupDrawing(width, bottom + 58 + (NETWORK if links else 0), bottom, drawn, placed, groups, facts)


def _above(named: Named, titles: Mapping[str, Titles]) -> bool:
    return titles[named.of].above


def _rows(ends: Mapping[str, Named], titles: Mapping[str, Titles]) -> tuple[dict[str, float], tuple[Group, ...]]:
    """Where each end lies from the left, cables above and all else below, and what they belong to."""
    at: dict[str, float] = {}
    groups: list[Group] = []
    for above in (True, False):
        x = GAP
        for of, title in titles.items():
            mine = [key for key, named in ends.items() if named.of == of]
            if title.above != above or not (mine or title.network):
                continue
            for number, key in enumerate(mine):
                at[key] = x + STEP * (number + 0.5)
            wide = STEP * (len(mine) or 2)
            groups.append(Group(title.title, title.note, x, wide, above, title.on, title.lamp, title.network))
            x += wide + GAP
    widths = [max((g.x + g.width for g in groups if g.above is above), default=0.0) for above in (True, False)]
    shift = {above: (max(widths) - widths[0 if above else 1]) / 2 for above in (True, False)}
    moved = {key: x + shift[titles[ends[key].of].above] for key, x in at.items()}
    return moved, tuple(replace(group, x=group.x + shift[group.above]) for group in groups)


def _placed(splices: Sequence[Splice], ends: Sequence[DrawnEnd], bottom: float) -> tuple[DrawnSplice, ...]:
    """Splices between the two rows, each under the middle of its ends, no two in one place."""
    mine = {splice.id: [end for end in ends if end.splice == splice.id] for splice in splices}
    middle = {splice.id: sum(end.x for end in mine[splice.id]) / max(len(mine[splice.id]), 1) for splice in splices}
    order = sorted(splices, key=lambda splice: middle[splice.id])
    rows = max(2, round(len(order) ** 0.5 * 1.5))
    step = (bottom - TOP - LEVEL * 1.3) / max(rows - 1, 1)
    where = {
        splice.id: (max(middle[splice.id], GAP), TOP + LEVEL * 0.75 + step * (number % rows))
        for number, splice in enumerate(order)
    }
    made = []
    for splice in splices:
        x, y = where[splice.id]
        wires: list[tuple[Way, str, bool]] = [(_way(end, x, y), end.named.color, end.live) for end in mine[splice.id]]
        jumps = [end.to for end in splice.ends if isinstance(end, PigtailEnd) and end.to in where]
        wires += [(Line(((x, y), where[to])), "", False) for to in jumps]
        size = splice.connector.size if splice.connector else ""
        live = any(end.live for end in mine[splice.id])
        lit = any(end.lit for end in mine[splice.id])
        made.append(DrawnSplice(splice.id, x, y, len(splice.ends), splice.name, size, live, tuple(wires), lit))
    return tuple(made)


def _way(end: DrawnEnd, x: float, y: float) -> Curve:
    """From an end to its splice, without a corner."""
    half = (y - end.y) / 2
    return Curve((end.x, end.y), (end.x, end.y + half), (x, y - half), (x, y))
