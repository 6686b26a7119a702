"""The bench, driven as a person drives it."""

from __future__ import annotations

import json
from pathlib import Path
from urllib.parse import urlsplit

import pytest
from selenium.webdriver import ActionChains, Chrome
from selenium.webdriver.common.keys import Keys

from .driving import server
from .hand import Hand

pytestmark = pytest.mark.browser

BENCH = "/jobs/schoolhouse/boxes/cloakroom"


def test_a_cable_changes_rail_and_verdict(hand: Hand) -> None:
    hand.start_box(name="Scullery", room="Kitchen", volume="18")
    assert hand.text("#verdict .state") == "holds"
    for count, fill, state in [
        (1, "6", "holds"),
        (2, "10", "holds"),
        (3, "14", "holds"),
        (4, "18", "tight"),
        (5, "22.5", "fails"),
    ]:
        hand.act(lambda: hand.press("#add-14-2"))
        assert len(hand.nails()) == count * 2 + 1 + (count > 4)
        assert hand.text(".figures strong") == f"{fill} of 18 in³"
        assert hand.text("#verdict .state") == state
    assert "over by 4.5 in³: 3 conductors of 14 AWG too many" in hand.text("#verdict")
    assert hand.all('#rail [href="#nail-bent"]')
    hand.act(lambda: hand.press('[aria-label="Remove cable B, 14/2"]'))
    assert hand.text("#verdict .state") == "tight"


def test_a_nail_is_as_long_as_its_volume_at_every_width(hand: Hand) -> None:
    hand.box("stair-foot")
    for size in (hand.desk, hand.phone):
        size()
        nails = hand.nails()
        wood = hand.driver.execute_script("return document.querySelector('#rail .wood').getBoundingClientRect().width")
        assert len({volume for volume, _ in nails}) > 1
        for volume, width in nails:
            assert abs(width - float(volume) * wood / 72) < 0.6
        assert hand.fits()


def test_box_and_bodies_are_drawn_to_their_millimeters(hand: Hand) -> None:
    hand.box("porch")
    inside = hand.attributes("#box-inside", "width", "height")[0]
    assert inside == {"width": "101.6", "height": "101.6"}  # a 4 in square box
    drawn = hand.attributes("#front .body", "width", "height")[0]
    in_inches = [float(drawn[side]) / 25.4 for side in ("width", "height")]
    assert in_inches == pytest.approx([1 + 11 / 16, 2 + 5 / 8], abs=1e-3)  # as on the smart switch's sheet
    painted = hand.driver.execute_script(
        "return ['#box-inside', '#front .body'].map(s => document.querySelector(s).getBoundingClientRect().width)"
    )
    assert abs(painted[0] / painted[1] - 101.6 / 42.8625) < 0.02


def test_swapping_gangs_moves_the_limit_and_undo_brings_it_back(hand: Hand) -> None:
    hand.box("stair-foot")
    assert hand.text("#verdict .state") == "fails"
    assert "Gang 2: Assembly hall: over by 9 W" in hand.text("#verdict")
    hand.act(lambda: hand.press('[aria-label="Swap with 2: gang 1"]'))
    assert hand.text("#verdict .state") == "holds"
    limit = hand.text("#gang-1 .steps-list .limit")
    assert limit.split() == ["Limit", "here", "115", "W"]
    scale = [
        f["data-figure"] for f in hand.attributes("#gang-1 .track, #gang-1 .cut, #gang-1 .connected", "data-figure")
    ]
    assert scale == ["140", "25", "99"]
    hand.act(lambda: ActionChains(hand.driver).key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform())
    assert "Gang 2: Assembly hall: over by 9 W" in hand.text("#verdict")
    assert hand.text(".history li").startswith("Undone: Gangs 1 and 2 swapped")
    hand.act(lambda: hand.press("#redo"))
    assert hand.text("#verdict .state") == "holds"


def test_a_device_and_its_lamps_from_nothing(hand: Hand) -> None:
    hand.start_box(name="Box room", room="Loft", gangs="2", volume="34")
    hand.act(lambda: hand.press("#add-12-2"))
    hand.fill("put-1", "sheet", "marrowby-rocker-dimmer")
    hand.fill("put-1", "name", "Trunks")
    hand.act(lambda: hand.press("#put-1 button"))
    assert "Trunks" in hand.text("#gang-1 h3") and "Rocker dimmer Marrowby" in hand.text("#gang-1 h3")
    hand.open("#add-load-d1")
    hand.fill("load-d1", "quantity", "6")
    hand.fill("load-d1", "each", "9")
    hand.act(lambda: hand.press("#load-d1 button"))
    assert "86 W to spare: room for 9 more" in hand.text("#gang-1")
    assert hand.one("#load-d1-each").get_attribute("value") == ""
    hand.act(lambda: hand.press("#clamps-box"))
    assert "13.5 of 34 in³" in hand.text(".figures")
    hand.act(lambda: hand.fill("gangs", "gangs", "3"))
    assert len(hand.all(".gang")) == 3


