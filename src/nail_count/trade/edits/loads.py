"""Lamps, fans and everything else go onto a device, are put right, measured, and come off."""

from __future__ import annotations

from datetime import datetime
from fractions import Fraction
from typing import Annotated, Any, Literal

from pydantic import BeforeValidator, Field, ValidationError

from ..model.box import Box, Equipment
from ..model.errors import Rejected, problems_of
from ..model.load import KIND_WORDS, Load, LoadKind, Measured, units_of
from ..model.measure import Number, Power
from ..model.thing import Thing
from ..wiring.simulate.relay import relay_reading
from .base import Datasheets, Edit, called, item_of, next_id, replace_item, with_
from .fields import Maybe, in_watts, now


class LoadFacts(Thing):
    """What is known of a group of lamps, of a fan or anything else."""

    kind: LoadKind
    each: str
    quantity: Annotated[int, Field(ge=1, le=500)] = 1
    power_factor: Annotated[Number | None, Maybe] = None
    channel: Annotated[int, Field(ge=1, le=8)] = 1
    name: Annotated[str, Field(max_length=60)] = ""
    actual: bool = False
    dimmable: Annotated[bool | None, Maybe] = None
    loss: Annotated[Power | None, BeforeValidator(in_watts)] = None
    fewest: Annotated[Annotated[int, Field(ge=1, le=500)] | None, Maybe] = None
    continuous: Annotated[bool | None, Maybe] = None
    lights: Literal["", "required light", "stairs"] = ""


class AddLoad(LoadFacts):
    """Lamps, a fan or anything else go onto a device, or a module loose in the box."""

    device: str


class ChangeLoad(LoadFacts):
    """What is known of a load is put right."""

    load: str


class DrawsThat(Thing):
    """An LED lamp of many watts really draws them."""

    load: str


class MeasureLoad(Thing):
    """What a meter read of a group of loads; nothing: the sum counts again."""

    load: str
    power: Annotated[Power | None, BeforeValidator(in_watts)] = None
    at: datetime = Field(default_factory=now)


class ReadRelay(Thing):
    """A relay that measures reports what passes through it."""

    device: str
    at: datetime = Field(default_factory=now)


class RemoveLoad(Thing):
    """Lamps or a fan come off."""

    load: str


def add_load(box: Box, what: AddLoad, sheets: Datasheets) -> Edit:
    """Something more on one channel of a device or module."""
    item = item_of(box, what.device)
    taken = {load.id for other in box.equipment for load in other.loads}
    load = _load(next_id("l", taken), what, item, sheets, {"device"})
    new = replace_item(box, with_(item, loads=(*item.loads, load)))
    return Edit(new, f"{_said(load)} on {called(item, sheets)}")


def change_load(box: Box, what: ChangeLoad, sheets: Datasheets) -> Edit:
    """A load put right; what a meter read of it goes, since it was another."""
    item, was = _load_of(box, what.load)
    load = _load(was.id, what, item, sheets, {"load"})
    alike = (load.kind, load.quantity, load.each) == (was.kind, was.quantity, was.each)
    new = with_(load, measured=was.measured if alike else None)
    return _replaced(box, item, new, f"{_said(new)} put right on {called(item, sheets)}")


def draws_that(box: Box, what: DrawsThat, sheets: Datasheets) -> Edit:
    """An LED lamp of many watts, said to draw them."""
    item, load = _load_of(box, what.load)
    return _replaced(box, item, with_(load, actual=True), f"{load.each} said to be what the lamp draws")


def measure_load(box: Box, what: MeasureLoad, sheets: Datasheets) -> Edit:
    """A measured figure in place of the sum, or the sum again."""
    item, load = _load_of(box, what.load)
    if what.power is None:
        return _replaced(box, item, with_(load, measured=None), f"{_said(load)}: summed, not measured")
    try:
        measured = Measured(power=what.power, at=what.at)
    except ValidationError as wrong:
        raise Rejected(problems_of(wrong)[0].sentence, "power") from wrong
    return _replaced(box, item, with_(load, measured=measured), f"{_said(load)}: {what.power} measured")


def read_relay(box: Box, what: ReadRelay, sheets: Datasheets) -> Edit:
    """What a relay that measures reports of each group on it."""
    item = item_of(box, what.device)
    sheet = sheets[item.sheet]
    if not sheet.metering:
        raise Rejected(f"expected a relay that measures; {sheet.name} does not", "device")
    if not item.loads:
        raise Rejected(f"expected something on {called(item, sheets)} first", "device")
    try:
        readings = [Power(relay_reading(load), "W") for load in item.loads]
    except ValueError as wrong:
        raise Rejected(str(wrong), "device") from wrong
    loads = tuple(
        with_(load, measured=Measured(power=power, by="metering relay", at=what.at))
        for load, power in zip(item.loads, readings, strict=True)
    )
    total = sum((power.value for power in readings), Fraction(0))
    reads = f"{called(item, sheets)} reads {Power(total, 'W')}"
    return Edit(replace_item(box, with_(item, loads=loads)), reads)


def remove_load(box: Box, what: RemoveLoad, sheets: Datasheets) -> Edit:
    """The box without this load."""
    item, load = _load_of(box, what.load)
    rest = tuple(other for other in item.loads if other is not load)
    sentence = f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]} off {called(item, sheets)}"
    return Edit(replace_item(box, with_(item, loads=rest)), sentence)


def _load(id: str, what: LoadFacts, item: Equipment, sheets: Datasheets, more: set[str]) -> Load:
    """The load said, checked against its device."""
    sheet = sheets[item.sheet]
    if what.channel > len(sheet.channels):
        raise Rejected(f"{sheet.name} controls nothing a load could hang on", "channel")
    try:
        each = Power.parse(what.each, units_of(what.kind)[0])
    except ValueError as wrong:
        raise Rejected(str(wrong), "each") from wrong
    said: dict[str, Any] = what.model_dump(exclude={"each"} | more)
    try:
        return Load(id=id, each=each, **said)
    except ValidationError as wrong:
        first = problems_of(wrong)[0]
        raise Rejected(first.sentence, str(first.path[0]) if first.path else "each") from wrong


def _load_of(box: Box, id: str) -> tuple[Equipment, Load]:
    for item in box.equipment:
        for load in item.loads:
            if load.id == id:
                return item, load
    raise Rejected("expected a load that hangs on a device of this box", "load")


def _replaced(box: Box, item: Equipment, new: Load, sentence: str) -> Edit:
    loads = tuple(new if load.id == new.id else load for load in item.loads)
    return Edit(replace_item(box, with_(item, loads=loads)), sentence)


def _said(load: Load) -> str:
    named = f" “{load.name}”" if load.name else ""
    return f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{named}"
