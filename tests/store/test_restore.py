"""A restore is whole or not at all, whatever lies beside the database and whatever is killed when."""

from __future__ import annotations

import os
import shutil
import sqlite3
import subprocess
import sys
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from nail_count.store import replacing
from nail_count.store.backup import back_up, restore
from nail_count.store.database import open_database
from nail_count.store.hold import held
from nail_count.store.scratch import PREFIX, scratch, sweep
from nail_count.store.store import Store
from nail_count.store.trouble import Trouble
from nail_count.trade.model.job import Job

NAME = "nail-count.sqlite3"


def names(file: Path) -> list[str]:
    """The jobs a database holds."""
    with held(file), closing(Store(open_database(file))) as store:
        return sorted(card.name for card in store.jobs())


def with_jobs(file: Path, *names: str) -> None:
    with held(file), closing(Store(open_database(file))) as store:
        for name in names:
            store.add_job(Job(name=name))


def killed_with_a_log(file: Path, name: str) -> None:
    """A program adds a job and is killed: its act is in the log beside the database, and nowhere else."""
    program = (
        "import os, pathlib, signal; from nail_count.store.store import Store; "
        "from nail_count.store.database import open_database; from nail_count.trade.model.job import Job; "
        f"store = Store(open_database(pathlib.Path({str(file)!r}))); store.add_job(Job(name={name!r})); "
        "os.kill(os.getpid(), signal.SIGKILL)"
    )
    subprocess.run([sys.executable, "-c", program], check=False, timeout=60)
    assert file.with_name(f"{file.name}-wal").stat().st_size > 0


