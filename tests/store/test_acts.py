"""One act is one change: over several documents, whole or not at all, once for each token, undone whole."""

from __future__ import annotations

import json
import threading
from importlib.resources import files
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.snapshots import EditConflict, NotFound
from nail_count.store.store import Store
from nail_count.trade.documents import HEAD, DocumentId, Documents, JobAtHand
from nail_count.trade.edits.base import BoxEdit
from nail_count.trade.edits.registry import EDITS, read_edit
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.run import BoxEnd, CircuitEnd
from nail_count.trade.model.tick import Step, Tick
from nail_count.trade.quick_entry.enter_line import EnterLine
from nail_count.trade.rules.fit.box import DoesNotFit
from nail_count.web.app import make_app
from tests.store import acting
from tests.support import on_disk

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
BOX = "kitchen-bench"


@pytest.fixture
def client(tmp_path: Path) -> TestClient:
    app = make_app(tmp_path / "kept.sqlite3")
    app.state.store.add_job(HOUSE, "house")
    return TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))


@pytest.fixture
def store(client: TestClient) -> Store:
    kept: Store = client.app.state.store  # type: ignore[attr-defined]
    return kept


SAID: dict[str, dict[str, str]] = {
    "add-cable": {"gauge": "#12", "insulated": "2", "goes": "feed", "enters": "bottom"},
    "change-cable": {"cable": "A", "gauge": "2.5 mm²", "insulated": "2", "free": "6", "work": "comes out"},
    "remove-cable": {"cable": "B"},
    "put-device": {"gang": "1", "sheet": "marrowby-toggle", "name": "Sink", "gauge": "12"},
    "remove-device": {"device": "d1"},
    "swap-gangs": {"one": "1", "other": "3"},
    "add-load": {"device": "d1", "kind": "led", "each": "9", "quantity": "2", "dimmable": "true"},
    "set-volume": {"volume": "2 1/4 cu in", "trade_size": ""},
    "set-clamps": {"clamps": "true"},
    "add-ring": {"kind": "Extension", "volume": "12.5", "depth": "1 1/2"},
    "add-connectors": {"size": "large", "count": "3", "gauge": ""},
    "add-barrier": {"after": "1", "material": "metal"},
    "rename": {"name": "Bench", "room": "Scullery", "circuit": "6", "use": "control"},
    "set-setback": {"setback": "1/4", "wall": "combustible"},
    "see-conductor": {"conductor": "A1", "color": "black", "joined": "x", "asserted_role": "line"},
    "name-cable": {"cable": "A", "means": "feed"},
    "take-reading": {"kind": "volts", "of": "A1", "volts": "118 V", "on": "6", "at": "2026-11-26T09:30:00"},
    "set-wish": {"what": "sink light", "does": "dim,schedule", "loads": "2x9W led", "hub": "attic"},
    "say-run": {"cable": "A", "to": "box", "far_box": "porch", "far_cable": "C", "length": "25"},
}


@pytest.mark.parametrize("name", sorted(SAID))
def test_an_edit_from_a_form_and_from_json_gives_the_same_documents(
    name: str, client: TestClient, store: Store
) -> None:
    """Forms say text; a value of the same edit, written as JSON and read again, says the same."""
    said = SAID[name] | {"box": BOX}
    edit = read_edit(name, said)
    again = type(edit).model_validate_json(edit.model_dump_json(exclude_unset=True))
    assert again == edit
    pure = again.apply(Documents(JobAtHand(store.whole_job("house")), {})).documents.job
    seen = {"revision": str(store.box("house", BOX).number)}
    on_box = issubclass(EDITS[name], BoxEdit)
    path = f"/jobs/house/boxes/{BOX}/edit/{name}" if on_box else f"/jobs/house/edit/{name}"
    data = (SAID[name] | seen) if on_box else said
    assert client.post(path, data=data).status_code == 200
    assert store.whole_job("house").changed(ticks=()) == pure  # ticks are kept apart


