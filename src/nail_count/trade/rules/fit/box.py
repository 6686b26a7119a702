"""Whether a box fits its job: the sheets its devices name, the circuits that feed it, its own barriers and sizes.

A finding, never a validator. An edit may not add a misfit; a box that carries one is shown with what to mend, and the
rules are asked about the part of it that fits, so that no page of its job fails for it.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import get_args

from ...model.answer import Answer, FitCode, Remark, Rule, State, Subject
from ...model.box import Box, Device, Equipment, Module
from ...model.conductor import Reading, To
from ...model.datasheet import Datasheet
from ...model.enclosure import Barrier, Ring
from ...model.errors import Rejected
from ...model.load import Load
from ...model.measure import Length, Volume

MOST_VOLUME = Fraction(1000)
"""Of a ring, a barrier or a box of the stock list [in³]; no switch box comes near."""
MOST_DEPTH = Fraction(1000)
"""Of a ring or a box of the stock list [mm]."""
MOST_RINGS = 4
MOST_LOADS = 40
"""On one device."""
MOST_ON = 8
"""Breakers named with one reading: those that feed the box, and a few beside."""
OF_THE_JOB = Rule("the job itself", standing="arithmetic")


@dataclass(frozen=True, slots=True)
class Misfit:
    """One thing that does not fit."""

    code: FitCode
    subject: str
    """Of what, inside its box or job."""
    sentence: str
    """The fact."""
    mend: str
    """What would mend it, in a few words."""
    field: str = ""
    """The field it belongs to."""
    excess: Fraction = Fraction(0)
    """By how much, where there is a measure of it."""


def mends(misfits: Iterable[Misfit]) -> str:
    """What would mend these, in a few words, each once."""
    return ", and ".join(dict.fromkeys(one.mend for one in misfits))


class DoesNotFit(Rejected):
    """Something was not done: afterwards something would no longer fit that fits now."""

    def __init__(self, misfits: tuple[Misfit, ...], whose: str = "", mendable: bool = True) -> None:
        first = misfits[0]
        super().__init__(f"It doesn't fit: {whose}{first.sentence}", first.field)
        self.misfits = misfits
        self.whose = whose
        """Name the box at the start of a sentence; "" for the house."""
        self.mendable = mendable
        """Whether it could be done by leaving out what does not fit."""

    @property
    def mends(self) -> str:
        """What would mend it all, in a few words."""
        return mends(self.misfits)


@dataclass(frozen=True, slots=True)
class Fit:
    """A box as far as it fits, and what of it does not."""

    box: Box
    """The part that fits: what the rules are asked about, and what mending leaves."""
    misfits: tuple[Misfit, ...]


def fit(
    box: Box,
    sheets: Mapping[str, Datasheet],
    circuits: Collection[str] | None = None,
    boxes: Collection[str] | None = None,
) -> Fit:
    """What of a box fits its job.

    Args:
        sheets: the job's, by id.
        circuits: ids of the job's circuits; None: not judged.
        boxes: keys of the job's boxes, outlets among them; None: not judged.

    >>> lost = Box(id="b", name="B", room="R", circuit="7")
    >>> [one.sentence for one in fit(lost, {}, ("1", "2")).misfits], fit(lost, {}, ("1", "2")).box.circuit
    (['it is on circuit “7”, which is not among the circuits'], None)
    """
    found: list[Misfit] = []
    changes: dict[str, object] = {}
    for field, new in (
        *_fed(box, circuits, found),
        *_kept_devices(box, sheets, boxes, found),
        *_kept_modules(box, sheets, boxes, found),
        *_enclosed(box, found),
        *_in_spaces(box, found),
        *_read(box, found),
    ):
        changes[field] = new
    if not found:
        return Fit(box, ())
    modules = changes.get("modules", box.modules)
    assert isinstance(modules, tuple)
    spaces = len(box.enclosure.barriers) + 1
    changes["modules"] = tuple(_into_a_space(module, spaces) for module in modules)
    return Fit(box.changed(**changes), tuple(found))


def added(before: Iterable[Misfit], after: Iterable[Misfit]) -> tuple[Misfit, ...]:
    """The misfits that were not there before, or are worse now."""
    known = {(one.code, one.subject): one.excess for one in before}
    return tuple(one for one in after if one.excess > known.get((one.code, one.subject), Fraction(-1)))


def newly_wrong(
    before: Box, after: Box, sheets: Mapping[str, Datasheet], circuits: Collection[str] | None = None
) -> Misfit | None:
    """The first misfit a change would add; None where it adds none."""
    after_all = fit(after, sheets, circuits).misfits
    return next(iter(added(fit(before, sheets, circuits).misfits, after_all)), None) if after_all else None


def fit_answer(subject: Subject, misfits: tuple[Misfit, ...]) -> Answer | None:
    """Misfits as an answer: open, since what contradicts itself cannot be counted; None where everything fits."""
    if not misfits:
        return None
    remarks = tuple(Remark(one.code, (one.sentence,), OF_THE_JOB, State.OPEN, (one.mend,)) for one in misfits)
    return Answer("fit", subject, ("To mend",), "", (), (), Fraction(0), None, State.OPEN, remarks[0].text, remarks)


Changes = Iterator[tuple[str, object]]


def _fed(box: Box, circuits: Collection[str] | None, found: list[Misfit]) -> Changes:
    if circuits is None:
        return
    gone = [id for id in box.circuits if id not in circuits]
    for id in gone:
        sentence = f"it is on circuit “{id}”, which is not among the circuits"
        field = "circuit" if id == box.circuit else "other_circuits"
        found.append(Misfit("circuit", id, sentence, f"leave open that circuit {id} feeds it", field))
    if gone:
        yield "circuit", None if box.circuit in gone else box.circuit
        yield "other_circuits", tuple(id for id in box.other_circuits if id not in gone)


def _kept_devices(
    box: Box, sheets: Mapping[str, Datasheet], boxes: Collection[str] | None, found: list[Misfit]
) -> Changes:
    taken: dict[int, str] = {}
    kept: list[Device] = []
    known = len(found)
    for device in box.devices:
        sheet = sheets.get(device.sheet)
        wrong = _misplaced(device, sheet, box.enclosure.gangs, taken) or _divided(device, sheet, box)
        if wrong is not None or sheet is None:
            found.append(wrong or _no_sheet(device))
            continue
        for gang in range(device.gang, device.gang + sheet.gangs):
            taken[gang] = sheet.name
        loads = _hanging(device, sheet, boxes, found)
        kept.append(device if loads is None else device.changed(loads=loads))
    if len(found) > known:
        yield "devices", tuple(kept)


def _kept_modules(
    box: Box, sheets: Mapping[str, Datasheet], boxes: Collection[str] | None, found: list[Misfit]
) -> Changes:
    kept: list[Module] = []
    known = len(found)
    for module in box.modules:
        sheet = sheets.get(module.sheet)
        if sheet is None or not sheet.is_module:
            sentence = f"module “{module.id}” names the sheet “{module.sheet}”, which is no module among the sheets"
            found.append(Misfit("sheet", module.id, sentence, f"leave out module {module.id}", "sheet"))
            continue
        loads = _hanging(module, sheet, boxes, found)
        mended = module.changed(loads=loads) if loads is not None else module
        if module.gang is not None and module.gang > box.enclosure.gangs:
            sentence = f"“{module.id}” lies behind gang {module.gang} of a box with {box.enclosure.gangs}"
            found.append(Misfit("behind", module.id, sentence, f"leave open where {module.id} lies", "gang"))
            mended = mended.changed(gang=None)
        kept.append(mended)
    if len(found) > known:
        yield "modules", tuple(kept)


def _no_sheet(device: Device) -> Misfit:
    sentence = f"device “{device.id}” names the sheet “{device.sheet}”, which is not among the sheets"
    return Misfit("sheet", device.id, sentence, f"leave out device {device.id}", "sheet")


def _misplaced(device: Device, sheet: Datasheet | None, gangs: int, taken: Mapping[int, str]) -> Misfit | None:
    """The misfits of a device's place."""
    if sheet is None:
        return None
    mend = f"take {sheet.name} out of gang {device.gang}"
    if sheet.is_module:
        sentence = f"{sheet.name} is a module: it sits on no yoke and takes no gang"
        return Misfit("sheet", device.id, sentence, mend, "sheet")
    last = device.gang + sheet.gangs - 1
    if last > gangs:
        sentence = (
            f"{sheet.name} takes {sheet.gangs} gangs; from gang {device.gang} it would reach gang {last} "
            f"of a box with {gangs}"
        )
        return Misfit("gangs", device.id, sentence, mend, "gang", Fraction(last - gangs))
    for gang in range(device.gang, last + 1):
        if gang in taken:
            sentence = f"gang {gang} would hold two yokes: {taken[gang]} and {sheet.name}"
            return Misfit("yokes", device.id, sentence, mend, "gang")
    return None


