"""What once was answered with a defect: each is a sentence now, and nothing of it is kept."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from io import BytesIO
from pathlib import Path
from typing import Any
from zipfile import ZipFile

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.files.photo import MOST_SCANS, take_in
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.store.trouble import Trouble
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.errors import Rejected
from nail_count.web.app import make_app
from tests.store.test_archived import rewritten
from tests.store.test_database import VERSIONS

HOUSE = (VERSIONS.parents[1] / "house.json").read_bytes()
JOB = "/api/v1/jobs/house"
WORN = "/api/v1/jobs/worn"
"""A job of its own for edits that may take its boxes away."""


@pytest.fixture(scope="module")
def client(tmp_path_factory: pytest.TempPathFactory) -> Iterator[TestClient]:
    app = make_app(tmp_path_factory.mktemp("refused") / "kept.sqlite3", ("testserver",))
    for key in ("house", "worn"):
        app.state.store.add_job(read_job(HOUSE), key)
    yield TestClient(app, client=("127.0.0.1", 50000))
    app.state.store.close()


def asked(client: TestClient, *edits: dict[str, Any], job: str = JOB) -> tuple[int, str]:
    answer = client.post(f"{job}/edits", json={"edits": edits})
    return answer.status_code, answer.text


# cells


@pytest.mark.parametrize("row", ["name,room\n{},Hall\n", "name;room\nA;{}\n", '"{}"', "{}\n"])
def test_a_cell_longer_than_any_table_holds(client: TestClient, row: str) -> None:
    text = row.format("a" * 140_000)
    answer = client.post(f"{JOB}/read-table", content=text, headers={"content-type": "text/plain"})
    assert answer.status_code == 422 and "CSV" in answer.text
    assert client.post("/jobs/house/bring-in/boxes", data={"text": text}).status_code == 422


# photos


def jpeg(exif: bytes = b"", progressive: bool = False, size: tuple[int, int] = (40, 20)) -> bytes:
    file = BytesIO()
    Image.effect_noise(size, 40).convert("RGB").save(file, "JPEG", exif=exif, progressive=progressive)
    return file.getvalue()


def ifd(*entries: bytes, orientation: int = 6) -> bytes:
    """Exif data as a camera writes it (TIFF 6.0): little-endian, one directory, the orientation first."""
    turned = b"\x12\x01\x03\x00\x01\x00\x00\x00" + orientation.to_bytes(4, "little")
    count = (1 + len(entries)).to_bytes(2, "little")
    return b"Exif\0\0II*\0\x08\0\0\0" + count + turned + b"".join(entries) + b"\0\0\0\0"


BROKEN = [
    b"\x0e\x01\x02\x00\xff\xff\xff\x7f\xff\xff\xff\x7f",  # text that reaches past the end
    b"\x69\x87\x04\x00\x01\x00\x00\x00\xff\xff\xff\x7f",  # a directory that is elsewhere
    b"\x69\x87\x02\x00\x04\x00\x00\x00abcd",  # a directory that is text
    b"\x1a\x01\x05\x00\x01\x00\x00\x00\x00\x00\x00\x00",  # a ratio over nothing
    b"\x12\x01\x02\x00\x04\x00\x00\x006\0\0\0",  # a second orientation, as text
    b"\x25\x88\x04\x00\x01\x00\x00\x00\x08\x00\x00\x00",  # a place that leads back to where it began
]


@pytest.mark.parametrize("entry", BROKEN)
@pytest.mark.parametrize("orientation", [1, 6, 8, 300])
def test_a_photo_with_broken_notes_of_the_camera_is_taken(client: TestClient, entry: bytes, orientation: int) -> None:
    answer = client.post("/api/v1/photos", content=jpeg(ifd(entry, orientation=orientation)))
    assert answer.status_code in (201, 422), answer.text


@pytest.mark.parametrize(("orientation", "corner"), [(1, 0), (2, 1), (3, 3), (4, 2), (5, 0), (6, 1), (7, 3), (8, 2)])
def test_a_photo_is_turned_as_exif_says(orientation: int, corner: int) -> None:
    """EXIF 2.3, tag 0x0112: which corner of what is shown the stored picture's first pixel comes to."""
    stored = Image.new("RGB", (64, 32), "white")
    stored.paste("black", (0, 0, 16, 16))
    file = BytesIO()
    stored.save(file, "JPEG", quality=100, exif=ifd(orientation=orientation))
    shown = Image.open(BytesIO(take_in(file.getvalue()).body)).convert("L")
    assert shown.size == ((64, 32) if orientation < 5 else (32, 64))
    right, bottom = shown.width - 1, shown.height - 1
    corners = [shown.getpixel(at) for at in ((0, 0), (right, 0), (0, bottom), (right, bottom))]
    assert [value < 128 for value in corners].index(True) == corner  # type: ignore[operator]


