"""Loads, circuits, sheets and what goes on paper, driven as a person drives them."""

from __future__ import annotations

import base64
import io
from functools import partial
from pathlib import Path
from typing import Any

import pytest
import zxingcpp
from PIL import Image
from selenium.webdriver.common.keys import Keys

from .hand import Hand

pytestmark = pytest.mark.browser

HOUSE = "/jobs/schoolhouse"


def start(hand: Hand, name: str, *taps: str, **more: str) -> str:
    """A box of its own with these devices in it; its address."""
    hand.start_box(name=name, room="Loads", **({"gangs": "2", "volume": "47"} | more))
    for sheet in taps:
        hand.act(partial(put, hand, sheet))
    return str(hand.driver.current_url).removeprefix(hand.address)


def put(hand: Hand, sheet: str) -> None:
    """A device into the first empty gang, by the form of that gang."""
    form = next(gang for gang in (1, 2, 3, 4) if not hand.all(f"#gang-{gang}[data-part]"))
    hand.open(f"#put-in-{form}")
    hand.fill(f"put-{form}", "sheet", sheet)
    hand.press(f"#put-{form} > button")


def add(hand: Hand, device: str = "d1", **typed: str) -> None:
    hand.open(f"#add-load-{device}")
    for name, value in typed.items():
        hand.fill(f"load-{device}", name, value)
    hand.press(f"#load-{device} > button")


def test_lamps_are_added_refused_put_right_measured(hand: Hand) -> None:
    start(hand, "Lamps", "marrowby-rocker-dimmer")
    add(hand, quantity="5", each="-9 W", name="pendants")
    hand.wait(lambda: hand.all("#load-d1-each-expected"))
    assert "Enter a power such as" in hand.text("#load-d1-each-expected")
    assert hand.one("#load-d1-name").get_attribute("value") == "pendants" and hand.axe() == []
    hand.fill("load-d1", "each", "1/2 hp")
    hand.press("#load-d1 > button")
    hand.wait(lambda: "Enter W for LED, not hp" in hand.text("#load-d1-each-expected"))
    hand.fill("load-d1", "each", "9 W")
    hand.act(lambda: hand.press("#load-d1 > button"))
    assert "95 W to spare: room for 10 more" in hand.text("#channel-d1-1")
    hand.press("#hung-l1 summary")
    hand.fill("right-l1", "quantity", "16")
    hand.act(lambda: hand.press("#right-l1 > button"))
    assert "over by 4 W" in hand.text("#channel-d1-1")
    hand.open("#hung-l1")
    hand.fill("measure-l1", "power", "131 W")
    hand.act(lambda: hand.press("#measure-l1 > button"))
    assert "measured with a meter" in hand.text("#hung-l1 summary") and "9 W to spare" in hand.text("#channel-d1-1")
    hand.act(lambda: hand.press("#undo"))
    assert "over by 4 W" in hand.text("#channel-d1-1")


def test_a_60_w_led_is_asked_about(hand: Hand) -> None:
    start(hand, "Equivalent", "marrowby-rocker-dimmer")
    hand.act(lambda: add(hand, each="60 W"))
    assert hand.text("#verdict .state") == "open" and "or the lamp it replaces?" in hand.text("#channel-d1-1")
    assert hand.axe() == []
    hand.act(lambda: hand.press("#draws-l1 button"))
    assert "80 W to spare" in hand.text("#channel-d1-1")


def test_what_may_not_hang_there_says_its_rule_and_ways_out(hand: Hand) -> None:
    start(hand, "Outlet on a dimmer", "marrowby-rocker-dimmer")
    hand.act(lambda: add(hand, each="15 A", kind="receptacle"))
    said = hand.text("#channel-d1-1 .finding")
    assert hand.text("#verdict .state") == "fails" and "404.14(E)" in said and "To fix it" in said


def test_a_neutral_is_asked_for_where_a_device_needs_one(hand: Hand) -> None:
    start(hand, "Neutral?", "ostrel-smart-switch")
    assert hand.text("#verdict .state") == "open" and "needs a neutral" in hand.text("#prohibitions")
    hand.act(lambda: hand.press("#neutral-false button"))
    assert hand.text("#verdict .state") == "fails" and "none is in the box" in hand.text("#prohibitions")
    hand.act(lambda: hand.press("#undo"))
    hand.act(lambda: hand.press("#neutral-true button"))
    assert not hand.one("#prohibitions").is_displayed() and "needs a neutral" not in hand.text("#verdict")


