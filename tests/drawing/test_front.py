"""The box from the front: everything inside it lies where it is, to scale."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from nail_count.drawing.front import GANG, front
from nail_count.drawing.warm import LEAST_SHOWN, MOST_STROKES, warm
from nail_count.trade.model.box import Box
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.rules.load.heat import Warmth
from tests.support import DIMMER, SHEETS, SWITCH, any_box, box, cables, on


@given(any_box())
def test_every_device_stands_in_its_gang_and_every_other_gang_is_empty(at: Box) -> None:
    drawn = front(at, SHEETS)
    assert len(drawn.gangs) == at.enclosure.gangs == len(drawn.bodies) + len(drawn.empty)
    for body in drawn.bodies:
        assert abs(body.rect.centre[0] - drawn.gangs[body.device.gang - 1]) < 1e-9
    for one, other in zip(drawn.gangs, drawn.gangs[1:], strict=False):
        assert abs(other - one - GANG) < 1e-9
    for entry in drawn.entries:
        inside = drawn.inside
        assert -1e-9 <= entry.mouth[0] <= inside.width + 1e-9 and -1e-9 <= entry.mouth[1] <= inside.height + 1e-9
        assert len(entry.wires) == entry.cable.insulated + entry.cable.grounds
    assert f"{at.enclosure.gangs} gang" in drawn.facts


def test_a_body_is_drawn_by_its_sheet_and_the_usual_one_where_it_says_nothing() -> None:
    size = {"width": "50 mm", "height": "60 mm", "projection": "30 mm"}
    known = SWITCH.changed(id="known", body=Datasheet.model_validate(
        {"id": "k", "name": "K", "kind": "switch", "body": size}).body)  # fmt: skip
    drawn = front(box(gangs=2, devices=(on(1, known), on(2))), SHEETS | {"known": known})
    one, other = drawn.bodies
    assert (one.rect.width, one.rect.height, one.assumed) == (50, 60, False) and other.assumed


def test_a_trade_size_gives_the_inside_its_measure() -> None:
    """A 4 × 4 box is 4 in wide: 101.6 mm; NEC Table 314.16(A) by its name."""
    assert round(front(box("4x1-1/2 square"), SHEETS).inside.width, 1) == 101.6


def test_side_sections_are_drawn_off_between_neighbors_only() -> None:
    drawn = front(box(gangs=3, devices=(on(1, DIMMER), on(2, DIMMER), on(3, DIMMER))), SHEETS)
    assert [[off for _, off in body.fins] for body in drawn.bodies] == [[False, True], [True, True], [True, False]]


@given(st.lists(st.floats(0, 80), min_size=3, max_size=3))
def test_warm_gangs_are_tinted_from_two_kelvin_on_and_marked_the_more_the_warmer(rises: list[float]) -> None:
    drawn = front(box(gangs=3, entering=cables("14/2")), SHEETS)
    shown = warm(drawn, Warmth(25.0, tuple(rises), {"d1": 2.0, "d2": 0.0}, {}))
    tinted = shown.gangs if shown else ()
    assert [one.gang for one in tinted] == [n for n, rise in enumerate(rises, 1) if rise >= LEAST_SHOWN]
    strokes = [len(one.strokes) for one in sorted(tinted, key=lambda one: one.rise)]
    assert strokes == sorted(strokes) and all(1 <= count <= MOST_STROKES for count in strokes)
