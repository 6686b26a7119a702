"""Order the splices of a hook-up from left to right so that few of its wires cross."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from itertools import combinations

EXACT = 8
"""With up to so many splices every order is compared; with more, one is moved at a time while that helps."""

Row = Sequence[Sequence[str]]
"""The ends of a row, cable by cable or device by device: the splice of each."""


def splice_order(rows: Sequence[Row]) -> list[str]:
    """Order splices so that few wires cross, where the wires of one cable or device are sorted by their splices.

    Every splice lies on one line between the rows, so two wires cross if their ends and their splices lie in opposite
    orders. Wires of one cable or device never cross each other, since they can be sorted.

    Args:
        rows: the row above and the row below the splices.

    >>> splice_order([[["hot", "neutral"], ["leg", "neutral"]], [["leg", "hot"]]])
    ['hot', 'neutral', 'leg']
    """
    start = _by_middle(rows)
    cost = _crossings_by_pair(rows)
    return _best_order(start, cost) if len(start) <= EXACT else _moved_one_by_one(start, cost)


def _by_middle(rows: Sequence[Row]) -> list[str]:
    """Order the splices by the middle of their ends."""
    places: dict[str, list[int]] = {}
    for row in rows:
        for place, splice in enumerate(splice for group in row for splice in group):
            places.setdefault(splice, []).append(place)
    return sorted(places, key=lambda splice: sum(places[splice]) / len(places[splice]))


def _crossings_by_pair(rows: Sequence[Row]) -> Mapping[tuple[str, str], int]:
    """Count how many wires cross where the first of two splices lies left of the second."""
    cost: dict[tuple[str, str], int] = defaultdict(int)
    for row in rows:
        for left, right in combinations(row, 2):
            for one in left:
                for other in right:
                    if one != other:
                        cost[other, one] += 1
    return cost


def _best_order(splices: Sequence[str], cost: Mapping[tuple[str, str], int]) -> list[str]:
    """Find the order with the fewest crossings: for each set of splices, the best of the orders that begin with it."""
    best: dict[int, tuple[int, tuple[int, ...]]] = {0: (0, ())}
    for taken in range(1 << len(splices)):
        so_far, order = best.pop(taken)
        if len(order) == len(splices):
            return [splices[number] for number in order]
        for number, splice in enumerate(splices):
            if not taken >> number & 1:
                more = so_far + sum(cost.get((splices[one], splice), 0) for one in order)
                there = best.get(taken | 1 << number)
                if there is None or more < there[0]:
                    best[taken | 1 << number] = (more, (*order, number))
    raise AssertionError


def _moved_one_by_one(splices: Sequence[str], cost: Mapping[tuple[str, str], int]) -> list[str]:
    """Move one splice at a time to where it saves most, until none saves anything."""
    order = list(splices)
    saves = True
    while saves:
        saves = False
        for splice in tuple(order):
            rest = [one for one in order if one != splice]
            crossed = [sum(cost.get((splice, one), 0) for one in rest)]
            for one in rest:
                crossed.append(crossed[-1] + cost.get((one, splice), 0) - cost.get((splice, one), 0))
            if min(crossed) < crossed[order.index(splice)]:
                place = crossed.index(min(crossed))
                order = [*rest[:place], splice, *rest[place:]]
                saves = True
    return order


def spread_out(wanted: Sequence[float], least: float) -> list[float]:
    """Place points as near to where they are wanted as possible, in this order and at least so far apart.

    The sum of the squares of how far each is moved is the least: neighbors that would be too close share their mean.

    >>> spread_out([0, 0, 30], 10)
    [-5.0, 5.0, 30.0]
    """
    blocks: list[tuple[float, int]] = []
    for number, place in enumerate(wanted):
        mean, many = float(place - number * least), 1
        while blocks and blocks[-1][0] >= mean:
            before, count = blocks.pop()
            mean, many = (mean * many + before * count) / (many + count), many + count
        blocks.append((mean, many))
    flat = [mean for mean, many in blocks for _ in range(many)]
    return [place + number * least for number, place in enumerate(flat)]
