"""Bulk: whether it all goes in, counted by what it really is. An estimate, labeled so.

Source: common practice; no code counts it. Each device takes the larger of its two allowances and its real body, and
what the count leaves at zero is added: connectors, leads.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from fractions import Fraction

from ...model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Subject, Text, add_up, limit_of
from ...model.box import Box
from ...model.datasheet import Datasheet, DeviceKind
from ...model.edition import NEC_2023, Code, counting
from ...model.figure import Figure, table
from ...model.gauge import Gauge, awg, largest
from ...model.wire import Cable
from ..editions import ALLOWANCES
from ..volume.capacity import capacity
from ..volume.nec_lines import clamps, conductors, grounds
from ..volume.spaces import spaces

PRACTICE = Rule("Estimate, common practice", "", "practice")
CONNECTORS: dict[str, Figure] = table(
    "in3", "Connector, {}", PRACTICE, {"small": "0.25", "medium": "0.45", "large": "0.7"}
)
"""What a wire connector takes [in³]; common practice."""
LEAD: dict[Gauge, Figure] = table(
    "in3", "Lead of {}", PRACTICE, {awg(18): "0.15", awg(16): "0.2", awg(14): "0.25", awg(12): "0.34"}
)
"""What 6 in of a lead takes with its bends [in³]: its own volume four times over; common practice."""
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


def bulk(box: Box, sheets: Mapping[str, Datasheet], code: Code = NEC_2023.id) -> Answer:
    """Whether everything goes in, by its real size: room to spare, tight, or will not go.

    Args:
        box: the box.
        sheets: the sheets its devices name, by id.
        code: whose count of wires it starts from; the newest edition of the NEC where the code is another.

    Returns:
        Lines and limit in in³.
    """
    edition = counting(code)
    box = _as_counted(box)
    wires = (*conductors(box, edition), clamps(box, edition), *grounds(box, edition))
    lines = (
        *(line for line in wires if line.value != 0),
        *_bodies(box, sheets),
        *_leads(box, sheets),
        *_connectors(box),
    )
    undivided = box.changed(enclosure=box.enclosure.changed(barriers=())) if box.enclosure.barriers else box
    whole = spaces(undivided, sheets)[0]
    limit_lines = capacity(whole, edition.rule("(A)"), edition.rule("Table 314.16(A)"))
    total, limit = add_up(lines), limit_of(limit_lines)
    state, headline = _judge(box, lines, total, limit)
    remarks = [Remark("estimate", ("an estimate: it can turn a pass into a no, never a no into a pass",), PRACTICE)]
    if not box.connectors and box.entering:
        least, most = CONNECTORS["small"], CONNECTORS["large"]
        text: Text = ("connectors are not entered: each takes from ", Amount(least, "in3"), " to ", Amount(most, "in3"))
        remarks.append(Remark("connectors-not-entered", text, PRACTICE))
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


def _as_counted(box: Box) -> Box:
    """The box with an allowance for each conductor: those of a gauge without one take that of the next larger one."""
    if all(cable.gauge in ALLOWANCES and cable.grounded_by in ALLOWANCES for cable in box.cables):
        return box
    return box.changed(cables=tuple(_next_larger(cable) for cable in box.cables))


def _next_larger(cable: Cable) -> Cable:
    return cable.changed(gauge=_next_up(cable.gauge), ground_gauge=_next_up(cable.grounded_by))


def _next_up(gauge: Gauge) -> Gauge:
    return min((one for one in ALLOWANCES if one >= gauge), default=gauge)


def _bodies(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    for device in sorted(box.devices, key=lambda device: device.gang):
        sheet = sheets[device.sheet]
        if sheet.is_blank:
            continue
        gauge = device.gauge or largest(box.gauges)
        counted = None if gauge not in ALLOWANCES else ALLOWANCES[gauge] * 2 * sheet.gangs
        yield _larger("devices", (f"Gang {device.gang}: {sheet.name}",), sheet, counted, device.id)
    for module in box.modules:
        sheet = sheets[module.sheet]
        gauge = module.gauge or largest(box.gauges)
        counted = None if gauge not in ALLOWANCES else ALLOWANCES[gauge] * 2
        yield _larger("modules", (f"{sheet.name}, loose in the box",), sheet, counted, module.id)


def _larger(kind: str, what: Text, sheet: Datasheet, counted: Fraction | None, part: str) -> Line:
    body = sheet.body.volume if sheet.body else None
    if body is None and counted is None:
        return Line(
            kind, what, PRACTICE, ("no conductor entered, and its sheet gives no body",), Fraction(1), None, None
        )
    if body is None or (counted is not None and counted >= body):
        assert counted is not None
        why: Text = (
            ("its two allowances, which are more than its body",)
            if body
            else ("its two allowances; its sheet gives no body",)
        )
        return Line(kind, what, PRACTICE, why, Fraction(1), counted, counted, (Part(part),))
    why = ("its real body, width × height × how far it reaches back",)
    return Line(kind, what, PRACTICE, why, Fraction(1), body, body, (Part(part),))


def _lead_count(sheet: Datasheet) -> int:
    return int(LEADS[sheet.kind]) if sheet.leads is None else sheet.leads


def _leads(box: Box, sheets: Mapping[str, Datasheet]) -> Iterator[Line]:
    each = LEAD[awg(14)]
    parts = [(device.id, _lead_count(sheets[device.sheet])) for device in box.devices]
    parts += [(module.id, _lead_count(sheets[module.sheet])) for module in box.modules]
    counted = tuple(Part(id, Fraction(count)) for id, count in parts if count)
    count = sum((part.count for part in counted), Fraction(0))
    if count:
        why: Text = ("leads of devices at their own volume four times over, for the bends",)
        yield Line("leads", ("Leads",), PRACTICE, why, count, each, count * each, counted)


def _connectors(box: Box) -> Iterator[Line]:
    for one in box.connectors:
        each = CONNECTORS[one.size]
        count = Fraction(one.count)
        what: Text = (f"{one.size.capitalize()} connectors",)
        yield Line("connectors", what, PRACTICE, ("as entered",), count, each, count * each, (Part("connectors"),))


def _judge(box: Box, lines: tuple[Line, ...], total: Fraction, limit: Fraction | None) -> tuple[State, Text]:
    if limit is None:
        return State.OPEN, ("volume of the box not known",)
    if total > limit:
        return State.FAILS, ("will not go: ", Amount(total - limit, "in3"), " too much")
    if any(line.value is None for line in lines):
        return State.OPEN, ("no conductor entered yet" if not box.gauges else "room for its conductors not known",)
    thickest = largest(gauge for gauge in box.gauges if gauge in ALLOWANCES)
    if thickest is not None and limit - total < ALLOWANCES[thickest]:
        return State.TIGHT, (Amount(limit - total, "in3"), " of room left")
    return State.HOLDS, (Amount(limit - total, "in3"), " of room left")
