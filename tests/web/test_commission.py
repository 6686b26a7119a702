"""Brought into use, page by page: every case of the hub played; codes on demand and nowhere else; two people."""

from __future__ import annotations

import html
import re
import shutil
from collections.abc import Iterator
from io import BytesIO
from pathlib import Path

import pytest
from click.testing import CliRunner
from pypdf import PdfReader
from starlette.testclient import TestClient

from nail_count.cli import main
from nail_count.store.backup import back_up
from nail_count.trade.edits.fields import now
from nail_count.trade.model.splice import ConductorEnd, End, GroundEnd
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.wiring.simulate.hub import CASES
from nail_count.web.app import make_app
from tests.store import acting
from tests.support import on_disk

HOUSE = "/jobs/schoolhouse"
DOOR = f"{HOUSE}/boxes/front-door"
CODE = "QZ:7719-ABC"
Fields = dict[str, str]


@pytest.fixture
def client(demo: Path, tmp_path: Path) -> Iterator[TestClient]:
    shutil.copy(demo, tmp_path / "kept.sqlite3")
    with TestClient(
        make_app(tmp_path / "kept.sqlite3"), base_url="http://localhost", client=("127.0.0.1", 50000)
    ) as made:
        yield made


def form(text: str, part: str) -> tuple[str, Fields]:
    """Where a form of a page goes, and what it sends as it is."""
    for one in re.findall(r"<form.*?</form>", text, re.DOTALL):
        if part in one:
            fields = {}
            for tag in re.findall(r"<input[^>]*>", one):
                name, value = re.search(r'name="([^"]+)"', tag), re.search(r'value="([^"]*)"', tag)
                if name and ("radio" not in tag or "checked" in tag):
                    fields[name[1]] = html.unescape(value[1]) if value else ""
            action = re.search(r'action="([^"]+)"', one)
            assert action
            return html.unescape(action[1]), fields
    raise AssertionError(f"expected a form with {part}")


def send(client: TestClient, at: str, part: str, **said: str) -> str:
    """A form of a page sent, filled in so; the page after it."""
    action, fields = form(client.get(at).text, part)
    answer = client.post(action, data=fields | said)
    assert answer.status_code in (200, 409, 422), (action, answer.status_code)
    return answer.text


def title(text: str) -> str:
    found = re.search(r'id="step-title">\d+\. ([^<]+?) <', text)
    return found[1] if found else ""


HELP = {
    "joins": (), "window expired": (), "wrong band": ("band",), "joined elsewhere": ("exclude elsewhere", "reset"),
    "weak signal": ("nearer",), "hub full": ("leave out",), "update fails": (), "name taken": (),
}  # fmt: skip
"""What helps before it joins, by common practice."""


@pytest.mark.parametrize("case", CASES)
def test_every_case_is_played_and_ends_in_the_hub(client: TestClient, case: str) -> None:
    at = f"{DOOR}/commission"
    assert title(send(client, at, 'id="serial"', serial="SN 1")) == "Join it to Larkfield hub"
    send(client, at, "hub/case", case=case)
    first = send(client, at, "hub/look")
    text = send(client, at, 'value="join"') if "It looks for" in first else first
    assert (title(text) == "Room and name") == (case in ("joins", "update fails", "name taken")), text[:200]
    for act in HELP[case]:
        text = send(client, at, "Remove Old lamp 1<" if act == "leave out" else f'value="{act}"')
        assert "What helps:" not in re.sub(r"(?s)Notes before.*", "", text)
    if title(text) != "Room and name":
        send(client, at, "hub/look")
        text = send(client, at, 'value="join"')
    assert title(text) == "Room and name"
    text = send(client, at, 'id="name"', name="Porch lamp")
    if case == "name taken":
        assert "The hub doesn&#39;t take this name" in text and 'value="Porch lamp"' in text, "what was typed stays"
        text = send(client, at, 'id="name"', name="Lantern")
    assert title(text) == "Update the firmware first"
    text = send(client, at, "hub/update")
    if case == "update fails":
        assert "It stopped half way" in text
        send(client, at, 'value="cycle"')
        text = send(client, at, "hub/update")
    assert "It has 2.4 now" in text
    assert 'value="2.3"' in text and 'value="2.4"' in text, "before and now"
    assert title(send(client, at, 'id="firmware"')) == "Set: after an outage"


def test_a_serial_used_a_name_alike_a_code_unread_and_a_tick_too_early_are_said_where_they_are_typed(
    client: TestClient,
) -> None:
    at = f"{DOOR}/commission"
    text = send(client, at, 'id="serial"', serial="tm-204417")
    assert (
        'id="serial-serial-expected"' in text and "that of a device in Washroom" in text and 'value="tm-204417"' in text
    )
    text = send(client, at, 'id="code"', code="▮▮▮ 7")
    assert 'id="code-code-expected"' in text and "be read: enter the letters" in text
    text = send(client, f"{at}?step=3", 'id="name"', name="Porch")
    assert "Join it to its hub first" in text
    send(client, at, 'id="serial"', serial="SN 2")
    send(client, at, "hub/case", case="joins")
    send(client, at, "hub/look")
    send(client, at, 'value="join"')
    text = send(client, at, 'id="name"', name="Fanity mirror")
    assert 'id="name-name-expected"' in text and "sounds like it read aloud" in text
    text = send(client, f"{at}?step=5", 'id="setting"', value="off")
    assert "Note its firmware first" in text


