"""The job file: round trips, its schema by an independent validator, and every way a file can be wrong."""

from __future__ import annotations

import json
from fractions import Fraction as F
from importlib.resources import files
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.files.job_json import BadFile, job_schema, read_job, write_job
from nail_count.files.report import check_text
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.commissioned import Commissioned
from nail_count.trade.model.contents import Built, Contents
from nail_count.trade.model.gauge import mm2
from nail_count.trade.model.job import Job
from nail_count.trade.model.measure import Power
from nail_count.trade.model.prices import Price, ReplacementLamp, StockConnector
from nail_count.trade.model.run import BoxEnd, CircuitEnd, OnwardEnd, Run, WordsEnd
from nail_count.trade.model.tick import Tick
from nail_count.trade.model.wire import Cable
from nail_count.trade.rules.check import check_job
from tests.support import SHEETS, any_box, any_run, any_tick

EXAMPLES = ("schoolhouse.json", "hallway.json")


def example(name: str) -> bytes:
    return (files("nail_count.demo") / name).read_bytes()


@pytest.mark.parametrize("name", EXAMPLES)
def test_shipped_examples_read_and_fit_the_schema(name: str) -> None:
    content = example(name)
    schema = job_schema()
    jsonschema.Draft202012Validator.check_schema(schema)
    jsonschema.validate(json.loads(content), schema, jsonschema.Draft202012Validator)
    assert write_job(read_job(content)).encode() == content


def test_the_demo_house_shows_every_state() -> None:
    job = read_job(example("schoolhouse.json"))
    checked = check_job(job)
    assert {box.state for box in checked.boxes} == set(State)
    fails = {box.binding.about for box in checked.boxes if box.state is State.FAILS}
    assert fails == {"fill", "rating"}
    assert len(job.boxes) >= 8 and len({box.circuit for box in job.boxes}) == 3
    assert {box.enclosure.gangs for box in job.boxes} == {1, 2, 3, 4}


VALIDATOR = jsonschema.Draft202012Validator(job_schema())


@given(any_box())
def test_any_job_reads_back(box: Box) -> None:
    job = Job(name="Any", sheets=tuple(SHEETS.values()), boxes=(box,))
    text = write_job(job)
    assert read_job(text.encode()) == job
    VALIDATOR.validate(json.loads(text))


GOOD = json.loads(example("hallway.json"))


def ticked(**step: object) -> list[dict[str, object]]:
    """The one step of the work that is ticked."""
    return [{"id": "t1", "box": GOOD["boxes"][0]["id"], "step": step, "at": "2026-11-26T09:30:00"}]


OLD = json.loads((Path(__file__).parents[1] / "store" / "versions" / "0005.json").read_bytes())
"""A job file of version 1."""


def changed(path: str, value: object, of: Any = GOOD) -> bytes:
    """The example, or another file, with one thing in it changed."""
    document = json.loads(json.dumps(of))
    at: Any = document
    *way, last = [int(step) if step.isdigit() else step for step in path.split(".")]
    for step in way:
        at = at[step]
    at[last] = value
    return json.dumps(document).encode()


INTO, IN = "boxes.0.planned.enclosure", "boxes[0].planned.enclosure"
WRONG = [
    (b"", "", "This file is empty"),
    (b"  \n", "", "This file is empty"),
    (b"\x89PNG\r\n\x1a\n\x00", "", "it is no UTF-8 text (byte 0)"),
    (b"PK\x03\x04\x00\x00", "", "it is binary (byte 4)"),
    (example("hallway.json")[:500], "", "The file breaks off at line"),
    (b'{"format": "nail-count job",, }', "", "at line 1, column 29"),
    (b"[" * 100_000, "", "nested too deep"),
    (b"[1, 2]", "", "it is no object with"),
    (b'{"name": "x"}', "format", "This is not a job file"),
    (changed("version", 4), "version", "This job file has version 4"),
    (changed("version", True), "version", "This job file has version true"),
    (changed("name", 7), "name", "Enter text"),
    (changed("boxes.0.cables.1.gauge", 13), "boxes[0].cables[1].gauge", "Enter one of the gauges 24, 22"),
    (changed("boxes.0.cables.1.insulated", 400), "boxes[0].cables[1].insulated", "Enter 20 or less"),
    (changed("boxes.0.cables.1", {"id": "B", "gauge": 14, "insulated": 0, "grounds": 0}), "boxes[0].cables[1]", "one"),
    (
        changed("boxes.0.planned.enclosure.volume", 34),
        "boxes[0].planned.enclosure.volume",
        "Enter text with its unit",
    ),
    (
        changed("boxes.0.planned.enclosure.volume", "0 in3"),
        "boxes[0].planned.enclosure.volume",
        "Enter a volume above zero",
    ),
    (changed(f"{INTO}.gangs", 0), f"{IN}.gangs", "Enter 1 or more"),
    (changed(f"{INTO}.colour", "red"), f"{IN}.colour", "Check its spelling"),
    (changed("boxes.0.planned.devices.0.gang", 2), "boxes[0].planned", "Put at most one yoke in a gang"),
    (
        changed("boxes.0.planned.devices.0.gang", 5),
        "boxes[0].planned",
        "Put devices in gangs 1 to 2, not",
    ),
    (changed("sheets.0.channels.0.minimum", "1 A"), "sheets[0].channels[0].minimum", "Enter the minimum load in W"),
    (changed("boxes", {}), "boxes", "Enter a list"),
    (changed("runs.0.other", {"kind": "attic"}), "runs[0].other", "expected tags"),
    (changed("ticks", ticked(kind="measured", subjects=["A1", "on"])), "ticks[0].step", "what the meter showed"),
    (changed("ticks", ticked(kind="joined", volts="118")), "ticks[0].step", "for a reading only"),
    (
        changed("ticks", ticked(kind="measured", subjects=["A1"], volts="118")),
        "ticks[0].step",
        "the point of the reading",
    ),
    (
        changed("ticks", ticked(kind="measured", subjects=["A1", "on"], volts="1001")),
        "ticks[0].step",
        "from 0 to 1000 V",
    ),
    (changed("boxes.0.devices.0.gang", 5, OLD), "boxes[0]", "Put devices in gangs"),
    (changed("boxes.0.enclosure.gangs", 0, OLD), "boxes[0].enclosure.gangs", "Enter 1 or more"),
    (changed("boxes.0.cables.0.goes", 7, OLD), "boxes[0].cables[0].goes", "Check its spelling"),
    (changed("boxes", {}, OLD), "boxes", "Enter a list"),
    (changed("boxes.0", 7, OLD), "boxes[0]", "Enter an object"),
]


