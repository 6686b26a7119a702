"""What can go there, as a table of situations: the first choice, and the reason it must give. Common practice."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import files
from typing import Any

import pytest

from nail_count.files.job_json import read_job
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import by_id
from nail_count.trade.model.wish import Wish
from nail_count.trade.select.options import Option, Situation, options
from tests.support import flat

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
    neutral: bool | None = True, box: Box = BOX, hub: str | None = None, end: Any = None, **wish: Any
) -> tuple[Option, ...]:
    said = {"places": 1, "loads": LAMPS, "without_network": True, "stays": "nothing"} | wish
    return options(Situation(box, 1, Wish.model_validate({"id": "w1", **said}), SHEETS, neutral, hub=hub, end=end))


def reasons(option: Option) -> Iterator[str]:
    return iter((*option.speaks_for, *option.speaks_against))


SMART = ["on and off", "schedule"]


@pytest.mark.parametrize(
    ("situation", "way", "sheet", "reason"),
    [
        ({"does": ["on and off"]}, "stay", "marrowby-toggle", "it does what is asked already"),
        ({"does": ["on and off", "dim"]}, "in the gang", "marrowby-rocker-dimmer", "its sheet lists the load"),
        ({"does": SMART}, "in the gang", "ostrel-smart-switch", "the neutral it needs is in the box"),
        ({"does": SMART, "neutral": False}, "in the gang", "fennimar-two-wire-switch", "made to work without"),
        (
            {"does": SMART, "neutral": False, "loads": SMALL}, "at the fixture", "tarn-one",
            "a neutral is at the fixture whatever the switch box holds",
        ),
        ({"does": SMART, "stays": "the plate"}, "at the fixture", "tarn-one", "the plate and its switch stay"),
        (
            {"does": SMART, "neutral": False, "stays": "the plate"}, "at the fixture", "tarn-one",
            "the plate and its switch stay",
        ),
        (
            {"does": ["on and off", "fan speed"], "loads": FAN}, "in the gang", "ostrel-fan-four-speed",
            "it does what is asked: on and off, fan speed",
        ),
        ({"does": ["on and off", "countdown"], "loads": FAN}, "in the gang", "quillby-countdown", "countdown"),
        (
            {"does": ["on and off", "dim", "schedule"], "places": 2}, "in the gang", "ostrel-smart-dimmer",
            "the other places take its companion",
        ),
        ({"does": ["on and off", "dim"], "places": 2}, "in the gang", "marrowby-three-way-dimmer", "three-way switch"),
        (
            {"does": SMART, "places": 2, "neutral": False}, "at the fixture", "tarn-one",
            "the switches of all places together are its one input",
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
        ({"does": SMART, "neutral": False}, "ostrel-smart-switch", "it needs a neutral, and none is in the box"),
        ({"does": ["on and off", "dim"], "loads": FAN}, "marrowby-rocker-dimmer", "fan is not on the sheet"),
        ({"does": SMART, "places": 3}, "ostrel-smart-switch", "this works from one only"),
        ({"does": ["on and off"], "loads": SMALL}, "fennimar-two-wire-switch", "below the minimum load of 20 W"),
        ({"does": ["on and off"], "without_network": True}, "fennimar-battery-remote", "network down"),
        ({"does": ["on and off"], "stays": "the plate"}, "marrowby-rocker-dimmer", "must stay as they are"),
        (
            {"does": ["on and off", "dim"], "places": 2, "end": "load end"}, "ostrel-smart-dimmer",
            "it must stand at the line end, and this is the load end",
        ),
        ({"does": ["on and off", "dim"]}, "ostrel-smart-switch", "it cannot do what is asked: dim"),
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
    assert any("the box does not hold it: over by" in text for text in option.speaks_against)
    unknown = next(o for o in asked(neutral=None, does=SMART) if o.sheet and o.sheet.id == "ostrel-smart-switch")
    assert unknown.possible and any("is open" in text for text in unknown.speaks_against)


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
