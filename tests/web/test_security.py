"""Whatever is sent, nobody sees a trace: hostile and ordinary nonsense on every route, every answer a sentence."""

from __future__ import annotations

import io
import json
import threading
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image
from starlette.testclient import TestClient

from nail_count.demo.house import put_demo
from nail_count.files.job_json import BadFile, read_job
from nail_count.files.photo import take_in
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.quick_entry.parse import read_line
from nail_count.web.app import make_app
from nail_count.web.security import MOST_BYTES, MOST_TYPED
from tests.said import NONSENSE
from tests.test_whole import LONGER

HOUSE = "/jobs/schoolhouse"
BOX = f"{HOUSE}/boxes/kitchen-bench"
EXAMPLE = (files("nail_count.demo") / "hallway.json").read_bytes()
ALWAYS = settings(max_examples=60 * LONGER, deadline=None, suppress_health_check=list(HealthCheck))


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    app = make_app(Path(tmp_path_factory.mktemp("data")) / "kept.sqlite3")
    put_demo(app.state.store)
    with TestClient(
        app, base_url="http://localhost", client=("127.0.0.1", 50000), raise_server_exceptions=False
    ) as made:
        yield made


def answered(answer: object, *expected: int) -> str:
    status, text, headers = answer.status_code, answer.text, answer.headers  # type: ignore[attr-defined]
    assert status in expected, (status, text[-500:])
    assert "Traceback" not in text and "content-security-policy" in headers
    return " ".join(str(text).split())


def test_a_61st_picture_is_refused_beside_its_form_and_the_caption_stays(client: TestClient) -> None:
    store = client.app.state.store  # type: ignore[attr-defined]
    box = store.box("schoolhouse", "loft").box
    photos = tuple({"id": f"{n:032x}", "at": "2026-11-02T10:00:00"} for n in range(60))
    full = box.changed(id="full", survey=box.survey.changed(photos=photos))
    store.add_job(
        Job(name="Full", sheets=tuple(store.job("schoolhouse").sheets.values()), boxes=(full.changed(circuit=None),)),
        "full",
    )
    file = io.BytesIO()
    Image.new("RGB", (40, 30), "red").save(file, "PNG")
    sent = {"files": {"photo": ("one.png", file.getvalue())}, "data": {"caption": "behind the plate"}}
    said = answered(client.post("/jobs/full/boxes/full/survey/photos", **sent), 422)  # type: ignore[arg-type]
    assert "one.png: A box keeps at most 60 pictures" in said and 'value="behind the plate"' in said
    by_script = client.post("/jobs/full/boxes/full/survey/photos", headers={"accept": "application/json"}, **sent)  # type: ignore[arg-type]
    assert by_script.status_code == 422 and by_script.json()["detail"].startswith("one.png: A box keeps at most 60")


def test_what_the_audit_found_is_a_sentence(client: TestClient) -> None:
    first = {"name": "Door", "room": "Entry", "circuit": "7", "house": "Mine"}
    said = answered(client.post("/first", data=first), 422)
    assert "it is on circuit “7”, which is not among the circuits" in said and 'value="Door"' in said
    assert not any(job["name"] == "Mine" for job in client.get("/api/v1/jobs").json()["items"]), (
        "expected no house left"
    )
    job = client.post("/jobs", data={"name": "Practice"}).url.path
    answered(client.post("/practice", data={"level": "0"}), 200)
    assert client.get(f"/api/v1{job}/check").json()["boxes"] == []
    for at in ("99", "-1", "0", "9" * 5000, "x"):
        answered(client.get(f"{HOUSE}/panel?at={at}"), 200, 422)
    for origin in ("http://[::1", "http://[", "null", "\x7f"):
        answered(client.post("/jobs", data={"name": "x"}, headers={"origin": origin}), 403)
    for path in (f"{HOUSE}/boxes/%ED%A0%80", "/jobs/%00", "/jobs/%ff/panel", "/photos/../whole.jpg", "/nowhere"):
        answered(client.get(path), 404, 422)
    halves = EXAMPLE.replace(b"One hallway box", b"One \\ud800 box")
    assert "halves of characters" in answered(client.post("/import", files={"file": ("x.json", halves)}), 422)


