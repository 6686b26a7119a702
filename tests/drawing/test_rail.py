"""The rail says what the count says: nails as long as what they count, bent where they are too much."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from hypothesis import given
from hypothesis import strategies as st

from nail_count.drawing.badge import badge, badge_text, read_badge
from nail_count.drawing.rail import MOST_MARKS, lay, rail
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.rules.check import check_box
from tests.support import SHEETS, any_box

LENGTHS = st.fractions(min_value="1/4", max_value=10, max_denominator=16)


@given(any_box())
def test_nails_are_as_long_as_the_count_and_bent_where_it_is_over(box: Box) -> None:
    fill = check_box(box, SHEETS).fill
    drawn = rail(fill)
    assert sum(nail.length for nail in drawn.nails if not nail.open) == fill.total
    assert drawn.capacity == fill.limit
    known = not any(nail.open for nail in drawn.nails)
    assert (not known) or any(nail.hangs for nail in drawn.nails) == (fill.margin is not None and fill.margin < 0)
    for one, other in pairwise(drawn.nails):
        assert other.start == one.start + one.length
    assert {group.line for group in drawn.groups} == {nail.line for nail in drawn.nails}
    small = read_badge(badge_text(fill))
    heads = [path for marked, path in small.strokes if marked.startswith("head")]
    assert small == badge(drawn) and sum(path.count("M") for path in heads) == len(drawn.nails)
    assert small.wood * drawn.scale == (drawn.scale if fill.limit is None else fill.limit)
    assert any(marked == "head hangs" for marked, _ in small.strokes) == any(nail.hangs for nail in drawn.nails)


@given(st.lists(LENGTHS, max_size=8), LENGTHS, LENGTHS)
def test_marks_stand_for_the_whole_conductors_that_would_still_go(
    held: list[Fraction], spare: Fraction, one: Fraction
) -> None:
    """By plain counting: one conductor more at a time, as long as there is room."""
    total = sum(held, Fraction(0))
    drawn = lay([("a", "", "conductors", length) for length in held], total + spare, State.HOLDS, one)
    fits, at = 0, total
    while at + one <= total + spare and fits < MOST_MARKS:
        at, fits = at + one, fits + 1
    assert len(drawn.marks) == fits and all(total < mark <= total + spare for mark in drawn.marks)


def test_a_nail_at_the_end_is_driven_as_far_as_there_is_wood() -> None:
    """Of 6 in³ into 4 in³ two thirds go in."""
    (nail,) = lay([("a", "A", "conductors", Fraction(6))], Fraction(4), State.FAILS).nails
    assert nail.hangs and round(nail.inside, 6) == round(200 / 3, 6)


def test_what_is_not_known_is_drawn_open_and_an_empty_rail_has_a_length() -> None:
    (nail,) = lay([("a", "A", "conductors", None)], None, State.OPEN).nails
    assert nail.open and not nail.hangs
    assert lay([], None, State.OPEN).scale == 1
