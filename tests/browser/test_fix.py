"""What makes a box hold, beside the box; a house in one run; the quote; minutes of one's own."""

from __future__ import annotations

import time

import pytest

from nail_count.web import workers

from .hand import Hand

pytestmark = pytest.mark.browser

HOUSE = "/jobs/schoolhouse"


def test_the_least_work_is_seen_beside_the_box_tried_and_kept(hand: Hand) -> None:
    hand.box("stair-foot")
    hand.wait(lambda: hand.all("#ways button"))
    assert "the gangs in their best order" in hand.text("#ways")
    hand.press("#ways a")
    hand.wait(lambda: hand.all("#way-1"))
    assert "10 min inside the box" in hand.text("#way-1") and "holds" in hand.text("#way-1 .stands")
    assert "Nothing under 10 min makes it hold" in hand.text("#searched") and hand.fits()
    hand.everyone(f"{HOUSE}/boxes/bell-room/fix")
    hand.wait(lambda: hand.all("#way-1"))
    hand.phone()
    assert hand.fits() and len(hand.all(".fix > li")) > 1
    hand.desk()
    hand.box("stair-foot/fix")
    hand.wait(lambda: hand.all("#way-1"))
    hand.press("#way-1 form button")
    hand.wait(lambda: hand.all("#tried button"))
    assert "fails" not in hand.text("#verdict")
    hand.press("#tried button[value=keep]")
    hand.wait(lambda: hand.all("#undo") and not hand.all("#tried button"))
    assert "fails" not in hand.text("#verdict")
    hand.box("stair-foot/fix")
    assert "nothing has to be done" in hand.text("main")
    hand.box("stair-foot")
    hand.act(lambda: hand.press("#undo"))
    assert "fails" in hand.text("#verdict"), "one step back, whole"


def test_ways_appear_by_themselves_and_an_open_fold_stays_open(hand: Hand) -> None:
    """Both processes are at other work when the page opens; then one is free."""
    at_work = [workers.started("search", time.sleep, 60) for _ in range(workers.AT_ONCE["search"])]
    hand.box("bell-room/fix")
    assert "Looking for the least work" in hand.text("#fix-search")
    for one in at_work:
        one.cancel()  # type: ignore[no-untyped-call]
    hand.wait(lambda: hand.all("#way-1"), 30)
    hand.press("#way-1 summary")
    hand.wait(lambda: hand.all("#way-2") and not hand.all("#fix-search[hx-get]"), 30)
    assert hand.one("#way-1 details").get_attribute("open") is not None


def test_a_house_in_one_run_is_added_up_tried_and_thrown_away(hand: Hand) -> None:
    hand.go(f"{HOUSE}/quote")  # leads to the search, which begins by itself
    hand.wait(lambda: ", done" in hand.text(".run-says"), 60)
    rows = hand.all(".run-rows > li")
    assert hand.text(".run-says").startswith(f"{len(rows)} of {len(rows)} boxes")
    assert "min" in hand.text("#run-total") and hand.axe() == []
    assert "14 AWG copper on a breaker of 20 A" in hand.text(".run-rows"), "what stays failing is said"
    hand.phone()
    assert hand.fits()
    hand.everyone(f"{HOUSE}/quote")
    assert "Together" in hand.text("table.quote tfoot")
    hand.desk()
    hand.go(f"{HOUSE}/fixes?work=inside+the+box&by=box")
    assert all("inside the box" in row.text for row in hand.all(".run-rows > li"))
    hand.press("form[action$='fixes/try'] button")
    hand.wait(lambda: hand.all("#tried button"))
    hand.press("#tried button[value=away]")
    hand.wait(lambda: not hand.all("#tried button"))
    hand.go(f"{HOUSE}/boxes/stair-foot")
    assert "fails" in hand.text("#verdict"), "nothing of it stays"


def test_minutes_of_ones_own_change_what_comes_first_and_bad_ones_are_said(hand: Hand) -> None:
    hand.everyone(f"{HOUSE}/prices")
    row = "form:has(input[name=kind][value='deeper box'])"
    for typed, said in (("-5", "Enter"), ("soon", "Enter")):
        hand.one(f"{row} input[name=minutes]").clear()
        hand.one(f"{row} input[name=minutes]").send_keys(typed)
        hand.press(f"{row} button")
        hand.wait(lambda said=said: said in hand.text(row))  # type: ignore[misc]
        assert hand.one(f"{row} input[name=minutes]").get_attribute("value") == typed
    hand.one(f"{row} input[name=minutes]").clear()
    hand.one(f"{row} input[name=minutes]").send_keys("20")
    hand.press(f"{row} button")
    hand.wait(lambda: hand.all("button[aria-label='Put in a deeper box: as usual again']"))
    hand.box("bell-room/fix")
    hand.wait(lambda: hand.all("#way-1"))
    assert "20 min wall stays closed" in hand.text("#way-1")
