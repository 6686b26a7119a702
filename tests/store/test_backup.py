"""Backups: made while others work, whole or not at all, verified, never over what is there unless told."""

from __future__ import annotations

import json
import sqlite3
import threading
from collections.abc import Callable
from contextlib import closing
from datetime import datetime
from importlib.resources import files
from pathlib import Path
from zipfile import ZipFile

import pytest
from click.testing import CliRunner
from starlette.testclient import TestClient

from nail_count.cli import main
from nail_count.demo.house import put_demo
from nail_count.files.job_json import read_job, write_job
from nail_count.store.backup import DATABASE, MANIFEST, BadBackup, InTheWay, back_up, restore
from nail_count.store.database import open_database
from nail_count.store.hold import held
from nail_count.store.store import Store
from nail_count.store.trouble import Trouble
from nail_count.trade.model.tick import Step, Tick
from nail_count.web.app import make_app
from tests.store import acting

BOX = "kitchen-bench"


@pytest.fixture
def store(tmp_path: Path) -> Store:
    """The demo house with a picture, history, undo, marks, a what-if, a removed box and a job put away."""
    made = Store(open_database(tmp_path / "nail-count.sqlite3"))
    put_demo(made)
    for volume in ("40", "41", "42"):
        edit(made, BOX, "set-volume", volume=volume)
    acting.step_box(made, "schoolhouse", BOX, "undo")
    made.put_code("schoolhouse", BOX, "d1", "MT:Y.K90-SECRET")
    made.tick("schoolhouse", Tick(id="new", box=BOX, step=Step(kind="proven dead"), at=datetime(2026, 11, 26, 9, 30)))
    acting.edit_box(made, made.try_out("schoolhouse", BOX), BOX, "add-cable", gauge="14", insulated="2")
    acting.edit_house(made, "schoolhouse", "remove-box", box="pantry")
    other = made.add_job(read_job((files("nail_count.demo") / "hallway.json").read_bytes()))
    made.remove_job(other)
    return made


def edit(store: Store, box: str, name: str, **said: object) -> None:
    acting.edit_box(store, "schoolhouse", box, name, **said)


def everything(store: Store) -> object:
    """Whatever a person could see or take out."""
    jobs = store.jobs()
    whole = {card.key: write_job(store.whole_job(card.key)) for card in jobs}
    house, box = store.house("schoolhouse"), store.box("schoolhouse", BOX)
    assert box.open_trial
    leaflet = next(sheet.leaflet for sheet in house.job.sheets.values() if sheet.leaflet)
    steps = store.earlier("schoolhouse", BOX, 1).steps
    kept = store.codes("schoolhouse", BOX), store.ticks("schoolhouse", BOX)
    assert all(kept) and "SECRET" not in "".join(whole.values())
    return jobs, whole, house, box, steps, kept, store.box(box.open_trial, BOX), store.photo(leaflet, small=False)


def test_a_backup_restored_elsewhere_is_the_same_to_the_letter(store: Store, tmp_path: Path) -> None:
    archive, elsewhere = tmp_path / "all.backup", tmp_path / "elsewhere" / "nail-count.sqlite3"
    made = back_up(store.file, archive)
    assert (made.jobs, made.photos) == (2, 2)
    assert archive.stat().st_mode & 0o777 == 0o600
    done = restore(archive, elsewhere)
    assert done.manifest == made and done.put_aside is None
    assert elsewhere.stat().st_mode & 0o777 == 0o600
    again = Store(open_database(elsewhere))
    assert everything(again) == everything(store)
    edit(again, BOX, "set-volume", volume="50")
    assert everything(again) != everything(store)


def test_a_backup_taken_between_acts_is_one_state_and_stops_nobody(store: Store, tmp_path: Path) -> None:
    """Two boxes are changed in turn; in every backup the second is as far as the first, or one act behind."""
    stop, backups = threading.Event(), []

    def work() -> None:
        number = 0
        while not stop.is_set():
            number += 1
            for box in (BOX, "stair-foot"):
                edit(store, box, "set-volume", volume=str(20 + number % 900))

    worker = threading.Thread(target=work)
    worker.start()
    for number in range(4):
        backups.append(tmp_path / f"{number}.backup")
        back_up(store.file, backups[-1])
    stop.set()
    worker.join()
    for number, archive in enumerate(backups):
        restore(archive, tmp_path / str(number) / DATABASE)
        then = Store(open_database(tmp_path / str(number) / DATABASE))
        first, second = (len(then.earlier("schoolhouse", box, 1).steps) for box in (BOX, "stair-foot"))
        offset = 5  # what the fixture did to the first box
        assert first - offset - second in (-1, 0, 1), (first, second)


