"""The bench in the hand: dragging, tally, keys, quick entry; and the reference task in each way, its acts counted."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.actions.action_builder import ActionBuilder
from selenium.webdriver.common.actions.pointer_input import PointerInput
from selenium.webdriver.common.keys import Keys

from .hand import Hand

pytestmark = pytest.mark.browser

pointer: Any = PointerInput
REFERENCE = (
    "3g 54in3 tabs; 12/2 x2, 12/3, 12/2; marrowby-rocker-dimmer 6x9W led, ostrel-fan-four-speed 0.9A, marrowby-toggle"
)


def middle(hand: Hand, selector: str) -> tuple[int, int]:
    """Of a thing on the screen [px]."""
    script = "const r = arguments[0].getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]"
    x, y = hand.driver.execute_script(script, hand.one(selector))
    return round(x), round(y)


def drag(hand: Hand, start: str, end: str | tuple[int, int], kind: str = "mouse") -> None:
    """From the middle of one thing to another, or so many pixels further, as mouse or finger."""
    hand.driver.execute_script("document.querySelector('#front, #hookup-drawn').scrollIntoView({block: 'center'})")
    from_x, from_y = middle(hand, start)
    to_x, to_y = middle(hand, end) if isinstance(end, str) else (from_x + end[0], from_y + end[1])
    actions: Any = ActionBuilder(hand.driver, mouse=pointer(kind, kind), duration=40)
    finger = actions.pointer_action
    finger.move_to_location(from_x, from_y).pointer_down()
    for step in (0.3, 0.7, 1.0):
        finger.move_to_location(round(from_x + (to_x - from_x) * step), round(from_y + (to_y - from_y) * step))
    finger.pointer_up()
    actions.perform()


def start(hand: Hand, name: str, **more: str) -> None:
    hand.start_box(name=name, room="Workshop", **({"gangs": "3", "volume": "54"} | more))


def devices(hand: Hand) -> dict[str, str]:
    """The device drawn in each gang."""
    drawn = hand.attributes("#front .device", "data-gang", "aria-label")
    return {one["data-gang"]: one["aria-label"].split(",")[0] for one in drawn}


def put_by_dragging(hand: Hand) -> None:
    hand.act(lambda: drag(hand, "#put-marrowby-rocker-dimmer", '#front .zone[data-gang="2"]', "mouse"))


def put_by_tapping(hand: Hand) -> None:
    """A tap on an empty gang asks what goes there."""
    hand.press('#front .zone[data-gang="2"]')
    assert hand.driver.switch_to.active_element.get_attribute("id") == "put-2-sheet"
    hand.fill("put-2", "sheet", "marrowby-rocker-dimmer")
    hand.act(lambda: hand.press("#put-2 button"))


@pytest.mark.parametrize(("kind", "put"), [("mouse", put_by_dragging), ("touch", put_by_tapping)])
def test_devices_and_cables_are_moved_on_the_drawing(hand: Hand, kind: str, put: Callable[[Hand], None]) -> None:
    start(hand, f"Dragged by {kind}")
    hand.act(lambda: hand.press("#add-12-2"))
    hand.act(lambda: hand.press("#add-14-3"))
    put(hand)
    hand.act(lambda: hand.press("#put-marrowby-toggle"))
    assert devices(hand) == {"1": "Toggle switch", "2": "Rocker dimmer"}
    hand.act(lambda: drag(hand, "#drawn-d1 .body", '#front .zone[data-gang="3"]', kind))
    assert devices(hand) == {"1": "Toggle switch", "3": "Rocker dimmer"}
    assert hand.text("#gang-3 .steps-list .limit").endswith("140 W")
    hand.act(lambda: drag(hand, "#drawn-cable-B .letter-tag", (0, -60), kind))
    assert [cable.text.split()[0] for cable in hand.all(".cables .letter")] == ["A"]


def test_a_device_is_dragged_out_of_the_box(hand: Hand) -> None:
    start(hand, "Dragged out")
    hand.act(lambda: hand.press("#put-marrowby-toggle"))
    hand.act(lambda: drag(hand, "#drawn-d1 .body", (0, -190), "mouse"))
    assert devices(hand) == {}


def test_a_wide_device_does_not_go_where_it_would_reach_past_the_box(hand: Hand) -> None:
    start(hand, "Wide")
    before = hand.revision()
    hand.fill("put-3", "sheet", "ostrel-wide-dimmer")
    hand.press("#put-3 button")
    hand.wait(lambda: "would reach past gang 3" in hand.text("#gang-3"))
    assert hand.revision() == before and not devices(hand)


def test_a_long_press_or_the_minus_is_one_less(hand: Hand) -> None:
    start(hand, "Tally")
    for _ in range(3):
        hand.act(lambda: hand.press("#add-12-2"))
    assert hand.text("#less-12-2") == "3 −"
    hand.act(lambda: ActionChains(hand.driver).click_and_hold(hand.one("#add-12-2")).pause(0.7).release().perform())
    assert len(hand.all(".cables .letter")) == 2
    hand.act(lambda: hand.press("#less-12-2"))
    assert len(hand.all(".cables .letter")) == 1


def test_a_broken_side_section_leads_to_why(hand: Hand) -> None:
    hand.box("stair-foot")
    ActionChains(hand.driver).click(hand.one("#front .fin.broken")).perform()
    hand.wait(lambda: hand.all(".channel.shown"))
    assert "side sections broken off" in hand.text(".channel.shown")


def checked(hand: Hand) -> None:
    """Nine 12 AWG conductors, clamps, three yokes, grounds: 17 × 2.25 in³; 54 of 115 W; 0.9 of 1.2 A."""
    assert hand.text(".figures strong") == "38.25 of 54 in³"
    assert "61 W to spare" in hand.text("#gang-1") and "0.3 A to spare" in hand.text("#gang-2")
    assert hand.text("#verdict .state") == "holds"
    assert list(devices(hand).values()) == ["Rocker dimmer", "Four-speed fan control", "Toggle switch"]


def test_the_reference_task_by_touch(hand: Hand) -> None:
    hand.phone()
    touches = 0

    def tap(selector: str) -> None:
        nonlocal touches
        touches += 1
        hand.press(selector)

    def touch(selector: str) -> None:
        hand.act(lambda: tap(selector))

    def type_into(selector: str, text: str) -> None:
        tap(selector)
        hand.one(selector).clear()
        hand.one(selector).send_keys(text)

    start(hand, "Reference by touch")
    touches += 5  # name, room, gangs, volume, start
    touch("#clamps-box")
    for size in ("12-2", "12-2", "12-3", "12-2"):
        touch(f"#add-{size}")
    for sheet in ("marrowby-rocker-dimmer", "ostrel-fan-four-speed", "marrowby-toggle"):
        touch(f"#put-{sheet}")
    tap("#add-load-d1 summary")
    type_into("#load-d1-quantity", "6")
    type_into("#load-d1-each", "9")
    touch("#load-d1 button")
    tap("#add-load-d2 summary")
    type_into("#load-d2-each", "0.9")
    touch("#load-d2 button")
    checked(hand)
    assert touches == 20
    assert hand.fits()


def test_the_reference_task_by_keyboard(hand: Hand) -> None:
    pressed = 0

    def keys(*sent: str) -> None:
        nonlocal pressed
        pressed += len(sent)
        ActionChains(hand.driver).send_keys(*sent).perform()

    start(hand, "Reference by keyboard")
    hand.driver.execute_script("document.activeElement.blur()")
    for key in ("t", "e", "e", "r", "e", "s", "d", "a"):
        hand.act(partial(keys, key))
    keys("1", "l", "6", Keys.TAB, "9")
    hand.act(lambda: keys(Keys.ENTER))
    keys(Keys.ESCAPE, "2", "l", Keys.TAB, "0", ".", "9")
    hand.act(lambda: keys(Keys.ENTER))
    checked(hand)
    assert pressed <= 40
    keys(Keys.ESCAPE)
    keys("3")
    hand.act(
        lambda: ActionChains(hand.driver).key_down(Keys.SHIFT).send_keys(Keys.ARROW_LEFT).key_up(Keys.SHIFT).perform()
    )
    assert list(devices(hand).values()) == ["Rocker dimmer", "Toggle switch", "Four-speed fan control"]
    assert hand.driver.switch_to.active_element.get_attribute("id") == "gang-3"
    keys("?")
    hand.wait(lambda: hand.one("#keys").is_displayed())
    assert hand.axe() == []
    hand.press("#single-keys")
    keys(Keys.ESCAPE)
    before = hand.revision()
    keys("e", "e")
    keys("?")
    assert hand.revision() == before and not hand.one("#keys").is_displayed()
    hand.driver.execute_script("localStorage.clear()")


def test_the_reference_task_in_one_line(hand: Hand) -> None:
    start(hand, "Reference by line", gangs="1", volume="")
    hand.driver.execute_script("document.activeElement.blur()")
    ActionChains(hand.driver).send_keys("/").perform()
    field = hand.one("#line-line")
    assert hand.driver.switch_to.active_element == field
    field.send_keys(REFERENCE.replace("12/3", "12/3x"))
    hand.wait(lambda: hand.all(".words .wrong"))
    assert "12/3x not understood. Enter a cable such as 14/2" in hand.text(".words .wrong")
    before = hand.revision()
    field.send_keys(Keys.ENTER)
    hand.wait(lambda: hand.all("#line-line-expected"))
    assert hand.revision() == before and "12/3x" in str(hand.one("#line-line").get_attribute("value"))
    assert hand.axe() == []
    hand.one("#line-line").clear()
    hand.one("#line-line").send_keys(REFERENCE)
    hand.wait(lambda: hand.all(".words li") and not hand.all(".words .wrong"))
    hand.act(lambda: hand.one("#line-line").send_keys(Keys.ENTER))
    checked(hand)
    hand.act(lambda: hand.press("#undo"))
    assert not devices(hand)


def test_focus_stays_where_it_was(hand: Hand) -> None:
    start(hand, "Focus")
    hand.act(lambda: hand.press("#add-14-2"))
    assert hand.driver.switch_to.active_element.get_attribute("id") == "add-14-2"
    hand.act(lambda: hand.press("#put-marrowby-toggle"))
    hand.driver.execute_script("document.getElementById('drawn-d1').focus()")
    hand.act(lambda: ActionChains(hand.driver).send_keys(Keys.ARROW_RIGHT).perform())
    assert devices(hand) == {"2": "Toggle switch"}
    assert hand.driver.switch_to.active_element.get_attribute("id") == "drawn-d1"
    hand.act(lambda: ActionChains(hand.driver).send_keys(Keys.DELETE).perform())
    assert devices(hand) == {}


def test_the_best_order_is_offered_and_taken(hand: Hand) -> None:
    """The fan control in the middle has 0.3 of 1.2 A to spare; with the switch there, 0.6 of 1.5 A."""
    hand.start_box(name="Order", room="Workshop", line=REFERENCE)
    hand.press("#best-order")
    hand.wait(lambda: hand.all("#arrange button"))
    assert "25% to spare becomes 40%" in hand.text("#order-offer") and hand.axe() == []
    hand.press("#stays-d2")  # the fan control stays in the middle: nothing better is left
    hand.wait(lambda: "none leaves more" in hand.text("#order-offer"))
    hand.press("#stays-d2")
    hand.wait(lambda: hand.all("#arrange button"))
    hand.act(lambda: hand.press("#arrange button"))
    assert devices(hand)["2"] == "Toggle switch"
    hand.press("#best-order")
    hand.wait(lambda: "none leaves more" in hand.text("#order-offer"))
    hand.act(lambda: hand.press("#undo"))
    assert devices(hand)["3"] == "Toggle switch"
