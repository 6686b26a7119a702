"""Taken out: tables read back to the letter, a spreadsheet recomputed by another library, drawings that stand alone."""

from __future__ import annotations

import csv
from fractions import Fraction
from io import BytesIO, StringIO
from pathlib import Path
from typing import Any
from xml.etree import ElementTree

import formulas
import pytest
from click.testing import CliRunner
from hypothesis import given, settings
from hypothesis import strategies as st
from openpyxl import load_workbook
from PIL import Image

from nail_count.cli import main
from nail_count.drawing.ink import Area, Ink
from nail_count.drawing.of_job import box_drawing, day_drawings, drawings_in, floor_maps
from nail_count.files.day_report import plan_of
from nail_count.files.job_json import read_job
from nail_count.files.png import png
from nail_count.files.svg import svg
from nail_count.files.tables import HEADS, TABLES, table_csv
from nail_count.files.xlsx import job_xlsx
from nail_count.trade.model.job import Job
from nail_count.trade.rules.check import check_job, fitting_job

FILE = Path(__file__).parents[2] / "src/nail_count/demo/schoolhouse.json"
DEMO = fitting_job(read_job(FILE.read_bytes()))
FORMULAS = ("=1+1", "+1", "-2", "@sum", "\t=1")


def rows(text: str) -> list[list[str]]:
    return list(csv.reader(StringIO(text)))


def test_every_table_has_its_head_and_a_row_for_each_thing() -> None:
    tables = {name: rows(table_csv(DEMO, name)) for name in TABLES}
    for name, head in HEADS.items():
        assert not head or tuple(tables[name][0]) == head
        assert all(len(row) == len(tables[name][0]) for row in tables[name])
    count = {name: len(table) - 1 for name, table in tables.items()}
    assert count["boxes"] == len(DEMO.boxes) and count["cables"] == sum(len(box.cables) for box in DEMO.boxes)
    assert count["circuits"] == len(DEMO.circuits)
    counted = [row for row in tables["count"] if row[0] == "cloakroom" and row[4].isdecimal()]
    assert [(row[6], row[7], row[8]) for row in counted] == [
        ("7", "2.25", "15.75"), ("1", "2.25", "2.25"), ("2", "2.25", "4.5"), ("1", "2.25", "2.25"), ("", "", "0"),
    ]  # fmt: skip
    vanity = next(row for row in tables["devices"] if row[0] == "washroom" and row[3] == "m1")
    assert vanity[-3:] == ["TM-204417", "2.4", "Vanity mirror"]


@given(st.text(st.characters(codec="utf-8", exclude_characters="\r\x00"), min_size=1, max_size=40).filter(str.strip))
def test_what_things_are_called_is_read_back_to_the_letter(name: str) -> None:
    """Commas, quotes, line ends, other scripts; what a spreadsheet would take for a formula is marked as text."""
    house = Job.model_validate({"name": "House", "boxes": [{"id": "b", "name": name, "room": "Hall"}]})
    said = house.boxes[0].name
    back = rows(table_csv(house, "boxes"))[1][2]
    assert back == (f"'{said}" if said[0] in "=+-@\t\r" else said)


def recomputed(content: bytes, tmp_path: Path) -> dict[str, Any]:
    """Every cell of a spreadsheet as another library reckons it, by its address: BOXES!D2."""
    file = tmp_path / "house.xlsx"
    file.write_bytes(content)
    model = formulas.ExcelModel().loads(str(file)).finish()
    solved = model.calculate()
    found = {}
    for key, cell in solved.items():
        if hasattr(cell, "value") and ":" not in key.split("!")[-1]:
            sheet, address = key.rsplit("]", 1)[1].split("'!")
            found[f"{sheet}!{address}".upper()] = cell.value[0, 0]
    return found


def test_the_spreadsheet_reckoned_by_another_library_gives_the_same_sums(tmp_path: Path) -> None:
    cells = recomputed(job_xlsx(DEMO), tmp_path)
    checks = check_job(DEMO).boxes
    for number, check in enumerate(checks, 2):
        fill = check.fill
        assert Fraction(str(cells[f"BOXES!D{number}"])).limit_denominator(10**6) == fill.total
        if fill.limit is not None:
            assert cells[f"BOXES!E{number}"] == pytest.approx(float(fill.limit))
            assert cells[f"BOXES!F{number}"] == pytest.approx(float(fill.limit - fill.total))
    cloakroom = next(n for n, check in enumerate(checks, 2) if check.box.id == "cloakroom")
    by_hand = 7 * 2.25 + 2.25 + 2 * 2.25 + 2.25, 22.5, -2.25
    assert tuple(cells[f"BOXES!{column}{cloakroom}"] for column in "DEF") == by_hand


