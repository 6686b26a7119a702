"""What a channel may carry: worked cases reckoned by hand, and what must be true of every gang."""

from __future__ import annotations

from fractions import Fraction as F
from itertools import permutations
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.box import Device
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.model.measure import parse_number
from nail_count.trade.rules.load.rating import rating
from tests.support import BLANK, DIMMER, SHEETS, SWITCH, WIDE, box, figures, on


def led(quantity: int, watts: str, **more: Any) -> dict[str, Any]:
    return {"kind": "led", "quantity": quantity, "each": f"{watts} W", **more}


def bulb(quantity: int, watts: str) -> dict[str, Any]:
    return {"kind": "incandescent", "quantity": quantity, "each": f"{watts} W"}


def asked(
    devices: tuple[Device, ...], gang: int, sheets: dict[str, Datasheet] | None = None, voltage: int = 120
) -> Answer:
    made = box("90 in3", 4, (), devices)
    device = next(device for device in devices if device.gang == gang)
    return rating(made, device, 1, sheets or SHEETS, Terms(voltage=voltage))


THREE = (on(1, DIMMER, None, led(9, "9.5")), on(2, DIMMER, None, led(9, "9.5")), on(3))

CASES: dict[str, tuple[Answer, str, str, State, tuple[int | str, ...]]] = {
    # what it may carry, what hangs on it, how it stands, and the figures of its headline
    "middle of three": (asked(THREE, 2), "90", "85.5", State.TIGHT, ("4.5",)),
    "end of three": (asked(THREE, 1), "115", "85.5", State.HOLDS, ("29.5", 3)),
    "a blank between spares the fin; above 90 %": (
        asked((on(1, DIMMER, None, bulb(8, "60")), on(2, BLANK), on(3, DIMMER)), 1),
        "520",
        "480",
        State.TIGHT,
        (40,),
    ),
    "mixed lamps, fractions add: 120/350 + 45/90": (
        asked((on(1, DIMMER), on(2, DIMMER, None, bulb(3, "40"), led(5, "9")), on(3, DIMMER)), 2),
        "1",
        "59/70",
        State.HOLDS,
        ("11/70",),
    ),
    "a fan is not on this dimmer's sheet": (
        asked((on(1, DIMMER, None, {"kind": "fan", "each": "0.8 A"}),), 1),
        "520",
        "0",
        State.FAILS,
        (),
    ),
    "fan on a switch, watts and power factor given: 85 / (120 × 0.85)": (
        asked((on(1, SWITCH, None, {"kind": "fan", "each": "85 W", "power_factor": 0.85}), on(2)), 1),
        "2.5",
        "5/6",
        State.HOLDS,
        ("5/3",),
    ),
    "too little for the minimum": (
        asked((on(1, DIMMER, None, led(1, "7")),), 1),
        "140",
        "7",
        State.FAILS,
        (7, 10),
    ),
    "over the limit": (
        asked((on(1, DIMMER, None, led(13, "9")), on(2)), 1),
        "115",
        "117",
        State.FAILS,
        (2,),
    ),
    "exactly nine tenths is not above nine tenths": (
        asked((on(1, DIMMER, None, led(14, "9")),), 1),
        "140",
        "126",
        State.HOLDS,
        (14, 1),
    ),
    "exactly at the limit still passes": (
        asked((on(1, DIMMER, None, led(14, "10")),), 1),
        "140",
        "140",
        State.TIGHT,
        (0,),
    ),
    "LED on a general switch, power factor assumed 0.9: 4 × 27 / (120 × 0.9)": (
        asked((on(1, SWITCH, None, led(4, "27", actual=True)),), 1),
        "6",
        "1",
        State.HOLDS,
        (5, 20),
    ),
    "small LED, power factor assumed 0.6: 10 × 3 / (120 × 0.6)": (
        asked((on(1, SWITCH, None, led(10, "3")),), 1),
        "6",
        "5/12",
        State.HOLDS,
        ("67/12", 134),
    ),
}


@pytest.mark.parametrize("name", CASES)
def test_worked_cases(name: str) -> None:
    answer, limit, total, state, headline = CASES[name]
    assert (answer.limit, answer.total) == (parse_number(limit), parse_number(total))
    assert answer.state is state and figures(answer.headline) == tuple(map(F, headline))


def made_of(**channel: Any) -> dict[str, Datasheet]:
    """The sheets, with one of these figures in place of the dimmer."""
    about = {"id": "dimmer", "name": "Odd", "kind": "dimmer", "derating": "by position", "channels": [channel]}
    return SHEETS | {"dimmer": Datasheet.model_validate(about)}


def test_what_the_sheet_leaves_out_is_open() -> None:
    lamps = on(1, DIMMER, None, led(2, "9"))
    no_figure = asked((lamps,), 1, made_of(ratings={"led": {}}))
    assert no_figure.state is State.OPEN and no_figure.limit is None
    no_middle = made_of(ratings={"led": {"alone": "100 W", "end": "80 W"}})
    between = (on(1), on(2, DIMMER, None, led(2, "9")), on(3))
    assert asked(between, 2, no_middle).state is State.OPEN
    assert asked(between[:2], 2, no_middle).limit == 80
    bare_watts = on(1, SWITCH, None, {"kind": "fan", "each": "85 W"})
    assert asked((bare_watts,), 1).state is State.OPEN