def _divided(device: Device, sheet: Datasheet | None, box: Box) -> Misfit | None:
    """The misfits where a barrier would go through a device."""
    last = device.gang + (1 if sheet is None else sheet.gangs) - 1
    through = [one.after for one in box.enclosure.barriers if device.gang <= one.after < last]
    if sheet is None or not through:
        return None
    sentence = f"{sheet.name} takes gangs {device.gang} to {last}; a barrier stands behind gang {through[0]}"
    return Misfit("barrier", device.id, sentence, f"take {sheet.name} out of gang {device.gang}", "gang")


def _hanging(
    item: Equipment, sheet: Datasheet, boxes: Collection[str] | None, found: list[Misfit]
) -> tuple[Load, ...] | None:
    """The loads that can hang there, where some cannot; None where all can."""
    channels, known = len(sheet.channels), len(found)
    for load in item.loads:
        if load.channel > channels:
            sentence = f"{sheet.name} has {channels} channels; a load is on channel {load.channel}"
            mend = f"take load {load.id} off channel {load.channel} of {sheet.name}"
            found.append(Misfit("channel", load.id, sentence, mend, "channel", Fraction(load.channel - channels)))
        if boxes is not None and load.outlet is not None and load.outlet not in boxes:
            sentence = f"load {load.id} is entered at “{load.outlet}”, which is not among the boxes"
            found.append(Misfit("outlet", load.id, sentence, f"leave open where load {load.id} hangs", "outlet"))
    if len(item.loads) > MOST_LOADS:
        sentence = f"{len(item.loads)} loads are on {sheet.name}; at most {MOST_LOADS} can be there"
        excess = Fraction(len(item.loads) - MOST_LOADS)
        found.append(Misfit("limit", f"loads of {item.id}", sentence, "leave out the last of them", "load", excess))
    if len(found) == known:
        return None
    here = (load for load in item.loads if load.channel <= channels)
    lost = {load.id for load in item.loads if boxes is not None and load.outlet not in (None, *boxes)}
    mended = (load.changed(outlet=None) if load.id in lost else load for load in here)
    return tuple(mended)[:MOST_LOADS]


