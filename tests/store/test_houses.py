"""Acts on a house can all be undone; copies to try on; marks; what was kept before there were any of these."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import update

from nail_count.files.job_json import read_job
from nail_count.store import revisions
from nail_count.store.database import open_database
from nail_count.store.revisions import Direction
from nail_count.store.snapshots import BoxFilter, EditConflict, NotFound
from nail_count.store.store import Store
from nail_count.store.tables import JobRow
from nail_count.trade.documents import HEAD, DocumentId
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, JobHead
from nail_count.trade.survey.open_points import open_points
from tests.store import acting

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
BOX = "kitchen-bench"


@pytest.fixture
def store(tmp_path: Path) -> Iterator[Store]:
    engine = open_database(tmp_path / "kept.sqlite3")
    made = Store(engine)
    made.add_job(HOUSE, "house")
    yield made
    engine.dispose()


def layout(store: Store) -> list[tuple[str, str]]:
    """Which boxes, in which order and room."""
    return [(card.key, card.room) for card in store.house("house").cards]


def change(store: Store, name: str, **said: object) -> None:
    acting.edit_house(store, "house", name, **said)


def step(store: Store, way: str) -> str:
    return acting.step_house(store, "house", way)  # type: ignore[arg-type]


def edit(store: Store, box: str, what: str, **said: object) -> int:
    return acting.edit_box(store, "house", box, what, **said).number


ACTS = st.one_of(
    st.tuples(st.just("remove"), st.integers(0, 9)),
    st.tuples(st.just("copy"), st.integers(0, 9)),
    st.tuples(st.just("room"), st.integers(0, 9)),
    st.tuples(st.just("up"), st.integers(0, 9)),
    st.tuples(st.just("floor"), st.integers(0, 9)),
)


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(ACTS, min_size=1, max_size=6))
def test_any_acts_on_a_house_are_undone_and_redone_one_by_one(store: Store, acts: list[tuple[str, int]]) -> None:
    states = [layout(store)]
    for act, number in acts:
        here = layout(store)
        box = here[number % len(here)][0]
        try:
            if act == "remove":
                change(store, "remove-box", box=box)
            elif act == "copy":
                change(store, "copy-box", box=box)
            elif act == "room":
                change(store, "move-box", box=box, room="Woodshed")
            elif act == "up":
                change(store, "move-box", box=box, to="up")
            else:
                change(store, "set-floor", room=here[0][1], floor="below")
        except Rejected:
            continue
        states.append(layout(store))
    for state in reversed(states[:-1]):
        assert step(store, "undo").startswith("Undone:")
        assert layout(store) == state
    for state in states[1:]:
        step(store, "redo")
        assert layout(store) == state
    for _ in states[1:]:
        step(store, "undo")


def test_the_first_act_on_a_house_kept_before_its_order_was_is_undone_too(store: Store) -> None:
    with store._session.writing() as on:
        found = revisions.find(on, 1, HEAD)
        assert found is not None
        body = JobHead.model_validate_json(found.revision.body).changed(order=None)
        revisions.add_edit(on, 1, found.revision, body.model_dump_json(exclude_none=True))
        on.execute(update(JobRow).values(cache_version=JobRow.cache_version + 1))
    before = layout(store)
    change(store, "remove-box", box="pantry")
    assert len(layout(store)) == len(before) - 1
    step(store, "undo")
    assert layout(store) == before


def test_a_circuit_a_box_hangs_on_is_not_undone_away_and_a_stale_house_is_told(store: Store) -> None:
    change(store, "put-circuit", id="12", space="12", breaker="15")
    edit(store, "study", "rename", name="Study", room="Study", circuit="12")
    with pytest.raises(Rejected, match="“Study”: it is on circuit “12”, which is not among"):
        step(store, "undo")
    assert "12" in {circuit.id for circuit in store.job("house").head.circuits}
    with pytest.raises(EditConflict):
        acting.step_house(store, "house", "undo", store.job("house").number - 1)


def test_a_removed_box_comes_back_only_where_its_circuit_still_is(store: Store) -> None:
    change(store, "put-circuit", id="12", space="12", breaker="15")
    edit(store, "study", "rename", name="Study", room="Study", circuit="12")
    change(store, "remove-box", box="study")
    change(store, "remove-circuit", id="12")
    with pytest.raises(Rejected, match="“Study”: it is on circuit “12”"):
        change(store, "bring-back", box="study")
    assert len(store.whole_job("house").boxes) == len(HOUSE.boxes) - 1  # a whole job can always be taken out
    step(store, "undo")
    change(store, "bring-back", box="study")
    assert len(store.whole_job("house").boxes) == len(HOUSE.boxes)


def test_a_what_if_is_kept_as_one_change_or_thrown_away_and_shows_in_no_list(store: Store) -> None:
    before = store.box("house", BOX)
    trial = store.try_out("house", BOX)
    assert store.try_out("house", BOX) == trial and store.box("house", BOX).open_trial == trial
    assert store.box(trial, BOX).box == before.box
    acting.edit_box(store, trial, BOX, "add-cable", gauge=14, insulated=2)
    acting.edit_box(store, trial, BOX, "swap-gangs", one=1, other=3)
    assert store.box("house", BOX).box == before.box
    assert len(layout(store)) == len(store.whole_job("house").boxes) == len(HOUSE.boxes)
    assert sum(store.jobs()[0].states.values()) == len(HOUSE.boxes)
    assert store.jobs()[0].todo == sum(bool(open_points(box)) for box in HOUSE.boxes) > 4
    seen = {DocumentId("box", BOX): 3}
    with pytest.raises(EditConflict):
        store.end_trial(trial, {DocumentId("box", BOX): 2}, accept=True)
    assert store.end_trial(trial, seen, accept=True) == "house"
    after = store.box("house", BOX)
    assert after.number == before.number + 1 and len(after.box.cables) == len(before.box.cables) + 1
    with pytest.raises(NotFound):
        store.box(trial, BOX)
    again = store.try_out("house", BOX)
    acting.edit_box(store, again, BOX, "set-clamps", clamps=False)
    store.end_trial(again, {}, accept=False)
    assert store.box("house", BOX).box == after.box
    assert acting.step_box(store, "house", BOX, "undo").box == before.box


def test_a_trial_takes_back_what_was_tried_and_nothing_from_before_it(store: Store) -> None:
    acting.edit_box(store, "house", BOX, "add-cable", gauge=14, insulated=2)
    acting.edit_house(store, "house", "move-box", box="study", room="Woodshed")
    acting.step_house(store, "house", "undo")
    trial = store.try_out("house", BOX)
    house, before = store.whole_job("house"), store.whole_job(trial)
    way: Direction
    for way in ("undo", "redo", "undo", "redo"):
        acting.step_box(store, trial, BOX, way)
        acting.step_house(store, trial, way)
        assert store.whole_job(trial) == before
    assert not (store.box(trial, BOX).can_undo or store.job(trial).can_undo or store.job(trial).can_redo)
    acting.edit_box(store, trial, BOX, "add-cable", gauge=12, insulated=3)
    tried = store.whole_job(trial)
    steps: list[tuple[Direction, Job]] = [("undo", before), ("undo", before), ("redo", tried), ("redo", tried)]
    for way, expected in steps:
        acting.step_box(store, trial, BOX, way)
        assert store.whole_job(trial) == expected
    assert store.whole_job("house") == house
    assert store.job("house").can_redo, "expected the house itself to be steppable as before"


def test_a_trial_over_several_boxes_and_the_house_is_kept_whole_and_undone_whole(store: Store) -> None:
    """A house as a trial of it would make it: a box moved, a box added, one changed, one removed, the panel."""
    before, files = layout(store), store.whole_job("house")
    trial = store.try_out("house", BOX)
    acting.edit_box(store, trial, BOX, "add-cable", gauge=14, insulated=2)
    acting.edit_house(store, trial, "move-box", box="study", room="Woodshed")
    acting.edit_house(store, trial, "remove-box", box="pantry")
    acting.edit_house(store, trial, "put-circuit", id="12", space="12", breaker="15")
    added = acting.edit_house(store, trial, "start-box", name="New", room="Woodshed", volume="20", circuit="12").boxes[
        0
    ]
    assert acting.step_house(store, trial, "undo").startswith("Undone: Box “New” started")
    acting.step_house(store, trial, "redo")
    assert layout(store) == before and store.whole_job("house") == files
    tried = store.whole_job(trial)
    assert {card.key for card in store.house(trial).cards} == {key for key, _ in before} - {"pantry"} | {added}
    store.end_trial(trial, {}, accept=True)
    assert store.whole_job("house") == tried
    assert store.job("house").last == store.box("house", "study").history[0].sentence == "What was tried out is kept"
    acting.step_house(store, "house", "undo")
    assert store.whole_job("house") == files and layout(store) == before
    acting.step_house(store, "house", "redo")
    assert store.whole_job("house") == tried


SOUGHT = (
    BoxFilter(), BoxFilter(state="fails"), BoxFilter(room="Stairs"), BoxFilter(circuit="5"), BoxFilter(todo=True),
    BoxFilter(words="KITCHEN fan"), BoxFilter(words="nowhere"),
)  # fmt: skip


def test_in_outline_a_house_is_as_its_cards_say_in_a_trial_too(store: Store) -> None:
    """Boxes removed and rooms on floors, in the trial others than in the job."""
    change(store, "set-floor", room="Stairs", floor="Upstairs")
    change(store, "remove-box", box="loft")
    trial = store.try_out("house", BOX)
    acting.edit_house(store, trial, "remove-box", box="pantry")
    acting.edit_house(store, trial, "bring-back", box="loft")
    acting.edit_house(store, trial, "set-floor", room="Entry", floor="Roof")
    for _ in range(9):
        acting.edit_box(store, trial, "study", "add-cable", gauge=12, insulated=3)
    known = {}
    for key in ("house", trial):
        whole, at = store.whole_job(key), store.job(key)
        place = {box.id: number for number, box in enumerate(whole.boxes)}
        for sought in SOUGHT:
            cards = {card.key: card for card in store.house(key, sought).cards}
            seen = store.outline(key, sought, lambda keys: keys[1:4])
            order = [box.key for box in seen.sought]
            assert sorted(order) == sorted(cards) and seen.cards == [cards[box] for box in order[1:4]]
            assert [box.key for box in seen.boxes] == list(place)
            # By floor, then by room, each as it comes first among all boxes; within a room as the job has them.
            first: dict[str, int] = {}
            for box in whole.boxes:
                first.setdefault(f"floor {at.head.house.floor_of(box.room)}", place[box.id])
                first.setdefault(box.room, place[box.id])
            lies = {
                box.id: (first[f"floor {at.head.house.floor_of(box.room)}"], first[box.room], place[box.id])
                for box in whole.boxes
            }
            assert order == sorted(order, key=lies.__getitem__)
        assert seen.states == Counter(at.check(box).state.word for box in whole.boxes)
        assert seen.rooms == list(dict.fromkeys(box.room for box in whole.boxes))
        assert [card.key for card in seen.removed] == ["loft" if key == "house" else "pantry"]
        mended = [at.mended(box) for box in whole.boxes]
        left = store.left_to_see(key, lambda keys: keys[1:3])
        assert left.keys == [box.id for box in mended if open_points(box)]
        assert [box.id for box in left.boxes] == left.keys[1:3] and set(left.boxes) <= set(whole.boxes)
        assert left.used == {circuit for box in mended for circuit in box.circuits}
        known[key] = seen.states
    assert known["house"] != known[trial]


def test_a_what_if_of_what_has_changed_since_is_not_kept_and_says_what_moved_on(store: Store) -> None:
    trial = store.try_out("house", BOX)
    edit(store, BOX, "set-clamps", clamps=False)
    acting.edit_box(store, trial, BOX, "set-gangs", gangs=4)  # copied on its first change: of the box as it is by then
    acting.edit_house(store, trial, "move-box", box="study", room="Woodshed")
    edit(store, "study", "set-clamps", clamps=True)
    with pytest.raises(EditConflict, match="“Study”: Clamps inside the box"):
        store.end_trial(trial, {}, accept=True)
    assert store.box(trial, BOX).what_if is not None and ("study", "Woodshed") not in layout(store)


def test_what_was_found_and_built_is_said_and_judged_only_where_nothing_is_planned(store: Store) -> None:
    before = store.box("house", BOX).box
    edit(store, BOX, "set-gangs", gangs=4)
    acting.edit_box(store, "house", BOX, "say-contents", stage="found", contents=before.contents)
    now = store.box("house", BOX)
    assert now.box.found == before.contents.staying(None) and now.box.enclosure.gangs == 4
    assert now.check.fill == store.box("house", BOX).job.check(now.box).fill
    only_found = now.box.changed(planned=None)
    was = before.contents.staying(None)
    assert only_found.devices == was.devices and only_found.enclosure == was.enclosure
    acting.edit_box(store, "house", BOX, "say-contents", stage="built", contents=now.box.contents)
    assert store.box("house", BOX).box.built is not None
    acting.edit_box(store, "house", BOX, "say-contents", stage="built", contents=None)
    assert store.box("house", BOX).box.built is None
    assert acting.step_box(store, "house", BOX, "undo").box.built is not None


def test_sheets_last_used_come_first_and_stay_so_over_a_restart(store: Store, tmp_path: Path) -> None:
    edit(store, "bell-room", "put-device", gang=1, sheet="ostrel-smart-switch")
    edit(store, "loft", "put-device", gang=1, sheet="marrowby-toggle")
    assert store.job("house").used[:2] == ("marrowby-toggle", "ostrel-smart-switch")
    again = Store(open_database(tmp_path / "kept.sqlite3"))
    assert again.job("house").used[:2] == ("marrowby-toggle", "ostrel-smart-switch")


def test_a_refused_act_leaves_nothing_of_itself_behind(store: Store) -> None:
    """What was parsed meanwhile is of a change that was not kept."""
    before = store.job("house")
    with pytest.raises(Rejected):
        change(store, "put-circuit", id="99", space="5")
    assert store.job("house").head == before.head
