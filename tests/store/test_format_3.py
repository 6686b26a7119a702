"""A database, an archive and a job file of format 2, frozen: they open, and no id, tick, code or noted fact is lost."""

from __future__ import annotations

import gzip
import json
import sqlite3
from contextlib import closing
from pathlib import Path

from nail_count.files.archive import opened_archive
from nail_count.files.job_json import read_job, write_job
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.trade.model.job import Job
from tests.store.test_database import VERSIONS

FROZEN = VERSIONS / "format-2"
JOB = "schoolhouse"


def ids(job: Job) -> object:
    """Everything that ticks, codes and noted facts are about."""
    return [
        (
            box.id,
            [(one.id, one.sheet, [load.id for load in one.loads]) for one in box.contents.equipment],
            [(one.id, one.sheet) for one in (box.found.equipment if box.found else ())],
            [one.of for one in (box.built.commissioned if box.built else ())],
            [splice.id for splice in box.contents.splices],
        )
        for box in job.boxes
    ]


def test_a_job_file_of_format_2_opens_with_every_id_and_says_what_stays() -> None:
    raw = json.loads((FROZEN / "job.json").read_text())
    job = read_job((FROZEN / "job.json").read_bytes())
    assert raw["version"] == 2 and job.version == 3
    assert [one["id"] for one in raw["boxes"]] == [box.id for box in job.boxes]
    assert len(job.ticks) == len(raw["ticks"])
    known = {box.id: box for box in job.boxes}
    bench = known["kitchen-bench"]  # its fan control is new, under the id of the toggle it takes the place of
    assert [(one.id, one.stays) for one in bench.devices] == [("d1", "d1"), ("d2", None), ("d3", "d3")]
    assert known["loft"].devices[0].stays is None, "a toggle became a dimmer"
    assert known["front-door"].devices[0].stays is None, "nothing was recorded as found"
    washroom = known["washroom"]
    assert washroom.built is not None and [one.of for one in washroom.built.commissioned] == ["m1"]
    assert {one.stays for one in washroom.built.equipment} == {one.id for one in washroom.built.equipment}
    assert read_job(write_job(job).encode()) == job


def test_a_database_of_format_2_opens_with_ticks_codes_photos_and_what_ifs(tmp_path: Path) -> None:
    file = tmp_path / "kept.sqlite3"
    with closing(sqlite3.connect(file)) as on:
        on.executescript(gzip.decompress((FROZEN / "database.sql.gz").read_bytes()).decode())
    store = Store(open_database(file))
    expected = read_job((FROZEN / "job.json").read_bytes())
    job = store.whole_job(JOB)
    assert ids(job) == ids(expected) and job.ticks == expected.ticks
    assert job == expected
    assert store.codes(JOB, "washroom") == {"m1": "0417-MADE-UP"}
    kitchen = store.box(JOB, "kitchen-bench")
    assert kitchen.can_redo and kitchen.open_trial
    assert str(store.box(kitchen.open_trial, "kitchen-bench").box.enclosure.volume) == "50 in3"
    store.close()


def test_an_archive_of_format_2_comes_in_whole(tmp_path: Path) -> None:
    store = Store(open_database(tmp_path / "kept.sqlite3"))
    with opened_archive(FROZEN / "job.archive") as archive:
        key = store.archives.put(archive)
    assert store.whole_job(key) == read_job((FROZEN / "job.json").read_bytes())
    store.close()
