"""What lists say of a box is what its bench says of it."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

from nail_count.demo.house import put_demo
from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.store import Store
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job
from nail_count.trade.model.run import Run
from nail_count.trade.quick_entry.enter_line import StartByLine

LINES = (
    "18 in3, two 14/2, smart dimmer",
    "2g 34 in3, three 14/2, switch, dimmer, breaker 6",
    "18 in3, 14/2, 14/3, three-way",
)


def by_line(*lines: str) -> Job:
    """The demo's sheets, and a box for each line."""
    job = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes()).changed(boxes=(), runs=(), ticks=())
    documents = Documents(JobAtHand(job), {})
    for number, line in enumerate(lines):
        documents = StartByLine(name=f"Box {number}", room="Hall", line=line).apply(documents).documents
    boxes = tuple(one for one in documents.changed.values() if isinstance(one, Box))
    runs = tuple(one for one in documents.changed.values() if isinstance(one, Run))
    return job.changed(boxes=boxes, runs=runs)


def test_a_list_says_of_a_box_what_its_bench_says(tmp_path: Path) -> None:
    """Asked for alone, with some others, or with all: whatever its cables go to."""
    store = Store(open_database(tmp_path / "kept.sqlite3"))
    put_demo(store)
    store.add_job(by_line(*LINES), "lines")
    rests = 0
    for job in ("schoolhouse", "lines"):
        keys = [card.key for card in store.house(job).cards]
        together = store.verdicts(job, keys)
        assert set(together) == set(keys)
        for key in keys:
            bench = store.box(job, key).verdict
            assert together[key] == bench == store.verdicts(job, [key])[key]
            rests += bool(bench.rests_on)
    assert rests > 0 and store.verdicts("lines", []) == {}
    store.close()


def test_a_usual_box_holds_if(tmp_path: Path) -> None:
    store = Store(open_database(tmp_path / "kept.sqlite3"))
    store.add_job(by_line(LINES[0]), "usual")
    (verdict,) = store.verdicts("usual", [card.key for card in store.house("usual").cards]).values()
    assert verdict.words.startswith("holds if ")
    store.close()
