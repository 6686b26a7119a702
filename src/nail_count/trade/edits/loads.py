"""Lamps, fans and everything else go onto a device, are put right, measured, and come off."""

from __future__ import annotations

from fractions import Fraction
from typing import Annotated, Literal

from pydantic import BeforeValidator, Field

from ..model.box import Box, Equipment
from ..model.errors import Rejected
from ..model.load import KIND_WORDS, Fitting, Load, LoadKind, Measured, units_of
from ..model.measure import Number, Power
from ..model.thing import Moment
from ..wiring.simulate.relay import relay_reading
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import called, item_of, load_of, next_id, replace_item
from .fields import Maybe, in_watts, now


class LoadFacts(BoxEdit):
    """The facts of a group of lamps, of a fan or anything else."""

    kind: LoadKind
    each: str
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    power_factor: Annotated[Number | None, Maybe] = None
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    name: Annotated[str, Field(max_length=60)] = ""
    actual: bool = False
    fitting: Annotated[Fitting | None, Maybe] = None
    dimmable: Annotated[bool | None, Maybe] = None
    loss: Annotated[Power | None, BeforeValidator(in_watts)] = None
    label: Annotated[Power | None, BeforeValidator(in_watts)] = None
    fewest: Annotated[Annotated[int, Field(ge=1, le=500)] | None, Maybe] = None
    continuous: Annotated[bool | None, Maybe] = None
    lights: Literal["", "required light", "stairs"] = ""
    bypass: bool = False
    outlet: Annotated[str | None, Maybe] = None
    """The box of the house it hangs at."""

    def blamed(self) -> str:
        """What one of them draws."""
        return "each"


class AddLoad(LoadFacts):
    """Lamps, a fan or anything else go onto a device, or a module loose in the box."""

    device: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Something more on one channel of a device or module."""
        item = item_of(box, self.device)
        taken = {load.id for other in box.equipment for load in other.loads}
        load = _load(next_id("l", taken), self, item, sheets, {"device"})
        new = replace_item(box, item.changed(loads=(*item.loads, load)))
        return BoxEdited(new, f"{_said(load)} on {called(item, sheets)}")


class ChangeLoad(LoadFacts):
    """A load is corrected."""

    load: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A load put right; what a meter read of it goes, since it was another."""
        item, was = load_of(box, self.load)
        load = _load(was.id, self, item, sheets, {"load"})
        alike = (load.kind, load.quantity, load.each) == (was.kind, was.quantity, was.each)
        new = load.changed(measured=was.measured if alike else None)
        return _replaced(box, item, new, f"{_said(new)} put right on {called(item, sheets)}")


class DrawsThat(BoxEdit):
    """An LED lamp of many watts really draws them."""

    load: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """An LED lamp of many watts, entered as drawing them."""
        item, load = load_of(box, self.load)
        return _replaced(box, item, load.changed(actual=True), f"{load.each} confirmed as the lamp's own watts")


class MeasureLoad(BoxEdit):
    """What a meter read of a group of loads; nothing: the sum counts again."""

    load: str
    power: Annotated[Power | None, BeforeValidator(in_watts)] = None
    at: Moment = Field(default_factory=now)

    def blamed(self) -> str:
        """What the meter read."""
        return "power"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A measured figure in place of the sum, or the sum again."""
        item, load = load_of(box, self.load)
        if self.power is None:
            return _replaced(box, item, load.changed(measured=None), f"{_said(load)}: summed, not measured")
        measured = Measured(power=self.power, at=self.at)
        return _replaced(box, item, load.changed(measured=measured), f"{_said(load)}: {self.power} measured")


class ReadLabel(BoxEdit):
    """Somebody read the largest bulb on a fixture's own label."""

    load: str
    label: Annotated[Power, BeforeValidator(in_watts)]

    def blamed(self) -> str:
        """What the label says."""
        return "label"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The largest bulb by the fixture's label."""
        item, load = load_of(box, self.load)
        return _replaced(box, item, load.changed(label=self.label), f"{_said(load)}: label read, {self.label} a bulb")


class ReadRelay(BoxEdit):
    """A relay that measures reports what passes through it."""

    device: str
    at: Moment = Field(default_factory=now)

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """What a relay that measures reports of each group on it."""
        item = item_of(box, self.device)
        sheet = sheets[item.sheet]
        if not sheet.metering:
            raise Rejected(f"Pick a relay that measures; {sheet.name} doesn't", "device")
        if not item.loads:
            raise Rejected(f"Add a load to {called(item, sheets)} first", "device")
        try:
            readings = [Power(relay_reading(load), "W") for load in item.loads]
        except ValueError as wrong:
            raise Rejected(str(wrong), "device") from wrong
        loads = tuple(
            load.changed(measured=Measured(power=power, by="metering relay", at=self.at))
            for load, power in zip(item.loads, readings, strict=True)
        )
        total = sum((power.value for power in readings), Fraction(0))
        reads = f"{called(item, sheets)} reads {Power(total, 'W')}"
        return BoxEdited(replace_item(box, item.changed(loads=loads)), reads)


class RemoveLoad(BoxEdit):
    """Lamps or a fan come off."""

    load: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box without this load."""
        item, load = load_of(box, self.load)
        rest = tuple(other for other in item.loads if other is not load)
        sentence = f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]} off {called(item, sheets)}"
        return BoxEdited(replace_item(box, item.changed(loads=rest)), sentence)


def _load(id: str, what: LoadFacts, item: Equipment, sheets: Datasheets, more: set[str]) -> Load:
    """The load entered, checked against its device."""
    sheet = sheets[item.sheet]
    if what.channel > len(sheet.channels):
        raise Rejected(f"{sheet.name} can't control a load", "channel")
    try:
        each = Power.parse(what.each, units_of(what.kind)[0])
    except ValueError as wrong:
        raise Rejected(str(wrong), "each") from wrong
    return Load.model_validate(what.said("each", *more) | {"id": id, "each": each})


def _replaced(box: Box, item: Equipment, new: Load, sentence: str) -> BoxEdited:
    loads = tuple(new if load.id == new.id else load for load in item.loads)
    return BoxEdited(replace_item(box, item.changed(loads=loads)), sentence)


def _said(load: Load) -> str:
    named = f" “{load.name}”" if load.name else ""
    return f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{named}"
