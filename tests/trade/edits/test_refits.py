"""What is done about a box that does not hold, as edits: what stays, what moves along, what is refused."""

from __future__ import annotations

from typing import Any

import pytest

from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.refits import SplitLoad
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from nail_count.trade.model.run import BoxEnd
from nail_count.trade.model.splice import ConductorEnd, FixtureEnd, LeadEnd
from nail_count.trade.plan.install.steps import install_steps
from nail_count.trade.rules.wires.neutral import neutral_in
from nail_count.trade.search.offers import offers
from nail_count.trade.search.scene import Scene
from nail_count.trade.wiring.hookup.look import look
from tests.support import flat
from tests.trade.wiring.hookup.houses import box, job, lamp, sheet
from tests.trade.wiring.hookup.schemes import apart, dead_end, feed, loop
from tests.trade.wiring.hookup.test_propose import hooked_up


def done(house: Job, name: str, **said: Any) -> Job:
    return EDITS[name].read(said).apply(Documents(JobAtHand(house), {})).documents.job


def with_sheets(house: Job, *ids: str) -> Job:
    more = [sheet(one) for one in ids if one not in {known.id for known in house.sheets}]
    return Job.model_validate(house.model_dump() | {"sheets": [*(s.model_dump() for s in house.sheets), *more]})


def test_another_device_keeps_what_hangs_on_it_and_is_hooked_up_anew() -> None:
    house = with_sheets(hooked_up(feed("smart"))[0], "switch", "fan-and-light", "mains-module")
    after = done(house, "replace-device", box="a", device="d1", sheet="switch").boxes[0]
    assert after.devices[0].loads == house.boxes[0].devices[0].loads and after.devices[0].sheet == "switch"
    ends = [end for splice in after.splices for end in splice.ends]
    assert not any(isinstance(end, LeadEnd) for end in ends) and len(ends) > 2, "cables stay joined, its leads do not"
    for wrong in ("mains-module", "gone"):
        with pytest.raises(Rejected):
            done(house, "replace-device", box="a", device="d1", sheet=wrong)
    two = done(with_sheets(two_loads(), "switch"), "replace-device", box="a", device="d1", sheet="fan-and-light")
    with pytest.raises(Rejected, match="no channel for all"):
        done(with_sheets(two, "switch"), "replace-device", box="a", device="d1", sheet="switch")


def two_loads() -> Job:
    return job([box("a", "A2 B3", {"d1": "fan-and-light"}, "d1.1@fan d1.2@fan"), lamp("fan", "A3")], "a.A=1 a.B=fan.A")


def test_two_controls_on_one_yoke_and_a_module_behind_and_out_again() -> None:
    pair = job([box("a", "A2 B3", {"d1": "switch", "d2": "switch"}, "d1@fan d2@fan"), lamp("fan", "A3")], "a.A=1")
    pair = with_sheets(pair, "fan-and-light", "mains-module", "smart")
    one = done(pair, "on-one-yoke", box="a", one="d1", other="d2", sheet="fan-and-light").boxes[0]
    assert [(load.id, load.channel) for load in one.devices[0].loads] == [("l1", 1), ("l2", 2)]
    assert [device.gang for device in one.devices] == [1], "the other gang is empty"
    with pytest.raises(Rejected, match="a channel for each"):
        done(pair, "on-one-yoke", box="a", one="d1", other="d2", sheet="switch")
    smart = with_sheets(feed("smart"), "switch", "mains-module")
    behind = done(smart, "module-behind", box="a", device="d1", switch="switch", module="mains-module")
    (module,) = behind.boxes[0].modules
    assert module.loads == smart.boxes[0].devices[0].loads and behind.boxes[0].devices[0].loads == ()
    again = done(behind, "device-for-module", box="a", module="m1", device="d1", sheet="smart").boxes[0]
    assert again.devices == smart.boxes[0].devices and again.modules == ()


def test_a_main_goes_to_its_other_end_with_its_lamp_and_is_proven_there() -> None:
    house = hooked_up(apart("main", "three-way"))[0]
    said = {"box": "a", "device": "d1", "other_box": "b", "other": "d1"}
    moved = done(house, "exchange-devices", with_loads=True, **said)
    near, far, at = moved.boxes
    assert (near.devices[0].sheet, far.devices[0].sheet) == ("three-way", "main")
    assert [load.outlet for load in far.devices[0].loads] == ["lamp"] and near.devices[0].loads == ()
    assert not any(isinstance(end, FixtureEnd) for splice in at.splices for end in splice.ends)
    assert look(hooked_up(moved, "b")[0], "b").state.word != "fails"
    stays = done(house, "exchange-devices", **said)
    assert stays.boxes[0].devices[0].loads == house.boxes[0].devices[0].loads, "or what hangs there stays"


