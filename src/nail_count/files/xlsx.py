"""A job as a spreadsheet whose counts are formulas: whoever opens it sees how each sum comes about."""

from __future__ import annotations

import re
from collections.abc import Iterator
from fractions import Fraction
from io import BytesIO

from openpyxl import Workbook
from openpyxl.styles import Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from ..trade.model.answer import Answer, Line
from ..trade.model.job import Job
from ..trade.rules.check import BoxCheck, check_job
from ..trade.text.format import say
from .report import CAUTION
from .tables import HEADS, TABLE_NAMES, TABLES, table_rows

COUNTS = "Counts"
HEAD = ("Box", "Line", "What", "Count", "Each", "Is", "Unit", "By")
_IS = "F"
"""The column of what a line comes to."""
_UNSAYABLE = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f\ud800-\udfff\ufffe\uffff]")
"""What no spreadsheet takes."""


def job_xlsx(job: Job) -> bytes:
    """A job as a spreadsheet: counts with formulas, boxes that point at them, and every other table.

    Args:
        job: the house, as far as it fits together.
    """
    book = Workbook()
    boxes, counts = book.active, book.create_sheet(COUNTS)
    assert isinstance(boxes, Worksheet)
    boxes.title = TABLE_NAMES["boxes"]
    check = check_job(job)
    sums = dict(_counts(counts, check.boxes))
    _row(boxes, 1, ("Room", "Box", "Volume rule", "In all", "Limit", "Spare", "Unit", "State", "What binds"), bold=True)
    for number, one in enumerate(check.boxes, 2):
        total, limit, unit = sums.get(one.box.id, ("", "", ""))
        spare = f"=E{number}-D{number}" if limit else ""
        _row(boxes, number, (one.box.room, one.box.name, say(one.fill.title)))
        for column, formula in zip("DEF", (total, limit, spare), strict=True):
            boxes[f"{column}{number}"] = formula
        _row(boxes, number, (unit, one.state.word, say(one.headline)), first=7)
    _row(boxes, len(check.boxes) + 3, (CAUTION,))
    for name in TABLES:
        if name not in ("boxes", "count", "parts"):
            sheet = book.create_sheet(TABLE_NAMES[name][:31])
            _row(sheet, 1, HEADS[name], bold=True)
            for number, row in enumerate(table_rows(job, name), 2):
                _row(sheet, number, row)
    for sheet in book.worksheets:
        _widths(sheet)
    written = BytesIO()
    book.save(written)
    return written.getvalue()


def _counts(sheet: Worksheet, boxes: tuple[BoxCheck, ...]) -> Iterator[tuple[str, tuple[str, str, str]]]:
    """Every count, line by line; of each box, where its sum and its limit stand."""
    _row(sheet, 1, HEAD, bold=True)
    at = 2
    for one in boxes:
        for answer in one.fills or (one.bulk,):
            total, limit, after = _count(sheet, at, f"{one.box.room}: {one.box.name}", answer)
            if answer == one.fill:
                yield one.box.id, (f"={COUNTS}!{total}", f"={COUNTS}!{limit}" if limit else "", answer.unit)
            at = after + 1


def _count(sheet: Worksheet, at: int, name: str, answer: Answer) -> tuple[str, str, int]:
    """One count from a row on: where its sum stands, where its limit, and the row after it."""
    first = at
    for number, line in enumerate(answer.lines, 1):
        _line(sheet, at, (name, number), line, answer.unit)
        at += 1
    total = f"{_IS}{at}"
    _row(sheet, at, (name, "", f"{say(answer.title)}: in all"), bold=True)
    sheet[total] = f"=SUM({_IS}{first}:{_IS}{at - 1})" if at > first else 0
    at += 1
    if answer.limit is None or not answer.limit_lines:
        return total, "", at
    start = at
    for line in answer.limit_lines:
        _line(sheet, at, (name, ""), line, answer.unit)
        at += 1
    limit = f"{_IS}{at}"
    _row(sheet, at, (name, "", "Limit"), bold=True)
    sheet[limit] = f"=SUM({_IS}{start}:{_IS}{at - 1})"
    _row(sheet, at + 1, (name, "", "To spare"), bold=True)
    sheet[f"{_IS}{at + 1}"] = f"={limit}-{total}"
    sheet[f"G{at + 1}"] = f'=IF({_IS}{at + 1}<0,"over","within")'
    return total, limit, at + 2


def _line(sheet: Worksheet, at: int, name: tuple[object, ...], line: Line, unit: str) -> None:
    _row(sheet, at, (*name, say(line.what)))
    if line.each is not None and line.value == line.count * line.each:
        _row(sheet, at, (_figure(line.count), _figure(line.each)), first=4)
        sheet[f"{_IS}{at}"] = f"=D{at}*E{at}"
    else:
        _row(sheet, at, ("not known" if line.value is None else _figure(line.value),), first=6)
    _row(sheet, at, (unit, line.rule.name), first=7)


def _figure(value: Fraction) -> float | int:
    return value.numerator if value.denominator == 1 else float(value)


def _row(sheet: Worksheet, number: int, cells: tuple[object, ...], first: int = 1, bold: bool = False) -> None:
    """Cells of a row; text stays text, whatever it begins with."""
    for column, value in enumerate(cells, first):
        if value == "":
            continue
        cell = sheet.cell(number, column)
        if isinstance(value, str):
            cell.value = _UNSAYABLE.sub("", value)[:32_000]
            cell.data_type = "s"
        else:
            cell.value = value  # type: ignore[assignment]
        if bold:
            cell.font = Font(bold=True)


def _widths(sheet: Worksheet) -> None:
    for column, cells in enumerate(sheet.iter_cols(), 1):
        longest = max((len(str(cell.value)) for cell in cells if cell.value is not None), default=8)
        sheet.column_dimensions[get_column_letter(column)].width = min(max(longest + 2, 9), 60)
    sheet.freeze_panes = "A2"
