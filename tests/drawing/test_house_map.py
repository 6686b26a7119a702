"""The map of a house: runs go around boxes, and each lights a way from the panel."""

from __future__ import annotations

from importlib.resources import files
from itertools import combinations, pairwise
from random import Random

import networkx as nx
import pytest

from nail_count.drawing.house_map import LETTERS, TALL, WIDE, HouseMap, house_map
from nail_count.files.job_json import read_job
from nail_count.trade.model.job import Job
from tests.trade.wiring.hookup.houses import box, job

LETTER = 8.0
Segment = tuple[tuple[float, float], tuple[float, float]]


def random_house(seed: int) -> tuple[Job, dict[str, str]]:
    """Boxes in rooms on floors, fed by breakers and by each other as it happens."""
    random = Random(seed)
    rooms = {f"Room {n}": f"Floor {random.randrange(3)}" for n in range(random.randrange(1, 14))}
    boxes, runs, free = [], [], list[str]()
    for number in range(random.randrange(1, 60)):
        letters = "ABCDEFG"[: random.randrange(1, 8)]
        id = f"b{number}"
        boxes.append(box(id, " ".join(f"{one}2" for one in letters)) | {"room": random.choice(list(rooms))})
        fed = free.pop(random.randrange(len(free))) if free and random.random() < 0.7 else f"{random.randrange(1, 4)}"
        runs.append(f"{id}.A={fed}")
        free += [f"{id}.{one}" for one in letters[1:]]
    circuits = [{"id": str(n), "space": 2 * n - 1} for n in range(1, 4)]
    return job(boxes, " ".join(runs), circuits=circuits), rooms


def segments(drawn: HouseMap, number: int) -> list[Segment]:
    points = drawn.runs[number].way.points
    return [(a, b) for a, b in pairwise(points) if a != b]


def goes_through(segment: Segment, x: float, y: float, width: float, height: float) -> bool:
    """Whether a segment has a point inside a rectangle, its edges apart."""
    (x1, y1), (x2, y2) = segment
    return min(x1, x2) < x + width and max(x1, x2) > x and min(y1, y2) < y + height and max(y1, y2) > y


def overlap(one: Segment, other: Segment) -> bool:
    """Whether two segments lie on each other for some length."""
    for axis in (0, 1):
        across = 1 - axis
        if one[0][across] == one[1][across] == other[0][across] == other[1][across]:
            low = max(min(one[0][axis], one[1][axis]), min(other[0][axis], other[1][axis]))
            high = min(max(one[0][axis], one[1][axis]), max(other[0][axis], other[1][axis]))
            return high - low > 0.01
    return False


def held(drawn: HouseMap) -> None:
    for run in drawn.runs:
        for segment in segments(drawn, run.number):
            assert segment[0][0] == segment[1][0] or segment[0][1] == segment[1][1], "square to the page"
            assert all(0 <= x <= drawn.width and 0 <= y <= drawn.height for x, y in segment)
            for one in drawn.boxes:
                assert not goes_through(segment, one.x, one.y, WIDE, TALL), (run.number, one.box.id)
            for end in drawn.ends:
                assert not goes_through(segment, end.x - LETTER, end.y - LETTER, 2 * LETTER, 2 * LETTER)
            for room in drawn.rooms:
                assert not goes_through(segment, room.x + 1, room.y + 2, WIDE, 14), f"the name of {room.name}"
    for one, other in combinations(drawn.boxes, 2):
        assert abs(one.x - other.x) >= WIDE or abs(one.y - other.y) >= TALL, "boxes lie apart"


def lit(house: Job, drawn: HouseMap) -> None:
    """The way of a box is a path of runs from a breaker to it, as networkx finds one."""
    ends = [(run.way.points[0], run.way.points[-1]) for run in drawn.runs]
    at = {(round(one.x + WIDE * n / 840), round(one.y + TALL)): one.box.id for one in drawn.boxes for n in range(841)}
    wires: nx.Graph[str] = nx.Graph()
    for number, (start, end) in enumerate(ends):
        one, other = (at.get((round(x), round(y)), "panel") for x, y in (start, end))
        wires.add_edge(one, other, number=number)
    for placed in drawn.boxes:
        reached = placed.box.id in wires and "panel" in wires and nx.has_path(wires, "panel", placed.box.id)
        assert bool(placed.way) == reached
        if reached:
            assert len(placed.way) == nx.shortest_path_length(wires, "panel", placed.box.id)
    assert {run for one in drawn.circuits for run in one.way} == {run for one in drawn.boxes for run in one.way}


@pytest.mark.parametrize("seed", range(200))
def test_no_run_crosses_a_box_or_a_letter(seed: int) -> None:
    house, floors = random_house(seed)
    drawn = house_map(house, floors, {})
    held(drawn)
    lit(house, drawn)


def test_two_runs_lie_on_each_other_only_where_one_breaker_feeds_both() -> None:
    for seed in range(0, 200, 10):
        house, floors = random_house(seed)
        drawn = house_map(house, floors, {})
        feeds = {run: one.id for one in drawn.circuits for run in one.way}
        for one, other in combinations(drawn.runs, 2):
            if any(overlap(a, b) for a in segments(drawn, one.number) for b in segments(drawn, other.number)):
                assert feeds[one.number] == feeds[other.number], (one.number, other.number)
                assert one.way.points[0] == other.way.points[0], "both from the breaker"


@pytest.mark.parametrize("name", ["schoolhouse", "hallway"])
def test_the_demo_is_drawn_so(name: str) -> None:
    house = read_job((files("nail_count.demo") / f"{name}.json").read_bytes())
    drawn = house_map(house, {box.room: house.house.floor_of(box.room) for box in house.boxes}, {})
    held(drawn)
    lit(house, drawn)
    assert len(drawn.ends) == sum(len(one.entering) for one in house.boxes)
    tops = {placed.box.id: placed.y for placed in drawn.boxes}
    assert all(abs(end.y - tops[end.box] - LETTERS) < 0.01 for end in drawn.ends)
