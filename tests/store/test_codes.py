"""A setup code belongs to one device for good, whatever id another device gets later."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing, suppress
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.snapshots import NotFound
from nail_count.store.store import Store
from nail_count.trade.model.errors import Rejected
from nail_count.web.app import make_app
from tests.store import acting
from tests.store.test_database import VERSIONS
from tests.support import on_disk

HOUSE = read_job((VERSIONS.parents[1] / "house.json").read_bytes())
BOX = "hall"


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    made = Store(open_database(tmp_path / "kept.sqlite3"))
    made.add_job(HOUSE, "house")
    acting.edit_box(made, "house", BOX, "set-gangs", gangs="3")
    yield made
    made.close()


def sheets(store: Store) -> list[str]:
    """Models that go into one gang."""
    return [id for id, sheet in store.job("house").sheets.items() if sheet.gangs == 1 and not sheet.is_module]


def put(store: Store, gang: int, sheet: str) -> str:
    """Put a device in; its id."""
    before = {one.id for one in store.box("house", BOX).box.devices if one.gang != gang}
    after = acting.edit_box(store, "house", BOX, "put-device", gang=str(gang), sheet=sheet).box.devices
    return next(one.id for one in after if one.id not in before)


def test_the_next_device_of_an_id_has_no_code_and_undo_brings_the_code_back(store: Store) -> None:
    first, second, *_ = sheets(store)
    device = put(store, 3, first)
    store.put_code("house", BOX, device, "OLD-CODE")
    acting.edit_box(store, "house", BOX, "remove-device", device=device)
    assert store.codes("house", BOX) == {}
    assert put(store, 3, second) == device, "the id comes again"
    assert store.codes("house", BOX) == {}
    store.put_code("house", BOX, device, "NEW-CODE")
    assert store.codes("house", BOX) == {device: "NEW-CODE"}
    assert [one.is_here for one in store.kept_codes("house", BOX)] == [False, True]
    for _ in range(2):
        acting.step_box(store, "house", BOX, "undo")
    assert store.codes("house", BOX) == {device: "OLD-CODE"}
    for _ in range(2):
        acting.step_box(store, "house", BOX, "redo")
    assert store.codes("house", BOX) == {device: "NEW-CODE"}


def test_another_model_in_its_place_has_no_code_and_two_that_change_gangs_keep_theirs(store: Store) -> None:
    first, second, *_ = sheets(store)
    one, other = put(store, 2, first), put(store, 3, first)
    store.put_code("house", BOX, one, "ONE")
    store.put_code("house", BOX, other, "OTHER")
    acting.edit_box(store, "house", BOX, "swap-gangs", one="2", other="3")
    assert store.codes("house", BOX) == {one: "ONE", other: "OTHER"}, "each goes with its device"
    acting.edit_box(store, "house", BOX, "replace-device", device=one, sheet=second)
    assert store.codes("house", BOX) == {other: "OTHER"}


def test_a_code_of_a_device_that_left_can_be_deleted_for_good(store: Store) -> None:
    device = put(store, 3, sheets(store)[0])
    store.put_code("house", BOX, device, "GONE-WITH-IT")
    acting.edit_box(store, "house", BOX, "remove-device", device=device)
    client = TestClient(make_app(store.file, ("testserver",)), client=("127.0.0.1", 50000))
    page = client.get(f"/jobs/house/boxes/{BOX}/history").text
    assert "no longer in this box" in page and "GONE-WITH-IT" not in page
    (kept,) = store.kept_codes("house", BOX)
    client.post(f"/jobs/house/boxes/{BOX}/history/code", data={"device": device, "came": str(kept.came)})
    assert store.kept_codes("house", BOX) == ()
    with pytest.raises(NotFound):
        store.delete_code("house", BOX, device, kept.came)
    assert b"GONE-WITH-IT" not in on_disk(store.file)


def test_a_code_needs_a_device_that_is_there(store: Store) -> None:
    with pytest.raises(Rejected):
        store.put_code("house", BOX, "d99", "CODE")


ACTS = st.lists(
    st.tuples(st.sampled_from(["put", "replace", "remove", "swap", "undo", "redo", "code"]), st.integers(0, 5)),
    max_size=25,
)


@settings(max_examples=40, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(acts=ACTS)
def test_a_code_is_shown_for_the_very_device_it_was_kept_for(
    acts: list[tuple[str, int]], tmp_path_factory: pytest.TempPathFactory
) -> None:
    """Every device is put in under a name of its own; the code says that name; a plain model follows the names."""
    store = Store(open_database(tmp_path_factory.mktemp("codes") / "kept.sqlite3"))
    store.add_job(HOUSE, "house")
    acting.edit_box(store, "house", BOX, "set-gangs", gangs="3")
    models = sheets(store)
    for number, (act, pick) in enumerate(acts):
        box = store.box("house", BOX)
        named = [one for one in box.box.devices if one.name.startswith("n")]
        device = named[pick % len(named)] if named else None
        sheet = models[pick % len(models)]
        with suppress(Rejected):  # what hangs on a device may not go with it
            if act == "put":
                acting.edit_box(
                    store, "house", BOX, "put-device", gang=str(1 + pick % 3), sheet=sheet, name=f"n{number}"
                )
            elif act in ("undo", "redo"):
                if box.can_undo if act == "undo" else box.can_redo:
                    acting.step_box(store, "house", BOX, "undo" if act == "undo" else "redo")
            elif device is not None and act == "replace" and sheet != device.sheet:
                acting.edit_box(store, "house", BOX, "replace-device", device=device.id, sheet=sheet)
                acting.edit_box(store, "house", BOX, "connect-device", device=device.id, name=f"n{number}")
            elif device is not None and act == "remove":
                acting.edit_box(store, "house", BOX, "remove-device", device=device.id)
            elif act == "swap" and named:
                acting.edit_box(
                    store, "house", BOX, "swap-gangs", one=str(named[0].gang), other=str(1 + named[0].gang % 3)
                )
            elif device is not None and act == "code":
                store.put_code("house", BOX, device.id, f"{device.name}-{device.sheet}")
        now = {one.id: f"{one.name}-{one.sheet}" for one in store.box("house", BOX).box.devices}
        for id, code in store.codes("house", BOX).items():
            assert code.rpartition("-")[0] and now[id].split("-", 1)[1] == code.split("-", 1)[1]
            if not any(one[0] == "replace" for one in acts):
                assert now[id] == code, "a code of another device is shown"
    store.close()


def test_codes_of_an_earlier_version_stay_with_the_device_they_were_kept_for(tmp_path: Path) -> None:
    """As the tables were before: a code by box and id alone."""
    file = tmp_path / "kept.sqlite3"
    store = Store(open_database(file))
    store.add_job(HOUSE, "house")
    acting.edit_box(store, "house", BOX, "set-gangs", gangs="3")
    first, second, *_ = sheets(store)
    stays, leaves = put(store, 2, first), put(store, 3, first)
    store.put_code("house", BOX, stays, "STAYS")
    store.put_code("house", BOX, leaves, "LEAVES")
    acting.edit_box(store, "house", BOX, "set-volume", volume="50")
    acting.edit_box(store, "house", BOX, "remove-device", device=leaves)
    assert put(store, 3, second) == leaves
    store.close()
    with closing(sqlite3.connect(file)) as on:
        on.executescript(
            "create table old as select job_id, box, device, code, at from setup_code; drop table setup_code; "
            "create table setup_code (job_id integer not null, box varchar(60) not null, device varchar(12) not null, "
            "code varchar(200) not null, at datetime not null, primary key (job_id, box, device)); "
            "insert into setup_code select * from old; drop table old; alter table job drop column began; "
            "alter table revision drop column checksum; alter table summary drop column works; "
            "update alembic_version set version_num = '0015'"
        )
    store = Store(open_database(file))
    assert store.codes("house", BOX) == {stays: "STAYS"}
    assert len(store.kept_codes("house", BOX)) == 2
    store.close()
