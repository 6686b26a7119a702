"""The survey, the interview and the search for the breaker, as edits of a box."""

from __future__ import annotations

from collections.abc import Mapping

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.box import Box
from nail_count.trade.model.errors import Rejected
from nail_count.trade.model.panel import Circuit
from nail_count.trade.model.survey import TEST_NAMES, UNCOVERED
from nail_count.trade.rules.check import check_box
from nail_count.trade.survey.next_breaker import next_breakers, panel_is_unlabelled
from nail_count.trade.survey.open_points import open_at_panel, open_points, survey_steps
from nail_count.trade.text.format import say
from nail_count.trade.text.loads import read_loads, write_loads
from tests.support import BLANK, SHEETS, box, cables, on
from tests.trade.editing import edit_box

EMPTY = Box(id="hall", name="Stair foot", room="Hall")


def act(start: Box, *edits: tuple[str, Mapping[str, object]]) -> Box:
    for name, said in edits:
        start = edit_box(start, name, said, SHEETS).box
    return start


@given(st.permutations([(stage, tick) for stage in UNCOVERED for tick in TEST_NAMES]))
def test_dead_is_proven_only_by_all_three_in_their_order(order: list[tuple[str, str]]) -> None:
    """Tester before, box, tester after (common practice): no other order of ticks ever proves a stage."""
    now = EMPTY
    made: dict[str, list[str]] = {stage: [] for stage in UNCOVERED}
    for stage, tick in order:
        if list(TEST_NAMES).index(tick) == len(made[stage]):  # type: ignore[arg-type]
            made[stage].append(tick)
            now = act(now, ("tick-dead", {"stage": stage, "tick": tick}))
        else:
            with pytest.raises(Rejected, match=r"Tick|already"):
                act(now, ("tick-dead", {"stage": stage, "tick": tick}))
    for stage in UNCOVERED:
        assert now.survey.proven(stage) == (made[stage] == list(TEST_NAMES))


def test_a_breaker_on_again_undoes_the_later_proofs_too() -> None:
    ticks = [("tick-dead", {"stage": stage, "tick": tick}) for stage in UNCOVERED for tick in TEST_NAMES]
    proven = act(EMPTY, *ticks)
    assert all(map(proven.survey.proven, UNCOVERED))
    again = act(proven, ("clear-dead", {"stage": "plate off"}))
    assert [again.survey.proven(stage) for stage in UNCOVERED] == [True, False, False]


def test_what_is_not_known_stays_open_and_closes_one_by_one() -> None:
    before = box("18 in3", 1, cables("14/2"))
    left = [point.sentence for point in open_points(before)]
    assert "Look at the free length and wire ends: cable A" in left and "Find the breaker that feeds it" in left
    after = act(
        before,
        ("set-gangs", {"gangs": 2}),
        ("set-material", {"material": "nonmetallic"}),
        ("set-clamps", {"clamps": "false"}),
        ("look", {"fact": "ring", "seen": "true"}),
        ("look", {"fact": "cables", "seen": "true"}),
        ("set-inside", {"depth": "2 7/8"}),
        ("set-setback", {"setback": "1/4"}),
        ("set-holes", {"holes": "sound", "plaster": "clear"}),
        ("change-cable", {"cable": "A", "gauge": "#14", "insulated": 2, "free": '6"', "condition": "sound"}),
        ("add-photo", {"photo": "0123456789abcdef"}),
        ("set-found", {"neutral": "false", "damp": "false"}),
    )
    assert [point.step for point in open_points(after)] == ["breaker", *("dead" for _ in UNCOVERED), "depth"]
    assert [step.step for step in survey_steps(after) if not step.done] == ["breaker", "dead", "depth"]
    back = act(after, ("set-setback", {"setback": "1/4", "wall": "combustible"}))
    assert "depth" in [step.step for step in survey_steps(back) if step.done]


@pytest.mark.parametrize(
    ("edit", "said", "field"),
    [
        ("set-setback", {"setback": "9"}, "setback"),
        ("set-inside", {"depth": "1/8 in"}, "depth"),
        ("change-cable", {"cable": "Z", "gauge": 14, "insulated": 2}, "cable"),
        ("change-cable", {"cable": "A", "gauge": 14, "insulated": 2, "free": "90 in"}, "free"),
        ("remove-ring", {"ring": 1}, "ring"),
        ("remove-photo", {"photo": "00"}, "photo"),
        ("add-photo", {"photo": "../../etc"}, "photo"),
        ("set-wish", {"loads": "lots of lamps"}, "loads"),
        ("set-wish", {"wish": "w9"}, "wish"),
        ("remove-wish", {"wish": "w9"}, "wish"),
    ],
)
def test_what_cannot_be_is_refused_at_its_field(edit: str, said: dict[str, object], field: str) -> None:
    with pytest.raises(Rejected, match=r"^[A-Z]") as wrong:
        act(box("18 in3", 1, cables("14/2")), (edit, said))
    assert wrong.value.field == field


