"""A whole job: the house, its panel, the sheets it uses, its boxes. The job file is this, as JSON."""

from collections import Counter
from collections.abc import Iterable, Mapping
from functools import cached_property
from types import MappingProxyType
from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from .assumptions import ASSUME, Assume
from .box import Box, Equipment
from .datasheet import Datasheet
from .day import USUAL_DAYS, DayTerms
from .edition import NEC_2023, Code
from .house import House
from .load import Load
from .panel import Circuit, Panel, across
from .prices import MovePrice, Price, ReplacementLamp, StockConnector
from .region import REGIONS, US, ColorCode, Region
from .run import BoxEnd, CircuitEnd, Run, RunEnd
from .shelf import Shelf
from .stock import USUAL_STOCK, StockBox
from .thing import Thing
from .tick import Tick

ModuleCounting = Literal["larger", "device", "body", "none"]
"""How a module on no yoke is counted: the larger of the next two; as a device; by its body; not at all."""
FORMAT_VERSION: Literal[3] = 3


class Terms(Thing):
    """What a job is judged under."""

    code: Code = NEC_2023.id
    """The rule set and its edition."""
    voltage: Annotated[int, Field(ge=100, le=250)] = 120
    """Of its branch circuits [V]."""
    assume: Assume = ASSUME
    """The assumptions about loads and heat."""
    modules: ModuleCounting = "larger"
    """How a module on no yoke is counted; practice, no code names it."""
    colors: ColorCode = US.id
    """What the colors of conductors commonly mean here, and how the region wires."""

    @property
    def region(self) -> Region:
        """How the region wires."""
        return REGIONS[self.colors]

    def across(self, voltage: int) -> Self:
        """The same at other volts: across two poles they may be twice those of any house.

        >>> Terms(voltage=126).across(252).voltage
        252
        """
        return self if voltage == self.voltage else self.model_copy(update={"voltage": voltage})


class Origin(Thing):
    """Where a job's own copy of something of the shop comes from."""

    kind: Literal["sheet", "stock", "price"]
    key: Annotated[str, Field(min_length=1, max_length=60)]
    """Of the copy, in this job."""
    shop: Annotated[str, Field(max_length=60)]
    shop_key: Annotated[str, Field(min_length=1, max_length=60)]
    revision: Annotated[int, Field(ge=1, le=2**53)]


class Job(Thing):
    """A whole job, and the job file at once."""

    format: Literal["nail-count job"] = "nail-count job"
    version: Literal[3] = FORMAT_VERSION
    """Of this file format."""
    name: Annotated[str, Field(min_length=1, max_length=120)]
    terms: Terms = Terms()
    house: House = House()
    panel: Panel = Panel()
    circuits: tuple[Circuit, ...] = ()
    stock: tuple[StockBox, ...] = USUAL_STOCK
    """What the shop keeps; an invented list to begin with."""
    prices: Annotated[tuple[Price, ...], Field(max_length=2000)] = ()
    """What things cost, as entered; none is invented."""
    connectors: Annotated[tuple[StockConnector, ...], Field(max_length=60)] = ()
    """The connectors the shop keeps; (): the usual three sizes."""
    lamps: Annotated[tuple[ReplacementLamp, ...], Field(max_length=200)] = ()
    """Lamps that may be put in place of others."""
    moves: tuple[MovePrice, ...] = ()
    """How long kinds of work take, where not the usual time."""
    shelf: Annotated[tuple[Shelf, ...], Field(max_length=2000)] = ()
    """What the shop has of parts, and by how many they are sold."""
    day: DayTerms = USUAL_DAYS
    """What its days are planned by."""
    origins: Annotated[tuple[Origin, ...], Field(max_length=4000)] = ()
    """Of what was taken over from the shop: from which revision."""
    sheets: tuple[Datasheet, ...] = ()
    boxes: tuple[Box, ...] = ()
    runs: tuple[Run, ...] = ()
    """Where cables go."""
    ticks: tuple[Tick, ...] = ()
    """What was done, in order."""

    @model_validator(mode="after")
    def _ids_of_their_own(self) -> Self:
        for what, ids in (
            ("sheets", [sheet.id for sheet in self.sheets]),
            ("circuits", [circuit.id for circuit in self.circuits]),
            ("boxes", [box.id for box in self.boxes]),
            ("runs", [run.id for run in self.runs]),
            ("ticks", [tick.id for tick in self.ticks]),
        ):
            if len(set(ids)) < len(ids):
                raise ValueError(f"Give each of the {what} an id of its own")
        return self

    @cached_property
    def far_ends(self) -> Mapping[tuple[str, str], RunEnd]:
        """Where each cable goes, by its box and its letter there, as far as that is known."""
        ends = {}
        for run in self.fed_runs:
            for here, there in ((run.other, run.one), (run.one, run.other)):
                if isinstance(here, BoxEnd) and here.cable is not None:
                    ends[here.box, here.cable] = there
        return ends

    @cached_property
    def fed_runs(self) -> tuple[Run, ...]:
        """All runs; the one feed of a box on one circuit comes from that circuit, where nobody named its breaker."""
        # A second feed may come from another breaker: then nobody knows which of the two is whose.
        feeds = Counter(end.box for run in self.runs if _is_feed(run) for end in run.box_ends)
        only = {box.id: box.circuits[0] for box in self.boxes if len(box.circuits) == 1 and feeds[box.id] == 1}
        return tuple(_fed(run, only) for run in self.runs)

    @cached_property
    def loads_at(self) -> Mapping[str, tuple[Load, ...]]:
        """The loads of every box, as each is judged, by the box they are at."""
        found: dict[str, list[Load]] = {}
        for box in self.boxes:
            for item in box.contents.equipment:
                for load in item.loads:
                    if load.outlet is not None:
                        found.setdefault(load.outlet, []).append(load)
        return {outlet: tuple(loads) for outlet, loads in found.items()}

    @property
    def volts(self) -> dict[str, int]:
        """The volts across what each of its circuits feeds, by its id."""
        return volts_of(self.circuits, self.terms.voltage)

    def terms_at(self, box: Box) -> Terms:
        """What a box is judged under: the job's terms, at the volts across its breaker."""
        return terms_at(box, self.terms, self.circuits)

    def shared(self) -> dict[str, Any]:
        """What a job and its head say alike."""
        return {name: getattr(self, name) for name in _SHARED}


