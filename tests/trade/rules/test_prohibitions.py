"""What forbids a choice: each finding, its rule, its ways out, and what takes it away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import pytest

from nail_count.trade.model.answer import Remark, State
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.prohibitions import prohibitions
from tests.support import flat

LED = [{"ratings": {"led": {"alone": "150 W"}}}]


def made(sheet: dict[str, Any], lights: str = "", code: Any = "nec-2023", **box: Any) -> tuple[Remark, ...]:
    """The findings of a box with this device, or module, in it."""
    about = Datasheet.model_validate({"id": "odd", "name": "Odd", "kind": "dimmer", "channels": LED} | sheet)
    hung = {"id": "x1", "sheet": "odd", "loads": [{"id": "l1", "kind": "led", "each": "9 W", "lights": lights}]}
    hung |= box.pop("hung", {})
    things = {"modules": [hung]} if about.is_module else {"devices": [hung | {"gang": 1}]}
    whole = flat({"id": "b", "name": "B", "room": "R", "enclosure": {"gangs": 2}, **things, **box})
    answer = prohibitions(whole, {"odd": about}, Terms(code=code))
    assert answer is None or answer.state == max(remark.state for remark in answer.remarks)
    assert (answer is None) == (check_box(whole, {"odd": about}, Terms(code=code)).prohibitions is None)
    return answer.remarks if answer else ()


def cable(id: str = "A", **more: Any) -> dict[str, Any]:
    return {"id": id, "gauge": 14, "insulated": 2, **more}


CLASS2 = [cable(), cable("B", class2=True)]
MODULE: dict[str, Any] = {"kind": "module"}
GROUND = {"neutral": "uses the ground", "listed": ["replaces a switch without a neutral"]}

FINDINGS: dict[str, tuple[Callable[[], tuple[Remark, ...]], State, str, str]] = {
    "a neutral asked for and not there": (
        partial(made, {"neutral": "needed"}, survey={"neutral": False}),
        State.FAILS,
        "110.3(B)",
        "no-neutral",
    ),
    "two loads switched apart, and one 14/2 to the fixture": (
        partial(
            made,
            {"channels": LED * 2},
            hung={
                "loads": [
                    {"id": "l1", "kind": "led", "each": "9 W"},
                    {"id": "l2", "kind": "led", "each": "9 W", "channel": 2},
                ]
            },
            cables=[cable(), cable("B")],
        ),
        State.OPEN,
        "300.3(B)",
        "too-few-wires",
    ),
    "a modified device": (
        partial(made, {}, hung={"listing": "modified"}),
        State.FAILS,
        "110.3(B)",
        "modified-device",
    ),
    "a modified module": (
        partial(made, MODULE, hung={"listing": "modified"}),
        State.FAILS,
        "110.3(B)",
        "modified-device",
    ),
    "a device without a mark": (
        partial(made, {}, hung={"listing": "none"}),
        State.FAILS,
        "110.3(B)",
        "unlisted-device",
    ),
    "a model without a mark": (
        partial(made, {"unlisted": True}),
        State.FAILS,
        "110.3(B)",
        "unlisted-device",
    ),
    "a device on a square box, and nobody saw a ring": (
        partial(made, {}, enclosure={"trade_size": "4x2-1/8 square", "material": "metal"}),
        State.OPEN,
        "314.25",
        "no-ring-for-device",
    ),
    "a device on a square box without a ring": (
        partial(made, {}, enclosure={"trade_size": "4x2-1/8 square", "material": "metal"}, survey={"looked": ["ring"]}),
        State.FAILS,
        "314.25",
        "no-ring-for-device",
    ),
    "a neutral nobody looked for": (partial(made, {"neutral": "needed"}), State.OPEN, "110.3(B)", "neutral-not-known"),
    "current through the ground, not listed": (
        partial(made, {"neutral": "uses the ground"}),
        State.FAILS,
        "404.22",
        "ground-not-listed",
    ),
    "current through the ground beside a neutral": (
        partial(made, GROUND, survey={"neutral": True}),
        State.FAILS,
        "404.22",
        "ground-beside-neutral",
    ),
    "aluminum": (
        partial(made, {}, cables=[cable(gauge=12, metal="aluminum")]),
        State.FAILS,
        "404.14(C)",
        "aluminum",
    ),
    "class 2 beside mains": (partial(made, {}, cables=CLASS2), State.FAILS, "725.136", "class2-beside-mains"),
    "a dry input at mains potential": (
        partial(made, MODULE | {"input": "dry", "input_at_mains": True}, cables=[cable(class2=True)]),
        State.FAILS,
        "725.136",
        "dry-input-at-mains",
    ),
    "a dry input the sheet says nothing of": (
        partial(made, MODULE | {"input": "dry"}, cables=[cable(class2=True)]),
        State.OPEN,
        "725.136",
        "dry-input-at-mains",
    ),
    "stair lighting dimmed from one end only": (
        partial(made, {"full_range": False}, "stairs"),
        State.FAILS,
        "210.70(A)(2)",
        "stair-dimmed-from-one-end",
    ),
    "a stair and a sheet that does not say": (
        partial(made, {}, "stairs"),
        State.OPEN,
        "210.70(A)(2)",
        "stair-range-not-said",
    ),
    "a battery control alone": (
        partial(made, MODULE, "required light", hung={"control": "battery only"}),
        State.FAILS,
        "210.70(A)(2)",
        "battery-control",
    ),
    "a required light and nobody said what switches it": (
        partial(made, MODULE, "required light"),
        State.OPEN,
        "210.70(A)(2)",
        "control-not-said",
    ),
}


@pytest.mark.parametrize("name", FINDINGS)
def test_findings(name: str) -> None:
    remarks, state, article, code = FINDINGS[name]
    found = [remark for remark in remarks() if remark.code == code]
    assert (state, article) in [(one.state, one.rule.article) for one in found] and all(one.ways for one in found)


FREE: dict[str, Callable[[], tuple[Remark, ...]]] = {
    "the neutral is there": partial(made, {"neutral": "needed"}, survey={"neutral": True}),
    "somebody said a conductor is the neutral": partial(
        made,
        {"neutral": "needed"},
        cables=[cable(conductors=[{"asserted_role": "line"}, {"asserted_role": "neutral"}])],
    ),
    "listed for aluminum": partial(made, {"listed": ["aluminum"]}, cables=[cable(gauge=12, metal="aluminum")]),
    "listed for class 2 beside mains": partial(made, {"listed": ["class 2 beside mains"]}, cables=CLASS2),
    "a barrier between class 2 and mains": partial(
        made, {}, cables=[cable(), cable("B", class2=True, space=2)], enclosure={"gangs": 2, "barriers": [{"after": 1}]}
    ),
    "every place has the full range": partial(made, {"full_range": True}, "stairs"),
    "a switch does not dim": partial(made, {"kind": "switch", "full_range": False}, "stairs"),
    "a wired switch": partial(made, MODULE, "required light", hung={"control": "wired"}),
    "not a required light": partial(made, MODULE, hung={"control": "battery only"}),
}


@pytest.mark.parametrize("name", FREE)
def test_what_takes_a_finding_away(name: str) -> None:
    assert all(remark.state is State.HOLDS for remark in FREE[name]())


def test_where_another_code_holds_only_what_holds_everywhere_is_said() -> None:
    for code in ("uk", "csa", "india"):
        assert made({"neutral": "needed"}, code=code, survey={"neutral": False})[0].rule.standing == "practice"
        for only_nec in ({"neutral": "uses the ground"}, {"full_range": False}):
            assert made(only_nec, "stairs" if "full_range" in only_nec else "", code) == ()
        assert made(MODULE, "required light", code, hung={"control": "battery only"}) == ()


def test_remarks_that_stop_nobody() -> None:
    """A battery control was allowed before 2023; no ground has ways out; two circuits, shared heat are said."""
    older = made(MODULE, "required light", "nec-2020", hung={"control": "battery only"})
    assert [remark.state for remark in older] == [State.HOLDS]
    assert made(MODULE, "required light", "nec-2020") == ()  # nobody need say what switches it
    bare = made({}, cables=[cable(grounds=0)])
    assert bare[0].rule.article == "404.9(B)" and len(bare[0].ways) == 3 and bare[0].state is State.OPEN
    two = made(MODULE | {"channels": LED * 2}, circuit="1", other_circuits=["2"])
    assert {"circuits-meet", "one-feed"} <= {remark.code for remark in two}
    crowd = Datasheet.model_validate({"id": "odd", "name": "Odd", "kind": "module"})
    modules = [{"id": f"m{n}", "sheet": "odd"} for n in (1, 2)]
    several = flat({"id": "b", "name": "B", "room": "R", "modules": modules})
    answer = prohibitions(several, {"odd": crowd}, Terms())
    assert answer is not None and answer.remarks[0].code == "modules-warm"


@pytest.mark.parametrize(
    ("survey", "wire", "state"),
    [
        ({}, {}, State.OPEN),
        ({"ground_way": "plate"}, {}, State.HOLDS),
        ({"ground_way": "GFCI"}, {}, State.HOLDS),
        ({"ground_way": "plate", "metal_plate": True}, {}, State.OPEN),
        ({"ground_way": "sheath"}, {}, State.OPEN),
        ({"ground_way": "sheath"}, {"kind": "armored"}, State.HOLDS),
        ({}, {"kind": "conduit"}, State.OPEN),
    ],
)
def test_without_a_ground_it_is_open_until_a_way_is_picked(
    survey: dict[str, Any], wire: dict[str, Any], state: State
) -> None:
    """404.9(B): armor or conduit may be the ground, once proven to be; no sheath is."""
    found = made({}, cables=[cable(grounds=0, **wire)], survey=survey)[0]
    assert (found.code, found.state, found.rule.article) == ("no-ground", state, "404.9(B)")
    assert len(found.ways) == (0 if state is State.HOLDS else 4 if wire else 3)


def test_pigtails_on_aluminum_are_done_once_recorded_with_their_connector() -> None:
    aluminum = [cable(gauge=12, metal="aluminum")]
    assert made({}, cables=aluminum)[0].state is State.FAILS
    done = made({}, cables=aluminum, survey={"pigtails": "clamp connector, listed for both"})
    assert [one.state for one in done] == [State.HOLDS] and "clamp connector, listed for both" in "".join(
        map(str, done[0].text)
    )


FOUND: dict[str, tuple[dict[str, Any], dict[str, Any], str, str, State]] = {
    "5.9 in free": ({}, {"free": "5.9 in"}, "short-ends", "300.14", State.FAILS),
    "brittle": ({}, {"condition": "brittle"}, "brittle-ends", "", State.OPEN),
    "nicked": ({}, {"condition": "nicked"}, "brittle-ends", "", State.OPEN),
    "a broken hole": ({"holes": "broken"}, {}, "broken-holes", "", State.OPEN),
    "a metal box that is not bonded": ({"bonded": False}, {}, "bonding", "250.148", State.FAILS),
    "a damp place": ({"damp": True}, {}, "damp-place", "314.15", State.OPEN),
}


@pytest.mark.parametrize("name", FOUND)
def test_what_the_survey_finds_is_judged_with_ways_out(name: str) -> None:
    survey, wire, code, article, state = FOUND[name]
    metal = {"material": "metal", "volume": "30 in3"}
    found = [one for one in made({}, cables=[cable(**wire)], survey=survey, enclosure=metal) if one.code == code]
    assert [(one.state, one.rule.article) for one in found] == [(state, article)] and found[0].ways
    abroad = made({}, code="uk", cables=[cable(**wire)], survey=survey, enclosure=metal)
    assert all(one.rule.standing == "practice" and one.state is not State.FAILS for one in abroad)


def test_what_is_in_order_is_no_finding() -> None:
    fine = {"holes": "stripped", "bonded": True, "damp": False}
    assert made({}, cables=[cable(free="6 in", condition="sound")], survey=fine) == ()
    assert made({}, cables=[cable()], survey={"bonded": False}) == (), "a box of plastic is not bonded"


@pytest.mark.parametrize(("neutral", "state"), [(True, None), (False, State.FAILS), (None, State.OPEN)])
def test_a_new_place_for_lights_has_a_neutral(neutral: bool | None, state: State | None) -> None:
    """404.2(C), from memory: at each new switch location for lighting; an old one is not asked."""
    for new, expected in ((True, state), (None, None)):
        found = [
            one
            for one in made({}, "required light", survey={"neutral": neutral, "new_place": new})
            if one.code == "new-switch-place"
        ]
        assert [(one.state, one.rule.article) for one in found] == (
            [] if expected is None else [(expected, "404.2(C)")]
        )


def test_stairs_are_judged_by_the_editions_that_have_the_article() -> None:
    """210.70(A)(2), dimming: since 2020, from memory; before, a remark that names the first edition that has it."""
    for code, state in (("nec-2017", State.HOLDS), ("nec-2020", State.FAILS), ("nec-2023", State.FAILS)):
        found = made({"full_range": False}, "stairs", code)[0]
        assert found.state is state
        assert found.rule.source == ("NEC 2023" if code == "nec-2023" else "NEC 2020")


def fan(code: Any = "nec-2023", **support: object) -> tuple[Remark, ...]:
    """The findings of a ceiling box a fan hangs at."""
    found = made({}, code=code, use="fan", enclosure={"gangs": 2, "fan": support} if support else {"gangs": 2})
    return tuple(remark for remark in found if remark.code.startswith("fan"))


@pytest.mark.parametrize(
    ("support", "state", "code"),
    [
        ({}, State.OPEN, "fan-not-looked-at"),
        ({"listed": None, "weight": "20"}, State.OPEN, "fan-not-looked-at"),
        ({"listed": False, "weight": "20"}, State.FAILS, "fan-not-listed"),
        ({"listed": True}, State.HOLDS, "fan-supported"),
        ({"listed": True, "weight": "35"}, State.HOLDS, "fan-supported"),
        ({"listed": True, "weight": "35.1"}, State.FAILS, "fan-too-heavy"),
        ({"listed": True, "marked": "50", "weight": "50"}, State.HOLDS, "fan-supported"),
        ({"listed": True, "marked": "50", "weight": "51"}, State.FAILS, "fan-too-heavy"),
        ({"listed": True, "marked": "90", "weight": "70"}, State.HOLDS, "fan-supported"),
        ({"listed": True, "marked": "90", "weight": "71"}, State.FAILS, "fan-too-heavy"),
    ],
)
def test_a_fan_hangs_at_a_box_that_carries_it(support: dict[str, object], state: State, code: str) -> None:
    """NEC 314.27(C), from memory: listed for fans; above 35 lb marked for the weight; 70 lb at most."""
    (remark,) = fan(**support)
    assert (remark.state, remark.code) == (state, code) and "314.27(C)" in remark.rule.name
    assert fan("csa", **support) == ()


def test_what_is_no_fan_needs_no_support() -> None:
    assert not [one for one in made({}, use="luminaire") if one.code.startswith("fan")]


TWO: list[dict[str, Any]] = [
    {"id": "l1", "kind": "fan", "each": "0.5 A"},
    {"id": "l2", "kind": "led", "each": "9 W", "channel": 2},
]
"""What a control of fan and light has on its two channels."""


@pytest.mark.parametrize(
    ("cables", "said", "state"),
    [
        ([cable(), cable("B")], {"cable": "B"}, State.FAILS),
        ([cable(), cable("B", insulated=3)], {"cable": "B"}, None),
        ([cable()], {"outlet": "fan"}, State.FAILS),  # a loop of two wires
        ([cable(), cable("B")], {"outlet": "fan"}, State.OPEN),  # two cables may both go there
        ([cable(), cable("B", insulated=3)], {"outlet": "fan"}, None),
        ([cable(), cable("B")], {}, State.OPEN),  # wherever they are, one of the cables is the feed
        ([cable(), cable("B"), cable("C")], {}, None),
        ([cable(), cable("B", insulated=3)], {}, None),
        ([cable(), cable("B"), cable("C", class2=True, insulated=8)], {"cable": "B"}, State.FAILS),
    ],
)
def test_fan_and_light_switched_apart_take_three_wires(
    cables: list[dict[str, Any]], said: dict[str, Any], state: State | None
) -> None:
    """A switched wire each, and the neutral; common practice."""
    channels = [{"ratings": {"fan": {"alone": "1 A"}}}, {"ratings": {"led": {"alone": "100 W"}}}]
    sheet = {"kind": "fan control", "channels": channels}
    loads = [one | said for one in TWO]
    found = [one.state for one in made(sheet, cables=cables, hung={"loads": loads}) if one.code == "too-few-wires"]
    assert found == ([] if state is None else [state])
    same = [one | said | {"channel": 1} for one in TWO]
    sheet = {"kind": "switch", "channels": [{"ratings": {"general": {"alone": "15 A"}}}]}
    assert not [one for one in made(sheet, cables=cables, hung={"loads": same}) if one.code == "too-few-wires"]


@pytest.mark.parametrize(
    ("rings", "looked", "devices", "state"),
    [
        ([], False, True, State.OPEN),
        ([], True, True, State.FAILS),
        (["plaster ring"], True, True, None),
        (["raised cover"], True, True, None),
        (["extension"], True, True, State.FAILS),  # it makes the box deeper, and holds no device
        (["extension", "plaster ring"], True, True, None),
        ([], True, False, None),
    ],
)
def test_a_square_box_holds_a_device_by_a_ring(
    rings: list[str], looked: bool, devices: bool, state: State | None
) -> None:
    """NEC 314.25, from memory; common practice."""
    on = [{"kind": kind} for kind in rings]
    enclosure = {"trade_size": "4x2-1/8 square", "material": "metal", "gangs": 1, "rings": on}
    more: dict[str, Any] = {"survey": {"looked": ["ring"] if looked else []}, "enclosure": enclosure}
    there = made({} if devices else MODULE, **more)
    found = [one for one in there if one.code == "no-ring-for-device"]
    assert [one.state for one in found] == ([] if state is None else [state])
    assert not found or found[0].ways[0].startswith("put on" if looked else "look")


def test_every_fixture_is_asked_for_its_wires() -> None:
    """One load by one wire of a raceway lacks none; of two fixtures the second may."""
    channels = [{"ratings": {"led": {"alone": "100 W"}}}] * 3
    sheet = {"kind": "smart switch", "channels": channels}
    lamps = [{"id": f"l{n}", "kind": "led", "each": "9 W", "channel": n} for n in (1, 2, 3)]
    one = made(sheet, cables=[cable(insulated=1)], hung={"loads": [lamps[0] | {"cable": "A"}]})
    assert not [found for found in one if found.code == "too-few-wires"]
    apart = [lamps[0] | {"cable": "A"}, lamps[1] | {"cable": "B"}, lamps[2] | {"cable": "B"}]
    both = made(sheet, cables=[cable(), cable("B")], hung={"loads": apart})
    assert [found.state for found in both if found.code == "too-few-wires"] == [State.FAILS]
