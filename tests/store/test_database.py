"""The file jobs are kept in: every version so far opens with nothing lost; every trouble is a sentence."""

from __future__ import annotations

import errno
import os
import shutil
import signal
import sqlite3
import stat
import subprocess
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from random import Random

import pytest
from click.testing import CliRunner
from sqlalchemy import event
from starlette.testclient import TestClient

from nail_count.cli import main
from nail_count.files.job_json import read_job
from nail_count.store.database import check_whole, make_engine, newest_version, open_database
from nail_count.store.session import trial_key
from nail_count.store.snapshots import BoxFilter, EditConflict
from nail_count.store.store import Store
from nail_count.store.trouble import Trouble
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job
from nail_count.web.app import make_app
from tests.browser.driving import server
from tests.store import acting

VERSIONS = Path(__file__).parent / "versions"
JOB = "one-hallway-box"


def of_version(name: str, file: Path) -> None:
    """A database as that version left it."""
    with closing(sqlite3.connect(file)) as on:
        on.executescript((VERSIONS / f"{name}.sql").read_text())


def bare(box: Box) -> Box:
    """As planned only."""
    return box.changed(found=None, built=None, planned=box.planned.staying(None) if box.planned else None)


@contextmanager
def kept(file: Path) -> Iterator[Store]:
    store = Store(open_database(file))
    yield store
    store.close()


