"""Edits for a box that does not hold, over several boxes: devices that change places, modules, cables."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated

from pydantic import Field

from ..documents import DocumentId, Documents, Edited
from ..model.box import Box, Device, Id, Module
from ..model.conductor import Conductor
from ..model.errors import Rejected
from ..model.load import Load
from ..model.region import ColorCode
from ..model.run import BoxEnd, CircuitEnd, Run
from ..model.splice import BondEnd, ConductorEnd, GroundEnd, Splice
from ..model.thing import Mark
from ..wiring.hookup.colors import wires_of
from .base import Datasheets, Edit
from .box_parts import called, device_of, next_id, next_letter, pruned, replace_device
from .refits import taking_over, unhooked, worked_at
from .runs import said_to_go


class ExchangeDevices(Edit):
    """Two devices in two boxes change places; their loads stay, or go with them."""

    box: Id
    device: str
    other_box: Id
    other: str
    with_loads: bool = False
    """Whether the loads of each go with it: the main of a pair moves, and with it the lamp it switches."""

    def _edited(self, documents: Documents) -> Edited:
        here, there = documents.box(self.box), documents.box(self.other_box)
        if here.id == there.id:
            raise Rejected("Pick two boxes", "other_box")
        one, other = device_of(here, self.device), device_of(there, self.other, "other")
        sheets = documents.sheets
        if sheets[one.sheet].gangs != sheets[other.sheet].gangs:
            raise Rejected("Pick two devices of one width", "other")
        moved = {(here.id, load.id) for load in one.loads} | {(there.id, load.id) for load in other.loads}
        if self.with_loads and any(load.outlet is None for load in (*one.loads, *other.loads)):
            raise Rejected("Enter for every lamp at which box of this job it is", "with_loads")
        documents = documents.with_box(self._with(here, one, other, there, sheets))
        documents = documents.with_box(self._with(there, other, one, here, sheets))
        if self.with_loads:
            for outlet in {load.outlet for load in (*one.loads, *other.loads)}:
                documents = documents.with_box(unhooked(documents.box(outlet or ""), (), moved))
        what = f"{called(one, sheets)} of {here.name} and {called(other, sheets)} of {there.name}"
        return Edited(documents, f"Changed places: {what}")

    def _with(self, box: Box, was: Device, new: Device, far: Box, sheets: Datasheets) -> Box:
        """A box with the other device in place of what stood there."""
        sheet = sheets[new.sheet]
        fields = taking_over(new if self.with_loads else was, sheet, sheets) | {"listing": new.listing}
        loads = was.loads
        if self.with_loads:
            taken = {load.id for item in box.equipment for load in item.loads if item is not was}
            loads = ()
            for load in new.loads:
                id = load.id if load.id not in taken else next_id("l", taken)
                taken.add(id)
                loads = (*loads, load.changed(id=id))
        stands = was.changed(**fields, loads=loads, lamp_setting=None, broken=(), name=new.name or was.name)
        if self.with_loads and new.circuit is not None and new.circuit not in box.circuits:
            raise Rejected(f"Feed {box.name} by circuit {new.circuit} as well first", "other_box")
        return unhooked(replace_device(box, stands), {was.id})


class ModuleToOutlet(Edit):
    """A module goes from its box to the outlet it feeds; the switch it lay behind becomes its input from there."""

    box: Id
    module: str
    outlet: Id

    def _edited(self, documents: Documents) -> Edited:
        here, there = documents.box(self.box), documents.box(self.outlet)
        module = next((one for one in here.modules if one.id == self.module), None)
        if module is None:
            raise Rejected("Pick a module that is in this box", "module")
        if not there.is_outlet or any(load.outlet != there.id for load in module.loads):
            raise Rejected("Pick the outlet where all of its loads are", "outlet")
        moved = {(here.id, load.id) for load in module.loads}
        rest = tuple(one for one in here.modules if one is not module)
        loads = _free_of(module.loads, there)
        circuit = module.circuit if module.circuit in there.circuits else None
        id = next_id("m", {one.id for one in there.modules})
        new = module.changed(id=id, stays=None, loads=loads, gang=None, space=1, circuit=circuit)
        at = unhooked(there, (), moved).changed(modules=(*there.modules, new))
        documents = documents.with_box(pruned(unhooked(here.changed(modules=rest), {module.id}))).with_box(at)
        documents = worked_at(documents, f"{here.id}/{module.id}", f"{there.id}/{id}")
        return Edited(documents, f"{called(module, documents.sheets)} moved to {there.name}")


class ModuleAtFixture(Edit):
    """A plain switch in the gang of a device, and a module at the fixture that it works, in place of that device."""

    box: Id
    device: str
    switch: Id
    module: Id
    outlet: Id

    def _edited(self, documents: Documents) -> Edited:
        here, there, sheets = documents.box(self.box), documents.box(self.outlet), documents.sheets
        device, switch, sheet = device_of(here, self.device), sheets.get(self.switch), sheets.get(self.module)
        if switch is None or switch.is_module or sheet is None or not sheet.is_module:
            raise Rejected("Pick a switch and a module of the job's sheets", "module")
        if not there.is_outlet or not device.loads or any(load.outlet != there.id for load in device.loads):
            raise Rejected("Pick the outlet where all of its loads are", "outlet")
        loads = _free_of(device.loads, there)
        id = next_id("m", {one.id for one in there.modules})
        circuit = device.circuit if device.circuit in there.circuits else None
        new = Module(
            id=id, loads=loads, name=device.name, circuit=circuit, control="wired",
            **(taking_over(device, sheet, sheets) | {"stays": None}),
        )  # fmt: skip
        bare = device.changed(loads=(), lamp_setting=None, broken=(), tab_broken=False)
        found = here.found.devices if here.found else ()
        old = next((one.id for one in found if (one.gang, one.sheet) == (device.gang, switch.id)), None)
        plain = bare.changed(**(taking_over(bare, switch, sheets) | {"stays": old}))
        moved = {(here.id, load.id) for load in device.loads}
        at = unhooked(there, (), moved).changed(modules=(*there.modules, new))
        documents = documents.with_box(pruned(unhooked(replace_device(here, plain), {device.id}))).with_box(at)
        documents = worked_at(documents, f"{here.id}/{device.id}", f"{there.id}/{id}")
        return Edited(documents, f"{sheet.name} at {there.name}, {switch.name} in gang {device.gang}")


def _free_of(loads: Iterable[Load], box: Box) -> tuple[Load, ...]:
    """Return these loads with ids that are free in a box."""
    taken = {load.id for item in box.equipment for load in item.loads}
    free = []
    for load in loads:
        id = load.id if load.id not in taken else next_id("l", taken)
        taken.add(id)
        free.append(load.changed(id=id))
    return tuple(free)


class TakeCableOut(Edit):
    """A cable that is used for nothing comes out, at both its ends, and their openings are closed."""

    run: Annotated[str, Field(max_length=60)]

    def _edited(self, documents: Documents) -> Edited:
        _, ends = _run_of(documents, self.run)
        for end in ends:
            box = documents.box(end.box)
            used = {getattr(e, "of", None) for splice in box.splices if len(splice.ends) > 1 for e in splice.ends}
            cable = box.cable(end.cable or "")
            if cable is None or used & set(cable.conductor_ids):
                raise Rejected(f"Pick a cable that is joined with nothing in {box.name}", "run")
            documents = documents.with_box(_out(box, cable.id))
        names = " and ".join(documents.box(end.box).name for end in ends)
        return Edited(documents, f"Unused cable out at {names}; openings closed")


class PullCable(Edit):
    """A new cable with more wires in place of one, between the same two ends; the old one comes out."""

    run: Annotated[str, Field(max_length=60)]
    insulated: Annotated[int, Field(ge=1, le=4)]

    def _edited(self, documents: Documents) -> Edited:
        run, ends = _run_of(documents, self.run)
        letters = {}
        for end in ends:
            box = documents.box(end.box)
            old = box.cable(end.cable or "")
            if old is None or old.insulated >= self.insulated:
                raise Rejected("Pick a new cable with more wires than the old one", "insulated")
            letter = next_letter({cable.id for cable in box.cables})
            brings = [Conductor()] * (self.insulated - 1) + [Conductor(asserted_role="neutral")]
            new = old.changed(
                id=letter, insulated=self.insulated, grounds=max(old.grounds, 1), conductors=tuple(brings), free=None
            )
            box = _out(box.changed(cables=(*box.cables, new)), old.id)
            documents = documents.with_box(box.changed(new=(*box.contents.new, letter)))
            letters[end] = BoxEnd(box=box.id, cable=letter)
        one, other = (letters[end] if isinstance(end, BoxEnd) else end for end in (run.one, run.other))
        documents = documents.with_thing(DocumentId("run", run.id), run.changed(one=one, other=other))
        names = " and ".join(documents.box(end.box).name for end in ends)
        return Edited(documents, f"New cable of {self.insulated} wires at {names}")


class MoveSplice(Edit):
    """Two cables that are only spliced through a box end in another instead, which both pass, and are spliced there."""

    box: Id
    one: Mark
    other: Mark
    to: Id

    def _edited(self, documents: Documents) -> Edited:
        box, there = documents.box(self.box), documents.box(self.to)
        if box.id == there.id or there.use != "junction":
            raise Rejected("Pick another box that is for joining only and can be reached", "to")
        pairs = through(box, self.one, self.other)
        if not pairs:
            raise Rejected("Pick two cables that are joined with each other and with nothing else", "other")
        letters: dict[str, str] = {}
        for letter in (self.one, self.other):
            documents, there, letters[letter] = _landed(documents, box, letter, there=there)
        joined = [
            tuple(letters[side] + end.removeprefix(side) for side, end in ((self.one, near), (self.other, far)))
            for near, far in pairs
        ]
        documents = documents.with_box(_out(_out(box, self.one), self.other)).with_box(_joined(there, joined))
        return Edited(documents, f"Cables {self.one} and {self.other} of {box.name} joined in {there.name} instead")


class LandOnward(Edit):
    """A cable that goes on from a box to more loads starts at a junction box instead, where the feed is cut and joined.

    The feed and the cable both pass that box. One cable less comes into the first box.
    """

    box: Id
    feed: Mark
    onward: Mark
    to: Id

    def _edited(self, documents: Documents) -> Edited:
        box, there = documents.box(self.box), documents.box(self.to)
        if box.id == there.id or there.use != "junction":
            raise Rejected("Pick another box that is for joining only and can be reached", "to")
        pairs = goes_on(box, self.feed, self.onward, documents.head.terms.colors)
        if not pairs:
            raise Rejected("Pick the feed, and a cable of as many wires that goes on from it", "onward")
        documents, there, come = _landed(documents, box, self.feed, there=there)
        documents, there, start = _landed(documents, box, self.onward, there=there)
        there, rest = _with_end(there, box, self.feed)
        joined = [
            (come + feed.removeprefix(self.feed), rest + feed.removeprefix(self.feed),
             start + onward.removeprefix(self.onward))
            for feed, onward in pairs
        ]  # fmt: skip
        documents = documents.with_box(_out(box, self.onward)).with_box(_joined(there, joined))
        documents = said_to_go(documents, documents.box(box.id), self.feed, BoxEnd(box=there.id, cable=rest))
        return Edited(documents, f"Cable {self.onward} of {box.name} starts at {there.name} instead")


def _with_end(there: Box, box: Box, letter: str) -> tuple[Box, str]:
    """Return a junction box in which a cable of another box ends as well, and its letter there."""
    cable = box.cable(letter)
    assert cable is not None
    new = cable.changed(id=next_letter({one.id for one in there.cables}), space=1, free=None)
    with_it = there.changed(cables=(*there.cables, new))
    return with_it.changed(landed=(*there.contents.landed, new.id)), new.id


def _landed(documents: Documents, box: Box, letter: str, *, there: Box) -> tuple[Documents, Box, str]:
    """Return the documents with a cable that ends at a junction box instead of its own; that box; its letter there."""
    run = next((one for one in documents.runs_at(box.id) if one.far_from(box.id, letter) is not None), None)
    if run is None or run.passes != there.id:
        raise Rejected(f"Enter first that cable {letter} passes {there.name}", "to")
    there, new = _with_end(there, box, letter)
    end = BoxEnd(box=there.id, cable=new)
    ends = {"one": end} if run.one == BoxEnd(box=box.id, cable=letter) else {"other": end}
    documents = documents.with_thing(DocumentId("run", run.id), run.changed(**ends, passes=None))
    return documents, there, new


def _joined(box: Box, groups: Iterable[Sequence[str]]) -> Box:
    """Return a box in which the conductors of each group are joined, and every ground with every other."""
    taken = {splice.id for splice in box.splices}
    joined = []
    for wires in groups:
        joined.append(Splice(id=next_id("s", taken), ends=tuple(ConductorEnd(of=wire) for wire in wires)))
        taken.add(joined[-1].id)
    bare = [one for one in box.splices if not any(isinstance(end, GroundEnd | BondEnd) for end in one.ends)]
    grounds = tuple(GroundEnd(cable=cable.id) for cable in box.cables if cable.grounds)
    bond = (BondEnd(),) if box.enclosure.material == "metal" else ()
    if grounds or bond:
        joined.append(Splice(id=next_id("s", taken), name="ground", ends=(*grounds, *bond)))
    return box.changed(splices=(*bare, *joined))


def goes_on(box: Box, feed: str, onward: str, code: ColorCode) -> tuple[tuple[str, str], ...]:
    """Return the conductors of a feed and of a cable that goes on from it, pair by pair; () where it can't go on so.

    A pair is joined as recorded; where nothing is, it has one color.
    """
    one, other = box.cable(feed), box.cable(onward)
    if one is None or other is None or feed == onward:
        return ()
    if (one.insulated, one.gauge) != (2, other.gauge) or other.insulated != one.insulated:
        return ()
    colors = {wire.color: wire.id for wire in wires_of(one, code) if wire.color}
    pairs = []
    for wire in wires_of(other, code):
        beside = next((splice.ends for splice in box.splices if ConductorEnd(of=wire.id) in splice.ends), ())
        fed = [end.of for end in beside if isinstance(end, ConductorEnd) and end.of in one.conductor_ids]
        if len(beside) > 1 and len(fed) != 1:
            return ()
        near = fed[0] if fed else colors.get(wire.color) if wire.color else None
        if near is None:
            return ()
        pairs.append((near, wire.id))
    return tuple(pairs) if len({near for near, _ in pairs}) == one.insulated else ()


def through(box: Box, one: str, other: str) -> tuple[tuple[str, str], ...]:
    """The conductors of two cables that are joined with each other alone, pair by pair; () where any is not."""
    cables = box.cable(one), box.cable(other)
    pairs = []
    for end in cables[0].conductor_ids if cables[0] is not None else ():
        splice = next((s for s in box.splices if ConductorEnd(of=end) in s.ends), None)
        beside = [e for e in splice.ends if e != ConductorEnd(of=end)] if splice else []
        far = beside[0] if len(beside) == 1 else None
        if not isinstance(far, ConductorEnd) or cables[1] is None or far.of not in cables[1].conductor_ids:
            return ()
        pairs.append((end, far.of))
    whole = cables[1] is not None and len(pairs) == cables[1].insulated
    return tuple(pairs) if whole else ()


def _run_of(documents: Documents, id: str) -> tuple[Run, tuple[BoxEnd, ...]]:
    """A run, and its ends at boxes; the other one may be the panel."""
    run = next((one for one in documents.runs() if one.id == id), None)
    if run is None or any(not isinstance(end, BoxEnd | CircuitEnd) for end in (run.one, run.other)):
        raise Rejected("Pick a cable with both ends known", "run")
    return run, run.box_ends


def _out(box: Box, cable: str) -> Box:
    """A box with a cable that comes out, and nothing of it in a splice of the plan."""
    own = box.cable(cable)
    assert own is not None
    gone = {*own.conductor_ids}

    def stays(end: object) -> bool:
        return getattr(end, "of", None) not in gone and getattr(end, "cable", None) != cable

    splices = tuple(one.changed(ends=tuple(end for end in one.ends if stays(end))) for one in box.splices)
    left = tuple(s for s, was in zip(splices, box.splices, strict=True) if s.ends or not was.ends)
    return box.changed(splices=left, out=tuple(dict.fromkeys((*box.contents.out, cable))))
