"""The map on paper: over its sheets stands every box, every cable's letter, and where it goes."""

from __future__ import annotations

from random import Random

import pytest

from nail_count.drawing.ink import Words
from nail_count.drawing.of_paper import map_of
from nail_count.trade.model.job import Job
from nail_count.trade.model.run import BoxEnd, CircuitEnd
from nail_count.trade.plan.papers.all_papers import papers
from nail_count.trade.plan.papers.paper import Mapped, Paper, Para, Table
from tests.trade.wiring.hookup.houses import box, job

READABLE = 1.8
"""The smallest letters on the paper, as tall [mm]: about 5 points."""
WIDE, TALL = 185.0, 205.0
"""What a letter sheet has for the map [mm]."""
LEAST = 8.0
"""The size of its smallest letters [units of the drawing]."""


def house(seed: int) -> Job:
    """Boxes on two floors, in a row from three breakers."""
    random = Random(seed)
    boxes, runs = [], []
    for number in range(random.randrange(2, 70)):
        boxes.append(box(f"b{number}", "A2 B2 C3") | {"room": f"Room {random.randrange(9)}", "name": f"Box {number}"})
        before = random.randrange(number + 1)
        runs.append(f"b{number}.A={random.randrange(1, 4)}" if before == number else f"b{number}.A=b{before}.B")
    first = {run.partition("=")[2]: run for run in reversed(runs)}  # a cable has one other end
    circuits = [{"id": str(number), "space": 2 * number - 1} for number in range(1, 4)]
    return job(boxes, " ".join(first.values()), circuits=circuits)


def blocks(paper: Paper) -> list[object]:
    return [block for section in paper.sections for block in section.blocks]


@pytest.mark.parametrize("seed", range(12))
def test_nothing_of_a_house_is_missing_on_its_sheets(seed: int) -> None:
    whole = house(seed)
    made = list(papers(whole, "map"))
    maps = [next(block for block in blocks(paper) if isinstance(block, Mapped)) for paper in made]
    assert sorted(id for one in maps for id in one.boxes) == sorted(one.id for one in whole.boxes)
    sheet = {id: str(number) for number, one in enumerate(maps, 1) for id in one.boxes}
    for paper, one in zip(made, maps, strict=True):
        ink = map_of(whole, one)
        words = [mark.text for mark in ink.marks if isinstance(mark, Words)]
        here = [each for each in whole.boxes if each.id in one.boxes]
        assert all(each.name in words for each in here)
        assert sorted(word for word in words if word in "ABC") == sorted("ABC" * len(here))
        assert LEAST * min(WIDE / ink.width, TALL / ink.height) >= READABLE
        rows = [row for block in blocks(paper) if isinstance(block, Table) for row in block.rows]
        ends = {(each.name, letter): whole.far_ends.get((each.id, letter)) for each in here for letter in "ABC"}
        away = {key: end for key, end in ends.items() if isinstance(end, BoxEnd) and end.box not in one.boxes}
        assert sorted((row[0].partition(": ")[2], row[1][0], row[3]) for row in rows) == sorted(
            (*key, sheet[end.box]) for key, end in away.items()
        )
        fed = {end.circuit for end in ends.values() if isinstance(end, CircuitEnd)}
        said = " ".join(block.text for block in blocks(paper) if isinstance(block, Para))
        assert all((number in words) == (number in fed) == (number in said) for number in "123")
