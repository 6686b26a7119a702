"""Parts and the day on the real pages: ticked on the phone, there after a restart, planned again from what is done."""

from __future__ import annotations

import shutil
import time
from pathlib import Path

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.keys import Keys

from nail_count.web import workers

from .driving import served
from .hand import Hand

pytestmark = pytest.mark.browser
PARTS, DAY = "/jobs/schoolhouse/parts", "/jobs/schoolhouse/day"
DIMMER = '[aria-label$="Rocker dimmer"]'


def slots(hand: Hand) -> str:
    """The slots of the plan, once it is there."""
    hand.wait(lambda: hand.all("#plan:not([hx-get]) .slots"), 30)
    return " ".join(one.text for one in hand.all("#plan .slots"))


def test_ticked_on_the_phone_and_there_after_a_restart(driver: Chrome, demo: Path, tmp_path: Path) -> None:
    file = Path(shutil.copy(demo, tmp_path / "demo.sqlite3"))
    with served(file) as address:
        hand = Hand(driver, address)
        hand.phone()
        hand.go(PARTS)
        assert hand.fits() and hand.text(DIMMER) == "Mark bought"
        hand.press(DIMMER)
        hand.wait(lambda: hand.text(DIMMER) == "Mark loaded")
        line = hand.one(f"tr:has({DIMMER})")
        assert "3 of 4 bought" in line.text and not hand.all("#open-part"), "the line says so, and nothing opens"
        line.find_element("css selector", ".part-name").click()
        hand.wait(lambda: hand.all("#open-part"))
        form = hand.one("#open-part form").find_element("name", "asked_by").get_attribute("value")
        hand.fill(str(form), "count", "lots")
        hand.press("#open-part form button")
        hand.wait(lambda: hand.all("#open-part .expected"))
        assert "Enter how many, such as 5" in hand.text("#open-part .expected")
        assert hand.one(f"#{form}-count").get_attribute("value") == "lots", "nothing typed is lost"
        hand.go(DAY)
        assert "Study" in slots(hand) and hand.fits()
        assert not hand.one("#plan .timeline").is_displayed() and hand.one("#plan .stretch").is_displayed()
        place = hand.text("#plan .next-place .big-says a")
        hand.press("#plan .next-place button")
        hand.wait(lambda: hand.all(f'[aria-label="Take back: {place} begun"]'))
        slots(hand)
        hand.press('[aria-label="Done: Study"]')
        hand.wait(lambda: hand.all('[aria-label="Take back: Study done"]'))
        assert "Study" not in slots(hand), "the rest is planned again"
    with served(file) as address:
        hand = Hand(driver, address)
        hand.go(PARTS)
        assert hand.text(DIMMER) == "Mark loaded"
        hand.go(DAY)
        assert hand.all('[aria-label="Take back: Study done"]') and "Study" not in slots(hand)
        hand.press('[aria-label="Take back: Study done"]')
        hand.wait(lambda: hand.all('[aria-label="Done: Study"]'))
        assert "Study" in slots(hand)


def test_what_the_days_are_planned_by(hand: Hand) -> None:
    """Hours and lengths as people write them, a day shorter than a place, a promise that cannot be kept, undo."""
    hand.go(DAY)
    slots(hand)
    hand.open("#at-stair-foot details")
    hand.fill("place-stair-foot", "minutes", "soon")
    hand.press("#place-stair-foot > button")
    hand.wait(lambda: hand.all("#place-stair-foot-minutes-expected"))
    assert "Enter a time such as 45 min or 1 h 30" in hand.text("#place-stair-foot-minutes-expected")
    hand.fill("place-stair-foot", "minutes", "9 h")
    hand.press("#place-stair-foot > button")
    hand.wait(lambda: "Not in the plan: Stair foot" in hand.text("#plan"), 30)
    assert "no day from 8:00 to 16:30 holds it" in hand.text("#plan")
    hand.press("#undo")
    hand.wait(lambda: "Stair foot" in slots(hand), 30)
    hand.fill("promise", "circuit", "5")
    hand.fill("promise", "what", "router")
    hand.fill("promise", "back_by", "8.30 am")
    hand.press("#promise > button")
    hand.wait(lambda: "Router: promised back by 8:30" in hand.text("#plan"), 30)
    hand.everyone(DAY)
    slots(hand)
    assert hand.axe() == []
    hand.everyone(PARTS)
    hand.go(f"{DAY}/door")
    assert "Do not switch on" in hand.text("h1") and hand.axe() == []


def test_a_left_over_is_planned_where_it_holds(hand: Hand) -> None:
    hand.go(f"{PARTS}/left-over/ostrel-smart-dimmer")
    hand.press('[aria-label="Put it into the plan of Front door, gang 2"]')
    hand.wait(lambda: hand.all("#bench"))
    assert "Smart dimmer" in hand.text("#front-section") or "Smart dimmer" in hand.text("#bench")
    hand.go(f"{PARTS}/left-over/marrowby-toggle")
    assert "Nowhere in this house" in hand.text("#main") and hand.axe() == []


