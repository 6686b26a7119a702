"""A house of two hundred boxes: what is sought is found, removed boxes come back, queries do not grow."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

import pytest
from sqlalchemy import Engine, event

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.snapshots import BoxFilter, NotFound
from nail_count.store.store import Store
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job
from tests.store.acting import edit_house

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def many(count: int) -> Job:
    """The demo house's boxes over and over."""
    boxes = []
    for number in range(count):
        box = HOUSE.boxes[number % len(HOUSE.boxes)]
        boxes.append(box.changed(id=f"b{number}", name=f"{box.name} {number}"))
    return HOUSE.changed(boxes=tuple(boxes))


@pytest.fixture(scope="module")
def engine(tmp_path_factory: pytest.TempPathFactory) -> Engine:
    return open_database(Path(tmp_path_factory.mktemp("house")) / "kept.sqlite3")


@pytest.fixture(scope="module")
def store(engine: Engine) -> Store:
    made = Store(engine)
    for count in (1, 200):
        made.add_job(many(count), f"of-{count}")
    return made


@contextmanager
def counted(engine: Engine) -> Iterator[list[str]]:
    """The statements run meanwhile."""
    said: list[str] = []

    def note(_connection: object, _cursor: object, statement: str, *_rest: object) -> None:
        said.append(statement)

    event.listen(engine, "before_cursor_execute", note)
    yield said
    event.remove(engine, "before_cursor_execute", note)


def test_queries_do_not_grow_with_the_house(store: Store, engine: Engine) -> None:
    asked = {}
    for job in ("of-1", "of-200"):
        store.house(job)
        with counted(engine) as house:
            assert len(store.house(job).cards) == int(job[3:])
        with counted(engine) as bench:
            store.box(job, "b0")
        with counted(engine) as board:
            store.jobs()
        asked[job] = (len(house), len(bench), len(board))
    assert asked["of-1"] == asked["of-200"]
    assert max(asked["of-200"]) <= 8


@pytest.mark.parametrize(
    "sought",
    [
        BoxFilter(state="fails"),
        BoxFilter(circuit="6"),
        BoxFilter(room="Entry", state="holds"),
        BoxFilter(words="ENTRY  12"),
        BoxFilter(words="100%_"),
    ],
)
def test_what_is_sought_is_found(store: Store, sought: BoxFilter) -> None:
    everything = store.house("of-200").cards
    expected = [
        card.key
        for card in everything
        if (not sought.state or card.state == sought.state)
        and (not sought.circuit or sought.circuit in card.circuits)
        and (not sought.room or card.room == sought.room)
        and all(word.lower() in f"{card.name} {card.room} {card.binds}".lower() for word in sought.words.split())
    ]
    found = store.house("of-200", sought)
    assert [card.key for card in found.cards] == expected
    assert len(found.all_cards) == 200
    assert bool(expected) == (sought.words != "100%_")


def test_a_removed_box_comes_back_where_it_was(store: Store) -> None:
    before = [card.key for card in store.house("of-200").cards]
    history = store.box("of-200", "b7").history
    edit_house(store, "of-200", "remove-box", box="b7")
    left = store.outline("of-200", BoxFilter(), lambda keys: keys)
    assert "b7" not in [card.key for card in left.cards] and [card.key for card in left.removed] == ["b7"]
    assert len(store.whole_job("of-200").boxes) == 199 and sum(left.states.values()) == 199
    with pytest.raises(NotFound):
        store.box("of-200", "b7")
    edit_house(store, "of-200", "bring-back", box="b7")
    assert [card.key for card in store.house("of-200").cards] == before
    assert store.box("of-200", "b7").history == history
    with pytest.raises(Rejected, match="one of the boxes of this job"):
        edit_house(store, "of-200", "remove-box", box="nowhere")
