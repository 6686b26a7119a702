"""Nothing that is taken back may leave a job that is not whole: refused, with a way out that can be taken."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job, write_job
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.trade.model.job import Job
from nail_count.trade.rules.fit.box import DoesNotFit
from nail_count.trade.text.datasheet_form import read_sheet, write_sheet
from nail_count.web.app import make_app
from tests.store import acting
from tests.trade.wiring.hookup.schemes import apart

HOUSE = (Path(__file__).parent.parent / "house.json").read_bytes()
PAGES = ("", "/panel", "/papers/labels", "/relamping", "/next-visit", "/export", "/boxes/hall", "/boxes/porch")


@pytest.fixture
def client(tmp_path: Path) -> TestClient:
    app = make_app(tmp_path / "kept.sqlite3")
    app.state.store.add_job(read_job(HOUSE), "house")
    return TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))


def has(answer: Any, *parts: str) -> bool:
    """Whether a page says all this, wherever its lines break."""
    flat = " ".join(answer.text.split())
    return all(part in flat for part in parts)


def of(client: TestClient) -> Store:
    store: Store = client.app.state.store  # type: ignore[attr-defined]
    return store


def edit(store: Store, box: str, act: str, /, **said: object) -> None:
    acting.edit_box(store, "house", box, act, **said)


def number(store: Store, box: str) -> int:
    return store.box("house", box).number


def house_edit(store: Store, act: str, /, **said: object) -> None:
    acting.edit_house(store, "house", act, **said)


def sheet(store: Store, id: str, **said: str) -> None:
    kept = store.sheet("house", id)
    acting.change_sheet(store, "house", kept.number, read_sheet(write_sheet(kept.sheet) | said, id))


def lose_the_circuit(store: Store) -> None:
    """The porch hung on circuit 2, then on none; the circuit went."""
    edit(store, "porch", "rename", name="Porch", room="Porch", circuit="")
    house_edit(store, "remove-circuit", id="2")


def lose_the_channel(store: Store) -> None:
    """The hall's fan hung on channel 2 of its dimmer; the fan came off, and the sheet has one channel now."""
    edit(store, "hall", "remove-load", load="l2")
    sheet(store, "dimmer", channels="1")


def grow_the_sheet(store: Store) -> None:
    """The hall's dimmer came out of gang 3, and its sheet takes two gangs now."""
    edit(store, "hall", "swap-gangs", one="1", other="3")
    edit(store, "hall", "remove-device", device="d1")
    sheet(store, "dimmer", gangs="2")


LOST: list[tuple[Callable[[Store], None], str, str, str]] = [
    (lose_the_circuit, "porch", "is on circuit “2”", "leave open that circuit 2 feeds it"),
    (lose_the_channel, "hall", "a load is on channel 2", "take load l2 off channel 2 of Dimmer"),
    (grow_the_sheet, "hall", "would reach gang 4 of a box with 3", "take Dimmer out of gang 3"),
]


@pytest.mark.parametrize(("lose", "box", "wrong", "mend"), LOST, ids=[lose.__name__ for lose, *_ in LOST])
@pytest.mark.parametrize("way", ["undo", "history"])
def test_a_box_is_taken_back_as_far_as_it_fits(
    client: TestClient, lose: Callable[[Store], None], box: str, wrong: str, mend: str, way: str
) -> None:
    store, address = of(client), f"/jobs/house/boxes/{box}"
    lose(store)
    now = number(store, box)
    path, said = f"{address}/{way}", {"revision": str(now), "at": str(now - 1)}
    refused = client.post(path, data=said)
    assert refused.status_code == 409 and wrong in refused.text and mend in refused.text
    assert number(store, box) == now
    assert has(refused, f'action="{path}"', 'name="mend" value="true"')
    done = client.post(path, data=said | {"mend": "true"})
    assert done.status_code == 200 and number(store, box) == now + 1 and store.box("house", box).check.fit is None
    everything_answers(client)


def everything_answers(client: TestClient) -> None:
    for page in PAGES:
        answer = client.get(f"/jobs/house{page}")
        assert answer.status_code == 200, (page, answer.status_code)


def test_a_what_if_is_kept_as_far_as_it_fits(client: TestClient) -> None:
    store = of(client)
    edit(store, "porch", "rename", name="Porch", room="Porch", circuit="")
    trial = store.try_out("house", "porch")
    acting.edit_box(store, trial, "porch", "rename", name="Porch", room="Porch", circuit="2")
    house_edit(store, "remove-circuit", id="2")
    seen = store.box(trial, "porch").number
    with pytest.raises(DoesNotFit, match="circuit “2”"):
        store.end_trial(trial, {}, accept=True)
    said = {"revision": str(seen), "end": "keep"}
    refused = client.post(f"/jobs/{trial}/boxes/porch/what-if/end", data=said)
    assert refused.status_code == 409 and has(refused, 'name="end" value="keep"')
    client.post(f"/jobs/{trial}/boxes/porch/what-if/end", data=said | {"mend": "true"})
    assert store.box("house", "porch").history[0].sentence == (
        "What was tried out is kept; “Porch” mended: leave open that circuit 2 feeds it"
    )
    everything_answers(client)