def test_a_line_gives_what_its_edits_give_and_is_one_change_undone_whole(store: Store) -> None:
    before = store.whole_job("house")
    number = store.box("house", BOX).number
    line = '3g 54in3 tabs; 12/2 x2 "feed", 14/3 from bottom; marrowby-toggle "Sink" 2x9W led, empty, marrowby-toggle'
    store.act_on_box("house", BOX, EnterLine(box=BOX, line=line), seen=number)
    entered = store.box("house", BOX)
    assert entered.number == number + 1 and entered.goes == {"A": "circuit 9", "B": "circuit 9"}
    other = Store(open_database(store.file.with_name("other.sqlite3")))
    other.add_job(before, "house")
    bare = other.box("house", BOX).box
    for cable in bare.cables:
        acting.edit_box(other, "house", BOX, "remove-cable", cable=cable.id)
    for device in bare.devices:
        acting.edit_box(other, "house", BOX, "remove-device", device=device.id)
    for act, said in (
        ("set-gangs", {"gangs": "3"}),
        ("set-volume", {"volume": "54"}),
        ("set-clamps", {"clamps": "true"}),
        ("add-cable", {"gauge": "12", "insulated": "2", "goes": "feed"}),
        ("add-cable", {"gauge": "12", "insulated": "2", "goes": "feed"}),
        ("add-cable", {"gauge": "14", "insulated": "3", "enters": "bottom"}),
        ("put-device", {"gang": "1", "sheet": "marrowby-toggle", "name": "Sink"}),
        ("add-load", {"device": "d1", "kind": "led", "each": "9 W", "quantity": "2"}),
        ("put-device", {"gang": "3", "sheet": "marrowby-toggle"}),
    ):
        acting.edit_box(other, "house", BOX, act, **said)
    one, two = entered.box, other.box("house", BOX).box
    assert (one.cables, one.devices, one.enclosure.gangs) == (two.cables, two.devices, 3)
    assert other.box("house", BOX).goes == entered.goes
    acting.step_box(store, "house", BOX, "undo")
    assert store.whole_job("house") == before
    other.close()


def test_a_run_said_at_one_end_is_said_at_the_other_and_taken_back_at_either(store: Store) -> None:
    said = {"box": BOX, "cable": "B", "to": "box", "far_box": "porch", "far_cable": "C", "length": "25 ft"}
    before = store.whole_job("house")
    for taken_back_at in (BOX, "porch"):
        acting.edit_house(store, "house", "say-run", **said)
        assert store.box("house", "porch").goes["C"].endswith(": Counter, B")
        assert store.box("house", BOX).goes["B"].startswith("Back porch: ")
        (run,) = [run for run in store.whole_job("house").runs if run.length is not None]
        assert {(end.box, end.cable) for end in run.box_ends} == {(BOX, "B"), ("porch", "C")}
        acting.step_box(store, "house", taken_back_at, "undo")
        assert store.whole_job("house") == before
    acting.edit_house(store, "house", "say-run", **said)
    with pytest.raises(Rejected, match="goes nowhere else"):
        acting.edit_house(store, "house", "say-run", **said | {"box": "study", "cable": "A"})
    acting.edit_box(store, "house", "porch", "remove-cable", cable="C")
    assert "B" not in store.box("house", BOX).goes, "expected no run to a cable that is gone"
    acting.step_box(store, "house", "porch", "undo")
    assert store.box("house", BOX).goes["B"].startswith("Back porch: ")
    acting.edit_house(store, "house", "remove-box", box="porch")
    assert "B" not in store.box("house", BOX).goes and store.whole_job("house")
    acting.step_house(store, "house", "undo")
    assert store.box("house", BOX).goes["B"].startswith("Back porch: ")


def test_a_box_is_not_taken_back_behind_a_run_that_ends_in_it_but_mended(store: Store) -> None:
    first = store.box("house", BOX).number
    acting.edit_box(store, "house", BOX, "add-cable", gauge="14", insulated="2")
    letter = store.box("house", BOX).box.cables[-1].id
    acting.edit_house(store, "house", "say-run", box=BOX, cable=letter, to="onward")
    number = store.box("house", BOX).number
    with pytest.raises(DoesNotFit, match=f"cable {letter} of “{BOX}” has a run"):
        store.take_back("house", BOX, number, number=first)
    store.take_back("house", BOX, number, number=first, mend=True)
    assert letter not in store.box("house", BOX).goes
    acting.step_box(store, "house", BOX, "undo")
    assert store.box("house", BOX).goes[letter] == "on to the next box"


