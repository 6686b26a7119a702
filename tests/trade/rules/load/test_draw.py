"""Loads of every kind, and what may not hang where: each figure is reckoned by hand beside it."""

from __future__ import annotations

from fractions import Fraction as F
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.box import Device
from nail_count.trade.model.errors import Rejected, problems_of
from nail_count.trade.model.job import Terms
from nail_count.trade.model.load import LOAD_KINDS, Load, units_of
from nail_count.trade.model.measure import Power, parse_number
from nail_count.trade.rules.load.inrush import PEAKS, peak
from nail_count.trade.rules.load.motor import motor_amps
from nail_count.trade.rules.load.position import Position
from nail_count.trade.rules.load.rating import rating, rating_at
from tests.support import box, figures, on
from tests.trade.editing import edit_box
from tests.trade.rules.load.hanging import SILENT, THREE, hung, load, sheet

SNAP = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="switch")
SNAP_20 = sheet({"ratings": {"general": {"alone": "20 A"}}}, kind="switch")
MLV = sheet({"ratings": {"mlv": THREE, "incandescent": {"alone": "520 W"}}}, derating="by position")
MLV_AND_LAMPS = sheet({"ratings": {"mlv": {"alone": "520 VA"}, "mlv lamps": {"alone": "390 W"}}})
LISTS_ALL = sheet(
    {
        "ratings": {
            "led": {"alone": "90 W"},
            "elv": {"alone": "300 W"},
            "heater": {"alone": "8 A"},
            "cfl": {"alone": "100 VA"},
            "receptacle": {"alone": "15 A"},
            "motor": {"alone": "1/4 hp"},
        }
    }
)
RELAY = sheet({"ratings": {"lighting": {"alone": "6 A"}, "fan": {"alone": "2.5 A"}}}, kind="smart switch")

