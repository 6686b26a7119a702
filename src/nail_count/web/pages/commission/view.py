"""What the screen shows of a device brought into use."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from starlette.requests import Request

from ....store.snapshots import BoxSnapshot
from ....store.store import Store
from ....trade.assume.wired import look_as_usual
from ....trade.model.answer import Text
from ....trade.model.hub import Hub
from ....trade.plan.commission.expect import burning
from ....trade.plan.commission.progress import DeviceDone, DoneStep, progress_of_each, together
from ....trade.plan.commission.steps import to_commission
from ....trade.plan.commission.trim import LEVELS, Trim, next_trim
from ....trade.plan.commission.watts import sum_of, weighed
from ....trade.wiring.simulate.hub import Heard, SimulatedHub
from ....trade.wiring.simulate.relay import relay_reading
from ...ticking import as_said, said_together, who_asks


@dataclass(frozen=True, slots=True)
class TrimSeen:
    """Where the search for the low-end trim stands."""

    sure: tuple[int, ...]
    unsure: tuple[int, ...]
    trim: Trim
    starts: bool
    """Whether the simulated lamps start surely at the next level."""


@dataclass(frozen=True, slots=True)
class CommissionView:
    """One step of one device of a box, and all there are."""

    kept: BoxSnapshot
    devices: tuple[DeviceDone, ...]
    number: int
    """Which device is shown, from 0."""
    step: int
    """Which of its steps, from 0; past the last where all are settled."""
    who: str
    hub: SimulatedHub
    codes: frozenset[str]
    """The devices whose code is kept."""
    code: str
    """The code asked to be shown; "" for none."""
    trim: TrimSeen
    burns: tuple[tuple[str, bool], ...]
    """Its loads, and whether each should be lit as the hub has it now."""
    came_with: str
    """The firmware it came with, by its hub; "" where the hub does not know it."""
    says: Text
    """The words about its watts."""
    reports: str
    """What the simulated relay reports [W]; "" where it does not."""

    @property
    def device(self) -> DeviceDone | None:
        """The device shown; None where there is none to bring into use."""
        return self.devices[self.number] if self.devices else None

    @property
    def one(self) -> DoneStep | None:
        """The step shown."""
        return self.device.steps[self.step] if self.device and self.step < len(self.device.steps) else None

    @property
    def together(self) -> tuple[DoneStep, ...]:
        """The steps that may be noted together with the one shown, itself first; () where none may."""
        some = together(self.device, self.step) if self.device else ()
        return some if len(some) > 1 else ()

    @property
    def said_together(self) -> str:
        """These steps, as their form says them, a line each."""
        return said_together((one.at.step for one in self.together), self.kept.box)

    @property
    def said(self) -> str:
        """The step shown, as its forms say it."""
        return "" if self.one is None else as_said(self.one.at.step, self.kept.box)

    @property
    def settled(self) -> int:
        """How many steps of all devices are settled."""
        return sum(one.settled for one in self.devices)

    @property
    def count(self) -> int:
        """How many there are."""
        return sum(len(one.steps) for one in self.devices)

    @property
    def heard(self) -> Sequence[Heard]:
        """What the hub answered of this device, the newest first."""
        at = self.device.of.at if self.device else ""
        return [one for one in self.hub.memory.heard if one.device == at][:5]

    @property
    def left_over(self) -> tuple[str, ...]:
        """What the hub holds that is none of this house."""
        return self.hub.memory.others


def commission_view(
    request: Request, store: Store, job: str, *, box: str, device: str = "", step: int | None = None, code: str = ""
) -> CommissionView:
    """What the screen shows.

    Args:
        request: whose it is.
        device: which of its devices; the first that is not through where none is named.
        step: which step, from 1; the first that is not settled where none is named.
        code: the setup code asked to be shown.
    """
    kept = store.wired_box(job, box)
    assert kept.wiring is not None
    devices = progress_of_each(to_commission(kept.wiring, box), store.ticks(job), kept.box)
    ids = [one.of.item.id for one in devices]
    first = next((n for n, one in enumerate(devices) if not one.over), 0)
    number = ids.index(device) if device in ids else first
    shown = devices[number] if devices else None
    steps = len(shown.steps) if shown else 0
    at = step - 1 if step is not None and 0 < step <= steps else (shown.next if shown else 0)
    hub = store.hub(job)
    known = {one.device: one for one in hub.memory.radios}
    radio = known.get(shown.of.at) if shown else None
    burns = burning(look_as_usual(kept.wiring, box)[0], shown.of.at, radio.on) if shown and radio else ()
    reports, says = _watts(kept, shown, hub)
    return CommissionView(
        kept,
        devices,
        number,
        at,
        who_asks(request),
        hub,
        frozenset(store.codes(job, box)),
        code,
        _trim(request, hub, shown),
        burns,
        radio.came_with if radio and radio.joined else "",
        says,
        reports,
    )


def _trim(request: Request, hub: SimulatedHub, shown: DeviceDone | None) -> TrimSeen:
    def levels(name: str) -> tuple[int, ...]:
        said = request.query_params.getlist(name)
        return tuple(level for level in LEVELS if str(level) in said)

    trim = next_trim(levels("sure"), levels("unsure"))
    starts = bool(shown and trim.next is not None and hub.starts(shown.of.at, trim.next))
    return TrimSeen(levels("sure"), levels("unsure"), trim, starts)


def _watts(kept: BoxSnapshot, shown: DeviceDone | None, hub: Hub) -> tuple[str, Text]:
    if shown is None or not shown.of.sheet.metering:
        return "", ()
    terms, item = kept.job.head.terms_at(kept.box), shown.of.item
    reports = ""
    if sum_of(item, terms.voltage, terms.assume) is not None:
        drawn = hub.watts(shown.of.at, float(sum(relay_reading(load, terms) for load in item.loads)))
        reports = f"{drawn:g}" if drawn is not None else ""
    noted = shown.of.noted.watts
    says = weighed(noted.value, item, shown.of.sheet, terms.voltage, terms.assume).says if noted is not None else ()
    return reports, says
