"""What joins what in a box: proposed, joined by hand, taken apart, capped."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Mapping
from typing import Annotated

from pydantic import Field

from ..assume.wired import TO_FIND, as_usual
from ..documents import Documents, Edited, wired_with
from ..model.box import Box, Device
from ..model.conductor import Color, Role
from ..model.contents import OLD_WIRING, RestsOn
from ..model.errors import Rejected
from ..model.job import Job, by_id
from ..model.run import BoxEnd, CircuitEnd, RunEnd, WordsEnd
from ..model.splice import End, PigtailEnd, Splice
from ..model.thing import Mark
from ..model.wire import Cable
from ..text.format import say
from ..wiring.hookup.colors import as_sold
from ..wiring.hookup.propose import Proposal, Refusal, propose
from ..wiring.hookup.stages import Named, Stage, box_at, contents_at, ends_of
from ..wiring.hookup.work import is_assumed, with_connector
from .base import BoxEdit, BoxEdited, Datasheets
from .box_parts import next_id, replace_item
from .fields import Maybe
from .runs import said_to_go


class HookupEdit(BoxEdit):
    """An act on what joins what in a box, as found or as planned."""

    stage: Stage = "planned"

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box by itself, as if nothing led to it."""
        return self.joined(Job(name="One box", sheets=tuple(sheets.values()), boxes=(box,)), box)

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        edited = self.joined(wired_with(documents, box), box)
        return Edited(documents.with_box(edited.box), edited.sentence)

    @abstractmethod
    def joined(self, job: Job, box: Box) -> BoxEdited:
        """What it makes of the box.

        Args:
            job: with the boxes on its circuits.
        """

    def _with(self, box: Box, splices: tuple[Splice, ...]) -> Box:
        if self.stage == "planned":
            return box.changed(splices=splices)
        if box.found is None:
            raise Rejected("Record what was found first", "stage")
        return box.changed(found=box.found.changed(splices=splices))

    def _end(self, job: Job, box: Box, key: str, field: str) -> Named:
        known = ends_of(job, box, self.stage)
        if key not in known:
            raise Rejected(f"Pick an end of this box, such as {next(iter(known), 'A1')}; there is no {key}", field)
        return known[key]


class JoinEnds(HookupEdit):
    """An end goes into a splice, or is joined with another end."""

    end: str
    to: str
    """A splice, or another end that is in none yet."""

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with the end there, and nowhere else."""
        moved = self._end(job, box, self.end, "end")
        splices = _without(contents_at(box, self.stage).splices, moved.end)
        target = next((splice for splice in splices if splice.id == self.to), None)
        if target is None:
            other = self._end(job, box, self.to, "to")
            if other.end == moved.end:
                raise Rejected("Pick another end, or a splice", "to")
            target = next((splice for splice in splices if other.end in splice.ends), None)
            if target is None:
                target = Splice(id=next_id("s", {splice.id for splice in splices}), ends=(other.end,))
                splices = (*splices, target)
        new = _held(box, target.changed(ends=(*target.ends, moved.end), name=_named(target)), job, self.stage)
        splices = tuple(new if splice.id == target.id else splice for splice in splices)
        others = [named.words for named in ends_of(job, box, self.stage).values() if named.end in target.ends]
        return BoxEdited(self._with(box, splices), f"{moved.words} joined with {', '.join(others)}")


class TakeApart(HookupEdit):
    """An end comes out of its splice."""

    end: str

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with the end in no splice."""
        freed = self._end(job, box, self.end, "end")
        splices = contents_at(box, self.stage).splices
        rest = _without(splices, freed.end)
        if rest == splices:
            raise Rejected("Pick an end that is in a splice", "end")
        rest = tuple(_held(box, splice, job, self.stage) for splice in rest)
        return BoxEdited(self._with(box, rest), f"{freed.words} taken out of its splice")


