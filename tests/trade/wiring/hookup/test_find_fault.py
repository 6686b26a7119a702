"""Every fault put into every scheme is found by following what the page says, in the fewest readings there can be."""

from __future__ import annotations

from collections.abc import Sequence

import pytest

from nail_count.trade.wiring.hookup.find_fault import (
    EXACT,
    Point,
    Seen,
    Suspect,
    as_it_should,
    left,
    next_reading,
    suspects,
)
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.schemes import PROVEN


def fewest(among: Sequence[Suspect], known: dict[frozenset[int], int]) -> int:
    """The fewest readings at worst, by trying all orders: a plain recursion over sets of causes."""
    key = frozenset(map(id, among))
    if key not in known:
        best = None
        for at in among[0].reads:
            yes = [one for one in among if one.reads[at] is True]
            no = [one for one in among if one.reads[at] is False]
            if yes and no and len(yes) + len(no) == len(among):
                here = 1 + max(fewest(yes, known), fewest(no, known))
                best = here if best is None or here < best else best
        known[key] = best or 0
    return known[key]


def alike(one: Suspect, other: Suspect) -> bool:
    """Whether no reading in the box tells two faults apart."""
    return all(shown in (other.reads[at], None) or other.reads[at] is None for at, shown in one.reads.items())


@pytest.mark.parametrize("name", sorted(PROVEN)[::2])
def test_every_fault_is_found_by_following_the_readings(name: str) -> None:
    house = hooked_up(PROVEN[name])
    every, good = suspects(house, "a"), as_it_should(house)
    played = 0
    for hidden in every:
        wrong = [load for load, does in hidden.loads.items() if does != good[load]]
        if not wrong:
            continue  # nobody would look for it
        load, taken = wrong[0], dict[Point, bool]()
        among = left(every, load, hidden.loads[load], taken)
        most = fewest(among, {}) if len(among) <= EXACT else None
        while (at := next_reading(among, taken)) is not None:
            shown = hidden.reads[at]
            assert shown is not None and at not in taken
            taken[at] = shown
            fewer = left(every, load, hidden.loads[load], taken)
            assert len(fewer) < len(among), "each reading leaves fewer"
            among = fewer
        assert hidden in among and all(alike(one, hidden) for one in among)
        assert most is None or len(taken) <= most
        played += 1
    assert played


def test_a_dead_lamp_by_hand() -> None:
    """Feed at the switch, everything on. Nothing at A1: the breaker. Full at A1, nothing at B1: the line is loose."""
    house = hooked_up(PROVEN["feed at the switch, switch"])
    ((load, good),) = as_it_should(house).items()
    assert good == Seen(off=False, on=True)

    def causes(**shown: bool) -> set[str]:
        taken = {Point(f"a/{at}", "breakers on, everything on"): full for at, full in shown.items()}
        return {one.fault.words for one in left(suspects(house, "a"), load, Seen(off=False, on=False), taken)}

    assert causes(A1=False) == {"breaker 1 is off or has tripped"}
    line = causes(A1=True, B1=False)
    assert "switch: line pulled out of its splice in a" in line and "breaker 1 is off or has tripped" not in line
    beyond = causes(A1=True, B1=True)
    assert beyond and all("load pulled" not in words and "line pulled" not in words for words in beyond)
    assert any("in lamp" in words for words in beyond), "the feed leaves the box: look at the lamp, and at the neutral"