@pytest.mark.parametrize("name", sorted(path.stem for path in VERSIONS.glob("*.sql")))
def test_a_database_of_every_version_opens_with_nothing_lost(name: str, tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    of_version(name, file)
    steps = "select document_id, number, sentence, made from revision order by 1, 2"
    with closing(sqlite3.connect(file)) as on:
        before = on.execute(steps).fetchall()
        columns = [row[1] for row in on.execute("pragma table_info(document)")]
        gone = "deleted_at" if "deleted_at" in columns else "gone"
        here = f"select key from document where kind = 'box' and copy_of is not null and {gone} is null"
        keys = [key for (key,) in on.execute(here)] if "copy_of" in columns else []
    with kept(file) as store:
        whole = store.whole_job(JOB)
        unmarked = whole.changed(boxes=tuple(bare(box) for box in whole.boxes))
        assert unmarked == read_job((VERSIONS / f"{name}.json").read_bytes())
        assert store.box(JOB, "hallway").can_redo
        assert {card.key for card in store.house(JOB).cards} >= {"hallway"}
        trials = [(trial_key(JOB, trial), about) for trial, about in _open_trials(file)]
        assert len(trials) == sum("what-if" in key for key in keys) == len({key for key, _ in trials})
        assert all(store.box(trial, about).what_if for trial, about in trials)
        for key in (JOB, *(trial for trial, _ in trials)):
            used = Counter(
                sheet for box in store.whole_job(key).boxes for sheet in {item.sheet for item in box.equipment}
            )
            assert store.uses(key) == used, "expected the database to count what the boxes hold"
    with closing(sqlite3.connect(file)) as on:
        now = "select document_id, number, sentence, at from revision join change on change.id = change_id"
        assert on.execute(f"{now} where at <= ? order by 1, 2", (max(row[3] for row in before),)).fetchall() == before
        assert on.execute("select version_num from alembic_version").fetchone() == (newest_version(),)
    (copy,) = tmp_path.glob("kept.before-*.sqlite3")
    with closing(sqlite3.connect(copy)) as on:
        assert on.execute(steps).fetchall() == before
    with kept(file):
        assert list(tmp_path.glob("kept.before-*.sqlite3")) == [copy], "expected a copy before a migration only"


def test_marks_words_letters_and_what_ifs_of_the_last_version_become_what_they_are_now(tmp_path: Path) -> None:
    """The file was made by the code of that version; what it must have become is written down here."""
    file = tmp_path / "kept.sqlite3"
    of_version("0007", file)
    with kept(file) as store:
        hall, shed = store.box(JOB, "hallway"), store.box(JOB, "yard-shed")
        assert hall.box.found is not None and hall.box.found.splices == () and hall.box.built is None
        assert hall.history[0].sentence.startswith("Marks became contents: step 2 as found; step 5 was marked as plan")
        joined = [(splice.name, len(splice.ends), splice.connector is not None) for splice in hall.box.splices]
        assert joined == [("x", 2, False), *[("", 0, True)] * 3]
        assert hall.box.cables[0].conductor(1).asserted_role == "line"
        assert hall.goes[hall.box.cables[-1].id] == "to the shed" and hall.goes["A"] == "circuit 2"
        assert shed.goes == {"A": "circuit 2"} and shed.box.room == "Garden" and shed.box.name == "Shed door"
        tried = store.box(shed.open_trial, "yard-shed")
        assert tried.goes == {"A": "circuit 2", "B": "on to the next box"} and tried.box.enclosure.clamps
        with pytest.raises(EditConflict, match="“Shed door”: Moved from Yard to Garden"):
            store.end_trial(shed.open_trial, {}, accept=True)
        assert store.end_trial(shed.open_trial, {}, accept=False) == JOB
        assert store.box(JOB, "yard-shed").goes == {"A": "circuit 2"}
        before = store.box(JOB, "hallway").number
        for _ in range(3):
            acting.step_box(store, JOB, "hallway", "undo")  # back past the migration, into bodies of version 1
        assert store.box(JOB, "hallway").number == before + 3
        acting.edit_house(store, JOB, "bring-back", box="gone")
        assert store.box(JOB, "gone").goes == {"A": "on to the next box"}


def test_a_box_of_several_circuits_is_found_on_each(tmp_path: Path) -> None:
    """One kept before lists said more than the first of them, and one that an act puts there or takes away."""
    file = tmp_path / "kept.sqlite3"
    of_version("0007", file)
    attic = "attic-room-a-name-that-is-cut-at-a-h"
    with closing(sqlite3.connect(file)) as on, on:
        body = """update revision set body = json_set(body, '$.other_circuits', json_array('2')) where document_id =
            (select id from document where kind = 'box' and key = ?)"""
        assert on.execute(body, (attic,)).rowcount
    with kept(file) as store:
        (two,) = store.job(JOB).head.circuits

        def here() -> set[str]:
            """However it is asked."""
            boxes = {box.id for box in store.on_circuit(JOB, two).boxes}
            assert boxes == {card.key for card in store.house(JOB).circuits[two.id]}
            assert boxes == {card.key for card in store.house(JOB, BoxFilter(circuit=two.id)).cards}
            assert boxes == {box.key for box in store.outline(JOB, BoxFilter(circuit=two.id), list).sought}
            return boxes

        assert here() == {"hallway", "yard-shed", attic}
        acting.edit_box(store, JOB, attic, "set-other-circuits", other_circuits="")
        assert here() == {"hallway", "yard-shed"}
        acting.step_box(store, JOB, attic, "undo")
        assert here() == {"hallway", "yard-shed", attic}


def _open_trials(file: Path) -> list[tuple[int, str]]:
    with closing(sqlite3.connect(file)) as on:
        return on.execute("select id, about from trial where ended_at is null").fetchall()


def cut_short(file: Path) -> None:
    with file.open("r+b") as opened:
        opened.truncate(file.stat().st_size // 2)


def scratched(file: Path) -> None:
    with file.open("r+b") as opened:
        opened.seek(4096)
        opened.write(os.urandom(8192))


def emptied(file: Path) -> None:
    file.write_bytes(b"")


def a_letter(file: Path) -> None:
    file.write_text("Dear sir, about the boxes in the hall " * 20)


def of_another(file: Path) -> None:
    file.unlink()
    with closing(sqlite3.connect(file)) as on:
        on.executescript("create table songs (id integer primary key, name text); insert into songs values (1, 'x')")


def of_the_future(file: Path) -> None:
    with closing(sqlite3.connect(file)) as on:
        on.executescript("update alembic_version set version_num = '9999'")


def half_a_header(file: Path) -> None:
    file.write_bytes(b"SQLite f")


TROUBLES: list[tuple[Callable[[Path], None], str]] = [
    (cut_short, "is damaged"),
    (scratched, "is damaged"),
    (half_a_header, "is damaged: it is cut short"),
    (emptied, "is empty; it should hold your jobs"),
    (a_letter, "is not a file of Nail Count"),
    (of_another, "is not a file of Nail Count"),
    (of_the_future, "was written by a newer Nail Count"),
]


@pytest.mark.parametrize(("harm", "said"), TROUBLES, ids=[harm.__name__ for harm, _ in TROUBLES])
def test_a_file_that_cannot_be_used_is_left_as_it_is_and_said(
    harm: Callable[[Path], None], said: str, tmp_path: Path
) -> None:
    file = tmp_path / "nail-count.sqlite3"
    with kept(file) as store:
        store.add_job(Job(name="House"))
    harm(file)
    before = file.read_bytes()
    with pytest.raises(Trouble, match=said) as wrong:
        open_database(file)
    assert "Nothing in it was changed." in wrong.value.sentence and len(wrong.value.sentence.split(". ")) >= 3
    assert file.read_bytes() == before and sorted(path.name for path in tmp_path.iterdir()) == [file.name]
    for arguments in (["serve", "--port", "0"], ["backup", str(tmp_path / "x.backup")]):
        ran = CliRunner().invoke(main, [*arguments, "--data", str(tmp_path)])
        assert ran.exit_code == 2 and said in ran.stderr
    assert file.read_bytes() == before


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-c", "from nail_count.cli import main; main()", *arguments]
    return subprocess.run(command, capture_output=True, text=True, timeout=60, check=False)


def test_a_disk_full_from_the_start_leaves_nothing_half(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = tmp_path / "kept.sqlite3"
    real = make_engine

    def cramped(at: Path) -> object:
        engine = real(at)

        @event.listens_for(engine, "connect")
        def _no_room(connection: object, _: object) -> None:
            connection.execute("PRAGMA max_page_count=3")  # type: ignore[attr-defined]

        return engine

    monkeypatch.setattr("nail_count.store.database.make_engine", cramped)
    with pytest.raises(Trouble, match="no room left"):
        open_database(file)
    assert list(tmp_path.iterdir()) == []
    monkeypatch.undo()
    with kept(file) as store:
        assert store.jobs() == []


def client_on(file: Path) -> TestClient:
    app = make_app(file)
    app.state.store.add_job(Job(name="House"), "house")
    return TestClient(app, base_url="http://localhost", client=("127.0.0.1", 50000), raise_server_exceptions=False)


def a_box(client: TestClient) -> tuple[int, str]:
    answer = client.post("/jobs/house/boxes", data={"name": "Hall", "room": "Hall"}, follow_redirects=False)
    assert answer.headers["content-security-policy"] and "Traceback" not in answer.text
    return answer.status_code, answer.text


def test_a_database_moved_away_while_it_runs_is_not_written_to(tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    client = client_on(file)
    assert a_box(client)[0] == 303
    file.rename(tmp_path / "elsewhere.sqlite3")
    status, said = a_box(client)
    assert status == 507 and "is no longer where it was" in said and "make room" not in said.lower()
    assert not file.exists()
    subprocess.run(["cp", tmp_path / "elsewhere.sqlite3", file], check=True)
    assert a_box(client)[0] == 507, "expected another file in its place not to be taken for it"


def test_a_database_another_program_holds_is_said_to_be_in_use(tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    client = client_on(file)
    engine = client.app.state.store._session._engine  # type: ignore[attr-defined]
    event.listen(engine, "begin", lambda on: on.exec_driver_sql("PRAGMA busy_timeout=50"), insert=True)
    with closing(sqlite3.connect(file, isolation_level=None)) as other:
        other.execute("BEGIN IMMEDIATE")
        status, said = a_box(client)
        assert status == 507 and "Another program holds" in said and "make room" not in said.lower()
        assert client.get("/jobs/house").status_code == 200
        other.execute("ROLLBACK")
    assert a_box(client)[0] == 303


def test_a_backup_for_which_there_is_no_room_says_so(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    def no_room(*_: object) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    client = client_on(tmp_path / "kept.sqlite3")
    monkeypatch.setattr("nail_count.web.pages.board.routes.backup_file", no_room)
    answer = client.post("/backup")
    assert answer.status_code == 507 and "no room left" in answer.text and not list(tmp_path.glob(".backup-*"))


def test_a_full_disk_says_so_and_only_then_asks_for_room(tmp_path: Path) -> None:
    client = client_on(tmp_path / "kept.sqlite3")
    engine = client.app.state.store._session._engine  # type: ignore[attr-defined]
    engine.dispose()
    event.listen(engine, "connect", lambda on, _: on.execute("PRAGMA max_page_count=1"))
    for _ in range(60):
        status, said = a_box(client)
        if status != 303:
            break
    assert status == 507 and "no room left" in said and "Make room" in said


@pytest.mark.skipif(os.geteuid() != 0, reason="another user's files need root to set up")
def test_a_folder_that_may_only_be_read_is_said_so(tmp_path: Path) -> None:
    """Modes say nothing to root, so the server runs as nobody."""
    with kept(tmp_path / "nail-count.sqlite3") as store:
        store.add_job(Job(name="House"))
    tmp_path.chmod(0o755)
    for folder in tmp_path.parents:
        if folder.stat().st_uid == 0 and folder.name.startswith(("pytest-", "popen-")):
            folder.chmod(folder.stat().st_mode | 0o055)
    (tmp_path / "nail-count.sqlite3").chmod(0o644)
    program = (
        "import os, nail_count.web.serve; from nail_count.cli import main; os.setgid(65534); os.setuid(65534); "
        f"main(['serve', '--port', '0', '--data', {str(tmp_path)!r}])"
    )
    ran = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, timeout=60, check=False)
    assert ran.returncode == 2 and "may be read but not written" in ran.stderr and "Traceback" not in ran.stderr


def test_a_folder_that_cannot_be_is_said_so(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("x")
    ran = run("serve", "--port", "0", "--data", str(tmp_path / "file" / "jobs"))
    assert ran.returncode == 2 and "cannot be used" in ran.stderr and "Traceback" not in ran.stderr


def test_stopping_leaves_one_whole_file_that_only_its_owner_reads(tmp_path: Path) -> None:
    data = tmp_path / "data"
    with server(data, "serve") as address:
        _post(f"{address}/jobs", "name=Whole")
        assert stat.S_IMODE((data / "nail-count.sqlite3-wal").stat().st_mode) == 0o600
    left = {path.name: stat.S_IMODE(path.stat().st_mode) for path in data.iterdir()}
    assert left == {"nail-count.sqlite3": 0o600, "nail-count.sqlite3.in-use": 0o600}
    assert stat.S_IMODE(data.stat().st_mode) == 0o700
    elsewhere = tmp_path / "copy.sqlite3"
    shutil.copy(data / "nail-count.sqlite3", elsewhere)
    with kept(elsewhere) as store:
        assert [card.name for card in store.jobs()] == ["Whole"]


def _post(address: str, body: str) -> None:
    from urllib.request import Request, urlopen

    urlopen(Request(address, data=body.encode()), timeout=20).read()


@pytest.mark.parametrize("after", [3, 17, 40])
def test_a_kill_in_the_middle_of_acts_over_two_boxes_loses_nothing_that_was_answered(
    after: int, tmp_path: Path
) -> None:
    """Acts go on as fast as they are answered; the server is killed; whatever was answered is there, each act whole."""
    program = (
        "import sys, pathlib; from nail_count.store.store import Store; "
        "from nail_count.store.database import open_database; "
        "from nail_count.trade.edits.registry import read_edit; from nail_count.files.job_json import read_job\n"
        f"store = Store(open_database(pathlib.Path({str(tmp_path / 'kept.sqlite3')!r})))\n"
        f"store.add_job(read_job(pathlib.Path({str(VERSIONS.parents[1] / 'house.json')!r}).read_bytes()), 'house')\n"
        "for n in range(1, 10_000):\n"
        "    at = store.box('house', 'hall')\n"
        "    said = {'box': 'hall', 'cable': 'A', 'to': 'box', 'far_box': 'porch', 'length': f'{1 + n % 900} ft'}\n"
        "    store.act_on_box('house', 'hall', read_edit('say-run', said), seen=at.number)\n"
        "    print(n, flush=True)\n"
    )
    ran = subprocess.Popen([sys.executable, "-c", program], stdout=subprocess.PIPE, text=True)
    assert ran.stdout is not None
    answered = 0
    for line in ran.stdout:
        answered = int(line)
        if answered >= after:
            break
    ran.send_signal(signal.SIGKILL)
    answered = max([answered, *(int(line) for line in ran.stdout.read().split() if line.isdigit())])
    ran.stdout.close()
    ran.wait()
    with kept(tmp_path / "kept.sqlite3") as store:
        done = store.box("house", "hall").number - 1
        assert done in (answered, answered + 1)
        assert store.box("house", "porch").number - 1 == done
        assert _length(store) == f"{1 + done % 900} ft"
        acting.step_box(store, "house", "porch", "undo")
        assert _length(store) == f"{done % 900} ft"


def _length(store: Store) -> str:
    run = next(run for run in store.whole_job("house").runs if len(run.box_ends) == 2)
    return str(run.length)


def test_one_box_that_cannot_be_read_stops_neither_the_start_nor_the_other_boxes(tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    with kept(file) as store:
        store.add_job(read_job((VERSIONS.parents[1] / "house.json").read_bytes()), "house")
    with closing(sqlite3.connect(file)) as on:
        body = (
            "update revision set body = '{\"id\": 7}' where document_id in (select id from document where key = 'hall')"
        )
        on.execute(body)
        on.execute("update summary set todo = -1")
        on.commit()
    client = TestClient(
        make_app(file), base_url="http://localhost", client=("127.0.0.1", 50000), raise_server_exceptions=False
    )
    assert client.get("/jobs/house").status_code == client.get("/jobs/house/boxes/porch").status_code == 200
    for page in ("/jobs/house/boxes/hall", "/jobs/house/export"):
        answer = client.get(page)
        assert answer.status_code == 500 and "Something kept for this page cannot be read" in answer.text
        assert "Traceback" not in answer.text and answer.headers["content-security-policy"]


def test_no_bit_that_flips_goes_unnoticed(tmp_path: Path, demo: Path) -> None:
    """Whatever bit of a database flips: it is found, or nothing that a person could see is another."""
    whole = demo.read_bytes()
    before = _seen(demo)
    rng, found, harmless = Random(7), 0, 0
    for number in range(60):
        at = rng.randrange(100, len(whole))
        file = tmp_path / f"{number}.sqlite3"
        file.write_bytes(whole[:at] + bytes((whole[at] ^ 1 << rng.randrange(8),)) + whole[at + 1 :])
        try:
            noticed = bool(check_whole(file))
        except (sqlite3.Error, UnicodeDecodeError):
            noticed = True
        if noticed:
            found += 1
            continue
        assert _seen(file) == before, f"byte {at}: another content, and nobody noticed"
        harmless += 1
    assert found > 20, (found, harmless)


def _seen(file: Path) -> object:
    """Every document in every state, and every photo."""
    with kept(file) as store:
        jobs = [(card, store.whole_job(card.key)) for card in store.jobs()]
        return jobs, [store.earlier(card.key, box.id, 1).then for card, job in jobs for box in job.boxes]
