"""A server and commands on one folder, killed at any moment: what was told as done is there, and the file is whole.

Set NAIL_COUNT_SOAK to the seconds it goes on: `make soak`.
"""

from __future__ import annotations

import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from contextlib import closing, suppress
from dataclasses import dataclass, field
from http.client import HTTPException
from pathlib import Path
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

import pytest

from nail_count.store.backup import restore
from nail_count.store.database import open_database
from nail_count.store.scratch import PREFIX
from nail_count.store.store import Store
from tests.store.test_database import VERSIONS

SECONDS = float(os.environ.get("NAIL_COUNT_SOAK", "20"))
SEED = int(os.environ.get("NAIL_COUNT_SEED", "0"))
HOUSE = VERSIONS.parents[1] / "house.json"
NAIL_COUNT = (sys.executable, "-c", "from nail_count.cli import main; main()")
LOST = (URLError, HTTPException, OSError)


@dataclass
class Folder:
    """A data folder with a server on it, and what was told as done there."""

    data: Path
    rng: random.Random
    server: subprocess.Popen[str] | None = None
    address: str = ""
    volumes: dict[str, int] = field(default_factory=dict)
    """The last volume told as kept, by the box."""
    asked: dict[str, int] = field(default_factory=dict)
    """The last one asked for, told or not."""
    jobs: set[str] = field(default_factory=set)
    counts: dict[str, int] = field(default_factory=dict)

    @property
    def database(self) -> Path:
        """Where everything is kept."""
        return self.data / "nail-count.sqlite3"

    def start(self) -> None:
        """Start the server."""
        arguments = [*NAIL_COUNT, "serve", "--data", str(self.data), "--port", "0"]
        self.server = subprocess.Popen(arguments, stdout=subprocess.PIPE, text=True)
        assert self.server.stdout is not None
        said = self.server.stdout.readline()
        assert "http://" in said, f"the server said {said!r}"
        self.address = said.split(" is at ")[1].split("/  ")[0]

    def stop(self, how: signal.Signals) -> None:
        """Stop the server, or kill it where it stands."""
        assert self.server is not None and self.server.stdout is not None
        self.server.send_signal(how)
        self.server.wait(30)
        self.server.stdout.close()
        self.counts[how.name] = self.counts.get(how.name, 0) + 1

    def post(self, path: str, body: object = None, kind: str = "application/json") -> bytes | None:
        """What the server answered; None where it was gone before it did."""
        data = body if isinstance(body, bytes) else json.dumps(body).encode() if body is not None else b""
        try:
            with urlopen(Request(f"{self.address}{path}", data, {"content-type": kind}), timeout=60) as answer:
                return bytes(answer.read())
        except HTTPError as wrong:
            raise AssertionError(f"{path}: {wrong.code} {wrong.read()[:300]!r}") from wrong
        except LOST:
            return None

    def edit(self, box: str, volume: int) -> None:
        """Change a box in the browser; what is answered is told as done."""
        self.asked[box] = volume
        edits = {"edits": [{"edit": "set-volume", "box": box, "volume": str(volume)}]}
        if self.post("/api/v1/jobs/house/edits", edits) is not None:
            self.volumes[box] = volume
            self.count("edits")

    def count(self, what: str) -> None:
        """One more of these."""
        self.counts[what] = self.counts.get(what, 0) + 1

    def command(self, *arguments: str, killed_after: float = 0) -> subprocess.CompletedProcess[str]:
        """A command in a process of its own; killed after so long, where that is said."""
        ran = subprocess.Popen(
            [*NAIL_COUNT, *arguments, "--data", str(self.data)],
            stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True,
        )  # fmt: skip
        if killed_after:
            time.sleep(killed_after)
            ran.kill()
        out, err = ran.communicate(timeout=120)
        assert "Traceback" not in err, err
        return subprocess.CompletedProcess(arguments, ran.returncode, out, err)

    def bring_in(self, file: Path, killed_after: float = 0) -> None:
        """Import a file by a command."""
        ran = self.command("import", str(file), killed_after=killed_after)
        if " as " in ran.stdout:
            self.jobs.add(ran.stdout.strip().rpartition(" as ")[2])
            self.count("imports")
        elif not killed_after:
            raise AssertionError(f"import: {ran.returncode} {ran.stderr}")


KINDS = 8


def one_round(folder: Folder, out: Path, kind: int) -> None:
    """One thing somebody does beside the browser."""
    rng = folder.rng
    match kind:
        case 0:
            folder.bring_in(HOUSE, rng.uniform(0.3, 1.2) if rng.random() < 0.3 else 0)
        case 1:
            if (made := folder.post("/backup")) is not None:
                (out / "browser.backup").write_bytes(made)
                restored(out / "browser.backup", out / f"restored-{rng.random()}")
                folder.count("backups in the browser")
        case 2:
            ran = folder.command("backup", str(out / "command.backup"), "--overwrite")
            assert ran.returncode == 0, ran.stderr
            restored(out / "command.backup", out / f"restored-{rng.random()}")
            folder.count("backups by command")
        case 3:
            archive = out / "house.archive"
            ran = folder.command("export", "--job", "house", "--archive", str(archive), "--overwrite")
            assert ran.returncode == 0, ran.stderr
            folder.bring_in(archive)
        case 4:
            folder.command("backup", str(out / "killed.backup"), "--overwrite", killed_after=rng.uniform(0.3, 0.9))
        case 5:
            ran = folder.command("restore", str(out / "command.backup"), "--overwrite")
            assert ran.returncode == 2, "a restore under a running server must be refused"
        case 6:
            body = HOUSE.read_bytes()
            made = folder.post("/api/v1/jobs", body)
            if made is not None:
                folder.jobs.add(json.loads(made)["key"])
                folder.count("imports in the browser")
        case _:
            folder.stop(rng.choice([signal.SIGTERM, signal.SIGKILL, signal.SIGKILL]))
            folder.start()


