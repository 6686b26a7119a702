"""What the bench shows of a box: its answers and drawings, worked out once for the template."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ....drawing.bar import Bar, bar
from ....drawing.front import Front, front
from ....drawing.rail import Rail, rail
from ....drawing.side import Side, side
from ....drawing.warm import Warm, warm
from ....store.snapshots import BoxSnapshot
from ....trade.compare.boxes import differences
from ....trade.model.answer import Answer
from ....trade.model.box import Box, Device, Module
from ....trade.model.datasheet import Datasheet
from ....trade.model.gauge import Gauge, awg, largest, smallest
from ....trade.model.job import Terms
from ....trade.model.load import KIND_WORDS
from ....trade.model.wire import Cable
from ....trade.quick_entry.write import write_line
from ....trade.rules.check import BoxCheck, check_box
from ....trade.rules.editions import ALLOWANCES
from ....trade.rules.load.heat import warmth
from ....trade.rules.load.position import Position
from ....trade.rules.volume.csa import CSA_ALLOWANCES
from ....trade.search.smallest_change import Fix, fixes
from ... import urls
from ...form_errors import NO_ERRORS, NO_NOTICE, FormErrors, Notice


@dataclass(frozen=True, slots=True)
class Room:
    """How many more conductors of a gauge would go."""

    gauge: Gauge
    count: int


@dataclass(frozen=True, slots=True)
class Slot:
    """A gang on the bench, with the device whose leftmost gang it is."""

    gang: int
    width: int
    device: Device | None
    sheet: Datasheet | None
    channels: tuple[tuple[Answer, Bar], ...] = ()
    key: tuple[object, ...] = ()
    """What its answers follow from."""

    @property
    def channel_choices(self) -> tuple[tuple[int, str], ...]:
        """The channels of its device, by number."""
        return channel_choices(self.sheet)


@dataclass(frozen=True, slots=True)
class Loose:
    """A module loose in the box."""

    number: int
    """Among the modules, from 1."""
    module: Module
    sheet: Datasheet
    channels: tuple[tuple[Answer, Bar], ...]
    key: tuple[object, ...]
    """What its answers follow from."""

    @property
    def channel_choices(self) -> tuple[tuple[int, str], ...]:
        """Its channels, by number."""
        return channel_choices(self.sheet)


def channel_choices(sheet: Datasheet | None) -> tuple[tuple[int, str], ...]:
    """The channels of a device, by number."""
    outlets = sheet.channels if sheet else ()
    return tuple((number, outlet.name or str(number)) for number, outlet in enumerate(outlets, 1))


@dataclass(frozen=True, slots=True)
class CableTap:
    """A large target for a kind of cable that is counted often."""

    gauge: Gauge
    insulated: int
    key: str
    count: int
    last: str
    """The one that goes when there is one less; "" where there is none."""

    @property
    def size(self) -> str:
        """As the trade says it: 14/2; a ground alone by its gauge."""
        return f"{self.gauge.number}/{self.insulated}" if self.insulated else f"{self.gauge.number} ground"

    @property
    def name(self) -> str:
        """For ids: 14-2, ground."""
        return f"{self.gauge.number}-{self.insulated}" if self.insulated else "ground"


def cable_taps(box: Box) -> tuple[CableTap, ...]:
    """The cables counted most, and a ground alone, with how many of each are here as plain as a tap makes them.

    A ground alone is of the gauge of the box's other grounds, 14 AWG where there are none.
    """
    grounds = [cable.grounded_by for cable in box.cables if cable.grounds]
    common = (*COMMON_CABLES, (max(set(grounds), key=grounds.count) if grounds else awg(14), 0))
    taps = []
    for key, (gauge, insulated) in zip("qwery", common, strict=True):
        same = [c for c in box.cables if c.insulated == insulated and (not insulated or c.gauge == gauge)]
        taps.append(CableTap(gauge, insulated, key, len(same), same[-1].id if same else ""))
    return tuple(taps)


@dataclass(frozen=True, slots=True)
class DeviceTap:
    """A large target for a device."""

    sheet: Datasheet
    key: str
    fits: bool
    """Whether enough empty gangs follow one another."""


@dataclass(frozen=True, slots=True)
class Tried:
    """A what-if beside its original."""

    original: BoxCheck
    rail: Rail
    """The original's."""
    changed: tuple[str, ...]
    """What is otherwise on the copy."""
    stale: bool
    """Whether the original has changed since it was copied."""