class JobHead(Thing):
    """A job without its sheets and boxes: kept as a document of its own, so that every act on it can be undone."""

    name: Annotated[str, Field(min_length=1, max_length=120)]
    terms: Terms = Terms()
    house: House = House()
    panel: Panel = Panel()
    circuits: tuple[Circuit, ...] = ()
    stock: tuple[StockBox, ...] = USUAL_STOCK
    prices: Annotated[tuple[Price, ...], Field(max_length=2000)] = ()
    connectors: Annotated[tuple[StockConnector, ...], Field(max_length=60)] = ()
    lamps: Annotated[tuple[ReplacementLamp, ...], Field(max_length=200)] = ()
    moves: tuple[MovePrice, ...] = ()
    shelf: Annotated[tuple[Shelf, ...], Field(max_length=2000)] = ()
    day: DayTerms = USUAL_DAYS
    origins: Annotated[tuple[Origin, ...], Field(max_length=4000)] = ()
    order: tuple[str, ...] | None = None
    """Which boxes the job has, in its order; None: as they were when this was not kept yet."""

    @cached_property
    def keys(self) -> frozenset[str]:
        """The keys of its boxes."""
        return frozenset(self.order or ())

    @property
    def circuit_ids(self) -> frozenset[str]:
        """What its circuits are called."""
        return frozenset(circuit.id for circuit in self.circuits)

    def shared(self) -> dict[str, Any]:
        """What a job and its head say alike."""
        return {name: getattr(self, name) for name in _SHARED}

    def terms_at(self, box: Box) -> Terms:
        """What a box is judged under: the job's terms, at the volts across its breaker."""
        return terms_at(box, self.terms, self.circuits)


_SHARED = (
    "name", "terms", "house", "panel", "circuits", "stock", "prices", "connectors", "lamps", "moves", "shelf", "day",
    "origins",
)  # fmt: skip


def volts_of(circuits: Iterable[Circuit], voltage: int) -> dict[str, int]:
    """The volts across what each circuit feeds, by its id."""
    return {circuit.id: across(circuit, voltage) for circuit in circuits}


def terms_at(box: Box, terms: Terms, circuits: tuple[Circuit, ...]) -> Terms:
    """The terms of a job, at the volts across the breaker that feeds a box."""
    circuit = next((one for one in circuits if one.id == box.circuit), None)
    return terms.across(across(circuit, terms.voltage))


NO_VOLTS: Mapping[str, int] = MappingProxyType({})


def terms_of(item: Equipment, box: Box, terms: Terms, volts: Mapping[str, int]) -> Terms:
    """Return what a device or module of a box is judged under: the box's terms, at the volts of its own circuit.

    Args:
        item: the device or module.
        box: the box it is in.
        terms: what the box is judged under.
        volts: across what each circuit feeds [V], by its id; one that isn't there has the volts of the terms.
    """
    return terms.across(volts.get(box.circuit_of(item) or "", terms.voltage))


class Library(dict[str, Datasheet]):
    """Sheets by their ids. One that is not among them reads as a stand-in that says nothing, so that a box naming it
    can still be shown; whether it is there is asked with `in` or `get`.

    >>> Library()["gone"].name, "gone" in Library()
    ('gone, not among the sheets', False)
    """

    def __missing__(self, id: str) -> Datasheet:
        return Datasheet.model_construct(id=id, name=f"{id}, not among the sheets", kind="blank")


def by_id(sheets: Iterable[Datasheet]) -> Library:
    """The sheets by their ids."""
    return Library((sheet.id, sheet) for sheet in sheets)


def _is_feed(run: Run) -> bool:
    return isinstance(run.one, CircuitEnd) or isinstance(run.other, CircuitEnd)


def _fed(run: Run, circuit_of: Mapping[str, str]) -> Run:
    """A run with the circuit it comes from, where nobody named it and its box has only one."""
    for near, far, name in ((run.one, run.other, "other"), (run.other, run.one, "one")):
        if far == CircuitEnd() and isinstance(near, BoxEnd) and near.box in circuit_of:
            return run.changed(**{name: CircuitEnd(circuit=circuit_of[near.box])})
    return run
