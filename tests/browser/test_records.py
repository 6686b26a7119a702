"""A place on the phone, by touch alone: surveyed, chosen, hooked up, installed, brought into use, handed over."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from selenium.webdriver import Chrome

from .driving import served, server
from .hand import Hand

BOX = "/jobs/schoolhouse/boxes/pantry"
LADDER, IN_USE = f"{BOX}/install", f"{BOX}/commission"
MOST_STEPS = 60
pytestmark = pytest.mark.browser


def tap(hand: Hand, selector: str) -> None:
    """A finger on the middle of a thing, wherever that lies: what covers it gets the tap."""
    element = hand.one(selector)
    hand.driver.execute_script("arguments[0].scrollIntoView({block: 'center', behavior: 'instant'})", element)
    where = "const r = arguments[0].getBoundingClientRect(); return {x: r.x + r.width / 2, y: r.y + r.height / 2}"
    middle = hand.driver.execute_script(where, element)
    hand.driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [middle]})
    hand.driver.execute_cdp_cmd("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})


def on(hand: Hand, selector: str) -> None:
    """A tap that leads on to the next step, and its page."""
    hand.driver.execute_script("window.stillHere = true")
    tap(hand, selector)
    hand.wait(lambda: hand.driver.execute_script("return !window.stillHere && document.readyState === 'complete'"))


def install(hand: Hand, until: int = MOST_STEPS) -> int:
    """Every step of the ladder ticked, or so many; how many were."""
    for done in range(until):
        if not hand.all("#done .step-done"):
            return done
        on(hand, "#done .step-done")
    return until


def commission(hand: Hand) -> None:
    """Every step of every device, each by what it asks for."""
    for _ in range(MOST_STEPS):
        if "Every step" in hand.text("h2"):
            return
        assert hand.fits()
        if hand.all("#serial"):
            hand.fill("serial", "serial", "PN-88")
            on(hand, "#serial .step-done")
        elif "Join it to" in hand.text("#step-title"):
            hand.open("details.hub")
            hand.open("details.hub details:has(#case)")
            tap(hand, 'label[for="case-case-joins"]')
            on(hand, "#case button")
            on(hand, 'form[action$="/hub/look"] button')
            on(hand, 'form:has([value="join"]) button')
        elif hand.all("#firmware"):
            hand.open("details.hub")
            on(hand, 'form[action$="/hub/update"] button')
            on(hand, "#firmware .step-done")
        elif hand.all("#setting .chips"):
            tap(hand, "#setting .chips label")
            on(hand, "#setting .step-done")
        elif hand.all("#setting"):
            hand.fill("setting", "value", "none")
            on(hand, "#setting .step-done")
        else:
            on(hand, ".step-now form .step-done")
    raise AssertionError("expected an end of its steps")


def test_a_place_from_survey_to_handover_by_touch(driver: Chrome, data: Path) -> None:
    """Ticks stay over a kill in the middle; what was done stands in progress, in the record and in the handover."""
    with server(data, killed=True) as address:
        hand = Hand(driver, address)
        hand.phone()
        driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": True})
        hand.go(f"{BOX}/survey")
        for stage in ("plate-on", "plate-off", "device-out"):
            for tick in ("tester-before", "box-dead", "tester-after"):
                selector = f"#dead-{stage}-{tick} button"
                hand.act(lambda selector=selector: tap(hand, selector))  # type: ignore[misc]
        hand.go(f"{BOX}/choose?gang=1")
        tap(hand, 'details:has([value="ostrel-smart-switch"]) > summary')
        tap(hand, 'form:has([value="ostrel-smart-switch"]) button')
        hand.wait(lambda: hand.all("#bench"))
        hand.go(f"{BOX}/hookup")
        hand.act(lambda: tap(hand, "#propose button"))
        assert "holds if" in hand.text("#proof-title").lower(), "nobody tested the neutral yet"
        hand.act(lambda: tap(hand, "#usual button"))
        assert "checked in all" in hand.text("#hookup").lower()
        hand.go(LADDER)
        assert install(hand, 12) == 12
        at = hand.text("#step-title"), hand.text(".steps-done")
    with served(data / "demo.sqlite3") as address:
        hand = Hand(driver, address)
        hand.go(LADDER)
        assert hand.fits() and (hand.text("#step-title"), hand.text(".steps-done")) == at, (
            "every tick is there after the kill"
        )
        settled, count = (int(number) for number in re.findall(r"\d+", at[1]))
        assert install(hand) == count - settled, "expected each of the others once"
        assert "Every step is done" in hand.text("#main")
        hand.go(IN_USE)
        commission(hand)
        hand.go("/jobs/schoolhouse/papers/handover")
        assert hand.fits() and "pantry lamp" in hand.text("#main") and "Pantry, Pantry" not in hand.text("#main")
        rows = [row.text for row in hand.all("tbody tr")]
        assert any("Kitchen" in row and "pantry lamp" in row and row.endswith("Pantry") for row in rows)
        left = hand.text("#main").casefold().split("what wasn’t tested")[1].splitlines()
        assert not [line for line in left if line.startswith("pantry")], "all of it was tried"
        hand.go("/jobs/schoolhouse/papers/as-built?box=pantry")
        assert "As built." in hand.text("#main") and "PN-88" in hand.text("#main") and hand.axe() == []
        hand.go("/jobs/schoolhouse/progress")
        cells = [one.get_attribute("aria-label") for one in hand.all("button.cell")]
        assert {f"Pantry, {phase}: done" for phase in ("Wires", "Plan", "Work", "Record")} <= set(cells), cells
        hand.press("[popovertarget=left-pantry-work]")
        assert "Tried by hand: done" in hand.text("#left-pantry-work") and hand.axe() == []
        driver.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", {"enabled": False})


def test_papers_and_commissioning_are_for_everyone(hand: Hand) -> None:
    """All rules of the checker on each new page, all unfolded, light and dark; nothing scrolled sideways on a phone."""
    pages = [f"/jobs/schoolhouse/boxes/washroom/{page}" for page in ("commission?step=6", "install?step=6")]
    pages += ["/jobs/schoolhouse/papers", "/jobs/schoolhouse/papers/inspector?box=cloakroom", "/practice"]
    pages += ["/jobs/schoolhouse/papers/labels", "/practice/fault?level=2&seed=5", "/jobs/schoolhouse/progress"]
    hand.phone()
    for page in pages:
        hand.everyone(page)
        assert hand.fits(), page


def test_practice_is_scored_against_the_best(hand: Hand) -> None:
    """A hook-up by the proposal is the best there is; a fault is named after the readings the rule takes."""
    hand.go("/practice")
    hand.press('form[action$="/begin/hook-up"] button')
    hand.wait(lambda: hand.all("#propose"))
    hand.act(lambda: hand.press("#propose button"))
    hand.go("/practice")
    hand.press('a[href*="/score/hook-up/"]')
    hand.wait(lambda: hand.all(".big-says"))
    said = hand.text("#main")
    made, best = (int(said.split(words)[1].split()[0].rstrip(".")) for words in ("You made ", "proposal makes "))
    assert "Checked in all" in said and made == best > 0
    hand.go("/practice/fault?level=2&seed=5")
    causes = [one.text for one in hand.all("#name-it-guess option")]
    hand.press("#measure button")
    hand.wait(lambda: hand.all(".slots li"))
    hand.press("#name-it button")
    hand.wait(lambda: hand.all("#told"))
    assert len(causes) > 2 and "1 reading; the rule that splits best takes" in hand.text(".step-now")
