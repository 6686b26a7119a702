"""Bulk: whether it all goes in, reckoned with real sizes. An estimate, labeled so.

Source: common practice; no code counts it. The cross-sections are those of NEC chapter 9, tables 5 and 8, from memory.
Wire lies folded and takes more than its own volume; bodies and modules are what their sheets say.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ...model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Subject, Text, add_up, limit_of
from ...model.assumptions import ASSUME, Assume
from ...model.box import Box, Equipment
from ...model.datasheet import Datasheet, DeviceKind
from ...model.edition import Code, counting
from ...model.figure import Figure, every_nec, table
from ...model.gauge import GAUGES, Gauge, awg, largest
from ...model.measure import Length, exact_sum
from ..conductor_volumes import ALLOWANCES
from ..usual_connectors import usual_connectors
from ..volume.capacity import capacity
from ..volume.spaces import spaces
from .room import does_not_go, room_for_wires

PRACTICE = Rule("Estimate, common practice", "", "practice")
CONNECTORS: dict[str, Figure] = table(
    "in3", "Connector, {}", PRACTICE, {"small": "0.25", "medium": "0.45", "large": "0.7"}
)
"""What a wire connector takes [in³]; common practice."""
INSULATED: dict[Gauge, Figure] = table(
    "in2", "Cross-section of {} with its insulation", every_nec("Chapter 9 Table 5"),
    {
        awg(18): "0.0055", awg(16): "0.0072", awg(14): "0.0097", awg(12): "0.0133", awg(10): "0.0211",
        awg(8): "0.0366", awg(6): "0.0507",
    },
)  # fmt: skip
"""Cross-section of a conductor with its insulation [in²]."""
BARE: dict[Gauge, Figure] = table(
    "in2", "Cross-section of a bare {}", every_nec("Chapter 9 Table 8"),
    {awg(14): "0.0032", awg(12): "0.0051", awg(10): "0.0081", awg(8): "0.0130", awg(6): "0.0270"},
)  # fmt: skip
"""Cross-section of a bare ground [in²]; solid to 8 AWG, stranded above."""
PACKED: dict[Gauge, Figure] = table(
    "share", "How densely {} lies folded", PRACTICE, {awg(14): "0.35", awg(12): "0.30", awg(10): "0.25"}
)
"""Of the room folded wire takes, the share of wire; that of 14 AWG for all finer, that of 10 AWG for all thicker."""
FREE = Figure("8", "in", "Length of a conductor in the box, where it was not measured", PRACTICE)
LEAD_LENGTH = Figure("6", "in", "Length of a lead", PRACTICE)
LEAD_GAUGE = awg(18)
LEADS: dict[DeviceKind, Figure] = table(
    "",
    "Leads of a {} whose sheet says none",
    PRACTICE,
    {
        "switch": "0", "dimmer": "3", "smart switch": "4", "fan control": "3", "countdown": "4", "sensor": "4",
        "receptacle": "0", "remote": "0", "module": "4", "blank": "0",
    },
)  # fmt: skip
"""How many leads a device brings whose sheet does not say; common practice."""


def bulk(box: Box, sheets: Mapping[str, Datasheet], code: Code, assume: Assume = ASSUME) -> Answer:
    """Whether everything goes in, by its real size: roomy, snug, crammed, or will not go.

    Args:
        sheets: the sheets its devices name, by id.
        code: whose table of trade sizes says the room of a box without a mark.
        assume: up to which share of the room the job calls it roomy, and snug.

    Returns:
        Lines and limit in in³.
    """
    lines = (*_wires(box), *_bodies(box, sheets), *_leads(box, sheets), *_connectors(box, sheets))
    limit_lines = _room(box, sheets, code)
    total, limit = add_up(lines), limit_of(limit_lines)
    behind = _behind(lines, room_for_wires(box, sheets, code))
    state, headline = _judge(box, lines, limit, assume, behind)
    too_big = does_not_go(box, sheets, code)
    if too_big is not None:
        state, headline = State.FAILS, too_big
    remarks = [Remark("estimate", ("an estimate: it can turn a pass into a no, never a no into a pass",), PRACTICE)]
    if not box.connectors and (assumed := usual_connectors(box, sheets)):
        text: Text = (f"connectors are not entered yet: {len(assumed)} assumed, as many as the usual hook-up takes",)
        remarks.append(Remark("connectors-not-entered", text, PRACTICE))
    if behind is not None:
        apart: Text = (
            "behind the bodies and beside them: ",
            Amount(behind[0], "in3"),
            " of wires and what else is loose, in ",
        )
        remarks.append(Remark("room-behind", (*apart, Amount(behind[1], "in3")), PRACTICE))
    return Answer(
        "bulk",
        Subject("box", box.id),
        ("Bulk, an estimate",),
        "in3",
        lines,
        limit_lines,
        total,
        limit,
        state,
        headline,
        tuple(remarks),
    )


def _room(box: Box, sheets: Mapping[str, Datasheet], code: Code) -> tuple[Line, ...]:
    """Inside width × height × depth where measured, else the volume of the box; barriers take no part of it away."""
    enclosure = box.enclosure
    if enclosure.barriers:
        enclosure = enclosure.changed(barriers=())
    if enclosure.measured is not None and (enclosure.volume is not None or enclosure.size is not None):
        enclosure = enclosure.changed(volume=None, trade_size=None)
    whole = spaces(box if enclosure is box.enclosure else box.changed(enclosure=enclosure), sheets)[0]
    edition = counting(code)
    return capacity(whole, edition.rule("(A)"), edition.rule("Table 314.16(A)"))


def _wires(box: Box) -> Iterator[Line]:
    """Conductors and grounds, each gauge and length together."""
    found: dict[tuple[bool, Gauge, Length | None], list[Part]] = {}
    for cable in box.entering:
        looped = 2 if cable.run == "looped" else 1
        for bare, count, gauge in (
            (False, cable.insulated * looped, cable.gauge),
            (True, cable.grounds, cable.grounded_by),
        ):
            if count:
                found.setdefault((bare, gauge, cable.free), []).append(Part(cable.id, Fraction(count)))
    for (bare, gauge, free), parts in sorted(found.items(), key=lambda one: (one[0][0], one[0][1], _length(one[0][2]))):
        yield _folded(bare, gauge, _length(free), tuple(parts))


def _length(free: Length | None) -> Fraction:
    return FREE if free is None else free.inches


def _folded(bare: bool, gauge: Gauge, length: Fraction, parts: tuple[Part, ...]) -> Line:
    """So many wires, folded into the box."""
    kind = "grounds" if bare else "conductors"
    area, folded = _AREAS.get((bare, gauge)) or _cross_section(bare, gauge)
    why: Text = ("cross-section × ", Amount(length, "in"), ", as densely as it lies folded")
    count = exact_sum(part.count for part in parts)
    if area is None or folded is None:
        unknown: Text = (f"no cross-section known for {gauge}",)
        return Line(kind, (f"{gauge} {kind}",), PRACTICE, unknown, count, None, None, parts)
    each = folded * length
    return Line(kind, (f"{gauge} {kind}",), area.rule, why, count, each, count * each, parts)


def _at_least(areas: Mapping[Gauge, Figure], gauge: Gauge) -> Figure | None:
    """The cross-section of a gauge; of one that is not in the table, that of the next larger one."""
    return areas.get(gauge) or next((areas[one] for one in sorted(areas) if one > gauge), None)


def _packed(gauge: Gauge) -> Figure:
    """How densely it lies; a finer wire than the table has counts as its finest, a thicker one as its thickest."""
    return PACKED[next((one for one in sorted(PACKED) if one >= gauge), max(PACKED))]


def _cross_section(bare: bool, gauge: Gauge) -> tuple[Figure | None, Fraction | None]:
    """The cross-section of a wire, and what each inch of it takes folded [in²]; None where none is known."""
    area = _at_least(BARE if bare else INSULATED, gauge)
    return area, None if area is None else area / _packed(gauge)


_AREAS = {(bare, gauge): _cross_section(bare, gauge) for bare in (False, True) for gauge in GAUGES}
_LEAD: Fraction = INSULATED[LEAD_GAUGE] / _packed(LEAD_GAUGE) * LEAD_LENGTH
"""What one lead takes, folded [in³]."""


def _bodies(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if not sheet.is_blank:
            yield _body("devices", (f"Gang {device.gang}: {sheet.name}",), sheet, device, box)
    for module in box.modules:
        sheet = sheets[module.sheet]
        yield _body("modules", (f"{sheet.name}, loose in the box",), sheet, module, box)


def _body(kind: str, what: Text, sheet: Datasheet, item: Equipment, box: Box) -> Line:
    part, once = (Part(item.id),), Fraction(1)
    if sheet.body is not None:
        volume = sheet.body.volume
        why: Text = ("its real body, width × height × how far it reaches back",)
        return Line(kind, what, PRACTICE, why, once, volume, volume, part)
    gauge = item.gauge or largest(box.gauges)
    allowance = None if gauge is None else _at_least(ALLOWANCES, gauge)
    if allowance is None:
        why = ("no conductor entered, and its sheet gives no body",)
        return Line(kind, what, PRACTICE, why, once, None, None, part)
    volume = Fraction(allowance * 2 * sheet.gangs)
    why = ("its sheet gives no body: its two allowances of the count stand for it",)
    return Line(kind, what, PRACTICE, why, once, volume, volume, part)


def _lead_count(sheet: Datasheet) -> int:
    return int(LEADS[sheet.kind]) if sheet.leads is None else sheet.leads


def _leads(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    each = _LEAD
    parts = tuple(
        Part(item.id, Fraction(leads)) for item in box.equipment if (leads := _lead_count(sheets[item.sheet]))
    )
    count = exact_sum(part.count for part in parts)
    if count:
        why: Text = (f"leads of {LEAD_GAUGE}, ", Amount(LEAD_LENGTH, "in"), " each, as densely as they lie folded")
        yield Line("leads", ("Leads",), PRACTICE, why, count, each, count * each, parts)


def _connectors(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    for one in box.connectors:
        each = CONNECTORS[one.size]
        count = Fraction(one.count)
        what: Text = (f"{one.size.capitalize()} connectors",)
        yield Line("connectors", what, PRACTICE, ("as entered",), count, each, count * each, (Part("connectors"),))
    assumed = () if box.connectors else usual_connectors(box, sheets)
    for size in dict.fromkeys(sorted(assumed, key=list(CONNECTORS).index)):
        each, count = CONNECTORS[size], Fraction(assumed.count(size))
        what, why = (f"{size.capitalize()} connectors, assumed",), ("not entered: as many as the usual hook-up takes",)
        yield Line("connectors", what, PRACTICE, why, count, each, count * each, (Part("connectors"),))


def _judge(
    box: Box, lines: tuple[Line, ...], limit: Fraction | None, assume: Assume, behind: tuple[Fraction, Fraction] | None
) -> tuple[State, Text]:
    """State and headline of the share of the room taken, or of the room behind the bodies where that is scarcer."""
    if limit is None:
        return State.OPEN, ("volume of the box not known",)
    share, of = add_up(lines) / limit, "the room"
    if behind is not None and behind[0] > share * behind[1]:
        if not behind[1]:
            return State.FAILS, ("will not go: no room for its wires behind the bodies",)
        share, of = behind[0] / behind[1], "the room behind the bodies"
    taken: Text = (Amount(share, "share"), f" of {of}")
    if share > 1:
        return State.FAILS, ("will not go: ", *taken)
    no_conductor = box.equipment and not box.gauges
    if no_conductor or any(line.value is None for line in lines):
        said = "no conductor entered yet" if no_conductor else "room for its conductors not known"
        return State.OPEN, (said,)
    if share > assume.snug:
        return State.TIGHT, ("crammed, ", *taken)
    return State.HOLDS, ("roomy, " if share <= assume.roomy else "snug, ", *taken)


def _behind(lines: tuple[Line, ...], room: Fraction | None) -> tuple[Fraction, Fraction] | None:
    """What lies behind the bodies and beside them, and the room there [in³]; None where it was not measured."""
    if room is None:
        return None
    return add_up(line for line in lines if line.kind != "devices"), room
