"""What warmth and the place among others leave of a rating, worked by hand by the sheet in the test."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import State
from nail_count.trade.model.assumptions import Assume, Warming
from nail_count.trade.model.datasheet import Ambient
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.load.heat import heat_of, solve, standby_of, tenths_up, warmth, warmth_that_limits
from nail_count.trade.rules.load.limits import share_at
from nail_count.trade.rules.load.position import Position, positions
from tests.support import BLANK, box, cables, figures, on
from tests.trade.rules.load.hanging import LED, codes, hung, load, sheet


@pytest.mark.parametrize(
    ("around", "share"),
    [
        ("30", "0.9"),
        ("37.5", "0.85"),
        ("40", "0.8"),
        ("42.5", "0.65"),
        ("45", "0.5"),
        ("50", "0.25"),
        ("55", "0.1"),
        ("60", "0.1"),
        ("60.1", "0"),
    ],
)
def test_of_a_curve_that_contradicts_its_sheet_the_lower_counts(around: str, share: str) -> None:
    """It says that the rating holds to 40 °C, and its curve gives 0.8 there.
    Straight between 35 °C (0.9), 40 (0.8), 45 (half), 55 (a tenth) and on to 60; 50 is half way between half and none.
    """
    points = ((35, "0.9"), (40, "0.8"), (45, "0.5"), (50, "0.25"), (55, "0.1"), (60, "0.1"))
    curve = [{"at": str(at), "share": share} for at, share in points]
    ambient = Ambient.model_validate({"holds_to": "40", "stops_at": "60", "curve": curve})
    assert share_at(ambient, F(around)) == F(share)
    short = Ambient.model_validate(
        {"stops_at": "60", "curve": [{"at": "30", "share": "0.8"}, {"at": "50", "share": "0.4"}]}
    )
    assert [share_at(short, F(at)) for at in (20, 30, 40, 50, 55)] == [F("0.8"), F("0.8"), F("0.6"), F("0.4"), 0]
    alone = Ambient.model_validate({"stops_at": "60"})
    assert [share_at(alone, F(at)) for at in ("60", "60.1")] == [1, 0]
    line = Ambient.model_validate({"holds_to": "40", "stops_at": "60"})
    assert [share_at(line, F(at)) for at in (40, 50, 60)] == [1, F(1, 2), 0]


@pytest.mark.parametrize(
    ("about", "watts", "standby"),
    [
        ({"kind": "dimmer"}, "1.5", "0"),
        ({"kind": "dimmer", "radio": "Mesh"}, "2.5", "1"),
        ({"kind": "dimmer", "radio": "Mesh", "battery": True}, "1.5", "0"),
        ({"kind": "dimmer", "heat": {"share": "0.05"}}, "5", "0"),
        ({"kind": "dimmer", "heat": {"share": "0.05", "standby": "0.5 W"}}, "5.5", "0.5"),
        ({"kind": "switch"}, "0", "0"),
    ],
)
def test_what_a_device_turns_into_heat(about: dict[str, Any], watts: str, standby: str) -> None:
    """Of 100 W a dimmer turns 1.5 %, and a radio takes a watt (common practice, 1 to 2 %); the sheet's figure wins."""
    made = sheet({"ratings": {"incandescent": {"alone": "500 W"}}}, **about)
    item = on(1, made, None, load("incandescent", "100 W"))
    assert standby_of(made) == F(standby)
    assert heat_of(item, made, Terms()) == pytest.approx(float(F(watts)))


def test_where_heat_goes_and_where_it_limits() -> None:
    hot = sheet({"ratings": {"incandescent": {"alone": "500 W"}}}, id="hot", heat={"standby": "4 W"})
    loose = sheet(None, id="loose", kind="module", heat={"standby": "3 W"})
    sheets = {"hot": hot, "loose": loose, "blank": BLANK}
    enclosure = {"barriers": [{"after": 1}]}
    made = box("60 in3", 3, cables("14/2"), (on(1, BLANK),), **enclosure)
    put_in: tuple[tuple[dict[str, int], list[float]], ...] = (
        ({"gang": 3}, [0, 0, 3]),
        ({"space": 2}, [0, 1.5, 1.5]),
        ({}, [3, 0, 0]),
        ({"gang": 9}, [3, 0, 0]),
    )
    for said, watts in put_in:
        with_it = made.changed(modules=({"id": "m", "sheet": "loose", **said},))
        assert warmth(with_it, sheets, Terms()).gangs == pytest.approx(list(solve(watts, Warming())))
    standing = made.changed(devices=(on(2, hot),))
    assert warmth(standing, sheets, Terms()).gangs == pytest.approx(list(solve([0, 4, 0], Warming())))
    assert warmth_that_limits(standing, sheets, Terms()) is None
    bears = hot.changed(ambient={"stops_at": "60"})
    assert warmth_that_limits(standing, sheets | {"hot": bears}, Terms()) is not None
    assert [tenths_up(one) for one in (30.0, 30.01, 30.1, 30.10000001)] == [300, 301, 301, 301]


