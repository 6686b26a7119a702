"""List the work between a box as found and as planned, splice by splice, and what holds each splice.

A device is found or planned, and an end is named by which. The switch that comes out and the dimmer that goes in may
have the same id; they are one device only where the planned one says that it stays.

Source: common practice of the sizes connectors come in; the package's own listing binds (NFPA 70 (NEC) 110.3(B),
110.14(B), from memory of the publication).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ...model.box import Box
from ...model.contents import OLD_WIRING, Contents
from ...model.datasheet import Datasheet
from ...model.gauge import Gauge, awg
from ...model.splice import ConductorEnd, Connector, End, GroundEnd, LeadEnd, PigtailEnd, Splice
from ...rules.joints import TAKES, Size, most_of, size_for
from .colors import Wire
from .stages import Stage, box_at


@dataclass(frozen=True, slots=True)
class Held:
    """What a splice is held by."""

    meeting: int
    """How many ends meet, a pigtail to each screw among them."""
    gauge: Gauge
    """The largest of them."""
    size: Size | None
    """None: under one screw, or too many for one connector."""
    pigtails: int
    """Short pieces to screws, which count nothing."""
    too_many: bool


def gauge_of(box: Box, end: End) -> Gauge:
    """The gauge of an end; a lead counts as 14 AWG."""
    letter = end.of.rstrip("0123456789") if isinstance(end, ConductorEnd) else ""
    if isinstance(end, GroundEnd):
        letter = end.cable
    cable = box.cable(letter)
    if cable is None:
        return end.gauge or awg(14) if isinstance(end, PigtailEnd) else awg(14)
    return cable.grounded_by if isinstance(end, GroundEnd) else cable.gauge


def is_screw(box: Box, end: End, sheets: Mapping[str, Datasheet]) -> bool:
    """Whether an end is a screw: one conductor goes under it, or a pigtail where more meet."""
    if not isinstance(end, LeadEnd):
        return False
    item = box.item(end.of)
    terminals = sheets[item.sheet].terminals if item else ()
    return end.terminal <= len(terminals) and terminals[end.terminal - 1].kind == "screw"


def held(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> Held:
    """What holds a splice of a box.

    Args:
        box: as it is judged.
        sheets: of everything in it, by id.
    """
    ends = splice.ends
    screws = sum(is_screw(box, end, sheets) for end in ends)
    gauge = max((gauge_of(box, end) for end in ends), default=awg(14))
    under = screws == 1 and len(ends) == 2
    pigtails = 0 if under else screws
    size = None if under or len(ends) == 0 else size_for(max(len(ends), 2), gauge)
    return Held(len(ends), gauge, size, pigtails, size is None and not under and len(ends) > 1)


def with_connector(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> Splice:
    """Return a splice with the connector that holds it; one that only counts a connector as it is.

    Args:
        box: as it is judged.
        sheets: of everything in it, by id.
    """
    if not splice.ends:
        return splice
    there = held(box, splice, sheets)
    return splice.changed(connector=Connector(size=there.size, gauge=there.gauge) if there.size else None)


def too_small(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> bool:
    """Whether a connector, or the largest there is, does not take what meets in it."""
    there = held(box, splice, sheets)
    if there.too_many:
        return True
    if splice.connector is None or there.size is None:
        return False
    sizes = tuple(TAKES)
    return sizes.index(splice.connector.size) < sizes.index(there.size)


def splices_for(
    box: Box, groups: Sequence[tuple[str, Sequence[End]]], sheets: Mapping[str, Datasheet]
) -> tuple[Splice, ...]:
    """Splices for groups of ends, each under a name, with connectors; too many ends make two with a jumper between."""
    made: list[Splice] = []

    def put(name: str, ends: Sequence[End]) -> None:
        id = f"s{len(made) + 1}"
        size = held(box, Splice(id=id, ends=tuple(ends)), sheets).size
        gauge = max(gauge_of(box, end) for end in ends)
        connector = Connector(size=size, gauge=gauge) if size else None
        made.append(Splice(id=id, name=name, ends=tuple(ends), connector=connector))

    for name, ends in groups:
        rest, most = list(ends), most_of(max(gauge_of(box, end) for end in ends))
        came = False
        while len(rest) + came > most:
            here = rest[: most - 1 - came]
            rest = rest[len(here) :]
            back = [PigtailEnd(to=f"s{len(made)}")] if came else []
            put(name, [*back, *here, PigtailEnd(to=f"s{len(made) + 2}")])
            came = True
        put(name, [*([PigtailEnd(to=f"s{len(made)}")] if came else []), *rest])
    return tuple(made)


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
