"""The box itself: what it may hold, what it is made of, what it is called."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..model.box import Box, Use
from ..model.enclosure import FanSupport, Ring
from ..model.errors import Rejected
from ..model.measure import Number
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import gangs_of, looked_at
from .fields import InCubicInches, InInches, Maybe, in_pounds


class SetVolume(BoxEdit):
    """What the box may hold: marked in it, or its trade size. Neither: not known."""

    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with its marked volume or its trade size; a trade size makes it a metal one."""
        material = "metal" if self.trade_size else box.enclosure.material
        enclosure = box.enclosure.changed(volume=self.volume, trade_size=self.trade_size, material=material)
        if enclosure.volume is not None:
            return BoxEdited(box.changed(enclosure=enclosure), f"Volume marked {self.volume}")
        if enclosure.size is not None:
            return BoxEdited(box.changed(enclosure=enclosure), f"Trade size {enclosure.trade_size}")
        return BoxEdited(box.changed(enclosure=enclosure), "Volume left open")


class SetMaterial(BoxEdit):
    """What the box is made of."""

    material: Literal["nonmetallic", "metal"]

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box of another material; refused while a trade size says it is metal."""
        enclosure = box.enclosure.changed(material=self.material)
        return BoxEdited(looked_at(box.changed(enclosure=enclosure), "material"), f"Box is {self.material}")


class SetClamps(BoxEdit):
    """Whether clamps hold the cables inside the box."""

    clamps: bool = False

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with or without clamps inside."""
        enclosure = box.enclosure.changed(clamps=self.clamps)
        new = looked_at(box.changed(enclosure=enclosure), "clamps")
        return BoxEdited(new, "Clamps inside the box" if self.clamps else "No clamps inside the box")


class SetGangs(BoxEdit):
    """How many gangs the box has."""

    gangs: int

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box wider or narrower; refused while a device stands in a gang that would go."""
        beyond = [device for device in box.devices if max(gangs_of(device, sheets)) > self.gangs]
        if beyond:
            gangs = " and ".join(str(device.gang) for device in beyond)
            raise Rejected(f"Take the device out of gang {gangs} first", "gangs")
        if any(barrier.after >= self.gangs for barrier in box.enclosure.barriers):
            raise Rejected("Take the barrier out first; it stands behind a gang that would go", "gangs")
        enclosure = box.enclosure.changed(gangs=self.gangs)
        plural = "gang" if self.gangs == 1 else "gangs"
        return BoxEdited(looked_at(box.changed(enclosure=enclosure), "gangs"), f"Box has {self.gangs} {plural}")


class SetInside(BoxEdit):
    """The box as measured inside."""

    width: InInches = None
    height: InInches = None
    depth: InInches = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with its inside measures; one that wasn’t entered is unknown."""
        enclosure = box.enclosure.changed(width=self.width, height=self.height, depth=self.depth)
        named = (("wide", self.width), ("high", self.height), ("deep", self.depth))
        said = ", ".join(f"{length} {side}" for side, length in named if length is not None)
        return BoxEdited(
            box.changed(enclosure=enclosure), f"Inside measured: {said}" if said else "Inside not measured"
        )


class SetFan(BoxEdit):
    """What the box may carry of a fan, and the fan that hangs there."""

    listed: Annotated[bool | None, Maybe] = None
    marked: Annotated[Number | None, BeforeValidator(in_pounds)] = None
    weight: Annotated[Number | None, BeforeValidator(in_pounds)] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with what was read of its support and of the fan."""
        fan = FanSupport(listed=self.listed, marked=self.marked, weight=self.weight)
        listed = {True: "listed for a fan", False: "not listed for a fan", None: "listing not looked at"}[self.listed]
        said = [listed, *([f"marked for {float(self.marked):g} lb"] if self.marked else [])]
        said += [f"fan of {float(self.weight):g} lb"] if self.weight else []
        return BoxEdited(box.changed(enclosure=box.enclosure.changed(fan=fan)), f"Box {', '.join(said)}")


class AddRing(BoxEdit):
    """A ring, raised cover or extension is on the front of the box."""

    kind: Annotated[str, Field(min_length=1, max_length=60)]
    volume: InCubicInches = None
    trade_size: Annotated[str | None, Maybe] = None
    depth: InInches = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with one more ring on it."""
        if len(box.enclosure.rings) >= 4:
            raise Rejected("A box takes at most 4 rings", "kind")
        ring = Ring(kind=self.kind, volume=self.volume, trade_size=self.trade_size, depth=self.depth)
        enclosure = box.enclosure.changed(rings=(*box.enclosure.rings, ring))
        marked = f"marked {self.volume}" if self.volume else ring.trade_size or "unmarked"
        return BoxEdited(looked_at(box.changed(enclosure=enclosure), "ring"), f"{self.kind} on the box, {marked}")


class RemoveRing(BoxEdit):
    """A ring comes off; counted from 1."""

    ring: int

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this ring."""
        rings = box.enclosure.rings
        if not 1 <= self.ring <= len(rings):
            raise Rejected("Pick one of the rings on this box", "ring")
        gone = rings[self.ring - 1]
        rest = rings[: self.ring - 1] + rings[self.ring :]
        return BoxEdited(box.changed(enclosure=box.enclosure.changed(rings=rest)), f"{gone.kind} off the box")


class Rename(BoxEdit):
    """What the box is called, where it is, what feeds it."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    room: Annotated[str, Field(min_length=1, max_length=60)]
    circuit: Annotated[str | None, Maybe] = None
    use: Use = "control"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box under its new name, room and circuit."""
        fed = f", circuit {self.circuit}" if self.circuit else ""
        use = f", for a {self.use}" if "use" in self.model_fields_set and self.use != box.use else ""
        return BoxEdited(box.changed(**self.given()), f"Box is “{self.name}” in {self.room}{fed}{use}")
