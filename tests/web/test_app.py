"""Pages without a browser: who may call, what a page may load, refusals that keep what was typed."""

from __future__ import annotations

import html
import re
import shutil
from collections.abc import Iterator
from html.parser import HTMLParser
from importlib.resources import files
from io import BytesIO
from pathlib import Path
from typing import Any
from urllib.parse import urljoin

import pytest
from PIL import Image
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.rules.check import check_circuits, fitting_job
from nail_count.trade.text.format import say
from nail_count.web.app import make_app
from nail_count.web.pages.bench import routes as bench
from nail_count.web.searches import ways_in_time

BOX = "/jobs/schoolhouse/boxes/kitchen-bench"
PAGES = ["/", "/jobs/schoolhouse", BOX, f"{BOX}/history", "/about", "/docs", "/jobs/nowhere"]


@pytest.fixture
def client(demo: Path, tmp_path: Path) -> Iterator[TestClient]:
    """Every test has a house of its own."""
    shutil.copy(demo, tmp_path / "kept.sqlite3")
    with TestClient(
        make_app(tmp_path / "kept.sqlite3"), base_url="http://localhost", client=("127.0.0.1", 50000)
    ) as made:
        yield made


def revision(client: TestClient, box: str = BOX) -> str:
    found = re.search(r'data-revision="(\d+)"', client.get(box).text)
    assert found
    return found[1]


@pytest.mark.parametrize("page", PAGES)
def test_pages_load_nothing_from_elsewhere_and_run_no_inline_script(client: TestClient, page: str) -> None:
    answer = client.get(page)
    policy = answer.headers["content-security-policy"]
    assert "default-src 'none'" in policy and "unsafe" not in policy and "http" not in policy
    links = re.findall(r'(?:src|href|action|hx-get|hx-post)="(\w+:|//)', answer.text)
    assert links == []
    assert not re.search(r"<script(?![^>]*src=)|\son\w+=|\sstyle=|hx-on|js:", answer.text)
    assert "A count is not a permit" in answer.text


def test_unknown_hosts_and_other_sites_are_refused(client: TestClient) -> None:
    assert client.get("/", headers={"host": "elsewhere.example"}).status_code == 400
    act = {"revision": revision(client), "clamps": ""}
    for headers in (
        {"sec-fetch-site": "cross-site"},
        {"sec-fetch-site": "same-site"},
        {"origin": "http://x.example"},
    ):
        assert client.post(f"{BOX}/edit/set-clamps", data=act, headers=headers).status_code == 403
    assert revision(client) == act["revision"]
    assert client.post("/theme", data={"theme": "dark", "back": "//x.example"}).url.path == "/"


def test_an_act_without_script_leads_back_to_the_bench(client: TestClient) -> None:
    act = {"revision": revision(client), "gauge": "14", "insulated": "2"}
    answer = client.post(f"{BOX}/edit/add-cable", data=act)
    assert answer.history[0].status_code == 303 and "14/2 cable E added" in answer.text
    back = client.post(f"{BOX}/undo", data={"revision": revision(client)})
    assert "Undone: 14/2 cable E added" in back.text


@pytest.mark.parametrize("headers", [{}, {"hx-request": "true"}])
def test_a_refused_edit_changes_nothing_and_keeps_what_was_typed(client: TestClient, headers: dict[str, str]) -> None:
    before = revision(client)
    act = {
        "revision": before,
        "asked_by": "load-d1",
        "device": "d1",
        "kind": "led",
        "quantity": "6",
        "each": "nine <b>",
    }
    answer = client.post(f"{BOX}/edit/add-load", data=act | {"name": "over the bench"}, headers=headers)
    assert answer.status_code == 422 and revision(client) == before
    assert 'value="nine &lt;b&gt;"' in answer.text and 'value="over the bench"' in answer.text
    assert 'id="load-d1-each-expected" role="alert">Enter a power such as “9 W”' in answer.text
    assert ("<hx-partial" in answer.text) == bool(headers) and ("<!doctype" in answer.text) == (not headers)