def restored(backup: Path, to: Path) -> None:
    """A backup gives a whole database."""
    restore(backup, to / "nail-count.sqlite3")
    assert integrity(to / "nail-count.sqlite3") == "ok"


def integrity(file: Path) -> str:
    """What SQLite says of a database nobody has open here."""
    with closing(sqlite3.connect(file)) as on:
        return str(on.execute("PRAGMA integrity_check").fetchone()[0])


def state_of(file: Path) -> tuple[dict[str, str], set[str]]:
    """The volumes of the boxes of the house, and the keys of all jobs."""
    store = Store(open_database(file))
    boxes = store.whole_job("house").boxes
    found = {box.id: str(box.enclosure.volume) for box in boxes}, {card.key for card in store.jobs()}
    store.close()
    return found


def test_a_server_and_commands_on_one_folder_lose_nothing(tmp_path: Path) -> None:
    folder, out = Folder(tmp_path / "data", random.Random(SEED)), tmp_path / "out"
    out.mkdir()
    folder.command("import", str(HOUSE))
    with closing(Store(open_database(folder.database))) as store:
        boxes = [box.id for box in store.whole_job("house").boxes]
    folder.start()
    over = threading.Event()
    wrong: list[BaseException] = []

    def work(box: str) -> None:
        number = 0
        while not over.is_set():
            number += 1
            try:
                folder.edit(box, 20 + number % 900)
            except BaseException as raised:
                wrong.append(raised)
                return
            time.sleep(0.1)

    workers = [threading.Thread(target=work, args=(box,)) for box in boxes[:2]]
    for worker in workers:
        worker.start()
    until = time.monotonic() + SECONDS
    (out / "command.backup").touch()
    folder.command("backup", str(out / "command.backup"), "--overwrite")
    left: list[int] = []
    while time.monotonic() < until and not wrong:
        left = left or folder.rng.sample(range(KINDS), KINDS)  # each once before any comes again
        one_round(folder, out, left.pop())
        for done in out.glob("restored-*"):
            shutil.rmtree(done)
    over.set()
    for worker in workers:
        worker.join()
    folder.stop(signal.SIGTERM)
    assert not wrong, wrong
    print(f"\ntogether, seed {SEED}: {folder.counts}")
    assert integrity(folder.database) == "ok"
    first = state_of(folder.database)
    volumes, jobs = first
    for box, volume in folder.volumes.items():
        assert volumes[box] in (f"{volume} in3", f"{folder.asked[box]} in3"), f"{box}: an edit told as done is lost"
    assert folder.jobs <= jobs, f"imports told as done are lost: {folder.jobs - jobs}"
    assert state_of(folder.database) == first, "a restart finds the same"
    folder.start()
    folder.stop(signal.SIGTERM)
    assert not list(folder.data.glob(f"{PREFIX}*")), "the next start removes what was half made"


@pytest.mark.parametrize(("victim", "after"), [("server", 5), ("command", 25)])
def test_a_kill_of_either_beside_a_backup_in_the_browser_loses_nothing_answered(
    victim: str, after: int, tmp_path: Path
) -> None:
    """A backup is taken in the browser, a second process imports, acts go on; one of the two is killed."""
    folder = Folder(tmp_path / "data", random.Random(after))
    folder.command("import", str(HOUSE))
    with closing(Store(open_database(folder.database))) as store:
        box = store.whole_job("house").boxes[0].id
    folder.start()
    assert folder.post("/backup")
    folder.bring_in(HOUSE)
    running = subprocess.Popen(
        [*NAIL_COUNT, "import", str(HOUSE), "--data", str(folder.data)], stdout=subprocess.PIPE, text=True
    )
    for number in range(after):
        folder.edit(box, 100 + number)
    with suppress(ProcessLookupError):
        if victim == "command":
            running.kill()
        else:
            folder.stop(signal.SIGKILL)
    out, _ = running.communicate(timeout=60)
    if " as " in out:
        folder.jobs.add(out.strip().rpartition(" as ")[2])
    if victim == "command":
        folder.edit(box, 500)
        folder.stop(signal.SIGKILL)
    assert integrity(folder.database) == "ok"
    volumes, jobs = state_of(folder.database)
    assert volumes[box] in (f"{folder.volumes[box]} in3", f"{folder.asked[box]} in3")
    assert folder.jobs <= jobs
