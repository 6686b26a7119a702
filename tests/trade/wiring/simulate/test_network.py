"""The simulation against an independent graph library (networkx), on random networks and on the hidden boxes."""

from __future__ import annotations

from itertools import product
from random import Random
from typing import Any

import networkx as nx
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.conductor import Reading
from nail_count.trade.wiring.simulate.hidden import ARRANGEMENTS, Often, make_hidden
from nail_count.trade.wiring.simulate.meter import measure, network
from nail_count.trade.wiring.simulate.network import Network

OHMS = st.floats(0.5, 5000)


@st.composite
def networks(draw: st.DrawFn) -> Network:
    nodes = [f"n{number}" for number in range(draw(st.integers(2, 7)))]
    pair = st.tuples(st.sampled_from(nodes), st.sampled_from(nodes)).filter(lambda two: two[0] != two[1])
    wires, resistors = draw(st.lists(pair, max_size=3)), draw(st.lists(pair, max_size=9))
    return Network(wires, [(a, b, draw(OHMS)) for a, b in resistors])


def as_graph(net: Network) -> Any:
    """The same network for networkx: wires contracted, parallel resistors as conductances added."""
    joined = nx.Graph(net.wires)
    for a, b, _ in net.resistors:
        joined.add_nodes_from((a, b))
    leader = {node: min(part) for part in nx.connected_components(joined) for node in part}
    graph: Any = nx.Graph()
    graph.add_nodes_from(leader.values())
    for a, b, ohms in net.resistors:
        one, other = leader[a], leader[b]
        if one != other:
            before = graph.get_edge_data(one, other, {"siemens": 0.0})["siemens"]
            graph.add_edge(one, other, siemens=before + 1 / ohms)
    graph.graph["leader"] = leader
    return graph


def resistance(graph: Any, one: str, other: str) -> float:
    leader = graph.graph["leader"]
    a, b = leader.get(one), leader.get(other)
    if a is None or b is None or not nx.has_path(graph, a, b):
        return float("inf")
    part = graph.subgraph(nx.node_connected_component(graph, a))
    between: Any = nx.resistance_distance(part, a, b, weight="siemens", invert_weight=False) if a != b else 0.0
    return float(between)


@given(networks())
def test_resistances_are_those_of_the_graph_library(net: Network) -> None:
    graph = as_graph(net)
    nodes = sorted(graph.graph["leader"])
    for one in nodes[:4]:
        for other in nodes[-3:]:
            assert net.resistance(one, other) == pytest.approx(resistance(graph, one, other), rel=1e-6)


@pytest.mark.parametrize("arrangement", ARRANGEMENTS)
def test_the_meter_shows_what_the_graph_library_works_out(arrangement: str) -> None:
    """Which points are joined to hot and to neutral, in every state, and continuity, on the hidden boxes."""
    for seed in range(6):
        hidden = make_hidden(arrangement, seed, often=Often(broken=0.3))
        for far, lamps in product((1, 2), (False, True)):
            for id in hidden.truth:
                live, dead = (state(on, far, lamps) | {"of": id} for on in (("1",), ()))
                shown = measure(hidden, Reading.model_validate(live))
                graph = as_graph(network(hidden, Reading.model_validate(live)))
                assert (shown.volts == hidden.voltage) == (resistance(graph, id, "source 0") == 0)
                asked = Reading.model_validate(dead | {"kind": "continuity", "yes": True})
                graph = as_graph(network(hidden, asked))
                ohms = resistance(graph, id, "ground")
                shown = measure(hidden, asked)
                assert shown.yes == (ohms < 1e7) and (
                    shown.ohms is None or float(shown.ohms) == pytest.approx(ohms, 0.01, 0.06)
                )


def state(on: tuple[str, ...], far: int, lamps: bool) -> dict[str, Any]:
    return {
        "id": "r1",
        "kind": "volts",
        "of": "A1",
        "on": on,
        "far": far,
        "lamps": "in" if lamps else "out",
        "volts": 0,
    }


def test_a_floating_wire_shows_a_ghost_on_a_high_impedance_meter_only() -> None:
    """Tens of volts on a high-impedance meter and none on a loaded one: common practice."""
    seen = 0
    for seed in range(20):
        hidden = make_hidden("switch loop", seed)
        switched = next(id for id, role in hidden.truth.items() if role == "switched")
        said = state(("1",), 1, False) | {"of": switched}
        high = measure(hidden, Reading.model_validate(said | {"meter": "high impedance"})).volts
        low = measure(hidden, Reading.model_validate(said)).volts
        assert low is not None and high is not None and low < 1 and 10 < high < 90
        seen += 1
    assert seen == 20


def test_a_short_is_told_and_an_electronic_switch_leaks() -> None:
    with pytest.raises(ValueError, match="short"):
        Network([("a", "b")], [], {"a": 120.0, "b": 0.0}).voltages()
    hidden = make_hidden("three-way, lamp here and feed at the other place", 3)
    hidden.leaky = True
    travelers = [id for id, role in hidden.truth.items() if role == "traveler"]
    said = [state(("1",), 1, False) | {"of": id, "meter": "high impedance"} for id in travelers]
    volts = sorted(measure(hidden, Reading.model_validate(one)).volts or 0 for one in said)
    assert volts[1] == 120 and volts[0] > 100  # the one that is off looks as hot as the one that is on


def test_the_same_seed_is_the_same_box() -> None:
    random = Random(1)
    for arrangement in ARRANGEMENTS:
        seed = random.randrange(99)
        assert make_hidden(arrangement, seed) == make_hidden(arrangement, seed)