@dataclass(frozen=True, slots=True)
class BenchView:
    """Everything the bench template shows."""

    kept: BoxSnapshot
    check: BoxCheck
    rail: Rail
    front: Front
    slots: tuple[Slot, ...]
    rooms: tuple[Room, ...]
    loose: tuple[Loose, ...] = ()
    """The modules."""
    warm: Warm | None = None
    """Where it gets warm, an estimate; None where nothing does."""
    tried: Tried | None = None
    bulk_rail: Rail | None = None
    """By real size, an estimate; None where no volume rule holds and the main rail is that already."""
    other_spaces: tuple[tuple[Answer, Rail], ...] = ()
    """The counts of the other spaces, where barriers make several."""
    side: Side | None = None
    errors: FormErrors = NO_ERRORS
    notice: Notice = NO_NOTICE
    gauges: tuple[Gauge, ...] = ()

    @property
    def fixes(self) -> tuple[Fix, ...]:
        """Single changes after which it would hold; each is tried, so that an act does not wait for them."""
        head = self.kept.job.head
        return fixes(self.check, self.kept.job.sheets, head.terms_at(self.kept.box), self.kept.job.volts)

    @property
    def sheet_choices(self) -> tuple[tuple[str, str], ...]:
        """The sheets a gang may be given, by id, with the gangs of wide ones."""
        sheets = [sheet for sheet in self.kept.job.sheets.values() if not sheet.is_module]
        return tuple((s.id, f"{s.name} ({s.gangs} gangs)" if s.gangs > 1 else s.name) for s in sheets)

    def gauge_choices(self, device: Device) -> list[tuple[str, str]]:
        """What may be the largest conductor on a device: what is in the box, and what was said before."""
        gauges = dict.fromkeys((*self.gauges, *((device.gauge,) if device.gauge else ())))
        return [("", "not said: largest in the box"), *((gauge.written, str(gauge)) for gauge in gauges)]

    def work_of(self, cable: Cable) -> str:
        """What the plan does with a cable."""
        return self.kept.box.work_of(cable.id)

    @property
    def own_circuits(self) -> list[tuple[str, str]]:
        """The circuits that feed the box."""
        first, *others = self.kept.box.circuits
        return [("", first), *((id, id) for id in others)]

    def called(self, id: str) -> str:
        """What a device or module is called."""
        item = self.kept.box.item(id)
        assert item is not None
        return item.name or self.kept.job.sheets[item.sheet].name

    @property
    def asks_neutral(self) -> bool:
        """Whether anything in it needs a neutral."""
        return any(self.kept.job.sheets[one.sheet].neutral == "needed" for one in self.kept.box.equipment)

    def settings(self, sheet: Datasheet) -> list[tuple[str, str]]:
        """The lamp types that can be set on a device."""
        return [("", "not looked at"), *((kind, KIND_WORDS[kind]) for kind in sheet.lamp_settings)]

    @property
    def cable_taps(self) -> tuple[CableTap, ...]:
        """The cables counted most."""
        return cable_taps(self.kept.box)

    @property
    def next_gang(self) -> int | None:
        """The first empty gang from the left; None where there is none."""
        return next((slot.gang for slot in self.slots if slot.device is None), None)

    @property
    def device_taps(self) -> tuple[DeviceTap, ...]:
        """The sheets last used, then those in the box, then the job's order; each keeps its place among the taps."""
        all_sheets = {id: sheet for id, sheet in self.kept.job.sheets.items() if not sheet.is_module}
        here = [device.sheet for device in reversed(self.kept.box.devices)]
        ids = list(dict.fromkeys((*here, *self.kept.job.used, *all_sheets)))[: len(DEVICE_KEYS)]
        room = _empty_run(self.slots)
        order = list(all_sheets)
        sheets = [all_sheets[id] for id in sorted((id for id in ids if id in all_sheets), key=order.index)]
        return tuple(DeviceTap(s, key, s.gangs <= room) for key, s in zip(DEVICE_KEYS, sheets, strict=False))

    @property
    def module_choices(self) -> list[tuple[str, str]]:
        """The modules that can go loose into the box."""
        return [(sheet.id, sheet.name) for sheet in self.kept.job.sheets.values() if sheet.is_module]

    @property
    def line(self) -> str:
        """The box as a line of quick entry."""
        return write_line(self.kept.box, self.kept.job.sheets, self.kept.goes)

    @property
    def base(self) -> str:
        """Where the acts on this box go."""
        return urls.box(self.kept.job.key, self.kept.box.id)