def test_a_house_and_a_sheet_are_taken_back_and_their_boxes_mended(client: TestClient) -> None:
    store = of(client)
    house_edit(store, "put-circuit", id="31", breaker="15")
    for box in ("hall", "porch"):
        edit(store, box, "rename", name="Hall", room="Hall", circuit="31")
    said = {"revision": str(store.job("house").number)}
    refused = client.post("/jobs/house/undo", data=said)
    assert refused.status_code == 409 and has(refused, 'action="/jobs/house/undo"')
    assert client.post("/jobs/house/undo", data=said | {"mend": "true"}).status_code == 200
    assert [store.box("house", box).box.circuit for box in ("hall", "porch")] == [None, None]
    last = store.box("house", "hall").history[0].sentence
    assert last == store.job("house").last and last.startswith("Undone: Circuit 31 entered")
    assert "“Hall” mended: leave open that circuit 31 feeds it" in last
    acting.step_house(store, "house", "redo")
    assert [store.box("house", box).box.circuit for box in ("hall", "porch")] == ["31", "31"]
    client.post("/jobs/house/undo", data={"revision": str(store.job("house").number), "mend": "true"})

    sheet(store, "switch", channels="2")
    edit(store, "porch", "put-device", gang="1", sheet="switch")
    edit(store, "porch", "add-load", device="d1", kind="led", each="9", channel="2")
    said = {"revision": "2"}
    refused = client.post("/jobs/house/sheets/switch/undo", data=said)
    assert refused.status_code == 409 and "a load is on channel 2" in refused.text
    assert client.post("/jobs/house/sheets/switch/undo", data=said | {"mend": "true"}).status_code == 200
    assert store.box("house", "porch").box.devices[0].loads == ()
    everything_answers(client)


def test_undoing_a_removal_brings_back_no_box_that_no_longer_fits(client: TestClient) -> None:
    store = of(client)
    house_edit(store, "remove-box", box="hall")
    sheet(store, "dimmer", channels="1")
    said = {"revision": str(store.job("house").number)}
    assert "a load is on channel 2" in client.post("/jobs/house/undo", data=said).text
    assert "hall" not in [card.key for card in store.house("house").cards]
    client.post("/jobs/house/undo", data=said | {"mend": "true"})
    assert [load.id for load in store.box("house", "hall").box.devices[0].loads] == ["l1"]
    everything_answers(client)


def test_the_one_too_many_is_refused(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    store = of(client)
    monkeypatch.setattr("nail_count.trade.rules.fit.house.MOST_BOXES", 2)
    monkeypatch.setattr("nail_count.trade.rules.fit.house.MOST_STOCK", len(store.job("house").head.stock))
    for path, said in (
        ("/boxes", {"name": "One", "room": "More"}),
        ("/boxes/hall/copy", {}),
        ("/edit/put-stock", {"name": "One more", "volume": "20"}),
    ):
        refused = client.post(f"/jobs/house{path}", data=said)
        assert refused.status_code == 422 and "at most" in refused.text, path
    house_edit(store, "remove-box", box="hall")
    house_edit(store, "copy-box", box="porch")
    refused = client.post("/jobs/house/boxes/hall/bring-back")
    assert refused.status_code == 409 and "The way out: take some out, or make two jobs of it." in refused.text
    assert "do it all the same" not in refused.text
    everything_answers_but_hall = [client.get(f"/jobs/house{page}").status_code for page in PAGES[:-2]]
    assert set(everything_answers_but_hall) == {200}


def test_a_job_with_every_misfit_opens_says_so_and_goes_out_to_the_letter(client: TestClient) -> None:
    job = read_job(HOUSE)
    hall = job.boxes[0]
    wrong = hall.changed(
        circuit="99",
        cables=(hall.cables[0].changed(space=2), *hall.cables[1:]),
        devices=(hall.devices[0], hall.devices[0].changed(id="d2", gang=3, sheet="wide", loads=())),
        modules=(hall.modules[0].changed(sheet="gone"),),
    )
    bad: Job = job.changed(boxes=(wrong, *job.boxes[1:]), panel=job.panel.changed(spaces=2))
    landed = client.post("/import", files={"file": ("x.json", write_job(bad).encode())}, follow_redirects=False)
    at = landed.headers["location"]
    assert client.get(f"{at}/export").text == write_job(bad)
    for page in ("", "/survey", "/breaker", "/wires", "/interview", "/choose", "/count", "/history"):
        said = client.get(f"{at}/boxes/hall{page}")
        assert said.status_code == 200 and ("which is not among the circuits" in said.text or page == "/choose"), page
    for page in PAGES[:-2]:
        assert client.get(f"{at}{page}").status_code == 200
    assert "would sit in space 4 of a panel with 2" in client.get(at).text
    binds = next(card for card in of(client).house(at.split("/")[2]).cards if card.key == "hall")
    assert (binds.state, binds.binds[:7]) == ("open", "To mend")
    client.post(f"{at}/boxes/hall/edit/mend", data={"revision": "1"})
    mended = client.get(f"{at}/boxes/hall").text
    assert "Mended: leave open that circuit 99 feeds it, and " in mended and "To mend" not in mended


def test_a_proposed_hookup_is_one_act_over_its_boxes(tmp_path: Path) -> None:
    """Taken back at any of them, it is taken back whole; in a what-if the boxes themselves stay as they were."""
    store = Store(open_database(tmp_path / "kept.sqlite3"))
    store.add_job(apart("main", "three-way"), "pair")

    def joined(job: str) -> dict[str, int]:
        return {box: len(store.box(job, box).box.splices) for box in ("a", "b", "lamp")}

    before = joined("pair")
    trial = store.try_out("pair", "a")
    acting.edit_box(store, trial, "a", "propose-hookup")
    assert all(joined(trial).values()) and joined("pair") == before == {"a": 0, "b": 0, "lamp": 0}
    acting.edit_box(store, "pair", "a", "propose-hookup")
    assert all(joined("pair").values())
    acting.step_box(store, "pair", "lamp", "undo")
    assert joined("pair") == before
    acting.step_box(store, "pair", "b", "redo")
    assert all(joined("pair").values())
    store.close()
