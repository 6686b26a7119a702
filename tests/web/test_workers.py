"""Long work: an act waits for none of it, and what overruns its bound is stopped with a sentence."""

from __future__ import annotations

import asyncio
import os
import time
from collections.abc import Iterator
from contextlib import suppress
from importlib.resources import files
from pathlib import Path

import pytest
from httpx2 import Response
from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.store.store import Store
from nail_count.store.trouble import Trouble
from nail_count.trade.model.figure import Figure, every_nec
from nail_count.trade.model.job import Job
from nail_count.web import look_over, workers
from nail_count.web.app import make_app
from nail_count.web.workers import TookTooMuch
from tests.store import acting
from tests.store.test_database import VERSIONS

HOUSE = (VERSIONS.parents[1] / "house.json").read_bytes()


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    app = make_app(tmp_path / "kept.sqlite3", ("testserver",))
    app.state.store.add_job(read_job(HOUSE), "house")
    yield TestClient(app, client=("127.0.0.1", 50000))
    app.state.store.close()


def too_much_memory() -> int:
    return len(bytearray(64 << 30))


def hashed(job: Job) -> bool:
    """Whether a thing that came over is found by what it equals, however its hash was there."""
    return job in {read_job(HOUSE)}


def figure_of(one: Figure) -> tuple[str, str, str]:
    return str(one), one.unit, one.rule.article


def test_acts_go_on_while_every_process_is_at_work(client: TestClient) -> None:
    at_work = [workers.started(kind, time.sleep, 60) for kind, count in workers.AT_ONCE.items() for _ in range(count)]
    for number in range(20, 30):
        edits = {"edits": [{"edit": "set-volume", "box": "hall", "volume": str(number)}]}
        assert client.post("/api/v1/jobs/house/edits", json=edits).status_code == 200
        assert client.get("/jobs/house/boxes/hall").status_code == 200
    for one in at_work:
        assert not one.done()
        one.cancel()  # type: ignore[no-untyped-call]


def test_what_takes_too_long_or_too_much_is_stopped_and_the_next_goes_on(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setitem(workers.SECONDS, "photo", 0.5)
    with pytest.raises(TookTooMuch, match="too long"):
        workers.run("photo", time.sleep, 60)
    monkeypatch.undo()
    with pytest.raises(TookTooMuch, match="too much memory"):
        workers.run("photo", too_much_memory)
    assert workers.run("photo", os.getpid) != os.getpid()


def test_things_go_over_to_another_process_as_they_are(client: TestClient) -> None:
    job = read_job(HOUSE)
    assert hash(job)
    assert workers.run("photo", hashed, job)
    assert workers.run("photo", figure_of, Figure("1 7/8", "in", "x", every_nec("1.1"))) == ("15/8", "in", "1.1")


def overfilled(client: TestClient) -> str:
    store: Store = client.app.state.store  # type: ignore[attr-defined]
    store.add_job(read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes()), "school")
    return "/jobs/school/boxes/bell-room/fix"


def until_over(client: TestClient, page: Response) -> str:
    """The page of a search once it is over."""
    while "every 400ms" in page.text:
        page = client.get(page.url)
    return page.text


def test_a_search_that_took_too_long_says_so(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    fix = overfilled(client)
    monkeypatch.setitem(workers.SECONDS, "search", 0.001)
    page = until_over(client, client.get(fix))
    assert "took too long and was stopped" in page and "Look\n        again" in page
    monkeypatch.undo()
    assert "The least work" in until_over(client, client.post(fix + "/again"))


def test_a_search_goes_on_while_its_page_is_looked_at_and_can_be_stopped(client: TestClient) -> None:
    """As long as both processes are at other work, nothing is found; a stop is heard at once."""
    fix = overfilled(client)
    at_work = [workers.started("search", time.sleep, 60) for _ in range(workers.AT_ONCE["search"])]
    page = client.get(fix)
    assert "Looking for the least work" in page.text and "every 400ms" in page.text and "As it is" in page.text
    assert "Looking for the least work" in client.get(fix + "/ways", headers={"HX-Request": "true"}).text
    stopped = client.post(fix + "/stop")
    assert "Stopped. Nothing was found until then." in stopped.text and "every 400ms" not in stopped.text
    for one in at_work:
        one.cancel()  # type: ignore[no-untyped-call]
    assert "Stopped" in client.get(fix).text, "nobody asked it to go on"
    again = until_over(client, client.post(fix + "/again"))
    assert "Nothing under" in again and "Try it as a what-if" in again
    assert client.post(fix + "/try", data={"way": "99"}).status_code == 422
    assert client.post(fix + "/try", data={"way": "first"}).status_code == 422
    assert "Quote" in client.get(fix + "/quote?way=1").text


def test_a_backup_is_not_handed_to_another_machine(client: TestClient, tmp_path: Path) -> None:
    elsewhere = TestClient(client.app, client=("192.0.2.7", 50000))
    answer = elsewhere.post("/backup")
    assert answer.status_code == 422 and "setup code" in answer.text
    assert "Take a backup" not in elsewhere.get("/").text
    assert "Take a backup" in client.get("/").text


def test_what_flips_on_the_disk_is_found_by_the_look_over_and_nothing_more_is_written(client: TestClient) -> None:
    store: Store = client.app.state.store  # type: ignore[attr-defined]
    asyncio.run(_looked_over(store))
    acting.edit_box(store, "house", "hall", "set-volume", volume="40")
    with store._session.writing() as on:
        on.exec_driver_sql("update revision set body = replace(body, '40', '41') where number > 1")
    asyncio.run(_looked_over(store))
    with pytest.raises(Trouble, match="is damaged: step 2 of document"):
        acting.edit_box(store, "house", "porch", "set-volume", volume="42")
    page = client.get("/jobs/house/boxes/hall")
    assert page.status_code == 500 and "cannot be read" in page.text


async def _looked_over(store: Store) -> None:
    """Once."""
    with suppress(TimeoutError):
        await asyncio.wait_for(look_over.look_over(store, 0, 3600), 5)