def test_runs_follow_their_circuit_and_loads_their_outlet(store: Store) -> None:
    acting.edit_house(store, "house", "put-circuit", id="12", space="12", breaker="15")
    acting.edit_house(store, "house", "say-run", box=BOX, cable="A", to="circuit", circuit="12")
    acting.edit_house(store, "house", "put-circuit", id="12a", was="12", space="12", breaker="15")
    assert store.box("house", BOX).goes["A"] == "circuit 12a"
    acting.edit_house(store, "house", "remove-circuit", id="12a")
    assert store.box("house", BOX).goes["A"] == "the panel"
    lamp = acting.edit_house(store, "house", "start-box", name="Lamp", room="Loft", use="luminaire", volume="20").boxes[
        0
    ]
    assert (lamp, "Loft: Lamp") in store.box("house", BOX).outlets
    device = store.box("house", BOX).box.devices[0].id
    acting.edit_box(store, "house", BOX, "add-load", device=device, kind="led", each="9", outlet=lamp)
    with pytest.raises(DoesNotFit, match="is entered at “nowhere”"):
        acting.edit_box(store, "house", BOX, "add-load", device=device, kind="led", each="9", outlet="nowhere")
    acting.edit_house(store, "house", "remove-box", box=lamp)
    hung = [load.outlet for item in store.box("house", BOX).box.equipment for load in item.loads]
    assert lamp not in hung
    acting.step_house(store, "house", "undo")
    again = [load.outlet for item in store.box("house", BOX).box.equipment for load in item.loads]
    assert again.count(lamp) == 1


def test_a_token_is_done_once_sent_twice_late_and_by_two_tabs(store: Store, client: TestClient) -> None:
    """A double click adds one cable; another tab's same act is stale and told so; late, it gets the answer it got."""
    path, number = f"/jobs/house/boxes/{BOX}/edit/add-cable", store.box("house", BOX).number
    said = {"gauge": "14", "insulated": "2", "revision": str(number), "token": "first tab"}
    count = len(store.box("house", BOX).box.cables)
    assert [client.post(path, data=said).status_code for _ in range(2)] == [200, 200]
    assert len(store.box("house", BOX).box.cables) == count + 1
    other = client.post(path, data=said | {"token": "second tab"})
    assert other.status_code == 409 and "Changed since: “Counter”: 14/2 cable" in other.text
    acting.edit_box(store, "house", BOX, "set-clamps", clamps=True)
    assert client.post(path, data=said).status_code == 200
    assert len(store.box("house", BOX).box.cables) == count + 1
    changed = client.post(path, data=said | {"insulated": "3"})
    assert changed.status_code == 409, "expected another act under the same token to be an act of its own"
    again = said | {"revision": str(store.box("house", BOX).number)}
    assert client.post(path, data=again).status_code == 200, "expected the next state's same act to be done"
    assert len(store.box("house", BOX).box.cables) == count + 2


def test_a_new_box_a_sheet_and_a_step_are_done_once_too(store: Store, client: TestClient) -> None:
    said = {"name": "Shed", "room": "Yard", "volume": "20", "token": "a"}
    first, second = (client.post("/jobs/house/boxes", data=said, follow_redirects=False) for _ in range(2))
    assert first.headers["location"] == second.headers["location"] and first.status_code == second.status_code == 303
    assert [card.name for card in store.house("house").cards].count("Shed") == 1
    undo = {"revision": str(store.job("house").number), "token": "b"}
    assert [client.post("/jobs/house/undo", data=undo).status_code for _ in range(2)] == [200, 200]
    assert "Shed" not in [card.name for card in store.house("house").cards]
    assert store.job("house").can_undo is False, "expected one step back, not two"
    tick = Tick(id="new", box=BOX, step=Step(kind="joined", subjects=("s1",)), at="2026-11-26T09:30:00")
    made = len(store.ticks("house"))
    kept = store.tick("house", tick, "t").id
    assert store.tick("house", tick, "t").id == kept and len(store.ticks("house")) == made + 1
    assert store.tick("house", tick.changed(takes_back=kept)).id != kept and len(store.ticks("house")) == made + 2
    with pytest.raises(Rejected, match="one of the ticks made"):
        store.tick("house", tick.changed(takes_back="t99"))


