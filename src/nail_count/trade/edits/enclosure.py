"""The box itself: what it may hold, what it is made of, what it is called."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..model.box import Box
from ..model.enclosure import Enclosure, Ring
from ..model.errors import Rejected
from ..model.survey import Survey
from ..model.thing import Thing
from .base import Datasheets, Edit, changed_enclosure, gangs_of, looked_at, with_
from .fields import InCubicInches, InInches, Maybe


class SetVolume(Thing):
    """What the box may hold: marked in it, or its trade size. Neither: not known."""

    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None


class SetMaterial(Thing):
    """What the box is made of."""

    material: Literal["nonmetallic", "metal"]


class SetClamps(Thing):
    """Whether clamps hold the cables inside the box."""

    clamps: bool = False


class SetGangs(Thing):
    """How many gangs the box has."""

    gangs: int


class SetInside(Thing):
    """The box as measured inside."""

    width: InInches = None
    height: InInches = None
    depth: InInches = None


class AddRing(Thing):
    """A ring, raised cover or extension is on the front of the box."""

    kind: Annotated[str, Field(min_length=1, max_length=60)]
    volume: InCubicInches = None
    depth: InInches = None


class RemoveRing(Thing):
    """A ring comes off; counted from 1."""

    ring: int


class Rename(Thing):
    """What the box is called, where it is, what feeds it."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    circuit: Annotated[str | None, Maybe] = None


class StartBox(Thing):
    """A box from nothing."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    gangs: Annotated[int, Field(ge=1, le=8)] = 1
    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    circuit: Annotated[str | None, Maybe] = None


def start_box(id: str, what: StartBox) -> Edit:
    """A new box with this id, empty, in its room."""
    material = "metal" if what.trade_size else what.material
    enclosure = changed_enclosure(
        Enclosure(),
        gangs=what.gangs,
        material=material,
        volume=what.volume,
        trade_size=what.trade_size,
    )
    box = Box(id=id, name=what.name, room=what.room, circuit=what.circuit, enclosure=enclosure)
    return Edit(box, f"Box “{what.name}” started in {what.room}")


def copy_box(id: str, same: Box) -> Edit:
    """Another box with this id, the same as that one, but for what was found there: each box is looked at itself."""
    new = with_(same, id=id, name=f"{same.name[:55]} copy", survey=Survey(), readings=())
    return Edit(new, f"Same as “{same.name}”")


def set_volume(box: Box, what: SetVolume, sheets: Datasheets) -> Edit:
    """The box with its marked volume or its trade size; a trade size makes it a metal one."""
    material = "metal" if what.trade_size else box.enclosure.material
    enclosure = changed_enclosure(box.enclosure, volume=what.volume, trade_size=what.trade_size, material=material)
    if enclosure.volume is not None:
        return Edit(with_(box, enclosure=enclosure), f"Volume marked {what.volume}")
    if enclosure.size is not None:
        return Edit(with_(box, enclosure=enclosure), f"Trade size {enclosure.trade_size}")
    return Edit(with_(box, enclosure=enclosure), "Volume left open")


def set_material(box: Box, what: SetMaterial, sheets: Datasheets) -> Edit:
    """The box of another material; refused while a trade size says it is metal."""
    enclosure = changed_enclosure(box.enclosure, material=what.material)
    return Edit(looked_at(with_(box, enclosure=enclosure), "material"), f"Box is {what.material}")


def set_clamps(box: Box, what: SetClamps, sheets: Datasheets) -> Edit:
    """The box with or without clamps inside."""
    enclosure = changed_enclosure(box.enclosure, clamps=what.clamps)
    new = looked_at(with_(box, enclosure=enclosure), "clamps")
    return Edit(new, "Clamps inside the box" if what.clamps else "No clamps inside the box")


def set_gangs(box: Box, what: SetGangs, sheets: Datasheets) -> Edit:
    """The box wider or narrower; refused while a device stands in a gang that would go."""
    beyond = [device for device in box.devices if max(gangs_of(device, sheets)) > what.gangs]
    if beyond:
        gangs = " and ".join(str(device.gang) for device in beyond)
        raise Rejected(f"expected gang {gangs} to be empty first; a device stands there", "gangs")
    if any(barrier.after >= what.gangs for barrier in box.enclosure.barriers):
        raise Rejected("expected the barrier to be out first; it stands behind a gang that would go", "gangs")
    enclosure = changed_enclosure(box.enclosure, gangs=what.gangs)
    plural = "gang" if what.gangs == 1 else "gangs"
    return Edit(looked_at(with_(box, enclosure=enclosure), "gangs"), f"Box has {what.gangs} {plural}")


def rename(box: Box, what: Rename, sheets: Datasheets) -> Edit:
    """The box under its new name, room and circuit."""
    fed = f", circuit {what.circuit}" if what.circuit else ""
    return Edit(with_(box, **what.model_dump()), f"Box is “{what.name}” in {what.room}{fed}")


def set_inside(box: Box, what: SetInside, sheets: Datasheets) -> Edit:
    """The box with its inside measures; what is not given is not known."""
    enclosure = changed_enclosure(box.enclosure, width=what.width, height=what.height, depth=what.depth)
    named = (("wide", what.width), ("high", what.height), ("deep", what.depth))
    said = ", ".join(f"{length} {side}" for side, length in named if length is not None)
    return Edit(with_(box, enclosure=enclosure), f"Inside measured: {said}" if said else "Inside not measured")


def add_ring(box: Box, what: AddRing, sheets: Datasheets) -> Edit:
    """The box with one more ring on it."""
    if len(box.enclosure.rings) >= 4:
        raise Rejected("expected at most 4 rings on a box", "kind")
    ring = Ring(kind=what.kind, volume=what.volume, depth=what.depth)
    enclosure = changed_enclosure(box.enclosure, rings=(*box.enclosure.rings, ring))
    marked = f"marked {what.volume}" if what.volume else "unmarked"
    return Edit(looked_at(with_(box, enclosure=enclosure), "ring"), f"{what.kind} on the box, {marked}")


def remove_ring(box: Box, what: RemoveRing, sheets: Datasheets) -> Edit:
    """The box without this ring."""
    rings = box.enclosure.rings
    if not 1 <= what.ring <= len(rings):
        raise Rejected("expected one of the rings on this box", "ring")
    gone = rings[what.ring - 1]
    rest = rings[: what.ring - 1] + rings[what.ring :]
    return Edit(with_(box, enclosure=changed_enclosure(box.enclosure, rings=rest)), f"{gone.kind} off the box")
