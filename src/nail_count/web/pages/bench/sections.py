"""The sections of the bench: what each shows of a box, made from its check."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

from ....drawing.bar import Bar, bar
from ....drawing.front import GANG, Entry, Front, front
from ....drawing.rail import Rail, line_keys, rail
from ....drawing.side import side
from ....drawing.warm import Warm, warm
from ....store.snapshots import BoxSnapshot
from ....trade.assume.verdict import Verdict
from ....trade.compare.boxes import differences
from ....trade.model.answer import Answer, State, Text
from ....trade.model.box import Box, Device, Equipment, Module
from ....trade.model.datasheet import Datasheet
from ....trade.model.gauge import Gauge, awg, largest, smallest
from ....trade.quick_entry.write import write_line
from ....trade.rules.check import check_box
from ....trade.rules.conductor_volumes import ALLOWANCES
from ....trade.rules.load.heat import warmth
from ....trade.rules.volume.csa import CSA_ALLOWANCES
from ....trade.text.format import sum_up
from ....trade.wiring.hookup.unsaid import not_hooked_up
from ... import urls
from ...box_screen import notices_of
from ...form_errors import Notice
from ...sections import Section
from . import view

COMMON_CABLES = ((awg(14), 2), (awg(14), 3), (awg(12), 2), (awg(12), 3))
DEVICE_KEYS = "asdfgh"


def bench_sections(kept: BoxSnapshot, notice: Notice) -> tuple[Section, ...]:
    """Everything the bench shows of a box, section by section.

    Args:
        kept: the box as it is.
        notice: the notice above it of an act that was not done.
    """
    drawn, verdict = front(kept.box, kept.job.sheets, kept.goes), kept.verdict
    terms = kept.job.head.terms_at(kept.box)
    warmed = warm(drawn, kept.check.warmth or warmth(kept.box, kept.job.sheets, terms, kept.job.volts))
    return (
        Section("verdict-section", "bench/verdict.html", _heading(kept, notice, verdict)),
        Section("tally", "bench/tally.html", None, (
            Section("cable-taps", "bench/cable_taps.html", cable_taps(kept.box)),
            Section("device-taps", "bench/device_taps.html", _device_taps(kept)),
        )),
        Section("front-section", "bench/front.html", _drawing(kept, drawn, warmed)),
        _ledger(kept),
        _quick(kept, warmed),
        _gangs(kept, verdict),
        Section("facts", "bench/facts.html", _facts(kept)),
        Section("history-section", "bench/history.html", tuple(kept.history)),
    )  # fmt: skip


def cable_taps(box: Box) -> tuple[view.CableTap, ...]:
    """The cables counted most, and a ground alone, with how many of each are here as plain as a tap makes them.

    A ground alone is of the gauge of the box's other grounds, 14 AWG where there are none.
    """
    grounds = [cable.grounded_by for cable in box.cables if cable.grounds]
    common = (*COMMON_CABLES, (max(set(grounds), key=grounds.count) if grounds else awg(14), 0))
    taps = []
    for key, (gauge, insulated) in zip("qwery", common, strict=True):
        same = [c for c in box.cables if c.insulated == insulated and (not insulated or c.gauge == gauge)]
        taps.append(view.CableTap(gauge, insulated, key, len(same), same[-1].id if same else ""))
    return tuple(taps)


def _heading(kept: BoxSnapshot, notice: Notice, verdict: Verdict) -> view.Heading:
    """How the box stands: the count on its rail, and what else is reckoned of the room."""
    box, check = kept.box, kept.check
    in_trial = kept.what_if is not None
    others = (answer for answer in check.fills if answer is not check.fill)
    return view.Heading(
        notices=notices_of(kept, notice),
        tried=_tried(kept),
        title=view.Title(box.name, box.room, box.circuits),
        steps=view.Steps(kept.can_undo, kept.can_redo, in_trial, bool(kept.open_trial)),
        stands=view.Stands(check.state.word, check.headline, bool(check.fills), verdict),
        ways=view.Ways(kept.number if check.state is State.FAILS else 0, False),
        count=_count(kept),
        spaces=tuple(_more_rail(answer, rail(answer)) for answer in others),
        bulk=_more_rail(check.bulk, rail(check.bulk, coarse=True), _both(kept)) if check.fills else None,
        depth=_more_rail(check.depth, None) if check.depth else None,
    )


def _tried(kept: BoxSnapshot) -> view.Tried | None:
    """The original of a what-if, and the differences of the copy."""
    if kept.what_if is None:
        return None
    sheets, terms = kept.job.sheets, kept.job.head.terms_at(kept.what_if.box)
    original = check_box(kept.what_if.box, sheets, terms)
    changed = differences(original.box, kept.box, sheets)
    stale = kept.what_if.number != kept.what_if.copied_at
    at = urls.box(kept.job.base, kept.box.id)
    drawn = rail(original.fill)
    return view.Tried(
        at, original.state.word, sum_up(original.fill), original.headline, drawn, changed, stale, kept.number
    )


def _count(kept: BoxSnapshot) -> view.Count:
    """The count on its rail, with the room that is left."""
    check, gauges = kept.check, kept.box.gauges
    thin, thick = smallest(gauges), largest(gauges)
    allowances = CSA_ALLOWANCES if check.fill.unit == "mL" else ALLOWANCES
    drawn = rail(check.fill, allowances.get(thick) if thick else None)
    rooms = tuple(
        _room(gauge, check.fill, allowances[gauge]) for gauge in dict.fromkeys((thin, thick)) if gauge in allowances
    )
    fill = check.fill
    return view.Count(sum_up(fill), fill.state.word, fill.margin, fill.unit, bool(check.fills), rooms, drawn)


def _more_rail(answer: Answer, drawn: Rail | None, remark: str = "") -> view.MoreRail:
    return view.MoreRail(answer.state.word, answer.title, sum_up(answer), answer.headline, drawn, remark)


def _both(kept: BoxSnapshot) -> str:
    """What bulk and the count say together, where they differ."""
    check = kept.check
    if check.bulk.state is State.FAILS and check.fill.state.passes and (not check.depth or check.depth.state.passes):
        return "Legal, but it will not close."
    if check.bulk.state is State.HOLDS and check.fill.state is State.FAILS:
        return "It would go in, but the count does not allow it."
    return ""


def _room(gauge: Gauge, fill: Answer, allowance: Fraction) -> view.Room:
    spare = max(fill.margin or Fraction(0), Fraction(0))
    return view.Room(gauge, int(spare // allowance))


def _quick(kept: BoxSnapshot, warmed: Warm | None) -> Section:
    """The box as a line, its cables, its side, its warmth."""
    box = kept.box
    cables = tuple(view.CableRow(one, kept.goes.get(one.id, ""), box.work_of(one.id)) for one in box.cables)
    cut = side(box, kept.job.sheets, kept.check.depth, kept.job.head.terms.code)
    heats = tuple((_called(kept, id), heat) for id, heat in warmed.heats) if warmed else ()
    return Section("quick-section", "bench/quick.html", None, (
        Section("quick", "bench/quick_line.html", write_line(box, kept.job.sheets, kept.goes)),
        Section("cable-list", "bench/cables.html", cables),
        Section("other-cable", "bench/other_cable.html", None),
        Section("side-view", "bench/side.html", cut),
        Section("warm-figures", "bench/warm.html", view.Warmth(warmed, heats, box.survey.insulated)),
    ))  # fmt: skip


def _device_taps(kept: BoxSnapshot) -> view.DeviceTaps:
    """The sheets last used, then those in the box, then the job's order; each keeps its place among the taps."""
    all_sheets = {id: sheet for id, sheet in kept.job.sheets.items() if not sheet.is_module}
    here = [device.sheet for device in reversed(kept.box.devices)]
    ids = list(dict.fromkeys((*here, *kept.job.used, *all_sheets)))[: len(DEVICE_KEYS)]
    order = list(all_sheets)
    sheets = [all_sheets[id] for id in sorted((id for id in ids if id in all_sheets), key=order.index)]
    empty = _empty_gangs(kept)
    run = next((n for n, gang in enumerate(empty) if gang != empty[0] + n), len(empty))
    taps = (
        view.DeviceTap(sheet.id, sheet.name, sheet.gangs, key, sheet.gangs <= run)
        for key, sheet in zip(DEVICE_KEYS, sheets, strict=False)
    )
    return view.DeviceTaps(tuple(taps), empty[0] if empty else None)


