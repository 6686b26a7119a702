"""What else is in the box: fittings, connectors, terminal blocks, modules, barriers."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Any, Literal

from pydantic import Field

from ..model.box import Box, Id, Module, TerminalBlock
from ..model.contents import Connectors, Listing
from ..model.enclosure import Barrier, Fitting
from ..model.errors import Rejected
from ..model.gauge import GaugeField
from ..model.splice import Connector, Splice
from ..text.device import equipment_words
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import called, next_id, on_circuit, pruned, replace_item
from .fields import InCubicInches, Maybe


class SetFittings(BoxEdit):
    """Luminaire stud, hickey."""

    stud: bool = False
    hickey: bool = False

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with or without a stud or a hickey."""
        present: list[tuple[Fitting, bool]] = [("stud", self.stud), ("hickey", self.hickey)]
        fittings = tuple(fitting for fitting, there in present if there)
        said = " and ".join(fittings) or "no stud or hickey"
        return BoxEdited(box.changed(enclosure=box.enclosure.changed(fittings=fittings)), f"In the box: {said}")


class AddConnectors(BoxEdit):
    """Wire connectors of one size."""

    size: Literal["small", "medium", "large"] = "medium"
    count: Annotated[int, Field(ge=1, le=60)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None
    space: Annotated[int, Field(ge=1, le=5)] = 1

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """More wire connectors."""
        taken = {splice.id for splice in box.splices}
        if len(taken) + self.count > MOST_SPLICES:
            raise Rejected(f"A box takes at most {MOST_SPLICES} connectors", "count")
        new = []
        for _ in range(self.count):
            held = Connector(size=self.size, gauge=self.gauge)
            new.append(Splice(id=next_id("s", taken), connector=held, space=self.space))
            taken.add(new[-1].id)
        return BoxEdited(box.changed(splices=(*box.splices, *new)), f"{self.count} {self.size} connectors")


class AddTerminalBlock(BoxEdit):
    """Terminal blocks."""

    count: Annotated[int, Field(ge=1, le=20)] = 1
    gauge: Annotated[GaugeField | None, Maybe] = None
    space: Annotated[int, Field(ge=1, le=5)] = 1

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """More terminal blocks."""
        if len(box.terminal_blocks) >= 6:
            raise Rejected("A box takes at most 6 kinds of terminal blocks", "count")
        more = TerminalBlock(**self.said())
        return BoxEdited(box.changed(terminal_blocks=(*box.terminal_blocks, more)), f"{self.count} terminal blocks")


class AddModule(BoxEdit):
    """A module on no yoke goes into the box."""

    sheet: Id
    gauge: Annotated[GaugeField | None, Maybe] = None
    space: Annotated[int, Field(ge=1, le=5)] = 1

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A module loose in the box."""
        sheet = sheets.get(self.sheet)
        if sheet is None or not sheet.is_module:
            raise Rejected("Pick one of the job's modules", "sheet")
        if len(box.modules) >= 8:
            raise Rejected("A box takes at most 8 modules", "sheet")
        module = Module(id=next_id("m", {one.id for one in box.modules}), **self.said())
        return BoxEdited(box.changed(modules=(*box.modules, module)), f"{sheet.name} loose in the box")


class ConnectModule(BoxEdit):
    """What a module is called, where it lies, and what switches it."""

    module: str
    name: Annotated[str, Field(max_length=60)] = ""
    gauge: Annotated[GaugeField | None, Maybe] = None
    gang: Annotated[Annotated[int, Field(ge=1)] | None, Maybe] = None
    circuit: Annotated[str | None, Maybe] = None
    control: Annotated[Literal["wired", "battery only"] | None, Maybe] = None
    listing: Annotated[Listing | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with what was entered about the module; what wasn’t entered stays."""
        module = next((one for one in box.modules if one.id == self.module), None)
        if module is None:
            raise Rejected("Pick a module that is in this box", "module")
        if self.gang is not None and self.gang > box.enclosure.gangs:
            raise Rejected(f"Pick a gang from 1 to {box.enclosure.gangs}", "gang")
        on_circuit(box, self.circuit)
        new: Module = module.changed(**self.given("module"))
        return BoxEdited(replace_item(box, new), ", ".join([called(new, sheets), *equipment_words(new)]))


class TakeOut(BoxEdit):
    """Something of the contents comes out: connectors, a terminal block, a module, a barrier, counted from 1."""

    what: Literal["connectors", "terminal block", "module", "barrier"]
    number: int

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Something of the contents comes out. What was behind a barrier that goes is in the space before it."""
        kinds: dict[str, tuple[Any, ...]] = {
            "connectors": box.connectors,
            "terminal block": box.terminal_blocks,
            "module": box.modules,
            "barrier": box.enclosure.barriers,
        }
        things = kinds[self.what]
        if not 1 <= self.number <= len(things):
            raise Rejected("Pick one of those in the box", "number")
        rest = things[: self.number - 1] + things[self.number :]
        said = f"{self.what.capitalize()} out"
        if self.what == "connectors":
            gone = box.connectors[self.number - 1]
            return BoxEdited(box.changed(splices=tuple(_without(box.splices, gone))), said)
        if self.what != "barrier":
            field = {"terminal block": "terminal_blocks", "module": "modules"}[self.what]
            return BoxEdited(pruned(box.changed(**{field: rest})), said)

        def moved(space: int) -> int:
            return space - 1 if space > self.number else space

        cables = tuple(cable.changed(space=moved(cable.space)) for cable in box.cables)
        modules = tuple(module.changed(space=moved(module.space)) for module in box.modules)
        enclosure = box.enclosure.changed(barriers=rest)
        return BoxEdited(box.changed(enclosure=enclosure, cables=cables, modules=modules), said)


class AddBarrier(BoxEdit):
    """A fixed barrier between two gangs."""

    after: int
    material: Literal["nonmetallic", "metal"] = "nonmetallic"
    volume: InCubicInches = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """A barrier: each side of it is counted apart from now on."""
        new = Barrier(after=max(self.after, 1), material=self.material, volume=self.volume)
        barriers = (*box.enclosure.barriers, new)
        enclosure = box.enclosure.changed(barriers=tuple(sorted(barriers, key=lambda one: one.after)))
        return BoxEdited(box.changed(enclosure=enclosure), f"Barrier behind gang {self.after}")


MOST_SPLICES = 200


def _without(splices: Iterable[Splice], gone: Connectors) -> Iterator[Splice]:
    """The splices without the connectors of one size; those that join something stay."""
    for splice in splices:
        connector = splice.connector
        if connector is None or (connector.size, connector.gauge) != (gone.size, gone.gauge):
            yield splice
        elif splice.ends:
            yield splice.changed(connector=None)