def test_a_minimum_that_amps_cannot_tell_is_open() -> None:
    sheets = made_of(ratings={"led": {"alone": "90 W"}, "fan": {"alone": "2 A"}}, minimum="10 W")
    fan = {"kind": "fan", "each": "0.9 A"}
    short = asked((on(1, DIMMER, None, led(1, "7"), fan),), 1, sheets)
    assert short.state is State.OPEN and 10 in figures(short.headline)
    assert asked((on(1, DIMMER, None, led(2, "7"), fan),), 1, sheets).state is State.HOLDS


def test_an_assumed_power_factor_is_said_and_a_given_one_is_not() -> None:
    for factor, said in (({}, True), ({"power_factor": "0.95"}, False)):
        remarks = asked((on(1, SWITCH, None, led(2, "9", name="assumed", **factor)),), 1).remarks
        assert ("assumed-figures" in {remark.code for remark in remarks}) is said


def test_a_sheet_can_forbid_mixing() -> None:
    sheets = made_of(ratings={"led": {"alone": "100 W"}, "incandescent": {"alone": "300 W"}}, mixing="not allowed")
    both = asked((on(1, DIMMER, None, led(1, "9"), bulb(1, "40")),), 1, sheets)
    assert both.state is State.FAILS and "mixing-not-allowed" in {remark.code for remark in both.remarks}
    assert asked((on(1, DIMMER, None, led(1, "9"), led(2, "5")),), 1, sheets).state is State.HOLDS


def test_no_derating_on_the_sheet_is_said() -> None:
    about = {"id": "dimmer", "name": "Odd", "kind": "dimmer", "channels": [{"ratings": {"led": {"alone": "90 W"}}}]}
    answer = asked((on(1, DIMMER, None, led(1, "9")), on(2)), 1, SHEETS | {"dimmer": Datasheet.model_validate(about)})
    assert answer.limit == 90
    assert "no-derating-on-sheet" in {remark.code for remark in answer.remarks}


def test_a_wide_device_has_its_neighbors_at_its_outer_edges() -> None:
    lamps = led(5, "9")
    beside = (on(1, DIMMER, None, lamps), on(2, WIDE), on(4, DIMMER, None, lamps))
    assert [asked(beside, gang).limit for gang in (1, 4)] == [115, 115]
    apart = (on(1, WIDE), on(4, DIMMER, None, lamps))
    assert asked(apart, 4).limit == 140
    rated = DIMMER.changed(id="wide", gangs=2)
    library = SHEETS | {"wide": rated}
    both = (on(1, DIMMER), on(2, rated, None, lamps), on(4, DIMMER))
    for stands, limit in ((both, 90), (both[:2], 115), (both[1:], 115), (both[1:2], 140)):
        assert asked(stands, 2, library).limit == limit


DEVICES = st.lists(st.sampled_from((None, SWITCH, DIMMER, BLANK)), min_size=3, max_size=3)


@given(DEVICES, st.integers(1, 30), st.integers(1, 20))
def test_a_neighbor_never_raises_a_limit(others: list[Datasheet | None], quantity: int, watts: int) -> None:
    """Checked against the sheet's three figures by counting the yokes right beside."""
    placed = [(1, others[0]), (2, DIMMER), (3, others[1]), (4, others[2])]
    lamps = led(quantity, str(watts))
    devices = tuple(on(g, s, None, *((lamps,) if g == 2 else ())) for g, s in placed if s is not None)
    answer = asked(devices, 2)
    beside = sum(sheet not in (None, BLANK) for sheet in others[:2])
    assert answer.limit == (140, 115, 90)[beside]
    assert answer.limit == sum(line.value or 0 for line in answer.limit_lines)
    assert all((line.value or 0) <= 0 for line in answer.limit_lines[1:])
    assert answer.total == quantity * watts


LOADS = st.lists(
    st.builds(lambda kind, n, w: {"kind": kind, "quantity": n, "each": f"{w} W"},
              st.sampled_from(("led", "incandescent")), st.integers(1, 9), st.integers(1, 60)),
    min_size=1, max_size=4,
)  # fmt: skip


@given(LOADS)
def test_more_load_never_leaves_more_and_order_never_matters(loads: list[dict[str, Any]]) -> None:
    def share(hung: tuple[dict[str, Any], ...]) -> F:
        answer = asked((on(1, DIMMER, None, *hung),), 1)
        assert answer.limit is not None
        return answer.total / answer.limit

    whole = share(tuple(loads))
    assert {share(order) for order in permutations(loads)} == {whole}
    for number in range(1, len(loads)):
        assert share(tuple(loads[:number])) < whole