def _empty_gangs(kept: BoxSnapshot) -> list[int]:
    """The gangs that hold nothing, from the left."""
    sheets = kept.job.sheets
    taken = {gang for one in kept.box.devices for gang in range(one.gang, one.gang + sheets[one.sheet].gangs)}
    return [gang for gang in range(1, kept.box.enclosure.gangs + 1) if gang not in taken]


def _drawing(kept: BoxSnapshot, drawn: Front, warmed: Warm | None) -> view.Drawing:
    """The box from the front, with the loads of each device straight under it."""
    wide = drawn.view.width
    grid = view.Grid(len(drawn.gangs), (drawn.gangs[0] - GANG / 2 - drawn.view.x) / wide, GANG / wide)
    return view.Drawing(_drawn_box(drawn), kept.box.enclosure.clamps, warmed, grid, tuple(_columns(kept)))


def _drawn_box(drawn: Front) -> view.DrawnBox:
    devices = (
        view.DrawnDevice(
            id=one.device.id, name=one.device.name or one.sheet.name, kind=one.sheet.kind, gang=one.device.gang,
            width=one.sheet.gangs, rect=one.rect, strap=one.strap, fins=one.fins, assumed=one.assumed,
        )
        for one in drawn.bodies
    )  # fmt: skip
    return view.DrawnBox(
        view=drawn.view, inside=drawn.inside, gangs=drawn.gangs, empty=drawn.empty, barriers=drawn.barriers,
        devices=tuple(devices), cables=tuple(map(_drawn_cable, drawn.entries)),
        loose=tuple((one.module.id, one.rect) for one in drawn.loose), assumed=drawn.assumed, facts=drawn.said,
    )  # fmt: skip


