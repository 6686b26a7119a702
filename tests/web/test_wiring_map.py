"""The map of a large house: a piece at a time, and what one breaker feeds."""

from __future__ import annotations

import re
from importlib.resources import files
from pathlib import Path

from starlette.testclient import TestClient

from nail_count.files.job_json import read_job
from nail_count.trade.model.job import Job
from nail_count.web.app import make_app


def test_every_box_of_a_large_floor_is_on_some_piece_of_its_map(tmp_path: Path) -> None:
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    boxes = tuple(demo.boxes[0].changed(id=f"b{n}", name=f"Box {n}", room="Hall") for n in range(201))
    with TestClient(
        make_app(tmp_path / "floor.sqlite3"), base_url="http://localhost", client=("127.0.0.1", 50000)
    ) as client:
        client.app.state.store.add_job(demo.changed(boxes=boxes, runs=()), "floor")  # type: ignore[attr-defined]
        pages = [client.get(f"/jobs/floor/map?start={start}").text for start in (0, 200)]
        drawn = [set(re.findall(r'class="map-box[^>]* data-box="(b\d+)"', page)) for page in pages]
        assert "1 to 200 of 201" in pages[0] and drawn[0] | drawn[1] == {box.id for box in boxes}
        client.app.state.store.add_job(five_hundred(), "five")  # type: ignore[attr-defined]
        on = client.get("/jobs/five/map", params={"circuit": "9"}).text
        assert set(re.findall(r'class="map-box[^>]* data-box="(b\d+)"', on)) == {f"b{n}" for n in range(0, 500, 5)}
        assert "No box is on this breaker" in client.get("/jobs/five/map", params={"circuit": "1"}).text


def five_hundred() -> Job:
    """Five hundred boxes, every fifth of which is on breaker 9."""
    demo = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
    boxes = tuple(
        demo.boxes[0].changed(id=f"b{n}", name=f"Box {n}", room=f"Room {n // 20}", circuit="6" if n % 5 else "9")
        for n in range(500)
    )
    return demo.changed(boxes=boxes, runs=(), ticks=())
