"""The hook-up on the real pages: proposed, thrown, broken by hand, seen failing, taken back; runs said on the map."""

from __future__ import annotations

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from .hand import Hand
from .test_hand import drag

pytestmark = pytest.mark.browser
DOOR = "/jobs/schoolhouse/boxes/front-door/hookup"


def state(hand: Hand) -> str:
    return hand.text("#proof-title .state").lower()


def throw(hand: Hand, name: str) -> None:
    """Throws a breaker or a switch on the drawing."""
    before = hand.text("#live-said")
    hand.driver.execute_script(
        "[...document.querySelectorAll('.throw')].find((one) => one.textContent.startsWith(arguments[0])).click()", name
    )
    hand.wait(lambda: hand.text("#live-said") != before)


def test_proposed_thrown_broken_by_hand_seen_failing_and_taken_back(hand: Hand) -> None:
    """The front door and its two lamps: they go on and off, a wire moved to the hot is said at once."""
    hand.go(DOOR)
    hand.act(lambda: hand.press("#clear button"))
    assert state(hand) == "open" and "nothing is joined here yet" in hand.text("#proof-title").lower()
    hand.act(lambda: hand.press("#propose button"))
    assert state(hand) == "holds"
    assert "Porch lantern is dark" in hand.text("#live-said") and not hand.all(".lamp.burns")
    throw(hand, "Front door, Porch")
    assert "Porch lantern burns" in hand.text("#live-said") and len(hand.all(".lamp.burns")) == 1
    throw(hand, "Breaker 5")
    assert "nothing here is live" in hand.text("#live-said")
    Select(hand.one("#join-end")).select_by_value("B1")
    hot = next(one.text for one in hand.all("#join-to option") if one.text.startswith("hot"))
    Select(hand.one("#join-to")).select_by_visible_text(hot)
    hand.act(lambda: hand.press("#join > button"))
    assert state(hand) == "fails"
    hand.press(".verdict-panel .finding a")
    hand.wait(lambda: "With breaker 5 on" in hand.text("#live-said"))
    hand.act(lambda: hand.press("#undo"))
    assert state(hand) == "holds"
    assert hand.axe() == []


def test_an_end_is_tapped_and_then_what_it_joins(hand: Hand) -> None:
    """On the drawing, by touch and by keys; and dragged there."""
    hand.go(DOOR)
    hand.act(lambda: hand.press('[aria-label^="Take A1 black"]'))
    assert "A1 black" in hand.text(".loose-ends") and state(hand) == "fails"
    hot = '#hookup-drawn [data-splice][aria-label^="hot"]'
    hand.driver.execute_script("document.querySelector('[data-end=A1]').focus()")
    ActionChains(hand.driver).send_keys(Keys.ENTER).perform()
    assert hand.all("[data-end=A1].picked")
    hand.driver.execute_script("document.querySelector(arguments[0]).focus()", hot)
    hand.act(lambda: ActionChains(hand.driver).send_keys(Keys.ENTER).perform())
    assert state(hand) == "holds"
    hand.act(lambda: hand.press('[aria-label^="Take A1 black"]'))
    hand.act(lambda: drag(hand, "#hookup-drawn [data-end=A1] circle", f"{hot} .connector"))
    assert state(hand) == "holds"


def test_a_reading_that_differs_names_what_gives_it(hand: Hand) -> None:
    hand.phone()
    hand.go(DOOR)
    for name, value in (("point", "A1"), ("state", "breakers on, everything off"), ("volts", "lots")):
        hand.fill("measure", name, value)
    hand.press("#measure > button")
    hand.wait(lambda: hand.all("#measure-volts-expected"))
    hand.fill("measure", "volts", "119 V")
    hand.press("#measure > button")
    hand.wait(lambda: len(hand.all(".taken")) == 1)
    assert "as expected" in hand.text(".taken")
    hand.fill("measure", "point", "d1-1")
    hand.fill("measure", "state", "breakers on, everything off")
    hand.fill("measure", "volts", "0.3")
    hand.press("#measure > button")
    hand.wait(lambda: len(hand.all(".taken")) == 2)
    assert ", expected " in hand.text(".taken")
    assert "line pulled out of its splice" in hand.text(".taken ol").lower()
    assert hand.fits()
    assert hand.axe() == []
    hand.go(DOOR)
    assert len(hand.all(".taken")) == 2, "they stay"
    hand.press('[aria-label="Take back the reading at Porch: line"]')
    hand.wait(lambda: len(hand.all(".taken")) == 1)


