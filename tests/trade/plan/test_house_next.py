"""The one thing to do next in a house: what holds up most comes first, and every box gets to its end."""

from __future__ import annotations

from datetime import datetime
from typing import get_args

import pytest

from nail_count.demo.house import library
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.hookup import ProposeHookup
from nail_count.trade.edits.house.rooms import AskHouseLater
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.house import HousePutOff
from nail_count.trade.model.job import Job
from nail_count.trade.model.panel import Circuit
from nail_count.trade.model.survey import PutOff
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.plan.house_next import HOUSE_PHASES, ORDERS, PHASES_OF, HouseWay, house_way
from nail_count.trade.plan.progress import PHASES
from nail_count.trade.quick_entry.enter_line import StartByLine

EMPTY = Job(name="House", sheets=library(), circuits=(Circuit(id="3"), Circuit(id="9")))
FULL = '1g 20in3; 14/2 feed, 14/2 to light; smart dimmer "{}" 4x9W led'


def house(*lines: tuple[str, str]) -> Job:
    """A house with boxes by name, each entered by a line."""
    documents = Documents(JobAtHand(EMPTY), {})
    for name, line in lines:
        documents = StartByLine(name=name, room="Hall", line=line).apply(documents).documents
    return documents.job


def fed(job: Job, **breakers: str) -> Job:
    """The job with boxes on breakers, by the names of the boxes."""
    return job.changed(boxes=tuple(box.changed(circuit=breakers[box.name]) for box in job.boxes))


def asked(way: HouseWay) -> tuple[str, str, list[str]]:
    assert way.next is not None
    return way.next.code, way.next.order, [box.name for box, _ in way.next.boxes]


def test_an_empty_house_asks_for_its_first_box() -> None:
    way = house_way(EMPTY)
    assert asked(way)[0] == "boxes" and not any(way.left.values())


def test_what_is_missing_earliest_comes_first_and_boxes_are_named_or_counted() -> None:
    bare = [(name, "1g; 14/2 x2; toggle") for name in ("Hall", "Den", "Attic", "Porch")]
    way = house_way(house(*bare[:2], ("Stair", FULL.format("Stair"))))
    assert asked(way) == ("volume", "Enter the volume stamped in Hall and Den.", ["Hall", "Den"])
    assert way.left["Walk through"] == 2
    assert asked(house_way(house(*bare)))[1] == "Enter the volume stamped in 4 boxes."


def test_parts_are_ordered_once_all_is_planned_and_work_goes_breaker_by_breaker() -> None:
    lines = [(name, FULL.format(name)) for name in ("Den", "Hall", "Attic")]
    documents = Documents(JobAtHand(fed(house(*lines), Den="9", Hall="3", Attic="9")), {})
    assert asked(house_way(documents.job))[0] == "hook-up", "there is no hook-up yet"
    for box in documents.job.boxes:
        documents = ProposeHookup(box=box.id).apply(documents).documents
    assert asked(house_way(documents.job))[0] == "parts"
    documents = AskHouseLater(ask="parts").apply(documents).documents
    with pytest.raises(Rejected):
        AskHouseLater(ask="parts").apply(documents)
    job = documents.job
    assert asked(house_way(job)) == ("work", "Start with breaker 3: Hall.", ["Hall"])
    begun = Tick(
        id="t1", box=job.boxes[2].id, at=datetime(2026, 3, 2), step=Step(kind="photographed", subjects=())
    )  # fmt: skip
    assert asked(house_way(job.changed(ticks=(begun,)))) == ("work", "Go on with the work at Attic.", ["Attic"])
    on_nine = fed(job, Den="9", Hall="9", Attic="9")
    assert asked(house_way(on_nine))[1] == "Start with breaker 9: Den, Hall, and Attic."


def test_every_ask_of_a_box_has_its_words_for_a_house() -> None:
    every = [code for orders in ORDERS.values() for code in orders]
    assert sorted(every) == sorted(get_args(PutOff)) and set(every) < set(get_args(HousePutOff))
    assert set(PHASES_OF) == set(HOUSE_PHASES) and tuple(ORDERS) == HOUSE_PHASES
    assert sorted(one for phases in PHASES_OF.values() for one in phases) == sorted(PHASES)
