"""Counting volume: worked cases, the code's own table as an outside check, and what must be true of every box.

The worked cases and the printed maxima are NFPA 70 (NEC) 2023, 314.16, from memory of the publication.
"""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.gauge import Gauge, awg
from nail_count.trade.model.measure import parse_number
from nail_count.trade.model.trade_size import TRADE_SIZES
from nail_count.trade.model.wire import Cable
from nail_count.trade.rules.conductor_volumes import ALLOWANCES
from nail_count.trade.rules.volume.nec import fill
from tests.support import (
    BLANK,
    GAUGES,
    REMOTE,
    SHEETS,
    SWITCH,
    WIDE,
    any_box,
    any_cables,
    box,
    cables,
    figures,
    flat,
    on,
)


def sums(made: Box) -> dict[str, F]:
    """The count's lines added up by kind."""
    found: dict[str, F] = {}
    for line in fill(made, SHEETS, code="nec-2023").lines:
        assert line.value is not None
        found[line.kind] = found.get(line.kind, F(0)) + line.value
    return {kind: value for kind, value in found.items() if value}


PORCH = (*cables("12/2", "12/2"), *(c.changed(id=c.id * 2) for c in cables("14/2", "14/3")))

CASES: dict[str, tuple[Box, dict[str, Any], str, State]] = {
    "exactly full single gang": (
        box("18 in3", 1, cables("14/2", "14/2", "14/2"), (on(1, SWITCH, 14),)),
        {"conductors": 12, "devices": 4, "grounds": 2},
        "18",
        State.TIGHT,
    ),
    "old-work box, three-way, 12 AWG: one conductor too many": (
        box("22.5 in3", 1, cables("12/2", "12/2", "12/3"), (on(1, SWITCH, 12),), clamps=True),
        {"conductors": "15.75", "clamps": "2.25", "devices": "4.5", "grounds": "2.25"},
        "24.75",
        State.FAILS,
    ),
    "mixed gauges in a square box, each yoke by its own; an unmarked ring adds nothing": (
        box("4x2-1/8 square", 2, PORCH, (on(1, SWITCH, 12), on(2, SWITCH, 14)), rings=[{"kind": "plaster ring"}]),
        {"conductors": 19, "devices": "8.5", "grounds": "2.25"},
        "29.75",
        State.TIGHT,
    ),
    "the same with clamps": (
        box("4x2-1/8 square", 2, PORCH, (on(1, SWITCH, 12), on(2, SWITCH, 14)), clamps=True),
        {"conductors": 19, "clamps": "2.25", "devices": "8.5", "grounds": "2.25"},
        "32",
        State.FAILS,
    ),
    "six grounds: two past four at a quarter each": (
        box("34 in3", 2, cables(*["14/2"] * 6), (on(1, SWITCH, 14), on(2, SWITCH, 14))),
        {"conductors": 24, "devices": 8, "grounds": 3},
        "35",
        State.FAILS,
    ),
    "three ganged sections: four decimals matter": (
        box("3x2x3-1/2", 3, cables(*["12/2"] * 4, "12/3"), tuple(on(g, SWITCH, 12) for g in (1, 2, 3)), clamps=True),
        {"conductors": "24.75", "clamps": "2.25", "devices": "13.5", "grounds": "2.8125"},
        "43.3125",
        State.HOLDS,
    ),
    "a device needing two gangs takes two allowances for each": (
        box("32 in3", 2, cables("14/2", "14/3"), (on(1, WIDE, 14),)),
        {"conductors": 10, "devices": 8, "grounds": 2},
        "20",
        State.HOLDS,
    ),
    "thin ground in an old cable: by its own gauge": (
        box("3x2x2-1/2", 1, cables("14/2", "14/2", ground_gauge=16), (on(1, SWITCH, 14),), clamps=True),
        {"conductors": 8, "clamps": 2, "devices": 4, "grounds": "1.75"},
        "15.75",
        State.FAILS,
    ),
    "looped feed-through: an unbroken loop of at least 12 in counts twice": (
        box(
            "20.3 in3",
            1,
            (*cables("14/2"), Cable(id="L", gauge=14, insulated=1, grounds=0, run="looped")),
            (on(1, SWITCH, 14),),
        ),
        {"conductors": 8, "devices": 4, "grounds": 2},
        "14",
        State.HOLDS,
    ),
}


