"""What to do next at two switches of one light: two boxes, done as it says, come to a finished record."""

from __future__ import annotations

import os
from collections.abc import Iterator
from datetime import datetime, timedelta
from random import Random

from hypothesis import given, settings
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.cables import AddCable
from nail_count.trade.edits.commission import NoteSerial, SayBuilt
from nail_count.trade.edits.devices import PutDevice
from nail_count.trade.edits.enclosure import SetVolume
from nail_count.trade.edits.hookup import ProposeHookup
from nail_count.trade.edits.live import LookAtSwitch, UseMeasured
from nail_count.trade.edits.loads import AddLoad
from nail_count.trade.edits.runs import SayRun
from nail_count.trade.edits.survey import AskLater, TryBreaker
from nail_count.trade.model.job import Job
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.plan.commission.progress import progress_of_each
from nail_count.trade.plan.commission.steps import to_commission
from nail_count.trade.plan.install.progress import current, on_since, progress, refuse_live
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.plan.next_step import Ask, way_through
from nail_count.trade.plan.planned import planned_of
from nail_count.trade.rules.wires.live import live_test
from nail_count.trade.wiring.simulate.old_three_way import OldPair, old_pair
from tests.trade.assume.test_pair import wired
from tests.trade.rules.wires.test_live_three_way import entered, look_taken, touched

LONGER = int(os.environ.get("NAIL_COUNT_FUZZ", "1"))
KINDS = ("feed and light apart", "feed and light apart, and onward")
"""Pairs in which the feed and the light are apart."""
MOST_ASKS = 240


class Person:
    """Stands in front of two hidden boxes, knows nothing of them, and does only what comes next."""

    def __init__(self, old: OldPair, sheets: dict[str, str], random: Random) -> None:
        self.old, self.sheets, self.random = {"x": old.x, "y": old.y}, sheets, random
        boxes = (entered(one, key) for key, one in self.old.items())
        bare = tuple(one.changed(cables=(), circuit=None, planned=one.contents.changed(devices=())) for one in boxes)
        house = Job(name="J", sheets=library(), boxes=bare, circuits=[{"id": "1", "breaker": 15}, {"id": "2"}])
        self.documents = Documents(JobAtHand(house), {})
        self.ticks: list[Tick] = []
        self.at = datetime(2026, 1, 5, 9)
        self.asked: list[tuple[str, Ask]] = []
        self.last_live = self.at
        """When a live test last had the power on, at either box."""

    def around(self, key: str) -> Job:
        return wired_with(self.documents, self.documents.box(key))

    def until_done(self) -> None:
        """Does what comes next, at the box it names, until nothing is left at either; a third of it later."""
        key = "x"
        while True:
            ask = way_through(self.around(key), key, self.ticks).next
            if ask is None:
                key = "y" if key == "x" else "x"
                ask = way_through(self.around(key), key, self.ticks).next
                if ask is None:
                    return
            self.asked.append((key, ask))
            assert len(self.asked) < MOST_ASKS, [(at, one.order) for at, one in self.asked[-6:]]
            if ask.box:
                key = ask.box
                continue
            if ask.code not in self.documents.box(key).survey.put_off and self.random.random() < 1 / 3:
                self.documents = AskLater(box=key, ask=ask.code).apply(self.documents).documents
                continue
            for edit in self.answers(key, ask):
                self.documents = edit.apply(self.documents).documents

    def answers(self, key: str, ask: Ask) -> Iterator[Edit]:
        """What he does about an ask."""
        match ask.code:
            case "volume":
                yield SetVolume.read({"box": key, "volume": "22"})
            case "cables":
                for cable in self.old[key].hidden.cables:
                    yield AddCable.model_validate({"box": key, "gauge": cable.gauge, "insulated": cable.insulated})
            case "device":
                yield PutDevice(box=key, gang=1, sheet=self.sheets[key])
            case "loads":
                (item,) = self.documents.box(key).devices
                yield AddLoad.read({"box": key, "device": item.id, "kind": "led", "quantity": 4, "each": "9 W"})
            case "ends":
                yield self.end_of(key, ask)
            case "hook-up":
                assert ask.edit == "propose-hookup", (key, ask.why)
                yield ProposeHookup(box=key)
            case "breaker":
                for circuit in ("2", "1"):
                    yield TryBreaker(box=key, circuit=circuit, went_out=circuit == "1")
            case "wiring":
                yield from self.wires_tested(key)
            case "work":
                job, box = self.around(key), self.documents.box(key)
                done = progress(install_steps(job, key, self.ticks), self.ticks, box, on_since(job, self.ticks, box))
                step = done[current(done)].at
                refuse_live(done, step.step)
                self.tick(key, step.step)
            case "set-up":
                each = progress_of_each(to_commission(self.around(key), key), self.ticks, self.documents.box(key))
                left = next(one for one in each if not one.over)
                note = left.steps[left.next].at
                if note.form == "serial":
                    yield NoteSerial(box=key, device=left.of.item.id, serial="N-1")
                self.tick(key, note.step)
            case "built":
                yield SayBuilt(box=key)
            case "fails" | "open":
                raise AssertionError((key, ask.why))

    def end_of(self, key: str, ask: Ask) -> Edit:
        """Where a cable goes: to the other box, or to what the hidden house has there."""
        truth = {self.old[key].hidden.truth[f"{ask.cable}{n}"] for n in (1, 2)}
        if truth == {"traveler"}:
            other = "y" if key == "x" else "x"
            there = next((one.id for one in self.documents.box(other).cables if one.insulated == 3), "")
            return SayRun(box=key, cable=ask.cable, to="box", far_box=other, far_cable=there)
        feed, light = ask.choices
        picked = feed if "line" in truth else light
        return SayRun.model_validate({"box": key, "cable": ask.cable, **dict(picked.fields)})

    def wires_tested(self, key: str) -> Iterator[Edit]:
        """Looks, and touches what the live test asks for."""
        taken = look_taken(self.old[key], key)
        assert taken is not None
        yield LookAtSwitch(box=key, on_off=False, worked=True)
        yield taken
        while (test := live_test(self.documents.box(key), 120)) is not None and (row := test.next) is not None:
            self.at += timedelta(minutes=1)
            self.last_live = self.at if row.step != "off" else self.last_live
            yield touched(self.old[key], row, key).model_copy(update={"at": self.at})
        yield UseMeasured(box=key)

    def tick(self, key: str, step: Step) -> None:
        """A step of the ladder or of the set-up done, a minute after the last."""
        self.at += timedelta(minutes=1)
        said = {"id": f"t{len(self.ticks)}", "box": key, "step": step, "at": self.at}
        self.ticks.append(Tick.model_validate(said | {"planned": planned_of(step, self.documents.box(key))}))


