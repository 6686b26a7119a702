"""Findings beside each other and apart: each holds by itself, for each thing in the box (NEC articles from memory)."""

from __future__ import annotations

import re
from typing import Any

import pytest

from nail_count.trade.model.answer import Remark, State
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.prohibitions import prohibitions
from nail_count.trade.text.format import say
from tests.support import figures, flat
from tests.trade.rules.test_prohibitions import cable

CHANNEL = [{"ratings": {"led": {"alone": "150 W"}}}]
ABOUT: dict[str, dict[str, Any]] = {
    "plain": {"kind": "switch", "channels": CHANNEL},
    "both": {"kind": "dimmer", "listed": ["class 2 beside mains"]},
    "bothmodule": {"kind": "module", "listed": ["class 2 beside mains"]},
    "dry": {"kind": "module", "input": "dry"},
    "drymains": {"kind": "module", "input": "dry", "input_at_mains": True},
    "dryapart": {"kind": "module", "input": "dry", "input_at_mains": False},
    "mains": {"kind": "module", "input": "mains", "input_at_mains": True},
    "blank": {"kind": "blank"},
    "battery": {"kind": "switch", "battery": True},
    "co": {"kind": "switch", "listed": ["aluminum"], "channels": CHANNEL},
    "dimmer": {"kind": "dimmer", "channels": CHANNEL},
    "full": {"kind": "dimmer", "channels": CHANNEL, "full_range": True},
    "two": {"kind": "module", "channels": CHANNEL * 2},
    "one": {"kind": "module", "channels": CHANNEL},
}
SHEETS = {id: Datasheet.model_validate({"id": id, "name": id, **about}) for id, about in ABOUT.items()}


def found(
    code: Any = "nec-2023", standing: tuple[str, ...] = (), modules: tuple[Any, ...] = (), **box: Any
) -> list[Remark]:
    devices = [{"id": f"d{gang}", "gang": gang, "sheet": sheet} for gang, sheet in enumerate(standing, 1)]
    loose = [{"id": f"m{n}", **({"sheet": one} if isinstance(one, str) else one)} for n, one in enumerate(modules, 1)]
    enclosure = {"gangs": 4, **box.pop("enclosure", {})}
    made = flat(
        {"id": "b", "name": "B", "room": "R", "enclosure": enclosure, "devices": devices, "modules": loose, **box}
    )
    answer = prohibitions(made, SHEETS, Terms(code=code))
    if answer is not None:
        assert answer.total == 0 and answer.state == max((one.state for one in answer.remarks), default=State.HOLDS)
    return list(answer.remarks) if answer else []


def codes(remarks: list[Remark], *of: str) -> list[tuple[str, State]]:
    return [(one.code, one.state) for one in remarks if one.code in of]


MAINS, LOW = cable(), cable("B", class2=True)
BESIDE = [("class2-beside-mains", State.FAILS)]


@pytest.mark.parametrize(
    ("said", "expected"),
    [
        ({"cables": [MAINS, LOW]}, BESIDE),
        ({"cables": [LOW]}, []),
        ({"cables": [MAINS]}, []),
        ({"cables": [MAINS, LOW], "standing": ("both",)}, []),
        ({"cables": [MAINS, LOW], "standing": ("plain", "both")}, []),
        ({"cables": [MAINS, LOW], "modules": ("bothmodule",)}, []),
        ({"cables": [MAINS, {**LOW, "space": 2}], "enclosure": {"barriers": [{"after": 1}]}}, []),
        ({"cables": [{**MAINS, "space": 2}, {**LOW, "space": 2}], "enclosure": {"barriers": [{"after": 1}]}}, BESIDE),
        ({"cables": [MAINS, {**cable("C"), "space": 2}, {**LOW, "space": 2}], "enclosure": {"barriers": [{"after": 1}]},
          "modules": ({"sheet": "bothmodule", "space": 1},)}, BESIDE),
        ({"cables": [MAINS, {**cable("C"), "space": 2}, {**LOW, "space": 2}], "enclosure": {"barriers": [{"after": 1}]},
          "modules": ({"sheet": "bothmodule", "space": 2},)}, []),
    ],
)  # fmt: skip
def test_class_2_wires_lie_apart_from_mains_or_at_what_is_listed_for_both(said: Any, expected: Any) -> None:
    """725.136: space by space; the listing of what lies in that space counts."""
    assert codes(found(**said), "class2-beside-mains") == expected


@pytest.mark.parametrize(
    ("module", "state"),
    [("dry", State.OPEN), ("drymains", State.FAILS), ("dryapart", None), ("mains", None), ("bothmodule", None)],
)  # fmt: skip
def test_a_dry_input_and_class_2_wires(module: str, state: State | None) -> None:
    for space in (1, 2):
        remarks = found(
            cables=[{**LOW, "space": 1}],
            modules=({"sheet": module, "space": space},),
            enclosure={"barriers": [{"after": 1}]},
        )
        here = [one for one in remarks if one.code == "dry-input-at-mains"]
        assert [one.state for one in here] == ([state] if state and space == 1 else [])
    assert "dry-input-at-mains" not in [one.code for one in found(cables=[MAINS], modules=(module,))]


