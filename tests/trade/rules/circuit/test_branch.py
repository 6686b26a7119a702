"""Circuits: worked cases reckoned by hand, and what must be true of every one."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import Answer, State
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Job, Terms
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.check import check_job
from nail_count.trade.rules.circuit.branch import circuit_load, feeder_findings
from nail_count.trade.rules.circuit.panel import findings
from tests.support import SWITCH, cables, figures, on
from tests.trade.rules.circuit.feeding import GENERAL, PART, SHEETS, asked, fed, finding, watts


@pytest.mark.parametrize(
    ("answer", "counted", "limit", "state"),
    [
        # NEC 210.20(A): 900 + 1.25 × 700 = 1775 of 15 × 120
        (asked(*PART), 1775, 1800, State.TIGHT),
        (asked(*PART, terms=Terms(code="nec-2017")), 1775, 1800, State.TIGHT),
        # CSA 8-104: presumed continuous unless shown otherwise, 80 % of 1800
        (asked(*PART, terms=Terms(code="csa")), 1600, 1440, State.FAILS),
        (asked(fed("a", watts(1600, continuous=False)), terms=Terms(code="csa")), 1600, 1800, State.HOLDS),
        # UK: no such factor, 6 A × 230 V
        (asked(*PART, breaker=6, terms=Terms(code="uk", voltage=230)), 1600, 1380, State.FAILS),
        # heating is always continuous: 1.25 × 1400 = 1750
        (asked(fed("a", {"kind": "heater", "each": "1400 W"})), 1750, 1800, State.TIGHT),
        # ½ hp: 9.8 A × 120 V
        (asked(fed("a", {"kind": "motor", "each": "1/2 hp"})), 1176, 1800, State.HOLDS),
        # both legs: 20 A × 240 V, 12.5 A × 240 V × 1.25
        (
            asked(fed("a", {"kind": "heater", "each": "12.5 A"}), breaker=20, poles=2, serves="one load"),
            3750,
            4800,
            State.HOLDS,
        ),
    ],
)
def test_worked_cases(answer: Answer, counted: int, limit: int, state: State) -> None:
    assert (answer.total, answer.limit, answer.state) == (F(counted), F(limit), state), answer.headline


def test_a_box_on_a_two_pole_breaker_is_reckoned_at_both_legs() -> None:
    """A heater of 3000 W: 12.5 A at 240 V, within 15 A; at 120 V it would be 25 A."""
    box = fed("a", {"kind": "heater", "each": "3000 W"}, circuit="2/4")
    for serves, amps, state in (
        ("one load", F(25, 2), State.HOLDS),
        ("multiwire", F(25), State.FAILS),
        (None, F(25), State.FAILS),
    ):
        circuit = Circuit.model_validate({"id": "2/4", "breaker": 20, "poles": 2, "serves": serves})
        job = Job(name="J", circuits=(circuit,), sheets=(GENERAL,), boxes=(box,))
        rating = check_job(job).boxes[0].ratings[0]
        assert (rating.total, rating.state) == (amps, state)


@pytest.mark.parametrize(
    ("wire", "metal", "breaker", "most"),
    [("14/2", "copper", 20, 15), ("12/2", "copper", 25, 20), ("10/2", "copper", 35, 30), ("12/2", "aluminum", 20, 15),
     ("10/2", "aluminum", 30, 25)],
)  # fmt: skip
def test_the_thinnest_wire_on_the_way(wire: str, metal: str, breaker: int, most: int) -> None:
    """NEC 240.4(D), from memory of the publication: 14 AWG 15 A, 12 20, 10 30; aluminum 12 AWG 15 A, 10 25."""
    entering = [cable.model_dump() | {"metal": metal} for cable in (*cables(wire), *cables("10/2")[:0])]
    answer = asked(fed("a", watts(100), cables=entering), breaker=breaker)
    assert answer.state is State.FAILS and answer.limit == most * 120
    assert figures(answer.headline)[-1] == most and answer.limit_lines[1].rule.article == "240.4(D)"
    protected = asked(fed("a", watts(100), cables=entering), breaker=most)
    assert protected.state is State.HOLDS and protected.limit == most * 120


def test_standby_of_many_adds_up() -> None:
    """Forty at 0.6 W are 24."""
    many = [fed(f"b{n}", devices=[{"id": "d1", "gang": 1, "sheet": "smart"}]) for n in range(40)]
    answer = asked(*many)
    assert answer.total == 24 and answer.lines[0].kind == "standby"


def test_two_circuits_in_a_box_stay_two() -> None:
    """What is said to be on the other circuit counts there; a cable of a shared box says nothing of either's wire."""
    second = on(2, SWITCH, None, watts(500)).model_dump() | {"circuit": "2"}
    shared = fed("a", other_circuits=["2"], cables=[c.model_dump() for c in cables("14/2")],
                 devices=[on(1, SWITCH, None, watts(300)).model_dump(), second], enclosure={"gangs": 2})  # fmt: skip
    one = asked(shared, breaker=20)
    assert (one.total, one.limit, one.state) == (F(300), F(2400), State.HOLDS)
    assert finding(one, "two-circuits-in-box")
    assert circuit_load(Circuit(id="2"), [shared], SHEETS, terms=Terms()).total == 500


