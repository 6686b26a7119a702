"""The cheapest change that holds, against plain brute force over all sets of moves; and what is never offered."""

from __future__ import annotations

import os
from fractions import Fraction as F
from importlib.resources import files
from itertools import combinations, permutations
from typing import Any

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.devices import ArrangeGangs
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.rules.check import JobCheck, check_job
from nail_count.trade.search.cheapest import NEVER, cheapest
from nail_count.trade.search.move import Move
from nail_count.trade.search.offers import offers
from nail_count.trade.search.scene import Scene
from nail_count.trade.search.ways import Asked, one_more, ways, would_do
from nail_count.trade.search.whole_job import HOUR, mended, total
from nail_count.trade.text.format import say

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
DIM = {"does": ["on and off", "dim"], "phase": "either"}
LED = {"kind": "led", "each": "9 W"}


def body(deep: str) -> dict[str, str]:
    return {"width": "1.5 in", "height": "2.5 in", "projection": deep}


def rated(alone: str, end: str, middle: str, least: str | None = None) -> dict[str, Any]:
    lamps = {"alone": alone, "end": end, "middle": middle}
    return {"ratings": {"led": lamps, "incandescent": lamps}, "minimum": least}


SHEETS: dict[str, dict[str, Any]] = {
    "old": {"kind": "dimmer", "derating": "by position", "channels": [rated("120 W", "90 W", "60 W", "10 W")],
            "body": body("1.6 in"), "bypass": True, **DIM},
    "flat": {"kind": "dimmer", "derating": "none needed", "channels": [rated("100 W", "100 W", "100 W")],
             "body": body("1.1 in"), **DIM},
    "small": {"kind": "dimmer", "derating": "by position", "channels": [rated("70 W", "60 W", "50 W", "2 W")],
              "body": body("1.3 in"), **DIM},
    "dual": {"kind": "dimmer", "derating": "by position", "channels": [rated("90 W", "80 W", "70 W")] * 2,
             "body": body("1.5 in"), **DIM},
    "switch": {"kind": "switch", "derating": "none needed", "channels": [rated("600 W", "600 W", "600 W")],
               "body": body("0.9 in"), "does": ["on and off"]},
    "module": {"kind": "module", "derating": "none needed", "channels": [rated("150 W", "150 W", "150 W")],
               "body": {"width": "1.5 in", "height": "1.5 in", "projection": "0.8 in"}, "neutral": "not needed", **DIM},
}  # fmt: skip
STOCK = [
    {"name": "deep", "gangs": 1, "volume": "22 in3", "depth": "3 in", "clamps": True, "kind": "old work"},
    {"name": "two", "gangs": 2, "volume": "36 in3", "depth": "3 in", "clamps": True, "kind": "old work"},
    {"name": "three", "gangs": 3, "volume": "55 in3", "depth": "3 in", "clamps": False, "kind": "old work"},
    {"name": "front", "gangs": 2, "volume": "9 in3", "depth": "1 in", "kind": "extension"},
    {"name": "new", "gangs": 2, "volume": "90 in3", "depth": "4 in", "kind": "new work"},
]
LAMPS = [
    {"name": "thrifty", "each": "9 W", "replaces": "60 W", "dimmable": True},
    {"name": "bright", "each": "14 W", "replaces": "100 W", "dimmable": True},
]


def house(box: dict[str, Any], **more: Any) -> Job:
    sheets = [{"id": id, "name": id, **said} for id, said in SHEETS.items()]
    said = {
        "name": "House",
        "circuits": [{"id": "1"}],
        "sheets": sheets,
        "stock": STOCK,
        "lamps": LAMPS,
        "boxes": [box],
    }
    return Job.model_validate({**said, **more})


def made(volume: str, cables: str, devices: list[tuple[str, dict[str, Any]]], **more: Any) -> dict[str, Any]:
    """A box: cables as 14/2 14/3, each device with what hangs on it."""
    entering = [
        {"id": "ABCDEFG"[n], "gauge": size.split("/")[0], "insulated": int(size.split("/")[1])}
        for n, size in enumerate(cables.split())
    ]
    items = [
        {"id": f"d{gang}", "gang": gang, "sheet": sheet, "loads": [{"id": f"l{gang}", **load}]}
        for gang, (sheet, load) in enumerate(devices, 1)
    ]
    gangs = max(len(devices), 1)
    inside = {"enclosure": {"gangs": gangs, "volume": volume, "depth": "2.75 in", "clamps": True}, "devices": items}
    return {"id": "box", "name": "Box", "room": "Hall", "circuit": "1", "cables": entering, "planned": inside, **more}