@pytest.fixture(scope="module")
def prepared(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A database with one job in a backup beside it, and a second job in its log only; made once, to be copied."""
    made = tmp_path_factory.mktemp("prepared")
    with_jobs(made / NAME, "First")
    back_up(made / NAME, made / "all.backup")
    killed_with_a_log(made / NAME, "Second")
    return made


@pytest.fixture
def folder(prepared: Path, tmp_path: Path) -> Path:
    """A copy of it."""
    shutil.copytree(prepared, tmp_path, dirs_exist_ok=True)
    return tmp_path


@pytest.mark.parametrize("left", ["all", "log only"])
def test_a_log_that_was_left_behind_is_put_aside_and_never_played_into_another(left: str, folder: Path) -> None:
    file = folder / NAME
    if left == "log only":
        file.rename(folder / "away.sqlite3")  # as the sentence for a damaged one says
    done = restore(folder / "all.backup", file, overwrite=True)
    assert names(file) == ["First"]
    assert done.put_aside is not None
    log = done.put_aside.with_name(f"{done.put_aside.name}-wal")
    assert log.exists() and not file.with_name(f"{NAME}-wal").exists()
    if left == "log only":
        (folder / "away.sqlite3").rename(done.put_aside)
    assert names(done.put_aside) == ["First", "Second"], "what was put aside is whole, its log with it"


def test_a_database_that_was_removed_leaves_no_log_to_play(folder: Path) -> None:
    (folder / NAME).unlink()
    assert names(folder / NAME) == []
    with closing(sqlite3.connect(folder / NAME)) as on:
        assert on.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    assert list(folder.glob("*.replaced-*-wal")), "the log is kept aside"


def killed_at(monkeypatch: pytest.MonkeyPatch, step: int) -> None:
    """From its n-th renaming on, the process does nothing any more, as if it had been killed there."""
    real, done = Path.rename, [0]
    real_replace = Path.replace

    def counted(how: object) -> object:
        def rename(self: Path, to: Path) -> Path:
            if NAME in self.name or NAME in Path(to).name:
                done[0] += 1
                if done[0] >= step:
                    raise KeyboardInterrupt
            return how(self, to)  # type: ignore[no-any-return, operator]

        return rename

    monkeypatch.setattr(Path, "rename", counted(real))
    monkeypatch.setattr(Path, "replace", counted(real_replace))
    monkeypatch.setattr(replacing, "finish_replacing", lambda database: None)


@pytest.mark.parametrize("there", ["database and log", "log only", "nothing"])
@pytest.mark.parametrize("step", range(1, 8))
def test_a_restore_killed_at_any_step_leaves_the_old_or_the_new(
    step: int, there: str, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = folder / NAME
    if there != "database and log":
        file.rename(folder / "away.sqlite3")
    if there == "nothing":
        for end in ("-wal", "-shm"):
            file.with_name(NAME + end).unlink()
    with monkeypatch.context() as patched:
        killed_at(patched, step)
        try:
            restore(folder / "all.backup", file, overwrite=True)
            finished = True
        except KeyboardInterrupt:
            finished = False
    if replacing.is_half_replaced(file):
        with pytest.raises(Trouble, match="is being replaced"):
            open_database(file)
    after = names(file)
    if there == "database and log":
        assert after == ["First"] if finished else after in (["First"], ["First", "Second"])
        if after == ["First"]:
            (aside,) = folder.glob("*.replaced-*.sqlite3")
            assert names(aside) == ["First", "Second"]
    else:
        assert after == (["First"] if finished else after)
        if there == "log only" and not finished:
            logs = [*folder.glob("*-wal")]
            assert logs, "the log is somewhere still"
    assert not replacing.is_half_replaced(file)
    assert not list(folder.glob(f"{PREFIX}*"))


def test_an_error_while_replacing_puts_back_what_was_there(folder: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    real = Path.replace

    def broken(self: Path, to: Path) -> Path:
        if to == folder / NAME:
            raise OSError(5, "Input/output error")
        return real(self, to)

    monkeypatch.setattr(Path, "replace", broken)
    with pytest.raises(OSError, match="Input/output"):
        restore(folder / "all.backup", folder / NAME, overwrite=True)
    monkeypatch.undo()
    assert names(folder / NAME) == ["First", "Second"]


def test_what_holds_a_folder_stops_a_restore_and_a_restore_stops_it(folder: Path) -> None:
    file = folder / NAME
    with held(file), pytest.raises(Trouble, match="is running on"):
        restore(folder / "all.backup", file, overwrite=True)
    with held(file, alone=True), pytest.raises(Trouble, match="is being replaced"), held(file):
        pass


def test_what_a_killed_process_was_making_is_swept_and_nothing_else(tmp_path: Path) -> None:
    for name in (f"{PREFIX}gone", ".backup-old", ".restore-old"):
        (tmp_path / name).mkdir()
    (tmp_path / f"{PREFIX}gone" / "lock").touch()
    (tmp_path / f"{PREFIX}gone" / "nail-count.sqlite3").write_bytes(b"codes")
    (tmp_path / ".archive-old").touch()
    (tmp_path / "kept.backup").touch()
    (tmp_path / f"{PREFIX}young").mkdir()  # about to be locked
    with scratch(tmp_path) as mine:
        sweep(tmp_path)
        assert {path.name for path in tmp_path.iterdir()} == {mine.name, f"{PREFIX}young", "kept.backup"}
    os.utime(tmp_path / f"{PREFIX}young", (0, 0))
    sweep(tmp_path)
    assert [path.name for path in tmp_path.iterdir()] == ["kept.backup"]


@pytest.fixture
def read_only(tmp_path: Path) -> Iterator[Path]:
    """A folder on a disk that may only be read, with a database whose last act is in its log."""
    file = tmp_path / "rw" / NAME
    with_jobs(file, "First")
    killed_with_a_log(file, "Second")
    disk = tmp_path / "ro"
    disk.mkdir()
    bound = subprocess.run(["mount", "--bind", str(file.parent), str(disk)], check=False, capture_output=True)
    sealed = (
        bound.returncode == 0
        and not subprocess.run(
            ["mount", "-o", "remount,ro,bind", str(disk)], check=False, capture_output=True
        ).returncode
    )
    if not sealed:
        if bound.returncode == 0:
            subprocess.run(["umount", str(disk)], check=False)
        pytest.skip("needs the right to mount")
    yield disk
    subprocess.run(["umount", "-l", str(disk)], check=True)


def test_from_a_disk_that_may_only_be_read_a_backup_is_taken_and_a_job_exported(
    read_only: Path, tmp_path: Path
) -> None:
    with pytest.raises(Trouble, match="may be read but not written"):
        open_database(read_only / NAME)
    made = back_up(read_only / NAME, tmp_path / "all.backup")
    assert made.jobs == 2
    restore(tmp_path / "all.backup", tmp_path / "elsewhere" / NAME)
    assert names(tmp_path / "elsewhere" / NAME) == ["First", "Second"]
    command = [sys.executable, "-c", "from nail_count.cli import main; main()", "export", "--job", "second"]
    ran = subprocess.run(
        [*command, "--json", str(tmp_path / "j.json"), "--data", str(read_only)],
        capture_output=True, text=True, timeout=60, check=False,
    )  # fmt: skip
    assert ran.returncode == 0, ran.stderr
    assert "Second" in (tmp_path / "j.json").read_text()
    shutil.rmtree(tmp_path / "elsewhere")
