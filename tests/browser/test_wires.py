"""Conductors told apart on the screen, practice on a hidden box, and what can go there."""

from __future__ import annotations

import pytest

from .hand import Hand

pytestmark = pytest.mark.browser


def test_wires_are_told_apart_reading_by_reading(hand: Hand) -> None:
    hand.phone()
    hand.go("/jobs/schoolhouse/boxes/loft/wires")
    assert hand.text("#wire-A1 .standing") == "not known yet"
    hand.open("#beyond-doubt")
    assert "every breaker off, verified dead" in hand.text(".next-reading .state-list")
    hand.act(lambda: hand.press("#next button[value=false]"))
    hand.press("#another summary")
    hand.fill("reading", "of", "A1")
    traced = {"kind": "continuity", "to": "panel hot", "circuit": "6", "lamps": "out", "others": "no change"}
    for name, value in (traced | {"ohms": "lively"}).items():
        hand.fill("reading", name, value)
    hand.press("#reading > button")
    hand.wait(lambda: hand.all("#reading-ohms-expected"))
    assert hand.one("#reading-ohms").get_attribute("value") == "lively"
    hand.fill("reading", "ohms", "0.4 Ω")
    hand.act(lambda: hand.press("#reading > button"))
    assert hand.text("#wire-A1 summary").split()[1:4] == ["line", "hot", "likely,"], "other loads may read as a wire"
    follow(hand, {("A1", "the lifted neutral"): "40", ("A2", "the lifted hot"): "40"}, "#wire-A1 summary", "proven")
    assert hand.text("#wire-A1 summary").split()[1:4] == ["line", "hot", "proven"]
    hand.open("#log")
    hand.act(lambda: hand.press('[aria-label="Drop r1"]'))
    assert hand.fits()
    assert hand.axe() == []


def test_the_readings_that_suffice_are_listed_and_prove_a_neutral(hand: Hand) -> None:
    """Traced hot, tried ground, traced neutral: after these the bench asks nothing more of the neutral."""
    hand.start_box(name="Told", room="Apart", gangs="1", volume="20", circuit="6")
    at = str(hand.driver.current_url).removeprefix(hand.address)
    hand.act(lambda: hand.press("#add-14-2"))
    hand.go(f"{at}/wires")
    hand.open("#beyond-doubt")
    shows = {
        ("A1", "the lifted hot"): "0.3", ("A1", "the lifted neutral"): "40", ("A1", "ground"): "121",
        ("A2", "the lifted hot"): "40", ("A2", "the lifted neutral"): "0.5", ("A2", "ground"): "0",
    }  # fmt: skip
    follow(hand, shows, ".wires-drawn .note", "Neutral in this box: yes, proven")
    assert "Neutral in this box: yes, proven" in hand.text(".wires-drawn .note")


def follow(hand: Hand, shows: dict[tuple[str, str], str], where: str, until: str) -> None:
    """Take the reading that is asked for, until the page says so; what is not listed shows no continuity."""
    for _ in range(16):
        if not hand.all("#next") or until in hand.text(where):
            return
        of, to = hand.text(".next-reading .big-says").split("from ")[1].split(" to ", 1)
        to = to.rstrip(".")
        shown = shows.get((of, to))
        volts = bool(hand.all("#next-volts"))
        if shown is None or (not volts and to == "ground"):
            hand.act(lambda: hand.press("#next button[value=false]"))
        else:
            hand.fill("next", "volts" if volts else "ohms", shown)
            hand.act(lambda: hand.press("#next > button"))


