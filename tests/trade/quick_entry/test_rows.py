"""Rows of tables and lines of directories: what people write, understood or pointed at; all of it one act."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.house.panel import PutCircuit
from nail_count.trade.model.job import Job
from nail_count.trade.model.panel import Circuit
from nail_count.trade.quick_entry.directory import read_directory
from nail_count.trade.quick_entry.row import COLUMNS, Column, column_of, read_row
from nail_count.trade.quick_entry.rows import (
    BringInBoxes,
    BringInCircuits,
    guessed_columns,
    landing,
    new_circuits,
    read_rows,
)
from tests.support import DIMMER, SHEETS, SWITCH

BENCH: dict[Column, str] = {"name": "Bench", "room": "Kitchen"}
PANEL = frozenset(("5", "7/9"))


def test_a_row_as_the_trade_writes_it_is_the_box_it_says() -> None:
    """By hand: three gangs, 54 in³, three 14/2 and a 12/3, two devices and a fan control left out."""
    said: dict[Column, str] = {
        **BENCH, "gangs": "3", "volume": "54 cu in", "cables": "14/2 x3, 12-3 w/g", "device": "dimmer, switch",
        "watts": "6x9W led, 60", "circuit": "5", "use": "switch", "material": "plastic",
    }  # fmt: skip
    reading = read_row(said, SHEETS, PANEL)
    assert not reading.problems and reading.box
    box = reading.box
    assert (box.id, box.circuit, box.use, box.enclosure.gangs) == ("kitchen-bench", "5", "control", 3)
    assert box.enclosure.volume is not None and box.enclosure.volume.value == 54
    assert [str(cable.size) for cable in box.cables] == ["14/2", "14/2", "14/2", "12/3"]
    assert [device.sheet for device in box.devices] == [DIMMER.id, SWITCH.id]
    assert [(load.quantity, load.each.value) for item in box.devices for load in item.loads] == [(6, 9), (1, 60)]


@pytest.mark.parametrize(
    ("cables", "sizes"),
    [
        ("14/2", ["14/2"]),
        ("3 x 14/2", ["14/2"] * 3),
        ("14-2 and 14-3", ["14/2", "14/3"]),
        ("2x12/2; 14/3", ["12/2", "12/2", "14/3"]),
        ("14/2 × 2 + 12/2", ["14/2", "14/2", "12/2"]),
        ("14/2 w/g, 14/2 with ground", ["14/2"] * 2),
    ],
)
def test_cables_are_understood_as_people_write_them(cables: str, sizes: list[str]) -> None:
    reading = read_row({**BENCH, "cables": cables}, {}, frozenset())
    assert reading.box and [cable.size for cable in reading.box.cables] == sizes


@pytest.mark.parametrize(
    ("column", "text", "expected"),
    [
        ("cables", "three", "cables such as"),
        ("cables", "2x14/2 x3", "cables such as"),
        ("cables", "13/2", "gauges"),
        ("gangs", "two", "gangs such as"),
        ("volume", "lots", "volume such as"),
        ("circuit", "99", "a breaker of this panel"),
        ("device", "thing", "a device such as"),
        ("watts", "60", "no device here"),
        ("use", "sauna", "one of switch"),
        ("name", "", "a name"),
        ("room", "x" * 61, "a room"),
        ("material", "felt", "metal"),
        ("gangs", "9", "Enter 8 or less"),
    ],
)
def test_what_is_not_understood_is_said_at_its_cell_and_stays_out(column: Column, text: str, expected: str) -> None:
    said: dict[Column, str] = {**BENCH, "gangs": "2", "cables": "14/2", column: text}
    reading = read_row(said, SHEETS, PANEL)
    assert reading.box is None
    assert [cell.column for cell in reading.problems] == [column]
    assert expected in f"Enter {reading.problems[0].expected}"


def test_as_many_watts_as_devices_or_none() -> None:
    reading = read_row({**BENCH, "gangs": "2", "device": "dimmer, switch", "watts": "60"}, SHEETS, PANEL)
    assert [cell.expected for cell in reading.problems] == [
        "watts for each device, as many as there are: 2 devices here"
    ]


@given(st.dictionaries(st.sampled_from(COLUMNS), st.text(max_size=30)), st.booleans())
def test_any_row_is_a_box_or_says_what_was_expected(said: dict[Column, str], comma: bool) -> None:
    reading = read_row(said, SHEETS, PANEL, comma)
    assert (reading.box is None) == bool(reading.problems)
    if reading.box:
        assert reading.box.name in said["name"]


@given(
    st.integers(1, 8),
    st.fractions(1, 90, max_denominator=4),
    st.lists(st.sampled_from(["14/2", "12/2", "14/3"]), max_size=5),
)
def test_a_decimal_comma_says_what_a_point_says(gangs: int, volume: Fraction, cables: list[str]) -> None:
    point: dict[Column, str] = {
        **BENCH,
        "gangs": str(gangs),
        "volume": f"{float(volume):.2f}",
        "cables": ", ".join(cables),
    }
    comma: dict[Column, str] = {**point, "volume": point["volume"].replace(".", ",")}
    assert read_row(point, {}, PANEL).box == read_row(comma, {}, PANEL, decimal_comma=True).box
    box = read_row(point, {}, PANEL).box
    assert box and box.enclosure.volume and box.enclosure.volume.value == Fraction(point["volume"])


def test_a_comma_is_a_decimal_point_in_figures_only() -> None:
    said: dict[Column, str] = {"name": "Bench 1,5", "room": "Room 2,1", "volume": "20,3", "cables": "14/2,14/3"}
    box = read_row(said, {}, PANEL, decimal_comma=True).box
    assert box and (box.name, box.room) == ("Bench 1,5", "Room 2,1")
    assert [cable.size for cable in box.cables] == ["14/2", "14/3"]
    assert box.enclosure.volume and box.enclosure.volume.value == Fraction("20.3")


def test_only_the_mark_of_a_formula_is_taken_off_a_name() -> None:
    names = [read_row({"name": name, "room": "Hall"}, {}, PANEL).box for name in ("'=1+1", "'Tis it", "Joe's")]
    assert [box.name for box in names if box] == ["=1+1", "'Tis it", "Joe's"]


def test_heads_are_known_by_the_words_people_put_there() -> None:
    heads = ("Box", "Area", "# gangs", "Vol. (in3)", "NM cables", "Device type", "Watts/each", "Ckt", "Notes", "Box")
    assert guessed_columns(heads) == (
        "name", "room", "gangs", "volume", "cables", "device", "watts", "circuit", None, None
    )  # fmt: skip
    assert all(column_of(column) == column for column in COLUMNS)


def house() -> Job:
    return Job(name="House", sheets=tuple(SHEETS.values()), circuits=(Circuit(id="5"), Circuit(id="7/9", poles=2)))


def test_a_table_lands_as_one_act_without_what_is_here_or_not_understood() -> None:
    table = [
        ["Bench", "Kitchen", "3"],
        ["Sink", "Kitchen", "two"],
        ["Door", "Hall", "1"],
        ["door", "hall", "2"],
        ["Porch", "", "1"],
    ]
    rows = read_rows(
        table, ("name", "room", "gangs"), SHEETS, circuits=PANEL, here=[("Hall", "Door")], room="Outside"
    )  # fmt: skip
    assert [row.is_here for row in rows] == [False, False, True, True, False]
    boxes = landing(rows)
    assert [(box.name, box.room) for box in boxes] == [("Bench", "Kitchen"), ("Porch", "Outside")]
    assert [box.name for box in landing(rows, {3, 4, 2})] == ["Door", "door"], "what is ticked lands, if understood"
    done = BringInBoxes(new=(*boxes, *boxes)).apply(Documents(JobAtHand(house()), {}))
    assert [box.id for box in done.documents.job.boxes] == [
        "kitchen-bench", "outside-porch", "kitchen-bench-2", "outside-porch-2"
    ]  # fmt: skip
    assert done.sentence == "4 boxes imported from a table"


@pytest.mark.parametrize(
    ("line", "id", "amps", "poles", "kind", "label", "space"),
    [
        ("1 Kitchen lights 15A", "1", 15, 1, None, "Kitchen lights", 1),
        ("7/9  Water heater, 30 A 2P", "7/9", 30, 2, None, "Water heater", 7),
        ("8-10 Range 50 amp", "8/10", 50, 2, None, "Range", 8),
        ("#12: Bath 20 A GFCI", "12", 20, 1, "GFCI", "Bath", 12),
        ("13a | Hall | 15A", "13a", 15, 1, None, "Hall", 13),
        ("ckt 3\t20A\tAFCI\tDining, east", "3", 20, 1, "AFCI", "Dining, east", 3),
        ("5) 20 amps dual-function Laundry", "5", 20, 1, "both", "Laundry", 5),
        ("14. 15 A", "14", 15, 1, None, "", 14),
        ("4 Bedroom 2 15A", "4", 15, 1, None, "Bedroom 2", 4),
        ("6 - 3 way lights 15 A", "6", 15, 1, None, "3 way lights", 6),
    ],
)
def test_a_line_of_a_directory_is_the_breaker_it_says(
    line: str, id: str, amps: int, poles: int, kind: str | None, label: str, space: int
) -> None:
    (read,) = read_directory(line)
    assert not read.expected and read.circuit
    found = read.circuit
    assert (found.id, found.breaker, found.poles, found.kind, found.label, found.space) == (
        id, amps, poles, kind, label, space
    )  # fmt: skip


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("Kitchen 15A", "the number of a breaker first"),
        ("1 Kitchen", "how many amps"),
        ("1/2 Range 50A", "1/3"),
        ("1 Kitchen 15A 20A", "one breaker a line"),
        ("99 Attic 15A", "84"),
        ("1 Attic 900A", "200"),
    ],
)
def test_a_line_that_says_no_breaker_says_what_was_expected(line: str, expected: str) -> None:
    (read,) = read_directory(line)
    assert read.circuit is None and expected in read.expected


def test_amps_are_never_guessed_but_taken_where_they_are_said_for_all() -> None:
    assert read_directory("1 Kitchen")[0].circuit is None
    assert [line.circuit.breaker for line in read_directory("1 Kitchen\n3 Hall 20A", 15) if line.circuit] == [15, 20]


def test_a_directory_lands_as_one_act_and_leaves_the_panel_as_it_is() -> None:
    lines = read_directory("5 Entry 20A\n11 Hall 15A\n11 Hall again 15A\n12 open\n7/9 Dryer 30A\n14 Loft 20A")
    new = new_circuits(lines, {"5", "7/9"})
    assert [circuit.id for circuit in new] == ["11", "14"]
    after = BringInCircuits(new=new).apply(Documents(JobAtHand(house()), {})).documents.head
    assert {one.id: one.breaker for one in after.circuits} == {"5": 15, "7/9": 15, "11": 15, "14": 20}
    with pytest.raises(ValueError, match="Breaker 5 is in the panel already"):
        BringInCircuits(new=(PutCircuit(id="5"),)).apply(Documents(JobAtHand(house()), {}))


@given(st.text(max_size=80))
def test_any_text_is_lines_understood_or_pointed_at(text: str) -> None:
    for line in read_directory(text):
        assert bool(line.expected) != bool(line.means)
        assert line.circuit is None or line.means
