"""A box's hook-up drawn: cables from above, devices and lamps below, splices between as connectors with their count."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from textwrap import wrap
from typing import Literal

from ..trade.model.splice import PigtailEnd, Splice
from ..trade.text.format import and_list
from ..trade.text.wires import name_of_splice
from ..trade.wiring.hookup.stages import Named
from .crossings import splice_order, spread_out
from .way import Curve, Line, Way

STEP = 19.0
"""From one end to the next [mm on the drawing]."""
GAP = 13.0
"""Between cables, and between devices."""
TOP = 34.0
"""Where conductors end."""
SPLICE_STEP = 17.0
"""From one splice to the next, at least."""
DROP, MOST_DROP = 42.0, 64.0
"""From the ends of a row down or up to the splices, at least and at most."""
SLOPE = 0.15
"""How much deeper a wider drawing is, so that no wire lies flat."""
SCREW = 16.0
"""From a terminal up to the screw that holds it with a pigtail."""
LINE = 8.0
"""From one line of a name to the next."""
LETTER = 3.1
"""How wide a letter of a name is."""
SPLICE_SIZES: Mapping[str, float] = {"small": 0.85, "medium": 1.0, "large": 1.25}
"""How large a connector is drawn, by its size."""
LETTERS: Mapping[str, str] = {
    "black": "bk", "white": "wh", "red": "rd", "blue": "bu", "brown": "br", "gray": "gy", "yellow": "yl",
    "green-yellow": "gn", "green": "gn", "bare": "g", "brass": "bs", "silver": "si", "orange": "or", "violet": "vi",
}  # fmt: skip
"""How a color is written beside its wire, so that it reads in black and white."""
GROUND_COLORS = frozenset(("bare", "green", "green-yellow"))
"""Of wires that are drawn behind all others."""


SHORT: Mapping[str, str] = {
    "neutral": "neut.", "ground": "gnd", "traveler": "trav.", "second load": "2nd", "third load": "3rd",
    "input common": "com", "load neutral": "ld n", "input": "in",
}  # fmt: skip
"""What a terminal is called where there is little room."""
DRAWN_COLORS = frozenset(LETTERS) - {"brass", "silver"}
"""Those a wire is drawn in; a screw has none."""


DeviceKind = Literal["", "old", "new", "stays"]
"""Whether a device comes out, goes in or stays; "" where that is not shown."""


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
    def is_ground(self) -> bool:
        """Whether its wire is drawn behind all others."""
        return self.named.color in GROUND_COLORS

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
    behind: bool = False
    """Whether it is drawn behind all others: a splice of grounds."""
    lit: bool = False

    @property
    def scale(self) -> float:
        """How large its connector is drawn."""
        return SPLICE_SIZES.get(self.size, 1.0)


@dataclass(frozen=True, slots=True)
class Group:
    """A cable, a device, a lamp: what ends belong to."""

    title: tuple[str, ...]
    """Its name, line by line."""
    note: tuple[str, ...]
    x: float
    width: float
    above: bool
    on: bool
    """Whether it is a device that is switched on, or a lamp that burns."""
    lamp: bool
    network: tuple[str, ...]
    """What it works over the network, or is worked by; () for nothing."""
    kind: DeviceKind = ""

    @property
    def middle(self) -> float:
        """The middle of it from the left."""
        return self.x + self.width / 2

    @property
    def height(self) -> float:
        """How high its name and note stand."""
        return LINE * (len(self.title) + len(self.note))


@dataclass(frozen=True, slots=True)
class HookupDrawing:
    """Where everything lies."""

    width: float
    top: float
    """Where it begins, above the conductors; below zero."""
    height: float
    """From there down."""
    bottom: float
    """Where the leads below end."""
    ends: tuple[DrawnEnd, ...]
    splices: tuple[DrawnSplice, ...]
    groups: tuple[Group, ...]
    said: tuple[str, ...]
    """The same in words: each splice, the ends in none, what works over the network."""

    @property
    def facts(self) -> str:
        """The same as one text."""
        return " ".join(self.said)


@dataclass(frozen=True, slots=True)
class Titles:
    """What stands at a cable, a device or a lamp."""

    title: str
    note: str
    above: bool
    on: bool = False
    lamp: bool = False
    network: str = ""
    kind: DeviceKind = ""


def hookup_drawing(
    ends: Mapping[str, Named],
    splices: Sequence[Splice],
    titles: Mapping[str, Titles],
    *,
    live: frozenset[str] = frozenset(),
    failing: frozenset[str] = frozenset(),
    lit: frozenset[str] = frozenset(),
) -> HookupDrawing:
    """Lay out every end, splice and wire of a box so that few wires cross.

    Args:
        ends: by their keys.
        splices: those drawn.
        titles: of each cable, device and lamp, by what its ends belong to.
        live: keys of the ends that are live now.
        failing: keys of those that something failing is about.
        lit: keys of those that the step at hand is about.
    """
    used = [splice for splice in splices if splice.ends]
    held = {end: splice.id for splice in used for end in splice.ends}
    fed_by = _fed_by(used)
    at_splice = {key: fed_by.get(held[named.end], held[named.end]) for key, named in ends.items() if named.end in held}
    order = splice_order([_splices_of(ends, titles, at_splice, above) for above in (True, False)])
    rank = {splice: number for number, splice in enumerate(order)}
    across, groups = _rows(_sorted(ends, at_splice, rank), titles)
    lies = _lies(order, at_splice, across)
    width = max([group.x + group.width for group in groups] + [80.0] + list(lies.values())) + GAP
    drop = min(max(DROP, width * SLOPE), MOST_DROP)
    bottom = TOP + 2 * drop
    drawn = tuple(
        DrawnEnd(
            named, across[key], TOP if _above(named, titles) else bottom, _above(named, titles),
            held.get(named.end, ""), LETTERS.get(named.color, ""),
            live=key in live, failing=key in failing, lit=key in lit,
        )
        for key, named in ends.items()
    )  # fmt: skip
    placed = _placed(used, drawn, {splice: (x, TOP + drop) for splice, x in lies.items()})
    top = min([4 - group.height for group in groups if group.above] + [0.0]) - 4
    below = max([group.height + LINE * len(group.network) for group in groups if not group.above] + [0.0])
    said = _said(used, drawn, titles)
    return HookupDrawing(width, top, bottom + 36 + below - top, bottom, drawn, placed, groups, said)


def _said(splices: Sequence[Splice], ends: Sequence[DrawnEnd], titles: Mapping[str, Titles]) -> tuple[str, ...]:
    """Say in words what the drawing shows."""
    joined = [
        f"{name_of_splice(splice.name).capitalize()}: {and_list([_words(e) for e in ends if e.splice == splice.id])}."
        for splice in splices
    ]
    loose = [_words(end) for end in ends if not end.splice]
    devices = [f"{title.title}: {title.note}." for title in titles.values() if title.kind]
    links = [f"{title.title} {title.network} over the network." for title in titles.values() if title.network]
    return (
        *(joined or ["Nothing is joined yet."]),
        *([f"In no splice: {and_list(loose)}."] if loose else []),
        *devices,
        *links,
    )


def _words(end: DrawnEnd) -> str:
    return f"{end.named.words} (live)" if end.live else end.named.words


def _above(named: Named, titles: Mapping[str, Titles]) -> bool:
    return titles[named.of].above


def _fed_by(splices: Sequence[Splice]) -> dict[str, str]:
    """Tell which splice feeds each screw by a pigtail: such a screw lies at its terminal, and not between the rows."""
    return {
        splice.id: end.to
        for splice in splices
        if splice.connector is None
        for end in splice.ends
        if isinstance(end, PigtailEnd)
    }


def _splices_of(
    ends: Mapping[str, Named], titles: Mapping[str, Titles], at_splice: Mapping[str, str], above: bool
) -> list[list[str]]:
    """The splices of a row, cable by cable or device by device."""
    groups: dict[str, list[str]] = {of: [] for of in titles}
    for key, named in ends.items():
        if key in at_splice and _above(named, titles) == above:
            groups[named.of].append(at_splice[key])
    return [group for group in groups.values() if group]


def _sorted(ends: Mapping[str, Named], at_splice: Mapping[str, str], rank: Mapping[str, int]) -> dict[str, Named]:
    """Sort the ends of each cable and device by their splices; those in no splice come last."""
    return dict(sorted(ends.items(), key=lambda item: rank.get(at_splice.get(item[0], ""), len(rank))))


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
            words = (title.title, title.note, title.network)
            longest = max((len(word) for text in words for word in text.split()), default=0)
            wide = max(STEP * (len(mine) or 2), longest * LETTER + 4)
            first = x + (wide - STEP * len(mine)) / 2
            for number, key in enumerate(mine):
                at[key] = first + STEP * (number + 0.5)
            name, note, network = (tuple(wrap(text, max(int((wide - 2) / LETTER), 1))) for text in words)
            groups.append(Group(name, note, x, wide, above, title.on, title.lamp, network, title.kind))
            x += wide + GAP
    widths = [max((g.x + g.width for g in groups if g.above is above), default=0.0) for above in (True, False)]
    shift = {above: (max(widths) - widths[0 if above else 1]) / 2 for above in (True, False)}
    moved = {key: x + shift[titles[ends[key].of].above] for key, x in at.items()}
    return moved, tuple(replace(group, x=group.x + shift[group.above]) for group in groups)


def _lies(order: Sequence[str], at_splice: Mapping[str, str], across: Mapping[str, float]) -> dict[str, float]:
    """Where each splice lies from the left: in this order, each as near to the middle of its ends as there is room."""
    reach: dict[str, list[float]] = {splice: [] for splice in order}
    for key, splice in at_splice.items():
        reach[splice].append(across[key])
    spread = spread_out([sum(reach[splice]) / len(reach[splice]) for splice in order], SPLICE_STEP)
    shift = max(GAP - spread[0], 0.0) if spread else 0.0
    return {splice: x + shift for splice, x in zip(order, spread, strict=True)}


def _placed(
    splices: Sequence[Splice], ends: Sequence[DrawnEnd], lies: Mapping[str, tuple[float, float]]
) -> tuple[DrawnSplice, ...]:
    """Draw each splice with its wires; a screw that a pigtail feeds lies right above its terminal."""
    mine = {splice.id: [end for end in ends if end.splice == splice.id] for splice in splices}
    screws = {
        screw: (sum(end.x for end in mine[screw]) / len(mine[screw]), mine[screw][0].y - SCREW)
        for screw in _fed_by(splices)
        if mine[screw]
    }
    where = {**lies, **screws}
    jumps: dict[tuple[str, str], str] = {}
    for splice in splices:
        for end in splice.ends:
            if isinstance(end, PigtailEnd) and splice.id in where and end.to in where:
                jumps.setdefault((min(splice.id, end.to), max(splice.id, end.to)), splice.id)
    drawn = []
    for splice in splices:
        if splice.id in where:
            ways = [_jump(where[one], where[other]) for (one, other), at in jumps.items() if at == splice.id]
            drawn.append(_drawn(splice, mine[splice.id], where[splice.id], ways))
    return tuple(drawn)


def _drawn(splice: Splice, mine: Sequence[DrawnEnd], at: tuple[float, float], jumps: Sequence[Way]) -> DrawnSplice:
    x, y = at
    wires: list[tuple[Way, str, bool]] = [(_way((end.x, end.y), at), end.named.color, end.live) for end in mine]
    wires += [(way, "", False) for way in jumps]
    size = splice.connector.size if splice.connector else ""
    behind = any(end.is_ground for end in mine)
    live, lit = any(end.live for end in mine), any(end.lit for end in mine)
    return DrawnSplice(
        splice.id, x, y, len(splice.ends), name_of_splice(splice.name), size, live, tuple(wires), behind, lit
    )


def _way(start: tuple[float, float], end: tuple[float, float]) -> Curve:
    """Draw a wire from an end to its splice, without a corner."""
    half = (end[1] - start[1]) / 2
    return Curve(start, (start[0], start[1] + half), (end[0], end[1] - half), end)


def _jump(start: tuple[float, float], end: tuple[float, float]) -> Curve:
    """Draw a pigtail from one splice to another: down to a screw, else in a bow under those between."""
    if start[1] != end[1]:
        return _way(start, end)
    low = start[1] + SCREW + abs(end[0] - start[0]) * SLOPE / 2
    return Curve(start, (start[0], low), (end[0], low), end)
