"""How many touches a job takes on a phone, by the browser's own events: a tap, or a field entered.

`tools/touches.py` puts the figures into the README; the tests play each job and hold them to it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from .hand import Hand

COUNTS = """
if (!window.counting) for (const [what, event] of [["touches", "pointerdown"], ["keys", "keydown"]])
  addEventListener(event, () => { sessionStorage[what] = Number(sessionStorage[what] ?? 0) + 1; }, true);
window.counting = true;
"""
"""Counts the browser's own pointer and key events over all pages of a tab, once however often it is added."""
USUAL = '1g 18in3; 14/2 feed, 14/2 to light; smart dimmer "Hall" 4x9W led'
HOT = "Test the black of A to ground."
"""The only touch of the live test that shows full voltage, beside the one from the hot to the white."""


@dataclass(frozen=True, slots=True)
class TouchRow:
    """A job, as the README tells of it."""

    job: str
    play: Callable[[Hand], None]
    lines: int
    """How many lines are typed besides."""
    aim: int


def counted(hand: Hand, what: str) -> int:
    """How many touches or keys there were since the tab was opened."""
    return int(hand.driver.execute_script("return sessionStorage[arguments[0]] ?? 0", what))


def begin(hand: Hand) -> None:
    """Count from here on, on a phone."""
    hand.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTS})
    hand.phone()
    hand.go("/")
    hand.driver.execute_script("sessionStorage.clear()")


def typed(hand: Hand, selector: str, text: str) -> None:
    """Tap a field and type into it."""
    hand.press(selector)
    hand.driver.switch_to.active_element.send_keys(text)


def usual_swap(hand: Hand) -> None:
    """To the hook-up of the most usual swap, with its parts and steps."""
    typed(hand, "#plan-line", USUAL)
    hand.press("#plan > button")
    hand.wait(lambda: hand.all("#rests-on"))


def usual_pair(hand: Hand) -> None:
    """To the hook-ups of two switches of one light."""
    typed(hand, "#plan-line", '1g 20in3; 14/2 feed, 14/3 to bottom; smart pair dimmer "Stairs" 4x9W led')
    hand.press("#plan > button")
    hand.wait(lambda: "Start Bottom" in hand.text("#guide"))
    typed(hand, '#guide [name="line"]', "1g 20in3; 14/2 to light, 14/3; companion of the smart pair dimmer")
    hand.press("#guide button")
    hand.wait(lambda: "Plan what joins what" in hand.text("#guide"))
    hand.press("#guide button")
    hand.wait(lambda: hand.all("#rests-on"))


def tenth_box(hand: Hand) -> None:
    """Another box like one that is there."""
    usual_swap(hand)
    bench = hand.driver.current_url.removeprefix(hand.address).removesuffix("/hookup")
    hand.go(bench + "/copy")
    hand.driver.execute_script("sessionStorage.touches = 1")  # the tap on the link to this page
    typed(hand, "#like-name", "Tenth")
    typed(hand, "#like-volume", "20.3")
    hand.press("#like-cables")
    hand.press("#like-lamps")
    hand.press("#like > button")
    hand.wait(lambda: hand.all("#bench"))


def installed(hand: Hand) -> None:
    """The usual swap with every assumption checked, installed, set up in its hub, tried and recorded."""
    usual_swap(hand)
    for _ in range(80):
        hand.wait(lambda: not hand.all("#guide > .guide-next > a[href*='/next']"))
        says = hand.text("#guide .guide-next")
        if "Nothing is left to do" in says:
            return
        _answer(hand)
        hand.wait(lambda: _is_new(hand))
    raise AssertionError("it never ends")


AS_IS = """
window.asIs = true;
addEventListener('htmx:after:settle', () => { window.asIs = false; window.swapped = performance.now(); });
"""
"""Marks the page; the mark goes with the page, or once something of it is swapped."""
QUIET = """
return document.readyState === 'complete' && window.asIs !== true && !document.querySelector('.htmx-request')
  && performance.now() - (window.swapped ?? 0) > 150
"""


def _is_new(hand: Hand) -> bool:
    """Whether the page was left, or changed in place, and nothing more of it is on its way."""
    return bool(hand.driver.execute_script(QUIET))


def _answer(hand: Hand) -> None:
    """Do one thing that comes next: what the page has for it, else follow the way there."""
    hand.driver.execute_script(AS_IS)
    if hand.all("#guide [name=breaker]"):
        typed(hand, "#guide [name=breaker]", "9, 15 A")
        hand.press("#guide form button")
    elif hand.all("#guide a.button"):
        hand.press("#guide a.button")
    elif hand.all("#live-test li:has(form)"):
        asks = hand.text("#live-test li:has(form) p")
        full = asks == HOT or asks.startswith("Test from the hot")
        hand.press(f"#live-test li:has(form) button[value={'full' if full else 'none'}]")
    else:
        if hand.all("#done-serial"):
            typed(hand, "#done-serial", "N-1")
        hand.press(next(way for way in WAYS if hand.all(way)))


WAYS = (
    "#use-measured button", "#look-wires button.big", "#look-works button", "#in-one-go > button",
    "#done .step-done", "button.step-done",
)  # fmt: skip
"""The first of these that a page has is tapped."""
ROWS = (
    TouchRow("The most usual swap, from an empty installation to its hook-up with parts and steps", usual_swap, 1, 12),
    TouchRow(
        "The same, every assumption checked, installed, set up in its hub, tried and recorded", installed, 1, 40
    ),
    TouchRow("Two switches of one light, from an empty installation to both hook-ups", usual_pair, 2, 20),
    TouchRow("Another box like one you have (volume, cables and lamps are asked)", tenth_box, 0, 6),
)  # fmt: skip


def told(row: TouchRow, touches: int) -> str:
    """A row of the README."""
    lines = {0: "", 1: ", and one line", 2: ", and two lines"}[row.lines]
    return f"| {row.job} | {touches}{lines} |"
