"""Lines as people type them: each is understood as it was meant, or a word of it is asked about, never otherwise."""

from __future__ import annotations

from pathlib import Path

import pytest

from nail_count.demo.house import library
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import by_id
from nail_count.trade.model.load import Load
from nail_count.trade.quick_entry.parse import Reading, read_line

LINES = [
    tuple(line.split(" => "))
    for line in (Path(__file__).parent / "lines.txt").read_text(encoding="utf-8").splitlines()
    if line and not line.startswith("#")
]
SHEETS = by_id(library())
EMPTY = Box(id="b", name="B", room="R")
ASKED_AT_MOST = 6
"""Of all the lines, how many may be asked about."""


def load_words(load: Load) -> str:
    return f"{load.quantity} x {load.each} {load.kind}"


def meant(reading: Reading) -> str:
    """A reading as the file has it; "?" where a word is asked about."""
    box = reading.box
    if box is None:
        return "?"
    shell = box.enclosure
    cables = ", ".join(f"{cable.size} {reading.goes.get(cable.id, '')}".strip() for cable in box.cables)
    devices = []
    for device in box.devices:
        loads = ", ".join(map(load_words, device.loads))
        devices.append(SHEETS[device.sheet].name + (f" ({loads})" if loads else ""))
    return f"{shell.gangs}g {shell.volume or shell.trade_size or '?'} | {cables} | {', '.join(devices)}".strip()


@pytest.mark.parametrize(("line", "expected"), LINES, ids=[line for line, _ in LINES])
def test_a_line_is_understood_as_it_was_meant_or_asked_about(line: str, expected: str) -> None:
    assert meant(read_line(line, EMPTY, SHEETS)) in (expected.strip(), "?")


def test_hardly_any_is_asked_about() -> None:
    asked = [line for line, _ in LINES if meant(read_line(line, EMPTY, SHEETS)) == "?"]
    assert len(LINES) >= 60 and len(asked) <= ASKED_AT_MOST, asked
