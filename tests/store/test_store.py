"""What is kept: undo against a plain list of states, stale acts, restarts, migrations, a full disk."""

from __future__ import annotations

import tempfile
import threading
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from hypothesis import given, settings
from hypothesis import strategies as st
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError

from nail_count.files.job_json import read_job
from nail_count.store.database import make_engine, open_database
from nail_count.store.snapshots import BoxSnapshot, EditConflict, NotFound
from nail_count.store.store import Store
from nail_count.store.tables import Base
from nail_count.trade.compare.boxes import differences
from nail_count.trade.edits.base import Edit
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.job import Job
from tests.store.acting import step_box

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
PLACE = ("house", "pantry")


def opened(folder: Path) -> Store:
    return Store(open_database(folder / "kept.sqlite3"))


@pytest.fixture
def store(tmp_path: Path) -> Store:
    kept = opened(tmp_path)
    kept.add_job(HOUSE, "house")
    return kept


def volume(number: int) -> Edit:
    return read_edit("set-volume", {"box": PLACE[1], "volume": str(number)})


def edit(store: Store, number: int) -> BoxSnapshot:
    return store.act_on_box(*PLACE, volume(number), seen=store.box(*PLACE).number)


@settings(max_examples=30, deadline=None)
@given(st.lists(st.sampled_from(["undo", "redo", *range(20, 26)]), max_size=14))
def test_undo_and_redo_do_as_a_plain_list_of_states_does(acts: list[str | int]) -> None:
    with tempfile.TemporaryDirectory() as folder:
        store = opened(Path(folder))
        store.add_job(HOUSE, "house")
        states, at = [store.box(*PLACE).box], 0
        for act in acts:
            before = store.box(*PLACE)
            assert (before.can_undo, before.can_redo) == (at > 0, at < len(states) - 1)
            if isinstance(act, int):
                states, at = [*states[: at + 1], edit(store, act).box], at + 1
            else:
                at = max(at - 1, 0) if act == "undo" else min(at + 1, len(states) - 1)
                step_box(store, *PLACE, "undo" if act == "undo" else "redo")
            assert store.box(*PLACE).box == states[at]
            assert store.box(*PLACE).number >= before.number


def test_the_history_says_what_was_undone_and_loses_nothing(store: Store) -> None:
    for number in (20, 21):
        edit(store, number)
    for way in ("undo", "undo", "redo"):
        step_box(store, *PLACE, "undo" if way == "undo" else "redo")
    assert [step.sentence for step in store.box(*PLACE).history] == [
        "Redone: Volume marked 20 in3",
        "Undone: Volume marked 20 in3",
        "Undone: Volume marked 21 in3",
        "Volume marked 21 in3",
        "Volume marked 20 in3",
        "Job “The old schoolhouse” started",
    ]


def test_any_earlier_state_is_shown_and_taken_back(store: Store) -> None:
    first = store.box(*PLACE).box
    for number in (20, 21, 22):
        edit(store, number)
    found = store.earlier(*PLACE, 2)
    assert [step.number for step in found.steps] == [4, 3, 2, 1]
    assert str(found.then.box.enclosure.volume) == "20 in3"
    assert differences(found.then.box, found.now.box, found.now.job.sheets) == ("Volume: 20 in3 → 22 in3",)
    back = store.take_back(*PLACE, 4, number=1)
    assert back.box == first and back.number == 5
    assert back.history[0].sentence == "Taken back to step 1: Job “The old schoolhouse” started"
    assert str(step_box(store, *PLACE, "undo", 5).box.enclosure.volume) == "22 in3"
    with pytest.raises(EditConflict):
        store.take_back(*PLACE, 4, number=1)
    for nowhere in (0, 99):
        with pytest.raises(NotFound):
            store.earlier(*PLACE, nowhere)
        with pytest.raises(NotFound):
            store.take_back(*PLACE, 6, number=nowhere)


def test_a_stale_act_changes_nothing(store: Store) -> None:
    seen = store.box(*PLACE).number
    edit(store, 30)
    with pytest.raises(EditConflict):
        store.act_on_box(*PLACE, volume(40), seen=seen)
    with pytest.raises(EditConflict):
        step_box(store, *PLACE, "undo", seen)
    assert str(store.box(*PLACE).box.enclosure.volume) == "30 in3"


def test_eight_at_once_lose_nothing_and_overwrite_nothing(store: Store) -> None:
    """Each edits what it saw until it is let; every edit that was let is one step of the history, in one order."""
    before, let = store.box(*PLACE).number, [0] * 8

    def work(mine: int) -> None:
        while let[mine] < 10:
            seen = store.box(*PLACE)
            try:
                store.act_on_box(*PLACE, volume(10 + mine * 10 + let[mine]), seen=seen.number)
            except EditConflict:
                continue
            let[mine] += 1

    threads = [threading.Thread(target=work, args=(mine,)) for mine in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    found = store.earlier(*PLACE, 1)
    assert found.now.number == before + sum(let) == before + 80
    said = [step.sentence for step in found.steps[: sum(let)]]
    assert sorted(said) == sorted(f"Volume marked {10 + mine * 10 + n} in3" for mine in range(8) for n in range(10))


def test_everything_is_there_after_a_restart(tmp_path: Path, store: Store) -> None:
    edit(store, 30)
    again = opened(tmp_path)
    assert str(again.box(*PLACE).box.enclosure.volume) == "30 in3"
    assert [card.state for card in again.house("house").cards if card.key == "pantry"] == ["holds"]
    assert again.box(*PLACE).can_undo


def test_a_whole_job_comes_out_as_it_went_in(store: Store) -> None:
    assert store.whole_job("house") == HOUSE
    assert store.add_job(HOUSE) == "the-old-schoolhouse"
    assert store.add_job(HOUSE) == "the-old-schoolhouse-2"
    assert store.add_job(Job(name="✓")) == "job"


def test_what_is_not_there_is_missing(store: Store) -> None:
    for job, box in (("house", "nowhere"), ("nobody", "pantry")):
        with pytest.raises(NotFound):
            store.box(job, box)


def test_a_full_disk_refuses_and_keeps_what_was_saved(tmp_path: Path, store: Store) -> None:
    edit(store, 30)
    engine = open_database(tmp_path / "kept.sqlite3")

    @event.listens_for(engine, "connect")
    def _no_room(connection: object, _record: object) -> None:
        connection.execute("PRAGMA max_page_count=1")  # type: ignore[attr-defined]

    engine.dispose()
    cramped = Store(engine)
    with pytest.raises(OperationalError, match="full"):
        for number in range(31, 99):
            edit(cramped, number)
    kept = opened(tmp_path).box(*PLACE)
    assert kept.history[0].number == kept.number
    assert kept.box.enclosure.volume is not None and kept.box.enclosure.volume.value >= 30


@pytest.fixture
def migrated(tmp_path: Path) -> Iterator[Path]:
    open_database(tmp_path / "fresh.sqlite3").dispose()
    yield tmp_path / "fresh.sqlite3"


def test_migrations_make_the_tables_the_code_expects(migrated: Path) -> None:
    engine = make_engine(migrated)
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
        settings_ = {
            name: connection.execute(text(f"PRAGMA {name}")).scalar() for name in ("journal_mode", "foreign_keys")
        }
    engine.dispose()
    assert settings_ == {"journal_mode": "wal", "foreign_keys": 1}
