"""The work between a box as found and as planned: splices left, opened, joined, added to, capped, re-marked.

A device is found or planned, and an end is named by which. The switch that comes out and the dimmer that goes in may
have the same id; they are one device only where the planned one says that it stays.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.contents import Contents
from ...model.datasheet import Datasheet
from ...model.splice import ConductorEnd, End, LeadEnd, PigtailEnd, Splice
from .colors import Wire
from .splices import held, is_screw
from .stages import Stage, box_at

Act = Literal["leave", "take apart", "make", "add to", "close", "cap", "re-mark", "pigtail"]
_ORDER = ("ground", "neutral", "switched", "hot", "traveler", "signal", "cap")
"""In order of work: ground, neutral, load, line, travelers."""
_NO_NEUTRAL = ("hot", "switched", "traveler", "signal")
"""What a white in it is re-marked for. In a splice with another name it is left alone: it may be one."""


@dataclass(frozen=True, slots=True)
class WorkEnd:
    """An end, and whose it is."""

    contents: Stage
    """`found` for what only the old devices have; `planned` for theirs that stay, the new ones', and the box's own."""
    end: End


Ends = frozenset[WorkEnd]


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to do."""

    act: Act
    splice: Splice
    """Of the plan; of what was found where something is taken apart."""
    ends: tuple[WorkEnd, ...]
    """Those it is about."""
    stays: tuple[WorkEnd, ...] = ()
    """What stays joined meanwhile, where others are added or were taken out."""


def is_recorded(box: Box) -> bool:
    """Whether anybody recorded how the wires of a box were joined before."""
    return box.found is not None and any(splice.ends for splice in box.found.splices)


OLD_WIRING = "old wiring"
"""What contents as found rest on where the usual old wiring was proposed, and nobody held it against the box yet."""


def is_assumed(box: Box) -> bool:
    """Return whether the old wiring of a box is the usual one, which nobody held against the box yet."""
    return box.found is not None and any(one.code == OLD_WIRING for one in box.found.rests_on)


def found_end(box: Box, end: End) -> WorkEnd:
    """An end of what was found, as the plan has it where its device stays."""
    stays = {item.stays: item.id for item in box.planned.equipment if item.stays} if box.planned else {}
    if isinstance(end, LeadEnd):
        if end.of in stays:
            return WorkEnd("planned", end.changed(of=stays[end.of]))
        return WorkEnd("found", end)
    if isinstance(end, PigtailEnd) and box.found is not None:
        devices = {item.id for item in box.found.equipment}
        if end.to in devices:
            return WorkEnd("planned", end.changed(to=stays[end.to])) if end.to in stays else WorkEnd("found", end)
    return WorkEnd("planned", end)


def work(box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire]) -> tuple[Step, ...]:
    """Return the steps of the work in a box, in order of work.

    Args:
        box: with its found and planned contents.
        sheets: of everything in it, by id.
        wires: its conductors, by what they are called.
    """
    return tuple(_steps(box, sheets, wires))


def leaving(box: Box) -> tuple[str, ...]:
    """Return the ids of the found devices and modules that come out."""
    if box.found is None or box.planned is None:
        return ()
    stays = {item.stays for item in box.planned.equipment}
    return tuple(item.id for item in box.found.equipment if item.id not in stays)


def arriving(box: Box) -> tuple[str, ...]:
    """Return the ids of the planned devices and modules that are new; all of them where nothing was found."""
    if box.planned is None:
        return ()
    return tuple(item.id for item in box.planned.equipment if item.stays is None)


@dataclass(frozen=True, slots=True)
class _Joint:
    """A splice with its ends as both stages call them."""

    splice: Splice
    ends: Ends
    under_screw: bool