@st.composite
def houses(draw: st.DrawFn) -> Job:
    gangs = draw(st.integers(1, 3))
    devices: list[tuple[str, dict[str, Any]]] = []
    for _ in range(gangs):
        watts = draw(st.sampled_from(["60 W", "100 W"]))
        lamps: dict[str, Any] = {"kind": "incandescent", "each": watts, "quantity": draw(st.integers(1, 2))}
        load = draw(st.sampled_from([lamps, LED | {"quantity": draw(st.integers(1, 11))}]))
        devices.append((draw(st.sampled_from(["old", "small", "flat"])), load))
    cables = " ".join(draw(st.lists(st.sampled_from(["14/2", "14/3", "12/2"]), min_size=1, max_size=4)))
    volume = draw(st.sampled_from([12, 16, 18, 20])) + 12 * (gangs - 1)
    stays = draw(st.sampled_from([None, None, None, True]))
    mounted = draw(st.sampled_from([None, "flush", "may stand proud", "surface", "open behind"]))
    return house(made(f"{volume} in3", cables, devices, survey={"plate_stays": stays, "mounted": mounted}))


def after(job: Job, edits: list[Edit]) -> Job | None:
    """The job with these edits done one after the other; None where one cannot be."""
    documents = Documents(JobAtHand(job), {})
    try:
        for edit in edits:
            documents = edit.apply(documents).documents
    except Rejected:
        return None
    return documents.job


def open_in(checked: JobCheck) -> set[tuple[str, str]]:
    """What is open in a job."""
    answers = [answer for box in checked.boxes for answer in box.answers] + list(checked.circuits)
    return {(one.about, str(one.subject)) for one in answers if one.state is State.OPEN}


def holds(was_open: set[tuple[str, str]], then: Job) -> bool:
    """Whether nothing fails in it, and nothing is open that was not, by the check of the whole job."""
    checked = check_job(then)
    return checked.state is not State.FAILS and open_in(checked) <= was_open


def orders(box: Box, job: Job) -> list[list[Edit]]:
    """Every order of the devices of a box."""
    places = permutations(range(1, box.enclosure.gangs + 1), len(box.devices))
    every = [tuple(f"{d.id}:{g}" for d, g in zip(box.devices, gangs, strict=True)) for gangs in places]
    return [[ArrangeGangs(box=box.id, order=order)] for order in every]


def holding(job: Job, moves: tuple[Move, ...], most: int, below: int) -> list[str] | None:
    """A set of at most so many moves that costs less and after which all of it holds; None where there is none."""
    was_open = open_in(check_job(job))
    for number in range(most + 1):
        for chosen in combinations(moves, number):
            decided = [one for move in chosen for one in move.decides]
            if len(set(decided)) < len(decided) or sum(move.minutes for move in chosen) >= below:
                continue
            then = after(job, [edit for move in sorted(chosen, key=lambda m: m.rank) for edit in move.edits])
            if then is None:
                continue
            laid = [then]
            if any(move.kind == "order" for move in chosen):
                laid = [one for edits in orders(then.boxes[0], then) if (one := after(then, edits)) is not None]
            if any(holds(was_open, one) for one in laid):
                return [move.words for move in chosen]
    return None


@settings(max_examples=80 * LONGER, deadline=None, suppress_health_check=[HealthCheck.filter_too_much])
@given(houses(), st.randoms(use_true_random=False))
def test_it_is_as_cheap_as_plain_brute_force_finds(job: Job, chance: Any) -> None:
    moves, _ = offers(job, "box")
    kept = tuple(sorted(chance.sample(moves, min(len(moves), 8)), key=lambda move: move.rank))
    assume(check_job(job).boxes[0].state is State.FAILS)
    found = cheapest(Scene(job, "box", kept))
    assert holding(job, kept, 4, found.minutes if found.plan else NEVER) is None
    if found.plan is None:
        return
    assert found.minutes == sum(kept[number].minutes for number in found.plan)
    for number in found.plan:
        left = cheapest(Scene(job, "box", kept[:number] + kept[number + 1 :]))
        assert left.plan is None or left.minutes >= found.minutes, "one move more never makes it dearer"


