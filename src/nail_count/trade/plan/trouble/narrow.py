"""Narrow trouble down: which causes the answers leave, and which check comes next."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.job import Job, by_id
from ...model.load import Load
from ...wiring.hookup.network import Gear
from .causes import Cause
from .checks import SKIPPED, Answer, Check
from .symptoms import Symptom
from .usual_causes import Trait, usual_causes
from .wiring_causes import Setting, double_causes, found_causes, wiring_causes

ENOUGH = 0.999
"""A check that leaves more than this share of the causes, by weight, tells nothing."""


@dataclass(frozen=True, slots=True)
class Group:
    """Causes that are mended the same way: wires of one splice, or one sentence."""

    causes: tuple[Cause, ...]

    @property
    def first(self) -> Cause:
        """The likeliest of them."""
        return self.causes[0]


def causes_left(job: Job, box: Box, load: str, symptom: Symptom, answers: Mapping[Check, Answer]) -> tuple[Cause, ...]:
    """Return everything that may give a symptom and the answers: one cause; where none does, two in the wiring at once.

    Mend a loose wire first once it is found, whether or not it explains the rest.

    Args:
        job: with every box on the same circuits, as planned.
        box: where it is looked for.
        load: what doesn't work, as the network of the hook-up names it.
        symptom: as people see it.
        answers: to the checks so far.
    """
    at = Setting(job, box, load)
    single = left((*usual_causes(symptom, traits_of(at), load), *wiring_causes(at, symptom)), answers)
    if single:
        return single
    for check, answer in answers.items():
        if check.code in ("tug", "nick") and answer not in (check.kind.usual, SKIPPED):
            return tuple(found_causes(at, check.of, answer))
    return left(tuple(double_causes(at, symptom)), answers)


def traits_of(at: Setting) -> frozenset[Trait]:
    """Return the traits of a load and of the device that switches it."""
    traits: set[Trait] = set()
    sheets = by_id(at.job.sheets)
    loads = {f"{box.id}/{one.id}": one for box in at.job.boxes for item in box.equipment for one in item.loads}
    devices = {f"{box.id}/{item.id}": sheets[item.sheet] for box in at.job.boxes for item in box.equipment}
    traits |= _of_load(loads.get(at.load))
    for gear in at.switches:
        traits |= _of_device(gear, devices.get(gear.id))
    if not traits & {"electronic"}:
        traits.add("plain")
    kinds = {one.kind for one in at.job.circuits if one.id in at.box.circuits}
    if kinds - {None, "plain"} or any(gear.kind == "protector" for gear in at.seen.network.gear):
        traits.add("guarded")
    return frozenset(traits)


def _of_load(load: Load | None) -> set[Trait]:
    if load is None or load.kind not in ("fan", "heater", "receptacle"):
        return {"light"}
    return {"fan"} if load.kind == "fan" else set()


def _of_device(gear: Gear, sheet: Datasheet | None) -> set[Trait]:
    traits: set[Trait] = set()
    if gear.kind in ("powered", "two-wire", "module"):
        traits.add("electronic")
    if gear.kind == "two-wire" or gear.leaks:
        traits.add("two-wire")
    if sheet is not None and sheet.dims:
        traits.add("dims")
    if sheet is not None and sheet.radio:
        traits.add("smart")
    return traits


def left(causes: Sequence[Cause], answers: Mapping[Check, Answer]) -> tuple[Cause, ...]:
    """Return the causes that every answer allows."""
    return tuple(one for one in causes if all(one.allows(check, answer) for check, answer in answers.items()))


def grouped(causes: Sequence[Cause]) -> tuple[Group, ...]:
    """Put the causes together that are mended the same way, the likeliest first."""
    groups: dict[tuple[str, str], list[Cause]] = {}
    for one in sorted(causes, key=lambda cause: -cause.weight):
        loose = len(one.faults) == 1 and one.faults[0].kind == "loose"
        key = (one.faults[0].box, one.faults[0].splice) if loose else (one.code, "")
        groups.setdefault(key, []).append(one)
    return tuple(Group(tuple(some)) for some in groups.values())


def next_check(causes: Sequence[Cause], answered: Mapping[Check, Answer]) -> Check | None:
    """Return the check that rules out most for its time and its risk; None where none tells the causes apart.

    Args:
        causes: those left.
        answered: the answers so far: none is asked twice.
    """
    if len(grouped(causes)) < 2:
        return None
    checks = dict.fromkeys(check for one in causes for check in one.shows if check not in answered)
    best, most = None, 0.0
    for check in checks:
        told = _ruled_out(causes, check) / check.cost
        if told > most:
            best, most = check, told
    return best


def _ruled_out(causes: Sequence[Cause], check: Check) -> float:
    """The share of the causes, by weight, that a check rules out on average; 0 where it can't part two groups."""
    whole = sum(one.weight for one in causes)
    known: dict[Answer, float] = {}
    unknown = 0.0
    for one in causes:
        shown = one.answers(check)
        if not shown:
            unknown += one.weight
        for answer in shown:
            known[answer] = known.get(answer, 0.0) + one.weight / len(shown)
    sure = whole - unknown
    if not sure:
        return 0.0
    leaves = sum(weight / sure * (weight + unknown) for weight in known.values())
    return 1 - leaves / whole if leaves / whole < ENOUGH else 0.0
