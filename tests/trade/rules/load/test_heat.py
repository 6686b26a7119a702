"""Heat in a box, against closed forms, the balance of energy and a solver that knows nothing of this project."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import networkx as nx
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from nail_count.trade.model.answer import State
from nail_count.trade.model.assumptions import Assume, Warming
from nail_count.trade.model.box import Box, Device
from nail_count.trade.model.datasheet import Ambient, Datasheet
from nail_count.trade.model.job import Terms
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.load.heat import heat_of, solve, warmth, warmth_that_limits
from tests.support import DIMMER, box, flat, on

START = Warming()
HEATS = st.lists(st.integers(0, 40_000).map(lambda milliwatts: milliwatts / 1000), min_size=1, max_size=8)
CONDUCTANCES = st.builds(
    lambda room, cavity, beside: Warming.model_validate({"to_room": room, "to_cavity": cavity, "to_neighbor": beside}),
    *(st.sampled_from(("0.02", "0.08", "0.12", "0.5")) for _ in range(3)),
)


def test_one_gang_in_closed_form() -> None:
    """ΔT = P ÷ (g room + g cavity): 7 ÷ 0.20 = 35 K, as a lone dimmer does; in an insulated wall 7 ÷ 0.15."""
    assert solve([7.0], START)[0] == pytest.approx(35)
    assert solve([7.0], START, insulated=True)[0] == pytest.approx(7 / 0.15)


def test_two_gangs_in_closed_form() -> None:
    """Sum and difference part: (a + b) = (P + Q) ÷ g, (a − b) = (P − Q) ÷ (g + 2 h)."""
    for p, q in ((7.0, 0.0), (7.0, 7.0), (3.0, 5.0)):
        both, apart = (p + q) / 0.20, (p - q) / (0.20 + 2 * 0.10)
        assert solve([p, q], START) == pytest.approx([(both + apart) / 2, (both - apart) / 2])


@given(HEATS, CONDUCTANCES, st.booleans())
def test_what_goes_in_comes_out_and_inner_ones_are_warmest(
    heats: list[float], warming: Warming, insulated: bool
) -> None:
    rises = solve(heats, warming, insulated)
    out = float(warming.to_room + (warming.to_insulated_cavity if insulated else warming.to_cavity))
    assert out * sum(rises) == pytest.approx(sum(heats))
    assert min(rises) >= -1e-9
    even = solve([5.0] * len(heats), warming, insulated)
    assert even == pytest.approx(even[::-1]) and even == pytest.approx([5.0 / out] * len(heats))


@given(HEATS, CONDUCTANCES)
def test_an_independent_solver_settles_at_the_same(heats: list[float], warming: Warming) -> None:
    """The same network as a graph of its own, its Laplacian from networkx, let run until it is steady with scipy."""
    graph: Any = nx.Graph()
    for gang in range(len(heats)):
        graph.add_edge(gang, "room", weight=float(warming.to_room))
        graph.add_edge(gang, "cavity", weight=float(warming.to_cavity))
    gangs = list(range(len(heats)))
    graph.add_edges_from(pairwise(gangs), weight=float(warming.to_neighbor))
    laplacian: Any = nx.laplacian_matrix(graph, nodelist=[*gangs, "room", "cavity"]).toarray()
    flow = laplacian[: len(gangs), : len(gangs)]  # room and cavity stay where they are
    settled = solve_ivp(
        lambda _, rise: np.array(heats) - flow @ rise,
        (0, 4000),
        np.zeros(len(gangs)),
        method="LSODA",
        rtol=1e-9,
        atol=1e-9,
    )
    assert solve(heats, warming) == pytest.approx(settled.y[:, -1], abs=1e-4)


@given(HEATS, st.integers(0, 7), st.floats(0.1, 20))
def test_more_heat_anywhere_cools_nobody(heats: list[float], where: int, more: float) -> None:
    warmer = list(heats)
    warmer[where % len(heats)] += more
    assert all(new >= was - 1e-9 for new, was in zip(solve(warmer, START), solve(heats, START), strict=True))


RELAY = Datasheet.model_validate(
    {"id": "relay", "name": "Relay", "kind": "module", "heat": {"standby": "1 W"},
     "ambient": {"holds_to": "40", "stops_at": "60"}, "channels": [{"ratings": {"incandescent": {"alone": "1200 W"}}}]}
)  # fmt: skip
BULBS = {"kind": "incandescent", "each": "100 W"}


def with_module(*loads: dict[str, Any], gangs: int = 1, gang: int | None = 1, devices: Any = (), **survey: Any) -> Box:
    module = {
        "id": "m1",
        "sheet": "relay",
        "gang": gang,
        "loads": [{"id": f"m{n}", **one} for n, one in enumerate(loads)],
    }
    made = box("60 in3", gangs, (), devices)
    return flat(made.model_dump() | {"modules": [module], "survey": survey})


SHEETS = {"relay": RELAY, "dimmer": DIMMER}


def test_the_heat_a_device_makes() -> None:
    """A relay: its standby and I²R, 1 + 0.02 × (600 ÷ 120)² = 1.5 W; a dimmer 1.5 % of 400 W = 6 W; common practice."""
    made = with_module(BULBS | {"quantity": 6}, devices=(on(1, DIMMER, None, BULBS | {"quantity": 4}),))
    assert heat_of(made.modules[0], RELAY, Terms()) == pytest.approx(1.5)
    assert heat_of(made.devices[0], DIMMER, Terms()) == pytest.approx(6)
    assert warmth(made, SHEETS, Terms()).rises["m1"] == pytest.approx((1.5 + 6) / 0.20)


def test_a_device_on_another_circuit_makes_its_heat_at_the_volts_of_that_one() -> None:
    """A dimmer turns 1.5 % of its load into heat, common practice: of 2 A at 120 V 3.6 W, at 240 V 7.2 W."""
    heater = {"id": "l1", "kind": "heater", "quantity": 1, "each": "2 A"}
    dimmer = {"id": "d1", "gang": 1, "sheet": "dimmer", "loads": [heater]}
    for other, volts, watts in (("9", {}, 3.6), ("9", {"9": 240}, 7.2), ("1", {"9": 240}, 3.6)):
        made = box("60 in3", 1, (), (Device.model_validate(dimmer | {"circuit": other}),))
        made = made.changed(circuit="1", other_circuits=("9",))
        assert warmth(made, SHEETS, Terms(), volts).heats["d1"] == pytest.approx(watts)
        limits = warmth_that_limits(made, SHEETS | {"dimmer": BEARS}, Terms(), volts)
        assert limits is not None and limits.heats["d1"] == pytest.approx(watts)


BEARS = DIMMER.changed(ambient=Ambient.model_validate({"holds_to": "40 °C", "stops_at": "60 °C"}))


def test_it_feeds_the_ambient_derating_and_only_lowers() -> None:
    """7.5 W in one gang is 37.5 K over 25 °C: 62.5 °C, past the relay's 60 °C. Alone 7.5 K: its rating holds."""
    beside = with_module(BULBS | {"quantity": 6}, devices=(on(1, DIMMER, None, BULBS | {"quantity": 4}),))
    relay = next(answer for answer in check_box(beside, SHEETS).ratings if str(answer.subject) == "m1/1")
    assert relay.limit == 0 and relay.state is State.FAILS
    assert relay.limit_lines[-1].rule.name.startswith("Estimate")
    alone = check_box(with_module(BULBS | {"quantity": 6}), SHEETS).ratings[0]
    assert alone.limit == 1200 and alone.state is State.HOLDS