@pytest.mark.parametrize(
    ("edit", "form", "said", "sentence"),
    [
        (
            "add-cable",
            "cable",
            {"gauge": "13", "insulated": "2"},
            "Enter one of the gauges 24, 22, 20, 18, 16, 14, 12, 10, 8, 6",
        ),
        ("add-cable", "cable", {"gauge": "#14", "insulated": "-2"}, "Enter 0 or more"),
        ("add-cable", "cable", {"gauge": "14", "insulated": "400"}, "Enter 20 or less"),
        ("put-device", "put-3", {"gang": "3", "sheet": "ostrel-wide-dimmer"}, "would reach past gang 3"),
        ("set-volume", "volume", {"volume": "0", "trade_size": ""}, "Enter a volume above zero"),
        ("set-volume", "volume", {"volume": "30", "trade_size": "3x2x3-1/2"}, "contradict each other"),
        ("set-volume", "volume", {"volume": "2 1/8 furlongs", "trade_size": ""}, "isn’t a unit for this"),
        ("set-inside", "in-depth", {"depth": "deep"}, "Enter a length such as"),
        ("add-barrier", "in-barrier", {"after": "7"}, "Put each barrier between two of the 3 gangs"),
        ("add-connectors", "in-connectors", {"count": "0"}, "Enter 1 or more"),
    ],
)
def test_bad_input_is_refused_on_the_page_and_kept(
    client: TestClient, edit: str, form: str, said: dict[str, str], sentence: str
) -> None:
    act = said | {"revision": revision(client), "asked_by": form}
    answer = client.post(f"{BOX}/edit/{edit}", data=act, headers={"hx-request": "true"})
    assert answer.status_code == 422 and sentence in answer.text
    typed = [value for name, value in said.items() if name in ("volume", "insulated", "depth", "after", "count")]
    assert all(f'value="{value}"' in answer.text for value in typed)


def test_a_mark_and_a_trade_size_that_say_the_same_are_kept_both(client: TestClient) -> None:
    act = {"volume": "54", "trade_size": "3x2x3-1/2", "revision": revision(client)}
    assert client.post(f"{BOX}/edit/set-volume", data=act, headers={"hx-request": "true"}).status_code == 200


@pytest.mark.parametrize("typed", ["2 1/8", '2-1/8"', "2.125", "2⅛", "54 mm"])
def test_a_length_is_understood_as_people_write_it(client: TestClient, typed: str) -> None:
    answer = client.post(
        f"{BOX}/edit/set-inside", data={"depth": typed, "revision": revision(client)}, headers={"hx-request": "true"}
    )
    assert answer.status_code == 200 and "Inside measured: " in answer.text
    client.post(f"{BOX}/undo", data={"revision": revision(client)})


def test_a_stale_act_is_told_and_keeps_what_was_typed(client: TestClient) -> None:
    old = revision(client)
    client.post(f"{BOX}/edit/set-clamps", data={"revision": old})
    act = {"revision": old, "asked_by": "volume", "volume": "61", "trade_size": ""}
    answer = client.post(f"{BOX}/edit/set-volume", data=act, headers={"hx-request": "true"})
    assert answer.status_code == 409
    assert "was changed elsewhere" in answer.text and 'value="61"' in answer.text
    assert "of 54 in³" in answer.text


def test_a_box_from_nothing_and_its_refusals(client: TestClient) -> None:
    wrong = client.post("/jobs/schoolhouse/boxes", data={"name": "", "room": "Attic", "volume": "lots"})
    assert wrong.status_code == 422 and 'value="Attic"' in wrong.text and "Enter a volume such as" in wrong.text
    made = client.post(
        "/jobs/schoolhouse/boxes", data={"name": "North gable", "room": "Attic", "gangs": "2", "volume": "34"}
    )
    assert made.url.path == "/jobs/schoolhouse/boxes/attic-north-gable"
    assert "34 in³ to spare" in made.text and "No cable in it." in made.text
    twice = {"name": "X", "room": "Attic", "volume": "34", "line": "1g 18in3"}
    assert "not both" in client.post("/jobs/schoolhouse/boxes", data=twice).text
    both = client.post("/jobs/schoolhouse/boxes", data=twice | {"line": "; 14/2"})
    assert "of 34 in³" in both.text and "Remove cable A" in both.text
    left_open = client.post("/jobs/schoolhouse/boxes", data={"name": "North gable", "room": "Attic"})
    assert left_open.url.path.endswith("-2") and "volume of the box not known" in left_open.text


