"""A job as tables, one for each kind of thing, for other programs. No cell is taken for a formula."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from fractions import Fraction
from io import StringIO
from typing import Literal, get_args

from ..trade.model.answer import Line
from ..trade.model.job import Job, by_id
from ..trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, RunEnd
from ..trade.rules.check import check_job
from ..trade.text.format import say
from .parts_report import parts_csv, plain_cell

TableName = Literal["boxes", "count", "cables", "devices", "circuits", "readings", "parts"]
TABLES: tuple[TableName, ...] = get_args(TableName)
TABLE_NAMES: dict[TableName, str] = {
    "boxes": "Boxes", "count": "Count lines", "cables": "Cables and where they go", "devices": "Devices and loads",
    "circuits": "Circuits", "readings": "Readings", "parts": "Parts and tools",
}  # fmt: skip
HEADS: dict[TableName, tuple[str, ...]] = {
    "boxes": ("id", "room", "name", "use", "circuits", "gangs", "material", "volume", "state", "total", "limit", "unit",
              "what binds"),
    "count": ("box", "room", "name", "answer", "line", "what", "count", "each", "value", "unit", "rule"),
    "cables": ("box", "room", "name", "cable", "gauge", "conductors", "grounds", "enters", "goes to", "its cable"),
    "devices": ("box", "room", "name", "device", "gang", "called", "sheet", "load", "kind", "quantity", "each",
                "serial", "firmware", "name in the hub"),
    "circuits": ("id", "breaker", "poles", "protects", "old label", "feeds", "space", "shares its neutral with"),
    "readings": ("box", "room", "name", "reading", "kind", "of", "to", "shown"),
    "parts": (),
}  # fmt: skip
Row = tuple[object, ...]


def table_rows(job: Job, name: TableName) -> Iterator[Row]:
    """The rows of a table, without its head.

    Args:
        job: the house, as far as it fits together.
        name: which table; parts have one of their own.
    """
    yield from _MAKERS[name](job)


def table_csv(job: Job, name: TableName) -> str:
    """A table as CSV: comma, point, UTF-8, a head; text that would be taken for a formula is marked as text."""
    if name == "parts":
        return parts_csv(job)
    written = StringIO()
    table = csv.writer(written)
    table.writerow(HEADS[name])
    table.writerows([plain_cell(cell) for cell in row] for row in table_rows(job, name))
    return written.getvalue()


def _number(value: Fraction | None) -> object:
    if value is None:
        return ""
    return value.numerator if value.denominator == 1 else round(float(value), 6)


def _boxes(job: Job) -> Iterator[Row]:
    for one in check_job(job).boxes:
        box, fill = one.box, one.fill
        yield (
            box.id, box.room, box.name, box.use, " ".join(box.circuits), box.enclosure.gangs, box.enclosure.material,
            str(box.enclosure.volume or box.enclosure.trade_size or ""), one.state.word, _number(fill.total),
            _number(fill.limit), fill.unit, say(one.headline),
        )  # fmt: skip


def _count(job: Job) -> Iterator[Row]:
    for one in check_job(job).boxes:
        for answer in one.fills:
            at = (one.box.id, one.box.room, one.box.name, say(answer.title))
            for number, line in enumerate(answer.lines, 1):
                yield (*at, number, *_line(line), answer.unit, line.rule.name)
            for line in answer.limit_lines:
                yield (*at, "limit", *_line(line), answer.unit, line.rule.name)


def _line(line: Line) -> Row:
    count = _number(line.count) if line.each is not None else ""
    return say(line.what), count, _number(line.each), "not known" if line.value is None else _number(line.value)


def _cables(job: Job) -> Iterator[Row]:
    names = {box.id: f"{box.room}: {box.name}" for box in job.boxes}
    for box in job.boxes:
        for cable in box.cables:
            to, its = _to(job.far_ends.get((box.id, cable.id)), names)
            yield (
                box.id, box.room, box.name, cable.id, str(cable.gauge), cable.insulated, cable.grounds, cable.enters,
                to, its,
            )  # fmt: skip


def _to(end: RunEnd | None, names: dict[str, str]) -> tuple[str, str]:
    match end:
        case None:
            return "", ""
        case BoxEnd():
            return names.get(end.box, end.box), end.cable or ""
        case CircuitEnd():
            return f"circuit {end.circuit}", ""
        case OnwardEnd():
            return "onward", ""
    return end.words, ""


def _devices(job: Job) -> Iterator[Row]:
    sheets = by_id(job.sheets)
    for box in job.boxes:
        noted = {one.of: one for one in (box.built.commissioned if box.built else ())}
        for item in box.equipment:
            one = noted.get(item.id)
            at = (box.id, box.room, box.name, item.id, item.gang or "", item.name, sheets[item.sheet].name)
            facts = (one.serial, one.firmware, one.name) if one else ("", "", "")
            for load in item.loads:
                yield (*at, load.name, load.kind, load.quantity, str(load.each), *facts)
            if not item.loads:
                yield (*at, "", "", "", "", *facts)


def _circuits(job: Job) -> Iterator[Row]:
    for one in job.circuits:
        yield (
            one.id, one.breaker, one.poles, one.kind or "", one.label, one.feeds, one.space or "",
            one.neutral_with or "",
        )  # fmt: skip


def _readings(job: Job) -> Iterator[Row]:
    for box in job.boxes:
        for one in box.readings:
            shown = one.volts if one.volts is not None else one.ohms
            said = _number(shown) if shown is not None else "yes" if one.yes else "no"
            yield box.id, box.room, box.name, one.id, one.kind, one.of, one.to, said


_MAKERS = {
    "boxes": _boxes, "count": _count, "cables": _cables, "devices": _devices, "circuits": _circuits,
    "readings": _readings,
}  # fmt: skip