def test_a_label_is_read_whole_and_its_code_never_comes_into_the_record(client: TestClient) -> None:
    """Pasted into the field of the serial number, as a printed label is scanned by a phone."""
    at, store = f"{DOOR}/commission", client.app.state.store  # type: ignore[attr-defined]
    send(client, at, 'id="serial"', serial="Model QX 2  S/N: PQ-204418\nSetup code 1234-567-8901")
    assert store.codes("schoolhouse", "front-door") == {"d1": "1234-567-8901"}
    kept = store.box("schoolhouse", "front-door").box
    assert [one.serial for one in kept.built.commissioned] == ["PQ-204418"]
    assert "567-8901" not in client.get(f"{DOOR}/history").text
    text = send(client, f"{at}?device=d1&step=1", 'id="serial"', serial="Setup code 22-33")
    assert store.codes("schoolhouse", "front-door") == {"d1": "22-33"} and 'value="PQ-204418"' in text
    text = send(client, f"{at}?device=d1&step=1", 'id="code"', code="S/N: PQ-204418")
    assert "Enter the setup code as it stands on the label" in text


def test_two_people_on_one_box_and_a_form_sent_twice(client: TestClient) -> None:
    at = f"{DOOR}/commission"
    mine, theirs = (form(client.get(at).text, 'id="serial"') for _ in range(2))
    assert client.post(mine[0], data=mine[1] | {"serial": "SN 5"}).status_code == 200
    stale = client.post(theirs[0], data=theirs[1] | {"serial": "SN 6"})
    assert stale.status_code == 409 and "changed elsewhere" in stale.text and 'value="SN 6"' in stale.text
    assert client.post(mine[0], data=mine[1] | {"serial": "SN 5"}).status_code == 200
    ticks = client.app.state.store.ticks("schoolhouse", "front-door")  # type: ignore[attr-defined]
    assert [tick.step.kind for tick in ticks] == ["recorded"], "once, however often it was sent"


def test_a_setup_code_is_shown_on_demand_and_stands_nowhere_else(client: TestClient, tmp_path: Path) -> None:
    """Not on a page, a paper, a PDF, in the job file, the data for programs; in a backup it is; deleted, it is gone."""
    at = f"{DOOR}/commission"
    send(client, f"{at}?device=d1&step=1", 'id="code"', code=CODE)
    assert CODE not in client.get(f"{at}?device=d1&step=1").text
    ask, fields = form(client.get(f"{at}?device=d1&step=1").text, "Show the code")
    shown = client.post(ask, data=fields)
    assert CODE in shown.text and shown.headers["cache-control"] == "no-store"
    screens = (
        "",
        "/history",
        "/install",
        "/install/sheet",
        "/commission",
        "/hookup",
        "/survey",
        "/find-fault",
        "/hookup/sheet",
    )
    pages = [f"{DOOR}{screen}" for screen in screens]
    pages += [
        f"{HOUSE}{page}" for page in ("", "/papers", "/parts", "/take-out", "/progress", "/day", "/export", "/map")
    ]
    kinds = ("summary", "inspector", "as-built", "handover", "directory", "notes", "labels")
    pages += [f"{HOUSE}/papers/{kind}" for kind in kinds]
    for page in pages:
        answer = client.get(page)
        assert answer.status_code == 200 and CODE not in answer.text, page
    whole = PdfReader(BytesIO(client.get(f"{HOUSE}/papers/pdf").content))
    assert len(whole.pages) > 20 and not any(CODE in page.extract_text() for page in whole.pages)
    file = tmp_path / "job.json"
    file.write_bytes(client.get(f"{HOUSE}/export").content)
    for command in ("check", "hookup", "parts"):
        assert CODE not in CliRunner().invoke(main, [command, str(file)]).output
    assert CODE.encode() not in file.read_bytes()
    kept = tmp_path / "kept.sqlite3"
    back_up(kept, tmp_path / "backup", False)
    assert client.app.state.store.codes("schoolhouse", "front-door") == {"d1": CODE}  # type: ignore[attr-defined]
    client.post(f"{DOOR}/history/code", data={"device": "d1"})
    assert client.app.state.store.codes("schoolhouse", "front-door") == {}  # type: ignore[attr-defined]
    assert CODE.encode() not in on_disk(kept), "deleted for good"