def test_a_box_is_copied_removed_and_brought_back(client: TestClient) -> None:
    asked = client.get(f"{BOX}/copy")
    assert asked.status_code == 200 and "Another box like Counter" in asked.text
    wrong = client.post(f"{BOX}/copy", data={"name": "Counter copy", "volume": "huge", "cables": "true"})
    assert wrong.status_code == 422 and 'value="Counter copy"' in wrong.text and "Enter a volume such as" in wrong.text
    copy = client.post(f"{BOX}/copy", data={"name": "Counter copy", "volume": "54", "cables": "true", "lamps": "true"})
    assert copy.url.path.startswith("/jobs/schoolhouse/boxes/kitchen-infants-classroom-counter")
    assert "Counter copy" in copy.text and "Like “Counter”" in copy.text and "of 54 in³" in copy.text
    gone = client.post(f"{copy.url.path}/remove")
    assert "Bring back Counter copy" in gone.text and f'href="{copy.url.path}"' not in gone.text
    assert client.get(copy.url.path).status_code == 404
    back = client.post(f"{copy.url.path}/bring-back")
    assert f'href="{copy.url.path}"' in back.text and "Bring back" not in back.text
    client.post(f"{copy.url.path}/remove")


def test_a_box_is_taken_back_to_an_earlier_step(client: TestClient) -> None:
    box = "/jobs/schoolhouse/boxes/loft"
    act = {"revision": revision(client, box), "gauge": "12", "insulated": "3"}
    client.post(f"{box}/edit/add-cable", data=act)
    page = " ".join(client.get(f"{box}/history").text.split())
    assert "Cable C more: 12/3, 1 ground, ends, from the top" in page and "Take the box back to step 1" in page
    assert client.get(f"{box}/history?at=99").status_code == 404
    assert client.post(f"{box}/history", data={"revision": "1", "at": "1"}).status_code == 409
    back = client.post(f"{box}/history", data={"revision": "2", "at": "1"})
    assert back.url.path == box and "Taken back to step 1" in back.text and "Remove cable C" not in back.text
    assert "Nothing changed." in client.get(f"{box}/history?at=1").text


def test_circuits_are_entered_and_a_box_hangs_only_on_one_of_them(client: TestClient) -> None:
    box = "/jobs/schoolhouse/boxes/study"
    said = {"name": "Study", "room": "Study", "circuit": "12"}
    refused = client.post(f"{box}/edit/rename", data=said | {"revision": revision(client, box), "asked_by": "name"})
    assert refused.status_code == 422 and "is on circuit “12”, which is not among" in refused.text
    put = "/jobs/schoolhouse/panel/edit/put-circuit"
    wrong = client.post(put, data={"id": "12", "breaker": "lots", "label": "Bells", "asked_by": "circuit"})
    assert wrong.status_code == 422 and "Enter a whole number" in wrong.text
    wrong = client.post(
        put, data={"id": "12", "breaker": "lots", "label": "Bells", "asked_by": "circuit", "space": "12"}
    )
    assert 'value="Bells"' in wrong.text
    for was, label in (("", "Bells"), ("12", "Bells and bell room")):
        client.post(put, data={"id": "12", "was": was, "breaker": "20 A", "label": label, "space": "12"})
    assert client.get("/jobs/schoolhouse/panel").text.count('<span class="found">Bells and bell room</span>') == 1
    reason = "14 AWG copper on a breaker of 20 A: 15 A at most"  # what binds, in words, beside the bar
    assert f'class="binds">{reason}' in client.get("/jobs/schoolhouse/panel").text
    client.post(f"{box}/edit/rename", data=said | {"revision": revision(client, box)})
    assert "circuit 12" in client.get(box).text
    taken = next(one for one in client.get("/jobs/schoolhouse/export").json()["circuits"] if one["id"] == "12")
    assert (taken["breaker"], taken["label"], taken["space"]) == (20, "Bells and bell room", 12)