@pytest.mark.parametrize(
    ("spaces", "amps", "state", "code"),
    [
        ((1, 3), {5}, State.HOLDS, "neutral-carries-difference"),
        ((1, 2), {15}, State.FAILS, "neutral-carries-sum"),
        ((1, None), set(), State.OPEN, "neutral-legs-not-known"),
    ],
)
def test_a_shared_neutral(spaces: tuple[int, int | None], amps: set[int], state: State, code: str) -> None:
    """1200 VA and 600 VA at 120 V: 10 − 5 A on opposite legs, 10 + 5 on one."""
    beside = Circuit(id="2", space=spaces[1])
    boxes = fed("a", watts(1200)), fed("b", watts(600), circuit="2")
    answer = asked(*boxes, beside=beside, space=spaces[0], neutral_with="2")
    found = finding(answer, code)
    assert found.state is state and amps <= set(figures(found.text))
    assert finding(answer, "neutral-not-through-device").rule.article == "300.13(B)"


def test_a_neutral_carries_what_is_drawn_not_what_counts_against_the_breaker() -> None:
    """1200 VA all day counts 1500 VA on its breaker, and draws 10 A; beside 5 A the neutral carries 5."""
    boxes = fed("a", watts(1200, continuous=True)), fed("b", watts(600, continuous=True), circuit="2")
    answer = asked(*boxes, beside=Circuit(id="2", space=3), space=1, neutral_with="2")
    assert answer.total == 1500
    assert figures(finding(answer, "neutral-carries-difference").text)[-2:] == (5, 10), "the difference, and the larger"


