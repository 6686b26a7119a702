"""A literal apprentice: does to a simulated box what the sentences say, and nothing else.

He knows the ends by their printed names alone. What he has done is held against the plan when he is through.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field

from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.job import Job
from nail_count.trade.model.splice import ConductorEnd, GroundEnd, LeadEnd, PigtailEnd
from nail_count.trade.plan.install.names import device_names, names_of
from nail_count.trade.plan.install.step import InstallStep
from nail_count.trade.wiring.hookup.stages import ends_of
from nail_count.trade.wiring.hookup.work import WorkEnd, found_end

CONNECTOR = re.compile(r"(?:with a|Use a new) (\w+) wire connector")
PIGTAILS = re.compile(r"\b(a|two|three|\d+) pigtails?\b")
CABLED = re.compile(r"Take off every wire of cable (?P<out>\w+) .* and pull|Bring cable (?P<into>\w+) into")
BEFORE = "before"
"""How the devices of another plan are called here: the sheet and their id."""
MANY = {"a": 1, "two": 2, "three": 3}


class Stuck(AssertionError):
    """He cannot do what the sentence says, or it would hurt him."""


@dataclass
class Bench:
    """A box as it really is while it is worked on."""

    groups: list[set[WorkEnd]]
    names: Mapping[str, WorkEnd]
    devices: Mapping[str, str]
    """The old devices by their printed names."""
    capped: set[WorkEnd] = field(default_factory=set)
    taped: set[WorkEnd] = field(default_factory=set)
    gone: set[WorkEnd] = field(default_factory=set)
    used: Counter[str] = field(default_factory=Counter)
    loose_pigtails: int = 0
    last: set[WorkEnd] = field(default_factory=set)
    """The splice made last."""
    verified: set[str] = field(default_factory=set)
    off: set[str] = field(default_factory=set)
    wanted: set[WorkEnd] = field(default_factory=set)
    """The wires of cables that the plan joins or caps."""
    is_on: bool = False
    """Whether it was switched on after he last touched a wire."""
    staying: Mapping[str, str] = field(default_factory=dict)
    """The old devices of the plan, by what the plan calls them."""
    outside: set[str] = field(default_factory=set)
    """The old devices he took out; one that is joined again is in the box."""
    kept: list[set[WorkEnd]] = field(default_factory=list)
    """What he was told to leave in this step."""
    absent: set[str] = field(default_factory=set)
    """The cables that are not in the box yet."""

    def group(self, end: WorkEnd) -> set[WorkEnd]:
        """What an end is joined with."""
        if end in self.gone:
            raise Stuck(f"{end} is no longer in the box")
        if cable_of(end) in self.absent:
            raise Stuck(f"{end} has not been brought into the box")
        return next(one for one in self.groups if end in one)

    def part(self, end: WorkEnd) -> None:
        """Take an end out of whatever it is in."""
        old = self.group(end)
        old.discard(end)
        self.groups.append(set() if is_jumper(end) else {end})
        self.groups = [one for one in self.groups if one]
        self.capped.discard(end)

    def join(self, ends: Iterable[WorkEnd], into: set[WorkEnd] | None = None) -> set[WorkEnd]:
        """Put ends together: whatever still hangs on one comes along."""
        made = set(into or ())
        for end in ends:
            if end in self.capped:
                raise Stuck(f"{end} has a cap on it")
            made |= {end} if is_jumper(end) else self.group(end)
        self.groups = [one for one in self.groups if not {end for end in one & made if not is_jumper(end)}]
        self.groups.append(made)
        return made


def cable_of(at: WorkEnd) -> str:
    """The letter of the cable an end is of; "" for others."""
    if isinstance(at.end, ConductorEnd):
        return at.end.of.rstrip("0123456789")
    return at.end.cable if isinstance(at.end, GroundEnd) else ""


def bench_of(job: Job, box: Box, really: Contents | None) -> Bench:
    """A box as it is before anything is done.

    Args:
        job: with the box in it, as it is recorded.
        box: as recorded, with its plan.
        really: how it was wired, recorded or not; None: its wires lie free.
    """
    names = names_of(job, box)
    assert len(set(names.values())) == len(names), "expected a name of its own for each end"
    old = {name: id for (stage, id), name in device_names(job, box).items() if stage == "found"}
    groups = [{found_end(box, end) for end in one.ends} for one in (really.splices if really else ()) if one.ends]
    there = set().union(*groups) if groups else set()
    stages = ("planned", "found") if box.found else ("planned",)
    every = {
        found_end(box, one.end) if stage == "found" else WorkEnd("planned", one.end)
        for stage in stages
        for one in ends_of(job, box, stage).values()  # type: ignore[arg-type]
    }
    jumpers = {WorkEnd("planned", end) for one in box.splices for end in one.ends if isinstance(end, PigtailEnd)}
    groups += [{end} for end in sorted((every | jumpers) - there, key=repr)]
    bench = Bench(groups, {name: end for end, name in names.items()}, old)
    bench.wanted = {WorkEnd("planned", end) for one in box.splices for end in one.ends}
    bench.staying = {item.id: item.stays for item in box.contents.equipment if item.stays}
    bench.absent = set(box.contents.brought)
    bench.capped = {end for one in groups if len(one) == 1 for end in one if end in there}
    return bench


def do(bench: Bench, sentence: str) -> None:
    """Do what one sentence says; what says nothing of the wires is let be."""
    text = CONNECTOR.sub("", sentence)
    before, _, beside = text.partition(" to the splice with ")
    ends = told(bench, before)
    for size in CONNECTOR.findall(sentence):
        bench.used[f"connector {size}"] += 1
    pigtails = (
        sum(MANY.get(one) or int(one) for one in PIGTAILS.findall(text)) if text.startswith(("Join", "Add")) else 0
    )
    if text.startswith(("Disconnect ", "Take the cap off ")):
        for end in ends:
            bench.part(end)
    elif text.startswith("Leave "):
        leave(bench, ends)
    elif text.startswith("Open every "):
        open_others(bench)
    elif text.startswith("Take out every device"):
        for end in [end for group in bench.groups for end in group if end.contents == "found"]:
            alone(bench, [end])
            bench.gone.add(end)
            bench.outside |= {end.end.of} if isinstance(end.end, LeadEnd) else set()
        bench.groups = [group for group in bench.groups if not group & bench.gone]
        lone = [end.end for (end, *more) in bench.groups if not more]
        bench.outside |= {bench.staying[end.of] for end in lone if isinstance(end, LeadEnd) and end.of in bench.staying}
    elif text.startswith("Take out "):
        take_out(bench, text)
    elif cabled := CABLED.match(text):
        cable(bench, cabled["out"], cabled["into"])
    elif text.startswith("Join "):
        alone(bench, ends)
        bench.last = bench.join(ends)
        bench.loose_pigtails += pigtails
    elif text.startswith("Add "):
        alone(bench, ends)
        (anchor,) = told(bench, beside)
        bench.last = bench.join(ends, bench.group(anchor))
        bench.loose_pigtails += pigtails
    elif text.startswith("Close the splice with "):
        bench.last = bench.group(told(bench, text)[0])
    elif text.startswith("Cap "):
        alone(bench, ends)
        bench.capped.update(ends)
    elif text.startswith("Land the pigtail on "):
        if not bench.loose_pigtails:
            raise Stuck("there is no pigtail to land")
        alone(bench, ends)
        bench.loose_pigtails -= 1
        bench.used["pigtail"] += 1
        bench.last = bench.join(ends, bench.last)
    elif text.startswith("Land "):
        alone(bench, ends)
        bench.last = bench.join(ends)
    elif text.startswith("Mark "):
        bench.used["sleeve"] += len(ends)
        bench.taped.update(ends)


def cable(bench: Bench, out: str | None, into: str | None) -> None:
    """Pull a cable out of the box with all its wires, or bring one in."""
    bench.absent.discard(into or "")
    for end in [end for group in bench.groups for end in group if out and cable_of(end) == out]:
        bench.part(end)
        bench.gone.add(end)
    bench.groups = [group for group in bench.groups if not group & bench.gone]


def told(bench: Bench, text: str) -> list[WorkEnd]:
    """The ends a sentence names, in order: the longest name that fits at each place."""
    found: list[tuple[int, WorkEnd]] = []
    for name in sorted(bench.names, key=len, reverse=True):
        while (at := text.find(name)) >= 0:
            found.append((at, bench.names[name]))
            text = text[:at] + "\0" * len(name) + text[at + len(name) :]
    return [end for _, end in sorted(found, key=lambda one: one[0])]


def is_jumper(at: WorkEnd) -> bool:
    """Whether an end is a short piece of wire: there are as many of it as are asked for."""
    return isinstance(at.end, PigtailEnd)


def alone(bench: Bench, ends: Iterable[WorkEnd]) -> None:
    """Nothing hangs on these."""
    for end in ends:
        if not is_jumper(end) and len(bench.group(end)) > 1:
            raise Stuck(f"{end} is still joined with something")


def leave(bench: Bench, ends: list[WorkEnd]) -> None:
    """Leave a splice: it must be just these."""
    if bench.group(next(end for end in ends if not is_jumper(end))) != set(ends):
        raise Stuck(f"{ends} are not a splice of their own")
    bench.kept.append(set(ends))


def open_others(bench: Bench) -> None:
    """Open every splice but those he was told to leave."""
    kept = set().union(*bench.kept) if bench.kept else set()
    rest = [end for group in bench.groups for end in group if end not in kept and not is_jumper(end)]
    bench.groups = [group & kept for group in bench.groups if group & kept] + [{end} for end in rest]
    bench.capped &= kept
    bench.taped.clear()
    bench.loose_pigtails = 0
    bench.kept.clear()


def take_out(bench: Bench, text: str) -> None:
    """Take a device out: nothing may hang on it."""
    name = next(one for one in sorted(bench.devices, key=len, reverse=True) if one in text)
    mine = {
        end
        for group in bench.groups
        for end in group
        if end.contents == "found" and isinstance(end.end, LeadEnd) and end.end.of == bench.devices[name]
    }
    alone(bench, mine)
    bench.groups = [one for one in bench.groups if not one & mine]
    bench.gone |= mine
    bench.outside.add(bench.devices[name])


def replanned(bench: Bench, before: Box, after: Box, job: Job) -> None:
    """The same box, as another plan calls what is in it: he goes by the new names."""
    was = {item.id: item for item in before.contents.equipment}
    now = {item.id: item for item in after.contents.equipment}
    stays = {item.stays: item.id for item in now.values() if item.stays}

    def renamed(at: WorkEnd) -> WorkEnd:
        end = at.end
        if not isinstance(end, LeadEnd):
            return at
        if _never_in(at):
            sheet, id = end.of.removeprefix(BEFORE).split("0", 1)
        else:
            old = was[end.of].stays if at.contents == "planned" else end.of
            if old is not None:
                of = stays.get(old, old)
                return WorkEnd("planned" if old in stays else "found", end.changed(of=of))
            sheet, id = _plain(was[end.of].sheet), end.of
        here = now.get(id)
        if here is not None and here.stays is None and _plain(here.sheet) == sheet:
            return WorkEnd("planned", end.changed(of=id))
        return WorkEnd("found", LeadEnd.model_construct(of=f"{BEFORE}{sheet}0{id}", terminal=end.terminal))

    groups = [{renamed(end) for end in group} for group in bench.groups]
    bench.groups = [group for group in groups if len(group) > 1 or not any(_never_in(end) for end in group)]
    bench.capped, bench.taped = ({renamed(end) for end in ends} for ends in (bench.capped, bench.taped))
    bench.gone = {renamed(end) for end in bench.gone}
    bench.gone = {end for end in bench.gone if end.contents == "found"}
    joined = {
        (end.contents, end.end.of)
        for group in groups
        if len(group) > 1
        for end in group
        if isinstance(end.end, LeadEnd)
    }
    bench.outside -= {old for old in bench.outside if {("found", old), ("planned", stays.get(old))} & joined}
    back = {end for (end, *more) in groups if not more and isinstance(end.end, LeadEnd) and end.end.of in bench.outside}
    bench.gone |= {end for end in back if end.contents == "found"}
    bench.groups = [group for group in bench.groups if not group & bench.gone]
    fresh = bench_of(job, after, None)
    bench.names, bench.devices, bench.wanted = fresh.names, fresh.devices, fresh.wanted
    bench.staying = fresh.staying
    there = set().union(*bench.groups) | bench.gone
    bench.groups += [{end} for group in fresh.groups for end in group if end not in there and end.contents == "planned"]


def _never_in(at: WorkEnd) -> bool:
    """Whether an end is of a device of another plan: with nothing on it, it lies on the floor."""
    return isinstance(at.end, LeadEnd) and at.end.of.startswith(BEFORE)


def _plain(sheet: str) -> str:
    return sheet.replace("-", "")


def follow(bench: Bench, steps: Iterable[InstallStep], circuits: frozenset[str]) -> None:
    """Do every step in order, and never touch what may be live."""
    for one in steps:
        if one.idle:
            continue
        for operation in one.operations:
            if operation.op == "turn off":
                bench.off |= set(operation.circuits)
            elif operation.op == "verify dead" and circuits <= bench.off:
                bench.verified.add(one.step.subjects[0])
            elif operation.op == "turn on":
                bench.off -= set(operation.circuits)
                bench.verified.clear()
                bench.is_on = True
                if any(len(group) == 1 and not group & bench.capped for group in loose_wires(bench)):
                    raise Stuck("a wire is open, and the power comes on")
        bench.kept.clear()
        if one.step.kind in ("taken apart", "taken out", "cabled", "joined", "folded", "trimmed", "tugged"):
            if "device out" not in bench.verified:
                raise Stuck(f"{one.title}: nobody has verified that the box is dead")
            bench.is_on = False
            for line in one.what:
                do(bench, line)


def loose_wires(bench: Bench) -> list[set[WorkEnd]]:
    """What holds wires of cables that are to be joined or capped."""
    return [
        group
        for group in bench.groups
        if any(isinstance(end.end, ConductorEnd | GroundEnd) and end in bench.wanted for end in group)
    ]


def held_against(bench: Bench, box: Box) -> None:
    """It is joined exactly as planned, and in no other way."""
    wanted = [frozenset(WorkEnd("planned", end) for end in one.ends) for one in box.splices if one.ends]
    got = {frozenset(group) for group in bench.groups}
    for one in wanted:
        assert one in got, f"expected {sorted(map(repr, one))} joined, and nothing else"
        if len(one) == 1:
            assert one <= bench.capped, f"expected a cap on {one}"
    joined = set().union(*wanted) if wanted else set()
    others = [group for group in got if len(group) > 1 and not group & joined]
    assert not others, f"joined, and not planned: {others}"
    assert not bench.loose_pigtails
    assert not bench.absent, f"never brought in: {bench.absent}"
    left = {cable_of(end) for group in got for end in group} & set(box.contents.out)
    assert not left, f"still in the box: {left}"
    old = [end for group in got for end in group if end.contents == "found"]
    assert not old, f"still in the box: {old}"