@pytest.mark.parametrize(
    ("field", "value", "said"),
    [
        ("point", "Z9", "Pick a point of this box, such as"),
        ("state", "half on", "Pick one of the states: every breaker off"),
        ("volts", "1001", "Enter a reading from 0 to 1000 V"),
        ("volts", "-1", "Enter a number such as"),
    ],
)
def test_a_reading_that_cannot_be_is_not_kept(
    store: Store, client: TestClient, field: str, value: str, said: str
) -> None:
    right = {"point": "A1", "state": "breakers on, everything off", "volts": "118 V", "asked_by": "measure"}
    ticks = len(store.ticks("house"))
    at = "/jobs/house/boxes/porch/hookup/measure"
    assert said in client.post(at, data={**right, field: value, "token": "a"}).text
    assert len(store.ticks("house")) == ticks
    client.post(at, data={**right, "token": "b"})
    (*_, kept) = store.ticks("house")
    assert len(store.ticks("house")) == ticks + 1 and kept.step.volts == 118


def test_undo_is_refused_where_another_document_moved_on_and_says_which(store: Store) -> None:
    acting.edit_house(store, "house", "move-box", box="study", room="Woodshed")
    acting.edit_box(store, "house", "study", "set-clamps", clamps=True)
    with pytest.raises(EditConflict, match="“Study”: Clamps inside the box"):
        acting.step_house(store, "house", "undo")
    assert store.box("house", "study").box.room == "Woodshed"
    acting.step_box(store, "house", "study", "undo")
    acting.step_house(store, "house", "undo")
    assert store.box("house", "study").box.room != "Woodshed"
    assert store.box("house", "study").can_redo and store.job("house").can_redo
    acting.step_box(store, "house", "study", "redo")
    assert store.box("house", "study").box.room == "Woodshed" and "Redone" in store.job("house").last