@settings(max_examples=25 * LONGER, deadline=None)
@given(houses())
def test_what_is_offered_passes_every_check(job: Job) -> None:
    """Each way, done by its edits alone; each of another kind of work; and nothing for what holds."""
    found = ways(job, "box")
    fails = check_job(job).boxes[0].state is State.FAILS
    assert bool(found.found) == fails and (fails or not found.ways)
    assert len({way.work for way in found.ways}) == len(found.ways)
    assert [way.minutes for way in found.ways] == sorted(way.minutes for way in found.ways)
    for way in found.ways:
        then = after(job, list(way.edits))
        assert then is not None and holds(open_in(check_job(job)), then)
        assert then.boxes[0] == next(box for box in way.boxes if box.id == "box")
        if job.boxes[0].survey.plate_stays:
            assert not {move.kind for move in way.moves} & {
                "device",
                "extension",
                "wider box",
                "one yoke",
                "module behind",
                "remote",
                "order",
            }


@settings(max_examples=15 * LONGER, deadline=None)
@given(houses())
def test_ways_come_one_after_the_other_and_stay(job: Job) -> None:
    """What a page shows while the search goes on is the beginning of what it shows in the end."""
    whole, so_far = ways(job, "box"), one_more(job, "box", None, Asked())
    while not so_far.through:
        assert so_far.ways == whole.ways[: len(so_far.ways)]
        more = one_more(job, "box", so_far, Asked())
        assert len(more.ways) > len(so_far.ways) or more.through
        so_far = more
    assert so_far == whole


FULL = made("16 in3", "14/2 14/2 14/2", [("flat", LED)])


def kinds(job: Job) -> list[tuple[int, tuple[str, ...]]]:
    return [(way.minutes, tuple(move.kind for move in way.moves)) for way in ways(job, "box").ways]


def test_a_box_too_full_gets_a_deeper_one_first() -> None:
    """NEC 314.16: 6 + 1 + 1 + 2 of 14 AWG are 20 in³ in 16; the table's prices, common practice."""
    assert kinds(house(FULL)) == [(60, ("deeper box",)), (90, ("wider box",))]
    assert kinds(house(FULL, moves=[{"kind": "wider box", "minutes": 50}]))[0] == (50, ("wider box",))
    in_lath = FULL | {"survey": {"built": "lath", "cavity": "3 in"}}
    assert [minutes for minutes, _ in kinds(house(in_lath))] == [120, 150]


def test_never_deeper_than_the_hollow_of_the_wall() -> None:
    shallow = house(FULL | {"survey": {"cavity": "2 7/8 in"}})
    found = ways(shallow, "box")
    assert not found.ways and [str(one.subject) for one in found.in_the_way] == ["box"]
    assert any("the wall cavity is" in one.why for one in found.ruled)
    (look, *_) = ways(house(FULL), "box").ways[0].look
    assert "at least 3" in look, "not measured: said to be looked at first"


def test_a_lamp_below_the_minimum_gets_what_the_trade_gives_it() -> None:
    """Common practice: another dimmer before a bypass; where the plate stays, a bypass."""
    low = made("34 in3", "14/2 14/2", [("old", {"kind": "led", "each": "7 W"})])
    assert kinds(house(low))[0] == (15, ("device",))
    assert kinds(house(low | {"survey": {"plate_stays": True}})) == [(20, ("bypass",))]


def test_fewer_watts_come_before_another_device() -> None:
    """Two lamps of 60 W against 90 W beside a neighbor: two of 9 W, at 5 minutes each."""
    hot = made("40 in3", "14/2 14/2", [("flat", LED), ("old", {"kind": "incandescent", "each": "60 W", "quantity": 2})])
    assert kinds(house(hot))[0] == (10, ("lamp",))


def test_a_circuit_that_fails_whatever_is_done_here_is_said() -> None:
    """14 AWG on a breaker of 20 A: tails of it are never a move (NEC 240.4(D))."""
    found = ways(house(FULL, circuits=[{"id": "1", "breaker": 20}]), "box")
    assert [str(one.subject) for one in found.leaves] == ["1"] and found.ways and not found.holds


TAKEN_FIRST = {
    "cloakroom": (
        "wider box",
        "over by 2 1/4 in³ and nothing unused in it; an extension would stand proud",
    ),
    "stair-foot": ("order", "the plate stays: the dimmer changes places with another that takes a like opening"),
    "bell-room": ("deeper box", "plaster on lath stays closed, and nothing stands proud of it"),
    "reading-room": ("device", "one small lamp below the dimmer’s minimum, and no bypass on its sheet"),
}
"""What a practitioner would do first in the demo house, and why; common practice."""


