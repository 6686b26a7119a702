"""What the bench shows of a box: its answers and drawings, worked out once for the template."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ..drawing.badge import badge_text
from ..drawing.bar import Bar, bar
from ..drawing.front import Front, front
from ..drawing.rail import Rail, rail
from ..store.kept import KeptBox, Summary
from ..trade.check import BoxCheck
from ..trade.fixes import Fix, fixes
from ..trade.model.answer import Answer, State
from ..trade.model.box import Device
from ..trade.model.complaint import Complaint
from ..trade.model.sheet import Sheet
from ..trade.model.wire import Gauge, largest, smallest
from ..trade.rules.nec_editions import ALLOWANCES
from ..trade.speak import say
from ..trade.written_line import write_line


@dataclass(frozen=True, slots=True)
class Refusal:
    """An act that was refused: which form, what was typed, what was expected."""

    form: str
    typed: Mapping[str, str]
    complaints: tuple[Complaint, ...]

    def value(self, form: str, name: str, default: object) -> object:
        """What stands in a field: what was typed where its form was refused."""
        return self.typed.get(name, default) if form == self.form else default

    def at(self, form: str, name: str) -> str:
        """What was expected in a field; "" where nothing is wrong with it."""
        if form != self.form:
            return ""
        return "; ".join(c.sentence for c in self.complaints if c.path and c.path[-1] == name)

    def rest(self, form: str, names: tuple[str, ...]) -> str:
        """What is wrong with a form beside the fields it shows."""
        if form != self.form:
            return ""
        return "; ".join(c.sentence for c in self.complaints if not c.path or c.path[-1] not in names)


NO_REFUSAL = Refusal("", {}, ())


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
    sheet: Sheet | None
    channels: tuple[tuple[Answer, Bar], ...] = ()

    @property
    def channel_choices(self) -> tuple[tuple[int, str], ...]:
        """The channels of its device, by number."""
        outlets = self.sheet.channels if self.sheet else ()
        return tuple((number, outlet.name or str(number)) for number, outlet in enumerate(outlets, 1))


@dataclass(frozen=True, slots=True)
class CableTap:
    """A large target for a kind of cable that is counted often."""

    gauge: int
    insulated: int
    key: str
    count: int
    last: str
    """The one that goes when there is one less; "" where there is none."""

    @property
    def size(self) -> str:
        """As the trade says it: 14/2."""
        return f"{self.gauge}/{self.insulated}"

    @property
    def name(self) -> str:
        """For ids: 14-2."""
        return f"{self.gauge}-{self.insulated}"


@dataclass(frozen=True, slots=True)
class DeviceTap:
    """A large target for a device."""

    sheet: Sheet
    key: str
    fits: bool
    """Whether enough empty gangs follow one another."""


@dataclass(frozen=True, slots=True)
class BenchView:
    """Everything the bench template shows."""

    kept: KeptBox
    check: BoxCheck
    rail: Rail
    front: Front
    slots: tuple[Slot, ...]
    rooms: tuple[Room, ...]
    fixes: tuple[Fix, ...] = ()
    refusal: Refusal = NO_REFUSAL
    notice: str = ""
    gauges: tuple[Gauge, ...] = ()

    @property
    def sheet_choices(self) -> tuple[tuple[str, str], ...]:
        """The sheets a gang may be given, by id, with the gangs of wide ones."""
        sheets = self.kept.job.sheets.values()
        return tuple((s.id, f"{s.name} ({s.gangs} gangs)" if s.gangs > 1 else s.name) for s in sheets)

    def gauge_choices(self, device: Device) -> list[tuple[str, str]]:
        """What may be the largest conductor on a device: what is in the box, and what was said before."""
        gauges = dict.fromkeys((*self.gauges, *((device.gauge,) if device.gauge else ())))
        return [("", "not said: largest in the box"), *((str(gauge), f"{gauge} AWG") for gauge in gauges)]

    @property
    def cable_taps(self) -> tuple[CableTap, ...]:
        """The cables counted most, with how many of each are here as plain as a tap makes them."""
        taps = []
        for key, (gauge, insulated) in zip("qwer", COMMON_CABLES, strict=True):
            here = [c.id for c in self.kept.box.cables if (c.gauge, c.insulated) == (gauge, insulated)]
            taps.append(CableTap(gauge, insulated, key, len(here), here[-1] if here else ""))
        return tuple(taps)

    @property
    def next_gang(self) -> int | None:
        """The first empty gang from the left; None where there is none."""
        return next((slot.gang for slot in self.slots if slot.device is None), None)

    @property
    def device_taps(self) -> tuple[DeviceTap, ...]:
        """Sheets that are in the box already first, then in the job's order."""
        here = [device.sheet for device in reversed(self.kept.box.devices)]
        ids = list(dict.fromkeys((*here, *self.kept.job.sheets)))[: len(DEVICE_KEYS)]
        room = _empty_run(self.slots)
        sheets = [self.kept.job.sheets[id] for id in sorted(ids, key=list(self.kept.job.sheets).index)]
        return tuple(DeviceTap(s, key, s.gangs <= room) for key, s in zip(DEVICE_KEYS, sheets, strict=False))

    @property
    def line(self) -> str:
        """The box as a line of quick entry."""
        return write_line(self.kept.box, self.kept.job.sheets)

    @property
    def base(self) -> str:
        """Where the acts on this box go."""
        return f"/jobs/{self.kept.job.key}/boxes/{self.kept.box.id}/"


COMMON_CABLES = ((14, 2), (14, 3), (12, 2), (12, 3))
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


def bench_view(kept: KeptBox, refusal: Refusal = NO_REFUSAL, notice: str = "") -> BenchView:
    """The bench of a box as it is."""
    box, sheets = kept.box, kept.job.sheets
    check = kept.check
    gauges = [gauge for cable in box.cables for gauge in cable.gauges]
    thin, thick = smallest(gauges), largest(gauges)
    drawn = rail(check.fill, ALLOWANCES[thick] if thick else None)
    rooms = tuple(_room(gauge, check.fill) for gauge in dict.fromkeys((thin, thick)) if gauge is not None)
    present = tuple(sorted(set(gauges), reverse=True))
    ways_out = fixes(check, sheets, kept.job.head.terms)
    return BenchView(
        kept, check, drawn, front(box, sheets), _slots(check, sheets), rooms, ways_out, refusal, notice, present
    )


def _room(gauge: Gauge, fill: Answer) -> Room:
    spare = max(fill.margin or Fraction(0), Fraction(0))
    return Room(gauge, int(spare // ALLOWANCES[gauge]))


def _slots(check: BoxCheck, sheets: Mapping[str, Sheet]) -> tuple[Slot, ...]:
    """The gangs from the left; the gangs a wide device covers are one."""
    box, slots, gang = check.box, [], 1
    while gang <= box.enclosure.gangs:
        device = next((device for device in box.devices if device.gang == gang), None)
        sheet = sheets[device.sheet] if device else None
        answers = [a for a in check.ratings if device and a.subject.split("/")[0] == device.id]
        width = sheet.gangs if sheet else 1
        slots.append(Slot(gang, width, device, sheet, tuple((answer, bar(answer)) for answer in answers)))
        gang += width
    return tuple(slots)


def summarise(check: BoxCheck) -> Summary:
    """What lists show of a box."""
    binding = check.binding
    says = say(binding.headline)
    if binding.about == "rating" and binding.state > State.HOLDS:
        says = f"{say(binding.title)}: {says}"
    return Summary(check.state, says, badge_text(check.fill))
