"""Lamps, fans and everything else go onto a device, are put right, measured, and come off."""

from __future__ import annotations

from fractions import Fraction
from typing import Any

from pydantic import ValidationError

from ..model.box import Box, Carrier
from ..model.errors import Refused, complaints_of
from ..model.load import KIND_WORDS, Load, Measured, units_of
from ..model.measure import Power
from ..wiring.simulate.relay import relay_reading
from .base import Edit, Sheets, called, carrier_of, next_id, replace_carrier, with_
from .load_changes import AddLoad, ChangeLoad, DrawsThat, LoadFacts, MeasureLoad, ReadRelay, RemoveLoad


def add_load(box: Box, what: AddLoad, sheets: Sheets) -> Edit:
    """Something more on one channel of a device or module."""
    carrier = carrier_of(box, what.device)
    taken = {load.id for other in box.carriers for load in other.loads}
    load = _load(next_id("l", taken), what, carrier, sheets, {"device"})
    new = replace_carrier(box, with_(carrier, loads=(*carrier.loads, load)))
    return Edit(new, f"{_said(load)} on {called(carrier, sheets)}")


def change_load(box: Box, what: ChangeLoad, sheets: Sheets) -> Edit:
    """A load put right; what a meter read of it goes, since it was another."""
    carrier, was = _load_of(box, what.load)
    load = _load(was.id, what, carrier, sheets, {"load"})
    alike = (load.kind, load.quantity, load.each) == (was.kind, was.quantity, was.each)
    new = with_(load, measured=was.measured if alike else None)
    return _replaced(box, carrier, new, f"{_said(new)} put right on {called(carrier, sheets)}")


def draws_that(box: Box, what: DrawsThat, sheets: Sheets) -> Edit:
    """An LED lamp of many watts, said to draw them."""
    carrier, load = _load_of(box, what.load)
    return _replaced(box, carrier, with_(load, actual=True), f"{load.each} said to be what the lamp draws")


def measure_load(box: Box, what: MeasureLoad, sheets: Sheets) -> Edit:
    """A measured figure in place of the sum, or the sum again."""
    carrier, load = _load_of(box, what.load)
    if what.power is None:
        return _replaced(box, carrier, with_(load, measured=None), f"{_said(load)}: summed, not measured")
    try:
        measured = Measured(power=what.power, at=what.at)
    except ValidationError as wrong:
        raise Refused(complaints_of(wrong)[0].sentence, "power") from wrong
    return _replaced(box, carrier, with_(load, measured=measured), f"{_said(load)}: {what.power} measured")


def read_relay(box: Box, what: ReadRelay, sheets: Sheets) -> Edit:
    """What a relay that measures reports of each group on it."""
    carrier = carrier_of(box, what.device)
    sheet = sheets[carrier.sheet]
    if not sheet.metering:
        raise Refused(f"expected a relay that measures; {sheet.name} does not", "device")
    if not carrier.loads:
        raise Refused(f"expected something on {called(carrier, sheets)} first", "device")
    try:
        readings = [Power(relay_reading(load), "W") for load in carrier.loads]
    except ValueError as wrong:
        raise Refused(str(wrong), "device") from wrong
    loads = tuple(
        with_(load, measured=Measured(power=power, by="metering relay", at=what.at))
        for load, power in zip(carrier.loads, readings, strict=True)
    )
    total = sum((power.value for power in readings), Fraction(0))
    reads = f"{called(carrier, sheets)} reads {Power(total, 'W')}"
    return Edit(replace_carrier(box, with_(carrier, loads=loads)), reads)


def remove_load(box: Box, what: RemoveLoad, sheets: Sheets) -> Edit:
    """The box without this load."""
    carrier, load = _load_of(box, what.load)
    rest = tuple(other for other in carrier.loads if other is not load)
    sentence = f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]} off {called(carrier, sheets)}"
    return Edit(replace_carrier(box, with_(carrier, loads=rest)), sentence)


def _load(id: str, what: LoadFacts, carrier: Carrier, sheets: Sheets, more: set[str]) -> Load:
    """The load said, checked against its device."""
    sheet = sheets[carrier.sheet]
    if what.channel > len(sheet.channels):
        raise Refused(f"{sheet.name} controls nothing a load could hang on", "channel")
    try:
        each = Power.parse(what.each, units_of(what.kind)[0])
    except ValueError as wrong:
        raise Refused(str(wrong), "each") from wrong
    said: dict[str, Any] = what.model_dump(exclude={"each"} | more)
    try:
        return Load(id=id, each=each, **said)
    except ValidationError as wrong:
        first = complaints_of(wrong)[0]
        raise Refused(first.sentence, str(first.path[0]) if first.path else "each") from wrong


def _load_of(box: Box, id: str) -> tuple[Carrier, Load]:
    for carrier in box.carriers:
        for load in carrier.loads:
            if load.id == id:
                return carrier, load
    raise Refused("expected a load that hangs on a device of this box", "load")


def _replaced(box: Box, carrier: Carrier, new: Load, sentence: str) -> Edit:
    loads = tuple(new if load.id == new.id else load for load in carrier.loads)
    return Edit(replace_carrier(box, with_(carrier, loads=loads)), sentence)


def _said(load: Load) -> str:
    named = f" “{load.name}”" if load.name else ""
    return f"{load.quantity} × {load.each} {KIND_WORDS[load.kind]}{named}"
