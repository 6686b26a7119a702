"""On the ladder, over several boxes: a pair is one piece of work, and each house says when a box is tried."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from starlette.testclient import TestClient

from nail_count.store.store import Store
from nail_count.trade.model.tick import Step, Tick
from nail_count.web.app import make_app
from tests.store import acting
from tests.trade.plan.test_parts import hooked_up
from tests.trade.wiring.hookup.schemes import PROVEN

AT = "2026-01-05T09:00:00"


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    app = make_app(tmp_path / "kept.sqlite3", ("testserver",))
    app.state.store.add_job(hooked_up(PROVEN["three-way, apart"]), "pair")
    yield TestClient(app, client=("127.0.0.1", 50000))
    app.state.store.close()


def store_of(client: TestClient) -> Store:
    return client.app.state.store  # type: ignore[attr-defined, no-any-return]


def steps(client: TestClient, box: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = client.get(f"/api/v1/jobs/pair/boxes/{box}/steps").json()["steps"]
    return found


def ticked(client: TestClient, box: str, *kinds: str) -> None:
    """Every step of these kinds, done."""
    for number, one in enumerate(one for one in steps(client, box) if one["kind"] in kinds):
        step = Step(kind=one["kind"], subjects=tuple(one["subjects"]))
        store_of(client).tick("pair", Tick(id=f"x{number}", box=box, step=step, at=AT))


def turned_on(client: TestClient, box: str) -> tuple[int, str]:
    answer = client.post("/api/v1/jobs/pair/ticks", json={"box": box, "step": {"kind": "energised", "subjects": []}})
    return answer.status_code, answer.text


def test_nothing_is_turned_on_while_the_other_box_of_a_pair_is_open(client: TestClient) -> None:
    status, text = turned_on(client, "a")
    assert status == 422 and "do the steps of b up to turning on the power first" in text.lower(), (
        "it gets a switch, too"
    )
    ticked(client, "b", "taken apart")
    status, text = turned_on(client, "a")
    assert status == 422 and "join every wire at b first" in text.lower()
    page = client.get("/jobs/pair/boxes/a/install").text
    assert page
    ticked(client, "b", "joined")
    assert turned_on(client, "a")[0] == 201
    ticked(client, "a", "taken apart")
    status, text = turned_on(client, "a")
    assert status == 422 and "join every wire in this box first" in text.lower()


@pytest.mark.parametrize(
    ("prove", "order"),
    [
        ("plate off", ["joined", "folded", "energised", "closed"]),
        ("device out", ["joined", "energised", "switched off", "proven dead", "folded", "closed"]),
        ("closed", ["joined", "folded", "closed", "energised"]),
    ],
)
def test_a_house_says_when_its_boxes_are_tried(client: TestClient, prove: str, order: list[str]) -> None:
    acting.edit_house(store_of(client), "pair", "set-house", name="Pair", prove=prove)
    kinds = [one["kind"] for one in steps(client, "a")]
    last = len(kinds) - 1 - kinds[::-1].index("joined")
    after = [kind for kind in kinds[last:] if kind in order]
    assert list(dict.fromkeys(after)) == order


def test_a_device_put_in_takes_over_what_the_old_one_controlled(client: TestClient) -> None:
    store = store_of(client)
    before = store.box("pair", "a").box.devices[0]
    assert before.loads
    after = acting.edit_box(store, "pair", "a", "put-device", gang="1", sheet=before.sheet).box.devices[0]
    assert after.id != before.id and after.loads == before.loads and after.stays is None
