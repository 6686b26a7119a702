"""Whether a box fits its job: what fits is left alone, what does not is named and can be mended."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import State
from nail_count.trade.model.box import Box, Module
from nail_count.trade.model.datasheet import Datasheet
from nail_count.trade.model.job import Job, by_id
from nail_count.trade.model.panel import Circuit, Panel
from nail_count.trade.model.stock import StockBox
from nail_count.trade.rules.check import check_box, check_job, fitting_job
from nail_count.trade.rules.fit.box import added, fit, newly_wrong
from nail_count.trade.rules.fit.house import house_misfits, stock_misfits
from nail_count.trade.search.smallest_box import smallest
from tests.support import SHEETS, SWITCH, WIDE, any_box, box, cables, on

RELAY = Datasheet.model_validate({"id": "relay", "name": "Relay", "kind": "module", "channels": [{}]})
ALL = by_id((*SHEETS.values(), RELAY))
LOAD = {"kind": "led", "each": "9 W", "power_factor": 1}


def misfit(**changes: object) -> Box:
    return box(gangs=2, entering=cables("14/2"), devices=(on(1, SWITCH, None, LOAD),)).changed(**changes)


RING = {"gangs": 2, "volume": "34 in3", "rings": [{"kind": "ring", "volume": "1000.001 in3"}]}
WRONG: list[tuple[Box, str, str]] = [
    (misfit(circuit="9"), "circuit", "is on circuit “9”"),
    (misfit(circuit="1", other_circuits=("9",)), "circuit", "is on circuit “9”"),
    (misfit(devices=(on(1).changed(sheet="gone"),)), "sheet", "“gone”, which is not among the sheets"),
    (misfit(devices=(on(1, RELAY),)), "sheet", "Relay is a module"),
    (misfit(modules=(Module(id="m1", sheet="switch"),)), "sheet", "no module among the sheets"),
    (misfit(devices=(on(2, WIDE),)), "gangs", "Wide takes 2 gangs; from gang 2 it would reach gang 3 of a box with 2"),
    (misfit(devices=(on(1, WIDE), on(2))), "yokes", "gang 2 would hold two yokes: Wide and Switch"),
    (misfit(devices=(on(1, SWITCH, None, LOAD | {"channel": 2}),)), "channel", "1 channels; a load is on channel 2"),
    (misfit(cables=cables("14/2", space=2)), "space", "“A” is in space 2 of a box with 1"),
    (misfit(modules=(Module(id="m1", sheet="relay", space=2),)), "space", "“m1” is in space 2 of a box with 1"),
    (misfit(modules=(Module(id="m1", sheet="relay", gang=3),)), "behind", "lies behind gang 3 of a box with 2"),
    (misfit(enclosure=RING), "size", "a ring of 1000.001 in3 is on it; enter more than 0 and at most 1000 in³"),
    (misfit(enclosure=RING | {"rings": [{"kind": "ring", "volume": "0 in3"}]}), "size", "enter more than 0 and"),
    (misfit(enclosure=RING | {"rings": [{"kind": "ring"}] * 5}), "limit", "5 rings are on it; at most 4 can be there"),
    (misfit(devices=(on(1, SWITCH, None, *[LOAD] * 41),)), "limit", "41 loads are on Switch; at most 40 can be there"),
]  # fmt: skip


@pytest.mark.parametrize(("wrong", "code", "said"), WRONG, ids=[f"{code} {n}" for n, (_, code, _) in enumerate(WRONG)])
def test_what_does_not_fit_is_open_named_and_mended(wrong: Box, code: str, said: str) -> None:
    found = fit(wrong, ALL, ("1",))
    assert [one.code for one in found.misfits] == [code] and said in found.misfits[0].sentence
    assert fit(found.box, ALL, ("1",)).misfits == ()
    check = check_box(wrong, ALL, circuits=("1",))
    assert check.fit is not None and check.state >= State.OPEN and check.box == found.box
    right = check_box(found.box, ALL, circuits=("1",))
    assert right.fit is None and check.answers[1:] == right.answers
    before = misfit()
    assert newly_wrong(before, wrong, ALL, ("1",)) == found.misfits[0]
    assert newly_wrong(wrong, wrong, ALL, ("1",)) is None and newly_wrong(wrong, before, ALL, ("1",)) is None


@given(any_box())
def test_a_box_that_fits_is_left_as_it_is(at: Box) -> None:
    assert fit(at, SHEETS).misfits == () and fit(at, SHEETS).box is at


def test_a_misfit_may_get_less_but_not_more() -> None:
    some, more = (misfit(devices=(on(1, SWITCH, None, *[LOAD] * count),)) for count in (42, 43))
    assert newly_wrong(some, more, ALL) and not newly_wrong(more, some, ALL)


@given(st.integers(1995, 2005), st.integers(195, 205), st.integers(195, 205))
def test_a_house_has_its_limits(boxes: int, stock: int, circuits: int) -> None:
    shelf = [StockBox.model_validate({"name": f"s{n}", "volume": "20 in3"}) for n in range(stock)]
    breakers = [Circuit(id=str(n)) for n in range(circuits)]
    found = {one.subject: one.excess for one in house_misfits(Panel(), breakers, shelf, boxes)}
    counts = (("boxes", boxes, 2000), ("boxes in stock", stock, 200), ("circuits", circuits, 200))
    assert found == {what: Fraction(count - most) for what, count, most in counts if count > most}


def test_growing_past_a_limit_is_worse_and_shrinking_is_not() -> None:
    three, four = (house_misfits(Panel(), (), (), boxes) for boxes in (2003, 2004))
    assert added(three, four) and not added(four, three) and not added(three, three)


@pytest.mark.parametrize(
    ("volume", "depth", "fits"),
    [("0 in3", None, False), ("0.1 in3", None, True), ("1000 in3", None, True), ("1000.1 in3", None, False),
     ("20 in3", "10 mm", True), ("20 in3", "9.9 mm", False), ("20 in3", "1000 mm", True), ("20 in3", "1001 mm", False)],
)  # fmt: skip
def test_a_box_no_box_can_be_is_never_offered(volume: str, depth: str | None, fits: bool) -> None:
    shelf = StockBox.model_validate({"name": "It", "volume": volume, "depth": depth})
    assert (stock_misfits(shelf) == ()) == fits == bool(smallest(box(entering=cables("14/2")), (shelf,), ALL))


def test_a_circuit_beyond_the_panel_is_a_finding_of_the_house() -> None:
    job = Job(name="J", panel=Panel(spaces=4), circuits=(Circuit(id="9", space=9),))
    check = check_job(job)
    assert check.fit is not None and check.state is State.OPEN
    assert check.fit.headline == ("circuit 9 would sit in space 9 of a panel with 4",)


def test_what_is_reckoned_over_a_house_is_asked_about_what_fits() -> None:
    """A load on a channel that is gone weighs on no circuit, and keeps no page from answering."""
    wrong = misfit(circuit="1", devices=(on(1, SWITCH, None, LOAD, LOAD | {"channel": 2}),))
    job = Job(name="J", circuits=(Circuit(id="1"),), sheets=tuple(ALL.values()), boxes=(wrong,))
    load = check_job(job).circuits[0]
    assert load.total == check_job(fitting_job(job)).circuits[0].total == 9