class CapEnd(HookupEdit):
    """An end is capped: alone under a connector."""

    end: str

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with the end under a cap of its own."""
        capped = self._end(job, box, self.end, "end")
        rest = _without(contents_at(box, self.stage).splices, capped.end)
        id = next_id("s", {splice.id for splice in rest})
        cap = _held(box, Splice(id=id, name="cap", ends=(capped.end,)), job, self.stage)
        return BoxEdited(self._with(box, (*rest, cap)), f"{capped.words} capped")


class ClearHookup(HookupEdit):
    """The hook-up is cleared."""

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box without its splices; connectors that were only counted stay."""
        left = tuple(splice for splice in contents_at(box, self.stage).splices if not splice.ends)
        return BoxEdited(self._with(box, left), "Hook-up cleared")


class ProposeHookup(HookupEdit):
    """What joins what, as it is proposed and was proven, in this box and in those that must agree with it."""

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with its proposal."""
        edited = self._proposed(job, box)
        return BoxEdited(edited[box.id], "Hook-up proposed")

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        changed = self._proposed(wired_with(documents, box), box)
        # What agrees with it already is left alone: taking the proposal back does nothing to it.
        new_ones = [new for key, new in changed.items() if key == box.id or new != documents.box(key)]
        others = [new.name for new in new_ones if new.id != box.id]
        for new in new_ones:
            documents = documents.with_box(new)
        also = f", with {', '.join(others)}" if others else ""
        return Edited(documents, f"Hook-up of {box.name} proposed{also}")

    def _proposed(self, job: Job, box: Box) -> dict[str, Box]:
        if self.stage == "found":
            return self._usual_before(job, box)
        made = _made(as_usual(job, box.id).job, box)
        known = {one.id: one for one in job.boxes}
        return {key: known[key].changed(splices=splices) for key, splices in made.splices.items() if key in known}

    def _usual_before(self, job: Job, box: Box) -> dict[str, Box]:
        """The boxes with the usual wiring of what was found in them, assumed until somebody holds it against them."""
        if box.found is None:
            raise Rejected("Record what was in the box first.", "stage")
        known = {one.id: _with_old_loads(_begun_if_bare(one)) for one in job.boxes}
        before = tuple(one.as_in(one.found) if one.found else one for one in known.values())
        made = _made(as_usual(job.changed(boxes=before), box.id).job, known[box.id])
        changed = {}
        for key, splices in made.splices.items():
            if key in known and (found := known[key].found) is not None:
                rests = (*(one for one in found.rests_on if one.code != OLD_WIRING), RestsOn(code=OLD_WIRING))
                changed[key] = known[key].changed(found=found.changed(splices=splices, rests_on=rests))
        return changed


def _made(job: Job, box: Box) -> Proposal:
    """The proposal for a box. Raises Rejected where nothing can be proven."""
    made = propose(job, box.id)
    if isinstance(made, Refusal):
        reasons = "; ".join(say(reason) for reason in made.reasons)
        out = f". To fix it: {', '.join(made.ways_out)}" if made.ways_out else ""
        raise Rejected(f"No hook-up can be proposed: {reasons}{out}", "box")
    return made


def _begun_if_bare(box: Box) -> Box:
    """A box in which only wires meet, with a record of its old wiring begun; any other as it is."""
    if box.found is not None or box.contents.equipment:
        return box
    bare = tuple(splice for splice in box.splices if not splice.ends)
    return box.changed(found=box.contents.changed(splices=bare))


def _with_old_loads(box: Box) -> Box:
    """A box whose found devices control what the planned ones in their gangs do, where nobody entered what they did."""
    if box.found is None or box.planned is None:
        return box
    loads = {device.gang: device.loads for device in box.planned.devices}
    taken = {load.id for item in box.found.equipment for load in item.loads}

    def told(device: Device) -> Device:
        said = loads.get(device.gang, ())
        if device.loads or taken & {load.id for load in said}:
            return device
        return device.changed(loads=tuple(load.changed(channel=1) for load in said))

    return box.changed(found=box.found.changed(devices=tuple(map(told, box.found.devices))))


class ConfirmFound(BoxEdit):
    """Somebody held the usual old wiring against the box: it is wired so."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with its old wiring as a fact."""
        if box.found is None or not is_assumed(box):
            raise Rejected("Nothing is assumed of the old wiring of this box.")
        rests = tuple(one for one in box.found.rests_on if one.code != OLD_WIRING)
        return BoxEdited(box.changed(found=box.found.changed(rests_on=rests)), "Old wiring checked: as recorded")


