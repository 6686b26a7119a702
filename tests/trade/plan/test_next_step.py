"""What to do next: a person who does only that, and believes nothing else, comes to a finished record."""

from __future__ import annotations

import os
from collections.abc import Iterator
from datetime import datetime, timedelta
from importlib.resources import files
from random import Random

from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.cables import AddCable
from nail_count.trade.edits.commission import NoteSerial, SayBuilt
from nail_count.trade.edits.devices import PutDevice
from nail_count.trade.edits.enclosure import SetVolume
from nail_count.trade.edits.hookup import ProposeHookup
from nail_count.trade.edits.live import LookAtSwitch, TouchWire, UseMeasured
from nail_count.trade.edits.loads import AddLoad
from nail_count.trade.edits.survey import AskLater, TryBreaker
from nail_count.trade.model.box import Box
from nail_count.trade.model.contents import Contents
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.splice import ConductorEnd, LeadEnd
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.plan.commission.progress import progress_of_each
from nail_count.trade.plan.commission.steps import to_commission
from nail_count.trade.plan.install.progress import current, on_since, progress, refuse_live
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.next_step import Ask, way_through
from nail_count.trade.plan.planned import planned_of
from nail_count.trade.plan.progress import PHASES
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.wiring.simulate.old_switch import OldSwitch, old_switch
from tests.trade.rules.wires.test_live import entered, look_taken, probed

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
KINDS = ("feed and light", "switch loop", "feed, light and onward", "one switch, two lights")
"""One-gang boxes on one circuit, by a generator that doesn't know what will be asked."""
MOST_ASKS = 120
ROLES = {"line": {"line", "onward"}, "load": {"switched"}, "neutral": {"neutral"}}
"""What a wire may be, by the lead it is joined with."""


class Person:
    """Stands in front of a hidden box, knows nothing of it, and does only what comes next."""

    def __init__(self, old: OldSwitch, sheet: str, random: Random) -> None:
        self.old, self.sheet, self.random = old, sheet, random
        bare = entered(old)
        box = bare.changed(cables=(), circuit=None, planned=Contents(enclosure=bare.enclosure))
        house = Job(name="J", sheets=library(), boxes=(box,), circuits=[{"id": "1", "breaker": 15}, {"id": "2"}])
        self.documents = Documents(JobAtHand(house), {})
        self.ticks: list[Tick] = []
        self.at = datetime(2026, 1, 5, 9)
        self.asked: list[Ask] = []

    @property
    def job(self) -> Job:
        """The house as entered so far."""
        return wired_with(self.documents, self.box)

    @property
    def box(self) -> Box:
        """The box as entered so far."""
        return self.documents.box("b")

    def until_done(self) -> None:
        """Does what comes next until nothing does; a third of it later."""
        while (ask := way_through(self.job, "b", self.ticks).next) is not None:
            self.asked.append(ask)
            assert len(self.asked) < MOST_ASKS, [one.order for one in self.asked[-5:]]
            if ask.code not in self.box.survey.put_off and self.random.random() < 1 / 3:
                self.documents = AskLater(box="b", ask=ask.code).apply(self.documents).documents
                continue
            for edit in self.answers(ask):
                self.documents = edit.apply(self.documents).documents

    def answers(self, ask: Ask) -> Iterator[Edit]:
        """What he does about an ask."""
        match ask.code:
            case "volume":
                yield SetVolume.read({"box": "b", "volume": "22"})
            case "cables":
                for cable in self.old.hidden.cables:
                    yield AddCable.model_validate({"box": "b", "gauge": cable.gauge, "insulated": 2})
            case "device":
                yield PutDevice(box="b", gang=1, sheet=self.sheet)
            case "loads":
                (item,) = self.box.devices
                yield AddLoad.read({"box": "b", "device": item.id, "kind": "led", "quantity": 4, "each": "9 W"})
            case "hook-up":
                assert ask.edit == "propose-hookup", ask.why
                yield ProposeHookup(box="b")
            case "breaker":
                for circuit in ("2", "1"):
                    yield TryBreaker(box="b", circuit=circuit, went_out=circuit == "1")
            case "wiring":
                yield from self.wires_tested()
            case "work":
                job, ticks = self.job, self.ticks
                done = progress(install_steps(job, "b", ticks), ticks, self.box, on_since(job, ticks, self.box))
                step = done[current(done)].at
                refuse_live(done, step.step)
                self.tick(step.step)
            case "set-up":
                each = progress_of_each(to_commission(self.job, "b"), self.ticks, self.box)
                left = next(one for one in each if not one.over)
                note = left.steps[left.next].at
                if note.form == "serial":
                    yield NoteSerial(box="b", device=left.of.item.id, serial="N-1")
                self.tick(note.step)
            case "built":
                yield SayBuilt(box="b")
            case "fails" | "open":
                raise AssertionError(ask.why)

    def wires_tested(self) -> Iterator[Edit]:
        """Looks, and touches what the live test asks for."""
        taken = look_taken(self.old)
        assert taken is not None
        yield LookAtSwitch(box="b", on_off=True, worked=True)
        yield taken
        while (test := live_test(self.box, 120)) is not None and (row := test.next) is not None:
            said = {"wires": row.point.wires, "to": row.to, "on": row.step != "off", "volts": probed(self.old, row)}
            self.at += timedelta(minutes=1)
            yield TouchWire.model_validate({"box": "b", "at": self.at} | said)
        yield UseMeasured(box="b")

    def tick(self, step: Step) -> None:
        """A step of the ladder or of the set-up done, a minute after the last."""
        self.at += timedelta(minutes=1)
        said = {"id": f"t{len(self.ticks)}", "box": "b", "step": step, "at": self.at}
        self.ticks.append(Tick.model_validate(said | {"planned": planned_of(step, self.box)}))


