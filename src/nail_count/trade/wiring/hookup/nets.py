"""Work out what must be one wire with what, over all boxes: runs as ways between places, and the nets they carry.

The ways of the trade – a loop, a pair of three-ways, a main with a far switch – differ only in which terminals are one
net. Which cables then carry it follows from where the runs lead, and whether they have a conductor for it is counted.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal, NamedTuple

from ...model.conductor import Role
from ...model.job import Job
from ...model.region import REGIONS, ColorCode
from ...model.run import BoxEnd, CircuitEnd, OnwardEnd, WordsEnd
from ...model.splice import End
from .colors import Wire, outward, pairs_of, wires_of
from .gear import neutral_owners

NetKind = Literal["neutral", "hot", "switched", "traveler", "signal"]


@dataclass(frozen=True, slots=True, order=True)
class Net:
    """Ends that are to be one, wherever they lie."""

    kind: NetKind
    of: str
    """The circuit; the load; the number of the traveler."""
    by: str = ""
    """The device with the loads it serves; "" for hot and neutral."""
    via: str = ""
    """Of a hot or neutral beyond several cables between the same two places: the run it came by."""

    @property
    def words(self) -> str:
        """As a sentence says it."""
        return {
            "neutral": f"the neutral of circuit {self.of}",
            "hot": f"the hot of circuit {self.of}",
            "switched": "the switched hot",
            "traveler": "a traveler",
            "signal": "the signal",
        }[self.kind]


class Place(NamedTuple):
    """The panel, a box, or what a cable leads to that is no box."""

    box: str = ""
    cable: str = ""
    """The letter of the cable, where it is what hangs at its far end."""
    circuit: str = ""
    """Whose neutral it is, where it is the panel."""


@dataclass(frozen=True, slots=True)
class Link:
    """A run as nets see it: a way between two places, with conductors."""

    id: str
    one: Place
    other: Place
    wires: tuple[Wire, ...]
    """As seen from `one`, or from the box where `other` is none."""
    ids: tuple[Mapping[str, str], Mapping[str, str]]
    """For each conductor as seen from `one`: what it is called at `one`, and at `other`."""
    circuit: str = ""
    """Of a run from the panel: whose hot its first conductor is; "" for any other."""
    sleeved: bool = False
    """Whether any core may be sleeved for any use, as in the UK and India: a loop comes back switched on the neutral's
    color, and a link without it may carry a neutral. In the US the supply goes down on white, and only white is one."""

    @property
    def boxes(self) -> set[str]:
        """The boxes at its ends, or at the near end where the far one is no box."""
        return {place.box for place in (self.one, self.other) if place.box}


Hop = frozenset[Place]
"""Two places with a cable between them, or several."""


def hop_of(link: Link) -> Hop:
    """Return the two places a run joins."""
    return frozenset((link.one, link.other))


@dataclass(slots=True)
class Wanted:
    """The joints wanted, before it is known whether the cables can."""

    at: dict[Net, dict[Place, list[End]]] = field(default_factory=dict)
    """For each net, the ends that belong to it, place by place."""

    def put(self, net: Net, place: Place, *ends: End) -> None:
        """These ends of a place belong to a net."""
        here = self.at.setdefault(net, {}).setdefault(place, [])
        here.extend(end for end in ends if end not in here)


class Routes:
    """The ways along the runs of a house, from each place worked out once."""

    def __init__(self, links: Iterable[Link]) -> None:
        self.links = tuple(links)
        self._ways: dict[Place, dict[Place, tuple[Link, ...]]] = {}
        self._beside: dict[Place, list[tuple[Link, Place]]] = {}
        for link in self.links:
            self._beside.setdefault(link.one, []).append((link, link.other))
            self._beside.setdefault(link.other, []).append((link, link.one))

    def ways(self, start: Place) -> Mapping[Place, tuple[Link, ...]]:
        """The way along runs from a place to every other that can be reached."""
        if start not in self._ways:
            found: dict[Place, tuple[Link, ...]] = {start: ()}
            queue = [start]
            for place in queue:
                for link, far in self._beside.get(place, ()):
                    if far not in found:
                        found[far] = (*found[place], link)
                        queue.append(far)
            self._ways[start] = found
        return self._ways[start]


def carried(
    routes: Routes, wanted: Wanted, instead: Mapping[tuple[str, Hop], Link] | None = None
) -> tuple[dict[str, list[Net]], list[tuple[Net, Place]]]:
    """Which nets each run must carry, by its id; and the places a net cannot reach.

    Args:
        routes: the runs.
        wanted: the nets, and where each is wanted.
        instead: which run a net takes where there are several: by its device or the run it came by, and the hop.
    """
    taken = instead or {}
    carries: dict[str, list[Net]] = {link.id: [] for link in routes.links}
    lost: list[tuple[Net, Place]] = []
    for net, places in sorted(wanted.at.items(), key=lambda one: one[0]):
        first, *others = places
        way = routes.ways(first)
        for place in others:
            if place not in way:
                lost.append((net, place))
                continue
            for shortest in way[place]:
                link = taken.get((net.by or net.via, hop_of(shortest)), shortest)
                if net not in carries[link.id]:
                    carries[link.id].append(net)
    return carries, lost


_ORDER: tuple[NetKind, ...] = ("hot", "switched", "traveler", "signal")


def conductors(link: Link, nets: Iterable[Net]) -> dict[Net, Wire] | None:
    """Which conductor of a run carries which net; None where it has too few.

    Where the roles of its wires are known, each keeps its own: the far end is joined so already. Else
    the neutral takes the neutral's color. Where none is carried and the colors do not suffice, a hot takes it and is
    re-marked: in a loop the supply, never the return. A neutral takes no other color, but in regions whose links of
    three cores have none: there the last one is sleeved for it.

    Source: common practice; NFPA 70 (NEC) 200.6, 200.7(C), from memory of the publication.
    """
    nets = sorted(
        nets, key=lambda net: (_ORDER.index(net.kind) if net.kind in _ORDER else -1, net.of != link.circuit, net.of)
    )
    if len(nets) > len(link.wires):
        return None
    if as_known := _as_known(link, nets):
        return as_known
    neutrals = [net for net in nets if net.kind == "neutral"]
    live = [net for net in nets if net.kind != "neutral"]
    white = [wire for wire in link.wires if wire.neutral]
    if not white and link.sleeved:
        white = list(link.wires[len(link.wires) - len(neutrals) :])
    plain = [wire for wire in link.wires if wire not in white]
    if len(neutrals) > len(white):
        return None
    given: dict[Net, Wire] = dict(zip(neutrals, white, strict=False))
    spare = white[len(neutrals) :]
    while len(live) > len(plain):
        if not spare:
            return None
        given[_remarked(live, link.sleeved)] = spare.pop()
        live = [net for net in live if net not in given]
    return given | dict(zip(live, plain, strict=False))


_KNOWN_AS: Mapping[NetKind, tuple[Role, ...]] = {
    "hot": ("line", "onward"), "switched": ("switched",), "neutral": ("neutral",), "traveler": (), "signal": (),
}  # fmt: skip
"""The roles of a wire that carries a net already."""


def _as_known(link: Link, nets: Sequence[Net]) -> dict[Net, Wire] | None:
    """Each net on the one wire that has its role; None where one has none, or two nets are of a kind."""
    found = {net: [wire for wire in link.wires if wire.role in _KNOWN_AS[net.kind]] for net in nets}
    if len({net.kind for net in nets}) < len(nets) or any(len(wires) != 1 for wires in found.values()):
        return None
    return {net: wire for net, (wire,) in found.items()}


def _remarked(live: Sequence[Net], returns: bool) -> Net:
    """What goes on the neutral's color where it must: the hot, or what comes back; else a traveler or the signal."""
    for kind in ("switched" if returns else "hot", "traveler", "signal"):
        of_kind = [net for net in live if net.kind == kind]
        if of_kind:
            return of_kind[-1 if kind == "hot" else 0]
    return live[-1]


