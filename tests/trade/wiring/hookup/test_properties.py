"""What holds of every hook-up whatever it is: order, ends of runs, joining what differs, leaving out, files."""

from __future__ import annotations

from random import Random

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from nail_count.files.job_json import read_job, write_job
from nail_count.trade.model.job import Job
from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.look import HookUp, look
from nail_count.trade.wiring.hookup.network import InState, NetworkState
from nail_count.trade.wiring.hookup.proof import prove
from tests.trade.wiring.hookup.outside import states
from tests.trade.wiring.hookup.schemes import PROVEN
from tests.trade.wiring.hookup.test_propose import hooked_up

HOUSES = {name: hooked_up(house)[0] for name, house in PROVEN.items()}
houses = st.sampled_from(sorted(HOUSES)).map(HOUSES.__getitem__)


def codes(at: HookUp) -> set[tuple[str, str]]:
    return {(one.finding.code, one.finding.of) for one in at.findings}


@given(houses, st.randoms(use_true_random=False))
@settings(max_examples=60, deadline=None)
def test_the_order_of_splices_ends_boxes_and_runs_never_matters(house: Job, random: Random) -> None:
    def mixed(things: tuple) -> tuple:  # type: ignore[type-arg]
        return tuple(random.sample(things, len(things)))

    boxes = tuple(
        box.changed(splices=mixed(tuple(s.changed(ends=mixed(s.ends)) for s in box.splices))) for box in house.boxes
    )
    turned = tuple(run.changed(one=run.other, other=run.one) for run in house.runs)
    other = house.changed(boxes=mixed(boxes), runs=mixed(turned))
    before, after = look(house, "a"), look(other, "a")
    assert codes(before) == codes(after) == set()
    assert (before.proof.states, before.proof.burning) == (after.proof.states, after.proof.burning)


@given(houses, st.data())
@settings(max_examples=80, deadline=None)
def test_joining_two_ends_of_different_potential_always_fails(house: Job, data: st.DataObject) -> None:
    """Two splices of one box made one, caps of spare wires aside: where they ever differ, something is found."""
    several = {box: [splice for splice in box.splices if len(splice.ends) > 1] for box in house.boxes}
    box = data.draw(st.sampled_from([box for box, splices in several.items() if len(splices) > 1]))
    one, other = data.draw(st.permutations(several[box]))[:2]
    seen = graph(house).network
    a, b = (next(iter(_nodes(house, box.id, splice.id))) for splice in (one, other))
    differs = any(_potential(InState(seen, state), a) != _potential(InState(seen, state), b) for state in states(seen))
    merged = one.changed(ends=(*one.ends, *other.ends))
    splices = tuple(merged if s.id == one.id else s for s in box.splices if s.id != other.id)
    changed = house.changed(boxes=tuple(b.changed(splices=splices) if b.id == box.id else b for b in house.boxes))
    assume(differs)
    assert prove(graph(changed).network).findings


def _nodes(house: Job, box: str, splice: str) -> list[str]:
    seen = graph(house)
    at = next(one for one in house.boxes if one.id == box)
    ends = next(one.ends for one in at.splices if one.id == splice)
    return [node for node, end in seen.end_of.items() if seen.box_of[node] == box and end in ends] or [
        node for node in seen.network.grounds if seen.box_of.get(node) == box
    ]


def _potential(now: InState, node: str) -> tuple[object, ...]:
    return now.hots(node), now.neutrals(node), now.at(node) == now.ground


@pytest.mark.parametrize("house", HOUSES.values(), ids=HOUSES)
def test_leaving_out_any_one_splice_fails_or_was_a_cap(house: Job) -> None:
    """What is proven needs every splice it has."""
    for box in house.boxes:
        for splice in box.splices:
            if len(splice.ends) < 2:
                continue
            rest = tuple(one for one in box.splices if one.id != splice.id)
            changed = house.changed(boxes=tuple(b.changed(splices=rest) if b.id == box.id else b for b in house.boxes))
            assert look(changed, box.id).state.word != "holds", (box.id, splice.name)


@pytest.mark.parametrize("house", HOUSES.values(), ids=HOUSES)
def test_taken_out_and_brought_in_it_proves_the_same(house: Job) -> None:
    again = read_job(write_job(house).encode())
    assert again == house and codes(look(again, "a")) == codes(look(house, "a"))


def test_every_breaker_that_makes_something_live_is_named() -> None:
    """And with those off nothing in the box is, in no position of anything."""
    for house in HOUSES.values():
        for box in house.boxes:
            at = look(house, box.id)
            network = graph(house).network
            for state in states(network):
                if not set(at.breakers) & state.on:
                    now = InState(network, NetworkState(state.on, state.positions))
                    assert not any(now.hots(node) for node, where in at.seen.box_of.items() if where == box.id)
