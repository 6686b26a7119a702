"""Everything that can be done about a box that does not hold, with its price; moves that are not offered, each with its
reason."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator
from itertools import chain

from ..model.job import Job
from .around_box import cables_out, extensions, other_boxes, outside_clamps, reorder
from .at_loads import bypasses, lamps, settings
from .beyond_box import (
    exchanges,
    mains_moved,
    modules_at_fixtures,
    modules_at_outlets,
    onwards_landed,
    pulled_cables,
    splices_moved,
)
from .in_gangs import devices, modules_behind, modules_out, one_yoke, remotes, split_loads
from .move import Move, Ruled
from .scene import Scene
from .site import Offer, Site

KINDS: tuple[Callable[[Site], Iterator[Offer]], ...] = (
    other_boxes,
    extensions,
    outside_clamps,
    pulled_cables,
    cables_out,
    splices_moved,
    onwards_landed,
    mains_moved,
    exchanges,
    modules_at_outlets,
    modules_at_fixtures,
    modules_behind,
    modules_out,
    remotes,
    one_yoke,
    devices,
    split_loads,
    lamps,
    bypasses,
    settings,
    reorder,
)


def offers(
    job: Job, box: str, far: bool = True, spare: Collection[str] = ()
) -> tuple[tuple[Move, ...], tuple[Ruled, ...]]:
    """Every move for a box, in the order in which those of a set are made; and those ruled out.

    A move that lives by its wires is one only where its hook-up can be proven by itself.

    Args:
        job: with the box, those on its circuits, those its runs lead to; for moves between places, the whole house.
        far: whether devices may change places with those of other boxes.
        spare: leftovers from elsewhere: of two ways as long, the one that takes it is cheaper.
    """
    site = Site(job, box, spare)
    kinds = KINDS if far else tuple(kind for kind in KINDS if kind is not exchanges)
    found = list(chain.from_iterable(kind(site) for kind in kinds))
    moves = [one for one in found if isinstance(one, Move)]
    ruled = [one for one in found if isinstance(one, Ruled)]
    kept = []
    for move in moves:
        why = _unproven(site, move)
        if why:
            ruled.append(Ruled(move.kind, f"{move.words}: {why}"))
        else:
            kept.append(move)
    return tuple(sorted(kept, key=lambda move: move.rank)), tuple(dict.fromkeys(ruled))


def _unproven(site: Site, move: Move) -> str:
    """Why a move that lives by its wires cannot be proven by itself; "" where it can, or needs no proof."""
    if not move.wires:
        return ""
    scene = Scene(site.job, site.box.id, (move,))
    refused = scene.outcome(frozenset((0,))).refused
    return refused or scene.proven((0,))[1]
