"""A verdict on what is usual equals the check with each of it entered as a fact, and is never a plain pass."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.demo.house import library
from nail_count.files.report import check_data, check_text
from nail_count.trade.assume.usual import usual
from nail_count.trade.assume.verdict import verdict_of, verdicts_of
from nail_count.trade.edits.survey import SetFound
from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box
from nail_count.trade.model.job import Job, Terms, by_id
from nail_count.trade.rules.check import check_box, check_job
from tests.trade.assume.test_usual import ONE, box_of

SHEETS, VOLTS = by_id(library()), {"5": 120}


def looked(box: Box, neutral: bool) -> Box:
    """The box after a person entered it, by the edit the page makes."""
    return SetFound.read({"box": box.id, "neutral": str(neutral).lower()}).change(box, SHEETS).box


CABLES = st.lists(st.sampled_from(("14/2", "14/2", "12/2", "14/3")), max_size=4).map(", ".join)
DEVICES = st.lists(st.sampled_from((ONE, "smart switch", "toggle")), max_size=2)
BOXES = st.builds(
    lambda volume, cables, devices: box_of(f"{max(len(devices), 1)}g {volume}in3; {cables}; {'; '.join(devices)}"),
    st.integers(10, 40), CABLES, DEVICES,
)  # fmt: skip


@given(BOXES, st.booleans())
def test_it_equals_the_check_with_the_facts_entered(box: Box, on_a_circuit: bool) -> None:
    terms, box = Terms(), box.changed(circuit="5" if on_a_circuit else None)
    check = check_box(box, SHEETS, terms, VOLTS)
    verdict = verdict_of(check, SHEETS, terms, VOLTS)
    if not verdict.rests_on:
        assert verdict.state is check.state and verdict.words == check.state.word
        return
    (assumed,) = verdict.rests_on
    assert assumed.neutral is not None
    entered = check_box(looked(check.box, assumed.neutral), SHEETS, terms, VOLTS)
    assert check.state is State.OPEN and entered.state is verdict.state
    others = [answer for answer in check.answers if answer.about != "prohibitions"]
    assert [answer for answer in entered.answers if answer.about != "prohibitions"] == others
    assert usual(entered.box, SHEETS, terms) == (), "an assumption is gone when the fact is entered"


@pytest.mark.parametrize(
    ("line", "words"),
    [
        (f"1g 20in3; 14/2, 14/2; {ONE}", "holds if the whites of A and B are tied together in the back"),
        (f"1g 14in3; 14/2, 14/2; {ONE}", "tight if the whites of A and B are tied together in the back"),
        (f"1g 20in3; 14/2; {ONE}", "fails if cable A is a switch loop from the light, without a neutral"),
        (f"1g 12in3; 14/2, 14/2; {ONE}", "fails"),
        (f"1g; 14/2, 14/2; {ONE}", "open"),
        ('1g 20in3; 14/2, 14/2; toggle "Hall" 4x9W led', "holds"),
    ],
)
def test_the_usual_box_comes_out_as_the_trade_knows_it(line: str, words: str) -> None:
    """By hand: 14 in³ hold exactly 14 (4 × 2, 2 × 2, 2); what fails anyway, or lacks a volume, rests on nothing."""
    check = check_box(box_of(line), SHEETS, Terms(), {})
    assert verdict_of(check, SHEETS, Terms(), {}).words == words


def test_a_box_that_holds_if_is_open_in_every_file() -> None:
    job = Job(name="House", sheets=library(), boxes=(box_of(f"1g 20in3; 14/2, 14/2; {ONE}"),))
    check = check_job(job)
    (verdict,) = verdicts_of(job, check)
    (box,) = check_data(job, check)["boxes"]
    assert verdict.state is State.HOLDS and box["state"] == "open" and box["verdict"].startswith("holds if ")
    assert json.dumps(box["rests_on"]) and box["rests_on"][0]["code"] == "whites-tied"
    text = check_text(job, check)
    assert "[OPEN ]" in text and "Holds if the whites of A and B" in text and "1 box: 0 holds, 0 tight, 1 open" in text