def test_another_figure_typed_in_gives_another_sum(tmp_path: Path) -> None:
    """One conductor less in the cloakroom: 22.5 of 22.5, within."""
    book = load_workbook(BytesIO(job_xlsx(DEMO)))
    sheet = book["Counts"]
    mine = [row for row in sheet.iter_rows(min_row=2) if str(row[0].value).endswith(": Cloakroom")]
    assert mine[0][3].value == 7
    mine[0][3].value = 6
    changed = BytesIO()
    book.save(changed)
    cells = recomputed(changed.getvalue(), tmp_path)
    spare = next(row for row in mine if row[2].value == "To spare")
    assert cells[f"COUNTS!F{spare[0].row}"] == 0 and cells[f"COUNTS!G{spare[0].row}"] == "within"


@settings(max_examples=20)
@given(st.sampled_from(FORMULAS) | st.text(st.characters(codec="utf-8"), min_size=1, max_size=30).filter(str.strip))
def test_no_name_is_ever_a_formula(name: str) -> None:
    house = Job.model_validate({"name": "House", "boxes": [{"id": "b", "name": name, "room": name}]})
    book = load_workbook(BytesIO(job_xlsx(house)))
    for sheet in book.worksheets:
        for row in sheet.iter_rows():
            for cell in row:
                if cell.data_type == "f":
                    assert str(cell.value).startswith(("=D", "=E", "=F", "=SUM(", "=IF(", "=Counts!"))


@pytest.mark.parametrize("box", [one.id for one in DEMO.boxes])
def test_a_drawing_stands_alone(box: str) -> None:
    """XML, every mark of it, nothing from elsewhere; what it shows is said in words."""
    at = next(one for one in DEMO.boxes if one.id == box)
    for what in drawings_in(at):
        ink = box_drawing(DEMO, at, what)
        drawn = svg(ink)
        root = ElementTree.fromstring(drawn)
        assert len(root) == len(ink.marks) > 0 and root.get("aria-label") == ink.facts
        assert drawn.count("http") == 1 and "<style" not in drawn and "class=" not in drawn


def words(drawn: str) -> list[str]:
    return [text.text or "" for text in ElementTree.fromstring(drawn).iter("{http://www.w3.org/2000/svg}text")]


def test_the_drawings_of_the_house_name_every_box_breaker_and_day() -> None:
    """Every box on the map of its floor, every cable's letter; on the day every task by its number."""
    maps = dict(floor_maps(DEMO, {check.box.id: check.state.word for check in check_job(DEMO).boxes}))
    assert set(maps) == {DEMO.house.floor_of(box.room) for box in DEMO.boxes}
    for floor, ink in maps.items():
        here = [box for box in DEMO.boxes if DEMO.house.floor_of(box.room) == floor]
        said = words(svg(ink))
        shown = {word.removesuffix("…") for word in said}
        assert all(any(box.name.startswith(word) for word in shown if word) for box in here)
        assert {circuit.id for circuit in DEMO.circuits} <= set(said)
        letters = sorted(cable.id for box in here for cable in box.entering)
        assert sorted(word for word in said if word in "ABCDEFGH" and word) == letters
    plan = plan_of(DEMO, 3)
    days = list(day_drawings(DEMO, plan))
    numbers = [word for _, ink in days for word in words(svg(ink)) if word.isdecimal()]
    assert {str(number) for number in range(1, len(plan.slots) + 1)} <= set(numbers)


def test_a_picture_shows_what_the_vectors_say() -> None:
    """A bar of ink on paper where it is said to be, dot by dot."""
    ink = Ink(0, 0, 40, 20, (Area(10, 5, 20, 10, "ink", 0),), "A bar.")
    drawn = Image.open(BytesIO(png(ink, 400))).convert("L")
    assert drawn.size == (400, 200)
    dark = [(x, y) for x in range(400) for y in range(200) if drawn.getpixel((x, y)) < 128]  # type: ignore[operator]
    assert dark == [(x, y) for x in range(100, 300) for y in range(50, 150)]


def test_the_command_writes_whole_files_and_replaces_none_unasked(tmp_path: Path) -> None:
    def run(*more: str) -> Any:
        return CliRunner().invoke(main, ["export", str(FILE), *more])

    done = run("--xlsx", str(tmp_path / "h.xlsx"), "--csv", str(tmp_path / "t"), "--svg", str(tmp_path / "d"))
    assert done.exit_code == 0, done.output
    assert {one.stem for one in (tmp_path / "t").iterdir()} == set(TABLES)
    assert (tmp_path / "d" / "front-door-hook-up.svg").exists() and not (tmp_path / "d" / "study-hook-up.svg").exists()
    assert load_workbook(tmp_path / "h.xlsx")["Counts"]
    before = (tmp_path / "h.xlsx").read_bytes()
    again = run("--xlsx", str(tmp_path / "h.xlsx"))
    assert again.exit_code == 2 and "This file is there already" in again.output
    assert (tmp_path / "h.xlsx").read_bytes() == before
    assert run("--xlsx", str(tmp_path / "h.xlsx"), "--overwrite").exit_code == 0
    (tmp_path / "file").write_text("")
    assert run("--csv", str(tmp_path / "file" / "in")).exit_code == 2 and run().exit_code == 2
    assert not list(tmp_path.rglob(".*")), "nothing half is left behind"