def test_a_box_on_the_ladder_left_on_one_device_and_found_on_another(
    driver: Chrome, demo: Path, tmp_path: Path
) -> None:
    """Ticked with who; out of order refused in a sentence; refused with a reason; at the same step after a restart."""
    file = Path(shutil.copy(demo, tmp_path / "demo.sqlite3"))
    ladder = "/jobs/schoolhouse/boxes/front-door/install"
    with served(file) as address:
        hand = Hand(driver, address)
        hand.phone()
        hand.go(ladder)
        assert "1. Turn off breaker 5" in hand.text("#step-title") and hand.fits()
        ActionChains(driver).send_keys(Keys.ARROW_RIGHT).perform()
        hand.wait(lambda: "2. Lock" in hand.text("#step-title"))
        ActionChains(driver).send_keys(Keys.ARROW_LEFT).perform()
        hand.wait(lambda: "1. Turn off" in hand.text("#step-title"))
        hand.press("#done .who summary")
        hand.fill("done", "who", "Wren")
        hand.press("#done .step-done")
        hand.wait(lambda: "2. Lock and tag breaker 5" in hand.text("#step-title"))
        hand.go(f"{ladder}?step=7")
        hand.press("#done .step-done")
        hand.wait(lambda: hand.all("#done .expected"))
        assert "verify dead with the" in hand.text("#done .expected")
        hand.go(ladder)
        hand.open(".step-more details")
        hand.press("#refuse button")
        hand.wait(lambda: hand.all("#refuse-because-expected"))
        hand.fill("refuse", "because", "no lock fits it")
        hand.press("#refuse button")
        hand.wait(lambda: "3. Check with the plate on" in hand.text("#step-title"))
    with served(file) as address:
        hand = Hand(driver, address)
        hand.go(ladder)
        assert "3. Check with the plate on" in hand.text("#step-title")
        assert hand.one("#done-who").get_attribute("value") == "Wren"
        hand.open("#all-steps")
        assert "no lock fits it" in hand.text("#all-steps")
        hand.everyone(ladder)
        hand.go(f"{ladder}?step=1")
        assert "by Wren" in hand.text(".step-now")
        hand.press(".step-now .quiet")
        hand.wait(lambda: "1. Turn off breaker 5" in hand.text("#step-title") and hand.all("#done"))


def test_a_plan_is_shown_as_it_gets_better_and_can_be_stopped(hand: Hand) -> None:
    """Both processes are at other work when the page opens: it says that it looks, and stops when told to."""
    at_work = [workers.started("search", time.sleep, 60) for _ in range(workers.AT_ONCE["search"])]
    hand.go(DAY)
    assert "Looking for a plan" in hand.text("#plan") and not hand.all("#plan .slots")
    hand.press("#plan .search-row button")
    hand.wait(lambda: "Stopped. No plan was found" in hand.text("#plan"))
    for one in at_work:
        one.cancel()  # type: ignore[no-untyped-call]
    hand.go(f"{DAY}/door")
    assert "breaker" in hand.text("main").lower(), "the sheet for the door is made all the same"
    hand.go(DAY)
    assert slots(hand) and "Done looking" in hand.text("#plan .search-row")


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_what_is_read_on_the_ladder_has_strong_contrast(hand: Hand, theme: str) -> None:
    """7:1 on the steps, the hook-up, the set-up and troubleshooting (WCAG 1.4.6)."""
    hand.phone()
    hand.theme(theme)
    box = "/jobs/schoolhouse/boxes/front-door"
    for page in ("install?step=12", "hookup", "commission", "find-fault?load=front-door/l1&symptom=dead"):
        hand.go(f"{box}/{page}")
        assert hand.axe("color-contrast-enhanced") == []


def test_a_step_fits_a_phone_with_its_drawing(hand: Hand) -> None:
    """Of every step that joins wires, the words and the drawing end above Done; then all of them on paper."""
    hand.phone()
    box = "/jobs/schoolhouse/boxes/front-door/install"
    hand.go(f"{box}/sheet")
    drawn = [str(one.get_attribute("id")).removeprefix("step-") for one in hand.all(".drawn-step")]
    assert len(drawn) >= 5 and hand.fits() and hand.axe() == []
    for number in drawn:
        hand.go(f"{box}?step={number}")
        bottom, top = hand.driver.execute_script(
            "return [document.querySelector('.step-drawn svg'), document.querySelector('.step-bar')]"
            ".map((one) => one.getBoundingClientRect()).map((one, at) => at ? one.top : one.bottom)"
        )
        assert bottom <= top + 1, (number, bottom, top)


def test_a_dead_lamp_is_followed_to_its_cause(hand: Hand) -> None:
    """The porch lantern never comes on: nothing at the feed is the breaker; no hook-up said is said."""
    hand.phone()
    hand.go("/jobs/schoolhouse/boxes/front-door/install")
    hand.press('a[href$="/find-fault"]')
    hand.wait(lambda: hand.all("#which"))
    next(one for one in hand.all("[aria-labelledby=which] a") if "lantern" in one.text.lower()).click()
    hand.wait(lambda: hand.all("#symptoms-title"))
    next(one for one in hand.all(".symptoms a") if one.text == "It never comes on").click()
    hand.wait(lambda: hand.all("#check-title"))
    checks = 0
    while hand.all("#check-title"):
        said = ("None comes on", "It’s off or tripped", "It holds")
        next(one for one in hand.all(".row-acts a") if one.text in said).click()
        hand.wait(lambda: hand.all("#cause-title, #check-title"))
        checks += 1
    assert checks <= 7 and "Breaker 5 is off or has tripped" in hand.text(".step-now")
    assert hand.fits() and hand.axe() == []
