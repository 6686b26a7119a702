"""What one box is taken for is never taken for another: what was seen at it stays its own."""

from __future__ import annotations

from importlib.resources import files

import pytest

from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.house.boxes import CopyBox
from nail_count.trade.model.box import Box
from nail_count.trade.model.conductor import Conductor
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.survey import Survey
from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.wires.neutral import neutral_in

DEMO = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def copied(job: Job, box: str) -> Box:
    volume = next(one for one in job.boxes if one.id == box).contents.enclosure.volume
    edited = CopyBox(box=box, volume=volume, cables=True, lamps=True).apply(Documents(JobAtHand(job), {}))
    (new,) = (thing for id, thing in edited.documents.changed.items() if id.kind == "box")
    assert isinstance(new, Box)
    return new


@pytest.mark.parametrize("box", DEMO.boxes, ids=lambda box: box.id)
def test_the_same_again_is_as_full_and_nothing_of_it_is_known(box: Box) -> None:
    """The count is of what is in it and the same; who looked, measured, joined or traced did so at the other one."""
    white = Conductor(color="white", asserted_role="neutral")
    cables = tuple(cable.changed(conductors=(white,)) if cable.insulated else cable for cable in box.cables)
    seen = box.changed(cables=cables, survey=Survey(neutral=True), other_circuits=("10",))
    job = DEMO.changed(boxes=tuple(seen if one.id == box.id else one for one in DEMO.boxes))
    assert neutral_in(seen, 120).there, "expected something to be known of the first one"
    new, sheets = copied(job, box.id), by_id(job.sheets)
    one, other = (check_box(each, sheets, job.terms) for each in (seen, new))
    assert one.fill.total == other.fill.total
    assert other.fill.limit == (one.fill.limit if seen.contents.enclosure.volume else None)
    assert neutral_in(new, 120).there is None
    assert (new.circuits, new.found, new.built, new.readings, new.survey) == ((), None, None, (), Survey())
    assert not any(splice.ends for splice in new.splices)
    for was, item in zip(seen.equipment, new.equipment, strict=True):
        assert (was.sheet, was.name, item.circuit) == (item.sheet, item.name, None)
        for load in item.loads:
            assert load.outlet is load.measured is None
            assert [(one.kind, one.quantity, one.each) for one in was.loads] == [
                (one.kind, one.quantity, one.each) for one in item.loads
            ]


def test_a_box_of_which_only_what_was_found_is_said_is_copied_with_it() -> None:
    box = next(box for box in DEMO.boxes if box.devices)
    found = box.changed(found=box.contents).model_copy(update={"planned": None})
    new = copied(DEMO.changed(boxes=(found,)), box.id)
    assert [device.sheet for device in new.devices] == [device.sheet for device in box.devices]


def test_nothing_that_can_differ_is_the_same_until_somebody_says_so() -> None:
    """The volume, the cables, the lamps and the ground are asked of the tenth box as of the first."""
    box = next(box for box in DEMO.boxes if box.entering and any(one.loads for one in box.devices))
    edited = CopyBox(box=box.id, name="Tenth", room="Attic").apply(Documents(JobAtHand(DEMO), {}))
    new = next(thing for thing in edited.documents.changed.values() if isinstance(thing, Box))
    assert (new.name, new.room, new.contents.enclosure.volume, new.cables) == ("Tenth", "Attic", None, ())
    assert [one.sheet for one in new.devices] == [one.sheet for one in box.devices]
    assert not any(one.loads for one in new.devices)