def test_the_most_usual_box_holds_if_its_whites_are_tied_and_one_tap_settles_it(hand: Hand) -> None:
    start(hand, "Usual", "ostrel-smart-switch", gangs="1", volume="20")
    hand.act(lambda: add(hand, quantity="4", each="9 W"))
    hand.act(lambda: hand.press("#add-14-2"))
    hand.act(lambda: hand.press("#add-14-2"))
    assert hand.text("#verdict .state") == "holds if", "what rests on anything is never a plain pass"
    assert "holds if the whites of A and B are tied together" in " ".join(hand.text("#verdict .says").split())
    assert not hand.all("#prohibitions .choices"), "asked once"
    assert hand.axe() == []
    hand.act(lambda: hand.press("#assumed-true button"))
    assert hand.text("#verdict .state") == "holds" and not hand.all("#verdict .assumed")
    hand.act(lambda: hand.press("#undo"))
    hand.act(lambda: hand.press("#assumed-false button"))
    assert hand.text("#verdict .state") == "fails" and not hand.all("#verdict .assumed")


def test_every_step_is_a_cut_as_long_as_its_figure(hand: Hand) -> None:
    """A dimmer at the end of a gang: 140 W less 25; the total of 10 A on a module's two channels."""
    start(hand, "Cuts", "marrowby-rocker-dimmer", "marrowby-toggle")
    hand.act(lambda: add(hand, quantity="3", each="9 W"))
    bar = hand.one("#channel-d1-1 .bar")
    track = hand.one("#channel-d1-1 .track").rect["width"]
    cut = hand.one("#channel-d1-1 .cut").rect["width"]
    assert bar.get_attribute("data-scale") == "140" and cut / track == pytest.approx(25 / 140, abs=0.01)
    assert hand.one("#channel-d1-1 .connected").rect["width"] / track == pytest.approx(27 / 140, abs=0.01)
    hand.open("#contents")
    hand.fill("in-module", "sheet", "tarn-two")
    hand.act(lambda: hand.press("#in-module > button"))
    hand.act(lambda: add(hand, "m1", quantity="10", each="60 W", kind="incandescent"))
    hand.act(lambda: add(hand, "m1", quantity="11", each="60 W", kind="incandescent", channel="2"))
    assert "over by 0.5 A" in hand.text("#channel-m1-total") and "all channels on the sheet" in hand.text(
        "#channel-m1-total"
    )
    assert hand.all("#front .warmth path") and "K over a room of 25.0 °C" in hand.text(".warm-figures summary")
    hand.phone()
    assert hand.fits() and hand.axe() == []


def test_a_relay_reports_its_watts(hand: Hand) -> None:
    start(hand, "Relay")
    hand.open("#contents")
    hand.fill("in-module", "sheet", "tarn-metering")
    hand.act(lambda: hand.press("#in-module > button"))
    hand.act(lambda: add(hand, "m1", quantity="6", each="9 W"))
    hand.act(lambda: hand.press("#relay-m1 button"))
    assert "measured by the relay" in hand.text("#hung-l1 summary")
    hand.act(lambda: hand.fill("module-m1", "control", "battery only"))
    assert "switched by battery only" in hand.text(".history")


def new_sheet(hand: Hand, like: str, name: str) -> str:
    """A copy of a sheet, so that no other test's is changed; its id."""
    hand.go(f"{HOUSE}/sheets/new?like={like}")
    hand.fill("sheet", "name", name)
    hand.press("#sheet .keep button")
    hand.wait(lambda: not hand.driver.current_url.endswith("/sheets") and "/new" not in hand.driver.current_url)
    return str(hand.driver.current_url).rsplit("/", 1)[1]


def test_a_sheet_in_use_says_first_what_it_changes(hand: Hand) -> None:
    sheet = new_sheet(hand, "marrowby-rocker-dimmer", "Copied dimmer")
    path = start(hand, "Uses the copy", sheet)
    hand.act(lambda: add(hand, quantity="15", each="9 W"))
    assert "5 W to spare" in hand.text("#channel-d1-1")
    hand.go(f"{HOUSE}/sheets/{sheet}")
    hand.fill("sheet", "ch1-led-alone", "130 W")
    hand.press("#sheet .keep button")
    hand.wait(lambda: hand.all("#effects"))
    said = hand.text("#effects")
    assert "1 box changes. Nothing is changed yet" in said and "fails, over by 5 W" in said and hand.axe() == []
    hand.go(path)
    assert "5 W to spare" in hand.text("#channel-d1-1")
    hand.go(f"{HOUSE}/sheets/{sheet}")
    hand.fill("sheet", "ch1-led-alone", "130 W")
    hand.press("#sheet .keep button")
    hand.wait(lambda: hand.all("#effects button"))
    hand.driver.execute_script("window.before = true")
    hand.one("#sheet-name").send_keys(Keys.ENTER)  # asks again; says neither yes nor one channel more
    hand.wait(lambda: not hand.driver.execute_script("return window.before") and hand.all("#effects button"))
    assert not hand.all("#channel-2") and "Copied dimmer changed" not in hand.text(".told")
    hand.press("#effects button")
    hand.wait(
        lambda: not hand.all("#effects") and "changed; different now in Loads: Uses the copy" in hand.text(".told")
    )
    hand.go(path)
    assert "over by 5 W" in hand.text("#channel-d1-1")
    hand.go(f"{HOUSE}/sheets/{sheet}")
    hand.press("#undo")
    hand.wait(lambda: hand.one("#sheet-ch1-led-alone").get_attribute("value") == "140 W")