CASES: dict[str, tuple[Answer, str, str, State]] = {
    "MLV lamps without a transformer figure: 8 × 50 ÷ 0.75": (
        hung(MLV, load("mlv", "50 W", 8)),
        "520",
        "1600/3",
        State.FAILS,
    ),
    "the same with its loss known: 8 × (50 + 8)": (
        hung(MLV, load("mlv", "50 W", 8, loss="8 W")),
        "520",
        "464",
        State.HOLDS,
    ),
    "MLV given in VA": (hung(MLV, load("mlv", "60 VA", 5), place=Position(neighbors=2)), "350", "300", State.HOLDS),
    "lamps bind before the VA: 7 × 54 = 378 of 390 W (96.9 %), 7 × 57 = 399 of 520 VA (76.7 %)": (
        hung(MLV_AND_LAMPS, load("mlv", "54 W", 7, loss="3 W")),
        "390",
        "378",
        State.TIGHT,
    ),
    "½ hp on a 15 A snap switch: 9.8 of 12 A": (hung(SNAP, load("motor", "1/2 hp")), "12", "9.8", State.HOLDS),
    "¾ hp on the same: 13.8 of 12 A": (hung(SNAP, load("motor", "3/4 hp")), "12", "13.8", State.FAILS),
    "1 hp on 20 A: 16.0 of 16 A exactly": (hung(SNAP_20, load("motor", "1 hp")), "16", "16", State.TIGHT),
    "a fan's amps on a general-use switch are a motor's": (hung(SNAP, load("fan", "0.9 A")), "12", "0.9", State.HOLDS),
    "lamps on it take all of it: 10 × 60 ÷ 120": (hung(SNAP, load("incandescent", "60 W", 10)), "15", "5", State.HOLDS),
    "an outlet for the breaker of 15 A": (hung(SNAP, load("receptacle", "15 A")), "15", "15", State.TIGHT),
    "a heater: 900 ÷ 120 of 8 A": (hung(LISTS_ALL, load("heater", "900 W")), "8", "7.5", State.TIGHT),
    "compact fluorescents at half: 3 × 13 ÷ 0.5": (hung(LISTS_ALL, load("cfl", "13 W", 3)), "100", "78", State.HOLDS),
    "ELV in watts": (hung(LISTS_ALL, load("elv", "50 W", 4)), "300", "200", State.HOLDS),
    "hp against hp": (hung(LISTS_ALL, load("motor", "1/4 hp")), "0.25", "0.25", State.TIGHT),
    "measured in place of summed: 61 W instead of 72": (
        hung(LISTS_ALL, load("led", "12 W", 6, measured={"power": "61 W", "at": "2026-11-20T10:00:00"})),
        "90",
        "61",
        State.HOLDS,
    ),
    "two ratings, each its own: 85 ÷ (120 × 0.85) of 2.5 A": (
        hung(RELAY, load("fan", "85 W", power_factor="0.85")),
        "2.5",
        "5/6",
        State.HOLDS,
    ),
    "the job assumes a factor for motors: 90 ÷ (120 × 0.6)": (
        hung(RELAY, load("fan", "90 W"), terms=Terms(assume=Assume(motor_power_factor=F(3, 5)))),
        "2.5",
        "1.25",
        State.HOLDS,
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_worked_cases(name: str) -> None:
    answer, limit, connected, state = CASES[name]
    assert (answer.limit, answer.total) == (parse_number(limit), parse_number(connected))
    assert answer.state is state, answer.headline


def test_motors_lose_a_fifth_on_a_snap_switch_under_the_nec_only() -> None:
    """404.14(A): 80 % of 15 A; elsewhere, and on a relay rated for anything, the figure stands."""
    relay = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="module")
    fan = load("fan", "2 A")
    assert [hung(SNAP, fan, terms=Terms(code=code)).limit for code in ("nec-2017", "nec-2023", "csa", "uk")] == [
        12,
        12,
        15,
        15,
    ]
    assert hung(relay, fan).limit == 15
    over = hung(SNAP, load("motor", "3/4 hp"))
    assert figures(over.headline) == (F("13.8"), 15, 12), "of motor on a switch of 15 A: 12 A at most"
    assert over.remarks[0].rule.article == "404.14(A), 430.109(C)" and len(over.remarks[0].ways) == 3
    large = hung(SNAP_20, load("motor", "3 hp", power_factor="0.9")).remarks[0]
    assert large.state is State.FAILS and figures(large.text) == (2,), "more than 2 hp"
    named = hung(SNAP, fan, terms=Terms(code="nec-2017")).limit_lines[-1].rule.name
    assert named == "NEC 2017 404.14(A), 430.109(C)"


@pytest.mark.parametrize(
    ("hp", "amps"),
    [("1/6", "4.4"), ("1/4", "5.8"), ("1/3", "7.2"), ("1/2", "9.8"), ("3/4", "13.8"), ("1", "16")],
)
def test_motor_currents_of_the_table(hp: str, amps: str) -> None:
    """NEC Table 430.248, single-phase motors at 115 V; at 230 V half; from memory of the publication."""
    for voltage, times in ((115, 1), (120, 1), (230, 2), (240, 2)):
        assert motor_amps(parse_number(hp), voltage) == parse_number(amps) / times
    assert motor_amps(parse_number(hp), 208) is None and motor_amps(F(7, 8), 120) is None


def test_worst_case_inrush() -> None:
    """NEMA 410 at 120 V, from memory of the publication: the rows, halfway between two, and past the last."""
    assert [peak(parse_number(amps)) for amps in ("0.5", "1", "5", "16")] == [75, 107, 192, 242]
    assert peak(F(3, 2)) == F(107 + 144, 2) and peak(F(17)) is None
    assert [amps for amps, _ in PEAKS] == sorted(amps for amps, _ in PEAKS)
    stated = sheet({"ratings": {"lighting": {"alone": "6 A"}}, "inrush": "100 A"}, kind="smart switch")
    few, many = load("led", "9 W", 6, power_factor="0.9"), load("led", "9 W", 14, power_factor="0.9")
    assert hung(stated, few).state is State.HOLDS  # half an amp: 75 A
    found = hung(stated, many)  # 14 × 9 ÷ 108 = 7/6 A: 107 + 37/6 = 113.2 A
    assert found.state is State.OPEN and F(107) + F(37, 6) in figures(found.headline)


# findings

DIMS = sheet({"ratings": {"led": {"alone": "150 W"}, "mlv": {"alone": "300 VA"}, "elv": {"alone": "300 W"}},
              "not_permitted": ["cfl"]}, phase="forward", lamp_settings=["led", "mlv"])  # fmt: skip


@pytest.mark.parametrize(
    ("hangs", "code", "article"),
    [
        (load("receptacle", "15 A"), "not-listed", "404.14(E)"),
        (load("fan", "0.8 A"), "not-listed", "404.14(E)"),
        (load("fluorescent", "32 W"), "not-listed", "404.14(E)"),
        (load("cfl", "13 W"), "not-listed", "404.14(E)"),
        (load("elv", "50 W"), "wrong-phase", "110.3(B)"),
        (load("led", "9 W", dimmable=False), "not-dimmable", "110.3(B)"),
        (load("incandescent", "40 W"), "not-listed", "110.3(B)"),
    ],
)
def test_what_may_not_hang_on_a_dimmer(hangs: dict[str, Any], code: str, article: str) -> None:
    answer = hung(DIMS, hangs)
    finding = next(remark for remark in answer.remarks if remark.state is State.FAILS)
    assert (answer.state, finding.code) == (State.FAILS, code)
    assert finding.rule.article == article and finding.ways


def test_what_is_set_on_it_must_be_what_is_fitted() -> None:
    made = Device.model_validate(on(1, DIMS, None, load("mlv", "50 VA")).model_dump() | {"lamp_setting": "led"})
    answer = rating_at(Position(), made, 1, DIMS, Terms())
    assert answer.state is State.FAILS and "lamp-setting" in {one.code for one in answer.remarks}


def test_a_60_w_led_is_asked_about_and_never_converted() -> None:
    """More than 25 W for one LED lamp may be the lamp it replaces; said to be what it draws, it counts as it stands."""
    assert [hung(SILENT, load("led", each)).state for each in ("25 W", "25.5 W")] == [State.HOLDS, State.OPEN]
    asked = hung(SILENT, load("led", "60 W"))
    assert asked.state is State.OPEN and asked.total == 60
    assert [one.code for one in asked.remarks if one.state is State.OPEN] == ["watts-asked-back"]
    made = box("20 in3", 1, (), (on(1, SILENT, None, load("led", "60 W")),))
    edit = edit_box(made, "draws-that", {"load": "l10"}, {"odd": SILENT})
    assert rating(edit.box, edit.box.devices[0], 1, {"odd": SILENT}).state is State.HOLDS


BAD_LOADS = [
    (load("led", "1 hp"), "each", "Enter W for LED, not hp"),
    (load("led", "0 W"), "each", "Enter more than 0 and at most 500 W"),
    (load("led", "9000 W"), "each", "at most 500 W for one LED"),
    (load("fan", "85 W", power_factor="1.2"), "power_factor", "above 0 and at most 1"),
    (load("fan", "85 W", power_factor="0"), "power_factor", "above 0 and at most 1"),
    (load("led", "9 W", loss="4 W"), "loss", "only for magnetic low voltage"),
    (load("led", "9 W", 3, fewest=4), "fewest", "Enter at most 3"),
]


@pytest.mark.parametrize(("said", "field", "sentence"), BAD_LOADS)
def test_absurd_loads_are_refused_beside_the_field(said: dict[str, Any], field: str, sentence: str) -> None:
    made = box("20 in3", 1, (), (on(1, SILENT),))
    with pytest.raises(Rejected) as wrong:
        edit_box(made, "add-load", {"device": "d1", **said}, {"odd": SILENT})
    assert wrong.value.problems[0].path[-1] == field and sentence in wrong.value.sentence


def test_negative_watts_are_refused() -> None:
    with pytest.raises(Rejected, match="Enter a power such as"):
        edit_box(
            box("20 in3", 1, (), (on(1, SILENT),)),
            "add-load",
            {"device": "d1", "kind": "led", "each": "-9 W"},
            {"odd": SILENT},
        )


@pytest.mark.parametrize(
    ("about", "sentence"),
    [
        ({"channels": [{"ratings": {"led": {"alone": "90 W", "end": "115 W"}}}]}, "a neighbor never lets"),
        ({"channels": [{"ratings": {"led": {"alone": "90 W", "ganged": ["80 W", "85 W"]}}}]}, "a neighbor never lets"),
        ({"channels": [{"ratings": {"led": {"alone": "1/2 hp"}}}]}, "Enter W or VA or A for LED, not hp"),
        ({"channels": [{"ratings": {"led": {}}, "not_permitted": ["led"]}]}, "not both"),
        ({"channels": [{"mixing": "own table"}]}, "own table of mixed loads"),
        (
            {"ambient": {"stops_at": "60", "curve": [{"at": "40", "share": "0.5"}, {"at": "50", "share": "0.6"}]}},
            "Let the curve fall as it gets warmer",
        ),
        ({"ambient": {"holds_to": "70", "stops_at": "60"}}, "Let the rating hold to no more than the stated maximum"),
        ({"ambient": {"stops_at": "warm"}}, "Enter a temperature such as 40 °C"),
        ({"total": "100 W"}, "Enter the total of all channels in A, at most"),
        ({"heat": {"share": "0.5"}}, "from 0 to 0.2"),
    ],
)
def test_a_sheet_that_cannot_be_is_refused(about: dict[str, Any], sentence: str) -> None:
    with pytest.raises(ValidationError) as wrong:
        sheet(None, **about)
    assert sentence in problems_of(wrong.value)[0].sentence


# what is true of everything


@given(st.sampled_from(LOAD_KINDS), st.integers(1, 40), st.integers(1, 9))
def test_more_of_a_load_never_leaves_more(kind: Any, quantity: int, each: int) -> None:
    """On every kind and unit, against a sheet that rates all kinds by one figure."""
    for unit in units_of(kind):
        fewer, more = (
            Load(id="l1", kind=kind, each=Power(F(each, 8), unit), quantity=n) for n in (quantity, quantity + 1)
        )
        answers = [
            rating_at(Position(), Device(id="d", gang=1, sheet="odd", loads=(one,)), 1, SNAP, Terms())
            for one in (fewer, more)
        ]
        assert (answers[0].lines[0].value is None) == (answers[1].lines[0].value is None)
        known = [answer.margin for answer in answers if answer.lines[0].value is not None]
        margins = [margin for margin in known if margin is not None]
        assert len(margins) == len(known) and all(later < earlier for earlier, later in pairwise(margins))


@pytest.mark.parametrize(
    ("loads", "state"),
    [
        ((load("cfl", "100 VA"),), State.HOLDS),  # all of it watts, and it holds
        ((load("cfl", "160 VA"),), State.OPEN),  # 160 W at most, and nobody knows how much less
        ((load("cfl", "160 VA", power_factor="0.8"),), State.HOLDS),  # 128 W
        ((load("cfl", "160 VA", power_factor="1"),), State.FAILS),
        ((load("cfl", "100 VA"), load("cfl", "60 W")), State.OPEN),
        ((load("cfl", "10 VA"), load("cfl", "151 W")), State.FAILS),  # the watts alone are over
        ((load("heater", "1.5 A"),), State.FAILS),  # a heater's factor is 1: 180 W
    ],
)
def test_volt_amperes_without_a_power_factor_are_watts_at_most(loads: tuple[dict[str, Any], ...], state: State) -> None:
    """150 W on the sheet; P ≤ S. Where all of it as watts holds it holds, else it is open, never a failure."""
    made = sheet({"ratings": {"cfl": {"alone": "150 W"}, "heater": {"alone": "150 W"}}}, kind="smart switch")
    assert hung(made, *loads).state is state


def test_a_motor_in_amps_on_a_figure_in_watts_is_watts_at_most() -> None:
    fan = sheet({"ratings": {"fan": {"alone": "100 W"}}}, kind="fan control")
    states = [hung(fan, load("fan", amps)).state for amps in ("0.5 A", "1 A")]
    assert states == [State.HOLDS, State.OPEN], "60 W at most, 120 W at most"


def test_what_is_known_behind_a_transformer_fails_by_itself() -> None:
    """Lamps at 390 W and transformers at 520 VA: 400 W of lamps are over, whatever else hangs there in VA."""
    assert hung(MLV_AND_LAMPS, load("mlv", "400 W"), load("mlv", "20 VA")).state is State.FAILS
    assert hung(MLV_AND_LAMPS, load("mlv", "20 W"), load("mlv", "521 VA")).state is State.FAILS
    assert hung(MLV_AND_LAMPS, load("mlv", "20 W"), load("mlv", "20 VA")).state is State.OPEN
