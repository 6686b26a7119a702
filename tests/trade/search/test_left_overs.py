"""Where a left-over device would hold: what is offered passes when it is done; what must not be offered is not."""

from __future__ import annotations

from importlib.resources import files

from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.model.answer import State
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.rules.check import check_box
from nail_count.trade.search.left_overs import would_hold
from tests.support import found_as

DEMO = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def test_what_is_offered_holds_when_it_is_done_and_is_bought_no_more() -> None:
    """Every sheet of the demo's, offered wherever it would hold: done, the box passes, and is what was offered."""
    offered = 0
    for sheet in DEMO.sheets:
        for one in would_hold(DEMO, sheet.id):
            documents = Documents(JobAtHand(DEMO), {})
            for edit in one.edits:
                documents = edit.apply(documents).documents
            after = documents.box(one.box.id)
            device = after.device(one.device.id)
            assert device is not None and device.sheet == sheet.id != one.device.sheet
            assert check_box(after, by_id(DEMO.sheets), DEMO.terms_at(after)).state is not State.FAILS
            offered += 1
    assert offered


def test_what_is_in_the_wall_already_or_cannot_do_it_is_no_place() -> None:
    """A plain toggle dims nothing; and where the same was found as is planned, nothing is saved."""
    assert would_hold(DEMO, "marrowby-toggle") == ()
    built: Job = DEMO.changed(boxes=tuple(found_as(box, box.planned or box.found) for box in DEMO.boxes))
    assert all(would_hold(built, sheet.id) == () for sheet in DEMO.sheets)
