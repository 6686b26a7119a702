"""The order of splices against every order there is, and their places against another library."""

from __future__ import annotations

from itertools import combinations, pairwise, permutations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import isotonic_regression

from nail_count.drawing.crossings import EXACT, Row, splice_order, spread_out
from nail_count.drawing.hookup import hookup_drawing
from nail_count.drawing.titles import titles_of
from nail_count.drawing.way import Curve
from nail_count.trade.wiring.hookup.stages import ends_of
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.schemes import PROVEN


def crossed(rows: list[Row], order: list[str]) -> int:
    """Count the pairs of wires that cross, as somebody with a pencil would."""
    count = 0
    for row in rows:
        wires = [order.index(splice) for group in row for splice in sorted(group, key=order.index)]
        count += sum(one > other for one, other in combinations(wires, 2))
    return count


def rows_of(letters: str) -> st.SearchStrategy[list[Row]]:
    group = st.lists(st.sampled_from(letters), min_size=1, max_size=4)
    return st.lists(st.lists(group, max_size=4), min_size=2, max_size=2)


@given(rows_of("abcde"))
def test_no_order_crosses_fewer_wires(rows: list[Row]) -> None:
    order = splice_order(rows)
    assert sorted(order) == sorted({splice for row in rows for group in row for splice in group})
    assert crossed(rows, order) == min(crossed(rows, list(other)) for other in permutations(order))


@given(rows_of("abcdefghijkl"))
def test_of_many_splices_no_single_one_moved_crosses_fewer(rows: list[Row]) -> None:
    order = splice_order(rows)
    if len(order) > EXACT:
        rest = [[one for one in order if one != moved] for moved in order]
        others = [
            [*some[:at], moved, *some[at:]] for moved, some in zip(order, rest, strict=True) for at in range(len(order))
        ]
        assert crossed(rows, order) <= min(crossed(rows, other) for other in others)


@given(st.lists(st.floats(-500, 500), min_size=1, max_size=14))
def test_places_are_those_of_an_isotonic_regression(wanted: list[float]) -> None:
    steps = np.arange(len(wanted)) * 17.0
    expected = isotonic_regression(np.array(wanted) - steps).x + steps
    assert np.allclose(spread_out(wanted, 17.0), expected)


def test_the_wires_drawn_cross_as_seldom_as_counted() -> None:
    """Drawn from every scheme: two wires cross where their ends lie in one order and their splices in the other."""
    for name in sorted(PROVEN)[::3]:
        house = hooked_up(PROVEN[name])
        for box in house.boxes:
            if not any(one.ends for one in box.splices):
                continue
            drawn = hookup_drawing(ends_of(house, box, "planned"), box.splices, titles_of(house, box))
            xs = sorted(one.x for one in drawn.splices if one.y == drawn.splices[0].y)
            assert all(b - a > 10 for a, b in pairwise(xs)), "no two connectors on each other"
            for group in {end.named.of for end in drawn.ends}:
                mine = sorted((end for end in drawn.ends if end.named.of == group), key=lambda end: end.x)
                wires = [(end, way) for end in mine for one in drawn.splices for way, *_ in one.wires]
                ways = [way for end, way in wires if isinstance(way, Curve) and way.start == (end.x, end.y)]
                reached = [way.end[0] for way in ways]
                assert reached == sorted(reached), (name, group, "wires of one cable do not cross")
