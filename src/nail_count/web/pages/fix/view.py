"""Ways to make a box hold, as pages show them: the box as it is beside each, with the differences."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ....drawing.bar import Bar, bar
from ....drawing.rail import Rail, rail
from ....files.fix_report import searched
from ....trade.compare.boxes import differences
from ....trade.model.answer import Answer, State
from ....trade.model.job import Job, by_id
from ....trade.rules.check import BoxCheck
from ....trade.search.supposed import waits_for_neutral
from ....trade.search.ways import Way, Ways, would_do
from ....trade.search.whole_job import HOUR, Mended
from ....trade.text.format import say

MOST_BARS = 4
"""Bars shown of a box: those that leave least."""


@dataclass(frozen=True, slots=True)
class Side:
    """A box on one side of the comparison."""

    state: str
    headline: str
    rail: Rail
    fill: Answer
    bars: tuple[tuple[Answer, Bar], ...]


@dataclass(frozen=True, slots=True)
class WayView:
    """A way, as it is shown."""

    number: int
    way: Way
    side: Side
    otherwise: tuple[tuple[str, tuple[str, ...]], ...]
    """By box: the differences in it."""
    parts: tuple[str, ...]
    frees: tuple[str, ...]
    money: Fraction | None
    to_hook_up: tuple[str, ...]
    """Names of the boxes without a hook-up."""
    searched: str


@dataclass(frozen=True, slots=True)
class FixView:
    """What the page of a box shows."""

    ways: Ways | None
    """None as long as nothing is known yet."""
    fails: bool
    now: Side
    looks: bool
    """Whether nothing fails, but the neutral it needs has not been looked for."""
    if_there: Side | None
    """The box with that neutral; None where nobody has to look, or it isn't known yet."""
    each: tuple[WayView, ...]
    in_the_way: tuple[tuple[str, str], ...]
    """What stays in the way, and what would do."""
    leaves: tuple[str, ...]
    searched: str
    open_points: tuple[tuple[str, tuple[str, ...]], ...] = ()
    """Where nothing fails: what has not been looked at yet, each with the ways out."""


def side(check: BoxCheck) -> Side:
    """A box as one side of the comparison shows it."""
    worst = sorted(check.ratings, key=lambda one: (-one.state, one.title))[:MOST_BARS]
    shown = [one for one in check.ratings if one in worst]
    return Side(
        check.state.word,
        say(check.headline),
        rail(check.fill),
        check.fill,
        tuple((one, bar(one)) for one in shown),
    )


def fix_view(job: Job, now: BoxCheck, found: Ways | None) -> FixView:
    """Return what the page of a box shows.

    Args:
        job: the box is in.
        now: the box as it is.
        found: what the search has found so far; None: nothing yet.
    """
    fails = now.state is State.FAILS
    looks = not fails and waits_for_neutral(now)
    points = tuple(_open_points(now)) if not fails else ()
    if found is None:
        return FixView(None, fails, side(now), looks, None, (), (), (), "", points)
    each = tuple(way_view(job, number, way) for number, way in enumerate(found.ways, 1))
    left = [one for one in found.in_the_way if one not in found.leaves]
    return FixView(
        found,
        fails,
        side(now),
        looks,
        None if found.if_there is None else side(found.if_there),
        each,
        tuple((_said(one), say(would_do(one))) for one in left),
        tuple(_said(one) for one in found.leaves),
        searched(found.found) if found.found else "",
        points,
    )


def _open_points(check: BoxCheck) -> Iterator[tuple[str, tuple[str, ...]]]:
    for answer in check.answers:
        for remark in answer.remarks:
            if remark.state is State.OPEN and remark.code != "neutral-not-known":  # which has a card of its own
                yield say(remark.text), remark.ways


def way_view(job: Job, number: int, way: Way) -> WayView:
    """A way, as it is shown."""
    prices = {price.what: price.each for price in job.prices}
    money = way.money(prices.get(HOUR))
    sheets, before = by_id(job.sheets), {box.id: box for box in job.boxes}
    names = {id: sheet.name for id, sheet in sheets.items()}
    otherwise = [(box.name, differences(before[box.id], box, sheets)) for box in way.boxes if box.id in before]
    return WayView(
        number,
        way,
        side(way.check),
        tuple((name, sentences) for name, sentences in otherwise if sentences),
        _counted([names.get(part, part) for part in way.parts]),
        _counted([names.get(part, part) for part in way.frees]),
        money,
        tuple(before[key].name for key in way.to_hook_up if key in before),
        searched(way.found),
    )


def _counted(names: Sequence[str]) -> tuple[str, ...]:
    return tuple(f"{names.count(name)} × {name}" for name in dict.fromkeys(names))


def _said(answer: Answer) -> str:
    return f"{say(answer.title)}: {say(answer.headline)}"


ORDERS = {"price": "price", "box": "order of the house", "work": "kind of work"}
"""By what a run is sorted, and how that is called."""


def sorted_rows(rows: Sequence[Mended], by: str, work: str) -> list[Mended]:
    """The boxes of a run in an order, of one kind of work only where that is asked for."""
    shown = [one for one in rows if not work or (one.way is not None and one.way.work == work)]
    if by == "box":
        return shown
    if by == "work":
        return sorted(shown, key=lambda one: one.way.work if one.way else "")
    return sorted(shown, key=lambda one: one.way.minutes if one.way else -1, reverse=True)