class BeginFound(BoxEdit):
    """Start recording what was found: the devices as they stand, nothing joined yet."""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The box with what was found in it."""
        if box.found is not None:
            raise Rejected("This box has a record of what was found already")
        bare = tuple(splice for splice in box.splices if not splice.ends)
        found = box.contents.changed(splices=bare).staying(None)
        planned = box.planned.staying(found) if box.planned else None
        return BoxEdited(box.changed(found=found, planned=planned), "Recording of the old wiring begun")


class ColorsAsUsual(HookupEdit):
    """Somebody looked: the conductors of cables nobody had looked at have the colors such cables are sold in."""

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with these colors; what was seen of a conductor stays."""
        cables = tuple(as_sold(cable, job.terms.colors) for cable in box.cables)
        seen = [cable.id for cable, was in zip(cables, box.cables, strict=True) if cable is not was]
        if not seen:
            raise Rejected("Pick a cable of two to four wires whose colors aren't entered yet")
        return BoxEdited(box.changed(cables=cables), f"Colors of {', '.join(seen)} seen: as usual")


class SayUsual(HookupEdit):
    """Somebody tested the box: its cables go where they usually do, and its wires have their usual colors.

    So do those of the box with the other switch of the same light, as far as the plan rests on them.
    """

    def joined(self, job: Job, box: Box) -> BoxEdited:
        """The box with its colors, and its loads on their cables."""
        usual = as_usual(job, box.id)
        mine = {one.code for one in usual.rests_on if one.box == box.id}
        if not mine - {"breaker"}:
            raise Rejected("Nothing is assumed of where the cables of this box go.", "box")
        if len([one for one in box.devices if not one.loads]) > 1:
            raise Rejected("Enter what each switch controls first. Then its cable can be told.", "box")
        (here,) = (one for one in usual.job.boxes if one.id == box.id)
        cable_of = {load.id: load.cable for item in here.devices for load in item.loads}
        devices = tuple(
            one.changed(loads=tuple(load.changed(cable=cable_of[load.id]) for load in one.loads)) for one in box.devices
        )
        cables = tuple(map(_as_loop, here.cables)) if "switch-loop" in mine else here.cables
        box = box.changed(devices=devices, cables=cables)
        if "whites-tied" in mine:
            box = box.changed(survey=box.survey.changed(neutral=True))
        return BoxEdited(box, "Wiring tested: as usual")

    def _edited(self, documents: Documents) -> Edited:
        edited = self._alone(documents)
        box = edited.documents.box(self.box)
        rests_on = as_usual(wired_with(edited.documents, box), box.id).rests_on
        far = next((one.box for one in rests_on if one.box != box.id and one.code != "breaker"), None)
        if far is None:
            return edited
        return Edited(SayUsual(box=far)._alone(edited.documents).documents, edited.sentence)

    def _alone(self, documents: Documents) -> Edited:
        """This box as it usually is, and no other."""
        box = documents.box(self.box)
        job = wired_with(documents, box)
        edited = self.joined(job, box)
        entered = documents.with_box(edited.box)
        for (at, cable), end in as_usual(job, box.id).job.far_ends.items():
            if at == box.id and (at, cable) not in job.far_ends:
                entered = said_to_go(entered, edited.box, cable, _as_entered(end))
        return Edited(entered, edited.sentence)


_IN_LOOP: Mapping[Color | None, Role] = {"white": "line", "black": "switched"}
"""The hot of a switch loop comes down on the white, NEC 200.7(C), from memory of the publication."""


