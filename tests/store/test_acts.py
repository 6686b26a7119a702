"""Acts on a house can all be undone; copies to try on; marks; what was kept before there were any of these."""

from __future__ import annotations

from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import update

from nail_count.files.job_json import read_job
from nail_count.store import revisions as revising
from nail_count.store.database import open_database
from nail_count.store.snapshots import Missing, Stale
from nail_count.store.store import Keep
from nail_count.store.tables import JobRow
from nail_count.trade.edits.house.registry import make_house_edit
from nail_count.trade.edits.registry import copy_box, make_edit
from nail_count.trade.model.errors import Refused
from nail_count.trade.model.job import JobHead
from nail_count.trade.survey.open_points import open_points
from nail_count.web.pages.bench.view import summarise

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
BOX = "kitchen-bench"


@pytest.fixture
def keep(tmp_path: Path) -> Iterator[Keep]:
    engine = open_database(tmp_path / "kept.sqlite3")
    made = Keep(engine, summarise)
    made.add_job(HOUSE, "house")
    yield made
    engine.dispose()


def layout(keep: Keep) -> list[tuple[str, str]]:
    """Which boxes, in which order and room."""
    return [(card.key, card.room) for card in keep.house("house").cards]


def change(keep: Keep, name: str, **said: object) -> None:
    keep.change_house("house", lambda head, around: make_house_edit(head, name, said, around))


def step(keep: Keep, way: str) -> str:
    return keep.step_house("house", keep.job("house").number, way)  # type: ignore[arg-type]


def edit(keep: Keep, box: str, what: str, **said: object) -> int:
    seen = keep.box("house", box).number
    return keep.change_box("house", box, seen, lambda at, job: make_edit(at, what, said, job.sheets)).number


ACTS = st.one_of(
    st.tuples(st.just("remove"), st.integers(0, 9)),
    st.tuples(st.just("copy"), st.integers(0, 9)),
    st.tuples(st.just("room"), st.integers(0, 9)),
    st.tuples(st.just("up"), st.integers(0, 9)),
    st.tuples(st.just("floor"), st.integers(0, 9)),
)


@settings(max_examples=12, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(ACTS, min_size=1, max_size=6))
def test_any_acts_on_a_house_are_undone_and_redone_one_by_one(keep: Keep, acts: list[tuple[str, int]]) -> None:
    states = [layout(keep)]
    for act, number in acts:
        here = layout(keep)
        box = here[number % len(here)][0]
        try:
            if act == "remove":
                keep.remove_box("house", box)
            elif act == "copy":
                same = keep.box("house", box).box
                keep.start_box("house", lambda key, _, same=same: copy_box(key, same), "copy", after=box)  # type: ignore[misc]
            elif act == "room":
                change(keep, "move-box", box=box, room="Woodshed")
            elif act == "up":
                change(keep, "move-box", box=box, to="up")
            else:
                change(keep, "set-floor", room=here[0][1], floor="below")
        except Refused:
            continue
        states.append(layout(keep))
    for state in reversed(states[:-1]):
        assert step(keep, "undo").startswith("Undone:")
        assert layout(keep) == state
    for state in states[1:]:
        step(keep, "redo")
        assert layout(keep) == state
    for _ in states[1:]:
        step(keep, "undo")


def test_the_first_act_on_a_house_kept_before_its_order_was_is_undone_too(keep: Keep) -> None:
    with keep._writing() as on:
        body = JobHead.model_validate_json(revising.newest_terms(on, 1).body).model_copy(update={"order": None})
        revising.add_edit(on, revising.newest_terms(on, 1), body.model_dump_json(exclude_none=True), "As it was kept")
        on.execute(update(JobRow).values(shelf=JobRow.shelf + 1))
    before = layout(keep)
    keep.remove_box("house", "pantry")
    assert len(layout(keep)) == len(before) - 1
    step(keep, "undo")
    assert layout(keep) == before


def test_a_circuit_a_box_hangs_on_is_not_undone_away_and_a_stale_house_is_told(keep: Keep) -> None:
    change(keep, "put-circuit", id="12", space="12", breaker="15")
    edit(keep, "study", "rename", name="Study", room="Study", circuit="12")
    with pytest.raises(Refused, match="“Study”: it hangs on circuit “12”, which is not among"):
        step(keep, "undo")
    assert "12" in {circuit.id for circuit in keep.job("house").head.circuits}
    with pytest.raises(Stale):
        keep.step_house("house", keep.job("house").number - 1, "undo")


