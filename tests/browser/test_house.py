"""From the front door to a counted box: the first box, the survey on a phone, the panel, the wishes, what-if."""

from __future__ import annotations

import json
from pathlib import Path

import httpx2
import pytest
from PIL import Image
from selenium.webdriver import Chrome

from .driving import server
from .hand import Hand

pytestmark = pytest.mark.browser


def test_an_empty_application_invites_the_first_box(driver: Chrome, data: Path) -> None:
    with server(data, "serve") as address:
        hand = Hand(driver, address)
        hand.phone()
        hand.go("/")
        assert hand.text("h1") == "Plan a box from one line" and hand.fits() and hand.axe() == []
        hand.fill("first", "name", "Back door")
        hand.fill("first", "volume", "a lot")
        hand.press("#first button")
        hand.wait(lambda: hand.all("#first-volume-expected"))
        assert hand.one("#first-name").get_attribute("value") == "Back door"
        hand.fill("first", "room", "Kitchen")
        hand.fill("first", "volume", "333 mL")
        hand.press("#first button")
        hand.wait(lambda: hand.all("#bench"))
        assert "333 mL was turned into 20.32 in³" in hand.text("#ledger")
        hand.act(lambda: hand.press("#add-14-2"))
        assert "tight" in hand.text("#verdict") or "holds" in hand.text("#verdict")


def test_a_survey_on_a_ladder(hand: Hand, tmp_path: Path) -> None:
    hand.phone()
    hand.go("/jobs/schoolhouse/boxes/pantry/survey")
    assert hand.text("#survey .progress").startswith("2 of 11 steps done") and hand.fits()
    for tick in ("tester-before", "box-dead", "tester-after"):
        hand.act(lambda tick=tick: hand.press(f"#dead-plate-on-{tick} button"))  # type: ignore[misc]
    assert len(hand.all("#step-dead .ticked time")) == 3
    hand.press("#dead-plate-off-box-dead button")
    hand.wait(lambda: "“tester proven on a known live point” first" in hand.text("#step-dead"))
    assert hand.axe() == []
    hand.press('[data-next="step-photos"]')
    assert hand.driver.switch_to.active_element.text.startswith("3")
    good, bad = tmp_path / "box.jpg", tmp_path / "notes.jpg"
    Image.new("RGB", (900, 600), "tan").save(good)
    bad.write_text("no picture")
    hand.one("#photos-photo").send_keys(f"{good}\n{bad}")
    hand.fill("photos", "caption", "as found")
    hand.press("#photos > button")
    hand.wait(lambda: "this file is none" in hand.text("#photos .upload-says"))
    assert "notes.jpg: Pick a JPEG, PNG or WebP; this file is none" in hand.text("#photos .upload-says")
    assert hand.one("#photos-caption").get_attribute("value") == "as found" and hand.axe() == []
    hand.press("#photos .upload-says button")
    hand.wait(lambda: hand.all(".photos img"))
    hand.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
    assert "as found" in hand.text(".photos")
    shown = "const i = document.querySelector('.photos img'); return i.complete && i.naturalWidth > 0"
    hand.driver.execute_script("document.querySelector('.photos img').scrollIntoView()")
    hand.wait(lambda: hand.driver.execute_script(shown))
    hand.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
    hand.act(lambda: hand.press("#gangs-2 button"))
    hand.act(lambda: hand.press("#gangs-1 button"))
    hand.act(lambda: hand.press("#clamps-no button"))
    hand.act(lambda: hand.press("#holes-stripped button"))
    hand.fill("depth", "depth", "2⅞")
    hand.act(lambda: hand.press("#depth button"))
    hand.fill("depth-setback", "setback", "deep")
    hand.press("#depth-setback button")
    hand.wait(lambda: hand.all("#depth-setback-setback-expected"))
    assert "Enter a length such as “2 1/8 in”" in hand.text("#depth-setback-setback-expected")
    hand.act(lambda: hand.press("#cables-ground button"))
    assert "14 ground" in hand.text(".surveyed li:last-child")
    hand.act(lambda: hand.press("#undo"))
    assert hand.fits() and hand.axe() == []
    hand.go("/jobs/schoolhouse/next-visit")
    assert "could change an answer" in hand.text("main").lower()
    assert "Look at the free length and wire ends" in hand.text("#main")


