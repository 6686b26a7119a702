"""The parts of a house as text, as data, and as a table for a spreadsheet."""

from __future__ import annotations

import csv
from collections.abc import Callable, Mapping
from fractions import Fraction
from io import StringIO
from typing import Any

from ..trade.model.job import Job
from ..trade.plan.parts.need import Need
from ..trade.plan.parts.parts_list import PartLine, not_said, parts_list
from ..trade.plan.parts.tools import Tool, tools

Names = Mapping[str, str]
"""What people call each box, by its key."""


def _money(amount: Fraction | None) -> str:
    return "" if amount is None else f"{float(amount):.2f}"


COLUMNS: Mapping[str, Callable[[PartLine, Names], object]] = {
    "kind": lambda line, _: line.part.kind,
    "part": lambda line, _: line.name,
    "unit": lambda line, _: line.unit,
    "needed": lambda line, _: line.needed,
    "not known": lambda line, _: "some" if line.unknown else "",
    "from this job": lambda line, _: line.from_job,
    "in the shop": lambda line, _: line.on_hand,
    "bought": lambda line, _: line.bought,
    "to buy": lambda line, _: line.to_buy,
    "left over": lambda line, _: line.left_over,
    "price": lambda line, _: _money(line.price),
    "money": lambda line, _: _money(line.money),
    "for": lambda line, names: "; ".join(dict.fromkeys(names.get(need.box, "the house") for need in line.needs)),
    "why": lambda line, _: "; ".join(dict.fromkeys(need.why for need in line.needs)),
    "to look at": lambda line, _: "; ".join(line.remarks),
}
"""The columns of the table of parts, from the left: what each shows of a part."""
OF_TOOLS: Mapping[str, Callable[[Tool], str]] = {
    "kind": lambda _: "tool",
    "part": lambda tool: tool.name,
    "for": lambda tool: tool.step,
    "why": lambda tool: tool.why,
}
"""What the same columns show of a tool; the others are empty."""


def parts_data(job: Job) -> dict[str, Any]:
    """The parts and tools of a house as data."""
    lines = parts_list(job)
    return {
        "parts": [_line(job, line) for line in lines],
        "tools": [_tool(tool) for tool in tools(job, lines)],
        "found_not_said": [box.id for box in not_said(job)],
    }


def _line(job: Job, line: PartLine) -> dict[str, Any]:
    names = {box.id: box.name for box in job.boxes}
    return {
        "kind": line.part.kind,
        "of": line.part.of,
        "name": line.name,
        "unit": line.unit,
        "needed": line.needed,
        "some_not_known": line.unknown,
        "from_this_job": line.from_job,
        "from_the_shop": line.from_shelf,
        "bought": line.bought,
        "to_buy": line.to_buy,
        "left_over": line.left_over,
        "price": None if line.price is None else float(line.price),
        "needs": [_need(names, need) for need in line.needs],
        "comes_out": [{"box": one.box, "count": one.count} for one in line.freed],
        "to_look_at": list(line.remarks),
        "package": [{"what": one.what, "count": one.count} for one in line.packages],
    }


def _need(names: dict[str, str], need: Need) -> dict[str, Any]:
    return {
        "box": need.box or None,
        "name": names.get(need.box, "the house"),
        "count": need.count,
        "why": need.why,
        "rule": need.rule.name,
    }


def _tool(tool: Tool) -> dict[str, str]:
    return {"step": tool.step, "name": tool.name, "why": tool.why}


def parts_text(job: Job) -> str:
    """The parts and tools of a house as text."""
    lines, made = parts_list(job), []
    for line in lines:
        unit = f" {line.unit}" if line.unit else ""
        known = f"{line.needed}{unit}{' and more, not known' if line.unknown else ''}"
        have = [f"{line.from_job} out of this job"] * bool(line.from_job)
        have += [f"{line.from_shelf} in the shop"] * bool(line.from_shelf)
        have += [f"{line.bought} bought"] * bool(line.bought)
        left = f", {line.left_over} left over" if line.left_over else ""
        made.append(f"{line.name}: {known}; to buy {line.to_buy}{' (' + ', '.join(have) + ')' if have else ''}{left}")
        made += [f"  {where(job, need)}: {need.why}" for need in line.needs]
        made += [f"  to look at: {remark}" for remark in line.remarks]
    if not lines:
        made.append("Nothing is planned that needs a part.")
    if unsaid := not_said(job):
        names = ", ".join(box.name for box in unsaid)
        made.append(f"What was found isn't recorded, so the whole plan counts as new: {names}")
    made += [
        f"Take along to {tool.step}: {tool.name}{' – ' + tool.why if tool.why else ''}" for tool in tools(job, lines)
    ]
    return "\n".join(made) + "\n"


def short_parts(job: Job) -> list[str]:
    """Return each part of a house in a line: how many, and what."""
    return [f"{line.needed}{f' {line.unit}' if line.unit else ''} × {line.name}" for line in parts_list(job)]


def where(job: Job, need: Need) -> str:
    """Which box a need is of, as people call it, with how many."""
    name = next((f"{box.room}, {box.name}" for box in job.boxes if box.id == need.box), "The house")
    count = "how many is not known" if need.count is None else f"{need.count}{' ' + need.unit if need.unit else ''}"
    return f"{name}, {count}"


def parts_csv(job: Job) -> str:
    """The parts of a house as a table, a line each, with its head, then the tools; no cell is taken for a formula."""
    written = StringIO()
    table = csv.writer(written)
    table.writerow(COLUMNS)
    names = {box.id: f"{box.room}, {box.name}" for box in job.boxes}
    lines = parts_list(job)
    for line in lines:
        table.writerow([plain_cell(show(line, names)) for show in COLUMNS.values()])
    for tool in tools(job, lines):
        table.writerow([plain_cell(OF_TOOLS[name](tool)) if name in OF_TOOLS else "" for name in COLUMNS])
    return written.getvalue()


def plain_cell(cell: object) -> object:
    """What stands in a cell: text that a spreadsheet would take for a formula gets an apostrophe before it.

    >>> plain_cell("=1+1"), plain_cell("14/2 cable"), plain_cell(-3)
    ("'=1+1", '14/2 cable', -3)
    """
    return f"'{cell}" if isinstance(cell, str) and cell[:1] in ("=", "+", "-", "@", "\t", "\r") else cell
