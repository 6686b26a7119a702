"""Moves about the box itself: another one, an extension, clamps outside it, unused cables out, another order."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping

from ..edits.enclosure import AddRing, SetClamps
from ..edits.refits import ReplaceBox
from ..edits.reroutes import TakeCableOut
from ..model.box import Box
from ..model.errors import Rejected
from ..model.measure import Length, Volume
from ..model.prices import MoveKind
from ..model.run import BoxEnd
from ..model.stock import StockBox
from ..model.survey import Mounted, Survey, WallBuild
from ..model.trade_size import TRADE_SIZES
from ..rules.fit.house import stock_misfits
from ..rules.minutes import minutes_of
from ..text.format import amount
from .move import Decision, Move, Ruled
from .site import Offer, Site

NO_OLD_WORK = "the stock list has no box for old work"


NO_OTHER_BOX: Mapping[WallBuild, str] = {
    "board": "",
    "lath": "",
    "masonry": "the box is set in masonry; a box for old work doesn’t clamp there, and a chisel wrecks the wall",
    "tile": "the tile stays whole, and another box needs it cut",
}
"""Why no other box goes into a wall of this build, as common practice has it; "" where one does."""
STANDS_PROUD: Mapping[Mounted, str] = {
    "flush": "the box is flush in a finished wall, and an extension would stand proud of it",
    "may stand proud": "",
    "surface": "",
    "open behind": "the box is flush in a finished face, and an extension would stand proud of it",
}
"""Why nothing goes on the front of a box that sits so; "" where something may."""


def other_boxes(site: Site) -> Iterator[Offer]:
    """Offer a deeper old-work box of as many gangs, or a wider one; never deeper than the wall cavity."""
    box = site.box
    if box.survey.mounted == "open behind":
        yield from _from_behind(site)
    why = NO_OTHER_BOX[box.survey.built] if box.survey.built else ""
    if box.use in ("luminaire", "fan"):
        if box.survey.mounted == "open behind":
            return
        why = "a fixture’s box is changed from above. If it can be reached there, enter that on Survey"
    if box.survey.mounted == "surface":
        why = "the box sits on the surface, and a box for old work clamps to a wall"
    if why:
        yield Ruled("deeper box", why)
        return
    kept = [one for one in site.job.stock if one.kind == "old work" and not stock_misfits(one)]
    if not kept:
        unsaid = any(one.kind is None for one in site.job.stock)
        yield Ruled("deeper box", "the stock list has no box marked for old work" if unsaid else NO_OLD_WORK)
    for one in kept:
        kind: MoveKind = "deeper box" if one.gangs == box.enclosure.gangs else "wider box"
        if one.gangs < box.enclosure.gangs or (kind == "deeper box" and not _more(one, box)):
            continue
        cavity = box.survey.cavity
        if cavity is not None and one.depth is not None and one.depth.inches > cavity.inches:
            yield Ruled(kind, f"{one.name}, {one.depth} deep: the wall cavity is {cavity}")
            continue
        if kind == "wider box" and site.plate_stays:
            yield Ruled(kind, "the plate stays, and a wider box wants a wider one")
            continue
        edit = ReplaceBox(
            box=box.id, name=one.name, gangs=one.gangs, volume=one.volume, depth=one.depth,
            material=one.material, clamps=one.clamps,
        )  # fmt: skip
        try:
            after = edit.on_box(box, site.sheets).box
        except Rejected as wrong:
            yield Ruled(kind, f"{one.name}: {wrong.sentence}")
            continue
        deep = f"at least {one.depth}" if one.depth else "deep enough for it"
        yield Move(
            kind,
            f"{one.name}, {amount(one.volume.value, one.volume.unit)}" + (f", {one.depth} deep" if one.depth else ""),
            frozenset((box.id,)),
            frozenset((Decision("box", box.id), Decision("clamps", box.id))),
            site.minutes(kind),
            (edit,),
            (one.name,),
            money=site.money((one.name,)),
            room=site.more_volume(after),
            look="" if cavity is not None and one.depth is not None else f"the wall cavity: it must be {deep}",
        )


def _from_behind(site: Site) -> Iterator[Offer]:
    """Offer a deeper box of the same face and make where the wall or ceiling is open behind it (NEC 314.16(A))."""
    box = site.box
    now = TRADE_SIZES.get(box.enclosure.trade_size or "")
    if now is None:
        yield Ruled("deeper box", "its trade size is not entered, so no deeper metal box of the same face is known")
        return
    cavity = box.survey.cavity
    deeper = [one for one in TRADE_SIZES.values() if one.face == now.face and one.depth > now.depth]
    if not deeper:
        yield Ruled("deeper box", f"no deeper box than {now.name} is made with that face")
    for one in deeper:
        if cavity is not None and one.depth > cavity.inches:
            yield Ruled("deeper box", f"{one.name}: the wall cavity is {cavity}")
            continue
        gangs = box.enclosure.gangs if one.per_gang else 1
        volume, depth = Volume(one.in3 * gangs, "in3"), Length(one.depth, "in")
        edit = ReplaceBox(
            box=box.id, name=one.name, gangs=box.enclosure.gangs, volume=volume, depth=depth, material="metal",
            clamps=bool(box.enclosure.clamps),
        )  # fmt: skip
        yield Move(
            "deeper box",
            f"{one.name}, {amount(volume.value, volume.unit)}, from behind or above",
            frozenset((box.id,)),
            frozenset((Decision("box", box.id), Decision("clamps", box.id))),
            minutes_of("deeper box", site.job.moves),
            (edit,),
            (one.name,),
            money=site.money((one.name,)),
            room=site.more_volume(edit.on_box(box, site.sheets).box),
        )


def _more(one: StockBox, box: Box) -> bool:
    """Whether a box of the stock list holds more than the one there is, or is deeper."""
    holds, deep = box.enclosure.volume, box.enclosure.depth
    more = holds is None or one.volume.in3 > holds.in3
    return more or deep is None or (one.depth is not None and one.depth.inches > deep.inches)


def _proud(one: StockBox, survey: Survey) -> str:
    """Say why an extension can't go on the front of a box; "" where it can: to bring a set-back box to the face too."""
    if survey.setback and one.depth and survey.setback.inches >= one.depth.inches:
        return ""
    if survey.mounted is None:
        return "the box is taken as flush in a finished wall. If it isn’t, enter on Survey how it sits"
    return STANDS_PROUD[survey.mounted]