def test_the_breaker_is_found_step_by_step(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/study/breaker")
    off = hand.text(".big-says")
    assert off.startswith("Switch off breaker")
    hand.act(lambda: hand.press("#still-on button"))
    assert hand.text(".big-says") != off
    hand.act(lambda: hand.press("#went-out button"))
    assert "feeds this box" in hand.text(".big-says") and hand.axe() == []
    hand.act(lambda: hand.press("#undo"))
    assert hand.text(".big-says").startswith("Switch off breaker")


def test_the_panel_as_found_and_as_corrected(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/panel")
    hand.press('[aria-label="Enter the breaker in space 11"]')
    hand.wait(lambda: hand.all("#circuit"))
    hand.fill("circuit", "id", "11")
    hand.fill("circuit", "breaker", "a few")
    hand.fill("circuit", "label", "Attic")
    hand.press("#circuit button")
    hand.wait(lambda: hand.all("#circuit-breaker-expected"))
    assert hand.one("#circuit-label").get_attribute("value") == "Attic"
    hand.fill("circuit", "breaker", "20 A")
    hand.fill("circuit", "feeds", "Loft and bell")
    hand.press("#circuit button")
    hand.wait(lambda: not hand.all("#circuit"))
    assert "Attic Loft and bell" in hand.text(".breakers") and "Circuit 11 entered" in hand.text(".last")
    hand.press("#undo")
    hand.wait(lambda: "Undone" in hand.text(".last"))
    assert "Loft and bell" not in hand.text(".breakers")


def test_what_people_want_is_asked_in_seven_questions_on_one_screen(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/porch/interview")
    assert len(hand.all(".questions li")) == 7
    hand.fill("wish-new", "what", "Porch lamp")
    hand.fill("wish-new", "loads", "two lamps")
    hand.fill("wish-new", "hub", "Larkfield hub")
    hand.press("#wish-new > button")
    hand.wait(lambda: hand.all("#wish-new-loads-expected"))
    hand.fill("wish-new", "loads", "2x7W led")
    hand.act(lambda: hand.press("#wish-new > button"))
    assert "porch lamp" in hand.text("#wish-w1-title").lower()
    hand.go("/jobs/schoolhouse/boxes/loft/interview")
    assert hand.one("#wish-new-hub").get_attribute("value") == "Larkfield hub"


def test_a_what_if_is_changed_freely_and_kept(hand: Hand) -> None:
    hand.box("reading-room")
    hand.press("form[action$='/what-if'] button")
    hand.wait(lambda: hand.all(".tried"))
    hand.act(lambda: hand.press("#add-14-2"))
    assert "Cable E more: 14/2" in hand.text(".tried") and hand.axe() == []
    hand.act(lambda: hand.press("form[action$='/edit/remove-device'] button"))
    hand.press(".tried button[value=keep]")
    hand.wait(lambda: not hand.all(".tried"))
    assert "What was tried out is kept" in hand.text(".history") and len(hand.all(".cables li")) == 5
    hand.go("/jobs/schoolhouse/boxes/reading-room/history?at=1")
    hand.press('[aria-label="As found"] button')
    hand.wait(lambda: "different from the plan" in hand.text('[aria-label="As found"]'))
    assert "Gang 1 gone" in hand.text('[aria-label="As found"]') and hand.axe() == []
    hand.press('[aria-label="As found"] [aria-label="Forget it: what was found"]')
    hand.wait(lambda: "As found: not recorded" in hand.text('[aria-label="As found"]'))
    hand.go("/jobs/schoolhouse/boxes/reading-room/history?at=1&beside=2")
    assert "from step 1 to step 2" in hand.text("#changed-title").lower()
    assert "Cable E more" in hand.text(".changed") and hand.axe() == []


def test_a_box_is_moved_and_an_act_on_the_house_undone(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse")
    hand.driver.execute_script("document.querySelector('#box-pantry details').open = true")
    hand.fill("move", "pantry", "Scullery")
    hand.press("#box-pantry form:nth-of-type(2) button")
    hand.wait(lambda: "moved from Kitchen" in hand.text(".last"))
    assert "Scullery" in [room.text for room in hand.all(".rooms h3")]
    hand.press("#undo")
    hand.wait(lambda: "Undone" in hand.text(".last"))
    assert "Scullery" not in [room.text for room in hand.all(".rooms h3")]


def test_words_of_the_trade_are_explained_on_demand(hand: Hand) -> None:
    hand.box("study")
    meaning = hand.one("#word-derating")
    assert not meaning.is_displayed()
    hand.press('[popovertarget="word-derating"]')
    assert meaning.is_displayed() and "for where it stands" in meaning.text
    assert hand.axe() == []


@pytest.mark.parametrize(
    "path",
    [
        "/jobs/schoolhouse/panel?circuit=9",
        "/jobs/schoolhouse/next-visit",
        "/jobs/schoolhouse/boxes/front-door/survey",
        "/jobs/schoolhouse/boxes/stair-foot/interview",
        "/jobs/schoolhouse/boxes/bell-room/breaker",
        "/words",
        "/rules",
        "/jobs/schoolhouse/boxes/washroom",
        "/jobs/schoolhouse/sheets",
        "/jobs/schoolhouse/sheets/tarn-two",
        "/jobs/schoolhouse/bring-in",
        "/jobs/schoolhouse/relamping",
        "/jobs/schoolhouse/boxes/porch/count?beside=csa",
        "/jobs/schoolhouse/boxes/porch/count?beside=uk",
    ],
)
def test_axe_finds_nothing_and_a_phone_shows_all(hand: Hand, path: str) -> None:
    hand.phone()
    hand.everyone(path)
    assert hand.fits()


def test_what_else_is_in_a_box_is_counted_and_seen(hand: Hand) -> None:
    hand.start_box(name="Contents", room="Loft", line="2g 34in3; 14/2 x3; ostrel-smart-switch, marrowby-rocker-dimmer")
    assert hand.text("#bulk-rail").split()[:2] == ["holds", "Bulk,"]
    hand.open("#contents")
    hand.fill("in-module", "sheet", "tarn-one")
    hand.act(lambda: hand.press("#in-module > button"))
    assert "One-channel module, loose in the box" in hand.text("#ledger")
    hand.fill("in-connectors", "count", "6")
    hand.act(lambda: hand.press("#in-connectors > button"))
    hand.fill("in-barrier", "after", "2")
    hand.press("#in-barrier > button")
    hand.wait(lambda: "Put each barrier between two of the 2 gangs" in hand.text("#contents"))
    assert hand.axe() == []
    hand.fill("in-barrier", "after", "1")
    hand.act(lambda: hand.press("#in-barrier > button"))
    assert "Volume, gangs" in hand.text(".more-rail")
    for _ in range(3):
        hand.act(lambda: hand.press("#undo"))
    hand.fill("in-depth", "depth", "3/4 in")
    hand.act(lambda: hand.press("#in-depth > button"))
    assert hand.text("#depth-says").split()[:2] == ["fails", "Depth:"] and hand.all("#side .touches")
    bodies = hand.attributes("#side .body", "width", "data-mm")
    assert bodies and all(one["width"] == one["data-mm"] for one in bodies)
    hand.act(lambda: hand.press("#undo"))


def test_legal_but_it_will_not_close_is_seen_at_once(hand: Hand) -> None:
    hand.start_box(name="Shallow", room="Loft", line="1g 18in3; 14/2 x2; ostrel-smart-switch")
    assert "snug, " in hand.text("#bulk-rail") and "Legal, but" not in hand.text("#bulk-rail")
    hand.open("#contents")
    hand.fill("in-depth", "depth", "1 3/8 in")
    hand.act(lambda: hand.press("#in-depth > button"))
    assert "Legal, but it will not close" in hand.text("#bulk-rail")
    assert "Bulk, an estimate: will not go" in hand.text("#verdict")


def test_a_box_is_looked_at_under_another_code_and_in_the_boxes_of_the_stock(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/stair-foot/count?beside=nec-2017")
    said = hand.text("#compared")
    assert said.startswith("Under NEC 2023: holds") and "Under NEC 2017: holds" in said
    assert "New work, four gangs" in hand.text("#stock") and hand.axe() == []
    hand.fill("shelf", "name", "Woodshed box")
    hand.fill("shelf", "volume", "huge")
    hand.press("#shelf > button")
    hand.wait(lambda: hand.all("#shelf-volume-expected"))
    assert hand.one("#shelf-name").get_attribute("value") == "Woodshed box"
    hand.fill("shelf", "volume", "80 in3")
    hand.fill("shelf", "gangs", "4")
    hand.press("#shelf > button")
    hand.wait(lambda: "Woodshed box" in hand.text("#stock tbody"))
    hand.press('[aria-label="No longer in stock: Woodshed box"]')
    hand.wait(lambda: "Woodshed box" not in hand.text("#stock tbody"))


def test_a_job_judged_by_another_code_shows_it_in_its_list(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse")
    hand.fill("about", "code", "csa")
    hand.press("#about > button")
    hand.wait(lambda: "counted by CSA" in hand.text(".last"))
    hand.box("pantry")
    assert "mL" in hand.text(".figures") and "CSA C22.1" in hand.text("#ledger")
    hand.go("/jobs/schoolhouse")
    hand.press("#undo")
    hand.wait(lambda: "Undone" in hand.text(".last"))
    assert "exactly full" in hand.text("#box-pantry")


def test_what_no_longer_fits_is_taken_back_by_the_way_out_and_a_misfit_is_mended(hand: Hand) -> None:
    """The study hung on a circuit that is gone by now; another copy of the house still says so."""

    def post(path: str, **said: str) -> httpx2.Response:
        return httpx2.post(f"{hand.address}{path}", data=said, follow_redirects=True)

    house, study = "/jobs/schoolhouse", "/jobs/schoolhouse/boxes/study"
    post(f"{house}/panel/edit/put-circuit", id="77", breaker="15")
    for revision, circuit in (("1", "77"), ("2", "")):
        post(f"{study}/edit/rename", name="Study", room="Study", circuit=circuit, revision=revision)
    post(f"{house}/panel/edit/remove-circuit", id="77")
    hand.go(study)
    hand.press("#undo")
    hand.wait(lambda: "leave open that circuit 77 feeds it" in hand.text(".notice"))
    assert hand.axe() == []
    hand.press(".notice button")
    hand.wait(lambda: not hand.all(".notice") and "Undone" in hand.text(".history"))
    taken = httpx2.get(f"{hand.address}{house}/export").json()
    taken["boxes"][0] |= {"circuit": "99"}
    back = httpx2.post(f"{hand.address}/import", files={"file": ("x.json", json.dumps(taken))}, follow_redirects=True)
    hand.phone()
    hand.everyone(f"{back.url.path}/boxes/{taken['boxes'][0]['id']}")
    assert "t is on circuit “99”" in hand.text("#to-mend") and hand.fits()
    hand.press("#to-mend button")
    hand.wait(lambda: not hand.all("#to-mend"))
    assert "Mended" in hand.text(".history")


COUNTS = """
if (!window.counting) for (const [what, event] of [["touches", "pointerdown"], ["keys", "keydown"]])
  addEventListener(event, () => { sessionStorage[what] = Number(sessionStorage[what] ?? 0) + 1; }, true);
window.counting = true;
"""
"""Counts the browser's own pointer and key events over all pages of a tab, once however often it is added."""


def counted(hand: Hand, what: str) -> int:
    return int(hand.driver.execute_script("return sessionStorage[arguments[0]] ?? 0", what))


def test_a_new_installation_plans_the_most_usual_swap_from_one_line(driver: Chrome, data: Path) -> None:
    """From nothing to a hook-up that holds if the box is wired as usual, with its parts: two touches and one line."""
    line = '1g 18in3; 14/2 x2; smart dimmer "Hall" 4x9W led'
    with server(data, "serve") as address:
        hand = Hand(driver, address)
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTS})
        hand.phone()
        hand.go("/")
        hand.press("#plan-line")
        driver.switch_to.active_element.send_keys(line)
        hand.press("#plan > button")
        hand.wait(lambda: hand.all("#rests-on"))
        assert counted(hand, "touches") == 2 and counted(hand, "keys") <= len(line) + 8
        assert "holds if the box is wired as usual" in " ".join(hand.text("#proof-title").lower().split())
        assert "1 × Smart dimmer" in hand.text("#work-parts") and hand.fits() and hand.axe() == []
        hand.wait(lambda: "Find the breaker" in hand.text("#guide"))
        hand.go("/")
        hand.fill("plan", "line", "1g 18in3; 14/2; toaster")
        hand.press("#plan > button")
        hand.wait(lambda: hand.all("#plan-line-expected"))
        assert hand.one("#plan-line").get_attribute("value") == "1g 18in3; 14/2; toaster"
        assert hand.problems() == []


def test_a_pair_of_three_ways_is_planned_from_two_lines(driver: Chrome, data: Path) -> None:
    """From nothing to both hook-ups, one tap each for the lines, their buttons and the proposal; at most 20 touches."""
    top = '1g 20in3; 14/2 feed, 14/3 to bottom; smart pair dimmer "Stairs" 4x9W led'
    bottom = "1g 20in3; 14/2 to light, 14/3; companion of the smart pair dimmer"
    with server(data, "serve") as address:
        hand = Hand(driver, address)
        driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTS})
        hand.phone()
        hand.go("/")
        hand.press("#plan-line")
        driver.switch_to.active_element.send_keys(top)
        hand.press("#plan > button")
        hand.wait(lambda: "Start Bottom" in hand.text("#guide"))
        hand.press('#guide [name="line"]')
        driver.switch_to.active_element.send_keys(bottom)
        hand.press("#guide button")
        hand.wait(lambda: "Plan what joins what" in hand.text("#guide"))
        hand.press("#guide button")
        hand.wait(lambda: hand.all("#rests-on"))
        assert counted(hand, "touches") == 5
        said = hand.text("#rests-on")
        assert "In First box, the whites of A and B are tied together" in said
        assert "In Bottom, the whites of A and B are tied together" in said
        hand.go(driver.current_url.removeprefix(address).replace("first-room-bottom", "first-room-first-box"))
        assert "holds if the box is wired as usual" in " ".join(hand.text("#proof-title").lower().split())
        assert hand.fits()
        assert hand.axe() == []
        hand.go(driver.current_url.removeprefix(address).replace("/hookup", "/wires"))
        hand.press("#look-three button")
        hand.wait(lambda: hand.all("#place-1"))
        hand.press("#look-wires button.big")
        hand.wait(lambda: hand.all("#live-test"))
        assert "Test the black of A to ground." in hand.text("#live-test")
        assert hand.fits()
        assert hand.axe() == []
        assert hand.problems() == []


def test_the_tenth_box_like_it_takes_six_touches(hand: Hand) -> None:
    """By its link, its name, its volume, two ticks and the button; whatever was not confirmed is asked."""
    hand.driver.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": COUNTS})
    hand.phone()
    hand.start_box(name="First", room="Loft", line='1g 18in3; 14/2 x2; smart dimmer "Loft" 4x9W led')
    hand.go(hand.driver.current_url.removeprefix(hand.address) + "/copy")
    assert hand.fits()
    assert hand.axe() == []
    before = counted(hand, "touches")
    for name, typed in (("name", "Tenth"), ("volume", "20.3")):
        hand.press(f"#like-{name}")
        hand.driver.switch_to.active_element.send_keys(typed)
    for name in ("cables", "lamps"):
        hand.press(f"#like-{name}")
    hand.press("#like > button")
    hand.wait(lambda: hand.all("#bench"))
    assert counted(hand, "touches") - before == 5, "and one for the link"
    assert "holds if" in hand.text("#verdict").lower()
    assert "of 20.3 in³" in hand.text("#bench")