def test_insulation_a_warm_room_and_a_far_gang_count() -> None:
    """The job's own values are used, and a module lies where it was said to lie, else all over the box."""
    loads = BULBS | {"quantity": 10}  # 1 + 0.02 × (1000 ÷ 120)² = 2.389 W
    heat = 1 + 0.02 * (1000 / 120) ** 2
    assert warmth(with_module(loads, insulated=True), SHEETS, Terms()).rises["m1"] == pytest.approx(heat / 0.15)
    hot = Terms(assume=Assume.model_validate({"warming": {"room": "104 °F", "to_room": "0.07"}}))
    found = warmth(with_module(loads), SHEETS, hot)
    assert found.room == 40 and found.rises["m1"] == pytest.approx(heat / 0.15)
    spread = warmth(with_module(loads, gangs=3, gang=None), SHEETS, Terms())
    one = warmth(with_module(loads, gangs=3, gang=1), SHEETS, Terms())
    assert spread.gangs == pytest.approx([heat / 3 / 0.20] * 3)
    assert one.gangs[0] > one.gangs[1] > one.gangs[2] and one.rises["m1"] > spread.rises["m1"]


@given(st.integers(0, 12), st.integers(0, 12))
def test_a_limit_never_rises_with_what_is_beside_it(own: int, beside: int) -> None:
    loads = [BULBS | {"quantity": own}] if own else []
    hot = (on(2, DIMMER, None, BULBS | {"quantity": beside}),) if beside else ()
    limits = [
        check_box(with_module(*loads, gangs=2, devices=devices), SHEETS).ratings[-1].limit for devices in ((), hot)
    ]
    assert limits[0] is not None and limits[1] is not None and limits[1] <= limits[0] <= 1200
