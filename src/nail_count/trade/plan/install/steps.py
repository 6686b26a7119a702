"""The steps of a box from its own plan, in the order they are done: from the breaker off to the bulb type set.

Each step is made of operations, and what it tells a person to do to wires is made from these alone.

Source: common practice; NFPA 70E for work on what may be live, from memory of the publication. A datasheet's own steps
outrank these.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from ...assume.usual import Assumption, AssumptionCode
from ...assume.wired import look_as_usual
from ...model.answer import State
from ...model.box import Box
from ...model.contents import Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job
from ...model.load import KIND_WORDS
from ...model.splice import ConductorEnd
from ...model.survey import UNCOVERED, Uncovered
from ...model.tick import Tick
from ...rules.wires.live import has_live_test
from ...text.device import item_name
from ...text.format import and_list, say
from ...wiring.hookup.look import HookUp
from ...wiring.hookup.stages import cables_at
from ...wiring.hookup.work import WorkEnd, arriving, found_end, is_assumed, is_recorded
from ..begun import begun
from ..day.places import breakers_off, fed_by
from ..parts.devices import coming
from .inside import Inside
from .operations import sentence_of
from .step import CHECK_WIRING, InstallStep, Teller
from .texts import TAG, TO_CHECK, TO_TEST, VERIFY, feeds, sentence, turn_on

TOLD_ON_THE_LADDER = ("colors-not-seen",)
"""What may be missing of a plan while its joining steps are shown: what the step before them settles."""
SEEN_AT_BOX: tuple[AssumptionCode, ...] = ("whites-tied", "feed", "leg", "onward", "switch-loop")
"""What the work waits for. The main goes off while the breaker isn't known; colors show as the wires are labeled."""
BY_PLAN = ("in-no-splice", "feed-not-followed", "beyond-not-known", "ground-not-picked")
"""What no reading settles."""


def install_steps(job: Job, key: str, ticks: Iterable[Tick]) -> tuple[InstallStep, ...]:
    """Return the steps of a box, each by what it is and what it is about, never by its number.

    Args:
        job: with every box and run on its circuits.
        ticks: of the job, in the order they were made: a box that was begun under another plan has other steps.
    """
    seen, rests_on = look_as_usual(job, key)
    return tuple(_Maker(job, seen, rests_on, tuple(ticks)).steps())