def test_a_box_of_two_circuits_is_shown_on_both(client: TestClient) -> None:
    """Whoever switches off one of them must see that the other is still on: common practice."""
    said = {"other_circuits": "10", "revision": revision(client)}
    assert client.post(f"{BOX}/edit/set-other-circuits", data=said).status_code == 200
    job = "/jobs/schoolhouse"
    for here, other in (("9", "10"), ("10", "9")):
        hanging = client.get(f"{job}/panel?circuit={here}").text.partition("Boxes on it")[2].partition("</ul>")[0]
        assert f"Counter</a> <small>also on {other}</small>" in " ".join(hanging.split())
        assert ">Counter</b>" in client.get(f"{job}?circuit={here}").text
    for page in (BOX, job):
        assert "circuits 9 and 10" in " ".join(client.get(page).text.split()), page
    assert "· 9 and 10" in " ".join(client.get(f"{job}/map").text.split())


def test_boxes_are_sought_without_a_page_load(client: TestClient) -> None:
    some = client.get("/jobs/schoolhouse?state=fails&words=stair", headers={"hx-request": "true"})
    assert some.text.lstrip().startswith('<div id="boxes">')
    assert "Stair foot" in some.text and "Cloakroom" not in some.text
    assert "No box is as sought" in client.get("/jobs/schoolhouse?words=zzz").text


def test_a_job_goes_out_and_comes_back_in(client: TestClient) -> None:
    taken = client.get("/jobs/schoolhouse/export")
    assert taken.headers["content-disposition"].endswith("schoolhouse.json")
    back = client.post("/import", files={"file": ("house.json", taken.content)})
    again = client.get(f"{back.url.path}/export")
    assert again.content == taken.content
    assert (
        client.get("/api/v1/jobs/schoolhouse/check").json()
        == client.post("/api/v1/check", content=taken.content).json()
    )


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "This file is empty"),
        (b"\xff\xfe", "no UTF-8 text"),
        (b'{"format": "nail-count job"}', "Update this Nail Count"),
    ],
)
def test_a_bad_file_is_refused_with_a_sentence(client: TestClient, content: bytes, said: str) -> None:
    jobs = client.get("/api/v1/jobs").json()
    answer = client.post("/import", files={"file": ("bad.json", content)})
    assert answer.status_code == 422 and said in answer.text and "bad.json" in answer.text
    assert client.post("/api/v1/check", content=content).status_code == 422
    assert client.post("/import").status_code == 422
    assert client.get("/api/v1/jobs").json() == jobs


def test_names_are_shown_and_never_run(client: TestClient) -> None:
    hostile = '<script>alert("x")</script>" hx-on:click="js:1'
    made = client.post("/jobs/schoolhouse/boxes", data={"name": hostile[:60], "room": hostile[:60]})
    assert "<script>alert" not in made.text and "&lt;script&gt;" in made.text
    seen: list[str] = []
    parser = HTMLParser()
    parser.handle_starttag = lambda tag, attrs: seen.extend([tag, *(name for name, _ in attrs)])  # type: ignore[method-assign]
    parser.feed(made.text)
    assert seen.count("script") == made.text.count(" defer></script>") and not any(
        name.startswith("hx-on") for name in seen
    )


