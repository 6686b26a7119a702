"""The box drawn for a step: what its sentences name is lit, and only what is joined by then is drawn as joined."""

from __future__ import annotations

from dataclasses import replace
from importlib.resources import files

import pytest

from nail_count.drawing.of_step import step_drawing
from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand, wired_with
from nail_count.trade.edits.fields import now
from nail_count.trade.model.tick import Tick
from nail_count.trade.plan.install.progress import Done, progress
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.network import NetworkState
from nail_count.trade.wiring.hookup.stages import ends_of, node_of
from tests.trade.wiring.hookup.outside import voltages

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def steps_of(key: str) -> tuple[Done, ...]:
    box = next(one for one in HOUSE.boxes if one.id == key)
    around = wired_with(Documents(JobAtHand(HOUSE), {}), box)
    return progress(install_steps(around, key, ()), (), box, None)


def ticked(done: Done) -> Done:
    return replace(done, tick=Tick(id="t1", box="b", step=done.at.step, at=now()))


@pytest.mark.parametrize("key", ["front-door", "washroom"])
def test_what_a_step_names_is_lit_and_what_is_done_is_drawn_as_done(key: str) -> None:
    box = next(one for one in HOUSE.boxes if one.id == key)
    done, joined, seen = list(steps_of(key)), 0, 0
    for at, one in enumerate(done):
        drawing = step_drawing(HOUSE, box, done, at)
        if drawing is not None:
            words = " ".join(one.at.what)
            wires = [end for end in drawing.drawn.ends if end.lit and end.named.key == end.named.short]
            assert all(end.named.short in words for end in wires), (words, [end.named.short for end in wires])
            if one.at.step.kind == "joined":
                seen += 1
                lit = [splice for splice in drawing.drawn.splices if splice.lit]
                assert lit or "cap" in words.lower()
                assert len(drawing.drawn.splices) > joined, "this splice, and those made before"
                joined = len(drawing.drawn.splices)
        done[at] = ticked(one)
    assert seen > 3
    last = step_drawing(HOUSE, box, done, len(done) - 1)
    assert last is not None
    assert len(last.drawn.splices) == len([splice for splice in box.splices if splice.ends])


@pytest.mark.parametrize("key", ["front-door", "washroom", "kitchen-bench"])
def test_on_paper_a_step_is_drawn_as_if_all_before_it_were_done(key: str) -> None:
    """Whatever was ticked: a sheet that is printed halfway shows the same as one printed before."""
    box = next(one for one in HOUSE.boxes if one.id == key)
    fresh = list(steps_of(key))
    so_far = list(fresh)
    for at, one in enumerate(fresh):
        drawn = step_drawing(HOUSE, box, fresh, at, in_order=True)
        assert drawn == step_drawing(HOUSE, box, so_far, at)
        assert drawn == step_drawing(HOUSE, box, [ticked(each) for each in fresh], at, in_order=True)
        so_far[at] = ticked(one)


@pytest.mark.parametrize("key", [box.id for box in HOUSE.boxes if box.planned])
def test_no_two_steps_of_a_box_are_called_alike(key: str) -> None:
    titles = [one.at.title for one in steps_of(key) if one.at.step.kind in ("taken apart", "joined")]
    assert len(titles) == len(set(titles)), titles


def test_nothing_is_drawn_of_an_old_box_that_nobody_recorded() -> None:
    done = steps_of("front-door")
    box = next(one for one in HOUSE.boxes if one.id == "front-door").changed(found=None)
    assert step_drawing(HOUSE, box, done, 0) is None


def test_old_and_new_devices_are_told_apart_and_live_wires_marked() -> None:
    """One device stays and the other is exchanged. What is live is what scipy finds at full voltage."""
    box = next(one for one in HOUSE.boxes if one.id == "front-door")
    stays, goes = box.contents.devices
    old = box.contents.changed(devices=(stays, goes))
    new = box.contents.changed(devices=(stays.changed(stays=stays.id), goes.changed(stays=None)))
    box = box.changed(found=old, planned=new)
    house = HOUSE.changed(boxes=tuple(box if one.id == box.id else one for one in HOUSE.boxes))
    around = wired_with(Documents(JobAtHand(house), {}), box)
    done = progress(install_steps(around, box.id, ()), (), box, None)
    off = [number for number, one in enumerate(done) if one.at.step.kind == "switched off"]
    on = next(number for number, one in enumerate(done) if one.at.step.kind == "energised")
    network = graph(around, "planned").network
    state = NetworkState(frozenset(one.circuit for one in network.sources), {gear.id: 0 for gear in network.gear})
    full = {node for node, volts in voltages(network, state).items() if abs(volts) > 100}
    seen = set()
    for at in range(len(done)):
        drawing = step_drawing(around, box, done, at)
        assert drawing is not None
        live = {end.named.key for end in drawing.drawn.ends if end.live}
        is_on = at <= off[-1] or at > on
        ends = ends_of(around, box, drawing.stage)
        assert live == ({key for key, one in ends.items() if node_of(box.id, one.end) in full} if is_on else set())
        seen |= {(drawing.stage, group.kind) for group in drawing.drawn.groups if group.kind}
    assert seen == {("found", "stays"), ("found", "old"), ("planned", "stays"), ("planned", "new")}
