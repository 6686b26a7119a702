"""Readings to expect, by the published ranges and by another library; and the faults that give one that differs."""

from __future__ import annotations

import pytest

from nail_count.trade.wiring.hookup.graph import graph
from nail_count.trade.wiring.hookup.network import InState
from nail_count.trade.wiring.hookup.readings import agrees, expected, faults, kind_at, says, shown_by, usual_states
from tests.trade.wiring.hookup.outside import voltages
from tests.trade.wiring.hookup.schemes import PROVEN, feed, loop
from tests.trade.wiring.hookup.test_propose import hooked_up


def test_ranges_at_the_box() -> None:
    """ANSI C84.1 utilization range of a nominal 120 V: 108 to 126 V; from memory. 230 V ± 10 % in the UK."""
    assert says("hot", 120) == "108 to 126 V" and says("hot", 230) == "207 to 253 V"
    assert [shown_by(volts, 120) for volts in (107.9, 108, 126, 126.1, 2, 1.9, 0)] == [
        "between", "full", "full", "between", "between", "nothing", "nothing",
    ]  # fmt: skip


@pytest.mark.parametrize("name", PROVEN)
def test_what_is_expected_is_what_kirchhoff_gives(name: str) -> None:
    """Full voltage where the other library has 120 V, nothing where it has none; what leaks has no figure."""
    house = hooked_up(PROVEN[name])[0]
    seen = graph(house)
    for state_name, state in usual_states(seen).items():
        shown = voltages(seen.network, state)
        for box in house.boxes:
            points = expected(seen, box.id, 120)
            assert points or not box.contents.devices
            for node, shows in points.items():
                volts, kind = abs(shown.get(node, 0.0)), shows[state_name].kind
                assert kind == "leaks" or (kind in ("hot", "through")) == (volts > 100), (node, kind)
                assert agrees(kind, shown_by(volts, 120))


@pytest.mark.parametrize("name", ["three-way, apart", "three-way, dead end", "main at the line end"])
def test_everything_off_is_off_where_no_switch_has_an_off(name: str) -> None:
    """A three-way has no off of its own; by the other library the lamps have no voltage, and full voltage when on."""
    seen = graph(hooked_up(PROVEN[name])[0])
    across = {
        named: [abs(shown[load.one] - shown[load.other]) for load in seen.network.loads]
        for named, state in usual_states(seen).items()
        for shown in [voltages(seen.network, state)]
    }
    assert all(volts < 100 for volts in across["breakers on, everything off"])
    assert all(volts > 100 for volts in across["breakers on, everything on"])


def test_a_dead_line_is_a_loose_hot_or_a_breaker() -> None:
    """Common practice: after folding, the splice pulled loose is looked at first; a breaker last."""
    house = hooked_up(feed("smart"))[0]
    seen = graph(house)
    on = usual_states(seen)["breakers on, everything off"]
    assert kind_at(InState(seen.network, on), "a/d1.1") == "hot"
    found = faults(house, "a", "planned", node="a/d1.1", state=on, shown="nothing")
    words = [one.words for one in found]
    assert (
        words[0] == "A1 black pulled out of its splice in a" and words[1] == "smart: line pulled out of its splice in a"
    )
    assert words[-1] == "breaker 1 is off or has tripped"
    tells = {one.words: one.tells for one in found}
    assert tells["smart: line pulled out of its splice in a"] == "A1, black: full voltage"
    assert tells["breaker 1 is off or has tripped"] == "A1, black: nothing"


def test_line_and_load_exchanged_is_among_the_faults() -> None:
    """The line lead is dead while its lamp is off."""
    house = hooked_up(loop("smart", 3))[0]
    seen = graph(house)
    off = usual_states(seen)["breakers on, everything off"]
    found = [one.words for one in faults(house, "a", "planned", node="a/d1.1", state=off, shown="nothing")]
    assert "line and load exchanged on a, smart" in found


def test_in_between_is_a_bad_joint_or_a_ghost() -> None:
    house = hooked_up(feed("switch"))[0]
    off = usual_states(graph(house))["every breaker off"]
    joint, ghost = faults(house, "a", "planned", node="a/A1", state=off, shown="between")
    assert "bad joint" in joint.words and "80 V" in ghost.words and ghost.tells == "a loaded meter"


def test_a_breaker_that_is_not_off() -> None:
    house = hooked_up(feed("switch"))[0]
    off = usual_states(graph(house))["every breaker off"]
    (only,) = faults(house, "a", "planned", node="a/A1", state=off, shown="full")
    assert only.words == "breaker 1 is not off"