class _Maker(Teller):
    """The steps of one box."""

    def __init__(self, job: Job, seen: HookUp, rests_on: tuple[Assumption, ...], ticks: tuple[Tick, ...]) -> None:
        super().__init__(seen.job, seen)
        self.to_check = tuple(one for one in rests_on if one.code in SEEN_AT_BOX)
        (entered,) = (one for one in job.boxes if one.id == self.box.id)
        self.inside = Inside(seen.job, seen, begun(ticks, entered))
        self.coming = coming(self.box)
        _, why = fed_by(job, entered)
        self.why = tuple(map(sentence, why))
        self.circuits = breakers_off(job, entered)

    def steps(self) -> Iterator[InstallStep]:
        """All of them, in order; none past the one missing."""
        yield from self._off()
        yield from (self._dead(stage) for stage in UNCOVERED)
        yield from self._before()
        if missing := self._missing():
            leave = "Leave the power off as long as a wire is open here."
            yield self.step("joined", "Finish the hook-up first", *missing[:4], leave, to="hookup", missing=True)
            return
        if is_assumed(self.box):
            yield self.step(
                "set", "Check the old wiring",
                "How the wires are joined now was assumed. Hold every splice against the list of the old wiring.",
                "Change what differs there, then mark it checked. Open nothing before that.",
                of=("old wiring",), to="hookup-found", missing=True,
            )  # fmt: skip
            return
        if self.to_check:
            yield self._check_usual()
        yield from self.inside.steps()
        yield from self._fan()
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

    # before anything is touched

    def _off(self, again: str = "") -> Iterator[InstallStep]:
        more = (again,) if again else ()
        if not self.circuits:
            why = (
                "The main always goes off for work in this house."
                if self.job.house.main_off
                else "Which breaker feeds this box isn't known for sure."
            )
            ops = (self.operation("turn off", circuits=("main",)),)
            caution = "The service wires and main lugs stay live. Leave the panel cover on."
            yield self.step(
                "switched off",
                "Turn off the main",
                why,
                *self.why,
                of=("main", *more),
                ops=ops,
                caution=caution,
            )
            locked = (self.operation("lock", circuits=("main",)),)
            yield self.step("locked", "Lock and tag the main", TAG, of=("main", *more), ops=locked)
            return
        for circuit in self.circuits:
            one = next(each for each in self.job.circuits if each.id == circuit)
            ops = (self.operation("turn off", circuits=(circuit,)),)
            yield self.step(
                "switched off",
                f"Turn off breaker {circuit}",
                feeds(one),
                *self.why,
                of=(circuit, *more),
                ops=ops,
            )
            locked = (self.operation("lock", circuits=(circuit,)),)
            yield self.step("locked", f"Lock and tag breaker {circuit}", TAG, of=(circuit, *more), ops=locked)

    def _dead(self, stage: Uncovered, again: str = "") -> InstallStep:
        title, *what = VERIFY[stage]
        ops = (self.operation("verify dead", expects="0 V"),)
        of = (stage, again) if again else (stage,)
        caution = "If anything shows a voltage, stop: another circuit feeds this box."
        return self.step("proven dead", title, *what, of=of, ops=ops, caution=caution)

    def _before(self) -> Iterator[InstallStep]:
        yield self.step(
            "photographed", "Photograph the box before you undo anything", "The whole box, then each splice.",
            ops=(self.operation("photograph"),),
        )  # fmt: skip
        letters = [one.id for one in cables_at(self.box, "found")]
        cables = f"cable{'s' if len(letters) > 1 else ''} {and_list(letters)}"
        label = f"Label {cables} and every wire in {'them' if len(letters) > 1 else 'it'}."
        label = label if letters else "Label every cable and wire."
        yield self.step("marked", "Label every wire", label, ops=(self.operation("mark"),))
        yield self._clamped()
        open_here = [one for one in self.seen.unsaid if one.box == self.box.id and one.code not in BY_PLAN]
        if open_here:
            what = "Some wires here aren't told apart yet. Take the readings, then come back."
            yield self.step("set", "Tell the wires apart", what, of=("told apart",), to="wires")

    def _check_usual(self) -> InstallStep:
        """What nobody has checked of the wiring the plan rests on: the steps after it wait."""
        first, *rest = self.to_check
        lines = (f"This plan holds if {first.text}", *(one.text for one in rest))
        far = [one.name for one in self.job.boxes if one.id in {rest.box for rest in self.to_check} - {self.box.id}]
        here = any(one.box == self.box.id for one in self.to_check)
        is_tested = has_live_test(self.box, self.job.terms_at(self.box).voltage)
        look = TO_TEST if is_tested else TO_CHECK
        there = f"Put this switch back on its wires as it was. Then do the same at {and_list(far)}." if far else ""
        what = "this box" if here else and_list(far)
        return self.step(
            "set", f"Check how {what} is wired", f"{and_list(lines)}.",
            *(look if here else ()), *((there,) if far else ()), "The steps after this one wait for it.",
            of=CHECK_WIRING, to=("wires" if is_tested else "hookup") if here else "", missing=True,
            caution="The live test turns the power on. Turn it off again and verify dead before you touch a wire.",
        )  # fmt: skip

    def _clamped(self) -> InstallStep:
        neutrals = self._neutrals()
        which = (
            f"Neutrals spliced here: {and_list([self.names[one] for one in neutrals])}."
            if neutrals
            else "The old wiring isn't recorded, so this means every white wire that is spliced."
        )
        idle = "no neutral is spliced here" if is_recorded(self.box) and not neutrals else ""
        return self.step(
            "clamped", "Put a clamp meter on each neutral before you open its splice", which,
            "Turn on the lights of the neighboring circuits first.",
            "After you open a neutral splice, test each end to ground before you touch it.",
            ops=(self.operation("put a clamp meter on", ends=neutrals, expects="0 A"),),
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

    def _fan(self) -> Iterator[InstallStep]:
        """The settings at a ceiling fan: its own receiver, its pull chains, what carries it."""
        if self.box.use != "fan":
            return
        feeders = {
            self.sheets[item.sheet].kind
            for box in self.job.boxes
            for item in box.contents.equipment
            if any(load.kind == "fan" and load.outlet == self.box.id for load in item.loads)
        }
        receiver = (
            "Leave the fan’s own receiver out: two controls must not work on one motor."
            if "fan control" in feeders
            else "If the fan keeps its own receiver, the wall switch only feeds it. Tell the customer to leave it on."
        )
        carried = "Check that the box and its brace are listed for the fan and carry its weight."
        chains = "If the fan has pull chains, pull its own to high and the light’s to on."
        yield self.step("set", "Set up the fan", receiver, chains, carried, of=("fan",))

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

    # together again

    def _body(self) -> Iterator[InstallStep]:
        new = [self.devices["planned", id] for id in self.inside.put_in if ("planned", id) in self.devices]
        ops = (
            self.operation("fold"),
            *(self.operation("put in", device=name) for name in new),
            self.operation("mount"),
        )
        yield self.step(
            "folded", "Fold the wires to the back, then push the device in by hand",
            *(sentence_of(op, self.names) for op in ops if op.op == "put in"),
            "The mounting screws only hold it. Snug them by hand, level and right way up.", ops=ops,
        )  # fmt: skip
        coded = [item for item in self.coming if self.sheets[item.sheet].radio]
        for item in coded:
            sheet = self.sheets[item.sheet]
            where = f"Its code is {sheet.code_at}." if sheet.code_at else ""
            yield self.step(
                "recorded", f"Record the code and serial number of {self._name(item)}", where,
                "Do it before the plate covers it.", of=(item.id,), to="commission", ops=(self.operation("record"),),
            )  # fmt: skip
        if not coded:
            yield self.step("recorded", "Record codes and serial numbers", idle="nothing here has a radio")

    def _power(self, how: str) -> Iterator[InstallStep]:
        caution = "Tell everybody who works on these circuits. Keep hands off the box while the power is on."
        others = sorted((one for one in self.job.boxes if self._waits_for(one)), key=lambda one: one.name)
        names = and_list([one.name for one in others])
        first = f"First do the steps of {names}, up to turning on the power." if others else ""
        after = tuple(one.id for one in others)
        ops = (self.operation("turn on", circuits=self.circuits or ("main",), after=after),)
        yield self.step(
            "energised", turn_on(self.circuits), first, "Look the box over once more.", how, caution=caution, ops=ops
        )
        for item in self.box.equipment:
            sheet = self.sheets[item.sheet]
            if not sheet.is_blank:
                yield self._tried(item, sheet)
        onward = list(self._onward())
        idle = "" if onward else "nothing is fed on from here"
        yield self.step(
            "tried by hand", "Test what this box feeds", and_list(onward), of=("onward",), idle=idle,
            ops=(self.operation("try"),),
        )  # fmt: skip
        guarded = [one for one in self.job.circuits if one.id in self.circuits and one.kind not in (None, "plain")]
        tests = and_list([f"breaker {one.id} ({one.kind})" for one in guarded])
        idle = "" if guarded else "no breaker here is known to be an AFCI or a GFCI"
        yield self.step(
            "tried by hand", "Press the test button of the breaker", tests, of=("trip",), idle=idle,
            ops=(self.operation("try"),),
        )  # fmt: skip

    def _waits_for(self, other: Box) -> bool:
        """Whether a box is one piece of work with this one: a device goes in there, on the same switched wires."""
        return other.id in self.seen.group and other.id != self.box.id and bool(arriving(other))

    def _plate(self) -> Iterator[InstallStep]:
        spacers = [self.sheets[item.sheet].name for item in self.coming if self.sheets[item.sheet].spacer]
        spacer = f"Put the spacer of {and_list(spacers)} behind the plate." if spacers else ""
        yield self.step("closed", "Peel the film and put the plate on", spacer, "Level, and nothing pinched.")

    def _set(self) -> Iterator[InstallStep]:
        # A device with a radio is set when it is set up.
        dims = [
            item for item in self.box.equipment if self.sheets[item.sheet].dims and not self.sheets[item.sheet].radio
        ]
        for item in dims:
            name = self._name(item)
            yield self.step(
                "set", f"Set the bulb type and the low-end trim of {name}",
                "Lower the low-end trim until a bulb won't turn on from cold, then go up one step.",
                of=(item.id,), ops=(self.operation("set"),),
            )  # fmt: skip
        if not dims:
            yield self.step("set", "Set the bulb type and the low-end trim", idle="nothing here dims by itself")

    def _name(self, item: Equipment) -> str:
        return item_name(item, self.box.equipment, self.sheets)

    def _tried(self, item: Equipment, sheet: Datasheet) -> InstallStep:
        loads = and_list([load.name or KIND_WORDS[load.kind] for load in item.loads])
        what = f"{loads[:1].upper()}{loads[1:]}: on and off, from every place." if loads else "It does what it should."
        dims = "Run the whole dimming range. Listen for hum." if sheet.dims else ""
        ops = (self.operation("try"),)
        return self.step("tried by hand", f"Try {self._name(item)}", what, dims, of=(item.id,), ops=ops)

    def _onward(self) -> Iterator[str]:
        for run in self.job.runs:
            for end in run.box_ends:
                if end.box == self.box.id and run.other.kind == "onward":
                    yield f"cable {end.cable}"
