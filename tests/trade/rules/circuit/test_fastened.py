"""Equipment fastened in place beside lights: NEC 210.23, half the breaker; from memory of the publication."""

from __future__ import annotations

from typing import Any

import pytest

from nail_count.trade.model.answer import State
from nail_count.trade.model.job import Job, Terms
from nail_count.trade.model.panel import Circuit
from nail_count.trade.rules.check import check_circuits
from nail_count.trade.rules.circuit.panel import findings
from tests.trade.rules.circuit.feeding import SHEETS, asked, fed, watts


def heater(each: str, **more: Any) -> dict[str, Any]:
    return {"kind": "heater", "each": each, **more}


LIGHT = watts(50)


@pytest.mark.parametrize(
    ("loads", "breaker", "fails"),
    [
        ((heater("900 W"), LIGHT), 15, False),
        ((heater("901 W"), LIGHT), 15, True),
        ((heater("901 W"),), 15, False),  # a circuit of its own
        ((heater("900 W"), {"kind": "motor", "each": "9 hp"}, LIGHT), 15, False),  # no table knows what it draws
        ((heater("901 W"), {"kind": "receptacle", "each": "1 A"}), 15, True),
        ((heater("1200 W"), LIGHT), 20, False),
        ((heater("1201 W"), LIGHT), 20, True),
        ((heater("2000 W"), LIGHT), 30, False),
        ((heater("600 W"), {"kind": "fan", "each": "301 W"}, LIGHT), 15, True),
        ((heater("901 W", outlet="bath"), LIGHT | {"outlet": "bath"}), 15, False),  # a light of the unit itself
        ((heater("901 W", outlet="bath"), LIGHT | {"outlet": "mirror"}), 15, True),
        ((heater("850 W", outlet="bath"), LIGHT | {"outlet": "bath"}, LIGHT), 15, False),  # its light counts with it
        ((heater("851 W", outlet="bath"), LIGHT | {"outlet": "bath"}, LIGHT), 15, True),
    ],
)
def test_heaters_fans_and_motors_take_half_a_breaker_that_feeds_lights(
    loads: tuple[dict[str, Any], ...], breaker: int, fails: bool
) -> None:
    """Half of 15 A at 120 V is 900 VA, of 20 A 1200 VA."""
    boxes = [fed(f"b{number}", load) for number, load in enumerate(loads)]
    found = [one for one in asked(*boxes, breaker=breaker).remarks if one.code == "fastened-over-half"]
    assert [one.state for one in found] == [State.FAILS] * fails
    abroad = asked(*boxes, breaker=breaker, terms=Terms(code="csa"))
    assert not [one for one in abroad.remarks if one.code == "fastened-over-half"]


def test_a_receptacle_that_nothing_was_entered_for_is_one_all_the_same() -> None:
    plug = SHEETS["switch"].changed(id="plug", kind="receptacle")
    outlet = fed("o", circuit="1").changed(devices=(fed("o").devices[0].changed(sheet="plug"),))
    job = Job(name="J", sheets=(*SHEETS.values(), plug), boxes=(fed("h", heater("901 W")), outlet), circuits=(ONE,))
    (answer,) = check_circuits(job)
    assert "fastened-over-half" in [one.code for one in answer.remarks]


ONE = Circuit(id="1")


def test_the_mains_and_an_inverter_in_one_box_are_named_on_both_circuits() -> None:
    both = fed("hall", LIGHT).changed(other_circuits=("2",))
    for supply, named in (("inverter", [True, True]), ("mains", [False, False])):
        circuits = (ONE, Circuit.model_validate({"id": "2", "supply": supply}))
        told = check_circuits(Job(name="J", sheets=tuple(SHEETS.values()), boxes=(both,), circuits=circuits))
        assert ["two-supplies" in [one.code for one in answer.remarks] for answer in told] == named


def test_two_supplies_never_share_a_neutral() -> None:
    shared = Circuit(id="2", space=3, neutral_with="1", tied=True)
    for supply, state in (("inverter", [State.FAILS]), ("mains", [])):
        found = findings([Circuit(id="1", space=1), shared.changed(supply=supply)], code="nec-2023")
        assert [one.state for one in found if one.code == "two-supplies"] == state