def test_a_removed_box_comes_back_only_where_its_circuit_still_is(keep: Keep) -> None:
    change(keep, "put-circuit", id="12", space="12", breaker="15")
    edit(keep, "study", "rename", name="Study", room="Study", circuit="12")
    keep.remove_box("house", "study")
    change(keep, "remove-circuit", id="12")
    with pytest.raises(Refused, match="“Study”: it hangs on circuit “12”"):
        keep.bring_back("house", "study")
    assert len(keep.whole_job("house").boxes) == len(HOUSE.boxes) - 1  # a whole job can always be taken out
    step(keep, "undo")
    keep.bring_back("house", "study")
    assert len(keep.whole_job("house").boxes) == len(HOUSE.boxes)


def test_a_what_if_is_kept_as_one_step_or_thrown_away_and_shows_in_no_list(keep: Keep) -> None:
    before = keep.box("house", BOX)
    copy = keep.try_out("house", BOX)
    assert keep.try_out("house", BOX) == copy and keep.box("house", BOX).copy == copy
    edit(keep, copy, "add-cable", gauge=14, insulated=2)
    edit(keep, copy, "swap-gangs", one=1, other=3)
    assert keep.box("house", BOX).box == before.box
    assert copy not in [key for key, _ in layout(keep)] and len(keep.whole_job("house").boxes) == len(HOUSE.boxes)
    assert sum(keep.jobs()[0].states.values()) == len(HOUSE.boxes)
    assert keep.jobs()[0].todo == sum(bool(open_points(box)) for box in HOUSE.boxes) > 4
    assert keep.end_what_if("house", copy, 3, keep=True) == BOX
    after = keep.box("house", BOX)
    assert after.number == before.number + 1 and len(after.box.cables) == len(before.box.cables) + 1
    with pytest.raises(Missing):
        keep.box("house", copy)
    again = keep.try_out("house", BOX)
    edit(keep, again, "set-clamps", clamps=False)
    keep.end_what_if("house", again, 2, keep=False)
    assert keep.box("house", BOX).box == after.box


def test_a_what_if_of_a_box_that_has_changed_since_is_not_kept(keep: Keep) -> None:
    copy = keep.try_out("house", BOX)
    edit(keep, BOX, "set-clamps", clamps=False)
    with pytest.raises(Stale):
        keep.end_what_if("house", copy, 1, keep=True)
    assert keep.box("house", copy).what_if is not None


def test_marks_stay_at_their_step(keep: Keep) -> None:
    keep.mark("house", BOX, "as found", 1)
    now = edit(keep, BOX, "add-cable", gauge=14, insulated=2)
    keep.mark("house", BOX, "as planned", now)
    assert keep.box("house", BOX).marks == {"as found": 1, "as planned": now}
    found = keep.earlier("house", BOX, 1, now)
    assert found.beside is not None and len(found.beside.box.cables) == len(found.then.box.cables) + 1
    keep.mark("house", BOX, "as found", None)
    assert keep.box("house", BOX).marks == {"as planned": now}
    for name, number in (("as wished", 1), ("as built", 99)):
        with pytest.raises(Missing):
            keep.mark("house", BOX, name, number)


def test_sheets_last_used_come_first_and_stay_so_over_a_restart(keep: Keep, tmp_path: Path) -> None:
    edit(keep, "bell-room", "put-device", gang=1, sheet="ostrel-smart-switch")
    edit(keep, "loft", "put-device", gang=1, sheet="marrowby-toggle")
    assert keep.job("house").used[:2] == ("marrowby-toggle", "ostrel-smart-switch")
    again = Keep(open_database(tmp_path / "kept.sqlite3"), summarise)
    assert again.job("house").used[:2] == ("marrowby-toggle", "ostrel-smart-switch")


def test_a_refused_act_leaves_nothing_of_itself_behind(keep: Keep) -> None:
    """What was parsed meanwhile is of a change that was not kept."""
    before = keep.job("house")
    with pytest.raises(Refused):
        change(keep, "put-circuit", id="99", space="5")
    assert keep.job("house").head == before.head
