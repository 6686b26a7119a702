"""A module at a fixture gets a closed, dry box of its own beside it."""

from __future__ import annotations

from ...documents import Documents, Edited
from ...model.box import Box, Module
from ...model.conductor import Conductor
from ...model.contents import Contents
from ...model.datasheet import Datasheet
from ...model.enclosure import Enclosure
from ...model.errors import Rejected
from ...model.keys import free_key, slug
from ...model.region import REGIONS, US, ColorCode
from ...model.run import BoxEnd
from ...model.wire import Cable
from ..base import BoxEdit, BoxEdited, Datasheets
from ..box_parts import called, next_letter, pruned
from ..refits import unhooked, worked_at
from ..runs import said_to_go
from .boxes import with_new


class OwnBox(BoxEdit):
    """A module at a fixture goes into a box of its own beside it, wired to the fixture’s box by a new cable."""

    module: str

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the fixture’s box by itself, without the module, with the new cable as it is sold in the US."""
        _, cable = self._parts(box, sheets, US.id)
        return self._left(box, cable, sheets)

    def _edited(self, documents: Documents) -> Edited:
        outlet, sheets = documents.box(self.box), documents.sheets
        module, cable = self._parts(outlet, sheets, documents.head.terms.colors)
        left, there = self._left(outlet, cable, sheets), cable.changed(id="A")
        new = _own_box(documents, outlet, module, there)
        documents = with_new(documents.with_box(left.box), new, behind=outlet.id)
        documents = said_to_go(documents, left.box, cable.id, BoxEnd(box=new.id, cable=there.id))
        documents = worked_at(documents, f"{outlet.id}/{module.id}", f"{new.id}/{new.modules[0].id}")
        return Edited(documents, left.sentence)

    def _parts(self, outlet: Box, sheets: Datasheets, code: ColorCode) -> tuple[Module, Cable]:
        """Return the module, and the cable between the two boxes. Raises Rejected."""
        module = next((one for one in outlet.modules if one.id == self.module), None)
        if module is None:
            raise Rejected("There's no such module in this box any more.", "module")
        if not outlet.is_outlet:
            raise Rejected("Only a module at a fixture gets a box of its own.", "module")
        if not outlet.cables:
            raise Rejected("Enter the cables of this box first: the new one is made like them.", "module")
        wide = max(outlet.cables, key=lambda cable: cable.gauge)
        letter = next_letter({cable.id for cable in outlet.cables})
        return module, new_cable(sheets[module.sheet], wide, letter, code)

    def _left(self, outlet: Box, cable: Cable, sheets: Datasheets) -> BoxEdited:
        """Return the fixture’s box with the cable in place of the module."""
        module = next(one for one in outlet.modules if one.id == self.module)
        rest = tuple(one for one in outlet.modules if one is not module)
        loads = {(outlet.id, load.id) for load in module.loads}
        left = pruned(unhooked(outlet.changed(modules=rest), {module.id}, loads))
        left = left.changed(cables=(*left.cables, cable))
        left = left.changed(new=(*left.contents.new, cable.id))
        return BoxEdited(left, f"{called(module, sheets)} got a box of its own beside {outlet.name}")


def new_cable(sheet: Datasheet, like: Cable, letter: str, code: ColorCode) -> Cable:
    """Return the cable to a module’s own box: a wire for each of its leads.

    All wires of the circuit stay together (NEC 300.3(B), from memory of the publication), so where no cable is sold
    with that many, they go through a short conduit, each of its own color.

    >>> from nail_count.trade.model.datasheet import Datasheet
    >>> ends = [{"role": role, "kind": "lead"} for role in ("line", "load", "neutral", "input", "input common")]
    >>> relay = Datasheet(id="m", name="Relay", kind="module", terminals=ends)
    >>> made = new_cable(relay, Cable(id="A", gauge=14, insulated=2), "B", "US")
    >>> made.insulated, made.kind, [one.color for one in made.conductors]
    (5, 'conduit', ['black', 'red', 'blue', 'yellow', 'white'])
    """
    leads = max(sum(end.role != "ground" for end in sheet.terminals), 2)
    region = REGIONS[code]
    sold, colors = leads in region.in_cables, (*region.pulled[: leads - 1], region.pulled_neutral)
    pulled = () if sold else tuple(Conductor(color=color) for color in colors)
    kind = like.kind if sold else "conduit"
    return Cable(
        id=letter, gauge=like.gauge, insulated=len(pulled) or leads, grounds=1, metal=like.metal, kind=kind,
        conductors=pulled,
    )  # fmt: skip


def _own_box(documents: Documents, outlet: Box, module: Module, cable: Cable) -> Box:
    key = free_key(slug(f"{outlet.id} own") or "box", documents.taken("box"))
    moved = module.changed(
        id="m1", stays=None, gang=None, space=1, circuit=None,
        loads=tuple(load.changed(outlet=load.outlet or outlet.id) for load in module.loads),
    )  # fmt: skip
    size = documents.head.terms.region.module_box
    # A metal box of a trade size where those are sold; elsewhere its volume is asked for.
    enclosure = Enclosure(material="metal", trade_size=size) if size else Enclosure()
    planned = Contents(enclosure=enclosure, modules=(moved,), new=(cable.id,))
    name = f"{outlet.name[:40]}, module’s box"
    circuit = outlet.circuit_of(module)
    return Box(id=key, name=name, room=outlet.room, use="junction", circuit=circuit, cables=(cable,), planned=planned)