@given(st.sampled_from(KINDS), st.booleans(), st.integers(0, 2**32))
@settings(max_examples=5 * LONGER, deadline=None)
def test_doing_only_what_comes_next_at_both_boxes_ends_in_a_record(kind: str, main_at_x: bool, seed: int) -> None:
    """A third of the asks put off; at the end both boxes work the light, joined with the hidden cables."""
    old = old_pair(kind, seed)
    main, far = ("x", "y") if main_at_x else ("y", "x")
    person = Person(old, {main: "ostrel-pair-dimmer", far: "ostrel-pair-companion"}, Random(seed))
    person.until_done()
    boxes = {key: person.documents.box(key) for key in ("x", "y")}
    assert all(box.built is not None and box.built.splices == box.splices for box in boxes.values())
    together = wired(old, boxes)
    assert together(f"{main}/line", "hot 0")
    assert together(f"{main}/traveler", f"{far}/traveler")
    assert any(together(lamp.one, f"{main}/load") and together(lamp.other, "neutral 0") for lamp in old.lamps)
    kinds = [(tick.box, tick.step.kind) for tick in person.ticks]
    for key in ("x", "y"):
        before = person.ticks[: kinds.index((key, "taken apart"))]
        last = [tick for tick in before if tick.box == key and tick.step.kind == "proven dead"][-1]
        assert last.step.subjects == ("device out",) and last.at > person.last_live, "dead again"
    joins = [number for number, tick in enumerate(person.ticks) if tick.step.kind == "joined"]
    on = [number for number, tick in enumerate(person.ticks) if tick.step.kind == "energised"]
    assert max(joins) < min(on), "no power before both boxes are joined"