def test_aluminum_is_judged_for_every_device_that_is_wired() -> None:
    """404.14(C), 110.14(B): from the left, blanks, batteries and what is listed for it left out."""
    wires = [cable(gauge=12, metal="aluminum")]
    remarks = found(cables=wires, standing=("blank", "plain", "battery", "dimmer"))
    assert [figures(one.text)[0] for one in remarks if one.code == "aluminum"] == [2, 4], "by their gangs"
    assert codes(found(cables=wires, standing=("co", "plain")), "aluminum") == [("aluminum", State.FAILS)]
    done = found(cables=wires, standing=("plain", "dimmer"), survey={"pigtails": "lever"})
    assert codes(done, "aluminum", "pigtailed") == [("pigtailed", State.HOLDS)] * 2


def lit(lights: str, sheet: str, **more: Any) -> dict[str, Any]:
    return {"sheet": sheet, "loads": [{"id": "l1", "kind": "led", "each": "9 W", "lights": lights}], **more}


@pytest.mark.parametrize(
    ("code", "state"), [("nec-2023", State.OPEN), ("nec-2020", State.OPEN), ("nec-2017", State.HOLDS)]
)
def test_stairs_by_the_editions_that_have_the_article(code: str, state: State) -> None:
    """210.70(A)(2), since 2020: every dimmer on a stair; one of full range and a plain switch are none."""
    devices = [
        lit("stairs", sheet, id=f"d{gang}", gang=gang)
        for gang, sheet in enumerate(("full", "plain", "dimmer", "dimmer"), 1)
    ]
    for n, one in enumerate(devices):
        one["loads"] = [one["loads"][0] | {"id": f"l{n}"}]
    made = flat({"id": "b", "name": "B", "room": "R", "enclosure": {"gangs": 4}, "devices": devices, "cables": [MAINS]})
    answer = prohibitions(made, SHEETS, Terms(code=code))
    assert answer is not None
    here = [one for one in answer.remarks if one.code == "stair-range-not-said"]
    assert [(one.state, figures(one.text)[0]) for one in here] == [(state, 3), (state, 4)], "by their gangs"


@pytest.mark.parametrize(
    ("code", "control", "expected"),
    [
        ("nec-2023", "battery only", [("battery-control", State.FAILS)]),
        ("nec-2020", "battery only", [("battery-control", State.HOLDS)]),
        ("nec-2023", None, [("control-not-said", State.OPEN)]),
        ("nec-2020", None, []),
        ("nec-2023", "wired", []),
    ],
)
def test_a_required_light_on_a_battery_control(code: Any, control: str | None, expected: Any) -> None:
    remarks = found(code, modules=(lit("required light", "one", control=control),), cables=[MAINS])
    assert codes(remarks, "battery-control", "control-not-said") == expected
    for one in remarks:
        if one.code == "battery-control":
            assert "2023" in one.rule.name, "expected the edition that has it, whichever the job is under"


def test_a_new_place_says_how_sure_it_is_that_no_neutral_is_there() -> None:
    """404.2(C)."""
    words = {}
    for neutral in (False, None):
        devices = [lit("", "plain", id="d1", gang=1)]
        survey = {"new_place": True, "neutral": neutral}
        made = flat({"id": "b", "name": "B", "room": "R", "devices": devices, "cables": [MAINS], "survey": survey})
        answer = prohibitions(made, SHEETS, Terms())
        assert answer is not None
        (one,) = (remark for remark in answer.remarks if remark.code == "new-switch-place")
        words[neutral] = one.text
    assert words[False] != words[None], "it says that nobody looked"


def test_two_circuits_and_what_each_thing_is_said_of() -> None:
    """Only what has loads and no circuit said is asked; one feed only where a module has several channels."""
    load = [{"id": "l1", "kind": "led", "each": "9 W"}]
    devices = [
        {"id": "d1", "gang": 1, "sheet": "plain"},
        {"id": "d2", "gang": 2, "sheet": "plain", "loads": load},
        {"id": "d3", "gang": 3, "sheet": "plain", "circuit": "2", "loads": [load[0] | {"id": "l2"}]},
    ]
    modules = [{"id": "m1", "sheet": "one"}, {"id": "m2", "sheet": "two"}]
    box = {
        "id": "b",
        "name": "B",
        "room": "R",
        "enclosure": {"gangs": 4},
        "devices": devices,
        "modules": modules,
        "cables": [MAINS],
    }
    answer = prohibitions(flat(box | {"circuit": "1", "other_circuits": ["2"]}), SHEETS, Terms())
    assert answer is not None
    said = {one.code: figures(one.text)[:1] for one in answer.remarks if one.code in ("circuit-not-said", "one-feed")}
    assert said == {"circuit-not-said": (2,), "one-feed": ()}, "the one in gang 2, and a module"
    lone = prohibitions(flat(box | {"circuit": "1"}), SHEETS, Terms())
    assert lone is None or not {"circuit-not-said", "one-feed", "circuits-meet"} & {one.code for one in lone.remarks}


@pytest.mark.parametrize("letters", ["A", "AB"])
def test_short_ends_name_their_cables(letters: str) -> None:
    """300.14."""
    wires = [cable(letter, free="3 in") for letter in letters]
    (one,) = (r for r in found(cables=wires, standing=("plain",)) if r.code == "short-ends")
    assert set(re.findall(r"\b[A-C]\b", say(one.text))) == set(letters)