@pytest.mark.parametrize(("content", "where", "said"), WRONG, ids=[said[:40] for _, _, said in WRONG])
def test_a_wrong_file_says_what_and_where(content: bytes, where: str, said: str) -> None:
    with pytest.raises(BadFile) as wrong:
        read_job(content)
    assert any(c.where == where and said in c.sentence for c in wrong.value.problems), wrong.value.problems


def test_version_1_opens_for_ever() -> None:
    """What was said of a box is what is planned in it; feed and onward are ends, other words stay words."""
    cable = {
        "id": "A",
        "gauge": 14,
        "insulated": 2,
        "goes": "Feed",
        "conductors": [{"joined": "x"}, {"thought": "neutral"}],
    }
    more = [
        {"id": "B", "gauge": 12, "insulated": 2, "goes": "onward"},
        {"id": "C", "gauge": 12, "insulated": 2, "goes": "barn"},
    ]
    old = {
        "format": "nail-count job",
        "version": 1,
        "name": "House",
        "circuits": [{"id": "7"}],
        "boxes": [
            {
                "id": "hall",
                "name": "Hall",
                "room": "Hall",
                "circuit": "7",
                "enclosure": {"volume": "20 in3"},
                "cables": [cable, *more],
                "connectors": [{"size": "small", "count": 2}, {"gauge": 12}],
                "terminal_blocks": [{"count": 2}],
            }
        ],
    }
    job = read_job(json.dumps(old).encode())
    (hall,) = job.boxes
    assert hall.found is None and hall.built is None and hall.planned is not None
    assert str(hall.enclosure.volume) == "20 in3" and hall.terminal_blocks[0].count == 2
    assert [(one.size, str(one.gauge), one.count) for one in hall.connectors] == [
        ("small", "None", 2),
        ("medium", "12 AWG", 1),
    ]
    joined = hall.spliced("A1")
    assert joined is not None and joined.name == "x" and hall.spliced("A2") is None
    assert hall.cables[0].conductor(2).asserted_role == "neutral"
    ends = [(run.id, run.one.box, run.other) for run in job.runs if isinstance(run.one, BoxEnd)]
    assert ends == [
        ("hall-a", "hall", CircuitEnd(circuit="7")),
        ("hall-b", "hall", OnwardEnd()),
        ("hall-c", "hall", WordsEnd(words="barn")),
    ]
    again = write_job(job)
    assert json.loads(again)["version"] == 3 and read_job(again.encode()) == job


@given(any_run(), st.lists(any_tick(), max_size=3, unique_by=lambda tick: tick.id))
def test_runs_ticks_and_stages_read_back(run: Run, ticks: list[Tick]) -> None:
    stages = {"found": Contents(), "built": Built(commissioned=(Commissioned(of="d1", serial="7", hub="attic"),))}
    box = Box(
        id="hall", name="Hall", room="Hall", use="fan", cables=(Cable(id="A", gauge=mm2("2.5"), insulated=3),), **stages
    )
    prices = (Price(what="14/2 cable, a meter", each=F("1.25")),)
    lamps = (ReplacementLamp(name="A19", each=Power.parse("9 W")),)
    kept = (StockConnector(name="lever", ports=3),)
    job = Job(name="Any", boxes=(box,), runs=(run,), ticks=tuple(ticks), prices=prices, lamps=lamps, connectors=kept)
    text = write_job(job)
    assert read_job(text.encode()) == job
    VALIDATOR.validate(json.loads(text))


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (
            changed("boxes.0.planned.devices.0.sheet", "none-such"),
            "device “d1” names the sheet “none-such”, which is not among the sheets",
        ),
        (changed("boxes.0.circuit", "99"), "it is on circuit “99”, which is not among the circuits"),
        (changed("boxes.0.cables.0.space", 2), "“A” is in space 2 of a box with 1"),
    ],
)
def test_what_does_not_fit_comes_in_to_the_letter_and_is_open_until_mended(content: bytes, said: str) -> None:
    job = read_job(content)
    assert read_job(write_job(job).encode()) == job == Job.model_validate_json(content)
    check = check_job(job).boxes[0]
    assert check.fit is not None and check.fit.headline == (said,)
    assert check.state >= State.OPEN and check.answers[0] is check.fit
    assert said in check_text(job, check_job(job))
