"""Next never asks for what changes no answer: two answers to whatever it asks come to different results."""

from __future__ import annotations

import os
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations
from typing import Any

from hypothesis import given, reject, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.assume.wired import as_usual
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.cables import AddCable
from nail_count.trade.edits.devices import PutDevice
from nail_count.trade.edits.enclosure import SetVolume
from nail_count.trade.edits.live import TouchWire
from nail_count.trade.edits.loads import AddLoad
from nail_count.trade.edits.runs import SayRun
from nail_count.trade.edits.survey import TryBreaker
from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Equipment
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.next_step import Ask, way_through
from nail_count.trade.rules.check import check_box, fitting_job
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.rules.wires.live_points import Row
from nail_count.trade.wiring.hookup.propose import Refusal, propose
from nail_count.trade.wiring.simulate.old_switch import OldSwitch, old_switch
from tests.trade.rules.wires.test_live import probed, seen

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
SHEETS = library()
LOADS: tuple[dict[str, Any], ...] = (
    {"kind": "led", "quantity": 1, "each": "1 W"},
    {"kind": "led", "quantity": 4, "each": "9 W"},
    {"kind": "led", "quantity": 60, "each": "100 W"},
    {"kind": "incandescent", "quantity": 1, "each": "60 W"},
    {"kind": "fan", "quantity": 1, "each": "0.5 A"},
    {"kind": "fan", "quantity": 3, "each": "10 A"},
)
"""Lamps and fans from next to nothing to more than anything carries."""


MOST_ASKS = 20
"""About one box, before the work begins."""


@dataclass(frozen=True)
class Known:
    """What is known of a box that nobody has touched."""

    gangs: int
    volume: int | None
    cables: list[int]
    """Insulated conductors of each."""
    sheets: list[str]
    """By gang, as far as they are chosen."""
    loads: list[dict[str, Any]]
    """Of the first devices."""
    is_breaker_known: bool

    def job(self) -> Job:
        """A house with this box."""
        enclosure = {"gangs": self.gangs} | ({} if self.volume is None else {"volume": f"{self.volume} in³"})
        box = Box.model_validate({"id": "b", "name": "B", "room": "R", "planned": {"enclosure": enclosure}})
        job = Job(name="J", sheets=SHEETS, boxes=(box,), circuits=[{"id": "1"}, {"id": "2"}])
        documents = Documents(JobAtHand(job), {})
        for edit in self.edits():
            documents = edit.apply(documents).documents
        for item, load in zip(documents.box("b").devices, self.loads, strict=False):
            documents = AddLoad.read({"box": "b", "device": item.id} | load).apply(documents).documents
        return wired_with(documents, documents.box("b"))

    def edits(self) -> Iterator[Edit]:
        """How it is entered."""
        for insulated in self.cables:
            yield AddCable.model_validate({"box": "b", "gauge": "14 AWG", "insulated": insulated})
        for gang, sheet in enumerate(self.sheets[: self.gangs], 1):
            yield PutDevice(box="b", gang=gang, sheet=sheet)
        if self.is_breaker_known:
            yield TryBreaker(box="b", circuit="1", went_out=True)


KNOWN = st.builds(
    Known,
    st.integers(1, 2),
    st.none() | st.integers(12, 40),
    st.lists(st.sampled_from((2, 2, 3)), max_size=3),
    st.lists(st.sampled_from([sheet.id for sheet in SHEETS]), max_size=2),
    st.lists(st.sampled_from(LOADS), max_size=2),
    st.booleans(),
)


def named(item: Equipment) -> str:
    """What a device is called."""
    return item.name or by_id(SHEETS)[item.sheet].name


