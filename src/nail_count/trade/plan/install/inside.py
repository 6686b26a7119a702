"""The steps at the wires of a box: open, take out, join, cap; and undo first where the plan changed."""

from __future__ import annotations

from collections.abc import Iterator

from ...model.job import Job
from ...model.splice import ConductorEnd, End, GroundEnd, LeadEnd
from ...rules.joints import PROUD, STRIP
from ...rules.prohibitions import SHORTEST_FREE
from ...rules.supplies import TORQUE_FROM, TORQUE_TO
from ...text.format import and_list, figure
from ...text.runs import end_words
from ...text.wires import name_of_splice
from ...wiring.hookup.look import HookUp
from ...wiring.hookup.stages import Stage, contents_at, ends_of
from ...wiring.hookup.work import Step as Work
from ...wiring.hookup.work import WorkEnd, arriving, found_end, held, is_recorded, is_screw, leaving, work
from ..begun import Begun
from ..planned import UNDO
from .operations import Operation
from .step import InstallStep, Teller
from .texts import is_unsound

JOINING = ("make", "add to", "close", "cap", "re-mark")
"""What of the work puts wires together."""


class Inside(Teller):
    """The steps at the wires of one box."""

    def __init__(self, job: Job, seen: HookUp, begun: Begun) -> None:
        super().__init__(job, seen)
        self.keeps = begun.keeps
        wires = seen.seen.wires_in(self.box.id)
        if self.box.planned is None:
            self.work: tuple[Work, ...] = ()
        elif self.keeps is None:
            self.work = work(self.box, self.sheets, wires)
        else:  # whatever was joined before is open by now
            from_nothing = work(self.box.changed(found=None), self.sheets, wires)
            self.work = tuple(one for one in from_nothing if one.splice.id not in self.keeps or one.act == "re-mark")

    def steps(self) -> Iterator[InstallStep]:
        """All of them, in order."""
        yield from self._apart() if self.keeps is None else self._undone(self.keeps)
        yield from self._cabled()
        yield self._trimmed()
        yield from self._joins()

    @property
    def put_in(self) -> tuple[str, ...]:
        """The ids of the devices and modules that are put in."""
        if self.keeps is None or self.box.planned is None:
            return arriving(self.box)
        kept = self._on_kept(self.keeps)
        return tuple(item.id for item in self.box.planned.equipment if item.id not in kept)

    def _on_kept(self, keeps: tuple[str, ...]) -> tuple[str, ...]:
        """The ids of the devices with a lead in a splice that stays."""
        leads = {end.of for one in self.box.splices if one.id in keeps for end in one.ends if isinstance(end, LeadEnd)}
        return tuple(item.id for item in self.box.contents.equipment if item.id in leads)

    def _undone(self, keeps: tuple[str, ...]) -> Iterator[InstallStep]:
        """The plan changed after wires were joined: what still fits stays, all else comes apart."""
        kept = [one for one in self.box.splices if one.id in keeps and one.ends]
        ops = [
            self.operation("leave", ends=tuple(WorkEnd("planned", end) for end in one.ends), splice=one.id)
            for one in kept
        ]
        devices = and_list([self.devices["planned", id] for id in self._on_kept(keeps)])
        ops += [
            self.operation("open others", ends=tuple(end for one in ops for end in one.ends)),
            self.operation("take out others", device=devices),
        ]
        yield self.told("taken apart", "The plan changed: undo what no longer fits", tuple(ops), of=(UNDO, *keeps))

    def _apart(self) -> Iterator[InstallStep]:
        apart = [one for one in self.work if one.act == "take apart"]
        for one in apart:
            ops = (
                self.operation(
                    "uncap" if len(one.splice.ends) == 1 else "disconnect", ends=one.ends, splice=one.splice.id
                ),
            )
            stay = f"Leave {and_list([self.names[end] for end in one.stays])} together." if len(one.stays) > 1 else ""
            yield self.told("taken apart", f"Open {self._splice(one, 'found')}", ops, stay, of=(one.splice.id,))
        if loose := self._not_recorded():
            why = (
                "Where these wires are joined now isn't recorded. Write down each one as you take it off."
                if is_recorded(self.box)
                else "The old wiring isn't recorded. Write down where each wire was as you take it off."
            )
            ops = (self.operation("disconnect", ends=loose),)
            yield self.told("taken apart", "Take these wires off", ops, why, to="hookup-found")
        elif not apart:
            yield self.step("taken apart", "Open old splices", idle="no old splice has to be opened")
        for id in leaving(self.box):
            name = self.devices["found", id]
            yield self.told("taken out", f"Take out {name}", (self.operation("take out", device=name),), of=(id,))

    def _cabled(self) -> Iterator[InstallStep]:
        """The cables that come out of the box, and those that come into it."""
        contents = self.box.planned
        for id in contents.out if contents else ():
            ops = (self.operation("take cable out", cable=id),)
            close = "Close the opening it leaves. Don’t cut it short if it ends in another box now."
            yield self.told("cabled", f"Take out cable {id}", ops, close, of=(id,))
        for id in contents.brought if contents else ():
            cable = self.box.cable(id)
            ops = (self.operation("bring in", cable=id),)
            was = "new" if id in self.box.contents.new else "in the house already. Cut it here if it runs past"
            what = f"This {cable.size} is {was}. Label it and every wire in it." if cable else ""
            yield self.told("cabled", f"Bring in cable {id}", ops, self._far_end(id), what, of=(id,))

    def _far_end(self, cable: str) -> str:
        """Say where the other end of a cable is; "" where nobody entered it."""
        ends = (run.far_from(self.box.id, cable) for run in self.job.runs)
        end = next((one for one in ends if one is not None), None)
        return f"Its other end: {end_words(end, {box.id: box for box in self.job.boxes})}." if end is not None else ""

    def _trimmed(self) -> InstallStep:
        short = (
            f"At least {figure(SHORTEST_FREE)} in of free wire past the jacket. Strip {STRIP} in for lever connectors."
        )
        nicked = [f"{c.id}{n}" for c in self.box.cables for n, one in enumerate(c.conductors, 1) if is_unsound(one)]
        worn = f"Not sound when you looked: {and_list(nicked)}." if nicked else ""
        return self.step("trimmed", "Trim and strip", short, worn, ops=(self.operation("trim"),))

    def _not_recorded(self) -> tuple[WorkEnd, ...]:
        """The ends that were there before, and in no splice that was recorded: they may be joined with anything."""
        if self.box.planned is None:
            return ()
        before = self.box.found.splices if self.box.found else ()
        recorded = {found_end(self.box, end) for one in before for end in one.ends}
        ends = [found_end(self.box, one.end) for one in ends_of(self.job, self.box, "found").values() if self.box.found]
        new = arriving(self.box)
        for one in ends_of(self.job, self.box, "planned").values():
            is_new = isinstance(one.end, LeadEnd) and one.end.of in new
            if not is_new and not self._is_new(one.end):  # a lamp was there before, whatever device it was on
                ends.append(WorkEnd("planned", one.end))
        ends = list(dict.fromkeys(ends))
        return tuple(end for end in ends if end not in recorded)

    def _is_new(self, end: End) -> bool:
        """Whether an end is of a cable that is pulled in."""
        new = self.box.contents.brought
        if isinstance(end, ConductorEnd):
            return end.of.rstrip("0123456789") in new
        return isinstance(end, GroundEnd) and end.cable in new

    def _joins(self) -> Iterator[InstallStep]:
        made = [one for one in self.work if one.act in JOINING]
        for one in made:
            title, ops = self._joined(one)
            proud = f"Let stranded leads stand {PROUD} in proud." if any(op.connector for op in ops) else ""
            torque = self._torque(one) if any(op.op in ("land", "pigtail") for op in ops) else ""
            yield self.told("joined", title, ops, proud, torque, of=(one.act, one.splice.id))
        if not made:
            yield self.step("joined", "Join", idle="every wire stays joined as it was")
        yield self.step("tugged", "Tug every wire", "One at a time. None may come out.", ops=(self.operation("tug"),))
        yield self.step(
            "compared", "Compare with the drawing", "Check every splice against the sheet.", to="hookup",
            ops=(self.operation("compare"),),
        )  # fmt: skip

    def _splice(self, one: Work, stage: Stage, what: str = "splice") -> str:
        """What a splice is called; of several called so, by its devices."""
        whole = contents_at(self.box, stage)
        alike = [each for each in whole.splices if each.name == one.splice.name and each.ends]
        at = dict.fromkeys(end.of for end in one.splice.ends if isinstance(end, LeadEnd))
        names = {item.id: item.name for item in whole.equipment}
        devices = [names.get(id) or self.devices[stage, id] for id in at if (stage, id) in self.devices]
        name = f"{name_of_splice(one.splice.name, '')} {what}".strip()
        if len(alike) > 1 and devices:
            return f"{and_list(devices)}’s {name}"
        return f"the old {name}" if stage == "found" else f"the {name}"

    def _joined(self, one: Work) -> tuple[str, tuple[Operation, ...]]:
        """The name of a piece of the work, and its steps."""
        name, splice = self._splice(one, "planned"), one.splice.id
        there = held(self.box, one.splice, self.sheets)
        size = one.splice.connector.size if one.splice.connector else there.size
        screws = tuple(end for end in one.ends if is_screw(self.box, end.end, self.sheets))
        wires = tuple(end for end in one.ends if end not in screws)
        beside = next((end for end in one.stays if not is_screw(self.box, end.end, self.sheets)), None)
        beside = beside or next(iter(one.stays), None)
        pigtails = tuple(self.operation("pigtail", ends=(screw,), splice=splice) for screw in screws)
        if one.act == "re-mark":
            return f"Re-mark the white of {name}", (self.operation("re-mark", ends=one.ends, splice=splice),)
        if one.act == "cap":
            return f"Cap {self.names[one.ends[0]]}", (
                self.operation("cap", ends=one.ends, splice=splice, connector=size),
            )
        if one.act == "close":
            return f"Close {name}", (self.operation("close", splice=splice, connector=size, beside=beside),)
        if one.act == "add to":
            add = self.operation("add", ends=wires, splice=splice, connector=size, beside=beside, pigtails=len(screws))
            return f"Add to {name}", (add, *pigtails)
        if there.pigtails == 0 and len(screws) == 1 and len(wires) == 1:
            wire = self._splice(one, "planned", "wire")
            return f"Land {wire}", (self.operation("land", ends=(*wires, *screws), splice=splice),)
        join = self.operation("join", ends=wires, splice=splice, connector=size, pigtails=len(screws))
        return f"Join {name}", (join, *pigtails)

    def _torque(self, one: Work) -> str:
        """How tight the screws of this splice go: by the sheet, else by the print on the device."""
        items = {end.end.of for end in one.ends if isinstance(end.end, LeadEnd)}
        said = sorted(
            {t for item in self.box.equipment if item.id in items and (t := self.sheets[item.sheet].torque) is not None}
        )
        if said:
            return f"Tighten the terminal screw to {', '.join(figure(t) for t in said)} lb·in, as the datasheet says."
        usual = f"{figure(TORQUE_FROM)} to {figure(TORQUE_TO)}"
        return f"Tighten the terminal screw to the torque printed on the device, often {usual} lb·in."
