"""A whole job: the house, its panel, the sheets it uses, its boxes. The job file is this, as JSON."""

from collections.abc import Mapping
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from .assume import ASSUME, Assume
from .box import Box, Carrier, Device
from .circuit import Circuit, Panel, across, misplaced
from .house import House
from .sheet import Sheet
from .stock import USUAL_STOCK, StockBox
from .thing import Thing

Code = Literal["nec-2017", "nec-2020", "nec-2023", "csa", "uk", "india"]
School = Literal["larger", "device", "body", "none"]
"""How a module on no yoke is counted: the larger of the next two; as a device; by its body; not at all."""
FORMAT_VERSION: Literal[1] = 1


ColorCode = Literal["US", "UK today", "UK before 2004", "India"]


class Terms(Thing):
    """What a job is judged under."""

    code: Code = "nec-2023"
    """The rule set and its edition."""
    voltage: Annotated[int, Field(ge=100, le=250)] = 120
    """Of its branch circuits [V]."""
    assume: Assume = ASSUME
    """What is taken for granted of loads and heat."""
    modules: School = "larger"
    """How a module on no yoke is counted; practice, no code names it."""
    colors: ColorCode = "US"
    """What the colors of conductors commonly mean here."""


class Job(Thing):
    """A whole job, and the job file at once."""

    format: Literal["nail-count job"] = "nail-count job"
    version: Literal[1] = FORMAT_VERSION
    """Of this file format."""
    name: Annotated[str, Field(min_length=1, max_length=120)]
    terms: Terms = Terms()
    house: House = House()
    panel: Panel = Panel()
    circuits: tuple[Circuit, ...] = ()
    stock: Annotated[tuple[StockBox, ...], Field(max_length=200)] = USUAL_STOCK
    """What the shop keeps; an invented list to begin with."""
    sheets: tuple[Sheet, ...] = ()
    boxes: Annotated[tuple[Box, ...], Field(max_length=2000)] = ()

    @model_validator(mode="after")
    def _holds_together(self) -> Self:
        sheets = by_id(self.sheets)
        for what, ids in (
            ("sheets", [sheet.id for sheet in self.sheets]),
            ("circuits", [circuit.id for circuit in self.circuits]),
            ("boxes", [box.id for box in self.boxes]),
        ):
            if len(set(ids)) < len(ids):
                raise ValueError(f"expected {what} with an id of their own each")
        if wrong := misplaced(self.panel, self.circuits):
            raise ValueError(f"panel: {wrong}")
        for box in self.boxes:
            if wrong := off_circuit(box, self.circuits) or misfit(box, sheets):
                raise ValueError(f"box “{box.id}”: {wrong}")
        return self

    def terms_at(self, box: Box) -> Terms:
        """What a box is judged under: the job's terms, at the volts across its breaker."""
        return terms_at(box, self.terms, self.circuits)


class Moved(Thing):
    """A box taken from one room to another, so that taking the act back takes the box back."""

    box: str
    before: str
    """The room it was in."""
    after: str


class JobHead(Thing):
    """A job without its sheets and boxes: kept as a document of its own, so that every act on it can be undone."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    terms: Terms = Terms()
    house: House = House()
    panel: Panel = Panel()
    circuits: tuple[Circuit, ...] = ()
    stock: tuple[StockBox, ...] = USUAL_STOCK
    order: tuple[str, ...] | None = None
    """Which boxes the job has, in its order; None: as they were when this was not kept yet."""
    moved: Moved | None = None
    """What the last act moved, where it moved something."""

    def terms_at(self, box: Box) -> Terms:
        """What a box is judged under: the job's terms, at the volts across its breaker."""
        return terms_at(box, self.terms, self.circuits)


def terms_at(box: Box, terms: Terms, circuits: tuple[Circuit, ...]) -> Terms:
    """The terms of a job, at the volts across the breaker a box hangs on."""
    circuit = next((one for one in circuits if one.id == box.circuit), None)
    voltage = across(circuit, terms.voltage)
    return terms if voltage == terms.voltage else terms.model_copy(update={"voltage": voltage})


def off_circuit(box: Box, circuits: tuple[Circuit, ...]) -> str | None:
    """What is wrong with the circuit a box hangs on, as a sentence; None where it is one of these, or not known."""
    known = {circuit.id for circuit in circuits}
    for id in box.circuits:
        if id not in known:
            return f"it hangs on circuit “{id}”, which is not among the circuits"
    return None


def by_id(sheets: tuple[Sheet, ...]) -> dict[str, Sheet]:
    """The sheets by their ids."""
    return {sheet.id: sheet for sheet in sheets}


def misfit(box: Box, sheets: Mapping[str, Sheet]) -> str | None:
    """What is wrong between a box and the sheets its devices name, as a sentence; None where it all fits."""
    taken: dict[int, str] = {}
    for device in box.devices:
        if wrong := _misplaced_device(device, box, sheets, taken):
            return wrong
    for module in box.modules:
        kept = sheets.get(module.sheet)
        if kept is None or not kept.is_module:
            return f"module “{module.id}” names the sheet “{module.sheet}”, which is no module among the sheets"
        if wrong := _beyond(module, kept):
            return wrong
    most = len(box.enclosure.barriers) + 1
    placed = [*((cable.id, cable.space) for cable in box.cables), *((one.id, one.space) for one in box.modules)]
    return next((f"“{id}” is in space {space} of a box with {most}" for id, space in placed if space > most), None)


def _misplaced_device(device: Device, box: Box, sheets: Mapping[str, Sheet], taken: dict[int, str]) -> str | None:
    """What is wrong with one device; notes the gangs it takes."""
    sheet = sheets.get(device.sheet)
    if sheet is None:
        return f"device “{device.id}” names the sheet “{device.sheet}”, which is not among the sheets"
    if sheet.is_module:
        return f"{sheet.name} is a module: it sits on no yoke and takes no gang"
    last = device.gang + sheet.gangs - 1
    if last > box.enclosure.gangs:
        return (
            f"{sheet.name} takes {sheet.gangs} gangs; from gang {device.gang} it would reach gang {last} "
            f"of a box with {box.enclosure.gangs}"
        )
    for gang in range(device.gang, last + 1):
        if gang in taken:
            return f"gang {gang} would hold two yokes: {taken[gang]} and {sheet.name}"
        taken[gang] = sheet.name
    return _beyond(device, sheet)


def _beyond(carrier: Carrier, sheet: Sheet) -> str | None:
    """What is wrong where a load hangs on a channel the sheet does not have."""
    channels = len(sheet.channels)
    beyond = next((load.channel for load in carrier.loads if load.channel > channels), None)
    return None if beyond is None else f"{sheet.name} has {channels} channels; a load is on channel {beyond}"
