"""From a sheet's figure down to the limit: each step of every form of sheet, reckoned by hand beside it."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.box import Device, Module
from nail_count.trade.model.datasheet import Ambient, Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.model.measure import parse_number
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.load.limits import share_at
from nail_count.trade.rules.load.position import Position
from nail_count.trade.rules.load.rating import rating
from tests.support import SWITCH, box, figures, flat, on
from tests.trade.rules.load.hanging import SILENT, THREE, hung, load, sheet

# by number ganged, reused sides, barriers, fallback, rule of thumb

BY_NUMBER = sheet({"ratings": {"led": {"alone": "150 W", "ganged": ["120 W", "100 W"]}}}, derating="by number")
BY_POSITION = sheet({"ratings": {"led": {"alone": "140 W", "end": "115 W", "middle": "90 W"}}}, derating="by position")
NO_LED = sheet({"ratings": {"led": {}, "incandescent": {"alone": "600 W", "end": "500 W"}}}, derating="by position")
LAMP = load("led", "9 W", 2)


def limit(made: Datasheet, devices: tuple[Device, ...], gang: int = 1, **more: Any) -> F | None:
    terms = more.pop("terms", None)
    here = box("90 in3", 5, (), devices, **more)
    device = next(device for device in devices if device.gang == gang)
    return rating(here, device, 1, {made.id: made, SWITCH.id: SWITCH}, terms).limit


def test_by_number_ganged() -> None:
    """150 W for one, 120 for two, 100 for three and more; an empty gang parts the run."""
    rows = [
        tuple(on(gang, BY_NUMBER if gang == 1 else SWITCH) for gang in range(1, count + 1)) for count in (1, 2, 3, 5)
    ]
    assert [limit(BY_NUMBER, row) for row in rows] == [150, 120, 100, 100]
    assert limit(BY_NUMBER, (on(1, BY_NUMBER), on(3), on(4))) == 150


def test_a_side_once_broken_off_stays_off() -> None:
    """Reused from the end of a gang it carries 115 W alone; with its other side beside a neighbor, 90 W."""
    used = {"broken": ["left"]}
    alone = Device.model_validate(on(1, BY_POSITION).model_dump() | used)
    assert limit(BY_POSITION, (alone,)) == 115
    assert limit(BY_POSITION, (alone, on(2))) == 90  # its right side goes too
    last = Device.model_validate(on(2, BY_POSITION).model_dump() | used)
    assert limit(BY_POSITION, (on(1), last), 2) == 115  # the side that goes is gone already


def test_a_barrier_brings_no_side_back() -> None:
    devices = (on(1, BY_POSITION), on(2))
    assert (
        limit(BY_POSITION, devices, barriers=[{"after": 1, "material": "metal"}]) == limit(BY_POSITION, devices) == 115
    )


def test_what_the_sheet_does_not_say_holds_only_where_the_job_says_so() -> None:
    """No derating on the sheet: 100 W, or by the fallback 20 % and 35 % off. LED without one: a tenth of 600, 500."""
    fallback, thumb = Terms(assume=Assume(fallback_derating=True)), Terms(assume=Assume(tenth_for_led=True))
    row = (on(1), on(2, SILENT), on(3))
    assert [limit(SILENT, row[:2], 2), limit(SILENT, row, 2)] == [100, 100]
    assert [limit(SILENT, row[1:], 2, terms=fallback), limit(SILENT, row, 2, terms=fallback)] == [80, 65]
    shown = hung(SILENT, LAMP, place=Position(neighbors=1), terms=fallback).limit_lines[1]
    assert shown.rule.standing == "practice" and F(1, 5) in figures(shown.why)
    assert hung(NO_LED, LAMP).state is State.OPEN
    assert [hung(NO_LED, LAMP, place=Position(neighbors=n), terms=thumb).limit for n in (0, 1)] == [60, 50]
    assert hung(NO_LED, LAMP, terms=thumb).limit_lines[0].rule.standing == "practice"


# several kinds, minimums, duty

OWN_TABLE = sheet(
    {
        "ratings": {"led": {"alone": "300 W"}, "incandescent": {"alone": "1000 W"}, "elv": {"alone": "400 W"}},
        "mixing": "own table",
        "mixed": [
            {"led": {"alone": "100 W"}, "incandescent": {"alone": "700 W"}},
            {"led": {"alone": "200 W", "end": "160 W"}, "incandescent": {"alone": "300 W", "end": "240 W"}},
        ],
    },
    derating="by position",
)


def test_the_sheets_own_table_wins_over_adding_fractions() -> None:
    """150 W of LED and 240 W of bulbs: row 1 has 150/100; row 2 has 150/200 and 240/300, of which 0.8 binds."""
    both = (load("led", "10 W", 15), load("incandescent", "60 W", 4))
    assert (hung(OWN_TABLE, *both).total, hung(OWN_TABLE, *both).state) == (F(4, 5), State.HOLDS)
    beside = hung(OWN_TABLE, *both, place=Position(neighbors=1))  # 150/160 and 240/240
    assert (beside.total, beside.state) == (F(1), State.TIGHT) and len(beside.lines) == 2
    none = hung(OWN_TABLE, load("led", "10 W"), load("elv", "50 W"))
    assert none.state is State.FAILS and "not-in-mixed-table" in {one.code for one in none.remarks}


def test_minimum_by_kind_and_with_the_fewest_on() -> None:
    made = sheet({"ratings": {"led": {"alone": "150 W"}, "mlv": {"alone": "400 VA"}}, "minimum": "10 W",
                  "minimums": {"mlv": "40 W"}}, bypass=True)  # fmt: skip
    assert hung(made, load("led", "6 W", 2)).state is State.HOLDS
    fewest = hung(made, load("led", "6 W", 4, fewest=1))
    assert fewest.state is State.FAILS and 6 in figures(fewest.headline)
    found = hung(made, load("mlv", "35 W"), load("led", "6 W", 2))
    assert found.state is State.FAILS and figures(found.headline) == (35, 40)
    assert any("a bypass at the lamp" in way for remark in found.remarks for way in remark.ways)


def test_continuous_counts_125_percent_where_the_sheet_says_so() -> None:
    """8.3 A: all of it continuous leaves 8.3 ÷ 1.25 = 6.64 A; part of it counts 1.25 times: 2 + 1.25 × 4 = 7 A."""
    made = sheet(
        {"ratings": {"heater": {"alone": "8.3 A"}, "lighting": {"alone": "8.3 A"}}}, kind="countdown", continuous=True
    )
    heater = hung(made, load("heater", "6 A"))
    assert (heater.limit, heater.total, heater.state) == (F(664, 100), F(6), State.TIGHT)
    assert sum(line.value or 0 for line in heater.limit_lines if line.kind == "duty") == F(-166, 100)
    bulbs = (load("incandescent", "240 W"), load("incandescent", "480 W", continuous=True))
    assert (hung(made, *bulbs).limit, hung(made, *bulbs).total) == (F(83, 10), F(7))
    assert hung(made, *bulbs, terms=Terms(code="uk")).total == 6  # no such factor there


# heat and ambient, modules, totals

CURVE = Ambient.model_validate(
    {
        "stops_at": "60",
        "curve": [{"at": "35", "share": "1"}, {"at": "50", "share": "0.7"}, {"at": "60", "share": "0.3"}],
    }
)


@pytest.mark.parametrize(
    ("ambient", "around", "share"),
    [
        (CURVE, "30", "1"),
        (CURVE, "41", "0.88"),  # 1 − 0.3 × 6/15
        (CURVE, "55", "0.5"),
        (CURVE, "60.1", "0"),
        (Ambient.model_validate({"holds_to": "40 °C", "stops_at": "140 °F"}), "50", "0.5"),  # a straight line to 60 °C
        (Ambient.model_validate({"stops_at": "45"}), "45", "1"),
        (Ambient.model_validate({"stops_at": "45"}), "45.1", "0"),
    ],
)
def test_what_is_left_of_a_rating_in_the_warm(ambient: Ambient, around: str, share: str) -> None:
    assert share_at(ambient, parse_number(around)) == parse_number(share)


def test_where_warmth_leaves_nothing_several_kinds_fail_too() -> None:
    made = sheet({"ratings": {"led": {"alone": "90 W"}, "elv": {"alone": "300 W"}}}, ambient={"stops_at": "60"})
    both = load("led", "9 W"), load("elv", "50 W")
    assert hung(made, *both, place=Position(ambient=F(60))).state is State.HOLDS
    hot = hung(made, *both, place=Position(ambient=F(61)))
    assert hot.state is State.FAILS and hot.remarks[-1].code == "too-warm" and hot.remarks[-1].ways


def test_steps_come_in_their_order_and_add_up() -> None:
    """520 VA alone, 430 at the end, half of it in the warm, and 125 %: 430 × 0.5 ÷ 1.25 = 172."""
    made = sheet({"ratings": {"mlv": THREE}}, derating="by position", continuous=True,
                 ambient={"holds_to": "40", "stops_at": "60"})  # fmt: skip
    answer = hung(made, load("mlv", "50 VA", continuous=True), place=Position(neighbors=1, ambient=F(50)))
    assert [(line.kind, line.value) for line in answer.limit_lines] == [
        ("rating", F(520)), ("position", F(-90)), ("heat", F(-215)), ("duty", F(-43)),
    ]  # fmt: skip
    assert answer.limit == 172


def test_channels_of_a_module_share_a_total() -> None:
    """Two channels of 6 A each, 10 A together: 5.5 + 5 A holds on each and is 0.5 A too much in all."""
    channel = {"ratings": {"incandescent": {"alone": "720 W"}}}
    two = sheet(None, kind="module", channels=[channel, channel], total="10 A")
    loads = [
        load("incandescent", "66 W", 10) | {"id": "a"},
        load("incandescent", "60 W", 10) | {"id": "b", "channel": 2},
    ]
    module = Module.model_validate({"id": "m1", "sheet": "odd", "loads": loads})
    made = flat({"id": "b", "name": "B", "room": "R", "modules": [module]})
    one, other, together = check_box(made, {"odd": two}).ratings
    assert (one.state, other.state, together.state) == (State.TIGHT, State.HOLDS, State.FAILS)
    assert (str(together.subject), together.total, together.limit) == ("m1/total", F(21, 2), F(10))


# what is true of everything

FIGURES = st.lists(st.integers(1, 2000), min_size=3, max_size=3).map(lambda found: sorted(found, reverse=True))


@given(
    FIGURES,
    st.integers(0, 2),
    st.integers(20, 70),
    st.sampled_from(("by position", "by number", "not stated")),
    st.booleans(),
)
def test_every_step_only_lowers_and_a_neighbor_never_raises(
    figures: list[int], sides: int, warm: int, derating: str, continuous: bool
) -> None:
    one, two, three = (f"{figure} W" for figure in figures)
    rating_ = (
        {"alone": one, "ganged": [two, three]}
        if derating == "by number"
        else {"alone": one, "end": two, "middle": three}
    )
    made = sheet({"ratings": {"incandescent": rating_}}, derating=derating, continuous=continuous,
                 ambient={"holds_to": "40", "stops_at": "65"})  # fmt: skip
    hangs = load("incandescent", "40 W", continuous=True)
    found = [hung(made, hangs, place=Position(n, n + 1, F(warm))) for n in (sides, min(sides + 1, 2))]
    for answer in found:
        assert all(line.value is not None and line.value <= 0 for line in answer.limit_lines[1:])
        assert answer.limit is not None and 0 <= answer.limit <= figures[0]
    assert found[1].limit <= found[0].limit  # type: ignore[operator]
    warmer = hung(made, hangs, place=Position(sides, sides + 1, F(warm + 5))).limit
    assert warmer is not None and found[0].limit is not None and warmer <= found[0].limit
