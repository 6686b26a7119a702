"""What goes out as a table comes in again as the same boxes."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.files.spread import read_spread, text_of
from nail_count.files.tables import table_csv
from nail_count.trade.model.job import Job
from nail_count.trade.model.panel import Circuit
from nail_count.trade.quick_entry.rows import guessed_columns, landing, read_rows

WORDS = st.text(st.characters(categories=("L", "N", "P", "Zs", "S")), min_size=1, max_size=20).map(str.strip)
NAMES = WORDS.filter(lambda word: word.strip("'\"“” ") == word and word != "")


@st.composite
def houses(draw: st.DrawFn) -> Job:
    """Boxes with what a table of them says: name, room, use, breaker, gangs, material, volume."""
    boxes = []
    for number in range(draw(st.integers(1, 4))):
        kind = draw(st.sampled_from([("volume", "20.3 in3"), ("volume", "54 in3"), ("trade_size", "4x2-1/8 square")]))
        material = draw(st.sampled_from(["nonmetallic", "metal"])) if kind[0] == "volume" else "metal"
        gangs = draw(st.integers(1, 4)) if kind[0] == "volume" else 1
        enclosure = {"gangs": gangs, "material": material, kind[0]: kind[1]}
        boxes.append(
            {
                "id": f"b{number}", "name": f"{draw(NAMES)} {number}", "room": draw(NAMES),
                "use": draw(st.sampled_from(["control", "luminaire", "fan", "receptacle", "junction"])),
                "circuit": draw(st.sampled_from([None, "5", "7"])), "planned": {"enclosure": enclosure},
            }
        )  # fmt: skip
    return Job.model_validate({"name": "House", "circuits": [Circuit(id="5"), Circuit(id="7")], "boxes": boxes})


@given(houses(), st.sampled_from(["utf-8", "utf-8-sig", "utf-16"]))
def test_the_table_of_boxes_comes_in_as_the_boxes_it_was_made_of(house: Job, code: str) -> None:
    spread = read_spread(text_of(table_csv(house, "boxes").encode(code)))
    columns = guessed_columns(spread.rows[0])
    circuits = frozenset(circuit.id for circuit in house.circuits)
    rows = read_rows(
        spread.rows[1:], columns, {}, circuits=circuits, here={}, first=2, decimal_comma=spread.decimal_comma
    )
    assert not [cell for row in rows for cell in row.reading.problems]

    def said(job_boxes: object) -> list[object]:
        return [
            (box.name, box.room, box.use, box.circuit, box.enclosure.gangs, box.enclosure.material,
             box.enclosure.volume, box.enclosure.trade_size)
            for box in job_boxes  # type: ignore[attr-defined]
        ]  # fmt: skip

    assert said(landing(rows, {row.number for row in rows})) == said(house.boxes)
