"""The panel as found, the bar of a channel, the box from the side, the conductors: where everything lies."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.drawing.bar import bar
from nail_count.drawing.side import side
from nail_count.drawing.wires import wires
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.panel import Circuit, Panel
from nail_count.trade.plan.panel_rows import panel_rows
from nail_count.trade.rules.check import check_box
from nail_count.trade.wiring.identify.infer import infer
from tests.support import DIMMER, SHEETS, box, cables, on


@given(st.lists(st.tuples(st.integers(1, 30), st.sampled_from([1, 2])), unique_by=lambda one: one[0], max_size=12))
def test_every_breaker_is_shown_once_in_its_space_or_beside_the_panel(placed: list[tuple[int, int]]) -> None:
    circuits = [Circuit(id=str(space), space=space, poles=poles) for space, poles in placed]
    drawn = panel_rows(Panel(spaces=24), [*circuits, Circuit(id="x")])
    cells = {cell.space: cell for row in drawn.rows for cell in row}
    assert sorted(cells) == list(range(1, 25)) and all(row[0].space % 2 for row in drawn.rows)
    shown = [circuit.id for cell in cells.values() for circuit in cell.circuits]
    assert sorted([*shown, *(one.id for one in drawn.unplaced)]) == sorted([*(str(s) for s, _ in placed), "x"])
    assert all(circuit.space == space for space, cell in cells.items() for circuit in cell.circuits)
    lower = {space + 2 for space, poles in placed if poles == 2 and space + 2 <= 24}
    assert {space for space, cell in cells.items() if cell.continues} == lower


def test_a_bar_is_the_rating_cut_back_to_the_limit() -> None:
    """In the middle of three the sheet gives 90 W in place of 140 W: one cut of 50 W."""
    hung = {"kind": "led", "each": "9 W", "quantity": 11}
    three = box(gangs=3, devices=(on(1, DIMMER), on(2, DIMMER, None, hung), on(3, DIMMER)))
    answer = next(one for one in check_box(three, SHEETS).ratings if str(one.subject) == "d2/1")
    drawn = bar(answer)
    assert [str(one) for one in (drawn.rating, drawn.limit, drawn.connected, drawn.scale)] == ["140", "90", "99", "140"]
    assert [(str(cut.start), str(cut.length)) for cut in drawn.cuts] == [("90", "50")]


def test_a_body_that_is_too_deep_touches_the_back_wall() -> None:
    deep = Datasheet.model_validate(
        {
            "id": "deep",
            "name": "Deep",
            "kind": "dimmer",
            "body": {"width": "44 mm", "height": "70 mm", "projection": "45 mm"},
        }
    )
    for depth, touches in (("44 mm", True), ("60 mm", False)):
        at = box(devices=(on(1, deep),), depth=depth)
        drawn = side(at, {"deep": deep}, None, "nec-2023")
        assert drawn.known and drawn.lanes[0].back == 45 and drawn.lanes[0].touches is touches
        assert ("too deep" in drawn.facts) is touches
    assert not side(box(devices=(on(1, deep),)), {"deep": deep}, None, "nec-2023").known


def test_every_conductor_is_drawn_under_its_cable_and_open_ones_say_so() -> None:
    at = box(entering=cables("14/2", "14/3"))
    drawn = wires(at, infer(at))
    assert [strand.id for strand in drawn.strands] == ["A1", "A2", "B1", "B2", "B3"]
    for sheath in drawn.sheaths:
        under = [strand.x for strand in drawn.strands if strand.id.startswith(sheath.letter)]
        assert all(sheath.x < x < sheath.x + sheath.width for x in under)
    assert all(strand.letter == "?" for strand in drawn.strands if strand.told.standing == "open")
    assert all(0 < strand.end < drawn.height and strand.x < drawn.width for strand in drawn.strands)
