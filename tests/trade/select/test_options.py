"""What can go there, as a table of situations: the first choice, and the reason it must give. Common practice."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import files
from typing import Any

import pytest

from nail_count.files.job_json import read_job
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.gauge import awg
from nail_count.trade.model.job import Job, Terms, by_id, volts_of
from nail_count.trade.model.panel import Circuit
from nail_count.trade.model.run import BoxEnd, Run
from nail_count.trade.model.wire import Cable
from nail_count.trade.model.wish import Wish
from nail_count.trade.rules.check import check_box
from nail_count.trade.select.options import options
from nail_count.trade.select.situation import Option, Situation
from nail_count.trade.text.format import say
from tests.support import flat
from tests.trade.assume.test_usual import box_of
from tests.trade.editing import edit_box

JOB = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
SHEETS = by_id(JOB.sheets)
LAMPS = [{"id": "l1", "kind": "led", "quantity": 6, "each": "9 W"}]
SMALL = [{"id": "l1", "kind": "led", "quantity": 1, "each": "7 W"}]
FAN = [{"id": "l1", "kind": "fan", "each": "0.9 A"}]
BOX = flat(
    {
        "id": "b", "name": "B", "room": "R", "enclosure": {"volume": "34 in3", "gangs": 2},
        "cables": [{"id": "A", "gauge": 14, "insulated": 2}, {"id": "B", "gauge": 14, "insulated": 2}],
        "devices": [{"id": "d1", "gang": 1, "sheet": "marrowby-toggle"}],
    }
)  # fmt: skip


def asked(
    neutral: bool | None = True,
    box: Box = BOX,
    hub: str | None = None,
    end: Any = None,
    fixture: Any = None,
    **wish: Any,
) -> tuple[Option, ...]:
    said = {"places": 1, "loads": LAMPS, "without_network": True, "stays": "nothing"} | wish
    asks = Wish.model_validate({"id": "w1", **said})
    return options(Situation(box, 1, asks, SHEETS, neutral, hub=hub, end=end, fixture=fixture, fixture_proven=True))


def reasons(option: Option) -> Iterator[str]:
    return iter((*option.speaks_for, *option.speaks_against))


SMART = ["on and off", "schedule"]


@pytest.mark.parametrize(
    ("situation", "way", "sheet", "reason"),
    [
        ({"does": ["on and off"]}, "stay", "marrowby-toggle", "Does everything you asked for already"),
        ({"does": ["on and off", "dim"]}, "in the gang", "marrowby-rocker-dimmer", "Carries the load"),
        ({"does": SMART}, "in the gang", "ostrel-smart-switch", "The neutral it needs is in the box"),
        ({"does": SMART, "neutral": False}, "in the gang", "fennimar-two-wire-switch", "Made to work without"),
        ({"does": SMART, "neutral": False, "loads": SMALL}, "in the gang", "quillby-ground-switch", "Uses the ground"),
        ({"does": SMART, "stays": "the plate"}, "behind the switch", "tarn-one", "The plate and its switch stay"),
        (
            {"does": SMART, "neutral": False, "stays": "the plate", "loads": FAN, "fixture": "fed there"},
            "at the fixture", "tarn-one", "The feed is at the fixture",
        ),
        (
            {"does": ["on and off", "fan speed"], "loads": FAN}, "in the gang", "ostrel-fan-four-speed",
            "Does everything you asked for: on and off, fan speed",
        ),
        ({"does": ["on and off", "countdown"], "loads": FAN}, "in the gang", "quillby-countdown", "countdown"),
        (
            {"does": ["on and off", "dim", "schedule"], "places": 2}, "in the gang", "ostrel-smart-dimmer",
            "The other places take its companion",
        ),
        ({"does": ["on and off", "dim"], "places": 2}, "in the gang", "marrowby-three-way-dimmer", "three-way switch"),
        (
            {"does": SMART, "places": 2, "neutral": False}, "at the fixture", "tarn-one",
            "The switches of all places together are its one input",
        ),
    ],
)  # fmt: skip
def test_the_first_choice_and_its_reason(situation: dict[str, Any], way: str, sheet: str, reason: str) -> None:
    first = asked(**situation)[0]
    assert first.sheet is not None
    assert (first.way, first.sheet.id) == (way, sheet), [(o.title, o.score) for o in asked(**situation)[:4]]
    assert any(reason in said for said in reasons(first)), list(reasons(first))


@pytest.mark.parametrize(
    ("situation", "sheet", "reason"),
    [
        ({"does": SMART, "neutral": False}, "ostrel-smart-switch", "Needs a neutral, and there is none in the box"),
        ({"does": ["on and off", "dim"], "loads": FAN}, "marrowby-rocker-dimmer", "fan is not on the sheet"),
        ({"does": SMART, "places": 3}, "ostrel-smart-switch", "Works from one place only"),
        ({"does": ["on and off"], "loads": SMALL}, "fennimar-two-wire-switch", "below the minimum load of 20 W"),
        ({"does": ["on and off"], "without_network": True}, "fennimar-battery-remote", "network down"),
        ({"does": ["on and off"], "stays": "the plate"}, "marrowby-rocker-dimmer", "must stay as they are"),
        (
            {"does": ["on and off", "dim"], "places": 2, "end": "load end"}, "ostrel-smart-dimmer",
            "Belongs at the line end, and this is the load end",
        ),
        ({"does": ["on and off", "dim"]}, "ostrel-smart-switch", "Doesn't do what you asked for: dim"),
    ],
)  # fmt: skip
def test_what_is_ruled_out_says_why(situation: dict[str, Any], sheet: str, reason: str) -> None:
    option = next(
        o for o in asked(**situation) if o.sheet and o.sheet.id == sheet and o.way in ("in the gang", "remote")
    )
    assert not option.possible and reason in option.speaks_against[0]


def test_a_box_too_small_rules_a_device_out_and_an_open_neutral_does_not() -> None:
    small = flat(BOX.model_dump() | {"devices": [], "enclosure": {"volume": "12 in3", "gangs": 2}})
    option = next(o for o in asked(box=small, does=SMART) if o.sheet and o.sheet.id == "ostrel-smart-switch")
    assert any("Doesn't fit in the box: over by" in text for text in option.speaks_against)
    unknown = next(o for o in asked(neutral=None, does=SMART) if o.sheet and o.sheet.id == "ostrel-smart-switch")
    assert unknown.possible and any("not checked yet" in text for text in unknown.speaks_against)


def test_what_it_may_carry_is_reckoned_where_it_would_stand() -> None:
    """Between two neighbors a dimmer may carry less: its sheet gives 90 W for LED in the middle, 140 W alone."""
    devices = [{"id": f"d{gang}", "gang": gang, "sheet": "marrowby-toggle"} for gang in (1, 2, 3)]
    box = flat(BOX.model_dump() | {"devices": devices, "enclosure": {"volume": "54 in3", "gangs": 3}})
    wish = Wish.model_validate({"id": "w1", "does": ["dim"], "loads": [LAMPS[0] | {"each": "16 W"}]})
    found = {gang: options(Situation(box, gang, wish, SHEETS, True)) for gang in (2,)}[2]
    dimmer = next(o for o in found if o.sheet and o.sheet.id == "marrowby-rocker-dimmer")
    assert not dimmer.possible and dimmer.speaks_against[0] == "over by 6 W"


def test_a_below_minimum_load_with_a_listed_bypass_stays_possible() -> None:
    found = asked(neutral=False, does=["on and off", "dim", "schedule"], loads=SMALL)
    two_wire = next(o for o in found if o.sheet and o.sheet.id == "fennimar-two-wire-dimmer")
    assert any("bypass" in text for text in reasons(two_wire))


def test_the_library_has_every_kind_and_no_two_sheets_alike() -> None:
    kinds = {sheet.kind for sheet in JOB.sheets}
    assert len(JOB.sheets) >= 15
    assert kinds >= {
        "switch", "dimmer", "smart switch", "fan control", "countdown", "sensor", "receptacle", "remote", "module",
        "blank",
    }  # fmt: skip
    decides = [sheet.model_dump_json(exclude={"id", "name", "maker"}) for sheet in JOB.sheets]
    assert len(set(decides)) == len(decides)


def option_of(found: tuple[Option, ...], way: str, sheet: str) -> Option:
    return next(one for one in found if one.way == way and one.sheet is not None and one.sheet.id == sheet)


@pytest.mark.parametrize("neutral", [True, False])
@pytest.mark.parametrize("house", [box.id for box in JOB.boxes if not box.is_outlet])
def test_what_is_offered_for_the_gangs_of_a_house_holds_when_it_is_put_there(house: str, neutral: bool) -> None:
    """Every check the tool has, on the box with it: nothing that is offered fails."""
    at = next(box for box in JOB.boxes if box.id == house)
    volts = volts_of(JOB.circuits, JOB.terms.voltage)
    asks = Wish.model_validate({"id": "w", "does": ["on and off", "dim"], "loads": LAMPS, "places": 1})
    found = options(Situation(at, 1, asks, SHEETS, neutral, JOB.terms_at(at), volts=volts, job=JOB))
    known = at.changed(survey=at.survey.changed(neutral=neutral))
    before = check_box(known, SHEETS, JOB.terms_at(at), volts)
    known_failing = {remark.text for one in before.answers for remark in one.remarks if remark.state is State.FAILS}
    for option in (one for one in found if one.possible and one.way == "in the gang"):
        assert option.sheet is not None
        put = edit_box(at, "put-device", {"gang": 1, "sheet": option.sheet.id}, SHEETS).box
        loads = [load | {"id": f"w{n}"} for n, load in enumerate(LAMPS)]
        put = put.changed(devices=(*put.devices[:-1], put.devices[-1].changed(loads=loads)))
        put = put.changed(survey=put.survey.changed(neutral=neutral))
        check = check_box(put, SHEETS, JOB.terms_at(at), volts)
        failed = {(one.about, one.subject) for one in before.answers if one.state is State.FAILS}
        fails = [one for one in check.answers if one.state is State.FAILS and (one.about, one.subject) not in failed]
        assert fails == [], (option.title, say(check.headline))
        new = {remark.text for one in check.answers for remark in one.remarks if remark.state is State.FAILS}
        assert new <= known_failing, (option.title, new - known_failing)
        assert not option.passes or check.state is not State.FAILS
    if found[0].possible and any(one.passes for one in found):
        assert found[0].passes, "expected what passes before what is open"


def test_a_body_too_deep_an_overloaded_circuit_or_a_failing_neighbor_rule_a_device_out() -> None:
    shallow = flat(BOX.model_dump() | {"enclosure": {"volume": "34 in3", "gangs": 2, "depth": "1.3 in"}})
    deep = option_of(asked(box=shallow, does=SMART), "in the gang", "ostrel-smart-switch")
    assert not deep.possible and any("Depth" in text or "Bulk" in text for text in deep.speaks_against)
    full = JOB.changed(boxes=(BOX.changed(circuit="1", id="b"),), circuits=(Circuit(id="1", breaker=15),))
    heavy = Wish.model_validate(
        {
            "id": "w",
            "does": ["on and off"],
            "loads": [{"id": "l1", "kind": "incandescent", "each": "700 W", "quantity": 3}],
        }
    )
    on_it = BOX.changed(circuit="1")
    found = options(Situation(on_it, 1, heavy, SHEETS, True, volts={"1": 120}, job=full))
    assert not any(one.possible for one in found if one.way == "in the gang")


def test_a_module_at_the_fixture_needs_a_live_a_neutral_and_a_way_for_the_signal() -> None:
    ways = {
        fixture: option_of(asked(does=SMART, fixture=fixture), "at the fixture", "tarn-one")
        for fixture in (None, "fed there", "three wires", "two wires")
    }
    assert [ways[one].possible for one in ways] == [True, True, True, False]
    assert any(reason.open and "Not checked yet" in reason.text for reason in ways[None].reasons)


STAYS = '1g 20in3; 14/2, 14/2; toggle "Hall" {watts}W led'


def in_gang_of(box: Box, sheet: str, **asks: Any) -> Option:
    found = options(Situation(box, 1, Wish.model_validate({"id": "w"} | asks), SHEETS, True))
    return next(one for one in found if one.way == "in the gang" and one.sheet and one.sheet.id == sheet)


def test_the_loads_that_stay_are_counted_where_none_are_asked_for() -> None:
    """By hand: 180 W of LED stay on a dimmer that takes 140 W of it: over by 40 W. 36 W leave 104 W."""
    over, fits = (box_of(STAYS.format(watts=watts)) for watts in ("20x9", "4x9"))
    assert not in_gang_of(over, "marrowby-rocker-dimmer").possible
    assert "over by 40 W" in in_gang_of(over, "marrowby-rocker-dimmer").speaks_against
    assert in_gang_of(fits, "marrowby-rocker-dimmer").passes
    assert in_gang_of(over, "marrowby-rocker-dimmer", loads=LAMPS).passes, "what is asked for comes first"


@pytest.mark.parametrize("sheet", ["marrowby-toggle", "marrowby-rocker-dimmer", "ostrel-smart-switch"])
def test_what_is_offered_with_the_loads_that_stay_is_what_one_gets(sheet: str) -> None:
    """Replaced as the page does it, by the edit: the very same answers, load by load."""
    box = box_of(STAYS.format(watts="4x9"))
    offered = in_gang_of(box, sheet).after
    got = edit_box(box, "replace-device", {"device": box.devices[0].id, "sheet": sheet}, SHEETS).box
    check = check_box(got.changed(survey=got.survey.changed(neutral=True)), SHEETS, Terms())
    assert offered is not None and [one.total for one in offered.ratings] == [one.total for one in check.ratings]
    assert offered.state is check.state and offered.fill.total == check.fill.total


def test_a_neutral_that_is_usually_missing_leaves_open_what_needs_one_and_rules_nothing_out() -> None:
    box = box_of('1g 20in3; 14/2; toggle "Hall" 4x9W led')
    for assumed in (True, False):
        found = options(Situation(box, 1, Wish(id="w"), SHEETS, neutral=False, neutral_assumed=assumed))
        here = (one for one in found if one.way == "in the gang" and one.sheet)
        smart = next(one for one in here if one.sheet and one.sheet.id == "ostrel-smart-switch")
        assert smart.possible == assumed and not smart.passes


def test_where_nothing_special_is_asked_the_plain_device_comes_first() -> None:
    """Common practice: leave it, else the same plain thing; made for several places, aluminum, a main: further down."""
    found = options(Situation(box_of(STAYS.format(watts="4x9")), 1, Wish(id="w"), SHEETS, True))
    titles = [one.title for one in found if one.possible]
    assert titles[0].startswith("Leave") and titles[1] == "Toggle switch in gang 1"
    places = {one.sheet.id: n for n, one in enumerate(found) if one.sheet and one.way == "in the gang"}
    assert places["marrowby-toggle"] < min(places["marrowby-aluminum-switch"], places["marrowby-three-way"])
    assert not next(one for one in found if one.sheet and one.sheet.id == "ostrel-companion").possible
    for_others = [one.sheet.id for one in found if one.possible and one.for_other_cases and one.sheet]
    assert {"marrowby-three-way", "marrowby-three-way-dimmer", "marrowby-aluminum-switch"} <= set(for_others)
    assert titles[-len(for_others) :] == [one.title for one in found if one.possible and one.for_other_cases]
    two = options(Situation(box_of(STAYS.format(watts="4x9")), 1, Wish(id="w", places=2), SHEETS, True))
    assert "marrowby-three-way" not in [one.sheet.id for one in two if one.for_other_cases and one.sheet]


def test_plates_places_and_wires_that_were_said_are_kept_to() -> None:
    said = {"plate_stays": True}
    stays = flat(BOX.model_dump() | {"survey": said})
    assert not option_of(asked(box=stays, does=["on and off"]), "in the gang", "marrowby-rocker-dimmer").possible
    damp = flat(BOX.model_dump() | {"survey": {"damp": True}})
    wet = option_of(asked(box=damp, does=["on and off", "dim"]), "in the gang", "marrowby-rocker-dimmer")
    assert not wet.possible and any("damp" in text for text in wet.speaks_against)
    metal = flat(BOX.model_dump() | {"survey": {"metal_plate": True}})
    radio = option_of(asked(box=metal, does=SMART), "in the gang", "ostrel-smart-switch")
    assert radio.possible and any("metal plate" in text for text in radio.speaks_against)
    dims = next(sheet.id for sheet in JOB.sheets if sheet.class2 and not sheet.is_module)
    assert not option_of(asked(does=["on and off", "dim"]), "in the gang", dims).possible
    wired = flat(
        BOX.model_dump()
        | {"cables": [*BOX.model_dump()["cables"], {"id": "C", "gauge": 18, "insulated": 2, "class2": True}]}
    )
    assert "class 2 wires, and none" not in " ".join(
        option_of(asked(box=wired, does=["dim"]), "in the gang", dims).speaks_against
    )


def test_the_other_end_of_a_pair_is_a_choice() -> None:
    found = asked(does=["on and off", "dim"], places=2, end="load end")
    there = option_of(found, "other end", "ostrel-smart-dimmer")
    assert there.possible and not there.passes and any("line end" in text for text in there.speaks_for)
    assert not any(one.way == "other end" for one in asked(does=["on and off", "dim"], places=2, end="line end"))


def test_the_other_end_is_tried_on_its_own_box_where_a_run_says_which() -> None:
    """The run leads by a three-wire cable to a box with one switch: what that box does not hold is ruled out there."""
    own = BOX.changed(cables=(*BOX.cables, Cable(id="C", gauge=awg(14), insulated=3)))
    run = Run(id="r", one=BoxEnd(box="b", cable="C"), other=BoxEnd(box="far", cable="A"))
    asks = Wish.model_validate({"id": "w", "does": ["on and off", "dim"], "loads": LAMPS, "places": 2})

    def there(*devices: str, volume: str = "34 in3", neutral: bool | None = True) -> Option:
        standing = [{"id": f"d{n}", "gang": n, "sheet": sheet} for n, sheet in enumerate(devices, 1)]
        said = {"id": "far", "name": "Far", "devices": standing, "enclosure": {"volume": volume, "gangs": 2}}
        far = flat(BOX.model_dump() | said | {"survey": {"neutral": neutral}})
        job = Job(name="J", sheets=tuple(SHEETS.values()), boxes=(own, far), runs=(run,))
        at = Situation(own, 1, asks, SHEETS, True, end="load end", volts={}, job=job)
        return option_of(options(at), "other end", "ostrel-smart-dimmer")

    whole = there("marrowby-toggle")
    assert whole.passes and "R: Far" in whole.title, whole.reasons
    small = there("marrowby-toggle", volume="10 in3")
    assert not small.possible and "Doesn't fit in the box" in small.speaks_against[0]
    assert not there("marrowby-toggle", neutral=False).possible
    unsaid = there("marrowby-toggle", neutral=None)
    assert unsaid.possible and not unsaid.passes
    for several in ((), ("marrowby-toggle", "marrowby-toggle")):
        assert any("Check that box by itself" in text for text in there(*several).speaks_against)


def test_a_box_beside_it_that_no_longer_fits_its_sheet_is_judged_as_far_as_it_fits() -> None:
    """A receptacle on the second output of a device whose sheet was changed to one output."""
    plug = {"id": "l1", "kind": "receptacle", "each": "1 A", "channel": 2}
    said = {
        "id": "far",
        "name": "Far",
        "circuit": "1",
        "devices": [{"id": "d1", "gang": 1, "sheet": "marrowby-toggle", "loads": [plug]}],
    }
    far, own = flat(BOX.model_dump() | said), BOX.changed(circuit="1")
    house = Job(name="J", sheets=tuple(SHEETS.values()), boxes=(own, far), circuits=(Circuit(id="1"),))
    asks = Wish.model_validate({"id": "w", "does": SMART, "loads": LAMPS, "places": 1})
    assert options(Situation(own, 1, asks, SHEETS, True, volts={"1": 120}, job=house))


def test_no_article_of_the_nec_is_named_where_another_code_holds() -> None:
    asks = Wish.model_validate({"id": "w", "does": SMART, "loads": LAMPS, "places": 1})
    bare = flat(BOX.model_dump() | {"cables": [{"id": "A", "gauge": 14, "insulated": 2, "grounds": 0}]})
    for code, named in (("nec-2023", True), ("uk", False), ("csa", False)):
        found = options(Situation(bare, 1, asks, SHEETS, False, Terms(code=code)))
        assert any("NEC" in text for option in found for text in reasons(option)) == named


def test_what_controls_two_things_is_no_match_for_one_of_them() -> None:
    """A fan with its light takes both channels of a control that has one for each; lamps alone leave one idle."""
    both = LAMPS[0] | {"id": "l1"}, {"id": "l2", "kind": "fan", "each": "0.9 A"}
    for loads, spare in ((both, False), (both[:1], True)):
        found = asked(does=["on and off"], loads=list(loads))
        control = next(
            o for o in found if o.sheet and o.sheet.id == "fennimar-fan-and-light" and o.way == "in the gang"
        )
        assert any("you need one" in said for said in reasons(control)) == spare