def _drawn_cable(entry: Entry) -> view.DrawnCable:
    wires = tuple(
        (ground, some[0][1], "".join(str(way) for way, _, _ in some))
        for ground in (False, True)
        if (some := [one for one in entry.wires if one[2] == ground])
    )
    return view.DrawnCable(entry.cable.id, entry.sheath, entry.mouth, entry.label, wires)


def _called(kept: BoxSnapshot, id: str) -> str:
    """What a device or module is called."""
    item = kept.box.item(id)
    assert item is not None
    return item.name or kept.job.sheets[item.sheet].name


def _columns(kept: BoxSnapshot) -> Iterator[view.Column]:
    """The gangs from the left, each with the loads of its device; the gangs a wide device covers are one."""
    for gang, width, device in _slots(kept):
        sheet = kept.job.sheets[device.sheet] if device else None
        name = device.name or sheet.name if device and sheet else ""
        id = device.id if device else ""
        yield view.Column(gang, width, id, name, _of(kept, id))


def _slots(kept: BoxSnapshot) -> Iterator[tuple[int, int, Device | None]]:
    """Each gang with how many its device takes, and the device."""
    at, gang = {device.gang: device for device in kept.box.devices}, 1
    while gang <= kept.box.enclosure.gangs:
        device = at.get(gang)
        width = kept.job.sheets[device.sheet].gangs if device else 1
        yield gang, width, device
        gang += width


def _of(kept: BoxSnapshot, item: str) -> view.Channels:
    """The answers of a device or module, each with its bar."""
    return tuple((answer, bar(answer)) for answer in kept.check.ratings if answer.subject.of == item)


def _ledger(kept: BoxSnapshot) -> Section:
    """The count line by line, and the other answers folded below it."""
    check, fill = kept.check, kept.check.fill
    title = (fill.lines[0].rule.source,) if fill.lines else fill.title
    others = [answer for answer in check.fills if answer is not fill]
    folded = [_written(f"space{n}", answer.title, answer) for n, answer in enumerate(others, 1)]
    if check.depth:
        folded.append(_written("depth", ("Depth",), check.depth))
    if check.fills:
        folded.append(_written("bulk", ("Bulk, an estimate",), check.bulk))
    inside = (Section(f"{one.prefix}-answer", "bench/folded.html", one) for one in folded)
    count = Section("count-lines", "bench/count.html", _written("line", title, fill))
    return Section("ledger", "bench/ledger.html", title, (count, *inside))


def _written(prefix: str, title: Text, answer: Answer) -> view.Written:
    return view.Written(prefix, title, answer, tuple(line_keys(answer)))