def test_changes_over_two_boxes_under_eight_threads_are_each_whole(store: Store) -> None:
    """Each says and unsays where a cable goes, and undoes; at the end both ends say the same, whatever came last."""
    before = store.whole_job("house")
    said = {"box": BOX, "cable": "C", "to": "box", "far_box": "porch", "far_cable": "C"}
    done = [0] * 8

    def work(mine: int) -> None:
        while done[mine] < 6:
            try:
                if done[mine] % 3 == 2:
                    place = (BOX, "porch")[mine % 2]
                    store.step("house", DocumentId("box", place), store.box("house", place).number, way="undo")
                else:
                    acting.edit_house(store, "house", "say-run", **said | {"length": str(1 + mine * 10 + done[mine])})
            except EditConflict:
                pass
            done[mine] += 1

    threads = [threading.Thread(target=work, args=(mine,)) for mine in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    here, there = store.box("house", BOX), store.box("house", "porch")
    assert ("Counter" in there.goes["C"]) == ("porch" in here.goes["C"])
    assert [step.sentence for step in here.history[:8]] == [step.sentence for step in there.history[:8]]
    runs = [run for run in store.whole_job("house").runs if BoxEnd(box=BOX, cable="C") in run.box_ends]
    assert len(runs) <= 1 and len(store.whole_job("house").boxes) == len(before.boxes)


def test_setup_codes_are_kept_apart_and_deleted_for_good(store: Store, client: TestClient) -> None:
    device = store.box("house", BOX).box.devices[0].id
    store.put_code("house", BOX, device, "MT:Y.K9042C00KA0648G00")
    assert store.codes("house", BOX) == {device: "MT:Y.K9042C00KA0648G00"}
    pages = [
        f"/jobs/house/boxes/{BOX}",
        f"/jobs/house/boxes/{BOX}/history",
        "/jobs/house/export",
        "/api/v1/jobs/house/check",
    ]
    assert all("K9042C00KA" not in client.get(page).text for page in pages)
    answer = client.post(f"/jobs/house/boxes/{BOX}/history/code", data={"device": device})
    assert answer.status_code == 200 and store.codes("house", BOX) == {}
    with pytest.raises(NotFound):
        store.delete_code("house", BOX, device)
    assert b"K9042C00KA" not in on_disk(store.file), "expected nothing of it left in the file or beside it"


def test_what_was_seen_is_checked_once_for_every_kind_of_document(store: Store) -> None:
    edit = read_edit("set-clamps", {"box": BOX, "clamps": True})
    sheet = HOUSE.sheets[0].id
    for id in (HEAD, DocumentId("box", BOX), DocumentId("sheet", sheet)):
        numbers = {"head": store.job("house").number, "box": store.box("house", BOX).number}
        number = numbers.get(id.kind) or store.sheet("house", sheet).number
        with pytest.raises(EditConflict):
            store.act("house", edit, {id: number + 1})
        store.act("house", edit, {id: number})
    with pytest.raises(NotFound):
        store.act("house", edit, {DocumentId("box", "nowhere"): 1})


def test_prices_connectors_and_lamps_are_entered_shown_and_taken_out(store: Store, client: TestClient) -> None:
    acts: list[tuple[str, dict[str, Any], str]] = [
        ("put-price", {"what": "14/2 cable, a meter", "each": "1.25"}, "14/2 cable, a meter: 1.25"),
        ("put-connector", {"name": "Lever, three", "ports": "3", "most": "12 AWG"}, "3 ports: 12 AWG"),
        ("put-lamp", {"name": "A19", "each": "9", "replaces": "60"}, "A19, 9 W"),
    ]
    for act, said, shown in acts:
        assert client.post(f"/jobs/house/edit/{act}", data=said).status_code == 200
        assert shown in " ".join(client.get("/jobs/house").text.split())
    refused = client.post("/jobs/house/edit/put-price", data={"what": "x", "each": "2000000", "asked_by": "price"})
    assert refused.status_code == 422 and "Enter a price from 0" in refused.text
    head = store.job("house").head
    kept = json.loads(store.whole_job("house").model_dump_json())["prices"]
    assert {"what": "14/2 cable, a meter", "each": "1.25"} in kept
    assert (head.connectors[0].ports, str(head.lamps[-1].replaces)) == (3, "60 W")
    for act, said in (("remove-price", {"what": "14/2 cable, a meter"}), ("remove-lamp", {"name": "A19"})):
        acting.edit_house(store, "house", act, **said)
    after = store.job("house").head
    assert (len(after.prices), len(after.lamps)) == (len(kept) - 1, len(head.lamps) - 1)


def test_where_a_cable_goes_is_said_on_its_page(store: Store, client: TestClient) -> None:
    page = f"/jobs/house/boxes/{BOX}/goes/A"
    assert 'value="circuit" checked' in " ".join(client.get(page).text.split())
    revision = str(store.box("house", BOX).number)
    for said, field in (
        ({"to": "circuit", "circuit": "99"}, "one of the circuits in the panel"),
        ({"to": "box", "far_box": ""}, "one of the boxes and outlets"),
        ({"to": "box", "far_box": "porch", "far_cable": "Q"}, "Pick a cable of"),
        ({"to": "box", "far_box": BOX, "far_cable": "A"}, "another cable, since it comes back"),
        ({"to": "words", "words": ""}, "a few words"),
        ({"to": "onward", "length": "a mile"}, "Enter a length such as"),
    ):
        refused = client.post(page, data=said | {"revision": revision})
        assert refused.status_code == 422 and field in refused.text, said
    assert client.get(f"/jobs/house/boxes/{BOX}/goes/Q").status_code == 404
    client.post(page, data={"to": "words", "words": "the barn", "length": "40", "revision": revision})
    run = store.run_at("house", BOX, "A")
    assert run is not None and str(run.length) == "40 ft" and store.box("house", BOX).goes["A"] == "the barn"
    assert client.post(page, data={"to": "onward", "revision": revision}).status_code == 409
    revision = str(store.box("house", BOX).number)
    client.post(page, data={"to": "", "revision": revision})
    assert store.run_at("house", BOX, "A") is None
    acting.step_box(store, "house", BOX, "undo")
    assert store.run_at("house", BOX, "A") == run
    client.post(page, data={"to": "circuit", "circuit": "", "revision": str(store.box("house", BOX).number)})
    end = store.run_at("house", BOX, "A")
    assert end is not None and end.far_from(BOX, "A") == CircuitEnd()


def test_what_a_breaker_protects_from_is_read_at_the_box_and_kept_in_the_panel(store: Store) -> None:
    circuit = store.box("house", BOX).box.circuit
    acting.edit_box(store, "house", BOX, "set-breaker-kind", kind="AFCI")
    kinds = {one.id: one.kind for one in store.job("house").head.circuits}
    assert kinds[circuit or ""] == "AFCI"
    new = acting.edit_house(store, "house", "start-box", name="Nowhere", room="Loft").boxes[0]
    with pytest.raises(Rejected, match="Find the breaker first"):
        acting.edit_box(store, "house", new, "set-breaker-kind", kind="AFCI")