def extensions(site: Site) -> Iterator[Offer]:
    """Offer an extension, a raised cover or a surface box on the front of the box, where it may stand out."""
    box = site.box
    for one in site.job.stock:
        if one.kind != "extension" or one.gangs != box.enclosure.gangs:
            continue
        if why := _proud(one, box.survey):
            yield Ruled("extension", f"{one.name}: {why}")
            continue
        if site.plate_stays:
            yield Ruled("extension", "the plate stays flush as it is")
            return
        edit = AddRing(box=box.id, kind=one.name, volume=one.volume, depth=one.depth)
        try:
            after = edit.on_box(box, site.sheets).box
        except Rejected as wrong:
            yield Ruled("extension", wrong.sentence)
            return
        yield Move(
            "extension",
            f"{one.name}, {amount(one.volume.value, one.volume.unit)}, on the front of the box",
            frozenset((box.id,)),
            frozenset((Decision("box", box.id),)),
            site.minutes("extension"),
            (edit,),
            (one.name,),
            money=site.money((one.name,)),
            room=site.more_volume(after),
        )


def outside_clamps(site: Site) -> Iterator[Offer]:
    """Cable connectors outside a metal box, in place of the clamps inside it."""
    box = site.box
    if not box.enclosure.clamps:
        return
    if box.enclosure.material != "metal":
        yield Ruled("clamps outside", "the clamps of a box that is not of metal are part of it")
        return
    yield Move(
        "clamps outside",
        "cable connectors outside the box, the clamps inside it out",
        frozenset((box.id,)),
        frozenset((Decision("clamps", box.id),)),
        site.minutes("clamps outside"),
        (SetClamps(box=box.id, clamps=False),),
        tuple("cable connector" for _ in box.entering),
        money=site.money(["cable connector"] * len(box.entering)),
        room={box.id: site.of_kind(site.check, "clamps")},
    )


def cables_out(site: Site) -> Iterator[Offer]:
    """An unused cable out, at both its ends; capping it there would change nothing."""
    box = site.box
    for cable in box.entering:
        unused = [wire.asserted_role == "unused" for wire in cable.conductors]
        if len(unused) < cable.insulated or not all(unused) or not unused:
            continue
        run = next((one for one in site.job.runs if one.far_from(box.id, cable.id) is not None), None)
        far = run.far_from(box.id, cable.id) if run else None
        if run is None or not isinstance(far, BoxEnd) or far.box not in site.boxes or far.cable is None:
            yield Ruled("cable out", f"cable {cable.id} is unused, and where its far end is freed is not known")
            continue
        ends = frozenset((box.id, far.box))
        room = {}
        for key in ends:
            check, letter = site.check_of(site.boxes[key]), cable.id if key == box.id else far.cable
            by_gauge = site.of_kind(check, "clamps", "devices", "grounds", "modules", "fittings", "terminal blocks")
            room[key] = site.counted(check, letter) + by_gauge
        yield Move(
            "cable out",
            f"unused cable {cable.id} out, here and in {site.boxes[far.box].name}; its openings closed",
            ends,
            frozenset((Decision("run", box.id, run.id),)),
            site.minutes("cable out"),
            (TakeCableOut(run=run.id),),
            room=room,
            look="dead at both ends, proven",
        )


def reorder(site: Site) -> Iterator[Offer]:
    """Another order of the gangs: the best there is, once everything else is done.

    Where the plate stays, only devices that take openings of one kind change places: of the kind there is most of.
    """
    box = site.box
    if not box.devices or box.enclosure.gangs < 2:
        return
    trims = {device.id: site.sheets[device.sheet].trim for device in box.devices}
    stays: tuple[str, ...] = ()
    if site.plate_stays:
        known = Counter(trim for trim in trims.values() if trim)
        most, count = known.most_common(1)[0] if known else ("", 0)
        if count < 2 or len(box.devices) < box.enclosure.gangs:
            yield Ruled("order", "the plate stays, and no two devices take openings known to be alike")
            return
        stays = tuple(id for id, trim in trims.items() if trim != most)
    yield Move(
        "order",
        "the gangs in their best order",
        frozenset((box.id,)),
        frozenset((Decision("order", box.id),)),
        site.minutes("order"),
        stays=stays,
    )
