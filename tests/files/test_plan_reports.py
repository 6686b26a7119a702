"""Parts and days as text, data and table: the same figures in each, nothing that a spreadsheet runs."""

from __future__ import annotations

import csv
from importlib.resources import files
from io import StringIO

from nail_count.files.day_report import day_data, day_text, plan_of
from nail_count.files.job_json import read_job
from nail_count.files.parts_report import COLUMNS, parts_csv, parts_data, parts_text
from nail_count.trade.plan.parts.parts_list import parts_list

DEMO = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def test_the_parts_say_the_same_as_text_as_data_and_as_a_table() -> None:
    lines = parts_list(DEMO)
    data, table = parts_data(DEMO), list(csv.DictReader(StringIO(parts_csv(DEMO))))
    assert tuple(table[0]) == tuple(COLUMNS)
    rows = [row for row in table if row["kind"] != "tool"]
    assert [(row["part"], int(row["needed"]), int(row["to buy"])) for row in rows] == [
        (part["name"], part["needed"], part["to_buy"]) for part in data["parts"]
    ]
    assert [tool["name"] for tool in data["tools"]] == [row["part"] for row in table if row["kind"] == "tool"]
    said = parts_text(DEMO)
    assert all(f"{line.name}: {line.needed}" in said for line in lines)
    for part in data["parts"]:
        assert part["needed"] == sum(need["count"] or 0 for need in part["needs"])


def test_no_cell_of_the_table_is_a_formula() -> None:
    evil = [sheet.changed(name="=cmd()") if sheet.id == "ostrel-smart-switch" else sheet for sheet in DEMO.sheets]
    table = list(csv.reader(StringIO(parts_csv(DEMO.changed(sheets=tuple(evil))))))
    assert any("=cmd()" in cell for row in table for cell in row)
    assert not any(cell.startswith(("=", "+", "-", "@")) for row in table for cell in row)


def test_the_days_say_the_same_as_text_and_as_data() -> None:
    plan = plan_of(DEMO, 30)
    data, said = day_data(DEMO, plan), day_text(DEMO, plan)
    assert data["finished"] and not data["left_out"]
    for slot in data["slots"]:
        assert f"{slot['start']}–{slot['end']} {slot['name']}" in said
    assert {one["aim"]: one["value"] for one in data["proven"]}["openings of breakers"] == len(data["without"])
    assert "no plan has fewer" in said