def test_nothing_is_replaced_unless_told_and_what_was_there_is_put_aside(store: Store, tmp_path: Path) -> None:
    archive = tmp_path / "all.backup"
    back_up(store.file, archive)
    with pytest.raises(InTheWay):
        back_up(store.file, archive)
    with pytest.raises(InTheWay):
        restore(archive, store.file)
    before = everything(store)
    edit(store, BOX, "set-volume", volume="60")
    store.close()
    done = restore(archive, store.file, overwrite=True)
    assert done.put_aside is not None
    assert everything(Store(open_database(store.file))) == before
    aside = Store(open_database(done.put_aside))
    assert str(aside.box("schoolhouse", BOX).box.enclosure.volume) == "60 in3"


def test_a_running_server_is_not_replaced_under_its_feet(store: Store, tmp_path: Path) -> None:
    archive = tmp_path / "all.backup"
    back_up(store.file, archive)
    with held(store.file), pytest.raises(Trouble, match="is running on"):
        restore(archive, store.file, overwrite=True)
    restore(archive, store.file, overwrite=True)


def rewritten(archive: Path, change: Callable[[dict[str, bytes]], None]) -> None:
    with ZipFile(archive) as opened:
        members = {name: opened.read(name) for name in opened.namelist()}
    change(members)
    with ZipFile(archive, "w") as made:
        for name, content in members.items():
            made.writestr(name, content)


def another_byte(members: dict[str, bytes]) -> None:
    body = members[DATABASE]
    members[DATABASE] = body[:5000] + bytes([body[5000] ^ 1]) + body[5001:]


def shorter(members: dict[str, bytes]) -> None:
    members[DATABASE] = members[DATABASE][:-4096]


def no_manifest(members: dict[str, bytes]) -> None:
    del members[MANIFEST]


def a_path_out(members: dict[str, bytes]) -> None:
    members["../elsewhere"] = b"x"


def a_later_format(members: dict[str, bytes]) -> None:
    members[MANIFEST] = json.dumps(json.loads(members[MANIFEST]) | {"version": 2}).encode()


@pytest.mark.parametrize("harm", [another_byte, shorter, no_manifest, a_path_out, a_later_format])
def test_a_backup_that_is_not_whole_is_refused_and_nothing_is_left(
    harm: Callable[[dict[str, bytes]], None], store: Store, tmp_path: Path
) -> None:
    archive = tmp_path / "all.backup"
    back_up(store.file, archive)
    rewritten(archive, harm)
    target = tmp_path / "new" / DATABASE
    with pytest.raises(BadBackup, match=r"backup|database"):
        restore(archive, target)
    assert [path.name for path in target.parent.iterdir()] == [f"{DATABASE}.in-use"]


@pytest.mark.parametrize("size", [0, 10, 3000, -10])
def test_half_a_file_is_refused(size: int, store: Store, tmp_path: Path) -> None:
    archive = tmp_path / "all.backup"
    back_up(store.file, archive)
    archive.write_bytes(archive.read_bytes()[:size])
    with pytest.raises(BadBackup, match=r"backup|database"):
        restore(archive, tmp_path / "new" / DATABASE)


def test_the_button_gives_what_the_command_does(tmp_path: Path) -> None:
    app = make_app(tmp_path / "nail-count.sqlite3")
    put_demo(app.state.store)
    client = TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000))
    taken = client.post("/backup")
    assert taken.status_code == 200 and ".backup" in taken.headers["content-disposition"]
    (tmp_path / "taken").write_bytes(taken.content)
    restore(tmp_path / "taken", tmp_path / "new" / DATABASE)
    assert not list(tmp_path.glob(".backup-*"))
    with closing(sqlite3.connect(tmp_path / "new" / DATABASE)) as on:
        assert on.execute("select count(*) from photo").fetchone() == (2,)


def test_the_commands_say_what_is_so(store: Store, tmp_path: Path) -> None:
    def said(*arguments: str) -> tuple[int, str]:
        ran = CliRunner().invoke(main, list(arguments))
        assert ran.exception is None or isinstance(ran.exception, SystemExit), ran.exception
        return ran.exit_code, ran.output

    archive, data, new = str(tmp_path / "x.backup"), ["--data", str(tmp_path)], ["--data", str(tmp_path / "new")]
    code, text = said("backup", archive, *new)
    assert code == 2 and "There are no jobs here to back up" in text
    code, text = said("backup", archive, *data)
    assert code == 0 and "2 jobs" in text and "read back and whole" in text
    assert "Add --overwrite" in said("backup", archive, *data)[1]
    assert said("backup", archive, "--overwrite", *data)[0] == 0
    assert said("restore", archive, *new)[0] == 0
    code, text = said("restore", archive, *new)
    assert code == 2 and "Add --overwrite" in text
    code, text = said("restore", archive, "--overwrite", *new)
    assert code == 0 and "What was here before is in" in text
    code, text = said("restore", str(tmp_path / "nowhere"), "--overwrite", *new)
    assert code == 2 and "backup can't be read" in text