def test_where_a_cable_goes_is_said_on_the_map(hand: Hand) -> None:
    """Tapped from end to end, said at both; a cable that is not there is said beside what was typed."""
    hand.go("/jobs/schoolhouse/map")
    ends = '#map .map-end[data-box="{}"][data-cable="{}"]'
    assert hand.all(ends.format("cloakroom", "C") + ".unsaid")
    hand.press(ends.format("cloakroom", "C") + " circle:last-of-type")
    hand.press(ends.format("washroom", "C") + " circle:last-of-type")
    hand.wait(lambda: not hand.all(ends.format("cloakroom", "C") + ".unsaid"))
    assert not hand.all(ends.format("washroom", "C") + ".unsaid")
    hand.press("#runs summary")
    hand.fill("run", "cable", "Q")
    hand.press("#run button")
    hand.wait(lambda: hand.all("#run-cable-expected"))
    assert "there is no cable Q" in hand.text("#run-cable-expected")
    assert hand.axe() == []
    hand.phone()
    hand.go("/jobs/schoolhouse/map")
    assert hand.fits()
    wide = hand.one("#map").get_dom_attribute("viewBox")
    hand.press('[data-zoom="in"]')
    assert hand.one("#map").get_dom_attribute("viewBox") != wide
    hand.press('[data-zoom="fit"]')
    hand.press('#map [data-circuit="5"]')
    fed = (hand.one('#map [data-circuit="5"]').get_dom_attribute("data-way") or "").split()
    assert len(hand.all("#map .map-run.lit")) == len(fed) > 2


def test_the_sheet_and_what_was_found(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/front-door/hookup/sheet")
    assert "readings to expect" in hand.text("#main").lower() and "checked in all" in hand.text("#main")
    hand.go("/jobs/schoolhouse/boxes/front-door/hookup-found")
    hand.act(lambda: hand.press("#begin button"))
    assert "as found" in hand.text("h1") and hand.all("#join")
    Select(hand.one("#join-end")).select_by_value("A1")
    Select(hand.one("#join-to")).select_by_value("B1")
    hand.act(lambda: hand.press("#join > button"))
    assert hand.axe() == []
    hand.go(DOOR)
    hand.open("#as-found")
    assert "Live as found: A1 black, B1 black." in hand.text("#as-found") and "Porch: line" in hand.text(
        "#live > .note"
    )
    assert "Disconnect" in hand.text(".work") and hand.axe() == []


def test_the_usual_old_wiring_is_assumed_and_checked_before_anything_is_opened(hand: Hand) -> None:
    hand.phone()
    hand.go("/jobs/schoolhouse/boxes/front-door/hookup-found")
    hand.act(lambda: hand.press("#begin button"))
    hand.act(lambda: hand.press("#propose button"))
    assert "assumed, not checked yet" in hand.text("#proof-title").lower() and state(hand) == "open"
    assert hand.fits() and hand.axe() == []
    hand.go("/jobs/schoolhouse/boxes/front-door/install")
    assert "Check the old wiring" in hand.driver.page_source
    hand.go("/jobs/schoolhouse/boxes/front-door/hookup-found")
    hand.act(lambda: hand.press("#confirm button"))
    assert "assumed" not in hand.text("#proof-title").lower() and not hand.all("#confirm")
