"""What else is in the box: fittings, connectors, terminal blocks, modules, barriers."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..model.box import Box, Connectors, Id, Module, TerminalBlock
from ..model.enclosure import Barrier, Fitting
from ..model.errors import Rejected
from ..model.thing import Thing
from ..model.wire import GaugeField
from ..text.device import equipment_words
from .base import Datasheets, Edit, called, changed_enclosure, next_id, on_circuit, replace_item, with_
from .fields import InCubicInches, Maybe


class SetFittings(Thing):
    """Luminaire stud, hickey."""

    stud: bool = False
    hickey: bool = False


class AddConnectors(Thing):
    """Wire connectors of one size."""

    size: Literal["small", "medium", "large"] = "medium"
    count: Annotated[int, Field(ge=1, le=60)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None


class AddTerminalBlock(Thing):
    """Terminal blocks."""

    count: Annotated[int, Field(ge=1, le=20)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None


class AddModule(Thing):
    """A module on no yoke goes into the box."""

    sheet: Id
    gauge: Annotated[GaugeField | None, Maybe] = None
    space: Annotated[int, Field(ge=1, le=5)] = 1


class ConnectModule(Thing):
    """What a module is called, where it lies, and what switches it."""

    module: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None
    gang: Annotated[Annotated[int, Field(ge=1)] | None, Maybe] = None
    circuit: Annotated[str | None, Maybe] = None
    control: Annotated[Literal["wired", "battery only"] | None, Maybe] = None


class TakeOut(Thing):
    """Something of the contents comes out: connectors, a terminal block, a module, a barrier, counted from 1."""

    what: Literal["connectors", "terminal block", "module", "barrier"]
    number: int


class AddBarrier(Thing):
    """A fixed barrier between two gangs."""

    after: int
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    volume: InCubicInches = None


def set_fittings(box: Box, what: SetFittings, sheets: Datasheets) -> Edit:
    """The box with or without a stud or a hickey."""
    present: list[tuple[Fitting, bool]] = [("stud", what.stud), ("hickey", what.hickey)]
    fittings = tuple(fitting for fitting, there in present if there)
    said = " and ".join(fittings) or "no stud or hickey"
    return Edit(with_(box, enclosure=changed_enclosure(box.enclosure, fittings=fittings)), f"In the box: {said}")


def add_connectors(box: Box, what: AddConnectors, sheets: Datasheets) -> Edit:
    """More wire connectors."""
    if len(box.connectors) >= 12:
        raise Rejected("expected at most 12 kinds of connectors in a box", "count")
    more = Connectors(**what.model_dump())
    return Edit(with_(box, connectors=(*box.connectors, more)), f"{what.count} {what.size} connectors")


def add_terminal_block(box: Box, what: AddTerminalBlock, sheets: Datasheets) -> Edit:
    """More terminal blocks."""
    if len(box.terminal_blocks) >= 6:
        raise Rejected("expected at most 6 kinds of terminal blocks in a box", "count")
    more = TerminalBlock(**what.model_dump())
    return Edit(with_(box, terminal_blocks=(*box.terminal_blocks, more)), f"{what.count} terminal blocks")


def add_module(box: Box, what: AddModule, sheets: Datasheets) -> Edit:
    """A module loose in the box."""
    sheet = sheets.get(what.sheet)
    if sheet is None or not sheet.is_module:
        raise Rejected("expected one of the job's modules", "sheet")
    if len(box.modules) >= 8:
        raise Rejected("expected at most 8 modules in a box", "sheet")
    module = Module(id=next_id("m", {one.id for one in box.modules}), **what.model_dump())
    return Edit(with_(box, modules=(*box.modules, module)), f"{sheet.name} loose in the box")


def connect_module(box: Box, what: ConnectModule, sheets: Datasheets) -> Edit:
    """The module with its name, where it lies, what feeds and what switches it; what is not said stays."""
    module = next((one for one in box.modules if one.id == what.module), None)
    if module is None:
        raise Rejected("expected a module that is in this box", "module")
    if what.gang is not None and what.gang > box.enclosure.gangs:
        raise Rejected(f"expected a gang from 1 to {box.enclosure.gangs}, not {what.gang}", "gang")
    on_circuit(box, what.circuit)
    new: Module = with_(module, **what.model_dump(include=what.model_fields_set - {"module"}))
    return Edit(replace_item(box, new), ", ".join([called(new, sheets), *equipment_words(new)]))


def add_barrier(box: Box, what: AddBarrier, sheets: Datasheets) -> Edit:
    """A barrier: what is on either side of it is counted apart from now on."""
    barriers = (*box.enclosure.barriers, Barrier(after=max(what.after, 1), material=what.material, volume=what.volume))
    enclosure = changed_enclosure(box.enclosure, barriers=tuple(sorted(barriers, key=lambda one: one.after)))
    return Edit(with_(box, enclosure=enclosure), f"Barrier behind gang {what.after}")


def take_out(box: Box, what: TakeOut, sheets: Datasheets) -> Edit:
    """Something of the contents comes out. What was behind a barrier that goes is in the space before it."""
    kinds: dict[str, tuple[Any, ...]] = {
        "connectors": box.connectors,
        "terminal block": box.terminal_blocks,
        "module": box.modules,
        "barrier": box.enclosure.barriers,
    }
    things = kinds[what.what]
    if not 1 <= what.number <= len(things):
        raise Rejected("expected one of those in the box", "number")
    rest = things[: what.number - 1] + things[what.number :]
    said = f"{what.what.capitalize()} out"
    if what.what != "barrier":
        field = {"terminal block": "terminal_blocks", "module": "modules"}.get(what.what, what.what)
        return Edit(with_(box, **{field: rest}), said)

    def moved(space: int) -> int:
        return space - 1 if space > what.number else space

    cables = tuple(cable.model_copy(update={"space": moved(cable.space)}) for cable in box.cables)
    modules = tuple(module.model_copy(update={"space": moved(module.space)}) for module in box.modules)
    enclosure = changed_enclosure(box.enclosure, barriers=rest)
    return Edit(with_(box, enclosure=enclosure, cables=cables, modules=modules), said)
