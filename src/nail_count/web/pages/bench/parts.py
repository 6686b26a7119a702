"""The parts of the bench: what each shows of a box, made from its check."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from typing import Literal

from ....drawing.bar import bar
from ....drawing.front import GANG, Front, front
from ....drawing.rail import line_keys, rail
from ....drawing.side import side
from ....drawing.warm import warm
from ....store.snapshots import BoxSnapshot
from ....trade.compare.boxes import differences
from ....trade.model.answer import Answer, Line, State, Text
from ....trade.model.box import Box, Device, Equipment, Module
from ....trade.model.datasheet import Datasheet
from ....trade.model.gauge import Gauge, awg, largest, smallest
from ....trade.quick_entry.write import write_line
from ....trade.rules.check import check_box
from ....trade.rules.conductor_volumes import ALLOWANCES
from ....trade.rules.load.heat import warmth
from ....trade.rules.volume.csa import CSA_ALLOWANCES
from ....trade.wiring.hookup.asked import not_hooked_up
from ... import urls
from ...box_screen import notices_part
from ...form_errors import Notice
from ...parts import Part
from . import view

COMMON_CABLES = ((awg(14), 2), (awg(14), 3), (awg(12), 2), (awg(12), 3))
DEVICE_KEYS = "asdfgh"


def bench_parts(kept: BoxSnapshot, notice: Notice) -> tuple[Part, ...]:
    """Everything the bench shows of a box, part by part.

    Args:
        kept: the box as it is.
        notice: the notice above it of an act that was not done.
    """
    drawn = front(kept.box, kept.job.sheets, kept.goes)
    return (
        *_heading(kept, notice),
        *_count(kept),
        *_tally(kept),
        *_drawing(kept, drawn),
        *_ledger(kept),
        *_gangs(kept),
        Part("facts", "bench/facts.html", _facts(kept)),
        Part("steps-made", "bench/history.html", None, tuple(_history(kept))),
    )


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


def _heading(kept: BoxSnapshot, notice: Notice) -> Iterator[Part]:
    box, check = kept.box, kept.check
    yield notices_part(kept, notice)
    yield Part("tried", "bench/tried.html", _tried(kept))
    yield Part("box-title", "bench/title.html", view.Title(box.name, box.room, box.circuits))
    in_trial = kept.what_if is not None
    steps = view.Steps(kept.can_undo, kept.can_redo, in_trial, bool(kept.open_trial))
    yield Part("box-steps", "bench/steps.html", steps)
    yield Part("verdict", "bench/verdict.html", view.Verdict(check.state.word, check.headline, bool(check.fills)))
    yield Part("ways", "bench/ways.html", view.Ways(kept.number if check.state is State.FAILS else 0, False))


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
    return view.Tried(at, original.state.word, original.fill, original.headline, drawn, changed, stale, kept.number)


def _count(kept: BoxSnapshot) -> Iterator[Part]:
    """The count on its rail, and what else is reckoned of the room."""
    check, gauges = kept.check, kept.box.gauges
    thin, thick = smallest(gauges), largest(gauges)
    allowances = CSA_ALLOWANCES if check.fill.unit == "mL" else ALLOWANCES
    drawn = rail(check.fill, allowances.get(thick) if thick else None)
    rooms = tuple(
        _room(gauge, check.fill, allowances[gauge]) for gauge in dict.fromkeys((thin, thick)) if gauge in allowances
    )
    yield Part("count", "bench/rail.html", view.Count(check.fill, bool(check.fills), rooms, drawn))
    others = [answer for answer in check.fills if answer is not check.fill]
    spaces = (view.MoreRail(answer, rail(answer)) for answer in others)
    rows = (Part(f"space-rail-{n}", "bench/more_rail.html", shown) for n, shown in enumerate(spaces, 1))
    yield Part("space-rails", "bench/rows.html", None, tuple(rows))
    bulk = view.MoreRail(check.bulk, rail(check.bulk, coarse=True), _both(kept)) if check.fills else None
    yield Part("bulk-rail", "bench/more_rail.html", bulk)
    depth = view.MoreRail(check.depth, None) if check.depth else None
    yield Part("depth-says", "bench/more_rail.html", depth)


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


def _tally(kept: BoxSnapshot) -> Iterator[Part]:
    """What can be put in: cables and devices; and the cables that are in."""
    box = kept.box
    yield Part("quick-line", "bench/quick_line.html", write_line(box, kept.job.sheets, kept.goes))
    for tap in cable_taps(box):
        yield Part(f"more-{tap.name}", "bench/cable_tap.html", replace(tap, count=0, last=""))
        yield Part(f"fewer-{tap.name}", "bench/fewer.html", tap)
    rows = (view.CableRow(one, kept.goes.get(one.id, ""), box.work_of(one.id)) for one in box.cables)
    cables = tuple(Part(f"cable-{row.cable.id}", "bench/cable.html", row) for row in rows)
    yield Part("cables", "bench/cables.html", not cables, cables)
    yield Part("other-cable", "bench/other_cable.html", None)
    yield Part("device-taps", "bench/device_taps.html", _device_taps(kept))


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


def _drawing(kept: BoxSnapshot, drawn: Front) -> Iterator[Part]:
    """The box from the front and from the side, and how warm it gets."""
    box = kept.box
    hardware = view.Hardware(drawn.inside, drawn.barriers, drawn.gangs)
    clamped = box.enclosure.clamps
    terms = kept.job.head.terms_at(box)
    warmed = warm(drawn, kept.check.warmth or warmth(box, kept.job.sheets, terms, kept.job.volts))
    cables = tuple(
        Part(f"drawn-cable-{one.cable.id}", "bench/drawn_cable.html", view.Entered(one, clamped))
        for one in drawn.entries
    )
    devices = tuple(Part(f"drawn-{one.device.id}", "bench/drawn_device.html", one) for one in drawn.bodies)
    layers = (
        Part("drawn-cables", "bench/layer.html", "cables", cables),
        Part("drawn-hardware", "bench/drawn_hardware.html", hardware),
        Part("drawn-devices", "bench/layer.html", "devices", devices),
        Part("drawn-loose", "bench/drawn_loose.html", drawn.loose),
        Part("drawn-warmth", "bench/drawn_warmth.html", warmed.gangs if warmed else ()),
        Part("drawn-numbers", "bench/drawn_numbers.html", view.Numbers(drawn.inside, drawn.gangs, drawn.empty)),
    )
    yield Part(
        "front", "bench/front.html", view.Shell(drawn.view, drawn.inside, len(drawn.gangs), drawn.assumed), layers
    )
    sentences = (Part(f"fact-{name}", "bench/fact.html", sentence) for name, sentence in drawn.said)
    yield Part("front-facts", "bench/front_facts.html", None, tuple(sentences))
    wide = drawn.view.width
    grid = view.Grid(len(drawn.gangs), (drawn.gangs[0] - GANG / 2 - drawn.view.x) / wide, GANG / wide)
    row = Part("column-row", "bench/column_row.html", None, tuple(_columns(kept)))
    yield Part("columns", "bench/columns.html", grid, (row,))
    yield Part("front-note", "bench/front_note.html", (drawn.inside, drawn.assumed))
    called = tuple((_called(kept, id), heat) for id, heat in warmed.heats) if warmed else ()
    yield Part("warm-figures", "bench/warm.html", (warmed, called, box.survey.insulated))
    yield Part("side-view", "bench/side.html", side(box, kept.job.sheets, kept.check.depth, kept.job.head.terms.code))


def _called(kept: BoxSnapshot, id: str) -> str:
    """What a device or module is called."""
    item = kept.box.item(id)
    assert item is not None
    return item.name or kept.job.sheets[item.sheet].name


def _columns(kept: BoxSnapshot) -> Iterator[Part]:
    """The gangs from the left, each with the loads of its device; the gangs a wide device covers are one."""
    yield Part("column-0", "bench/column.html", None)
    for gang, width, device in _slots(kept):
        sheet = kept.job.sheets[device.sheet] if device else None
        name = device.name or sheet.name if device and sheet else ""
        shown = view.Column(gang, width, device.id if device else "", name, _of(kept, device.id if device else ""))
        yield Part(f"column-{gang}", "bench/column.html", shown)


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


def _ledger(kept: BoxSnapshot) -> Iterator[Part]:
    """The count line by line, and the other answers folded below it."""
    check, fill = kept.check, kept.check.fill
    title = (fill.lines[0].rule.source,) if fill.lines else fill.title
    yield Part("ledger-title", "bench/ledger_title.html", view.Ledger(title))
    yield from answer_parts(fill, "line")
    others = [answer for answer in check.fills if answer is not fill]
    spaces = (_folded(answer, f"space{n}", answer.title) for n, answer in enumerate(others, 1))
    yield Part("space-lines", "bench/rows.html", None, tuple(spaces))
    yield _folded(check.depth, "depth", ("Depth",))
    yield _folded(check.bulk if check.fills else None, "bulk", ("Bulk, an estimate",))


def answer_parts(answer: Answer, prefix: str) -> tuple[Part, ...]:
    """The lines of an answer, its sum, and its remarks."""
    keyed = zip(line_keys(answer), answer.lines, strict=True)
    rows = tuple(_row(f"{prefix}-{key}", key if prefix == "line" else "", line) for key, line in keyed)
    sums = (answer.about, answer.total, answer.unit, answer.limit_lines, answer.margin)
    return (
        Part(f"{prefix}-lines", "bench/count_lines.html", None, rows),
        Part(f"{prefix}-sum", "bench/count_sum.html", sums),
        Part(f"{prefix}-remarks", "bench/remarks.html", answer.remarks),
    )


def _row(id: str, key: str, line: Line) -> Part:
    """A line of an answer: most acts change what it says, few why and by which rule."""
    mark: Literal["", "zero", "open"] = "open" if line.value is None else "zero" if line.value == 0 else ""
    says = view.CountSays(line.what, line.count, line.each, line.value, line.parts)
    whole = view.CountLine(key, mark, line.why, line.rule)
    return Part(id, "bench/count_line.html", whole, (Part(f"{id}-says", "bench/count_says.html", says),))


def _folded(answer: Answer | None, prefix: str, title: Text) -> Part:
    """An answer behind its headline; hidden where there is none."""
    if answer is None:
        return Part(f"{prefix}-answer", "bench/folded.html", False)
    says = Part(f"{prefix}-headline", "bench/headline.html", (title, answer.headline))
    return Part(f"{prefix}-answer", "bench/folded.html", True, (says, *answer_parts(answer, prefix)))


def _gangs(kept: BoxSnapshot) -> Iterator[Part]:
    """Every gang and every loose module with what can be done to it."""
    box, job = kept.box, kept.job
    asking = tuple(_called(kept, item.id) for item in not_hooked_up(box, job.sheets))
    yield Part("to-hook-up", "bench/to_hook_up.html", asking)
    check = kept.check
    needs = any(job.sheets[one.sheet].neutral == "needed" for one in box.equipment)
    asks = bool(check.prohibitions) and box.survey.neutral is None and needs
    yield Part("best", "bench/best.html", len(box.devices) > 1)
    yield Part("prohibitions", "bench/prohibitions.html", view.Forbidden(check.prohibitions, asks))
    sheets = [sheet for sheet in job.sheets.values() if not sheet.is_module]
    named = tuple((s.id, f"{s.name} ({s.gangs} gangs)" if s.gangs > 1 else s.name) for s in sheets)
    cards = tuple(_card(kept, *slot, named) for slot in _slots(kept))
    yield Part("gang-row", "bench/gang_row.html", min(len(cards), 4), cards)
    loose = tuple(_loose(kept, number, module) for number, module in enumerate(box.modules, 1))
    yield Part("loose-row", "bench/loose_row.html", min(len(loose), 4), loose)


def _card(kept: BoxSnapshot, gang: int, width: int, device: Device | None, sheets: tuple[tuple[str, str], ...]) -> Part:
    """A gang with everything that can be done to it."""
    put = Part(f"put-in-{gang}", "bench/put_in.html", view.Put(gang, device is None, sheets))
    of = kept.box.enclosure.gangs
    if device is None:
        return Part(f"gang-{gang}", "bench/gang.html", view.GangHead(gang, width, of, "", "", None), (put,))
    sheet = kept.job.sheets[device.sheet]
    head = view.GangHead(gang, width, of, device.id, device.name, sheet)
    return Part(f"gang-{gang}", "bench/gang.html", head, (*_connected(kept, device, sheet), put))


def _loose(kept: BoxSnapshot, number: int, module: Module) -> Part:
    """A module loose in the box, with everything that can be done to it."""
    sheet = kept.job.sheets[module.sheet]
    head = view.LooseHead(number, module.id, module.name, sheet, kept.box.is_outlet)
    return Part(f"loose-{module.id}", "bench/loose.html", head, tuple(_connected(kept, module, sheet)))


def _connected(kept: BoxSnapshot, item: Equipment, sheet: Datasheet) -> Iterator[Part]:
    """How a device or module is connected, and its loads."""
    box, id, bare = kept.box, item.id, item.changed(loads=())
    if not sheet.is_blank:
        gauges = tuple(sorted(set(box.gauges)))
        shown = view.Connected(bare, sheet, box.enclosure.gangs, gauges, box.circuits)
        template = "bench/connect_module.html" if sheet.is_module else "bench/connect_device.html"
        yield Part(f"connected-{id}", template, shown)
    for answer, drawn in _of(kept, id):
        number = answer.subject.number
        loads = tuple(load for load in item.loads if load.channel == number)
        name = sheet.channels[number - 1].name if number else ""
        channel = view.Channel(id, number, name, answer, drawn, loads, kept.outlets)
        yield Part(f"channel-{id}-{number or 'total'}", "bench/channel.html", channel)
    if sheet.channels:
        asked = tuple((load.id, str(load.each)) for load in item.loads if load.asked_back)
        names = tuple((number, outlet.name or str(number)) for number, outlet in enumerate(sheet.channels, 1))
        kind = "fan" if sheet.kind == "fan control" else "led"
        metering = sheet.metering and bool(item.loads)
        hanging = view.Hanging(id, asked, metering, names, kind, kept.outlets)
        yield Part(f"hanging-{id}", "bench/hanging.html", hanging)


def _facts(kept: BoxSnapshot) -> view.Facts:
    box = kept.box
    modules = tuple((sheet.id, sheet.name) for sheet in kept.job.sheets.values() if sheet.is_module)
    circuits = kept.job.head.circuits
    return view.Facts(
        box.enclosure, box.name, box.room, box.use, box.circuit, circuits, box.connectors, box.terminal_blocks, modules
    )


def _history(kept: BoxSnapshot) -> Iterator[Part]:
    return (Part(f"step-{step.number}", "bench/step.html", step) for step in kept.history)