def test_an_impossible_reading_is_kept_and_stops_the_work(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/pantry/wires")
    hand.open("#beyond-doubt")
    hand.press("#another summary")
    hand.fill("reading", "of", "B1")
    hand.fill("reading", "volts", "340")
    hand.act(lambda: hand.press("#reading > button"))
    assert "340 V is more than a house of 120 V has" in hand.text(".stop") and hand.axe() == []
    assert "until what stops the work is cleared" in hand.text(".next-reading")
    hand.act(lambda: hand.press("#undo"))
    assert not hand.all(".stop")


def test_conductors_are_looked_at_and_named(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/porch/wires")
    hand.press("#strands .strand")
    assert hand.one("#wire-A1").get_attribute("open")
    hand.fill("wire-A1-form", "color", "white")
    hand.fill("wire-A1-form", "tape", "black")
    hand.act(lambda: hand.press("#wire-A1-form > button"))
    assert "tape black" in hand.text("#wire-A1 .why")
    hand.act(lambda: hand.press("#name-A-1 button"))
    assert hand.all("#strands .color-white") and hand.all("#strands .tape.color-black")
    hand.go("/jobs/schoolhouse/boxes/porch/wires/sheet")
    assert len(hand.all(".told tbody tr")) == 2 * 9 and hand.axe() == []


def test_practice_on_a_hidden_box(hand: Hand) -> None:
    hand.go("/practice")
    hand.press("form.choices button")
    hand.wait(lambda: hand.all("#wires"))
    assert "hidden box, level 1" in hand.text("h1").lower()
    taken = 0
    while hand.all("#next button"):
        hand.act(lambda: hand.press("#next button"))
        taken += 1
        assert taken < 40
    roles = {"line": "line", "switch": "switched", "hot": "onward", "not": "unused"}  # by the first word people see
    truth = {one.text.split()[0]: one.text.split()[1] for one in hand.all("#wires .surveyed summary")}
    for id, role in truth.items():
        hand.open(f"#wire-{id}")
        hand.fill(f"wire-{id}-form", "asserted_role", roles.get(role, role))
        hand.act(lambda id=id: hand.press(f"#wire-{id}-form > button"))  # type: ignore[misc]
    hand.act(lambda: hand.press("#reveal button"))
    said = hand.text("#score-title ~ .big-says")
    assert said.startswith(f"{len(truth)} of {len(truth)} named right, with {taken} readings")
    assert f"the next-reading rule takes {taken} to prove" in said and hand.axe() == []


def test_what_can_go_there_is_ranked_with_reasons_and_put_in(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/boxes/kitchen-bench/choose?gang=1&wish=w1")
    assert "Does everything you asked for already" in hand.text(".options .option")
    assert "Carries the load" in hand.text(".options") and hand.axe() == []
    hand.driver.execute_script("document.querySelectorAll('details').forEach(d => d.open = true)")
    assert hand.all(".option .effect .badge") and hand.all(".option .effect .badge-bar")
    hand.open("#ruled-out")
    assert "what you asked for" in hand.text("#ruled-out")
    hand.press(".options .option form button")
    hand.wait(lambda: hand.all("#bench"))
    assert "in place of" in hand.text(".history li") and hand.all("#gang-1 .bar, #channel-d1-1"), (
        "what hangs there stays"
    )
    hand.act(lambda: hand.press("#undo"))


@pytest.mark.parametrize(
    "path",
    ["cloakroom/wires", "kitchen-bench/wires", "study/choose", "cloakroom/wires/sheet", "stair-foot/choose?gang=2"],
)
def test_axe_finds_nothing_and_a_phone_shows_all(hand: Hand, path: str) -> None:
    hand.phone()
    hand.everyone(f"/jobs/schoolhouse/boxes/{path}")
    assert hand.fits()


def test_the_most_usual_box_takes_two_looks_and_one_live_test(hand: Hand) -> None:
    """On a phone, by taps alone: from nothing known of the wires to each one measured, and the neutral with them."""
    hand.start_box(name="Den", room="Den", line='1g 20in3; 14/2 x2; smart dimmer "Den" 4x9W led')
    at = str(hand.driver.current_url).removeprefix(hand.address)
    hand.phone()
    hand.go(f"{at}/wires")
    taps = 0
    for tap in ("#look-works button", "#look-wires button.big"):
        hand.act(lambda tap=tap: hand.press(tap))  # type: ignore[misc]
        taps += 1
    assert hand.fits() and hand.axe() == []
    hand.fill("volts-1", "volts", "lively")
    hand.press("#volts-1 > button")
    hand.wait(lambda: hand.all("#volts-1-volts-expected"))
    assert hand.one("#volts-1-volts").get_attribute("value") == "lively"
    hot = ("black of A to ground.", "from the hot")
    while rows := hand.all(".touches .tapped"):
        asked = hand.text(".touches li:has(form)").splitlines()[0]
        shown = "full" if any(words in asked for words in hot) else "none"
        hand.act(lambda shown=shown: hand.press(f".touches form button[value={shown}]"))  # type: ignore[misc]
        taps += 1
        assert len(rows) == 1 and taps < 10
    assert taps == 7, "two looks, four touches, and the hot once more with the breaker off"
    assert "the whites of A and B" in hand.text(".measured")
    hand.act(lambda: hand.press("#use-measured button"))
    assert hand.text("#wire-A1 summary").split()[1:4] == ["line", "hot", "measured"]
    hand.everyone(f"{at}/wires")
    hand.go(at)
    assert hand.text("#verdict .says").lower().startswith("holds")
    assert not hand.all("#verdict .assumed")


def test_a_live_test_that_fits_no_plain_box_stops_the_work(hand: Hand) -> None:
    hand.start_box(name="Odd", room="Den", line='1g 20in3; 14/2 x2; smart dimmer "Odd" 4x9W led')
    at = str(hand.driver.current_url).removeprefix(hand.address)
    hand.go(f"{at}/wires")
    shown = (f".touches form button[value={value}]" for value in ("full", "none", "full"))
    for tap in ("#look-works button", "#look-wires button.big", *shown):
        hand.act(lambda tap=tap: hand.press(tap))  # type: ignore[misc]
    assert "The splice in the back is hot" in hand.text("main") and not hand.all(".touches form")
    hand.act(lambda: hand.press("#test-again button"))
    assert hand.all(".touches form")