def _as_loop(cable: Cable) -> Cable:
    wires = (cable.conductor(number) for number in range(1, cable.insulated + 1))
    return cable.changed(conductors=tuple(wire.changed(asserted_role=_IN_LOOP.get(wire.color)) for wire in wires))


def _as_entered(end: RunEnd) -> RunEnd:
    """An assumed end as a person would enter it: without a breaker nobody found, and the light of a loop in words."""
    if isinstance(end, BoxEnd):
        return WordsEnd(words="to the light")
    return CircuitEnd() if isinstance(end, CircuitEnd) and end.circuit == TO_FIND else end


class WorkOver(BoxEdit):
    """What a device that switches nothing by wire works over the network; "" for nothing."""

    item: str
    commands: Annotated[str, Field(max_length=130)] = ""

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """Return the box with what the device works, by itself; other boxes have no names here."""
        return self._working(box, sheets, "another device" if self.commands else "nothing")

    def _edited(self, documents: Documents) -> Edited:
        edited = self._working(documents.box(self.box), documents.sheets, self._target(documents))
        return Edited(documents.with_box(edited.box), edited.sentence)

    def _working(self, box: Box, sheets: Datasheets, target: str) -> BoxEdited:
        item = next((one for one in box.equipment if one.id == self.item), None)
        if item is None:
            raise Rejected("There's no such device in this box any more.", "item")
        if item.loads:
            raise Rejected("It switches loads by wire. Move those to the device it should work.", "commands")
        sentence = f"{item.name or sheets[item.sheet].name} works {target} over the network"
        return BoxEdited(replace_item(box, item.changed(commands=self.commands)), sentence)

    def _target(self, documents: Documents) -> str:
        """Return the name of the device it works. Raises Rejected where no other box has it, or it has no load."""
        if not self.commands:
            return "nothing"
        key, _, of = self.commands.partition("/")
        far = documents.box(key) if key in documents.lines() and key != self.box else None
        target = next((one for one in far.equipment if one.id == of and one.loads), None) if far else None
        if far is None or target is None:
            raise Rejected("Pick a device in another box that switches a load.", "commands")
        return f"{target.name or documents.sheets[target.sheet].name} in {far.name}"


class LeadTo(BoxEdit):
    """Which cable leads to a load that hangs at no box of the house."""

    load: str
    cable: Annotated[Mark | None, Maybe] = None

    def change(self, box: Box, sheets: Datasheets) -> BoxEdited:
        """The load at the far end of the cable."""
        if self.cable is not None and box.cable(self.cable) is None:
            raise Rejected(f"Give the letter of a cable in this box; there is no cable {self.cable}", "cable")
        for item in box.equipment:
            for load in item.loads:
                if load.id == self.load:
                    loads = tuple(one.changed(cable=self.cable) if one.id == load.id else one for one in item.loads)
                    name, where = load.name or item.name or load.kind, f"at the far end of cable {self.cable}"
                    sentence = f"{name}: {where if self.cable else 'its cable is not known'}"
                    return BoxEdited(replace_item(box, item.changed(loads=loads)), sentence)
        raise Rejected("Pick one of the loads of this box", "load")


def _without(splices: tuple[Splice, ...], end: End) -> tuple[Splice, ...]:
    """The splices without an end; one that holds nothing any more goes, with what jumped to it."""
    left = tuple(s.changed(ends=tuple(one for one in s.ends if one != end)) if end in s.ends else s for s in splices)
    gone = {s.id for s, was in zip(left, splices, strict=True) if was.ends and not s.ends}
    return tuple(
        s.changed(ends=tuple(one for one in s.ends if not isinstance(one, PigtailEnd) or one.to not in gone))
        for s in left
        if s.id not in gone
    )


def _held(box: Box, splice: Splice, job: Job, stage: Stage) -> Splice:
    """A splice with the connector that holds it."""
    return with_connector(box_at(box, stage), splice, by_id(job.sheets))


def _named(splice: Splice) -> str:
    return "" if splice.name == "cap" else splice.name
