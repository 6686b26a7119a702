"""Every edit there is, on the demo house: refused with a sentence at one of its fields, or a whole job comes of it."""

from __future__ import annotations

from importlib.resources import files
from types import SimpleNamespace
from typing import cast

import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from nail_count.files.job_json import read_job
from nail_count.store.snapshots import BoxSnapshot
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.registry import EDITS
from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.job import Job, by_id
from tests.said import any_said, of_box

HOUSE = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def known_of(box: Box) -> dict[str, list[str]]:
    """What a person at a box may name: of it, and of its house."""
    documents = Documents(JobAtHand(HOUSE), {})
    job = SimpleNamespace(head=documents.head, sheets=by_id(HOUSE.sheets))
    return of_box(cast(BoxSnapshot, SimpleNamespace(box=box, job=job)))


@pytest.mark.parametrize("name", sorted(EDITS))
@settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck))
@given(box=st.sampled_from(HOUSE.boxes), data=st.data())
def test_it_is_refused_at_a_field_or_leaves_a_whole_job(name: str, box: Box, data: st.DataObject) -> None:
    kind = EDITS[name]
    said = data.draw(any_said(kind, known_of(box)))
    assume("\ud800" not in said.values())  # halves of characters are refused before an edit is read
    if "box" in kind.model_fields:
        said["box"] = box.id
    try:
        edited = kind.read(said).apply(Documents(JobAtHand(HOUSE), {}))
    except Rejected as wrong:
        fields = {problem.path[0] for problem in wrong.problems if problem.path}
        assert wrong.problems and all(problem.sentence for problem in wrong.problems)
        assert fields <= {*kind.model_fields}, fields
        return
    job = edited.documents.job
    assert edited.sentence and Job.model_validate_json(job.model_dump_json(exclude_none=True)) == job