@given(st.sampled_from(KINDS), st.booleans(), st.integers(0, 2**32))
@settings(max_examples=12 * LONGER, deadline=None)
def test_doing_only_what_comes_next_ends_in_a_finished_record(kind: str, smart: bool, seed: int) -> None:
    """A third of the asks put off; at the end each lead is on the wire the hidden house calls by its role."""
    old = old_switch(kind, seed)
    sheet = "ostrel-smart-dimmer" if old.hidden.brought and smart else "marrowby-rocker-dimmer"
    person = Person(old, sheet, Random(seed))
    person.until_done()
    box = person.box
    assert box.built is not None and box.built.splices == box.splices
    for splice in box.splices:
        truth = {old.hidden.truth[end.of] for end in splice.ends if isinstance(end, ConductorEnd)}
        for lead in (end for end in splice.ends if isinstance(end, LeadEnd)):
            role = by_id(person.job.sheets)[sheet].roles[lead.terminal - 1]
            assert truth <= ROLES.get(role, truth), (role, truth)
    kinds = [tick.step.kind for tick in person.ticks]
    assert kinds[: kinds.index("taken apart")].count("proven dead") == 4, (
        "once more, with the device out, after the live test"
    )
    answered = [one.code for one in person.asked if one.code not in ("work", "set-up")]
    assert all(answered.count(code) <= 1 + (code in box.survey.put_off) for code in answered), answered


def test_wires_nobody_can_prove_anything_of_are_left() -> None:
    """The demo house's cloakroom fails, and nobody has told its wires apart: both are left."""
    house = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    around = wired_with(Documents(JobAtHand(house), {}), next(one for one in house.boxes if one.id == "cloakroom"))
    way = way_through(around, "cloakroom", ())
    assert way.next is not None and way.next.code == "fails" and way.left["Wires"] is None and way.left["Plan"]


def test_the_phases_empty_one_after_the_other() -> None:
    old = old_switch("feed and light", 0)
    person = Person(old, "ostrel-smart-dimmer", Random(0))
    assert all(left != 0 for left in way_through(person.job, "b", ()).left.values())
    person.until_done()
    assert way_through(person.job, "b", person.ticks).left == dict.fromkeys(PHASES, 0)


def test_the_breaker_of_several_gangs_is_the_one_at_which_all_their_lights_go_out() -> None:
    """One light out shows what feeds one gang; another may be on another circuit (common practice)."""
    line = "2g 40in3; 14/2 x3; smart dimmer 4x9W led, smart dimmer 4x9W led"
    bare = Documents(JobAtHand(Job(name="J", sheets=library())), {})
    job = StartByLine(name="B", room="R", line=line).apply(bare).documents.job
    ask = way_through(job, job.boxes[0].id, ()).next
    assert ask is not None and ask.code == "breaker"
    assert "Turn on every light of this box" in ask.order and "until all are out" in ask.order