def seen(box: Box) -> Box:
    """A box somebody looked into for clamps."""
    return box.changed(survey=box.survey.changed(looked=("clamps",)))


@pytest.mark.parametrize("name", CASES)
def test_worked_cases(name: str) -> None:
    made, lines, total, state = CASES[name]
    answer = fill(seen(made), SHEETS, code="nec-2023")
    assert sums(made) == {kind: parse_number(str(value)) for kind, value in lines.items()}
    assert (answer.total, answer.state) == (parse_number(total), state)


PRINTED_MAXIMA = {
    # Table 314.16(A), "maximum number of conductors" for 18/16/14/12/10/8/6 AWG
    "4x1-1/4 round": (8, 7, 6, 5, 5, 4, 2),
    "4x1-1/2 round": (10, 8, 7, 6, 6, 5, 3),
    "4x2-1/8 round": (14, 12, 10, 9, 8, 7, 4),
    "4x1-1/4 square": (12, 10, 9, 8, 7, 6, 3),
    "4x1-1/2 square": (14, 12, 10, 9, 8, 7, 4),
    "4x2-1/8 square": (20, 17, 15, 13, 12, 10, 6),
    "4-11/16x1-1/4 square": (17, 14, 12, 11, 10, 8, 5),
    "4-11/16x1-1/2 square": (19, 16, 14, 13, 11, 9, 5),
    "4-11/16x2-1/8 square": (28, 24, 21, 18, 16, 14, 8),
    "3x2x1-1/2 device": (5, 4, 3, 3, 3, 2, 1),
    "3x2x2 device": (6, 5, 5, 4, 4, 3, 2),
    "3x2x2-1/4 device": (7, 6, 5, 4, 4, 3, 2),
    "3x2x2-1/2 device": (8, 7, 6, 5, 5, 4, 2),
    "3x2x2-3/4 device": (9, 8, 7, 6, 5, 4, 2),
    "3x2x3-1/2 device": (12, 10, 9, 8, 7, 6, 3),
    "4x2-1/8x1-1/2 device": (6, 5, 5, 4, 4, 3, 2),
    "4x2-1/8x1-7/8 device": (8, 7, 6, 5, 5, 4, 2),
    "4x2-1/8x2-1/8 device": (9, 8, 7, 6, 5, 4, 2),
    "3-3/4x2x2-1/2 masonry": (9, 8, 7, 6, 5, 4, 2),
    "3-3/4x2x3-1/2 masonry": (14, 12, 10, 9, 8, 7, 4),
    "FS single": (9, 7, 6, 6, 5, 4, 2),
    "FD single": (12, 10, 9, 8, 7, 6, 3),
    "FS multiple": (12, 10, 9, 8, 7, 6, 3),
    "FD multiple": (16, 13, 12, 10, 9, 8, 4),
}


def singles(gauge: Gauge, count: int) -> tuple[Cable, ...]:
    """So many conductors of a gauge, each by itself."""
    return tuple(Cable(id=str(number), gauge=gauge, insulated=1, grounds=0) for number in range(count))


def test_every_trade_size_takes_as_many_conductors_as_its_row_prints() -> None:
    assert set(PRINTED_MAXIMA) == set(TRADE_SIZES)
    for name, maxima in PRINTED_MAXIMA.items():
        for gauge, most in zip(map(awg, (18, 16, 14, 12, 10, 8, 6)), maxima, strict=True):
            full, over = (
                fill(seen(box(name, 1, singles(gauge, count))), SHEETS, code="nec-2023") for count in (most, most + 1)
            )
            assert full.state.passes and not over.state.passes, (name, gauge)