def test_devices_that_use_the_ground() -> None:
    """NEC 404.22, from memory of the publication: five on a branch circuit, twenty-five on a feeder."""
    boxes = [fed(f"b{n}", devices=[{"id": "d1", "gang": 1, "sheet": "ground"}], circuit=str(n // 5)) for n in range(26)]
    five = circuit_load(Circuit(id="0"), boxes, SHEETS, terms=Terms())
    assert finding(five, "ground-users").state is State.HOLDS
    six = [box.changed(circuit="0") for box in boxes[:6]]
    assert circuit_load(Circuit(id="0"), six, SHEETS, terms=Terms()).state is State.FAILS
    assert [next(feeder_findings(boxes[:n], SHEETS, Terms())).state for n in (25, 26)] == [State.HOLDS, State.FAILS]


@pytest.mark.parametrize(
    ("rated", "count", "each", "state"),
    [("20 A", 2, "15 A", State.HOLDS), ("10 A", 2, "15 A", State.FAILS), ("15 A", 2, "15 A", State.FAILS),
     ("15 A", 1, "15 A", State.HOLDS), ("10 A", 1, "15 A", State.FAILS)],
)  # fmt: skip
def test_a_switch_for_receptacles_is_rated_for_the_breaker_or_for_the_one(
    rated: str, count: int, each: str, state: State
) -> None:
    """NEC 404.14(F), from memory of the publication, on a breaker of 20 A. Outlets themselves count nothing."""
    sheet = Datasheet.model_validate(GENERAL.model_dump() | {"channels": [{"ratings": {"general": {"alone": rated}}}]})
    box = fed("a", {"kind": "receptacle", "each": each, "quantity": count})
    answer = circuit_load(Circuit(id="1", breaker=20), [box], {"switch": sheet}, terms=Terms())
    assert answer.state is state and answer.total == 0
    assert (state is State.FAILS) == any(remark.rule.article == "404.14(F)" for remark in answer.remarks)
    assert finding(answer, "receptacles-not-counted")


def test_what_is_not_known_is_open_and_never_a_pass() -> None:
    answer = asked(fed("a", {"kind": "fan", "each": "85 W"}))
    assert answer.state is State.OPEN and [line.value for line in answer.lines if line.value is None]
    over = asked(fed("a", {"kind": "fan", "each": "85 W"}, watts(2000)))
    assert over.state is State.FAILS  # whatever the fan draws
    assert asked().state is State.HOLDS and figures(asked().headline) == ()


@given(st.lists(st.tuples(st.integers(1, 60), st.booleans()), max_size=6), st.sampled_from(("nec-2023", "csa", "uk")))
def test_it_is_the_sum_of_its_boxes_in_any_order(loads: list[tuple[int, bool]], code: Any) -> None:
    boxes = [fed(f"b{n}", watts(50 * count, continuous=long)) for n, (count, long) in enumerate(loads)]
    answer = asked(*boxes, terms=Terms(code=code))
    plain = sum((F(50 * count) for count, _ in loads), F(0))
    more = sum((F(50 * count, 4) for count, long in loads if long), F(0)) if code == "nec-2023" else 0
    assert answer.total == plain + more == asked(*reversed(boxes), terms=Terms(code=code)).total
    assert answer.limit == (1440 if code == "csa" and any(long for _, long in loads) else 1800)


def test_two_poles_are_asked_about_and_their_sides_are_not_taken_for_one_load() -> None:
    """Two sides of 15 A at 120 V: of 3000 VA nobody knows what hangs on which; 3700 are over."""
    for watts_on, state in ((1500, State.HOLDS), (3000, State.OPEN), (3700, State.FAILS)):
        assert asked(fed("a", watts(watts_on)), poles=2, serves="multiwire").state is state
    unsaid = asked(fed("a", watts(1500)), poles=2)
    assert unsaid.state is State.OPEN and finding(unsaid, "two-poles-not-said", "one-leg", "legs-not-known").ways


def test_a_device_on_a_circuit_of_its_own_is_reckoned_at_its_volts() -> None:
    """3000 W on the circuit of 240 V are 12.5 A, whatever the rest of the box hangs on."""
    box = fed("a", {"kind": "heater", "each": "3000 W"}, circuit="1", other_circuits=["2/4"])
    device = box.devices[0].changed(circuit="2/4")
    two = (Circuit(id="1"), Circuit(id="2/4", breaker=20, poles=2, serves="one load"))
    job = Job(name="J", circuits=two, sheets=(GENERAL,), boxes=(box.changed(devices=(device,)),))
    assert check_job(job).boxes[0].ratings[0].total == F(25, 2)
    other = job.changed(
        boxes=(box.changed(circuit="2/4", other_circuits=("1",), devices=(device.changed(circuit="1"),)),)
    )
    assert check_job(other).boxes[0].ratings[0].total == 25


@pytest.mark.parametrize(("tied", "state"), [(True, State.HOLDS), (False, State.FAILS), (None, State.OPEN)])
def test_the_breakers_of_a_multiwire_circuit_open_together(tied: bool | None, state: State) -> None:
    """NEC 210.4(B), from memory: by a tie or as one; recorded."""
    pair = [Circuit(id="1", space=1, neutral_with="2", tied=tied), Circuit(id="2", space=3)]
    found = next(one for one in findings(pair, "nec-2020") if one.code == "open-together")
    assert (found.state, found.rule.article, found.rule.source) == (state, "210.4(B)", "NEC 2020")
    abroad = next(one for one in findings(pair, "csa") if one.code == "open-together")
    assert abroad.state is not State.FAILS and abroad.rule.standing == "practice"


def test_a_canadian_circuit_has_twelve_outlets_at_most() -> None:
    """CSA 8-304, from memory; a load that hangs at no outlet said is one by itself."""
    lamps = [watts(100) for _ in range(6)]
    outlets = [fed(f"o{n}", use="luminaire", devices=[]) for n in range(6)]
    for more, state in (([], State.HOLDS), ([fed("o7", use="receptacle", devices=[])], State.FAILS)):
        answer = asked(fed("a", *lamps), *outlets, *more, terms=Terms(code="csa"))
        found = finding(answer, "outlets-of-circuit")
        assert (found.state, found.rule.article) == (state, "8-304")
    assert "outlets-of-circuit" not in {one.code for one in asked(fed("a", *lamps), *outlets).remarks}


@pytest.mark.parametrize(
    ("kind", "survey", "new", "state"),
    [
        (None, {}, [], None),
        ("plain", {"new_place": True}, [], State.FAILS),
        (None, {"new_place": True}, [], State.OPEN),
        ("GFCI", {"new_place": True}, [], State.FAILS),
        ("AFCI", {"new_place": True}, [], None),
        ("both", {}, ["A"], None),
        ("plain", {}, ["A"], State.OPEN),
    ],
)
def test_what_is_added_brings_arc_protection(
    kind: Any, survey: dict[str, Any], new: list[str], state: State | None
) -> None:
    """NEC 210.12, from memory: more than 6 ft of new cable, or any outlet or device added."""
    box = fed("a", watts(100), survey=survey, cables=[one.model_dump() for one in cables("14/2")])
    box = box.changed(planned=box.contents.changed(new=new))
    found = [one for one in asked(box, kind=kind).remarks if one.code == "afci"]
    assert [one.state for one in found] == ([] if state is None else [state])
    assert all(one.rule.article == "210.12" for one in found)
    assert not any(one.code == "afci" for one in asked(box, kind=kind, terms=Terms(code="uk", voltage=230)).remarks)


@pytest.mark.parametrize(
    ("watts_on", "state", "says"),
    [
        # VA to spare, and A in all; VA over
        (1600, State.HOLDS, (200, F(40, 3))),
        (1620, State.HOLDS, (180, F(27, 2))),
        (1650, State.TIGHT, (150, F(55, 4))),
        (1800, State.TIGHT, (0, 15)),
        (1850, State.FAILS, (50,)),
        (0, State.HOLDS, ()),
    ],
)
def test_what_is_left_of_a_circuit(watts_on: int, state: State, says: tuple[F | int, ...]) -> None:
    """15 A at 120 V are 1800 VA; above 90 %, 1620, it is tight."""
    load = {"kind": "incandescent", "quantity": 1, "each": f"{watts_on} W"}
    answer = asked(fed("a", *([load] if watts_on else [])))
    assert (answer.state, figures(answer.headline)) == (state, says)


@pytest.mark.parametrize(
    ("watts_on", "state"), [(1800, State.OPEN), (1850, State.OPEN), (3600, State.OPEN), (3650, State.FAILS)]
)
def test_two_poles_nobody_said_anything_of(watts_on: int, state: State) -> None:
    """More than one leg may carry is open up to both, since what hangs on which is not said."""
    load = {"kind": "incandescent", "quantity": 2, "each": f"{watts_on / 2} W"}
    answer = asked(fed("a", load), poles=2)
    assert answer.state is state
    assert [one.code for one in answer.remarks if one.code.endswith("said")] == ["two-poles-not-said"]
    sides = [one.code for one in asked(fed("a", load), poles=2, serves="multiwire").remarks]
    assert "sides-not-told-apart" in sides and "two-poles-not-said" not in sides
    one = [one.code for one in asked(fed("a", load), poles=2, serves="one load").remarks]
    assert not {"sides-not-told-apart", "two-poles-not-said"} & set(one)