def _gangs(kept: BoxSnapshot, verdict: Verdict) -> Section:
    """Every gang and every loose module with what can be done to it."""
    box, job, check = kept.box, kept.job, kept.check
    needs = any(job.sheets[one.sheet].neutral == "needed" for one in box.equipment)
    asks = bool(check.prohibitions) and box.survey.neutral is None and needs and not verdict.rests_on
    named = (
        (s.id, f"{s.name} ({s.gangs} gangs)" if s.gangs > 1 else s.name) for s in job.sheets.values() if not s.is_module
    )
    sheets = tuple(named)
    gangs = [_gang(kept, sheets, *slot) for slot in _slots(kept)]
    loose = [_loose(kept, number, module) for number, module in enumerate(box.modules, 1)]
    above = view.Gangs(
        several=len(box.devices) > 1,
        asking=tuple(_called(kept, item.id) for item in not_hooked_up(box, job.sheets)),
        forbidden=view.Forbidden(check.prohibitions, asks),
        gangs=len(gangs),
        loose=len(loose),
    )
    return Section("gangs-section", "bench/gangs.html", above, (*gangs, *loose))


def _gang(
    kept: BoxSnapshot, sheets: tuple[tuple[str, str], ...], gang: int, width: int, device: Device | None
) -> Section:
    """A gang with everything that can be done to it."""
    id, name, on_it = (device.id, device.name, _on_it(kept, device)) if device else ("", "", None)
    shown = view.Gang(gang, width, kept.box.enclosure.gangs, id, name, sheets, on_it)
    return Section(f"gang-{gang}", "bench/gang.html", shown)


def _loose(kept: BoxSnapshot, number: int, module: Module) -> Section:
    """A module loose in the box, with everything that can be done to it."""
    shown = view.Loose(number, module.id, module.name, kept.box.is_outlet, _on_it(kept, module))
    return Section(f"loose-{module.id}", "bench/loose.html", shown)


def _on_it(kept: BoxSnapshot, item: Equipment) -> view.OnIt:
    """How a device or module is connected, and its loads."""
    box, sheet = kept.box, kept.job.sheets[item.sheet]
    gauges, bare = tuple(sorted(set(box.gauges))), item.changed(loads=())
    hots = sum(terminal.role == "line" for terminal in sheet.terminals)
    connected = view.Connected(
        item=bare, lamp_settings=sheet.lamp_settings, by_place=sheet.derating == "by position",
        duplex=sheet.kind == "receptacle" and hots > 1, of=box.enclosure.gangs, gauges=gauges, circuits=box.circuits,
    )  # fmt: skip
    channels = tuple(_channel(kept, item, sheet, answer, drawn) for answer, drawn in _of(kept, item.id))
    return view.OnIt(
        id=item.id, sheet=sheet.id, called=sheet.name, maker=sheet.maker, is_module=sheet.is_module,
        connected=None if sheet.is_blank else connected, channels=channels,
        hanging=_hanging(kept, item, sheet) if sheet.channels else None,
    )  # fmt: skip


def _channel(kept: BoxSnapshot, item: Equipment, sheet: Datasheet, answer: Answer, drawn: Bar) -> view.Channel:
    number = answer.subject.number
    loads = tuple(load for load in item.loads if load.channel == number)
    name = sheet.channels[number - 1].name if number else ""
    return view.Channel(item.id, number, name, answer, drawn, loads, kept.outlets)


def _hanging(kept: BoxSnapshot, item: Equipment, sheet: Datasheet) -> view.Hanging:
    asked = tuple((load.id, str(load.each)) for load in item.loads if load.asked_back)
    names = tuple((number, outlet.name or str(number)) for number, outlet in enumerate(sheet.channels, 1))
    kind = "fan" if sheet.kind == "fan control" else "led"
    return view.Hanging(item.id, asked, sheet.metering and bool(item.loads), names, kind, kept.outlets)


def _facts(kept: BoxSnapshot) -> view.Facts:
    box = kept.box
    modules = tuple((sheet.id, sheet.name) for sheet in kept.job.sheets.values() if sheet.is_module)
    circuits = kept.job.head.circuits
    return view.Facts(
        box.enclosure, box.name, box.room, box.use, box.circuit, circuits, box.connectors, box.terminal_blocks, modules
    )
