"""What a channel's answer says, worked by hand by the sheet in the test."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import Amount, State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.box import Module
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.load.heat import heat_of, standby_of
from nail_count.trade.rules.load.position import Position, positions
from nail_count.trade.rules.load.rating import kind_limits, rating_at, title_of, total_at
from tests.support import box, cables, figures, on
from tests.trade.rules.load.hanging import LED, amps, codes, hung, load, sheet

NAMED = {"name": "fan side", "ratings": {"general": {"alone": "5 A"}}}


@pytest.mark.parametrize(
    ("loads", "place", "state", "said"),
    [
        # watts to spare, and how many lamps more; over by; carries
        ([load("led", "9 W", 6)], 0, State.HOLDS, (46, 5)),
        ([load("led", "9 W", 10)], 0, State.HOLDS, (10, 1)),
        ([load("led", "10 W", 9)], 0, State.HOLDS, (10, 1)),
        ([load("led", "9.1 W", 10)], 0, State.TIGHT, (9,)),
        ([load("led", "10 W", 10)], 0, State.TIGHT, (0,)),
        ([load("led", "10.1 W", 10)], 0, State.FAILS, (1,)),
        ([load("led", "9 W", 6)], 1, State.HOLDS, (26, 2)),
        ([load("led", "9 W", 6)], 2, State.HOLDS, (6,)),
        ([load("led", "9 W", 2), load("led", "5 W", 2)], 0, State.HOLDS, (72,)),
        ([load("fan", "0.5 A")], 0, State.FAILS, ()),
        ([], 0, State.HOLDS, (100,)),
        ([], 1, State.HOLDS, (80,)),
    ],
)
def test_what_is_left_on_a_channel(loads: list[Any], place: int, state: State, said: tuple[int, ...]) -> None:
    made = sheet(LED, derating="by position")
    answer = hung(made, *loads, place=Position(neighbors=place))
    assert (answer.state, figures(answer.headline)) == (state, said)
    assert all(line.count * line.each == line.value for line in answer.lines if line.each is not None)


def test_fans_have_no_room_in_lamps_and_lines_say_what_they_are() -> None:
    answer = hung(sheet(NAMED, kind="switch"), load("fan", "0.5 A", name="attic"))
    assert figures(answer.headline) == (F("3.5"),), "no lamps more: it is a fan"
    kinds = {"fan": "fan", "motor": "fan", "led": "lamps", "heater": "other"}
    for kind, line in kinds.items():
        (one,) = hung(sheet(NAMED, kind="switch"), load(kind, "9 W" if kind == "led" else "0.5 A")).lines
        assert one.kind == line
    assert figures(answer.lines[0].what) == (1, F("0.5"))
    bare = sheet(None)
    assert title_of(Module(id="m", sheet="odd"), bare) == "Odd, loose in the box"
    assert title_of(Module(id="m", sheet="odd", name="Vanity"), bare) == "Vanity, loose in the box"
    assert title_of(on(2, bare), bare) == "Gang 2: Odd"


def test_several_kinds_on_a_channel_are_shares_of_their_limits() -> None:
    """30 of 60 W and 60 of 120 W are all of it: 50 % and 50 %; a kind the sheet gives no figure for is open."""
    made = sheet(
        {"ratings": {"led": {"alone": "100 W", "end": "60 W"}, "incandescent": {"alone": "120 W", "end": "120 W"}}},
        derating="by position",
    )
    answer = hung(made, load("led", "10 W", 3), load("incandescent", "60 W"), place=Position(neighbors=1))
    assert [(line.value, line.each, line.count) for line in answer.lines] == [
        (F(1, 2), F(1, 6), F(3)),
        (F(1, 2), F(1, 2), F(1)),
    ]
    assert (answer.unit, answer.total, answer.limit, answer.state) == ("share", F(1), F(1), State.TIGHT)
    assert figures(answer.lines[0].why) == (30, 60, 100, 40), "of 60 W here: 100 W, a neighbor takes 40"
    assert figures(answer.lines[1].why) == (60, 120)
    assert "uneven-kinds" in codes(answer)
    unknown = sheet({"ratings": {"led": {"alone": "100 W"}, "incandescent": {}}})
    opened = hung(unknown, load("incandescent", "60 W"), load("led", "10 W"))
    assert opened.state is State.OPEN and [line.value for line in opened.lines] == [None, F(1, 10)]
    assert figures(opened.lines[0].why) == ()


@pytest.mark.parametrize(
    ("loads", "state", "why"),
    [
        (
            [load("led", "10 W", 1), load("incandescent", "60 W", 2)],
            State.HOLDS,
            (120, 240, 1),  # W of W in row 1
        ),
        (
            [load("led", "10 W", 3), load("incandescent", "60 W", 2)],
            State.HOLDS,
            (30, 50, 1),
        ),
        (
            [load("led", "10 W", 3), load("incandescent", "60 W", 2)],
            State.HOLDS,
            (120, 240, 1),
        ),
    ],
)
def test_a_sheets_own_table_holds_each_kind_to_its_figure(loads: list[Any], state: State, why: tuple[int, ...]) -> None:
    table = [{"led": {"alone": "50 W"}, "incandescent": {"alone": "240 W"}}]
    channel = {
        "ratings": {"led": {"alone": "100 W"}, "incandescent": {"alone": "500 W"}},
        "mixing": "own table",
        "mixed": table,
    }
    answer = hung(sheet(channel), *loads)
    assert answer.state is state and why in [figures(line.why) for line in answer.lines]
    shares = {
        load["kind"]: F(load["each"].removesuffix(" W")) * load["quantity"] / (50 if load["kind"] == "led" else 240)
        for load in loads
    }
    assert answer.total == max(shares.values()) and all(line.count == 1 for line in answer.lines)
    alone = hung(sheet(channel), loads[0])
    assert alone.unit == "W" and "not-in-mixed-table" not in codes(alone)


def test_a_table_without_a_row_for_them_fails_and_a_figure_not_known_is_open() -> None:
    channel = {
        "ratings": {"led": {"alone": "100 W"}, "cfl": {"alone": "80 W"}},
        "mixing": "own table",
        "mixed": [{"led": {"alone": "50 W"}}],
    }
    answer = hung(sheet(channel), load("led", "10 W"), load("cfl", "20 W"))
    assert answer.state is State.FAILS and "not-in-mixed-table" in codes(answer)
    assert [(line.value, line.count) for line in answer.lines] == [(None, F(1)), (None, F(1))]
    alone = hung(sheet(channel), load("cfl", "20 W"))
    assert alone.state is State.HOLDS and "not-in-mixed-table" not in codes(alone), (
        "a table of mixed loads is for several"
    )
    unknown = channel | {"mixed": [{"led": {"alone": "50 W"}, "cfl": {}}]}
    opened = hung(sheet(unknown), load("led", "10 W"), load("cfl", "20 W"))
    assert opened.state is State.OPEN and [(line.value, line.count) for line in opened.lines] == [
        (F(1, 5), F(1)),
        (None, F(1)),
    ]
    two = channel | {
        "mixed": [
            {"led": {"alone": "20 W"}, "cfl": {"alone": "80 W"}},
            {"led": {"alone": "50 W"}, "cfl": {"alone": "40 W"}},
        ]
    }
    best = hung(sheet(two), load("led", "10 W"), load("cfl", "8 W"))
    assert best.total == F(1, 5) and {figures(line.why)[-1] for line in best.lines} == {2}, "row 2"


def test_ways_out_fit_what_is_not_listed() -> None:
    dimmer, switch = sheet(LED), sheet(LED, kind="switch")
    ways = {
        kind: hung(dimmer, load(kind, each)).remarks[0].ways[0]
        for kind, each in (("fan", "0.5 A"), ("motor", "1 A"), ("cfl", "9 W"))
    }
    assert ways == {"fan": "a fan control", "motor": "a switch", "cfl": "LED lamps"}
    assert hung(switch, load("fan", "0.5 A")).remarks[0].ways[0] not in ways.values()


MINIMUM = LED | {"minimum": "20 W"}


@pytest.mark.parametrize(
    ("loads", "found", "bypass"),
    [
        ([load("led", "20 W")], [], False),
        ([load("led", "19 W", fitting="luminaire")], ["below-minimum"], False),
        ([load("led", "19 W")], ["below-minimum"], True),
        ([load("led", "10 W", 3, fewest=2)], [], False),
        ([load("led", "10 W", 3, fewest=1)], ["fewest-below-minimum"], False),
        ([load("led", "10 W", 3, fewest=1), load("led", "10 W")], [], False),
        ([amps("0.05 A"), load("led", "10 W")], ["minimum-not-known"], False),
        ([amps("0.05 A"), load("led", "20 W")], [], False),
        ([amps("0.05 A"), load("led", "10 W", 2, fewest=1)], ["minimum-not-known"], False),
    ],
)
def test_the_minimum_with_all_lamps_and_with_the_fewest(loads: list[Any], found: list[str], bypass: bool) -> None:
    answer = hung(sheet(MINIMUM, bypass=bypass), *loads)
    assert [code for code in codes(answer) if "minimum" in code] == found
    for remark in answer.remarks:
        if remark.ways and "minimum" in remark.code:
            assert ("bypass" in remark.ways[0]) == bypass
    bypassed = sheet(MINIMUM, bypass=True)
    for each, fitted in (("19 W", ["bypass-fitted"]), ("20 W", [])):
        assert [code for code in codes(hung(bypassed, load("led", each, bypass=True))) if "bypass" in code] == fitted
    later = sheet(LED | {"minimums": {"incandescent": "40 W", "led": "20 W"}})
    assert [code for code in codes(hung(later, load("led", "9 W"))) if "minimum" in code] == ["below-minimum"]


def test_all_channels_together_and_what_each_kind_may_carry() -> None:
    two = {"ratings": {"led": {"alone": "4 A"}, "general": {"alone": "5 A"}}}
    made = sheet(two, kind="switch", total="6 A")
    made = made.changed(channels=(made.channels[0], made.channels[0].changed(name="second")))
    item = on(1, made, None, load("led", "216 W", fitting="luminaire"), load("fan", "3 A", channel=2))
    answer = total_at(Position(), item, made, Terms())
    assert (answer.total, answer.limit, answer.subject.kind, answer.state) == (F(5), F(6), "total", State.HOLDS)
    assert "no-load" not in codes(answer)
    with pytest.raises(ValueError, match="states no total"):
        total_at(Position(), item, made.changed(total=None), Terms())
    limits = {number: dict(kind_limits(Position(), item, number, made, Terms())) for number in (1, 2)}
    assert {kind: amount.value for kind, amount in limits[1].items() if amount} == {"led": 4}
    assert {kind: amount.value for kind, amount in limits[2].items() if amount} == {"general": 4}, "a motor: 80 %"
    both = on(1, made, None, load("heater", "1 A"), load("fan", "3 A"))
    assert {kind: amount.value for kind, amount in kind_limits(Position(), both, 1, made, Terms()) if amount} == {
        "general": 4
    }
    empty = {kind: amount and amount.value for kind, amount in kind_limits(Position(), on(1, made), 1, made, Terms())}
    assert empty == {"led": 4, "general": 5}
    unknown = sheet({"ratings": {"led": {}}})
    assert kind_limits(Position(), on(1, unknown), 1, unknown, Terms()) == (("led", None),)


MLV = {"ratings": {"mlv": {"alone": "400 VA"}, "mlv lamps": {"alone": "300 W"}}}


@pytest.mark.parametrize(
    ("loads", "unit", "total", "limit"),
    [
        # 8 lamps of 35 W with 5 W of loss each: 320 of 400 VA is 80 %, 280 of 300 W is 93 %
        ([load("mlv", "35 W", 8, loss="5 W")], "W", "280", "300"),
        # with 20 W of loss each, 440 of 400 VA is over, 280 of 300 W is not
        ([load("mlv", "35 W", 8, loss="20 W")], "VA", "440", "400"),
        # both over: 520 of 400 VA is 130 %, 312 of 300 W is 104 %
        ([load("mlv", "39 W", 8, loss="26 W")], "VA", "520", "400"),
        # 320 of 400 VA and 240 of 300 W press alike
        ([load("mlv", "30 W", 8, loss="10 W")], "VA", "320", "400"),
        ([load("mlv", "35 VA", 8)], "VA", "280", "400"),
    ],
)
def test_behind_transformers_the_figure_that_binds_holds(loads: list[Any], unit: str, total: str, limit: str) -> None:
    answer = hung(sheet(MLV), *loads)
    assert (answer.unit, answer.total, answer.limit) == (unit, F(total), F(limit))
    unknown = hung(
        sheet({"ratings": {"mlv": {"alone": "400 VA"}, "mlv lamps": {}}}), load("mlv", "35 W", 8, loss="5 W")
    )
    assert unknown.state is State.OPEN
    over = hung(sheet({"ratings": {"mlv": {"alone": "300 VA"}, "mlv lamps": {}}}), load("mlv", "35 W", 8, loss="5 W"))
    assert over.state is State.FAILS, "over on one figure, whatever the other is"


def test_each_channel_of_a_device_by_itself() -> None:
    two = sheet({"ratings": {"led": {"alone": "50 W"}}})
    two = two.changed(
        channels=(two.channels[0], sheet({"name": "second", "ratings": {"led": {"alone": "100 W"}}}).channels[0])
    )
    item = on(1, two, None, load("led", "9 W", channel=2))
    first, second = (rating_at(Position(), item, number, two, Terms()) for number in (1, 2))
    assert (first.total, first.limit, first.subject.number) == (0, 50, 1)
    assert (second.total, second.limit, second.subject.number) == (9, 100, 2)
    assert dict(kind_limits(Position(), item, 2, two, Terms())) == {"led": Amount(F(100), "W")}


def test_a_tenth_of_the_incandescent_figure_where_the_job_turns_it_on() -> None:
    """LED listed without a figure: a tenth, in the unit of the incandescent one; off, as the sheet has it."""
    listed = {"ratings": {"led": {}, "incandescent": {"alone": "6 A", "end": "5 A"}}}
    numbered = {"ratings": {"led": {}, "incandescent": {"alone": "6 A", "ganged": ["6 A", "4 A"]}}}
    thumb = Terms(assume=Assume(tenth_for_led=True))
    answer = hung(sheet(listed), amps("0.5 A"), terms=thumb)
    assert (answer.unit, answer.limit, answer.total) == ("A", F("0.6"), F("0.5"))
    by_number = hung(sheet(numbered, derating="by number"), amps("0.3 A"), place=Position(ganged=3), terms=thumb)
    assert by_number.limit == F("0.4")
    end = hung(sheet(listed, derating="by position"), amps("0.3 A"), place=Position(neighbors=1), terms=thumb)
    assert end.limit == F("0.5")
    off = hung(sheet(listed), load("led", "9 W"))
    assert (off.unit, off.limit, off.state) == ("W", None, State.OPEN)
    alone = hung(sheet({"ratings": {"led": {}}}), load("led", "9 W"), terms=thumb)
    assert (alone.unit, alone.state) == ("W", State.OPEN)
    watts = hung(sheet({"ratings": {"cfl": {}, "incandescent": {"alone": "6 A"}}}), load("cfl", "9 W"), terms=thumb)
    assert watts.unit == "W"


def test_what_is_on_for_hours_counts_a_quarter_more_and_says_so() -> None:
    """By the sheet: all of it continuous lowers the limit, some of it raises what it counts."""
    made = sheet({"ratings": {"led": {"alone": "125 W"}}}, continuous=True)
    some = hung(made, load("led", "40 W", continuous=True), load("led", "10 W", continuous=False))
    assert [(line.value, 125 in figures(line.why)) for line in some.lines] == [(F(50), True), (F(10), False)]
    whole = hung(made, load("led", "40 W", continuous=True))
    assert (whole.limit, whole.total) == (100, 40) and 125 not in figures(whole.lines[0].why)
    unsaid = hung(made, load("led", "40 W"))
    assert (unsaid.limit, unsaid.total) == (125, 40)
    plain = hung(sheet({"ratings": {"led": {"alone": "125 W"}}}), load("led", "40 W", continuous=True))
    assert (plain.limit, plain.total) == (125, 40)


def test_nothing_connected_says_only_what_is_known() -> None:
    assert figures(hung(sheet({"ratings": {"led": {}}})).headline) == ()
    known_first = sheet({"ratings": {"led": {}, "incandescent": {"alone": "60 W"}}})
    assert figures(hung(known_first).headline) == (60,)
    assert figures(hung(sheet({"ratings": {}})).headline) == ()


def test_lamps_of_one_kind_and_what_a_device_is_set_to() -> None:
    both = sheet({"ratings": {"led": {"alone": "100 W"}, "general": {"alone": "5 A"}}}, lamp_settings=["led", "cfl"])
    assert "uneven-kinds" not in codes(hung(both, load("led", "9 W"), load("heater", "1 A")))
    assert "uneven-kinds" not in codes(hung(both, load("led", "9 W"), load("led", "5 W")))
    set_to = on(1, both, None, load("heater", "1 A"), load("led", "9 W")).changed(lamp_setting="cfl")
    found = rating_at(Position(), set_to, 1, both, Terms())
    assert codes(found).count("lamp-setting") == 1
    right = set_to.changed(lamp_setting="led")
    assert "lamp-setting" not in codes(rating_at(Position(), right, 1, both, Terms()))
    assert standby_of(sheet(None, kind="fan control")) == 0
    fan = sheet({"ratings": {"fan": {"alone": "5 A"}}}, kind="fan control")
    assert heat_of(on(1, fan, None, load("fan", "100 W", power_factor="1")), fan, Terms()) == pytest.approx(1.5)
    big = on(1, fan, None, load("fan", "50 W", power_factor="1"), load("motor", "5 hp"))
    assert heat_of(big, fan, Terms()) == pytest.approx(0.75), "a motor no table knows adds nothing that is known"
    assert positions(box("40 in3", 1, cables("14/2"), (on(1, fan),)), {"odd": fan}, None)["d1"].ambient is None


def test_each_load_without_a_figure_is_a_line_and_each_step_is_said() -> None:
    unknown = sheet({"ratings": {"led": {"alone": "100 W"}, "incandescent": {}}})
    answer = hung(unknown, load("incandescent", "60 W"), load("incandescent", "40 W"), load("led", "10 W"))
    assert [line.value for line in answer.lines] == [None, None, F(1, 10)]
    switch = sheet({"ratings": {"general": {"alone": "15 A", "end": "10 A"}}}, kind="switch", derating="by position")
    steps = hung(switch, load("motor", "4 A"), load("heater", "1 A"), place=Position(neighbors=1))
    assert figures(steps.lines[0].why) == (4, 8, 15, 5, 2), "of 8 A here: 15 A, a neighbor takes 5, a motor 2"
    blind = hung(switch, load("fan", "48 W"), load("heater", "1 A"))
    assert blind.lines[0].value is None and figures(blind.lines[0].why) == ()
    own = sheet({"ratings": {"motor": {"alone": "3 hp"}}}, kind="switch")
    assert "motor-too-large" not in codes(hung(own, load("motor", "3 hp"))), "its sheet rates motors itself"
    hot = sheet(MLV, ambient={"holds_to": "40", "stops_at": "60"})
    gone = hung(hot, load("mlv", "35 W", 8, loss="5 W"), place=Position(ambient=F(61)))
    assert (gone.limit, gone.state) == (0, State.FAILS)
    own_table = MLV | {"mixing": "own table", "mixed": [{"mlv": {"alone": "200 VA"}}]}
    assert hung(sheet(own_table), load("mlv", "35 W", 8, loss="5 W")).unit == "W", "alone it is held to the lamps too"
