"""Limits and loads reckoned by hand, where an audit found them otherwise. Figures of the sheets are invented."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.datasheet import Ambient
from nail_count.trade.model.job import Terms
from nail_count.trade.model.load import Load
from nail_count.trade.rules.load.draw import drawn
from nail_count.trade.rules.load.limits import share_at
from nail_count.trade.rules.load.position import Position

from .hanging import hung, load, sheet


@pytest.mark.parametrize(
    ("said", "factor"),
    [
        ({"each": "9 W"}, "0.6"),
        ({"each": "25 W"}, "0.6"),
        ({"each": "25.5 W"}, "0.9"),
        ({"each": "9 W", "fitting": "retrofit"}, "0.6"),
        ({"each": "9 W", "fitting": "luminaire"}, "0.9"),
        ({"each": "9 W", "power_factor": "0.8"}, "0.8"),
    ],
)
def test_an_led_lamp_that_nobody_called_a_luminaire_is_taken_for_a_retrofit_one(
    said: dict[str, Any], factor: str
) -> None:
    """Retrofit lamps to 25 W at 0.6, drivers and luminaires at 0.9; common practice."""
    one = Load.model_validate({"id": "l1", "kind": "led", **said})
    assert drawn(one, "VA", 120).each == one.each.value / F(factor)


def test_an_assumed_power_factor_lowers_nothing_that_was_stated() -> None:
    """20 VA of compact fluorescent is no more than 20 W, and is not taken for 10 because of a factor nobody stated."""
    cfl = Load.model_validate({"id": "l1", "kind": "cfl", "each": "20 VA"})
    assert drawn(cfl, "W", 120).each == 20
    assert drawn(cfl.changed(power_factor="0.5"), "W", 120).each == 10
    led = Load.model_validate({"id": "l1", "kind": "led", "each": "9 W"})
    assert drawn(led, "W", 120).each == 9


def test_start_values_of_before_are_dropped_and_chosen_ones_kept() -> None:
    assert Assume.model_validate({"small_led_power_factor": "0.5"}).retrofit_power_factor == F("0.6")
    assert Assume.model_validate({"small_led_power_factor": "0.7"}).retrofit_power_factor == F("0.7")


CURVE: dict[str, Any] = {
    "holds_to": "40",
    "stops_at": "70",
    "curve": [{"at": "50", "share": "0.8"}, {"at": "70", "share": "0.4"}],
}


@pytest.mark.parametrize(
    ("around", "share"), [("25", "1"), ("40", "1"), ("45", "0.9"), ("50", "0.8"), ("60", "0.6"), ("71", "0")]
)
def test_a_curve_takes_nothing_off_up_to_where_the_rating_holds(around: str, share: str) -> None:
    assert share_at(Ambient.model_validate(CURVE), F(around)) == F(share)
    below = CURVE | {"curve": [{"at": "30", "share": "0.9"}, *CURVE["curve"]]}
    assert share_at(Ambient.model_validate(below), F(35)) == F("0.875"), "30 °C: 0.9, 50 °C: 0.8; the lower one counts"


def test_a_tenth_of_an_incandescent_figure_keeps_its_unit() -> None:
    """A tenth of 5 A is 0.5 A: sixteen LED of 2.4 W at 0.8, 0.025 A each, are 0.4 A of it, and not 38 W of 0.5 W."""
    made = sheet({"ratings": {"incandescent": {"alone": "5 A"}, "led": {}}})
    terms = Terms(assume=Assume(tenth_for_led=True))
    answer = hung(made, load("led", "2.4 W", 16, power_factor="0.8"), terms=terms)
    assert (answer.unit, answer.limit, answer.total) == ("A", F(1, 2), F(2, 5)) and answer.state is State.HOLDS


GENERAL: dict[str, Any] = {"led": {"alone": "5 A"}, "general": {"alone": "10 A"}}


def table(*rows: dict[str, Any], **more: Any) -> Any:
    return sheet({"ratings": GENERAL, "mixing": "own table", "mixed": list(rows)}, **more)


def test_what_hangs_under_one_figure_of_a_row_is_held_to_it_together() -> None:
    """General 10 A: a heater of 6 A and a fan of 5 A are 11, and over it, though each by itself is not."""
    row = {"led": {"alone": "3 A"}, "general": {"alone": "10 A"}}
    both = [load("led", "30 W", 1, power_factor="0.5", actual=True), load("heater", "6 A"), load("fan", "5 A")]
    answer = hung(table(row), *both)
    assert answer.total == F(11, 10) and answer.state is State.FAILS
    assert hung(table(row), *both[:2], load("fan", "4 A")).total == 1


def test_a_row_keeps_the_quarter_more_of_what_is_all_continuous() -> None:
    """8.5 A of a figure of 10 A, all continuous: 8 A at most."""
    row = {"led": {"alone": "5 A"}, "general": {"alone": "10 A"}}
    lit = [load("led", "30 W", 1, power_factor="0.5", actual=True), load("heater", "8.5 A", continuous=True)]
    assert hung(table(row, continuous=True), *lit).total == F("8.5") / 8
    assert hung(table(row), *lit).total == F("0.85")


MLV: dict[str, Any] = {"mlv": {"alone": "600 VA", "end": "500 VA"}, "mlv lamps": {"alone": "450 W"}}


def test_of_two_figures_for_transformers_one_that_is_missing_here_leaves_it_open() -> None:
    made = sheet({"ratings": MLV}, derating="by position")
    assert hung(made, load("mlv", "200 W"), place=Position(neighbors=1)).state is State.OPEN
    assert hung(made, load("mlv", "200 W")).state is State.HOLDS
    assert hung(made, load("mlv", "400 W"), place=Position(neighbors=1)).state is State.FAILS, "533 VA is over 500"


def test_the_lamps_behind_a_transformer_under_the_sheets_own_table() -> None:
    """300 W of lamps are 400 VA at three quarters: 0.8 of 500 VA; 0.75 of 400 W where the row gives lamps a figure."""
    rated = {"led": {"alone": "100 W"}, **MLV}
    plain = {"led": {"alone": "50 W"}, "mlv": {"alone": "500 VA"}}
    lamps = plain | {"mlv": {"alone": "800 VA"}, "mlv lamps": {"alone": "400 W"}}
    hangs = [load("led", "10 W"), load("mlv", "300 W")]
    for row, total in ((plain, F("0.8")), (lamps, F("0.75"))):
        answer = hung(sheet({"ratings": rated, "mixing": "own table", "mixed": [row]}), *hangs)
        assert answer.total == total and answer.state is State.HOLDS, answer.headline


def test_the_dimmest_lamps_are_open_while_anothers_watts_are_not_known() -> None:
    """Ten of 3 W and a transformer in VA: with two of the ten on, 6 W are sure, and 10 W are asked."""
    made = sheet({"ratings": {"led": {"alone": "100 W"}, "incandescent": {"alone": "5 A"}}, "minimum": "10 W"})
    some = load("led", "3 W", 10, fewest=2)
    assert "fewest-below-minimum" in {one.code for one in hung(made, some).remarks}
    unsure = sheet({"ratings": {"led": {"alone": "100 W"}, "mlv": {"alone": "5 A"}}, "minimum": "10 W"})
    assert hung(unsure, some, load("mlv", "50 VA")).state is State.OPEN


def test_where_it_is_too_warm_for_anything_an_unknown_load_fails_too() -> None:
    """At 70 °C with a maximum of 60: nothing may hang on it, whatever it draws."""
    warm = {"holds_to": "40", "stops_at": "60"}
    made = sheet({"ratings": {"general": {"alone": "10 A"}}}, ambient=warm)
    answer = hung(made, load("fan", "80 W"), place=Position(ambient=F(70)))
    assert answer.state is State.FAILS and "too-warm" in {one.code for one in answer.remarks}
    assert hung(made, load("fan", "80 W"), place=Position(ambient=F(50))).state is State.OPEN


def test_a_peak_over_the_sheets_figure_is_open_and_fails_nothing() -> None:
    """NEMA 410: 144 A at 2 A steady; a peak says nothing of how long it lasts."""
    made = sheet({"ratings": {"led": {"alone": "10 A"}}, "inrush": "143 A"})
    two = load("led", "24 W", 10, power_factor="1", actual=True)
    assert hung(made, two).state is State.OPEN
    assert hung(sheet({"ratings": {"led": {"alone": "10 A"}}, "inrush": "144 A"}), two).state is State.HOLDS