def _steps(box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire]) -> Iterator[Step]:
    before, after = list(_before(box, sheets)), list(_after(box, sheets))
    cores = _cores(before, after)
    kept = {old: after[new].ends & before[old].ends for new, old in cores.items()}
    for number, old in enumerate(before):
        left = kept.get(number, frozenset())
        lone = len(old.ends) == 1 and any(new.ends == old.ends for new in after)
        if old.ends != left and not lone:
            yield Step("take apart", old.splice, _in_order(box, old, old.ends - left), _in_order(box, old, left))
    order = sorted(range(len(after)), key=lambda n: _place(after[n].splice.name))
    capped = {one.ends for one in before if len(one.ends) == 1}
    for number in order:
        new = after[number]
        old_ends = before[cores[number]].ends if number in cores else frozenset[WorkEnd]()
        if new.ends == old_ends or new.ends in capped:
            yield Step("leave", new.splice, _planned_order(new))
            continue
        core = new.ends & old_ends
        added = tuple(end for end in _planned_order(new) if end not in core)
        stays = tuple(end for end in _planned_order(new) if end in core)
        if len(new.ends) == 1:
            yield Step("cap", new.splice, added)
        elif not core:
            yield Step("make", new.splice, added)
        else:
            yield Step("add to" if added else "close", new.splice, added, stays)
        yield from _pigtails(box, new, added, sheets)
        yield from _re_marked(new, wires)


def _before(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[_Joint]:
    if box.found is None:
        return
    at = box_at(box, "found")
    for splice in box.found.splices:
        if splice.ends:
            ends = frozenset(found_end(box, end) for end in splice.ends)
            yield _Joint(splice, ends, _is_under_screw(at, splice, sheets))


def _after(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[_Joint]:
    for splice in box.splices:
        if splice.ends:
            ends = frozenset(WorkEnd("planned", end) for end in splice.ends)
            yield _Joint(splice, ends, _is_under_screw(box, splice, sheets))


def _is_under_screw(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> bool:
    there = held(box, splice, sheets)
    return there.size is None and not there.too_many and len(splice.ends) > 1


def _cores(before: list[_Joint], after: list[_Joint]) -> dict[int, int]:
    """Which found splice each planned one is made from, by their numbers: each of either once, the largest first.

    A wire under a screw is no splice that could be added to, unless it stays as it is.
    """
    shared = [
        (len(new.ends & old.ends), -n, -o)
        for n, new in enumerate(after)
        for o, old in enumerate(before)
        if len(new.ends & old.ends) > 1 and (new.ends == old.ends or not (new.under_screw or old.under_screw))
    ]
    found: dict[int, int] = {}
    for _, n, o in sorted(shared, reverse=True):
        if -n not in found and -o not in found.values():
            found[-n] = -o
    return found


def _place(name: str) -> int:
    return _ORDER.index(name) if name in _ORDER else len(_ORDER)


def _in_order(box: Box, joint: _Joint, ends: Iterable[WorkEnd]) -> tuple[WorkEnd, ...]:
    wanted = set(ends)
    return tuple(end for one in joint.splice.ends if (end := found_end(box, one)) in wanted)


def _planned_order(joint: _Joint) -> tuple[WorkEnd, ...]:
    return tuple(WorkEnd("planned", end) for end in joint.splice.ends)


def _pigtails(box: Box, joint: _Joint, added: tuple[WorkEnd, ...], sheets: Mapping[str, Datasheet]) -> Iterator[Step]:
    """A pigtail to each screw that comes into a splice."""
    if held(box, joint.splice, sheets).pigtails:
        screws = tuple(one for one in added if is_screw(box, one.end, sheets))
        if screws:
            yield Step("pigtail", joint.splice, screws)


def _re_marked(joint: _Joint, wires: Mapping[str, Wire]) -> Iterator[Step]:
    if joint.splice.name not in _NO_NEUTRAL:
        return
    whites = tuple(
        one
        for one in _planned_order(joint)
        if isinstance(one.end, ConductorEnd) and one.end.of in wires and wires[one.end.of].neutral
    )
    if whites:
        yield Step("re-mark", joint.splice, whites)


def contents_of(box: Box, stage: Stage) -> Contents:
    """Return what an end of this stage belongs to."""
    return box.as_found if stage == "found" else box.contents
