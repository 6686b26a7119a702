"""Files that come in and go out, each in a process of its own: the server goes on, however large they are."""

from __future__ import annotations

from pathlib import Path
from shutil import copyfileobj
from typing import IO, Any

from ..demo.house import library
from ..files.archive import opened_archive
from ..files.job_json import read_job
from ..files.report import check_data
from ..store.hold import held
from ..store.scratch import scratch
from ..store.store import Store
from ..trade.rules.check import check_job
from . import workers
from .searches import store_of


def import_job(store: Store, content: bytes, token: str = "", *, begins: bool = False) -> str:
    """Keep the job in a job file as a new one, and return its key. Raises BadFile, TookTooMuch.

    `begins`: a job with no box and no sheet begins with the sheets that ship, as one started on the screen does.
    """
    return workers.run("file", _import_job, store.file, content, token, begins)


def import_archive(store: Store, file: IO[bytes]) -> str:
    """Keep the job in an archive, with its history and photos, and return its key. Raises BadArchive, TookTooMuch."""
    with scratch(store.file.parent) as folder:
        with (folder / "archive").open("wb") as out:
            copyfileobj(file, out, 1 << 20)
        return workers.run("file", _import_archive, store.file, folder / "archive")


def archive_of(store: Store, job: str) -> IO[bytes]:
    """Return the archive of a job: an open file without a name. Raises NotFound, TookTooMuch."""
    with scratch(store.file.parent) as folder:
        workers.run("file", _write_archive, store.file, job, folder / "archive")
        return (folder / "archive").open("rb")


def checked(content: bytes) -> dict[str, Any]:
    """Return all answers for a job file, and keep nothing of it. Raises BadFile, TookTooMuch."""
    return workers.run("file", _checked, content)


def _import_job(database: Path, content: bytes, token: str, begins: bool) -> str:
    job = read_job(content)
    if begins and not job.sheets and not job.boxes:
        job = job.changed(sheets=library())
    with held(database):  # also where the server that asked is killed meanwhile
        return store_of(database).add_job(job, token=token)


def _write_archive(database: Path, job: str, to: Path) -> None:
    with to.open("wb") as out:
        store_of(database).archives.write(job, out)


def _import_archive(database: Path, file: Path) -> str:
    with held(database), opened_archive(file) as archive:
        return store_of(database).archives.put(archive)


def _checked(content: bytes) -> dict[str, Any]:
    job = read_job(content)
    return check_data(job, check_job(job))