def test_an_unused_cable_comes_out_at_both_ends_and_a_joined_one_does_not() -> None:
    house = hooked_up(dead_end("main", "remote"))[0]
    spare = next(run for run in house.runs if {end.box for end in run.box_ends} == {"a", "b"})
    lamp_run = next(run for run in house.runs if {end.box for end in run.box_ends} == {"a", "lamp"})
    after = done(house, "take-cable-out", run=spare.id)
    assert [one.contents.out for one in after.boxes[:2]] == [("B",), ("A",)]
    for wrong in (lamp_run.id, house.runs[0].id, "gone"):
        with pytest.raises(Rejected):
            done(house, "take-cable-out", run=wrong)


def test_a_new_cable_brings_the_neutral_that_a_loop_of_two_wires_lacks() -> None:
    house = loop("smart")
    run = next(one for one in house.runs if len(one.box_ends) > 1)
    after = done(house, "pull-cable", run=run.id, insulated=3)
    assert [end.cable for end in after.runs[-1].box_ends if isinstance(end, BoxEnd)] in (["B", "C"], ["C", "B"])
    assert neutral_in(after.boxes[0], 120).there is True
    assert look(hooked_up(after)[0], "a").state.word != "fails"
    with pytest.raises(Rejected, match="Pick a new cable with more wires than the old one"):
        done(after, "pull-cable", run=after.runs[-1].id, insulated=3)


def test_moves_that_live_by_their_wires_are_offered_only_where_they_are_proven() -> None:
    """The main goes to the other end where the wires are there; behind a dead end it cannot."""
    for house, there in ((apart("main", "three-way"), True), (dead_end("main", "three-way"), False)):
        moves, ruled = offers(house, "a")
        offered = [move for move in moves if move.kind == "main to the other end"]
        assert bool(offered) == there
        assert there or any(one.kind == "main to the other end" for one in ruled), "and it is said why not"
        for number, move in enumerate(offered):
            scene = Scene(house, "a", (move,))
            assert scene.proven((number,))[1] == ""


def passing() -> Job:
    """A feed for another place goes through box a; both its cables pass a box for joining."""
    boxes = [
        box("a", "A2 B2 C2 D2", {"d1": "switch"}, "d1@lamp", other_circuits=["2"]),
        lamp("lamp"),
        box("k", "A2 B2", {"d1": "switch"}, "d1@far", circuit="2"),
        lamp("far", circuit="2"),
        box("j", "", {}, use="junction"),
    ]
    house = job(boxes, "a.A=1 a.B=lamp.A a.C=2 a.D=k.A k.B=far.A")
    house = hooked_up(hooked_up(house, "k")[0])[0]
    runs = [run.changed(passes="j") if run.id in ("r2", "r3") else run for run in house.runs]
    return house.changed(runs=tuple(runs))


def test_what_only_passes_through_is_joined_in_a_box_it_passes() -> None:
    house = passing()
    after = done(house, "move-splice", box="a", one="C", other="D", to="j")
    near, *_, there = after.boxes
    assert near.contents.out == ("C", "D") and [cable.id for cable in there.cables] == ["A", "B"]
    assert look(after, "k").state.word != "fails" and look(after, "a").state.word != "fails"
    on_it = after.changed(boxes=tuple(one.changed(circuit="2") if one.id == "j" else one for one in after.boxes))
    steps = {step.title: step.what for step in install_steps(on_it, "j", ())}
    assert "Its other end: circuit 2." in steps["Bring in cable A"], "he can tell it from the other one"
    assert any("k" in line for line in steps["Bring in cable B"]) and "Its other end" in steps["Bring in cable B"][1]
    (move,) = (move for move in offers(house, "a")[0] if move.kind == "splice moved")
    assert move.minutes == 120 and move.boxes == {"a", "j"}
    for wrong in ({"one": "A"}, {"to": "lamp"}, {"to": "a"}):
        with pytest.raises(Rejected):
            done(house, "move-splice", **{"box": "a", "one": "C", "other": "D", "to": "j"} | wrong)
    unsaid = house.changed(runs=tuple(run.changed(passes=None) for run in house.runs))
    with pytest.raises(Rejected, match="Enter first that cable C passes j"):
        done(unsaid, "move-splice", box="a", one="C", other="D", to="j")
    assert any(one.kind == "splice moved" for one in offers(unsaid, "a")[1])