def test_a_tab_left_open_loses_no_tick_and_ticks_nothing_else(client: TestClient) -> None:
    """What others ticked stays; of a step that is another one by now nothing is ticked, and what was typed is there."""
    at = f"{DOOR}/install"

    def ticks() -> list[str]:
        return [one.step.kind for one in client.app.state.store.ticks("schoolhouse", "front-door")]  # type: ignore[attr-defined]

    mine = form(client.get(at).text, 'id="done"')
    late = form(client.get(f"{at}?step=14").text, 'id="refuse"')
    for who in ("Wren", "山 Łuk; x=1"):
        send(client, at, 'id="done"', who=who)
        assert f'value="{who}"' in client.get(at).text, "remembered, in whatever script"
    assert client.post(mine[0], data=mine[1] | {"who": "Rook"}).status_code == 200
    assert ticks() == ["switched off", "locked", "switched off"], "each is kept, with who said so"
    revision = re.search(r'data-revision="(\d+)"', client.get(f"{DOOR}/hookup").text)
    assert revision
    cleared = client.post(f"{DOOR}/hookup/edit/clear-hookup", data={"revision": revision[1], "stage": "planned"})
    assert cleared.status_code == 200
    answer = client.post(late[0], data=late[1] | {"because": "no lock fits"})
    assert answer.status_code == 422 and "The plan has changed" in answer.text and 'value="no lock fits"' in answer.text
    assert len(ticks()) == 3


def test_a_splice_that_has_other_ends_by_now_is_another_step(client: TestClient) -> None:
    """Shown as it was, taken apart at another tab: not ticked as joined; joined so again, its tick of before holds."""
    store, at = client.app.state.store, f"{DOOR}/install"  # type: ignore[attr-defined]
    steps = [one for one in form_steps(client, at) if one.startswith("joined|make")]
    number = form_steps(client, at).index(steps[0]) + 1
    for before in ("plate on", "plate off", "device out"):
        store.tick("schoolhouse", Tick(id="t0", box="front-door", step=dead(before), at=now()))
    send(client, f"{at}?step={number}", 'id="done"', who="Wren")
    (joined,) = (one for one in store.ticks("schoolhouse", "front-door") if one.step.kind == "joined")
    assert joined.planned and [one.planned for one in store.ticks("schoolhouse", "front-door")][:3] == [None] * 3
    assert "take back" in client.get(f"{at}?step={number}").text
    stale = form(client.get(f"{at}?step={number + 1}").text, 'id="done"')
    splices = store.box("schoolhouse", "front-door").box.splices
    for step in steps[:2]:
        (splice,) = (one for one in splices if one.id == step.split("|")[2])
        acting.edit_box(store, "schoolhouse", "front-door", "take-apart", end=end_key(splice.ends[0]))
    answer = client.post(stale[0], data=stale[1] | {"who": "Rook"})
    assert answer.status_code == 422 and "The plan has changed" in answer.text
    pages = [client.get(f"{at}?step={one}").text for one in range(1, number + 1)]
    (page,) = (one for one in pages if ". Finish the hook-up first</h2>" in one)
    assert 'id="done"' not in page, "an end in no splice: nothing is joined"
    for _ in range(2):
        acting.step_box(store, "schoolhouse", "front-door", "undo")
    assert "take back" in client.get(f"{at}?step={number}").text


def test_a_reading_of_what_was_joined_otherwise_then_is_no_proof_of_what_is_joined_now(client: TestClient) -> None:
    store, at = client.app.state.store, f"{DOOR}/hookup"  # type: ignore[attr-defined]

    def taken(page: str = at) -> str:
        found = client.get(page).text.partition('id="taken"')[2].partition('id="readings"')[0]
        return " ".join(re.sub(r"<[^>]+>", " ", found).split())

    said = {"point": "A1", "state": "every breaker off", "volts": "0", "revision": "0"}
    assert client.post(f"{at}/measure", data=said).status_code == 200
    assert "A1 black, every breaker off: 0 V , as expected take back" in taken()
    splice = store.box("schoolhouse", "front-door").box.splices[0]
    acting.edit_box(store, "schoolhouse", "front-door", "take-apart", end=end_key(splice.ends[0]))
    assert "0 V , taken for another plan: take it again" in taken()
    acting.edit_box(store, "schoolhouse", "front-door", "begin-found")
    assert "0 V" not in taken(f"{DOOR}/hookup-found"), "it was taken of what is planned"
    acting.step_box(store, "schoolhouse", "front-door", "undo")
    acting.step_box(store, "schoolhouse", "front-door", "undo")
    assert "A1 black, every breaker off: 0 V , as expected take back" in taken()


def form_steps(client: TestClient, at: str) -> list[str]:
    """Every step of the ladder, as its forms say it."""
    count = len(re.findall(r"<li>", client.get(at).text.partition('id="all-steps"')[2].partition("</ol>")[0]))
    pages = (client.get(f"{at}?step={number}").text for number in range(1, count + 1))
    return [(re.search(r'name="step" value="([^"]*)"', page) or ["", ""])[1] for page in pages]


def dead(stage: str) -> Step:
    return Step(kind="proven dead", subjects=(stage,))


def end_key(end: End) -> str:
    return end.of if isinstance(end, ConductorEnd) else f"{end.cable}g" if isinstance(end, GroundEnd) else "bond"