def _enclosed(box: Box, found: list[Misfit]) -> Changes:
    enclosure, known = box.enclosure, len(found)
    rings = tuple(_ring(number, ring, found) for number, ring in enumerate(enclosure.rings, 1))
    if len(rings) > MOST_RINGS:
        sentence = f"{len(rings)} rings are on it; at most {MOST_RINGS} can be there"
        excess = Fraction(len(rings) - MOST_RINGS)
        found.append(Misfit("limit", "rings", sentence, "leave out the last of them", "kind", excess))
    barriers = tuple(_barrier(barrier, found) for barrier in enclosure.barriers)
    if len(found) > known:
        yield "enclosure", enclosure.changed(rings=rings[:MOST_RINGS], barriers=barriers)


def _ring(number: int, ring: Ring, found: list[Misfit]) -> Ring:
    mended = ring
    if volume := _too_large(ring.volume):
        found.append(_size(f"ring {number}", f"a ring of {ring.volume}", volume, "volume"))
        mended = mended.changed(volume=None)
    if depth := _too_deep(ring.depth):
        found.append(_size(f"depth of ring {number}", f"a ring of {ring.depth}", depth, "depth"))
        mended = mended.changed(depth=None)
    return mended


def _barrier(barrier: Barrier, found: list[Misfit]) -> Barrier:
    if wrong := _too_large(barrier.volume):
        found.append(_size(f"barrier {barrier.after}", f"a barrier of {barrier.volume}", wrong, "volume"))
        return barrier.changed(volume=None)
    return barrier


