"""The strip above the screens of a box: what comes next, done there or put off."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from nail_count.demo.house import library
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.model.job import Job
from nail_count.trade.quick_entry.enter_line import StartByLine
from nail_count.web.app import make_app

BOX = "/jobs/house/boxes/den-den"
FRAGMENT = {"HX-Request": "true"}
LINE = '14/2 x2; smart dimmer "Den" 4x9W led'


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    app = make_app(tmp_path / "kept.sqlite3", ("testserver",))
    bare = Documents(JobAtHand(Job(name="House", sheets=library())), {})
    app.state.store.add_job(StartByLine(name="Den", room="Den", line=LINE).apply(bare).documents.job, "house")
    yield TestClient(app, client=("127.0.0.1", 50000))
    app.state.store.close()


def strip(client: TestClient, at: str = "") -> str:
    answer = client.get(f"{BOX}/next", params={"at": at}, headers=FRAGMENT)
    assert answer.status_code == 200
    return answer.text


def order(client: TestClient) -> str:
    found = re.search(r"<b>Next:</b> ([^<]*) <span", strip(client))
    return found[1] if found else ""


def fields(text: str, action: str) -> dict[str, str]:
    """What the form to an address sends."""
    (form,) = re.findall(rf'<form[^>]*action="{re.escape(action)}".*?</form>', text, re.DOTALL)
    found = dict(re.findall(r'name="(\w+)"\s+value="([^"]*)"', form))
    return found | dict.fromkeys(set(re.findall(r'name="(\w+)"', form)) - set(found), "")


def test_what_comes_next_is_done_right_there(client: TestClient) -> None:
    """A number typed into the strip, then one tap: a proposed hook-up, from an empty box."""
    assert order(client) == "Enter the volume stamped in the box."
    action = f"{BOX}/edit/set-volume"
    typed = fields(strip(client), action) | {"volume": "20"}
    assert client.post(action, data=typed, follow_redirects=False).status_code == 303
    assert order(client) == "Plan what joins what."
    action = f"{BOX}/hookup/edit/propose-hookup"
    done = client.post(action, data=fields(strip(client), action))
    assert done.status_code == 200 and "the box is wired as usual" in " ".join(done.text.split())
    assert order(client).startswith("Find the breaker.")


def test_a_volume_that_cannot_be_is_refused_with_what_was_typed(client: TestClient) -> None:
    action = f"{BOX}/edit/set-volume"
    wrong = client.post(action, data=fields(strip(client), action) | {"volume": "twenty"})
    assert wrong.status_code == 422 and 'value="twenty"' in wrong.text


def test_later_leads_back_and_asks_for_the_next_thing(client: TestClient) -> None:
    action = f"{BOX}/next/later"
    said = fields(strip(client, "hookup"), action)
    back = client.post(action, data=said, follow_redirects=False)
    assert back.status_code == 303 and back.headers["location"] == f"{BOX}/hookup"
    assert order(client) == "Plan what joins what."
    again = client.post(action, data=said, follow_redirects=False)
    assert again.status_code == 303, "a second tap of the same button changes nothing"
    stale = client.post(action, data=said | {"token": "0a1b2c3d", "ask": "loads"}, follow_redirects=False)
    assert stale.status_code == 303, "an older page may put something off too"
    twice = client.post(action, data=said | {"token": "0a1b2c3e"})
    assert twice.status_code == 422 and "put off already" in twice.text
    unknown = client.post(action, data=said | {"token": "0a1b2c3f", "ask": "tea"})
    assert unknown.status_code == 422


def test_every_screen_of_a_box_has_the_strip_and_a_page_stands_behind_it(client: TestClient) -> None:
    for path in ("", "/survey", "/interview", "/wires", "/choose", "/hookup", "/install", "/commission", "/history"):
        page = client.get(f"{BOX}{path}").text
        assert 'id="guide"' in page and page.count('aria-label="Phases of this box"') == 1, path
    alone = client.get(f"{BOX}/next")
    assert alone.status_code == 200 and "<title>Next at Den, Den" in alone.text
    assert client.get("/jobs/house/boxes/nowhere/next").status_code == 404


def test_two_gangs_are_planned_from_a_line_and_their_breaker_comes_before_the_test(client: TestClient) -> None:
    """A line with one feed plans the box; on Wires, the breaker is found first, then one looks and tests."""
    line = '2g 34, 14/2 feed, 14/2 to hall, 14/2 to porch, smart dimmer "Porch" 2x9W led, smart dimmer "Hall" 4x9W led'
    (token,) = re.findall(r'name="token" value="([^"]*)"', client.get("/").text)[:1] or [""]
    sent = client.post("/plan", data={"line": line, "token": token}, follow_redirects=False)
    assert sent.status_code == 303 and sent.headers["location"].endswith("/hookup"), sent.text
    box = sent.headers["location"].removesuffix("/hookup")
    wires = client.get(f"{box}/wires").text
    assert "Find the breaker first" in wires and 'id="look"' not in wires
    action = f"{box}/wires/edit/found-breaker"
    wrong = client.post(action, data=fields(wires, action) | {"breaker": "nine"})
    assert wrong.status_code == 422 and 'value="nine"' in wrong.text and "Find the breaker first" in wrong.text
    found = client.post(action, data=fields(wires, action) | {"breaker": "9, 15 A"})
    assert found.status_code == 200 and "Find the breaker first" not in found.text and 'id="look"' in found.text
