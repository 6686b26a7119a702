"""By which cable a device gets its hot and its neutral, where there is more than one way: each kept apart at its end.

What goes out in a cable comes back in it (NEC 300.3(B), from memory of the publication). So where several cables join
the same two boxes, each has a neutral of its own; and a loop from a lamp that is fed elsewhere brings its own hot.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ...model.splice import End
from .nets import Hop, Link, Net, Place, Wanted, carried, conductors, hop_of
from .wanted import Placed, Plan, Scheme

SHARED = ("hot", "neutral")
"""What several devices of a circuit have in common."""


@dataclass(frozen=True, slots=True)
class Spread:
    """The joints wanted, with each device's wires in a cable of their own choice."""

    wanted: Wanted
    links: Mapping[tuple[str, Hop], Link]
    """Which cable is taken between two places: by a device's own nets, and by a hot or neutral that goes by it."""
    near: Mapping[str, Place]
    """Of each such cable: its end towards the panel."""


@dataclass(frozen=True, slots=True)
class _Taken:
    """The cable a device takes."""

    link: Link
    near: Place
    """Its end towards the panel."""
    beyond: frozenset[Place]
    """What its hot and its neutral reach by it."""


def spread(plan: Plan, ways: Sequence[tuple[Placed, Scheme]]) -> Spread | None:
    """Return each device's wires in one of the cables that can carry them; None where that can't be, or needn't.

    Args:
        plan: the devices of a job, and the runs.
        ways: of each device with loads, its scheme.
    """
    alone = [(main, _wanted(way)) for main, way in ways]
    taken = _in_parallel(plan, alone)
    if taken is None:
        return None
    for main, _ in alone:
        loop = _loop(plan, main) if main.id not in taken else None
        if loop is not None:
            taken[main.id] = loop
    return _laid_out(plan, alone, taken) if taken else None


def _wanted(way: Scheme) -> Wanted:
    mine = Wanted()
    way[1](mine)
    return mine


def _in_parallel(plan: Plan, alone: Sequence[tuple[Placed, Wanted]]) -> dict[str, _Taken] | None:
    """The cable of each device whose wires cross a hop of several; None where they don't fit."""
    hops: dict[Hop, list[Link]] = {}
    for link in plan.links:
        if not link.circuit:
            hops.setdefault(hop_of(link), []).append(link)
    crossing: dict[Hop, list[tuple[Placed, Wanted, list[Net]]]] = {}
    for main, mine in alone:
        carries, _ = carried(plan.routes, plan.with_feeds(mine))
        here = {hop: [net for one in links for net in carries[one.id]] for hop, links in hops.items() if len(links) > 1}
        used = {hop: nets for hop, nets in here.items() if nets}
        if len(used) > 1:
            return None
        for hop, nets in used.items():
            crossing.setdefault(hop, []).append((main, mine, nets))
    taken: dict[str, _Taken] = {}
    for hop, mains in crossing.items():
        room: dict[str, set[Net]] = {link.id: set() for link in hops[hop]}
        for main, mine, nets in sorted(mains, key=lambda one: -len(one[2])):
            fits = [link for link in hops[hop] if conductors(link, room[link.id] | set(nets)) is not None]
            near = _near(plan, main, hop)
            if not fits or near is None:
                return None
            link = fits[0]
            room[link.id] |= set(nets)
            beyond = frozenset(place for _, place, _ in _every(mine) if _passes(plan, main, place, hop))
            taken[main.id] = _Taken(link, near, beyond)
    return taken


def _loop(plan: Plan, main: Placed) -> _Taken | None:
    """The cable from a lamp that is fed without passing the device, where one goes down to it."""
    lamps = {plan.place_of(main, load) for load in main.item.loads}
    lamp = lamps.pop() if len(lamps) == 1 else None
    if lamp is None or plan.far[main.id] or any(main.place in hop_of(one) for one in _way(plan, main, lamp)):
        return None
    down = [link for link in plan.links if hop_of(link) == {lamp, main.place}]
    return _Taken(down[0], lamp, frozenset((main.place,))) if len(down) == 1 else None


def _way(plan: Plan, main: Placed, place: Place) -> tuple[Link, ...]:
    """The way from the panel; () where there is none."""
    return plan.routes.ways(plan.panel(plan.circuit(main))).get(place, ())


def _passes(plan: Plan, main: Placed, place: Place, hop: Hop) -> bool:
    return any(hop_of(one) == hop for one in _way(plan, main, place))


def _near(plan: Plan, main: Placed, hop: Hop) -> Place | None:
    """The end of a hop towards the panel; None where that isn't clear."""
    ends = [place for place in hop if not _passes(plan, main, place, hop)]
    return ends[0] if len(ends) == 1 else None


def _laid_out(plan: Plan, alone: Sequence[tuple[Placed, Wanted]], taken: Mapping[str, _Taken]) -> Spread:
    whole, near = plan.common(), dict[str, Place]()
    links: dict[tuple[str, Hop], Link] = {}
    for main, mine in alone:
        one = taken.get(main.id)
        if one is not None:
            near[one.link.id] = one.near
            links[main.id, hop_of(one.link)] = links[one.link.id, hop_of(one.link)] = one.link
        for net, place, ends in _every(mine):
            if one is not None and net.kind in SHARED and place in one.beyond:
                copy = replace(net, via=one.link.id)
                whole.put(net, one.near)
                whole.put(copy, one.near)
                whole.put(copy, place, *ends)
            else:
                whole.put(net, place, *ends)
    return Spread(plan.with_feeds(whole), links, near)


def _every(wanted: Wanted) -> Iterator[tuple[Net, Place, list[End]]]:
    for net, places in wanted.at.items():
        for place, ends in places.items():
            yield net, place, list(ends)