def test_a_phone_finds_what_it_needs_to_install_the_application(client: TestClient) -> None:
    """A name, a start, and icons of their own sizes, all from here (W3C Web Application Manifest, from memory)."""
    page = client.get("/").text
    (address,) = re.findall(r'<link rel="manifest" href="([^"]+)"', page)
    manifest = client.get(address)
    assert manifest.headers["content-type"].startswith("application/manifest+json")
    told = manifest.json()
    assert told["name"] == "Nail Count" and told["display"] == "standalone"
    assert client.get(told["start_url"]).status_code == 200
    for icon in told["icons"]:
        content = client.get(urljoin(address, icon["src"])).content
        if icon["type"] == "image/png":
            with Image.open(BytesIO(content)) as drawn:
                assert "{}x{}".format(*drawn.size) == icon["sizes"]
        else:
            assert content.startswith(b"<svg")
    assert {"any", "maskable"} <= {icon.get("purpose", "any") for icon in told["icons"]}
    assert "manifest-src 'self'" in client.get("/").headers["content-security-policy"]


def test_every_shipped_library_has_its_license_beside_it(client: TestClient) -> None:
    static = files("nail_count.web") / "static"
    own = {
        "app.css",
        "bench.js",
        "hand.js",
        "hookup.js",
        "ladder.js",
        "map.js",
        "parts.js",
        "upload.js",
        "sign.svg",
        "app.webmanifest",
        "icon.svg",
        "icon-180.png",
        "icon-512.png",
        "fonts",
        "licences",
    }
    taken = [*(entry.name for entry in static.iterdir()), *(entry.name for entry in (static / "fonts").iterdir())]
    shipped = {name.split(".")[0] for name in taken if name not in own}
    named = {entry.name.split("-")[0].removesuffix(".txt") for entry in (static / "licences").iterdir()}
    assert shipped | {"tailwindcss"} == named, "app.css is built with tailwindcss"


def test_sizes_of_what_is_sent_are_bounded(client: TestClient) -> None:
    answer = client.post("/api/v1/check", content=b" ", headers={"content-length": "99000000"})
    assert answer.status_code == 413


def test_the_panel_of_a_large_house_comes_before_its_sums(tmp_path: Path) -> None:
    """Beyond two hundred boxes what hangs on each breaker follows, and is what it is where it comes at once."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    here = [box for box in demo.boxes if box.circuit]
    boxes = tuple(here[n % len(here)].changed(id=f"b{n}", name=f"Box {n}") for n in range(201))
    with TestClient(
        make_app(tmp_path / "large.sqlite3"), base_url="http://localhost", client=("127.0.0.1", 50000)
    ) as client:
        store = client.app.state.store  # type: ignore[attr-defined]
        store.add_job(demo.changed(boxes=boxes, runs=()), "large")
        sums = {answer.subject.of: answer for answer in check_circuits(fitting_job(store.whole_job("large")))}
        first = client.get("/jobs/large/panel")
        assert "each breaker over 201 boxes" in first.text and "badge-bar" not in first.text
        after = client.get("/jobs/large/panel?reckoned=yes", headers={"hx-request": "true"})
        assert after.text.lstrip().startswith('<div class="breakers-part"')
        for id, answer in sums.items():
            if answer.lines:
                assert html.escape(say(answer.headline)) in after.text or answer.state.word == "holds"
                one = client.get(f"/jobs/large/panel?circuit={id}").text
                assert html.escape(say(answer.headline)) in one.replace("&#39;", "'")
        whole = client.get("/jobs/large/panel?reckoned=yes").text
        assert after.text.strip() in whole and "Adding up the loads" not in whole


def test_long_lists_come_a_piece_at_a_time(tmp_path: Path) -> None:
    """Of 120 boxes fifty are shown, or forty as sections, with the ways to the others; one acted on is in the piece."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    lit = next(box for box in demo.boxes if sum(load.is_lamp for item in box.equipment for load in item.loads) == 1)
    boxes = tuple(lit.changed(id=f"b{n}", name=f"Box {n}", room=f"Room {n // 10}") for n in range(120))
    with TestClient(
        make_app(tmp_path / "many.sqlite3"), base_url="http://localhost", client=("127.0.0.1", 50000)
    ) as client:
        client.app.state.store.add_job(demo.changed(boxes=boxes, runs=()), "many")  # type: ignore[attr-defined]
        for page, row, most in (
            ("", 'id="box-b', 50),
            ("/papers/labels", 'class="plate-label"', 40),
            ("/next-visit", 'id="left-b', 40),
            ("/relamping", '<th scope="row">', 40),
        ):
            starts = range(0, 120, most)
            for start in starts:
                text = client.get(f"/jobs/many{page}?start={start}").text
                assert text.count(row) == min(most, 120 - start)
                assert f"{start + 1} to {min(start + most, 120)} of 120" in text
                assert ("The next ones" in text, "The ones before" in text) == (start < starts[-1], start > 0)
        assert "Box 119" not in client.get("/jobs/many").text
        assert client.get("/jobs/many?words=box+119").text.count('id="box-b') == 1
        moved = client.post("/jobs/many/edit/move-box", data={"box": "b99", "to": "up"})
        assert moved.status_code == 200 and 'id="box-b99"' in moved.text