def test_a_small_photo_of_thousands_of_scans_is_refused_unread(client: TestClient) -> None:
    body = jpeg(progressive=True, size=(160, 160))
    first = body.rindex(b"\xff\xda")
    scan = body[first:-2]
    many = body[:first] + scan * (2 * MOST_SCANS) + b"\xff\xd9"
    answer = client.post("/api/v1/photos", content=many)
    assert answer.status_code == 422 and "scans" in answer.text


# text, times, numbers


@pytest.mark.parametrize("half", ["\\ud800", "\\udfff", "a\\ud83dz"])
@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("/edits", '{"edits": [{"edit": "rename", "box": "hall", "name": "%s", "room": "Hall"}]}'),
        ("/edits", '{"sentence": "%s", "edits": [{"edit": "set-volume", "box": "hall", "volume": "20"}]}'),
        ("/ticks", '{"box": "hall", "step": {"kind": "proven dead"}, "by": "%s"}'),
        ("/boxes/hall/codes/d1", '{"code": "%s"}'),
    ],
)
def test_half_a_character_in_json(client: TestClient, path: str, body: str, half: str) -> None:
    answer = client.request(
        "PUT" if "codes" in path else "POST", JOB + path,
        content=body % half, headers={"content-type": "application/json"},
    )  # fmt: skip
    assert answer.status_code == 422 and "halves" in answer.text


@pytest.mark.parametrize(
    "path",
    ["/jobs/%ED%A0%80", "/jobs/house?words=%ED%A0%80", "/api/v1/jobs/%ED%A0%80", "/jobs/house/boxes/%ED%A0%80/wires",
     "/static/%ED%A0%80", "/jobs/house?at=%ED%A0%80", "/api/v1/jobs/house/boxes?room=%ED%A0%80"],
)  # fmt: skip
def test_half_a_character_in_an_address(client: TestClient, path: str) -> None:
    assert client.get(path).status_code in (200, 404, 422)


@pytest.mark.parametrize("at", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "1899-12-31T00:00:00"])
def test_a_time_outside_the_calendar(client: TestClient, at: str) -> None:
    status, text = asked(client, {"edit": "tick-dead", "box": "hall", "stage": "plate", "tick": "dead", "at": at})
    assert status == 422 and "enter a date between 1900 and 2200" in text.lower()
    job = json.loads(HOUSE)
    job["ticks"] = [{"id": "t1", "box": "hall", "step": {"kind": "proven dead"}, "at": at}]
    answer = client.post("/api/v1/jobs", json=job)
    assert answer.status_code == 422 and "between 1900 and 2200" in answer.text


def line_with(number: int, **said: object) -> Callable[[dict[str, bytes]], None]:
    """A line of the history, with this said instead."""

    def change(files: dict[str, bytes]) -> None:
        lines = files["history.jsonl"].decode().splitlines()
        at = next(n for n, line in enumerate(lines) if set(said) <= set(json.loads(line)) and n >= number)
        lines[at] = json.dumps(json.loads(lines[at]) | said)
        files["history.jsonl"] = ("\n".join(lines) + "\n").encode()

    return change