def test_allowances_agree_with_the_printed_cubic_centimeters() -> None:
    """Table 314.16(B)(1) prints both units; one inch is 2.54 cm by definition."""
    printed = {18: "24.6", 16: "28.7", 14: "32.8", 12: "36.9", 10: "41.0", 8: "49.2", 6: "81.9"}
    for gauge, in3 in ALLOWANCES.items():
        assert abs(in3 * F("2.54") ** 3 - F(printed[int(gauge.number)])) <= F("0.06")


def test_what_counts_nothing_is_a_line_with_a_zero() -> None:
    made = box("34 in3", 2, cables("14/2"), (on(1, SWITCH, 14), on(2, BLANK)))
    zeros = [line for line in fill(made, SHEETS, code="nec-2023").lines if line.value == 0]
    assert [(line.kind, figures(line.what)) for line in zeros] == [("clamps", ()), ("devices", (2,)), ("leads", ())]
    assert all(line.why for line in zeros)


def test_a_yoke_with_nothing_connected_takes_the_largest_in_the_box() -> None:
    made = box("34 in3", 1, cables("12/2"), (on(1, REMOTE),))
    assert sums(made)["devices"] == 2 * ALLOWANCES[awg(12)]


def test_unknown_is_open_and_never_a_pass() -> None:
    unmarked = Box(id="b", name="B", room="R", cables=cables("14/2"))
    assert fill(unmarked, SHEETS, code="nec-2023").state is State.OPEN
    no_conductor = box("18 in3", 1, (), (on(1, SWITCH),))
    answer = fill(no_conductor, SHEETS, code="nec-2023")
    assert answer.state is State.OPEN
    assert [line.value for line in answer.lines if line.kind == "devices"] == [None]
    overfull_anyway = box("3 in3", 2, (), (on(1, SWITCH, 14), on(2, SWITCH)))
    assert fill(overfull_anyway, SHEETS, code="nec-2023").state is State.FAILS


def test_an_empty_box_holds() -> None:
    assert fill(box("18 in3"), SHEETS, code="nec-2023").state is State.HOLDS


def test_metric_volume_is_turned_exactly_and_said_so() -> None:
    made = flat({"id": "b", "name": "B", "room": "R", "enclosure": {"volume": "295 cm3"}})
    answer = fill(made, SHEETS, code="nec-2023")
    assert answer.limit == F(295) / F("16.387064")
    assert answer.remarks[0].code == "mark-turned-into-in3"


@given(any_box())
def test_lines_add_up_and_state_follows(made: Box) -> None:
    answer = fill(made, SHEETS, code="nec-2023")
    known = [line.value for line in answer.lines if line.value is not None]
    assert sum(known) == answer.total
    assert all(line.value == line.count * line.each for line in answer.lines if line.each is not None)
    assert answer.limit is not None
    assert (answer.state is State.FAILS) == (answer.total > answer.limit)


@given(any_box(), st.randoms())
def test_order_of_entry_never_matters(made: Box, chance: Any) -> None:
    entering, devices = list(made.cables), list(made.devices)
    chance.shuffle(entering)
    chance.shuffle(devices)
    shuffled = made.changed(cables=tuple(entering), devices=tuple(devices))
    one, other = fill(made, SHEETS, code="nec-2023"), fill(shuffled, SHEETS, code="nec-2023")
    assert (one.total, one.state) == (other.total, other.state)


@given(any_cables(most=5), any_cables(most=1), st.sampled_from(GAUGES), st.booleans())
def test_more_never_counts_less(here: tuple[Cable, ...], more: tuple[Cable, ...], gauge: Gauge, clamps: bool) -> None:
    """Holds where every yoke has a conductor connected: one without goes by the largest in the box."""
    devices: tuple[Device, ...] = (on(1, SWITCH, gauge),)
    added = tuple(cable.changed(id="Z") for cable in more)
    before = fill(box("50 in3", 2, here, devices, clamps=clamps), SHEETS, code="nec-2023").total
    assert fill(box("50 in3", 2, (*here, *added), devices, clamps=clamps), SHEETS, code="nec-2023").total >= before
    assert (
        fill(box("50 in3", 2, here, (*devices, on(2, SWITCH, gauge)), clamps=clamps), SHEETS, code="nec-2023").total
        > before
    )
