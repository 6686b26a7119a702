"""The steps of a box from its own plan, in the order they are done: from the breaker off to the lamp set.

Source: common practice; NFPA 70E for work on what may be live, from memory of the publication. A sheet's own steps
outrank these.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from ...model.box import Box
from ...model.conductor import Conductor
from ...model.contents import Equipment
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.panel import Circuit
from ...model.splice import ConductorEnd, End, Splice
from ...model.survey import STAGES
from ...model.tick import Step, StepKind
from ...rules.prohibitions import SHORTEST_FREE
from ...rules.supplies import TORQUE_FROM, TORQUE_TO
from ...rules.wires.joints import PROUD, STRIP
from ...text.format import figure
from ...wiring.hookup.ends import Named, ends_of
from ...wiring.hookup.look import HookUp, look
from ...wiring.hookup.splices import held
from ...wiring.hookup.work import Step as Work
from ...wiring.hookup.work import work
from ..day.places import fed_by
from ..parts.devices import coming

LIVE = ("switched off", "locked", "proven dead", "photographed", "recorded", "set")
"""What may be done before dead is proven, readings to tell wires apart among it; nothing else until it is."""


@dataclass(frozen=True, slots=True)
class InstallStep:
    """One step, as the screen shows it."""

    step: Step
    title: str
    what: tuple[str, ...]
    """What is done, line by line."""
    caution: str = ""
    idle: str = ""
    """Why it does not apply here; "" where it does."""
    to: str = ""
    """The screen that does it better: wires; "" for none."""


def install_steps(job: Job, key: str) -> tuple[InstallStep, ...]:
    """The steps of a box, each by what it is and what it is about, never by its number.

    Args:
        job: with every box and run on its circuits.
        key: of the box.
    """
    seen = look(job, key)
    box = seen.box
    named = {one.end: one.words for one in (*ends_of(job, box, "planned").values(), *_found_ends(job, box))}
    maker = _Maker(job, box, seen, named)
    return tuple(maker.steps())


def _found_ends(job: Job, box: Box) -> Iterator[Named]:
    yield from ends_of(job, box, "found").values() if box.found else ()


class _Maker:
    """The steps of one box."""

    def __init__(self, job: Job, box: Box, seen: HookUp, named: Mapping[End, str]) -> None:
        self.job, self.box, self.seen, self.named = job, box, seen, named
        self.sheets = by_id(job.sheets)
        self.work = work(box, self.sheets, seen.seen.wires_in(box.id)) if box.planned else ()
        self.coming = coming(box)
        circuits, self.why = fed_by(job, box)
        listed = tuple(one.id for one in job.circuits if one.id in circuits)
        # The main where it always goes off here, and where some breaker is not in the panel as it is said.
        self.circuits = () if job.house.main_off or len(listed) < len(circuits) else listed

    def steps(self) -> Iterator[InstallStep]:
        """All of them, in order."""
        yield from self._off()
        yield from self._dead()
        yield from self._before()
        yield from self._apart()
        yield from self._joins()
        yield from self._body()
        yield from self._power()

    def _one(self, kind: StepKind, title: str, *what: str, of: tuple[str, ...] = (), **more: str) -> InstallStep:
        return InstallStep(Step(kind=kind, subjects=of), title, tuple(filter(None, what)), **more)

    def _off(self) -> Iterator[InstallStep]:
        if not self.circuits:
            main = ("main",)
            always = self.job.house.main_off
            why = (
                "It always goes off for work here." if always else "Which breaker feeds this box is not known for sure."
            )
            yield self._one("switched off", "Switch the main off", why, *self.why, of=main)
            yield self._one("locked", "Lock and label the main", _LABEL, of=main)
            return
        for circuit in self.circuits:
            one = next(each for each in self.job.circuits if each.id == circuit)
            yield self._one("switched off", f"Switch breaker {circuit} off", _feeds(one), *self.why, of=(circuit,))
            yield self._one("locked", f"Lock and label breaker {circuit}", _LABEL, of=(circuit,))

    def _dead(self) -> Iterator[InstallStep]:
        stages = {"plate on": "at the plate", "plate off": "at the device", "device out": "at every conductor"}
        for stage in STAGES:
            what = (
                "The tester on a known live point first, and again after.",
                "Every conductor to every other and to ground; to those of a second circuit as well.",
            )
            caution = "If anything shows a voltage, stop: another circuit feeds the box."
            yield self._one("proven dead", f"Prove dead {stages[stage]}", *what, of=(stage,), caution=caution)

    def _before(self) -> Iterator[InstallStep]:
        yield self._one("photographed", "Photograph it before anything is undone", "All of the box, and each splice.")
        neutrals = self._neutrals()
        idle = "" if neutrals or self.box.found is None else "no neutral was found spliced here"
        caution = (
            "Current means a borrowed or a multiwire neutral: find its breaker first. "
            "Parted, it can put 240 V on 120 V loads."
        )
        yield self._one(
            "clamped", "Clamp every neutral before parting it",
            f"Neutrals found: {', '.join(neutrals)}." if neutrals else "What was found is not said: every white.",
            caution=caution, idle=idle,
        )  # fmt: skip
        yield self._one("marked", "Mark every conductor", f"Cables {', '.join(one.id for one in self.box.entering)}.")
        by_plan = ("in-no-splice", "feed-not-followed", "beyond-not-known")  # what no reading tells
        open_here = [one for one in self.seen.unsaid if one.box == self.box.id and one.code not in by_plan]
        if open_here:
            yield self._one(
                "set", "Tell apart what is not told yet", "Something here is open: take the readings, then come back.",
                of=("told apart",), to="wires",
            )  # fmt: skip

    def _neutrals(self) -> list[str]:
        found = self.box.found
        if found is None:
            return []
        joined = [splice for splice in found.splices if len(splice.ends) > 1]
        whites = self.seen.seen.wires_in(self.box.id)
        return [
            self.named.get(end, end.of)
            for splice in joined
            for end in splice.ends
            if isinstance(end, ConductorEnd) and end.of in whites and whites[end.of].neutral
        ]

    def _apart(self) -> Iterator[InstallStep]:
        apart = [one for one in self.work if one.act == "take apart"]
        for one in apart:
            what = f"{self._ends(one)} out of it."
            yield self._one("taken apart", f"Take apart: {_called(one.splice)}", what, of=(one.splice.id,))
        if self.box.found is None:
            what = "What was found joined is not said: only what is marked, and written down as it comes apart."
            yield self._one("taken apart", "Take apart what the plan takes apart", what)
        elif not apart:
            yield self._one(
                "taken apart", "Take apart what the plan takes apart", idle="nothing joined here comes apart"
            )
        short = f"Free length at least {figure(SHORTEST_FREE)} in from the sheath; strip {STRIP} in for levers."
        nicked = [f"{c.id}{n}" for c in self.box.cables for n, one in enumerate(c.conductors, 1) if _bad(one)]
        worn = f"Looked at before, and not sound: {', '.join(nicked)}." if nicked else ""
        yield self._one("trimmed", "Trim and strip", short, worn)

    def _joins(self) -> Iterator[InstallStep]:
        made = [one for one in self.work if one.act in ("make", "add to", "cap", "pigtail", "re-mark")]
        titles = {"make": "Join", "add to": "Add to", "cap": "Cap", "pigtail": "Pigtails", "re-mark": "Re-mark"}
        for one in made:
            there = held(self.box, one.splice, self.sheets)
            size = one.splice.connector.size if one.splice.connector else there.size
            holds = f"{size} connector, {there.meeting} ends" if size else "under the screw"
            stranded = f"Stranded leads {PROUD} in proud." if size else ""
            how = f"In a {holds}." if one.act in ("make", "add to", "cap") and size else ""
            yield self._one(
                "joined", f"{titles[one.act]}: {_called(one.splice)}", f"{self._ends(one)}.", how,
                stranded if how else "", of=(one.act, one.splice.id),
            )  # fmt: skip
        if not made:
            idle = (
                "what joins what is not planned yet" if not self.seen.said else "everything is joined as it was found"
            )
            yield self._one("joined", "Join", idle=idle, to="hookup" if not self.seen.said else "")
        yield self._one("tugged", "Tug every wire", "One by one; none may come out.")
        yield self._one("compared", "Compare with the drawing", "Every splice, against the sheet.", to="hookup")

    def _body(self) -> Iterator[InstallStep]:
        torque = self._torque()
        yield self._one(
            "folded", "Fold, and put the body home by hand", torque, "Screws last, and snug; level, right way up."
        )
        coded = [item for item in self.coming if self.sheets[item.sheet].radio]
        for item in coded:
            sheet = self.sheets[item.sheet]
            where = f"Its code sits {sheet.code_at}." if sheet.code_at else ""
            yield self._one(
                "recorded", f"Record code and serial of {item.name or sheet.name}", where,
                "Before the plate covers it.", of=(item.id,), to="commission",
            )  # fmt: skip
        if not coded:
            yield self._one("recorded", "Record codes and serials", idle="nothing here has a radio")

    def _torque(self) -> str:
        said = sorted({t for item in self.coming if (t := self.sheets[item.sheet].torque) is not None})
        if said:
            return f"Screws to {', '.join(figure(one) for one in said)} lb·in by the sheet."
        return f"Screws as the sheet says; commonly {figure(TORQUE_FROM)} to {figure(TORQUE_TO)} lb·in."

    def _power(self) -> Iterator[InstallStep]:
        caution = "Nobody else at these circuits; hands off the box while the breaker is closed."
        yield self._one("energised", "Switch on", _breakers(self.circuits), caution=caution)
        for item in self.box.equipment:
            sheet = self.sheets[item.sheet]
            if sheet.is_blank:
                continue
            yield self._tried(item, sheet)
        onward = list(self._onward())
        idle = "" if onward else "nothing is fed on from here"
        yield self._one("tried by hand", "Try what is fed on from here", ", ".join(onward), of=("onward",), idle=idle)
        guarded = [one for one in self.job.circuits if one.id in self.circuits and one.kind not in (None, "plain")]
        tests = ", ".join(f"breaker {one.id} ({one.kind})" for one in guarded)
        idle = "" if guarded else "no breaker here is known to protect from arcs or ground faults"
        yield self._one("tried by hand", "Trip it by its button", tests, of=("trip",), idle=idle)
        spacers = [self.sheets[item.sheet].name for item in self.coming if self.sheets[item.sheet].spacer]
        spacer = f"The spacer of {', '.join(spacers)} behind the plate." if spacers else ""
        yield self._one("closed", "Film off, plate on", spacer, "Level; nothing pinched.")
        dims = [item for item in self.box.equipment if self.sheets[item.sheet].dims]
        for item in dims:
            name = item.name or self.sheets[item.sheet].name
            yield self._one(
                "set", f"Lamp type and trim of {name}", "Down from cold until every lamp starts surely.",
                of=(item.id,),
            )  # fmt: skip
        if not dims:
            yield self._one("set", "Lamp type and trim", idle="nothing here dims")

    def _tried(self, item: Equipment, sheet: Datasheet) -> InstallStep:
        loads = ", ".join(load.name or load.kind for load in item.loads)
        what = f"{loads[:1].upper()}{loads[1:]}: on, off, from every place." if loads else "From here, as it should."
        dims = "All of the range; listen for hum." if sheet.dims else ""
        return self._one("tried by hand", f"Try {item.name or sheet.name}", what, dims, of=(item.id,))

    def _onward(self) -> Iterator[str]:
        for run in self.job.runs:
            for end in run.box_ends:
                if end.box == self.box.id and run.other.kind == "onward":
                    yield f"cable {end.cable}"

    def _ends(self, one: Work) -> str:
        words = [self.named.get(end, "a jumper") for end in one.ends]
        joined = ", ".join(words)
        return f"{joined[:1].upper()}{joined[1:]}"


_LABEL = "The sheet on the panel door, a lock where one fits, the key in your pocket."


def _feeds(circuit: Circuit) -> str:
    said = circuit.feeds or circuit.label
    return f"It feeds: {said}." if said else "What it feeds is not known."


def _called(splice: Splice) -> str:
    return splice.name or "splice"


def _bad(conductor: Conductor) -> bool:
    return conductor.condition in ("nicked", "brittle")


def _breakers(circuits: tuple[str, ...]) -> str:
    if not circuits:
        return "The main, after everything is closed."
    return f"{'Breaker' if len(circuits) == 1 else 'Breakers'} {' and '.join(circuits)}, after a look at the box."