def test_what_would_hold_is_asked_anew_where_the_box_was_acted_on_while_it_was_sought(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """What was found for the box as it was is not shown beside the box as it is."""
    box = "/jobs/schoolhouse/boxes/stair-foot"
    asked = {"hx-request": "true"}
    assert "best order" in client.get(f"{box}/ways", headers=asked).text
    at = client.app.state.store  # type: ignore[attr-defined]

    def meanwhile(*of: Any, **how: Any) -> Any:
        found = ways_in_time(*of, **how)
        at.act_on_box("schoolhouse", "stair-foot", EDITS["set-clamps"].read({"box": "stair-foot", "clamps": True}))
        return found

    monkeypatch.setattr(bench, "searched_ways", meanwhile)
    answer = client.get(f"{box}/ways", headers=asked).text
    assert "best order" not in answer and f'hx-get="{box}/ways" hx-trigger="load' in answer


def test_what_would_hold_in_a_what_if_that_has_ended_is_nothing(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Ended before it was asked for, or while it was sought: no trouble, and nothing to show."""
    at, asked = client.app.state.store, {"hx-request": "true"}  # type: ignore[attr-defined]
    trial = at.try_out("schoolhouse", "stair-foot")

    def meanwhile(*of: Any, **how: Any) -> Any:
        at.end_trial(trial, {}, accept=False)
        return ways_in_time(*of, **how)

    monkeypatch.setattr(bench, "searched_ways", meanwhile)
    for _ in range(2):
        answer = client.get(f"/jobs/{trial}/boxes/stair-foot/ways", headers=asked)
        assert (answer.status_code, answer.text) == (204, "")
    assert client.get(f"/jobs/{trial}/boxes/stair-foot/ways").status_code == 404


@pytest.mark.parametrize(
    ("page", "script"),
    [
        (f"{BOX}/install", "ladder.js"),
        ("/jobs/schoolhouse/map", "map.js"),
        (f"{BOX}/hookup", "hookup.js"),
        (BOX, "hand.js"),
    ],
)
def test_a_page_lists_the_keys_its_script_listens_to(client: TestClient, page: str, script: str) -> None:
    """Each key the script names stands on the page by its sign; of two keys that do the same, one is enough."""
    signs = {
        "ArrowLeft": "←", "ArrowRight": "→", "ArrowUp": "↑", "ArrowDown": "↓", "Escape": "Esc", " ": "Space", "-": "−",
        "Backspace": "Delete", "=": "+",
    }  # fmt: skip
    text = (files("nail_count.web") / "static" / script).read_text("utf-8")
    named = set(re.findall(r'event\.key === "([^"]+)"', text))
    named |= set(re.findall(r'[{,\s]"?(Arrow\w+|[?/+=0v-])"?: (?:\(\)|acts)', text))
    listed = {one.lower() for one in re.findall(r"<kbd>([^<]+)</kbd>", client.get(page).text)}
    missing = {signs.get(key, key).lower() for key in named} - listed
    assert named and missing <= ({"space"} if "enter" in listed or "Enter" in named else set()), missing