PANEL = [
    Circuit(id="1", label="Range", breaker=40, space=1),
    Circuit(id="2", space=2),
    Circuit(id="3", label="Hall lights", space=3),
    Circuit(id="4", label="Water heater", breaker=20, poles=2, space=4),
    Circuit(id="5", label="Plugs", breaker=20, space=5),
]


def test_labels_order_the_search_and_rule_nothing_out() -> None:
    now, off = EMPTY, []
    while row := next_breakers(now, PANEL):
        off.append(row[0].circuit.id)
        now = act(now, ("try-breaker", {"circuit": row[0].circuit.id, "went_out": "false"}))
    assert off[0] == "3" and off[-1] == "4" and sorted(off) == ["1", "2", "3", "4", "5"]
    assert now.circuit is None
    with pytest.raises(Rejected, match="not been tried"):
        act(now, ("try-breaker", {"circuit": "1", "went_out": "true"}))
    found = act(now, ("search-again", {}), ("try-breaker", {"circuit": "2", "went_out": "true"}))
    assert found.circuit == "2"


def test_a_panel_is_unlabeled_only_where_no_label_says_anything() -> None:
    assert panel_is_unlabelled([Circuit(id="1"), Circuit(id="2", label=" ")])
    assert not panel_is_unlabelled(PANEL)


@given(
    st.lists(
        st.tuples(
            st.integers(1, 99), st.decimals("0.5", "300", places=1), st.sampled_from(("led", "incandescent", "fan"))
        ),
        max_size=4,
    )
)
def test_loads_read_back_as_written(loads: list[tuple[int, object, str]]) -> None:
    text = ", ".join(f"{count} x {each} W {kind}" for count, each, kind in loads)
    read = read_loads(text)
    assert [(load.quantity, load.each.value, load.kind) for load in read] == [
        (count, each, kind) for count, each, kind in loads
    ]
    assert read_loads(write_loads(read)) == read


def test_a_wish_is_asked_changed_and_dropped() -> None:
    said = {"what": "Stair light", "places": "3", "does": "on and off,dim", "loads": "6x9W led", "without_network": ""}
    asked = act(EMPTY, ("set-wish", said))
    wish = asked.wishes[0]
    assert (wish.places, wish.does, wish.without_network, wish.asked) == (3, ("on and off", "dim"), None, 3)
    more = act(asked, ("set-wish", said | {"wish": "w1", "without_network": "true", "stays": "the plate"}))
    assert len(more.wishes) == 1 and more.wishes[0].asked == 5
    assert act(more, ("remove-wish", {"wish": "w1"})).wishes == ()


def test_looks_of_many_cables_are_one_point_and_what_decides_is_told_apart() -> None:
    """Twelve looks of six cables are one line; a picture changes no answer, a volume may."""
    points = open_points(box("18 in3", 2, cables(*["14/2"] * 6)))
    assert [one.detail for one in points if one.step == "cables"][-1] == "cables A to F"
    assert {one.step: one.decides for one in points} | {"volume": True} == {
        "breaker": True, "dead": False, "photos": False, "gangs": True, "volume": True, "depth": True, "clamps": True,
        "ring": True, "holes": False, "cables": True,
    }  # fmt: skip


def test_what_is_to_be_seen_at_the_panel_is_asked_of_the_breakers_that_feed_a_box() -> None:
    """The page on the survey: of a breaker its type, of two poles what they serve, of a shared neutral the tie."""
    circuits = (
        Circuit(id="1"), Circuit(id="2", kind="plain"), Circuit(id="3", poles=2),
        Circuit(id="4", kind="GFCI", neutral_with="2"), Circuit(id="5"),
    )  # fmt: skip
    fed = box("18 in3").changed(circuit="1", other_circuits=("2", "3", "4"))
    assert [said.partition(":")[0] for said in open_at_panel(circuits, fed.circuits)] == [
        "Breakers 1, 3",
        "Breaker 3",
        "Breaker 4",
    ]
    known = Circuit(id="1", kind="both", poles=2, serves="one load")
    assert open_at_panel((known,), fed.circuits) == ()


def test_a_box_with_empty_gangs_holds_so_far() -> None:
    filled = box("60 in3", 4, cables("14/2"), (on(1), on(3, BLANK)))
    assert say(check_box(filled, SHEETS).headline).endswith("to spare so far; 2 gangs empty")
    assert "so far" not in say(check_box(box("20 in3", 1, cables("14/2"), (on(1),)), SHEETS).headline)
    over = box("10 in3", 4, cables("14/2", "14/2"), (on(1),))
    assert "so far" not in say(check_box(over, SHEETS).headline)
