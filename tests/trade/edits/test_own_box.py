"""A module at a fixture gets a box of its own: hooked up and proven there, counted, bought, on the map."""

from __future__ import annotations

import pytest

from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.answer import State
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.plan.parts.enclosures import enclosure_needs
from nail_count.trade.rules.check import check_box
from nail_count.trade.wiring.hookup.look import look
from tests.trade.plan.test_commission import looked_at
from tests.trade.wiring.hookup.schemes import PROVEN, at_outlet, over_two_circuits


def given_its_own(house: Job, module: str = "m1") -> Job:
    return read_edit("own-box", {"box": "lamp", "module": module}).apply(Documents(JobAtHand(house), {})).documents.job


@pytest.mark.parametrize("module", ("mains-module", "dry-module", "dry-pair-module"))
def test_a_module_in_a_box_of_its_own_is_hooked_up_counted_and_bought(module: str) -> None:
    house = given_its_own(at_outlet(module))
    lamp, own = (next(box for box in house.boxes if box.id == key) for key in ("lamp", "lamp-own"))
    assert not lamp.modules and [item.id for item in own.modules] == ["m1"]
    assert {load.outlet for load in own.modules[0].loads} == {"lamp"}
    assert own.use == "junction" and own.circuit == "1" and not own.survey.new_place
    ends = {frozenset(end.box for end in run.box_ends) for run in house.runs}
    assert frozenset(("lamp", "lamp-own")) in ends, "it stands on the map, joined with its fixture"
    proven = looked_at(house)
    for key in ("lamp-own", "lamp", "a"):
        seen = look(proven, key)
        assert seen.state is State.HOLDS and not seen.unsaid, key
    fill = check_box(own, by_id(house.sheets), house.terms_at(own), house.volts).fill
    wires = sum(cable.insulated for cable in own.cables)
    # NFPA 70 (NEC) 2023, 314.16(B)(1) and (5): 2 in³ for each 14 AWG wire and for the grounds; 30.3 in³ by its table.
    assert fill.limit is not None and float(fill.limit) == 30.3
    assert fill.total is not None and float(fill.total) >= 2 * (wires + 1)
    names = [need.name for need in enclosure_needs(own, house.stock)]
    assert names == ["Box, 1 gang, metal, 4x2-1/8 square", "Blank cover for the box"]
    assert not [*enclosure_needs(lamp, house.stock)], "no second one at the fixture"


def test_what_worked_it_over_the_network_works_it_there() -> None:
    house = given_its_own(over_two_circuits())
    assert next(box for box in house.boxes if box.id == "a").works == ("lamp-own/m1",)


def test_what_has_no_place_for_one_is_refused() -> None:
    house = at_outlet("mains-module")
    with pytest.raises(Rejected, match="no such module"):
        given_its_own(house, "m9")
    bare = house.changed(runs=(), boxes=tuple(b.changed(cables=()) if b.id == "lamp" else b for b in house.boxes))
    with pytest.raises(Rejected, match="cables of this box first"):
        given_its_own(bare)
    behind = PROVEN["a radio pair behind a plain pair"]
    with pytest.raises(Rejected, match="Only a module at a fixture"):
        read_edit("own-box", {"box": "a", "module": "m1"}).apply(Documents(JobAtHand(behind), {}))
