"""What a person decides about days: as people write it, refused in a sentence, following what it is about."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

import pytest

from nail_count.files.job_json import read_job
from nail_count.trade.documents import Documents, JobAtHand
from nail_count.trade.edits.registry import read_edit
from nail_count.trade.model.day import DayTerms
from nail_count.trade.model.errors import Rejected

HALL = read_job((files("nail_count.demo") / "schoolhouse.json").read_bytes())


def after(*acts: tuple[str, dict[str, Any]]) -> Documents:
    documents = Documents(JobAtHand(HALL), {})
    for name, said in acts:
        documents = read_edit(name, said).apply(documents).documents
    return documents


def day(*acts: tuple[str, dict[str, Any]]) -> DayTerms:
    return after(*acts).head.day


def test_hours_and_promises_as_people_write_them() -> None:
    said = day(
        ("set-day", {"start": "7.30 am", "end": "4 pm", "people": "2", "days": "1", "light_from": "", "light_to": ""}),
        ("add-break", {"start": "9:15", "end": "9:30"}),
        ("remove-break", {"start": "12"}),
        ("put-promise", {"circuit": "1", "what": "freezer", "back_by": "", "longest": "1 h 30"}),
        ("set-place", {"box": "study", "minutes": "1:30", "leave_out": "false"}),
        ("plan-from", {"resume": "10:40"}),
    )
    assert (said.start, said.end, said.people, said.resume) == (450, 960, 2, 640)
    assert [(pause.start, pause.end) for pause in said.breaks] == [(555, 570)]
    assert {one.circuit: one.longest for one in said.promises}["1"] == 90 and said.place("study").minutes == 90


@pytest.mark.parametrize(
    ("name", "said", "field"),
    [
        ("set-day", {"start": "8", "end": "7"}, "start"),
        ("set-day", {"start": "25:00", "end": "7"}, "start"),
        ("add-break", {"start": "13:00", "end": "12:45"}, "start"),
        ("add-break", {"start": "12:15", "end": "13:00"}, "start"),
        ("put-promise", {"circuit": "99", "back_by": "8"}, "circuit"),
        ("put-promise", {"circuit": "1"}, "circuit"),
        ("keep-apart", {"one": "1", "other": "1"}, "one"),
        ("set-place", {"box": "nowhere", "minutes": "5"}, "box"),
        ("set-place", {"box": "study", "minutes": "3 days"}, "minutes"),
        ("allow-together", {"one": "1", "other": "3"}, "one"),
        ("plan-from", {"resume": "soon"}, "resume"),
    ],
)
def test_what_cannot_be_is_said_at_its_field(name: str, said: dict[str, Any], field: str) -> None:
    with pytest.raises(Rejected) as wrong:
        day((name, said))
    assert wrong.value.problems[0].path[0] == field and wrong.value.sentence[:1].isupper()


def test_a_circuit_renumbered_or_gone_is_followed() -> None:
    kept = (("put-promise", {"circuit": "10", "back_by": "9"}), ("keep-apart", {"one": "10", "other": "1"}))
    moved = day(*kept, ("put-circuit", {"id": "12", "was": "10", "breaker": "15", "space": "12"}))
    assert "12" in {one.circuit for one in moved.promises} and ("12", "1") in {
        (one.one, one.other) for one in moved.apart
    }
    gone = day(*kept, ("remove-circuit", {"id": "10"}))
    assert {one.circuit for one in gone.promises} == {"9"} and {(one.one, one.other) for one in gone.apart} == {
        ("5", "6")
    }
    assert {one.circuit for one in day(*kept, ("remove-promise", {"circuit": "9"})).promises} == {"10"}


def test_the_shelf_keeps_what_is_said_of_a_part_once() -> None:
    put = {"kind": "connector", "of": "large", "on_hand": "12", "pack": ""}
    shelf = after(("put-on-shelf", put), ("put-on-shelf", {**put, "on_hand": "3"})).head.shelf
    assert [(one.on_hand, one.pack) for one in shelf if one.of == "large"] == [(3, 1)]
    emptied = after(("put-on-shelf", put), ("put-on-shelf", {**put, "on_hand": "0"})).head.shelf
    assert not [one for one in emptied if one.of == "large"]
    with pytest.raises(Rejected, match="Enter how many there are, or by how many it is sold"):
        after(("put-on-shelf", {**put, "on_hand": ""}))
