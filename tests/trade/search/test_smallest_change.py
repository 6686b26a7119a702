"""The search for a change that holds: what it offers holds, and it misses no single exchange that would."""

from __future__ import annotations

from itertools import combinations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.edits.devices import SwapGangs
from nail_count.trade.edits.registry import edit_box
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.rules.check import check_box
from nail_count.trade.search.smallest_change import fixes
from nail_count.trade.text.format import say
from tests.support import BLANK, DIMMER, SHEETS, SWITCH, box, cables, on


def swaps(made: Box) -> list[tuple[int, int]]:
    """The exchanges offered for a box."""
    found = fixes(check_box(made, SHEETS), SHEETS)
    return [(fix.edit.one, fix.edit.other) for fix in found if isinstance(fix.edit, SwapGangs)]


@given(st.lists(st.sampled_from((None, SWITCH, DIMMER, BLANK)), min_size=2, max_size=4), st.integers(80, 145))
def test_exchanges_offered_are_exactly_those_that_hold(sheets: list[object], watts: int) -> None:
    lamps = {"kind": "led", "each": f"{watts} W", "actual": True}
    devices = tuple(
        on(gang, sheet, 14, *((lamps,) if sheet is DIMMER else ()))
        for gang, sheet in enumerate(sheets, 1)
        if sheet in (SWITCH, DIMMER, BLANK)
    )
    made = box("90 in3", len(sheets), cables("14/2"), devices)
    check = check_box(made, SHEETS)
    taken = {device.gang for device in devices}
    pairs = [pair for pair in combinations(range(1, len(sheets) + 1), 2) if taken.intersection(pair)]
    swapped = {pair: edit_box(made, "swap-gangs", {"one": pair[0], "other": pair[1]}, SHEETS).box for pair in pairs}
    holding = {pair for pair, after in swapped.items() if check_box(after, SHEETS).state.passes}
    offered = swaps(made)
    assert set(offered) <= holding
    assert len(offered) == (min(len(holding), 3) if check.state is State.FAILS else 0)


def test_a_box_too_small_is_told_how_large_it_would_have_to_be() -> None:
    made = box("22.5 in3", 1, cables("12/2", "12/2", "12/3"), (on(1, SWITCH, 12),), clamps=True)
    found = fixes(check_box(made, SHEETS), SHEETS)
    assert [say(fix.sentence) for fix in found] == ["a box of 24.75 in³ or more"]
    assert check_box(box("24.75 in3", 1, made.cables, made.devices, clamps=True), SHEETS).state is State.TIGHT


def test_what_is_offered_passes_every_check_and_not_only_the_one_that_failed() -> None:
    """A swap that would put a deep body where a shallow one stood, a larger box that is no deeper: not offered."""
    lamps = {"kind": "led", "each": "120 W", "actual": True}
    ganged = box("90 in3", 3, cables("14/2"), (on(1, DIMMER, 14, lamps), on(2, SWITCH, 14)))
    assert check_box(ganged, SHEETS).state is State.FAILS
    assert swaps(ganged) == [(2, 3)]
    needy = SHEETS | {"dimmer": DIMMER.changed(neutral="needed")}
    nowhere = ganged.changed(survey=ganged.survey.changed(neutral=False))
    assert fixes(check_box(nowhere, needy), needy) == (), "expected no swap: it still needs a neutral that is not there"
    small = box("22.5 in3", 1, cables("12/2", "12/2", "12/3"), (on(1, SWITCH, 12),), clamps=True, depth="1 in")
    assert check_box(small, SHEETS).depth is not None
    assert fixes(check_box(small, SHEETS), SHEETS) == (), "expected no larger volume: it is still too shallow"
    deep = SHEETS | {"dimmer": DIMMER.changed(body={"width": "1 in", "height": "1 in", "projection": "1.6 in"})}
    full = box("4x1-1/2 square", 1, cables(*["14/2"] * 5), (on(1, DIMMER, 14),))
    check = check_box(full, deep)
    assert {answer.about for answer in check.answers if answer.state is State.FAILS} == {"fill", "bulk"}
    assert fixes(check, deep) == (), "expected no larger volume: a body of 1.6 in does not go into 1.5 in"


def test_a_swap_after_which_something_else_is_open_is_not_offered() -> None:
    asked = {"kind": "led", "each": "120 W"}  # whether that is the lamp it replaces is open, once it no longer fails
    made = box("90 in3", 3, cables("14/2"), (on(1, DIMMER, 14, asked), on(2, SWITCH, 14)))
    assert check_box(made, SHEETS).state is State.FAILS and fixes(check_box(made, SHEETS), SHEETS) == ()