def _free_again(wires: Sequence[Wire], code: ColorCode) -> tuple[Wire, ...]:
    """The wires of a cable between two boxes: a white that carried a hot can be the neutral, as both ends are new."""
    means = REGIONS[code].means
    return tuple(replace(wire, neutral=wire.neutral or means(wire.color) == {"neutral"}) for wire in wires)


def links_of(job: Job) -> tuple[Link, ...]:
    """The runs of a job as ways between places."""
    boxes, owner, made = {box.id: box for box in job.boxes}, neutral_owners(job), []
    code, sleeved = job.terms.colors, job.terms.region.sleeved
    for run in job.fed_runs:
        ends = [end for end in (run.one, run.other) if isinstance(end, BoxEnd) and end.box in boxes and end.cable]
        if not ends or (cable := boxes[ends[0].box].cable(ends[0].cable or "")) is None:
            continue
        here = boxes[ends[0].box]
        if cable not in here.entering:
            continue
        wires = wires_of(cable, code)
        same = {wire.id: wire.id for wire in wires}
        far = run.other if run.one == ends[0] else run.one
        if len(ends) == 2:
            there = boxes[ends[1].box]
            other = there.cable(ends[1].cable or "")
            pairs = pairs_of((here, cable), (there, other), code) if other in there.entering and other else None
            if pairs is not None:
                ids, free = (same, dict(pairs)), _free_again(wires, code)
                made.append(Link(run.id, Place(here.id), Place(there.id), free, ids, sleeved=sleeved))
            continue
        wires = outward(cable, code)
        if isinstance(far, CircuitEnd) and far.circuit is not None:
            panel = Place(circuit=owner.get(far.circuit, far.circuit))
            made.append(Link(run.id, Place(here.id), panel, wires, (same, same), far.circuit, sleeved))
        elif isinstance(far, OnwardEnd | WordsEnd):
            made.append(Link(run.id, Place(here.id), Place(here.id, cable.id), wires, (same, same), sleeved=sleeved))
    return tuple(made)