COMMON_CABLES = ((awg(14), 2), (awg(14), 3), (awg(12), 2), (awg(12), 3))
DEVICE_KEYS = "asdfgh"


def _empty_run(slots: tuple[Slot, ...]) -> int:
    """How many gangs are empty in a row from the first empty one."""
    run = 0
    for slot in slots:
        if slot.device is None:
            run += 1
        elif run:
            break
    return run


def bench_view(kept: BoxSnapshot, errors: FormErrors = NO_ERRORS, notice: Notice = NO_NOTICE) -> BenchView:
    """The bench of a box as it is."""
    box, sheets = kept.box, kept.job.sheets
    check = kept.check
    gauges = box.gauges
    thin, thick = smallest(gauges), largest(gauges)
    allowances = CSA_ALLOWANCES if check.fill.unit == "mL" else ALLOWANCES
    drawn = rail(check.fill, allowances.get(thick) if thick else None)
    rooms = tuple(
        _room(gauge, check.fill, allowances[gauge]) for gauge in dict.fromkeys((thin, thick)) if gauge in allowances
    )
    present = tuple(sorted(set(gauges)))
    terms = kept.job.head.terms_at(box)
    place = check.positions
    slots, tried = _slots(check, sheets, terms, place), _tried(kept)
    drawn_front = front(box, sheets, kept.goes)
    others = tuple((answer, rail(answer)) for answer in check.fills if answer is not check.fill)
    return BenchView(
        kept,
        check,
        drawn,
        drawn_front,
        slots,
        rooms,
        loose=_loose(check, sheets, terms, place),
        warm=warm(drawn_front, check.warmth or warmth(box, sheets, terms)),
        tried=tried,
        bulk_rail=rail(check.bulk, coarse=True) if check.fills else None,
        other_spaces=others,
        side=side(box, sheets, check.depth),
        errors=errors,
        notice=notice,
        gauges=present,
    )


def _tried(kept: BoxSnapshot) -> Tried | None:
    """The original of a what-if, and what is otherwise on the copy."""
    if kept.what_if is None:
        return None
    sheets, terms = kept.job.sheets, kept.job.head.terms_at(kept.what_if.box)
    original = check_box(kept.what_if.box, sheets, terms)
    changed = differences(original.box, kept.box, sheets)
    return Tried(original, rail(original.fill), changed, kept.what_if.number != kept.what_if.copied_at)


def _room(gauge: Gauge, fill: Answer, allowance: Fraction) -> Room:
    spare = max(fill.margin or Fraction(0), Fraction(0))
    return Room(gauge, int(spare // allowance))


def _slots(
    check: BoxCheck, sheets: Mapping[str, Datasheet], terms: Terms, place: Mapping[str, Position]
) -> tuple[Slot, ...]:
    """The gangs from the left; the gangs a wide device covers are one."""
    box, slots, gang = check.box, [], 1
    while gang <= box.enclosure.gangs:
        device = next((device for device in box.devices if device.gang == gang), None)
        sheet = sheets[device.sheet] if device else None
        answers = _of(check, device.id) if device else ()
        width = sheet.gangs if sheet else 1
        key = (gang, device, sheet, place[device.id], terms) if device else (gang,)
        slots.append(Slot(gang, width, device, sheet, answers, key))
        gang += width
    return tuple(slots)


def _loose(
    check: BoxCheck, sheets: Mapping[str, Datasheet], terms: Terms, place: Mapping[str, Position]
) -> tuple[Loose, ...]:
    """The modules with what hangs on them."""
    found = []
    for number, module in enumerate(check.box.modules, 1):
        sheet = sheets[module.sheet]
        found.append(
            Loose(number, module, sheet, _of(check, module.id), (number, module, sheet, place[module.id], terms))
        )
    return tuple(found)


def _of(check: BoxCheck, item: str) -> tuple[tuple[Answer, Bar], ...]:
    """The answers of a device, each with its bar."""
    return tuple((a, bar(a)) for a in check.ratings if a.subject.of == item)
