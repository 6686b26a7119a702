"""Jobs in and out, as a person does it: a table looked at and landed, an archive taken and brought in, a token."""

from __future__ import annotations

from pathlib import Path

import httpx2
from selenium.webdriver.support.ui import Select

from tests.browser.hand import Hand

TABLE = """Box;Room;Ganged;Volume;Cables;Devices;Watts;Ckt;Remarks
Counter;Kitchen;3;54,0;14/2 x3, 12/3;dimmer, switch, fan;6x9W led, 60, 0,9A;5;by the window
Study;Head teacher's study;2;34;14/2;dimmer;45;;
Hall;Hall;two;34;three;;;99;
"""


def test_a_table_is_understood_row_by_row_and_lands_as_one_act(hand: Hand, tmp_path: Path) -> None:
    file = tmp_path / "boxes.csv"
    file.write_bytes(TABLE.encode("cp1252"))
    hand.phone()
    hand.go("/jobs/schoolhouse/bring-in")
    hand.one("#boxes-file").send_keys(str(file))
    hand.press("#boxes button[value=look]")
    hand.wait(lambda: len(hand.all("#boxes tbody tr")) == 3)
    rows = [row.text for row in hand.all("#boxes tbody tr")]
    assert "54 in3 marked in it" in rows[0] and "0.9 A fan" in rows[0] and "is here already" in rows[1]
    assert "enter a breaker of this panel" in rows[2] and "stays out" in rows[2] and hand.axe() == [] and hand.fits()
    assert [bool(box.get_attribute("checked")) for box in hand.all("#boxes tbody input")] == [True, False]
    Select(hand.one("#column-0")).select_by_value("")
    hand.press("#boxes button[value=land]")
    hand.wait(lambda: hand.all("#boxes-text-expected"))
    assert "at least one row" in hand.text("#boxes-text-expected"), "a table without names lands nothing"
    Select(hand.one("#column-0")).select_by_value("name")
    hand.press("#boxes button[value=look]")
    hand.wait(lambda: hand.all("#row-2"))
    hand.press("#row-2") if not hand.one("#row-2").is_selected() else None
    hand.press("#boxes button[value=land]")
    hand.wait(lambda: "1 box imported from a table" in hand.text("main"))
    hand.press('form[action$="/undo"] button')
    hand.wait(lambda: "Undone: 1 box imported from a table" in hand.text("main"))


def test_a_directory_is_pasted_and_lands_in_the_panel(hand: Hand) -> None:
    hand.go("/jobs/schoolhouse/bring-in/directory")
    hand.one("#directory-text").send_keys("11 Attic 15A\n12 open\n1 Kitchen 15A\nspare")
    hand.press("#directory button[value=look]")
    hand.wait(lambda: len(hand.all("#directory tbody tr")) == 4)
    said = hand.text("#directory")
    assert hand.axe() == [] and "in the panel already" in said and "stays out" in said
    assert str(hand.one("#directory-text").get_attribute("value")).endswith("spare"), "what was typed stays"
    hand.press("#directory button[value=land]")
    hand.wait(lambda: "Attic" in hand.text("main") and "/panel" in hand.driver.current_url)


def test_an_archive_goes_out_and_comes_in_beside_it(hand: Hand, tmp_path: Path) -> None:
    hand.everyone("/jobs/schoolhouse/take-out")
    link = hand.one('a[href$="/take-out/archive"]').get_attribute("href")
    assert link
    (tmp_path / "house.archive").write_bytes(httpx2.get(link).content)
    hand.go("/")
    hand.one("#job-file").send_keys(str(tmp_path / "house.archive"))
    hand.press("#import button")
    hand.wait(lambda: hand.driver.current_url.endswith("/jobs/the-old-schoolhouse"))
    (tmp_path / "half.archive").write_bytes((tmp_path / "house.archive").read_bytes()[:5000])
    hand.go("/")
    hand.one("#job-file").send_keys(str(tmp_path / "half.archive"))
    hand.press("#import button")
    hand.wait(lambda: "archive is not whole" in hand.text(".upload-says"))
    assert len(hand.all(".jobs > li")) == 2 and hand.axe() == []


def test_a_token_is_made_shown_once_and_withdrawn(hand: Hand) -> None:
    hand.phone()
    hand.everyone("/tokens")
    hand.fill("token", "days", "soon")
    hand.fill("token", "name", "van list")
    hand.press("#token button")
    hand.wait(lambda: "such as 90" in hand.text("#token"))
    assert hand.one("#token-name").get_attribute("value") == "van list"
    hand.fill("token", "days", "90")
    hand.press("#token button")
    hand.wait(lambda: hand.all("#made"))
    made = hand.one("#made").get_attribute("value")
    assert made and made.startswith("nailcount_") and hand.axe() == [] and hand.fits()
    hand.go("/tokens")
    assert not hand.all("#made")
    bearer = {"authorization": f"Bearer {made}"}
    assert httpx2.get(f"{hand.address}/api/v1/jobs", headers=bearer).status_code == 200
    hand.press('form[action$="/withdraw"] button')
    hand.wait(lambda: "withdrawn" in hand.text("tbody"))
    assert httpx2.get(f"{hand.address}/api/v1/jobs", headers=bearer).status_code == 401