def two_gangs(second: str = "") -> Box:
    """A dimmer with two loads in the first of two gangs."""
    there = [{"id": "d1", "gang": 1, "sheet": "dimmer", "name": "Cans", "loads": [
        {"id": id, "kind": "led", "quantity": 9, "each": "9 W", "name": name}
        for id, name in (("l1", "north"), ("l2", "south"))
    ]}]  # fmt: skip
    there += [{"id": "d2", "gang": 2, "sheet": second}] if second else []
    return flat({"id": "b", "name": "B", "room": "R", "enclosure": {"gangs": 2}, "devices": there})


DIMMER = Datasheet.model_validate(
    {"id": "dimmer", "name": "Dimmer", "kind": "dimmer", "channels": [{"ratings": {"led": {"alone": "140 W"}}}]}
)
BLANK = Datasheet.model_validate({"id": "blank", "name": "Blank", "kind": "blank"})
TWO = {"dimmer": DIMMER, "blank": BLANK}


@pytest.mark.parametrize("second", ["", "blank"])
def test_a_second_device_takes_some_of_the_loads(second: str) -> None:
    after = SplitLoad(box="b", device="d1", gang=2, loads=("l2",)).on_box(two_gangs(second), TWO)
    loads = {one.gang: (one.sheet, [load.id for load in one.loads]) for one in after.box.devices}
    assert loads == {1: ("dimmer", ["l1"]), 2: ("dimmer", ["l2"])}
    assert after.box.devices[1].name == "south" and 'for 9x9W led "south"' in after.sentence


@pytest.mark.parametrize(
    ("second", "fields", "at"),
    [
        ("", {"loads": ("l1", "l2")}, "loads"),  # the first would have none
        ("", {"loads": ("l3",)}, "loads"),
        ("", {"gang": 3}, "gang"),
        ("", {"gang": 1}, "gang"),
        ("dimmer", {}, "gang"),
        ("", {"device": "d9"}, "device"),
    ],
)
def test_a_load_is_not_split_otherwise(second: str, fields: dict[str, Any], at: str) -> None:
    edit = SplitLoad.model_validate({"box": "b", "device": "d1", "gang": 2, "loads": ("l2",)} | fields)
    with pytest.raises(Rejected) as refused:
        edit.on_box(two_gangs(second), TWO)
    assert refused.value.field == at


def test_an_onward_cable_lands_only_where_feed_and_cable_both_pass() -> None:
    """Cable D goes on from feed C of another circuit; never where the wires don't fit, or in a box with a device."""
    house = passing()
    after = done(house, "land-onward", box="a", feed="C", onward="D", to="j")
    near, *_, there = after.boxes
    assert near.contents.out == ("D",) and there.contents.landed == ("A", "B", "C")
    assert [len(one.ends) for one in there.splices] == [3, 3, 3]
    colored = house.boxes[0]
    white_first = tuple(
        one.changed(conductors=[{"color": "white"}, {"color": "black"}]) if one.id == "D" else one
        for one in colored.cables
    )
    bare = colored.changed(cables=white_first).changed(splices=())
    mixed = house.changed(boxes=(bare, *house.boxes[1:]))
    *_, there = done(mixed, "land-onward", box="a", feed="C", onward="D", to="j").boxes
    wires = [{end.of for end in one.ends if isinstance(end, ConductorEnd)} for one in there.splices]
    assert {"A1", "C1", "B2"} in wires and {"A2", "C2", "B1"} in wires, "black with black, white with white"
    for wrong in ({"onward": "C"}, {"to": "lamp"}, {"to": "a"}, {"onward": "B"}, {"feed": "Z"}):
        with pytest.raises(Rejected):
            done(house, "land-onward", **{"box": "a", "feed": "C", "onward": "D", "to": "j"} | wrong)
    unsaid = house.changed(runs=tuple(run.changed(passes=None) for run in house.runs))
    with pytest.raises(Rejected, match="Enter first that cable C passes j"):
        done(unsaid, "land-onward", box="a", feed="C", onward="D", to="j")