@pytest.mark.parametrize(
    "change",
    [line_with(0, place=2**63), line_with(0, place=-(2**70)), line_with(0, change=2**63), line_with(0, source=2**64),
     line_with(0, at="9999-12-31T23:59:59-14:00"), line_with(0, at="0001-01-01T00:00:00+14:00")],
)  # fmt: skip
def test_an_archive_with_numbers_and_times_no_database_takes(
    client: TestClient, change: Callable[[dict[str, bytes]], None]
) -> None:
    content = client.get(f"{JOB}/archive").content
    before = client.get("/api/v1/jobs").json()["items"]
    answer = client.post("/api/v1/archives", content=rewritten(content, change))
    assert answer.status_code == 422, answer.text
    assert client.get("/api/v1/jobs").json()["items"] == before


@pytest.mark.parametrize("letter", [b"\xff\xfe", b"\xc3\x28"])
def test_a_schema_whose_text_is_no_text_is_said_to_be_damaged(letter: bytes, tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    Store(open_database(file)).close()
    raw = file.read_bytes()
    for what in (b"CREATE TABLE", b"create table"):
        raw = raw.replace(what, letter + what[2:])
    file.write_bytes(raw)
    with pytest.raises(Trouble, match="damaged"):
        open_database(file)


# readings at a wire the box doesn't have


def test_a_reading_between_points_that_are_not_there_is_refused_and_one_that_was_kept_is_left_out(
    client: TestClient,
) -> None:
    reading = {"edit": "take-reading", "box": "hall", "kind": "volts", "of": "A1", "volts": "120 V", "on": ["1"]}
    for to in ("a2", "A1", "B1", "Z9", "moon"):
        status, text = asked(client, {**reading, "to": to})
        assert status == 422 and '"/edits/0/to"' in text.replace("/to", "/edits/0/to"), text
        form = client.post("/jobs/house/boxes/hall/wires/edit/take-reading", data={**reading, "to": to, "on": "1"})
        assert form.status_code in (404, 422)
    job = json.loads(HOUSE)
    box = next(one for one in job["boxes"] if one["id"] == "hall")
    box["readings"] = [
        {"id": "r1", "kind": "volts", "of": "A1", "to": "a2", "volts": "120", "on": ["1"]},
        {"id": "r2", "kind": "volts", "of": "Q7", "to": "ground", "volts": "120", "on": ["1"]},
        {"id": "r3", "kind": "volts", "of": "A1", "to": "ground", "volts": "120", "on": ["1"]},
    ]
    key = client.post("/api/v1/jobs", json=job).json()["key"]
    for page in ("", "/wires", "/choose", "/wires/sheet", "/survey", "/install", "/hookup", "/fix", "/count"):
        answer = client.get(f"/jobs/{key}/boxes/hall{page}")
        assert answer.status_code == 200, page
    wires = client.get(f"/jobs/{key}/boxes/hall/wires").text
    said = wires.lower()
    assert "reading r1 goes from a1 to" in said and "reading r2 is on a wire" in said and "reading r3" not in said
    assert client.get(f"/api/v1/jobs/{key}/boxes/hall/wires").status_code == 200
    assert client.get(f"/api/v1/jobs/{key}/file").json()["boxes"] == read_again(job), "it goes out to the letter"


def read_again(job: dict[str, Any]) -> object:
    """The boxes of a job as its file holds them."""
    return [box.model_dump(mode="json", exclude_none=True) for box in read_job(json.dumps(job).encode()).boxes]


# a large house


def test_a_lonely_box_of_a_large_house_has_its_pages(client: TestClient) -> None:
    job = json.loads(HOUSE)
    lone = {"name": "Lone", "room": "Attic"}
    job["boxes"] += [{**lone, "id": f"lone-{number}"} for number in range(210)]
    key = client.post("/api/v1/jobs", json=job).json()["key"]
    for page in ("/fix", "/ways", ""):
        answer = client.get(
            f"/jobs/{key}/boxes/lone-7{page}", headers={"hx-request": "true"} if page == "/ways" else {}
        )
        assert answer.status_code == 200, page
    assert client.get(f"/api/v1/jobs/{key}/boxes/lone-7/ways").status_code == 200


# edits whose model refuses

SAID = st.one_of(
    st.integers(-3, 10**25),
    st.sampled_from(["", "d1", "d2", "d9", "A", "A1", "hall", "porch", "nowhere", "1", "999999999", "1e400", "-0",
                     "nan", "20.3 in3", "1/0 in", "4 in", "x" * 300, "switch", "dimmer", "4x1-1/2 square",
                     "d1:1,d2:1"]),
    st.booleans(),
    st.lists(st.sampled_from(["1", "d1", "A1", "x"]), max_size=3),
    st.none(),
)  # fmt: skip


@settings(max_examples=150)
@given(data=st.data())
def test_any_edit_with_any_fields_is_done_or_refused_with_a_sentence(client: TestClient, data: st.DataObject) -> None:
    name = data.draw(st.sampled_from(sorted(EDITS)))
    kind = EDITS[name]
    wanted = [field for field, about in kind.model_fields.items() if about.is_required() or data.draw(st.booleans())]
    fields = {field: data.draw(SAID, label=field) for field in wanted}
    fields |= {
        field: data.draw(st.sampled_from(["hall", "porch"])) for field in ("box", "other_box") if field in fields
    }
    status, text = asked(client, {"edit": name, **fields}, job=WORN)
    assert status in (200, 404, 409, 412, 422), text
    if status != 200:
        assert json.loads(text)["detail"]


@pytest.mark.parametrize(
    "edit",
    [
        {"edit": "replace-device", "device": "d1", "sheet": "no-such-sheet"},
        {"edit": "swap-gangs", "one": 1, "other": 10**25},
        {"edit": "add-ring", "kind": "ring", "volume": "1e300 in3"},
        {"edit": "add-ring", "kind": "ring", "trade_size": "9x9 round"},
        {"edit": "on-one-yoke", "one": "d1", "other": "d1", "sheet": "switch"},
        {"edit": "note-serial", "device": "d1", "serial": "\n"},
        {"edit": "note-serial", "device": "d99", "serial": "A-1"},
    ],
)
def test_edits_the_model_refuses(client: TestClient, edit: dict[str, Any]) -> None:
    status, text = asked(client, {**edit, "box": "hall"})
    assert status in (200, 422), text


# archived photos


def test_an_archived_photo_loses_what_stands_beside_it(tmp_path: Path, demo: Path) -> None:
    (tmp_path / "kept.sqlite3").write_bytes(demo.read_bytes())
    app = make_app(tmp_path / "kept.sqlite3", ("testserver",))
    client = TestClient(app, client=("127.0.0.1", 50000))
    content = client.get("/api/v1/jobs/schoolhouse/archive").content
    secret = b"whose house this is"

    def noted(files: dict[str, bytes]) -> None:
        name = next(one for one in files if one.startswith("photos/"))
        body = files.pop(name)
        comment = b"\xff\xfe" + (len(secret) + 2).to_bytes(2, "big") + secret
        changed = body[:2] + comment + body[2:] + secret
        from hashlib import sha256

        old, new = name[7:-4], sha256(changed).hexdigest()[:32]
        files[f"photos/{new}.jpg"] = changed
        for other in ("job.json", "history.jsonl"):
            files[other] = files[other].replace(old.encode(), new.encode())

    answer = client.post("/api/v1/archives", content=rewritten(content, noted))
    assert answer.status_code == 201, answer.text
    again = client.get(f"/api/v1/jobs/{answer.json()['key']}/archive").content
    with ZipFile(BytesIO(again)) as one, ZipFile(BytesIO(content)) as other:
        assert sorted(one.namelist()) == sorted(other.namelist()), "it is the picture that was there before"
        assert not any(secret in one.read(name) for name in one.namelist())
    app.state.store.close()


def test_a_picture_cut_in_its_data_is_refused() -> None:
    with pytest.raises(Rejected):
        take_in(jpeg(size=(400, 400))[:900])