def answers(job: Job, ask: Ask) -> Iterator[tuple[Edit, ...]]:
    """Answers to an ask that lie far apart; none where it isn't a fact that is asked for."""
    (box,) = (one for one in job.boxes if one.id == "b")
    match ask.code:
        case "volume":
            for volume in ("5", "90"):
                yield (SetVolume.read({"box": "b", "volume": volume}),)
        case "cables":
            for count in (1, 4):
                yield (AddCable.model_validate({"box": "b", "gauge": "14 AWG", "insulated": 2}),) * count
        case "device":
            taken = {item.gang for item in box.devices}
            gang = next(gang for gang in range(1, box.enclosure.gangs + 1) if gang not in taken)
            for sheet in ("marrowby-blank", "marrowby-rocker-dimmer", "ostrel-smart-dimmer"):
                yield (PutDevice(box="b", gang=gang, sheet=sheet),)
        case "loads":
            item = next(one for one in box.devices if not one.loads and named(one) in ask.order)
            for load in LOADS:
                yield (AddLoad.read({"box": "b", "device": item.id} | load),)
        case "breaker":
            for circuit in ("1", "2"):
                yield (TryBreaker(box="b", circuit=circuit, went_out=True),)
        case "ends":
            for choice in ask.choices:
                yield (SayRun.model_validate({"box": "b", "cable": ask.cable, **dict(choice.fields)}),)


def comes_to(job: Job) -> object:
    """Everything a person is told about the box: how each check stands, what joins what, each step of the work."""
    (box,) = (one for one in job.boxes if one.id == "b")
    check = check_box(box, by_id(job.sheets), job.terms_at(box), job.volts)
    made = propose(as_usual(job, "b").job, "b")
    joined = () if isinstance(made, Refusal) else made
    return (
        tuple((one.about, str(one.subject), one.state) for one in check.answers),
        joined,
        tuple((step.title, *step.what) for step in install_steps(job, "b", ())),
    )


def completed(job: Job, which: int) -> Job:
    """The box with whatever else is asked for answered, by one choice among the answers to each."""
    asked: list[Ask] = []
    while ask := way_through(fitting_job(job), "b", ()).next:
        every = list(answers(job, ask))
        asked.append(ask)
        assert len(asked) < MOST_ASKS, [one.order for one in asked]
        if not every:
            break
        job = after(job, every[which % len(every)])
    return job


def after(job: Job, edits: tuple[Edit, ...]) -> Job:
    """The house after some edits."""
    documents = Documents(JobAtHand(job), {})
    for edit in edits:
        documents = edit.apply(documents).documents
    return wired_with(documents, documents.box("b"))


@given(KNOWN)
@settings(max_examples=40 * LONGER, deadline=None)
def test_whatever_is_asked_can_change_an_answer(known: Known) -> None:
    """Answers that lie far apart come to different results, whatever else turns out, in one case at least."""
    try:
        job = known.job()
    except ValueError:  # two devices that don't fit side by side, a load on a device without a channel
        reject()
    ask = way_through(fitting_job(job), "b", ()).next
    assert ask is not None, "a box nobody has touched has something next"
    each = [after(job, edits) for edits in answers(job, ask)]
    for which in range(len(LOADS)):
        came_to = [comes_to(completed(one, which)) for one in each]
        if any(one != other for one, other in combinations(came_to, 2)):
            return
    assert not each, ask.order


@given(st.sampled_from(("feed and light", "feed, light and onward", "one switch, two lights")), st.integers(0, 2**32))
@settings(max_examples=30 * LONGER, deadline=None)
def test_every_touch_of_the_live_test_can_change_what_the_wires_are(kind: str, seed: int) -> None:
    """A result that turns the other way comes to other wires, or to trouble that is named."""
    old = old_switch(kind, seed)
    box = seen(old)
    if box is None:
        reject()
    came_to = tells(old, box)
    while (test := live_test(box, 120)) is not None and (row := test.next) is not None:
        volts = probed(old, row)
        turned = "0" if float(volts) > 50 else "120"
        assert tells(old, touched(box, row, turned)) != came_to, row
        box = touched(box, row, volts)


def touched(box: Box, row: Row, volts: str) -> Box:
    """The box after one touch of the probe."""
    said = TouchWire(box="b", wires=row.point.wires, to=row.to, on=row.step != "off", volts=volts)
    return said.on_box(box, by_id(SHEETS)).box


def tells(old: OldSwitch, box: Box) -> object:
    """What the live test comes to if the rest of it goes as the hidden wiring has it."""
    while (test := live_test(box, 120)) is not None and (row := test.next) is not None:
        box = touched(box, row, probed(old, row))
    return None if test is None else (dict(test.wires), test.neutral, test.ground, test.troubles)
