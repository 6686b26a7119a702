"""Several cables between the same two boxes: which device's wires go by which, with the hot and the neutral they need.

What goes out in a cable comes back in it (NEC 300.3(B), from memory of the publication), so beyond two cables a hot or
a neutral is two: joined at the near end, and kept apart at the far one.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ...model.splice import End
from .nets import Hop, Link, Net, Place, Wanted, carried, conductors, hop_of
from .wanted import Placed, Plan, Way

SHARED = ("hot", "neutral")
"""What several devices of a circuit have in common."""


@dataclass(frozen=True, slots=True)
class Spread:
    """What is to be joined, with each device's wires in a cable of their own choice."""

    wanted: Wanted
    links: Mapping[tuple[str, Hop], Link]
    """Which cable is taken between two places: by a device's own nets, and by a hot or neutral that goes by it."""
    near: Mapping[str, Place]
    """Of each such cable: its end towards the panel."""


def spread(plan: Plan, ways: Sequence[tuple[Placed, Way]]) -> Spread | None:
    """Return the wires of each device in one of the cables between two places; None where that can't be, or needn't.

    Args:
        plan: the devices of a job, and the runs.
        ways: of each device with loads, the way it is to be hooked up.
    """
    hops = _parallel(plan.links)
    alone = [(main, _wanted(way)) for main, way in ways]
    crossing: dict[Hop, list[tuple[Placed, list[Net]]]] = {}
    for main, mine in alone:
        carries, _ = carried(plan.routes, plan.with_feeds(mine))
        here = {hop: [net for link in links for net in carries[link.id]] for hop, links in hops.items()}
        used = {hop: nets for hop, nets in here.items() if nets}
        if len(used) > 1:
            return None
        for hop, nets in used.items():
            crossing.setdefault(hop, []).append((main, nets))
    taken: dict[str, tuple[Hop, Link]] = {}
    for hop, mains in crossing.items():
        room: dict[str, set[Net]] = {link.id: set() for link in hops[hop]}
        for main, nets in sorted(mains, key=lambda one: -len(one[1])):
            fits = (link for link in hops[hop] if conductors(link, room[link.id] | set(nets)) is not None)
            link = next(fits, None)
            if link is None:
                return None
            room[link.id] |= set(nets)
            taken[main.id] = hop, link
    return _laid_out(plan, alone, taken) if taken else None


def _wanted(way: Way) -> Wanted:
    mine = Wanted()
    way[1](mine)
    return mine


def _parallel(links: Sequence[Link]) -> Mapping[Hop, list[Link]]:
    """The cables that are several between the same two places."""
    found: dict[Hop, list[Link]] = {}
    for link in links:
        if not link.circuit:
            found.setdefault(hop_of(link), []).append(link)
    return {hop: several for hop, several in found.items() if len(several) > 1}


def _laid_out(
    plan: Plan, alone: Sequence[tuple[Placed, Wanted]], taken: Mapping[str, tuple[Hop, Link]]
) -> Spread | None:
    whole, near = plan.common(), dict[str, Place]()
    links = {(main, hop): link for main, (hop, link) in taken.items()}
    for main, mine in alone:
        if main.id not in taken:
            for net, place, ends in _every(mine):
                whole.put(net, place, *ends)
            continue
        hop, link = taken[main.id]
        way = plan.routes.ways(plan.panel(plan.circuit(main)))
        ends_here = [place for place in hop if place in way and not any(hop_of(one) == hop for one in way[place])]
        if len(ends_here) != 1:
            return None
        near[link.id] = ends_here[0]
        links[link.id, hop] = link
        for net, place, ends in _every(mine):
            beyond = any(hop_of(one) == hop for one in way.get(place, ()))
            if net.kind in SHARED and beyond:
                copy = replace(net, via=link.id)
                whole.put(net, near[link.id])
                whole.put(copy, near[link.id])
                whole.put(copy, place, *ends)
            else:
                whole.put(net, place, *ends)
    return Spread(plan.with_feeds(whole), links, near)


def _every(wanted: Wanted) -> Iterator[tuple[Net, Place, list[End]]]:
    for net, places in wanted.at.items():
        for place, ends in places.items():
            yield net, place, list(ends)