@pytest.mark.parametrize(("key", "first"), [(key, kind) for key, (kind, _) in TAKEN_FIRST.items()])
def test_the_demo_house_as_the_trade_would_mend_it(key: str, first: str) -> None:
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    failing = {check.box.id for check in check_job(job).boxes if check.state is State.FAILS}
    assert failing == set(TAKEN_FIRST)
    assert [move.kind for move in ways(job, key).ways[0].moves] == [first]


def test_what_one_place_leaves_over_is_taken_at_the_next() -> None:
    """Two boxes: the first gives up its old dimmer; of two as cheap for the second, the one left over costs nothing."""
    hot = {"kind": "led", "each": "11 W", "quantity": 9}
    first = made("34 in3", "14/2 14/2", [("small", hot)])
    then = made("34 in3", "14/2 14/2", [("old", {"kind": "led", "each": "7 W"})])
    both = house(first, lamps=[])
    boxes = [first | {"id": "first", "name": "First"}, then | {"id": "then", "name": "Then", "circuit": "2"}]
    said = both.model_dump() | {"boxes": boxes, "circuits": [{"id": "1"}, {"id": "2"}]}
    prices = [{"what": what, "each": 9 if what == "flat" else 10} for what in (*SHEETS, HOUR)]
    job = Job.model_validate(said | {"prices": prices})
    rows = list(mended(job, ("first", "then")))
    alone = ways(job, "then").ways[0]
    assert (alone.parts, rows[1].reused, rows[1].bought) == (("flat",), ("small",), ())
    sums = total(job, rows)
    assert sums.minutes == sum(row.way.minutes for row in rows if row.way)
    assert sums.parts == (("flat", 1),) and sums.money == 9 + F(10 * sums.minutes, 60)
    assert dict(sums.reused) == {"small": 1} and "small" not in dict(sums.left)


@pytest.mark.parametrize("box", [{"id": "box", "name": "Box", "room": "Hall", "circuit": "1"}, FULL])
def test_an_empty_box_and_a_library_without_anything(box: dict[str, Any]) -> None:
    """Nothing in the box: nothing to do. Nothing in stock and in the library: what stays in the way, and what would."""
    found = ways(house(box, stock=[], lamps=[]), "box")
    assert not found.ways
    for left in found.in_the_way:
        assert say(would_do(left)) == "a box of 20 in³ or more would do"
    assert bool(found.in_the_way) == (box is FULL)


def test_where_the_plate_stays_its_openings_do() -> None:
    """The demo’s stair foot: one toggle, three rockers; after any way the openings are in the same gangs."""
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    trims = {sheet.id: sheet.trim for sheet in job.sheets}
    (before,) = (box for box in job.boxes if box.id == "stair-foot")
    for way in ways(job, "stair-foot").ways:
        (then,) = (box for box in way.boxes if box.id == "stair-foot")
        openings = [{d.gang: trims[d.sheet] for d in box.devices} for box in (before, then)]
        assert openings[0] == openings[1] and before.devices != then.devices


def test_what_needs_a_neutral_nobody_looked_for_is_offered_with_that_look_first() -> None:
    """One dimmer over its rating, and the only one that would carry it needs a neutral: found, said, or looked for."""
    house = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    bare = Documents(JobAtHand(Job(name="J", sheets=house.sheets)), {})
    line = '1g 20in3; 14/2 x2; rocker dimmer "A" 16x10W led'
    job = StartByLine(name="A", room="R", line=line).apply(bare).documents.job
    (box,) = job.boxes

    def found(neutral: bool | None) -> tuple[tuple[str, ...], ...]:
        seen = job.changed(boxes=(box.changed(survey=box.survey.changed(neutral=neutral)),))
        return tuple(tuple(move.words for move in way.moves) for way in ways(seen, box.id).ways)

    open_ones = ways(job, box.id)
    without = job.changed(boxes=(box.changed(survey=box.survey.changed(neutral=False)),))
    assert not open_ones.holds and all(way.gives_up for way in ways(without, box.id).ways)
    assert tuple(tuple(move.words for move in way.moves) for way in open_ones.ways) == found(True) != ()
    for way in open_ones.ways:
        assert way.look[0] == way.rests_on and way.check.state is State.OPEN, "it never says that it holds"