def test_a_box_is_brought_back_without_its_circuit_where_that_is_said(client: TestClient) -> None:
    client.post(f"{HOUSE}/panel/edit/put-circuit", data={"id": "77", "breaker": "15"})
    box = client.post(f"{HOUSE}/boxes", data={"name": "Shed", "room": "Shed", "circuit": "77"}).url.path
    client.post(f"{box}/remove")
    client.post(f"{HOUSE}/panel/edit/remove-circuit", data={"id": "77"})
    said = answered(client.post(f"{box}/bring-back"), 409)
    assert "“Shed”: it is on circuit “77”" in said and "leave open that circuit 77 feeds it" in said
    assert f'action="{box}/bring-back"' in said and 'name="mend" value="true"' in said
    answered(client.post(f"{box}/bring-back", data={"mend": "true"}), 200)
    last = "Box “Shed” brought back; “Shed” mended: leave open that circuit 77 feeds it"
    assert last in client.get(box).text and last in client.get(HOUSE).text


@pytest.mark.parametrize("headers", [{}, {"content-length": "10"}, {"transfer-encoding": "chunked"}])
def test_a_body_is_as_large_as_what_arrives(client: TestClient, headers: dict[str, str]) -> None:
    def pieces(size: int, first: bytes = b"") -> Iterator[bytes]:
        yield first
        for _ in range(size // 100_000 + 1):
            yield b"x" * 100_000

    typed = {"content-type": "application/x-www-form-urlencoded"} | headers
    said = answered(client.post("/jobs", content=pieces(MOST_TYPED), headers=typed), 413)
    assert "Expected at most 1 MB" in said
    said = answered(client.post("/api/v1/check", content=pieces(MOST_BYTES), headers=headers), 413)
    assert json.loads(said)["detail"].startswith("Expected at most 21 MB")
    part = b'--x\r\nContent-Disposition: form-data; name="file"; filename="house.json"\r\n\r\n'
    sent = {"content-type": "multipart/form-data; boundary=x", "accept": "application/json"}
    upload = client.post(f"{BOX}/survey/photos", content=pieces(MOST_BYTES, part), headers=headers | sent)
    assert upload.json()["detail"].startswith("Expected at most 21 MB"), "expected it beside the form"
    notice = client.post(f"{BOX}/line", content=pieces(MOST_TYPED), headers=typed | {"hx-request": "true"})
    assert notice.status_code == 413 and notice.headers["hx-retarget"] == "#notice"


def test_a_defect_is_a_sentence_under_the_headers_too(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("nail_count.web.pages.board.routes._board", lambda *_: 1 / 0)
    assert "This is a defect of Nail Count" in answered(client.get("/"), 500)


def test_others_are_served_while_a_large_file_comes_in(tmp_path: Path) -> None:
    """A page asked for after an import began is there before the import is."""
    from urllib.request import urlopen

    from tests.browser.driving import server

    box = json.loads(EXAMPLE)["boxes"][0]
    large = json.loads(EXAMPLE) | {"boxes": [box | {"id": f"b{n}"} for n in range(1500)]}
    with server(tmp_path / "data", "serve") as address:
        done = threading.Event()

        def bring_in() -> None:
            import httpx2

            httpx2.post(f"{address}/api/v1/check", content=json.dumps(large).encode(), timeout=300)
            done.set()

        worker = threading.Thread(target=bring_in)
        worker.start()
        served = 0
        while not done.is_set():
            assert urlopen(f"{address}/about", timeout=120).status == 200
            served += not done.is_set()
        worker.join()
    assert served >= 3


WORDS = st.sampled_from(
    [
        "2g",
        "34in3",
        "tabs;",
        ";",
        "12/2",
        "x2,",
        "dimmer",
        '"Hall"',
        "6x9W",
        "led",
        "switch",
        "@2",
        "½",
        "-",
        "9" * 5000,
        "�",
        "x" * 3000,
    ]
)


@ALWAYS
@given(st.lists(WORDS | st.text(max_size=12), max_size=14).map(" ".join))
def test_any_line_is_read_or_told_what_is_wrong_with_it(client: TestClient, line: str) -> None:
    sheets = by_id(read_job(EXAMPLE).sheets)
    reading = read_line(line, Box(id="line", name="Line", room="Line"), sheets)
    assert (reading.box is None) == bool(reading.problems)
    answered(client.get(f"{HOUSE}/line", params={"line": line.encode("utf-8", "replace").decode()}), 200)


@ALWAYS
@given(st.data())
def test_any_bytes_as_a_job_file_are_read_or_told_what_is_wrong(data: st.DataObject) -> None:
    at = data.draw(st.integers(0, len(EXAMPLE)))
    cut = data.draw(st.integers(0, 40))
    new = data.draw(
        st.binary(max_size=8) | st.sampled_from([b'"\\ud800"', b"9" * 5000, b"null", b"{}", b"[]", b"-1e999", b"NaN"])
    )
    content = EXAMPLE[:at] + new + EXAMPLE[at + cut :]
    try:
        read_job(content)
    except BadFile as wrong:
        assert all(problem.sentence for problem in wrong.problems)


@ALWAYS
@given(st.sampled_from(["JPEG", "PNG", "WEBP", "GIF", "TIFF"]), st.data())
def test_any_bytes_as_a_picture_are_taken_or_told_what_is_wrong(kind: str, data: st.DataObject) -> None:
    file = io.BytesIO()
    Image.new("RGB", (64, 48), "teal").save(file, kind)
    content = bytearray(file.getvalue()[: data.draw(st.integers(0, 2000))])
    for _ in range(data.draw(st.integers(0, 5))):
        if content:
            content[data.draw(st.integers(0, len(content) - 1))] = data.draw(st.integers(0, 255))
    try:
        taken = take_in(bytes(content))
    except Rejected as wrong:
        assert wrong.field == "photo" and wrong.sentence.startswith("Pick a")
    else:
        assert max(taken.width, taken.height) <= 1600 and taken.body.startswith(b"\xff\xd8")


PATHS = [
    *(f"{HOUSE}{path}" for path in ("/edit/set-house", "/panel/edit/put-circuit", "/boxes", "/undo")),
    *(f"{HOUSE}/sheets{path}" for path in ("", "/new", "/ostrel-wide-dimmer")),
    *(f"{BOX}{path}" for path in ("/edit/add-load", "/survey/edit/tick-dead", "/history", "/history/mark")),
    *(f"{BOX}{path}" for path in ("/interview/answer", "/wires/measure", "/what-if/end")),
    *("/first", "/jobs", "/theme"),
]
FIELDS = [
    "name",
    "room",
    "id",
    "kind",
    "each",
    "device",
    "revision",
    "space",
    "channels",
    "at",
    "asked_by",
    "gangs",
    "year",
    "mark",
    "stage",
    "tick",
    "ch1-led-alone",
    "ambient-curve",
    "x",
]


@ALWAYS
@given(st.sampled_from(PATHS), st.data())
def test_any_fields_on_any_form_get_a_page(client: TestClient, path: str, data: st.DataObject) -> None:
    values = st.sampled_from(NONSENSE) | st.text(max_size=20)
    said = data.draw(st.dictionaries(st.sampled_from(FIELDS), values, max_size=8))
    sent = {name: value.encode("utf-8", "replace").decode() for name, value in said.items()}
    headers = data.draw(st.sampled_from([{}, {"hx-request": "true"}]))
    answered(client.post(path, data=sent, headers=headers), 200, 404, 405, 409, 422)