def test_a_sheet_is_copied_with_its_leaflet_beside_it(hand: Hand, tmp_path: Path) -> None:
    hand.go(f"{HOUSE}/sheets/new")
    for name, value in (
        ("name", "Leaflet dimmer"),
        ("kind", "dimmer"),
        ("ch1-led-alone", "much"),
        ("derating", "by position"),
    ):
        hand.fill("sheet", name, value)
    hand.press("#sheet .keep button")
    hand.wait(lambda: hand.all("#sheet-ch1-led-alone-expected"))
    assert "Enter a power such as" in hand.text("#sheet-ch1-led-alone-expected")
    assert hand.one("#sheet-name").get_attribute("value") == "Leaflet dimmer" and hand.axe() == []
    hand.fill("sheet", "ch1-led-alone", "140 W")
    hand.press('[name="channels_to"][value="2"]')
    hand.wait(lambda: hand.all("#channel-2"))
    assert hand.one("#sheet-ch1-led-alone").get_attribute("value") == "140 W"  # nothing typed is lost
    hand.press('[name="channels_to"][value="1"]')
    hand.wait(lambda: not hand.all("#channel-2"))
    hand.press("#sheet .keep button")
    hand.wait(lambda: hand.all("#leaflet"))
    open_points = hand.text(".leaflet .left")
    assert "the figures for LED beside neighbors" in open_points and "its body" in open_points
    picture = tmp_path / "leaflet.jpg"
    Image.new("RGB", (300, 400), "white").save(picture)
    hand.one("#leaflet-photo").send_keys(str(picture))
    hand.press("#leaflet > button")
    hand.wait(lambda: hand.all('.leaflet img[alt^="The leaflet of"]'))
    assert hand.fits() and hand.axe() == []


def test_each_circuit_has_its_bar(hand: Hand) -> None:
    """20 A at 120 V less what 14 AWG is not protected for: 2400 − 600 VA."""
    hand.go(f"{HOUSE}/panel?circuit=9")
    assert "14 AWG copper on a breaker of 20 A: 15 A at most" in hand.text("#carries")
    track, cut = (hand.one(f"#carries .{name}").rect["width"] for name in ("track", "cut"))
    assert cut / track == pytest.approx(600 / 2400, abs=0.01)
    assert "bench pendants" in hand.text("#carries ol") and len(hand.all(".breakers .badge-bar")) >= 3


def test_the_code_on_a_label_leads_to_its_box(hand: Hand) -> None:
    """Read from the page as painted, with a decoder that knows nothing of what made it."""
    path = start(hand, "Labeled", "marrowby-rocker-dimmer", "marrowby-toggle")
    hand.act(lambda: add(hand, quantity="3", each="9 W"))
    hand.go(f"{HOUSE}/papers/labels?box={path.rsplit('/', 1)[1]}")
    assert "Gang 1: Rocker dimmer: LED 115 W at most here" in hand.text(".plate-label")
    clip: dict[str, Any] = hand.one(".code").rect | {"scale": 3}
    taken = hand.driver.execute_cdp_cmd("Page.captureScreenshot", {"clip": clip})
    found = zxingcpp.read_barcodes(Image.open(io.BytesIO(base64.b64decode(taken["data"]))))
    assert [one.text for one in found] == [hand.address + path]


def test_what_is_taken_for_granted_is_set_for_the_job(hand: Hand) -> None:
    hand.go(HOUSE)
    hand.open("#assume-more")
    hand.fill("assume", "to_room", "none")
    hand.press("#assume > button")
    hand.wait(lambda: hand.all("#assume-to_room-expected"))
    assert hand.one("#assume-to_room").get_attribute("value") == "none" and hand.axe() == []
    hand.fill("assume", "to_room", "0.12")
    hand.fill("assume", "motor_power_factor", "0.6")
    hand.press("#assume > button")
    hand.wait(lambda: "Assumptions: changed" in hand.text(".last"))
    hand.press("#undo")
    hand.wait(lambda: hand.text(".last").startswith("Undone: Assumptions"))


def test_ways_out_of_a_failing_box_come_after_the_act_and_can_be_taken(hand: Hand) -> None:
    at = start(hand, "Ways", *["marrowby-rocker-dimmer"] * 3, gangs="3", volume="60")
    hand.act(lambda: hand.press("#add-14-2"))
    add(hand, "d2", quantity="12", each="9 W")
    hand.wait(lambda: hand.all(".verdict .fixes button"))
    offered = hand.text(".verdict .fixes span")
    assert "the gangs in their best order, 10 min" in " ".join(offered.split()) and hand.axe() == []
    hand.go(at)
    hand.wait(lambda: hand.all(".verdict .fixes button"))
    assert hand.text(".verdict .fixes span") == offered
    hand.press(".verdict .fixes button")
    hand.wait(lambda: hand.all("#tried p"))
    assert "fails" not in hand.text("#verdict") and not hand.all(".verdict .fixes")