def test_a_refused_edit_says_so_beside_the_field_and_keeps_what_was_typed(hand: Hand) -> None:
    hand.box("cloakroom")
    before = hand.revision()
    hand.fill("volume", "volume", "plenty")
    hand.press("#volume button")
    hand.wait(lambda: hand.all("#volume-volume-expected"))
    assert "Enter a volume such as “20.3 in3”" in hand.text("#volume-volume-expected")
    assert hand.one("#volume-volume").get_attribute("value") == "plenty"
    assert hand.driver.switch_to.active_element.get_attribute("id") == "volume-volume"
    assert hand.revision() == before
    hand.fill("volume", "volume", "24.75 in³")
    hand.act(lambda: hand.press("#volume button"))
    assert not hand.all(".expected") and hand.text(".figures strong") == "24.75 of 24.75 in³"


def test_quick_taps_all_count_and_a_stale_tab_is_told(hand: Hand) -> None:
    hand.start_box(name="Taps", room="Loft", volume="90")
    here = hand.driver.current_url
    hand.driver.execute_script("for (let n = 0; n < 5; n++) document.getElementById('add-14-3').click()")
    hand.wait(lambda: len(hand.all(".cables li")) == 5)
    first = hand.driver.current_window_handle
    hand.driver.switch_to.new_window("tab")
    hand.driver.get(here)
    hand.act(lambda: hand.press("#add-12-2"))
    hand.driver.close()
    hand.driver.switch_to.window(first)
    hand.fill("volume", "volume", "61")
    hand.press("#volume button")
    hand.wait(lambda: hand.all("#bench .notice"))
    assert "was changed elsewhere" in hand.text("#bench .notice")
    assert len(hand.all(".cables li")) == 6
    assert hand.one("#volume-volume").get_attribute("value") == "61"
    hand.act(lambda: hand.press("#volume button"))
    assert "of 61 in³" in hand.text(".figures")


def test_a_restart_finds_everything_and_a_stopped_server_loses_nothing_typed(driver: Chrome, data: Path) -> None:
    with server(data) as address:
        hand = Hand(driver, address)
        hand.box("study")
        hand.fill("volume", "volume", "34")
        hand.act(lambda: hand.press("#volume button"))
        hand.act(lambda: hand.press("#add-14-2"))
    hand.fill("volume", "volume", "32")
    hand.press("#volume button")
    hand.wait(lambda: "Not saved" in hand.text("#notice"))
    assert hand.one("#volume-volume").get_attribute("value") == "32"
    with server(data) as address:
        hand = Hand(driver, address)
        hand.box("study")
        assert "of 34 in³" in hand.text(".figures") and len(hand.all(".cables li")) == 4
        hand.act(lambda: hand.press("#undo"))
        assert len(hand.all(".cables li")) == 3
    assert all("Failed to fetch" in line for line in hand.problems())


WATCH = """
  window.sent = []; window.outside = [];
  const next = document.getElementById("guide");
  document.addEventListener("htmx:before:swap", event => {
    if (event.detail.ctx.sourceElement === next) return;
    window.sent = [...event.detail.ctx.text.matchAll(/<hx-partial id="([^"]+)"/g)].map(one => one[1]);
  });
  const mine = one => next.contains(one.target) || window.sent.some(
    id => document.getElementById(id)?.contains(one.target)
    || one.previousSibling?.id === id || [...one.removedNodes, ...one.addedNodes].some(node => node.id === id));
  const own = one => ["class", "data-htmx-powered"].includes(one.attributeName);
  new MutationObserver(all => window.outside.push(...all.filter(one => !own(one) && !mine(one))
    .map(one => `${one.type} ${one.attributeName} ${one.target.outerHTML ?? one.target.data}`.slice(0, 200)))
  ).observe(document.body, {subtree: true, childList: true, characterData: true, attributes: true});
"""
"""Notes every node that changes outside of the sections sent, but for classes, which light up, and htmx's own mark.
What comes next is asked for anew after an act, and stands for itself."""


def test_what_acts_leave_on_the_page_is_what_a_fresh_page_shows(hand: Hand) -> None:
    """Sections that did not change are not sent: after any acts, the page is the one loaded anew."""
    hand.box("front-door")
    for selector in ("#add-14-3", '[aria-label="Swap with 2: gang 1"]', "#clamps-box", "#undo", "#add-12-2"):
        hand.act(lambda selector=selector: hand.press(selector))  # type: ignore[misc]
    hand.fill("volume", "volume", "plenty")
    hand.press("#volume button")
    hand.wait(lambda: hand.all("#volume-volume-expected"))
    hand.driver.execute_script(WATCH)
    hand.act(lambda: hand.press("#less-12-2"))
    script = """
      return [...document.querySelectorAll('#bench > *')].map(e => e.innerText + [...e.querySelectorAll(
        'path, rect, line, circle')].map(s => s.tagName + [...s.attributes].filter(a => a.name !== 'class')
          .map(a => a.name + '=' + a.value).sort().join(' ')).join('\\n'))"""
    kept = hand.driver.execute_script(script)
    sent, outside = hand.driver.execute_script("return [window.sent, window.outside]")
    assert outside == [] and {"verdict-section", "count-lines", "cable-taps"} <= set(sent)
    hand.driver.refresh()
    assert hand.driver.execute_script(script) == kept