def test_yokes_side_by_side_are_counted_and_a_blank_parts_them() -> None:
    one, two = sheet(LED, id="one"), sheet(LED, id="two", gangs=2)
    sheets = {"one": one, "two": two, "blank": BLANK}
    made = box("90 in3", 7, cables("14/2"), (on(1, one), on(2, two), on(4, one), on(5, BLANK), on(6, one)))
    assert {id: place.ganged for id, place in positions(made, sheets, None).items()} == {
        "d1": 3,
        "d2": 3,
        "d4": 3,
        "d5": 1,
        "d6": 1,
    }
    assert {id: place.neighbors for id, place in positions(made, sheets, None).items()} == {
        "d1": 1,
        "d2": 2,
        "d4": 1,
        "d5": 2,
        "d6": 0,
    }
    assert all(place.ambient is None for place in positions(made, sheets, None).values())


@pytest.mark.parametrize(
    ("derating", "place", "why"),
    [
        ("none needed", Position(neighbors=1), ()),
        ("by position", Position(), ()),
        ("by position", Position(neighbors=1), (80,)),
        ("by position", Position(neighbors=1, reused=True), (80,)),
        ("not stated", Position(neighbors=1), ()),
        ("by number", Position(), ()),
    ],
)  # fmt: skip
def test_why_a_limit_is_what_it_is_where_it_stands(derating: str, place: Position, why: tuple[int, ...]) -> None:
    step = hung(sheet(LED, derating=derating), load("led", "9 W"), place=place).limit_lines[1]
    assert (step.kind, figures(step.why)) == ("position", why)
    if derating == "not stated":
        terms = Terms(assume=Assume(fallback_derating=True))
        step = hung(sheet(LED, derating=derating), load("led", "9 W"), place=place, terms=terms).limit_lines[1]
        assert F(1, 5) in figures(step.why) and step.value == -20
        assert step.rule.standing == "practice"


def test_too_warm_says_why() -> None:
    """Half way between where the rating holds and where it stops, half is left; beyond, nothing."""
    bears = {"ambient": {"holds_to": "40", "stops_at": "60"}}
    half = hung(sheet(LED, **bears), load("led", "60 W"), place=Position(ambient=F(50)))
    assert (half.limit, half.state, figures(half.headline)[0]) == (50, State.FAILS, 10)
    gone = hung(sheet(LED, **bears), load("led", "9 W"), place=Position(ambient=F(61)))
    assert gone.limit == 0 and "too-warm" in codes(gone)
    assert "too-warm" not in codes(hung(sheet(LED, **bears), place=Position(ambient=F(61))))
    cool = hung(sheet(LED, **bears), load("led", "101 W"), place=Position(ambient=F(40)))
    assert (cool.limit, figures(cool.headline)) == (100, (1,))
    silent = hung(sheet(LED), load("led", "9 W"), place=Position(ambient=F(61)))
    assert silent.limit == 100
    unknown = hung(sheet({"ratings": {"led": {}}}, **bears), load("led", "9 W"), place=Position(ambient=F(50)))
    assert unknown.limit is None and unknown.state is State.OPEN
    two = {"ratings": {"led": {}, "incandescent": {"alone": "100 W"}}}
    mixed = hung(sheet(two, **bears), load("led", "9 W"), load("incandescent", "40 W"), place=Position(ambient=F(61)))
    assert "too-warm" in codes(mixed)


def test_only_a_sheet_with_a_limit_by_warmth_is_told_how_warm_it_is() -> None:
    bears = sheet(LED, id="bears", ambient={"stops_at": "60"}, heat={"standby": "4 W"})
    plain = sheet(LED, id="plain")
    sheets = {"bears": bears, "plain": plain}
    made = box("60 in3", 2, cables("14/2"), (on(1, bears), on(2, plain)))
    found = positions(made, sheets, warmth_that_limits(made, sheets, Terms()))
    assert found["d1"].ambient is not None and found["d2"].ambient is None