def _size(subject: str, what: str, expected: str, field: str) -> Misfit:
    return Misfit("size", subject, f"{what} is on it; enter {expected}", f"leave the size of {subject} open", field)


def _too_large(volume: Volume | None) -> str:
    """What was expected of a volume; "" where it can be so."""
    within = volume is None or 0 < volume.in3 <= MOST_VOLUME
    return "" if within else f"more than 0 and at most {MOST_VOLUME} in³"


def _too_deep(depth: Length | None) -> str:
    within = depth is None or 0 <= depth.mm <= MOST_DEPTH
    return "" if within else f"at most {MOST_DEPTH} mm (39 in)"


def _in_spaces(box: Box, found: list[Misfit]) -> Changes:
    most = len(box.enclosure.barriers) + 1
    lying = [
        *((one.id, one.space) for one in box.cables),
        *((one.id, one.space) for one in box.modules),
        *((one.id, one.space) for one in box.splices),
        *((f"block{number}", one.space) for number, one in enumerate(box.terminal_blocks, 1)),
    ]
    for id, space in lying:
        if space > most:
            sentence = f"“{id}” is in space {space} of a box with {most}"
            found.append(
                Misfit("space", id, sentence, f"bring {id} into space {most}", "space", Fraction(space - most))
            )
    if any(cable.space > most for cable in box.cables):
        yield "cables", tuple(cable.changed(space=most) if cable.space > most else cable for cable in box.cables)
    if any(one.space > most for one in box.splices):
        yield "splices", tuple(one.changed(space=most) if one.space > most else one for one in box.splices)
    if any(one.space > most for one in box.terminal_blocks):
        blocks = box.terminal_blocks
        yield "terminal_blocks", tuple(one.changed(space=most) if one.space > most else one for one in blocks)


def _into_a_space(module: Module, spaces: int) -> Module:
    return module.changed(space=spaces) if module.space > spaces else module


def _read(box: Box, found: list[Misfit]) -> Changes:
    """Readings at a wire the box doesn't have, or with more breakers on than can feed it."""
    cable_of = {id: cable.id for cable in box.cables for id in cable.conductor_ids}
    wrong = {one.id: misfit for one in box.readings if (misfit := _misread(one, cable_of)) is not None}
    found.extend(wrong.values())
    if wrong:
        yield "readings", tuple(reading for reading in box.readings if reading.id not in wrong)


def _misread(reading: Reading, cable_of: Mapping[str, str]) -> Misfit | None:
    """The misfits of a reading.

    Args:
        reading: one of a box.
        cable_of: the cable of each conductor of that box.
    """
    mend = f"leave out reading {reading.id}"
    if (over := len(reading.on) - MOST_ON) > 0:
        sentence = f"reading {reading.id} names {len(reading.on)} breakers that were on; {MOST_ON} is the most"
        return Misfit("limit", reading.id, sentence, mend, "on", Fraction(over))
    if reading.of not in cable_of:
        sentence = f"reading {reading.id} is on a wire “{reading.of}”, and this box has no such wire"
        return Misfit("reading", reading.id, sentence, mend, "of")
    if reading.to in get_args(To):
        return None
    if reading.to == reading.of or cable_of.get(reading.to) != cable_of[reading.of]:
        sentence = f"reading {reading.id} goes from {reading.of} to “{reading.to}”, which is no other wire of its cable"
        return Misfit("reading", reading.id, sentence, mend, "to")
    return None
