"""What holds of every answer: each figure says how it came, and a box's state is the worst of them."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.box import Box
from nail_count.trade.model.edition import EDITIONS, Code
from nail_count.trade.model.job import Job, Terms
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.check import check_box, check_circuits
from nail_count.trade.text.format import say
from tests.support import DIMMER, SHEETS, any_box, box, cables, on

CODES: list[Code] = sorted(EDITIONS)


def adds_up(answer: Answer) -> None:
    """By plain arithmetic: so many of so much are the value, and the values are the sum."""
    for line in (*answer.lines, *answer.limit_lines):
        if line.each is not None and line.value is not None:
            assert line.count * line.each == line.value, line
        if line.each is None and line.value is None:
            assert line.count >= 1, "expected what is not known to be something"
        if line.parts and line.value and line.kind in ("conductors", "devices", "modules", "lamps", "fan", "leads"):
            assert sum(part.count for part in line.parts) in (line.count, len(line.parts)), line
    known = [line.value for line in answer.lines if line.value is not None]
    assert answer.total == (max(known, default=F(0)) if answer.about == "depth" else sum(known, F(0)))
    limits = [line.value for line in answer.limit_lines]
    if answer.limit is not None:
        assert answer.limit == max(sum((value for value in limits if value is not None), F(0)), F(0))


@given(any_box(), st.sampled_from(CODES))
def test_every_figure_says_how_it_came(made: Box, code: Code) -> None:
    check = check_box(made, SHEETS, Terms(code=code))
    for answer in check.answers:
        adds_up(answer)
    assert check.state == max(answer.state for answer in check.answers)
    gangs = [say(line.what) for line in check.fill.lines if line.kind == "devices" and line.value != 0]
    assert gangs == sorted(gangs), "expected the devices from the left"


@pytest.mark.parametrize(
    ("use", "gangs", "filled", "said"),
    [
        ("control", 4, (1,), True),
        ("control", 2, (1,), True),
        ("control", 1, (1,), False),
        ("receptacle", 3, (), False),
    ],
)
def test_gangs_with_nothing_in_them_are_said(use: str, gangs: int, filled: tuple[int, ...], said: bool) -> None:
    made = box("80 in3", gangs, cables("14/2"), tuple(on(gang) for gang in filled)).changed(use=use)
    check = check_box(made, SHEETS)
    assert check.empty == (gangs - len(filled) if use == "control" else 0)
    assert (check.headline != check.fill.headline) is said


def test_what_hangs_on_another_circuit_is_reckoned_at_its_volts() -> None:
    """540 W at 240 V are 2.25 A, at 120 V 4.5 A: a switch of 6 A holds both, and says each."""
    load = {"kind": "incandescent", "each": "540 W"}
    made = box(
        "40 in3", 2, cables("14/2", "14/2"), (on(1, SHEETS["switch"], None, load), on(2, SHEETS["switch"], None, load))
    )
    made = made.changed(circuit="1", other_circuits=("2",))
    made = made.changed(devices=(made.devices[0], made.devices[1].changed(circuit="2")))
    totals = [answer.total for answer in check_box(made, SHEETS, circuits={"1": 120, "2": 240}).ratings]
    assert totals == [F("4.5"), F("2.25")]


def test_the_circuits_of_a_multiwire_pair_know_each_other_from_both_sides() -> None:
    """Only one of the two says that it shares its neutral; both carry the difference of what hangs on both."""
    led = {"kind": "incandescent", "each": "120 W"}
    first = box("40 in3", 1, cables("14/2"), (on(1, DIMMER, None, led),)).changed(id="one", circuit="1")
    second = first.changed(id="two", circuit="2")
    circuits = (Circuit(id="1", space=1, neutral_with="2"), Circuit(id="2", space=3))
    job = Job(name="J", circuits=circuits, sheets=tuple(SHEETS.values()), boxes=(second, first))
    codes = [{remark.code for remark in answer.remarks} for answer in check_circuits(job)]
    assert codes[0] & codes[1] >= {"neutral-carries-difference"}
    lone = Job(name="J", circuits=(Circuit(id="1"),), sheets=tuple(SHEETS.values()), boxes=(first,))
    (answer,) = check_circuits(lone)
    assert not {remark.code for remark in answer.remarks} & {"neutral-carries-difference", "neutral-legs-not-known"}
    adds_up(answer)
    assert answer.state is State.HOLDS and (answer.total, answer.limit) == (F(120), F(1800))
