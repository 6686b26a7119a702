"""What each end of a box is called on the ladder: by the print on it or its look, each by a name of its own."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from typing import TypeVar

from ...model.box import Box
from ...model.contents import Equipment
from ...model.datasheet import Datasheet, DeviceKind, Terminal
from ...model.job import Job, by_id
from ...model.splice import BondEnd, ConductorEnd, FixtureEnd, GroundEnd, LeadEnd, PigtailEnd
from ...wiring.hookup.stages import Stage, contents_at, ends_of
from ...wiring.hookup.work import WorkEnd, arriving, found_end, leaving

KIND_NAMES: Mapping[DeviceKind, str] = {
    "switch": "switch",
    "dimmer": "dimmer",
    "smart switch": "smart switch",
    "fan control": "fan control",
    "countdown": "timer",
    "sensor": "sensor switch",
    "receptacle": "receptacle",
    "remote": "remote",
    "module": "relay module",
    "blank": "blank",
}
K = TypeVar("K")
_STAGES: tuple[Stage, ...] = ("planned", "found")


def names_of(job: Job, box: Box) -> Mapping[WorkEnd, str]:
    """Return the printed name of every end of a box, as found and as planned.

    Args:
        job: with the boxes whose loads hang at this one.
        box: with its found and planned contents.
    """
    sheets, devices = by_id(job.sheets), device_names(job, box)
    plain: dict[WorkEnd, str] = {}
    for stage in _STAGES:
        if stage == "found" and box.found is None:
            continue
        for named in ends_of(job, box, stage).values():
            at = found_end(box, named.end) if stage == "found" else WorkEnd("planned", named.end)
            plain.setdefault(at, _name(box, at, named.words, devices, sheets))
        for splice in contents_at(box, stage).splices:
            for end in (one for one in splice.ends if isinstance(one, PigtailEnd)):
                at = found_end(box, end) if stage == "found" else WorkEnd("planned", end)
                plain.setdefault(at, _pigtail(at, end, devices))
    return _told_apart(plain)


def device_names(job: Job, box: Box) -> Mapping[tuple[Stage, str], str]:
    """Return what each device of a box is called: the old dimmer, the new smart switch, the switch that stays."""
    sheets, out = by_id(job.sheets), leaving(box)
    new = arriving(box) if out or box.found is not None else ()
    plain: dict[tuple[Stage, str], str] = {}
    for stage, which in _BY_STAGE:
        for item in _items(box, stage):
            if stage == "found" and item.id not in out:
                continue
            told = f"{which} " if item.id in (out if stage == "found" else new) else ""
            plain[stage, item.id] = f"the {told}{_called(item, KIND_NAMES[sheets[item.sheet].kind])}"
    return _told_apart(plain)


def _called(item: Equipment, kind: str) -> str:
    """Return a device's name and kind without saying a word twice: Hall dimmer, Ceiling fan control."""
    words = [*item.name.split(), *kind.split()]
    return " ".join(one for n, one in enumerate(words) if not n or one.lower() != words[n - 1].lower())


_BY_STAGE: tuple[tuple[Stage, str], ...] = (("found", "old"), ("planned", "new"))


def _items(box: Box, stage: Stage) -> tuple[Equipment, ...]:
    if stage == "found":
        return box.found.equipment if box.found else ()
    return box.contents.equipment


def _name(
    box: Box, at: WorkEnd, words: str, devices: Mapping[tuple[Stage, str], str], sheets: Mapping[str, Datasheet]
) -> str:
    match at.end:
        case LeadEnd(of=of, terminal=number):
            item = next(one for one in _items(box, at.contents) if one.id == of)
            return f"{devices[at.contents, of]}’s {terminal_name(sheets[item.sheet].terminals[number - 1])}"
        case GroundEnd(cable=cable):
            return f"{cable} ground"
        case BondEnd():
            return "the box’s ground screw"
        case FixtureEnd(side=side):
            called, _, told = words.rpartition(": ")
            usual = told.removeprefix(side).removeprefix(", ")
            return f"the {side} lead of {called}{f' ({usual})' if usual else ''}"
        case ConductorEnd() | PigtailEnd():
            return words
    raise AssertionError


def terminal_name(terminal: Terminal) -> str:
    """Return a terminal by its color or its screw, its role in parentheses.

    >>> terminal_name(Terminal(role="ground", color="green")), terminal_name(Terminal(role="line", kind="screw"))
    ('green lead (ground)', 'line screw')
    """
    if not terminal.color:
        return f"{terminal.role} {terminal.kind}"
    return f"{terminal.color} {terminal.kind} ({terminal.role})"


def _pigtail(at: WorkEnd, end: PigtailEnd, devices: Mapping[tuple[Stage, str], str]) -> str:
    to = devices.get((at.contents, end.to))
    return f"the pigtail to {to}" if to else f"the jumper to splice {end.to}"


def _told_apart(plain: Mapping[K, str]) -> dict[K, str]:
    """The same names, those that several have numbered in order."""
    many = Counter(plain.values())
    return dict(_numbered(plain, many))


def _numbered(plain: Mapping[K, str], many: Counter[str]) -> Iterator[tuple[K, str]]:
    seen: Counter[str] = Counter()
    for key, name in plain.items():
        seen[name] += 1
        yield key, f"{name} #{seen[name]}" if many[name] > 1 else name
