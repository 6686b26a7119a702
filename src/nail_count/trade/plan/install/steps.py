"""The steps of a box from its own plan, in the order they are done: from the breaker off to the bulb type set.

Each step is made of operations, and what it tells a person to do to wires is made from these alone.

Source: common practice; NFPA 70E for work on what may be live, from memory of the publication. A datasheet's own steps
outrank these.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ...model.answer import State
from ...model.contents import Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.splice import ConductorEnd, End, GroundEnd, LeadEnd
from ...model.survey import STAGES, Stage
from ...model.tick import Step, StepKind
from ...rules.prohibitions import SHORTEST_FREE
from ...rules.supplies import TORQUE_FROM, TORQUE_TO
from ...rules.wires.joints import PROUD, STRIP
from ...text.format import and_list, figure, say
from ...wiring.hookup.ends import ends_of
from ...wiring.hookup.look import HookUp, look
from ...wiring.hookup.splices import held, is_screw
from ...wiring.hookup.work import Step as Work
from ...wiring.hookup.work import WorkEnd, arriving, found_end, is_recorded, leaving, work
from ..day.places import fed_by
from ..parts.devices import coming
from .names import device_names, names_of
from .operations import Operation, sentence_of
from .texts import TAG, VERIFY, called, feeds, is_unsound, sentence, turn_on

LIVE = ("switched off", "locked", "proven dead", "photographed", "recorded", "set")
"""What may be done before the box is verified dead, readings to tell wires apart among it; nothing else until it is."""
TOLD_ON_THE_LADDER = ("colors-not-seen",)
"""What may be missing of a plan while its joining steps are shown: what the step before them settles."""
BY_PLAN = ("in-no-splice", "feed-not-followed", "beyond-not-known")
"""What no reading settles."""


@dataclass(frozen=True, slots=True)
class InstallStep:
    """One step, as the screen shows it."""

    step: Step
    title: str
    what: tuple[str, ...]
    """What is done, line by line."""
    operations: tuple[Operation, ...] = ()
    """The same as values, in order."""
    caution: str = ""
    idle: str = ""
    """Why it does not apply here; "" where it does."""
    to: str = ""
    """The screen that does it better: wires, hookup; "" for none."""
    missing: bool = False
    """Whether it cannot be done, nor anything after it, until something was recorded or planned."""


def install_steps(job: Job, key: str) -> tuple[InstallStep, ...]:
    """Return the steps of a box, each by what it is and what it is about, never by its number.

    Args:
        job: with every box and run on its circuits.
        key: of the box.
    """
    return tuple(_Maker(job, look(job, key)).steps())


class _Maker:
    """The steps of one box."""

    def __init__(self, job: Job, seen: HookUp) -> None:
        self.job, self.box, self.seen = job, seen.box, seen
        self.names, self.devices = names_of(job, seen.box), device_names(job, seen.box)
        self.sheets = by_id(job.sheets)
        self.work = work(self.box, self.sheets, seen.seen.wires_in(self.box.id)) if self.box.planned else ()
        self.coming = coming(self.box)
        circuits, self.why = fed_by(job, self.box)
        listed = tuple(one.id for one in job.circuits if one.id in circuits)
        # The main where it always goes off here, and where some breaker is not in the panel as recorded.
        self.circuits = () if job.house.main_off or len(listed) < len(circuits) else listed

    def steps(self) -> Iterator[InstallStep]:
        """All of them, in order."""
        yield from self._off()
        yield from (self._dead(stage) for stage in STAGES)
        yield from self._before()
        if missing := self._missing():
            yield self._one("joined", "Finish the hook-up first", *missing[:4], to="hookup", missing=True)
        else:
            yield from self._apart()
            yield from self._joins()
        if self.job.house.prove == "device out":
            yield from self._power("Leave the device hanging out, with nothing touching it.")
            yield from self._off("again")
            yield self._dead("device out", "again")
            yield from self._body()
            yield from self._plate()
        elif self.job.house.prove == "closed":
            yield from self._body()
            yield from self._plate()
            yield from self._power("The plate is on.")
        else:
            yield from self._body()
            yield from self._power("The plate is off: keep hands and tools away from the box.")
            yield from self._plate()
        yield from self._set()

    def _one(
        self,
        kind: StepKind,
        title: str,
        *what: str,
        of: tuple[str, ...] = (),
        ops: tuple[Operation, ...] = (),
        caution: str = "",
        idle: str = "",
        to: str = "",
        missing: bool = False,
    ) -> InstallStep:
        step = Step(kind=kind, subjects=of)
        return InstallStep(step, title, tuple(filter(None, what)), ops, caution, idle, to, missing)

    def _op(self, op: str, **more: object) -> Operation:
        return Operation(op=op, box=self.box.id, **more)  # type: ignore[arg-type]

    # before anything is touched

    def _off(self, again: str = "") -> Iterator[InstallStep]:
        more = (again,) if again else ()
        if not self.circuits:
            why = (
                "The main always goes off for work in this house."
                if self.job.house.main_off
                else "Which breaker feeds this box isn't known for sure."
            )
            ops = (self._op("turn off", circuits=("main",)),)
            caution = "The service wires and main lugs stay live. Leave the panel cover on."
            yield self._one(
                "switched off", "Turn off the main", why, *self.why, of=("main", *more), ops=ops, caution=caution
            )
            locked = (self._op("lock", circuits=("main",)),)
            yield self._one("locked", "Lock and tag the main", TAG, of=("main", *more), ops=locked)
            return
        for circuit in self.circuits:
            one = next(each for each in self.job.circuits if each.id == circuit)
            ops = (self._op("turn off", circuits=(circuit,)),)
            yield self._one(
                "switched off", f"Turn off breaker {circuit}", feeds(one), *self.why, of=(circuit, *more), ops=ops
            )
            locked = (self._op("lock", circuits=(circuit,)),)
            yield self._one("locked", f"Lock and tag breaker {circuit}", TAG, of=(circuit, *more), ops=locked)

    def _dead(self, stage: Stage, again: str = "") -> InstallStep:
        title, *what = VERIFY[stage]
        ops = (self._op("verify dead", expects="0 V"),)
        of = (stage, again) if again else (stage,)
        caution = "If anything shows a voltage, stop: another circuit feeds this box."
        return self._one("proven dead", title, *what, of=of, ops=ops, caution=caution)

    def _before(self) -> Iterator[InstallStep]:
        yield self._one(
            "photographed", "Photograph the box before you undo anything", "The whole box, then each splice.",
            ops=(self._op("photograph"),),
        )  # fmt: skip
        yield self._clamped()
        cables = and_list([one.id for one in self.box.entering])
        label = f"Label cables {cables} and every wire in them." if cables else "Label every cable and wire."
        yield self._one("marked", "Label every wire", label, ops=(self._op("mark"),))
        open_here = [one for one in self.seen.unsaid if one.box == self.box.id and one.code not in BY_PLAN]
        if open_here:
            what = "Some wires here aren't told apart yet. Take the readings, then come back."
            yield self._one("set", "Tell the wires apart", what, of=("told apart",), to="wires")

    def _clamped(self) -> InstallStep:
        neutrals = self._neutrals()
        which = (
            f"Neutrals spliced here: {and_list([self.names[one] for one in neutrals])}."
            if neutrals
            else "The old wiring isn't recorded, so this means every white wire that is spliced."
        )
        idle = "no neutral is spliced here" if is_recorded(self.box) and not neutrals else ""
        return self._one(
            "clamped", "Put a clamp meter on each neutral before you open its splice", which,
            "Turn on the lights of the neighboring circuits first.",
            "After you open a neutral splice, test each end to ground before you touch it.",
            ops=(self._op("put a clamp meter on", ends=neutrals, expects="0 A"),),
            caution=(
                "If a neutral carries current, stop: another circuit uses it. "
                "If this neutral opens, 120 V loads can see 240 V."
            ),
            idle=idle,
        )  # fmt: skip

    def _neutrals(self) -> tuple[WorkEnd, ...]:
        whites = self.seen.seen.wires_in(self.box.id)
        return tuple(
            found_end(self.box, end)
            for splice in (self.box.found.splices if self.box.found else ())
            if len(splice.ends) > 1
            for end in splice.ends
            if isinstance(end, ConductorEnd) and end.of in whites and whites[end.of].neutral
        )

    def _missing(self) -> tuple[str, ...]:
        """What keeps the wires from being joined; () where the plan can be followed."""
        if self.box.planned is None or not self.seen.said:
            return ("What joins what isn't planned yet.",)
        if self.seen.state is State.FAILS:
            wrong = tuple(sentence(say(one.text)) for one in self.seen.shown)
            return ("The planned hook-up fails:", *(wrong or ("A connector doesn't take what meets in it.",)))
        open_ones = [one for one in self.seen.unsaid if one.code not in TOLD_ON_THE_LADDER]
        if open_ones:
            return ("The planned hook-up can't be checked yet:", *(sentence(say(one.text)) for one in open_ones))
        return ()

    # inside

    def _apart(self) -> Iterator[InstallStep]:
        apart = [one for one in self.work if one.act == "take apart"]
        for one in apart:
            ops = (
                self._op("uncap" if len(one.splice.ends) == 1 else "disconnect", ends=one.ends, splice=one.splice.id),
            )
            stay = f"Leave {and_list([self.names[end] for end in one.stays])} together." if len(one.stays) > 1 else ""
            yield self._told("taken apart", f"Open the old {called(one)}", ops, stay, of=(one.splice.id,))
        if loose := self._not_recorded():
            why = (
                "Where these wires are joined now isn't recorded. Write down each one as you take it off."
                if is_recorded(self.box)
                else "The old wiring isn't recorded. Write down where each wire was as you take it off."
            )
            ops = (self._op("disconnect", ends=loose),)
            yield self._told("taken apart", "Take these wires off", ops, why, to="hookup-found")
        elif not apart:
            yield self._one("taken apart", "Open old splices", idle="no old splice has to be opened")
        for id in leaving(self.box):
            name = self.devices["found", id]
            yield self._told("taken out", f"Take out {name}", (self._op("take out", device=name),), of=(id,))
        short = (
            f"At least {figure(SHORTEST_FREE)} in of free wire past the jacket. Strip {STRIP} in for lever connectors."
        )
        nicked = [f"{c.id}{n}" for c in self.box.cables for n, one in enumerate(c.conductors, 1) if is_unsound(one)]
        worn = f"Not sound when you looked: {and_list(nicked)}." if nicked else ""
        yield self._one("trimmed", "Trim and strip", short, worn, ops=(self._op("trim"),))

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
            if not is_new and not self._is_new(one.end):  # a lamp was there before, whatever it hung on
                ends.append(WorkEnd("planned", one.end))
        ends = list(dict.fromkeys(ends))
        return tuple(end for end in ends if end not in recorded)

    def _is_new(self, end: End) -> bool:
        """Whether an end is of a cable that is pulled in."""
        new = self.box.contents.new
        if isinstance(end, ConductorEnd):
            return end.of.rstrip("0123456789") in new
        return isinstance(end, GroundEnd) and end.cable in new

    def _joins(self) -> Iterator[InstallStep]:
        made = [one for one in self.work if one.act in ("make", "add to", "close", "cap", "re-mark")]
        for one in made:
            title, ops = self._joined(one)
            proud = f"Let stranded leads stand {PROUD} in proud." if any(op.connector for op in ops) else ""
            torque = self._torque(one) if any(op.op in ("land", "pigtail") for op in ops) else ""
            yield self._told("joined", title, ops, proud, torque, of=(one.act, one.splice.id))
        if not made:
            yield self._one("joined", "Join", idle="every wire stays joined as it was")
        yield self._one("tugged", "Tug every wire", "One at a time. None may come out.", ops=(self._op("tug"),))
        yield self._one(
            "compared", "Compare with the drawing", "Check every splice against the sheet.", to="hookup",
            ops=(self._op("compare"),),
        )  # fmt: skip

    def _joined(self, one: Work) -> tuple[str, tuple[Operation, ...]]:
        """What a piece of the work is called, and what is done."""
        name, splice = called(one), one.splice.id
        there = held(self.box, one.splice, self.sheets)
        size = one.splice.connector.size if one.splice.connector else there.size
        screws = tuple(end for end in one.ends if is_screw(self.box, end.end, self.sheets))
        wires = tuple(end for end in one.ends if end not in screws)
        beside = next((end for end in one.stays if not is_screw(self.box, end.end, self.sheets)), None)
        beside = beside or next(iter(one.stays), None)
        pigtails = tuple(self._op("pigtail", ends=(screw,), splice=splice) for screw in screws)
        if one.act == "re-mark":
            return f"Re-mark the white of the {name}", (self._op("re-mark", ends=one.ends, splice=splice),)
        if one.act == "cap":
            return f"Cap {self.names[one.ends[0]]}", (self._op("cap", ends=one.ends, splice=splice, connector=size),)
        if one.act == "close":
            return f"Close the {name}", (self._op("close", splice=splice, connector=size, beside=beside),)
        if one.act == "add to":
            add = self._op("add", ends=wires, splice=splice, connector=size, beside=beside, pigtails=len(screws))
            return f"Add to the {name}", (add, *pigtails)
        if there.pigtails == 0 and len(screws) == 1 and len(wires) == 1:
            return f"Land the {name}", (self._op("land", ends=(*wires, *screws), splice=splice),)
        join = self._op("join", ends=wires, splice=splice, connector=size, pigtails=len(screws))
        return f"Join the {name}", (join, *pigtails)

    def _told(
        self, kind: StepKind, title: str, ops: tuple[Operation, ...], *more: str, of: tuple[str, ...] = (), to: str = ""
    ) -> InstallStep:
        """A step whose sentences are those of its operations."""
        return self._one(kind, title, *(sentence_of(op, self.names) for op in ops), *more, of=of, ops=ops, to=to)

    def _torque(self, one: Work) -> str:
        """How tight the screws of this splice go: by the sheet, else by what is printed on the device."""
        items = {end.end.of for end in one.ends if isinstance(end.end, LeadEnd)}
        said = sorted(
            {t for item in self.box.equipment if item.id in items and (t := self.sheets[item.sheet].torque) is not None}
        )
        if said:
            return f"Tighten the terminal screw to {', '.join(figure(t) for t in said)} lb·in, as the datasheet says."
        usual = f"{figure(TORQUE_FROM)} to {figure(TORQUE_TO)}"
        return f"Tighten the terminal screw to the torque printed on the device, often {usual} lb·in."

    # together again

    def _body(self) -> Iterator[InstallStep]:
        new = [self.devices["planned", id] for id in arriving(self.box) if ("planned", id) in self.devices]
        ops = (self._op("fold"), *(self._op("put in", device=name) for name in new), self._op("mount"))
        yield self._one(
            "folded", "Fold the wires to the back, then push the device in by hand",
            *(sentence_of(op, self.names) for op in ops if op.op == "put in"),
            "The mounting screws only hold it. Snug them by hand, level and right way up.", ops=ops,
        )  # fmt: skip
        coded = [item for item in self.coming if self.sheets[item.sheet].radio]
        for item in coded:
            sheet = self.sheets[item.sheet]
            where = f"Its code is {sheet.code_at}." if sheet.code_at else ""
            yield self._one(
                "recorded", f"Record the code and serial number of {item.name or sheet.name}", where,
                "Do it before the plate covers it.", of=(item.id,), to="commission", ops=(self._op("record"),),
            )  # fmt: skip
        if not coded:
            yield self._one("recorded", "Record codes and serial numbers", idle="nothing here has a radio")

    def _power(self, how: str) -> Iterator[InstallStep]:
        caution = "Tell everybody who works on these circuits. Keep hands off the box while the power is on."
        ops = (self._op("turn on", circuits=self.circuits or ("main",)),)
        waits = self._others()
        yield self._one(
            "energised", turn_on(self.circuits), "Look the box over once more.", how, waits, caution=caution, ops=ops
        )
        for item in self.box.equipment:
            sheet = self.sheets[item.sheet]
            if not sheet.is_blank:
                yield self._tried(item, sheet)
        onward = list(self._onward())
        idle = "" if onward else "nothing is fed on from here"
        yield self._one(
            "tried by hand", "Try what is fed on from here", and_list(onward), of=("onward",), idle=idle,
            ops=(self._op("try"),),
        )  # fmt: skip
        guarded = [one for one in self.job.circuits if one.id in self.circuits and one.kind not in (None, "plain")]
        tests = and_list([f"breaker {one.id} ({one.kind})" for one in guarded])
        idle = "" if guarded else "no breaker here is known to be an AFCI or a GFCI"
        yield self._one(
            "tried by hand", "Press the test button of the breaker", tests, of=("trip",), idle=idle,
            ops=(self._op("try"),),
        )  # fmt: skip

    def _others(self) -> str:
        """The boxes that are one piece of work with this one, and hold its power back while they are open."""
        boxes = {one.id: one for one in self.job.boxes}
        others = sorted(boxes[key].name for key in self.seen.group if key != self.box.id and boxes[key].planned)
        return f"First make sure no wire is open at {and_list(others)}." if others else ""

    def _plate(self) -> Iterator[InstallStep]:
        spacers = [self.sheets[item.sheet].name for item in self.coming if self.sheets[item.sheet].spacer]
        spacer = f"Put the spacer of {and_list(spacers)} behind the plate." if spacers else ""
        yield self._one("closed", "Peel the film and put the plate on", spacer, "Level, and nothing pinched.")

    def _set(self) -> Iterator[InstallStep]:
        dims = [item for item in self.box.equipment if self.sheets[item.sheet].dims]
        for item in dims:
            name = item.name or self.sheets[item.sheet].name
            yield self._one(
                "set", f"Set the bulb type and the low-end trim of {name}",
                "Lower the low-end trim until a bulb won't turn on from cold, then go up one step.",
                of=(item.id,), ops=(self._op("set"),),
            )  # fmt: skip
        if not dims:
            yield self._one("set", "Set the bulb type and the low-end trim", idle="nothing here dims")

    def _tried(self, item: Equipment, sheet: Datasheet) -> InstallStep:
        loads = and_list([load.name or load.kind for load in item.loads])
        what = f"{loads[:1].upper()}{loads[1:]}: on and off, from every place." if loads else "It does what it should."
        dims = "Run the whole dimming range. Listen for hum." if sheet.dims else ""
        ops = (self._op("try"),)
        return self._one("tried by hand", f"Try {item.name or sheet.name}", what, dims, of=(item.id,), ops=ops)

    def _onward(self) -> Iterator[str]:
        for run in self.job.runs:
            for end in run.box_ends:
                if end.box == self.box.id and run.other.kind == "onward":
                    yield f"cable {end.cable}"