def test_what_a_person_is_doing_outlasts_an_act_elsewhere(hand: Hand) -> None:
    """A field half typed in a section that is sent, its open fold, the focus, and where it stands in the window."""
    hand.box("front-door")
    hand.press("#add-load-d1 summary")
    hand.fill("load-d1", "each", "9 W")
    script = """
      const at = document.getElementById("load-d1-each");
      return [at.value, document.getElementById("add-load-d1").open, document.activeElement === at,
        Math.round(at.getBoundingClientRect().top)]"""
    before = hand.driver.execute_script(script)
    hand.driver.execute_script(WATCH)
    hand.act(lambda: hand.driver.execute_script("document.getElementById('add-12-2').click()"))
    assert "gang-1" in hand.driver.execute_script("return window.sent")
    assert hand.driver.execute_script(script) == before and before[:3] == ["9 W", True, True]


def test_touching_a_ledger_line_lights_what_it_counts(hand: Hand) -> None:
    hand.box("kitchen-bench")
    hand.press("#line-devices-d1 summary")
    lit = {
        f"{e['data-part']}{e['data-line']}"
        for e in hand.attributes("#front .lit, #rail .lit", "data-part", "data-line")
    }
    assert {"d1", "devices-d1"} <= lit
    assert not {"A", "B", "C", "D"} & lit
    assert "314.16(B)(4)" in hand.text("#line-devices-d1")


@pytest.mark.parametrize(
    "path",
    [
        "/",
        "/jobs/schoolhouse",
        BENCH,
        "/jobs/schoolhouse/boxes/reading-room",
        "/jobs/schoolhouse/boxes/study",
        "/jobs/schoolhouse/boxes/study/history",
        "/about",
        "/docs",
    ],
)
def test_axe_finds_nothing(hand: Hand, path: str) -> None:
    hand.everyone(path)


def test_axe_finds_nothing_while_an_edit_is_refused_on_a_phone(hand: Hand) -> None:
    hand.phone()
    hand.box("front-door")
    hand.fill("volume", "volume", "plenty")
    hand.press("#volume button")
    hand.wait(lambda: hand.all("#volume-volume-expected"))
    assert hand.axe() == []


def test_nothing_is_asked_of_another_host(hand: Hand) -> None:
    hand.driver.get_log("performance")  # type: ignore[no-untyped-call]
    for path in ("/", "/jobs/schoolhouse", BENCH, "/docs", "/about"):
        hand.go(path)
    messages = [json.loads(entry["message"])["message"] for entry in hand.driver.get_log("performance")]  # type: ignore[no-untyped-call]
    urls = {m["params"]["request"]["url"] for m in messages if m["method"] == "Network.requestWillBeSent"}
    assert len(urls) > 6
    assert {urlsplit(url).netloc for url in urls} == {urlsplit(hand.address).netloc}


def test_paper_ends_with_the_caution_which_covers_no_card_and_has_no_forms(hand: Hand) -> None:
    hand.box("stair-foot")
    hand.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
    position = hand.driver.execute_script("return getComputedStyle(document.querySelector('.caution')).position")
    assert position == "static", "expected it in the flow: cards of the pages before would run under it"
    assert "A count is not a permit" in hand.text(".caution")
    assert not [button for button in hand.all("button:not(.word), select, input") if button.is_displayed()]
    hand.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})


SEEN = "#rail", "#front", "#columns", "#line-lines", "#line-sum", ".taps", ".device-taps", "#verdict"
PLACES = """
  return [...document.querySelectorAll(arguments[0])].map(one => {
    const place = one.getBoundingClientRect();
    return [place.left, place.top + scrollY, place.right, place.bottom + scrollY];
  });
"""


def test_what_decides_is_on_the_first_screen(hand: Hand) -> None:
    """Boxes of one to six gangs: at 1280 × 800 all of it; on a phone verdict, rail, front and bars; in both, each bar
    straight under its own gang."""
    for gangs in range(1, 7):
        hand.desk()
        devices = ", ".join(["switch 4x9W led", "dimmer 3x9W led"][gang % 2] for gang in range(gangs))
        line = f"{gangs}g 90in3 tabs; 14/2 x3, 14/3, 12/2; {devices}"
        hand.start_box(name=f"Row of {gangs}", room="Hall", gangs=str(gangs), line=line)
        for size, (width, height), names in (
            (hand.desk, (1280, 800), SEEN),
            (hand.phone, (390, 844), ("#verdict", "#rail", "#front", "#columns")),
        ):
            size()
            for name in names:
                ((left, top, right, bottom),) = hand.driver.execute_script(PLACES, name)
                assert left >= 0 and top >= 0 and right <= width and bottom <= height, (gangs, name, right, bottom)
            zones, bars = (hand.driver.execute_script(PLACES, s) for s in ("#front .zone", "#columns .column"))
            assert len(zones) == len(bars) == gangs and hand.fits()
            for gang, bar in zip(zones, bars, strict=True):
                assert abs((gang[0] + gang[2]) / 2 - (bar[0] + bar[2]) / 2) < 3
