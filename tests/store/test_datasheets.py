"""Sheets as kept: what a change would do is said and then done, taken back, and never half."""

from __future__ import annotations

from importlib.resources import files
from pathlib import Path

import pytest

from nail_count.files.job_json import read_job
from nail_count.store.database import open_database
from nail_count.store.snapshots import EditConflict, NotFound
from nail_count.store.store import Store
from nail_count.trade.compare.answers import AnswerChange
from nail_count.trade.edits.datasheets import AddSheet
from nail_count.trade.model.errors import Rejected
from nail_count.trade.rules.check import check_box, check_job
from nail_count.trade.text.datasheet_form import read_sheet, write_sheet
from tests.store.acting import change_sheet, edit_box, edit_house, step_house, step_sheet

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())
HOUSE_CHECK = {box.box.id: box for box in check_job(HOUSE).boxes}
DIMMER = next(sheet for sheet in HOUSE.sheets if sheet.id == "marrowby-rocker-dimmer")


@pytest.fixture
def store(tmp_path: Path) -> Store:
    made = Store(open_database(tmp_path / "kept.sqlite3"))
    made.add_job(HOUSE, "house")
    return made


def states(store: Store) -> dict[str, str]:
    return {card.key: card.state for card in store.house("house").cards}


def with_middle(watts: str) -> dict[str, str]:
    return write_sheet(DIMMER) | {"ch1-led-third": watts}


def test_a_change_says_first_what_it_does_and_then_does_that(store: Store) -> None:
    """With 100 W in the middle the stair foot holds 99 W tightly; nothing else is otherwise."""
    new = read_sheet(with_middle("100 W"), DIMMER.id)
    before = states(store)
    effects = store.effects("house", new)
    assert states(store) == before and store.job("house").sheets[DIMMER.id] == DIMMER
    by_box = {effect.box: effect for effect in effects}
    stair = by_box["stair-foot"]
    assert (stair.before.word, stair.after.word) == ("fails", "tight")
    hall = AnswerChange("Gang 2: Assembly hall", "fails, over by 9 W", "tight, 1 W to spare: room for no more")
    assert hall in stair.lines
    assert set(by_box) == {"stair-foot"}
    change_sheet(store, "house", 1, new)
    changed = {key for key, state in states(store).items() if state != before[key]}
    assert changed == {"stair-foot"} and store.box("house", "stair-foot").check.state.word == "tight"
    step_sheet(store, "house", DIMMER.id, "undo")
    assert states(store) == before and store.sheet("house", DIMMER.id).sheet == DIMMER
    step_sheet(store, "house", DIMMER.id, "redo")
    assert store.sheet("house", DIMMER.id).sheet == new and store.whole_job("house").sheets != HOUSE.sheets


def test_what_lists_show_is_what_the_boxes_are(store: Store) -> None:
    before = states(store)
    edit_house(store, "house", "remove-box", box="kitchen-bench")
    change_sheet(store, "house", 1, read_sheet(with_middle("100 W"), DIMMER.id))
    edit_house(store, "house", "bring-back", box="kitchen-bench")
    job = store.whole_job("house")
    sheets = {sheet.id: sheet for sheet in job.sheets}
    assert states(store) == {box.id: check_box(box, sheets, job.terms).state.word for box in job.boxes}
    changed = {key for key, state in states(store).items() if state != before[key]}
    assert changed == {"stair-foot"}, "expected a change in which something changes"


def test_lists_follow_the_poles_of_a_breaker(store: Store) -> None:
    """At both legs lamps draw half: what a list shows is what the box is, before and after, and undone."""
    circuit = next(one for one in HOUSE.circuits if one.id == "9")
    said = circuit.model_dump(exclude_none=True) | {"was": "9", "poles": 2, "serves": "one load", "space": 11}
    edit_house(store, "house", "put-circuit", **said)
    job = store.whole_job("house")
    check = {box.box.id: box for box in check_job(job).boxes}
    assert check["porch"].ratings[0].total == HOUSE_CHECK["porch"].ratings[0].total / 2
    assert states(store) == {key: box.state.word for key, box in check.items()}
    step_house(store, "house", "undo")
    assert states(store) == {key: box.state.word for key, box in HOUSE_CHECK.items()}


def test_a_stale_a_missing_and_an_impossible_change_leave_everything(store: Store) -> None:
    new = read_sheet(with_middle("80 W"), DIMMER.id)
    change_sheet(store, "house", 1, new)
    with pytest.raises(EditConflict):
        change_sheet(store, "house", 1, DIMMER)
    with pytest.raises(NotFound):
        store.sheet("house", "no-such-sheet")
    wide = new.changed(gangs=2)
    with pytest.raises(Rejected, match="It doesn't fit: “Front door”: Rocker dimmer takes 2 gangs"):
        store.effects("house", wide)
    with pytest.raises(Rejected, match="It doesn't fit: “Front door”: Rocker dimmer takes 2 gangs"):
        change_sheet(store, "house", 2, wide)
    bare = new.changed(channels=())
    with pytest.raises(Rejected, match="has 0 channels; a load is on channel 1"):
        change_sheet(store, "house", 2, bare)
    assert store.sheet("house", DIMMER.id).sheet == new and store.sheet("house", DIMMER.id).number == 2


def test_a_new_sheet_has_an_id_of_its_own_and_travels_in_the_job_file(store: Store) -> None:
    ids = [store.act("house", AddSheet(sheet=DIMMER)).sheets[0] for _ in range(2)]
    assert len({*ids, DIMMER.id}) == 3 and store.uses("house")[DIMMER.id] == 5
    assert {*ids} <= {sheet.id for sheet in store.whole_job("house").sheets}


def test_how_many_boxes_use_a_sheet_is_counted_where_each_stage_says_what_is_in_them(store: Store) -> None:
    """As planned, else as found; a removed box counts no more; under a what-if, what is tried there."""
    assert store.uses("house")[DIMMER.id] == 5, "counted on the demo's drawing"
    foot = next(box for box in HOUSE.boxes if box.id == "stair-foot")
    number = sum(item.sheet == DIMMER.id for item in foot.equipment)
    only_found = foot.changed(id="found", found=foot.contents, planned=None)
    emptied = foot.changed(id="emptied", found=foot.contents, planned=foot.contents.changed(devices=(), modules=()))
    store.add_job(HOUSE.changed(boxes=(only_found, emptied), runs=(), ticks=()), "stages")
    assert number and store.uses("stages")[DIMMER.id] == 1
    trial = store.try_out("stages", "found")
    edit_box(store, trial, "found", "remove-device", device=foot.devices[0].id)
    assert store.uses("stages") != store.uses(trial)
    edit_house(store, "stages", "remove-box", box="found")
    assert store.uses("stages") == {}
