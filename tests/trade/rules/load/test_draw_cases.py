"""What loads draw and peak at, and motors, worked by hand: W = V × A × power factor; NEC Table 430.248 (from memory);
NEMA 410."""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.answer import State
from nail_count.trade.model.assumptions import Assume
from nail_count.trade.model.job import Terms
from nail_count.trade.model.load import Load
from nail_count.trade.rules.load.draw import drawn
from nail_count.trade.rules.load.inrush import peak
from nail_count.trade.rules.load.motor import motor_amps
from nail_count.trade.rules.load.position import Position
from nail_count.trade.rules.load.rating import kind_limits
from tests.support import figures, on
from tests.trade.rules.load.hanging import AT, amps, codes, hung, load, sheet


@pytest.mark.parametrize(
    ("kind", "each", "unit", "volts", "more", "draws", "assumed"),
    [
        ("fan", "85 W", "A", 120, {"power_factor": "0.85"}, F(5, 6), False),
        ("fan", "0.5 A", "VA", 120, {}, F(60), False),
        ("fan", "0.5 A", "W", 120, {"power_factor": "0.8"}, F(48), False),
        ("fan", "48 W", "VA", 120, {"power_factor": "0.8"}, F(60), False),
        ("fan", "48 W", "A", 120, {}, None, False),
        ("fan", "0.5 A", "W", 120, {}, F(60), True),
        ("led", "54 W", "A", 120, {"fitting": "luminaire"}, F(1, 2), True),
        ("led", "5 W", "W", 120, {"fitting": "luminaire", "measured": {"power": "0.5 A", "at": AT}}, F(60), True),
        ("incandescent", "60 W", "A", 120, {}, F(1, 2), False),
        ("cfl", "10 W", "VA", 120, {}, F(20), True),
        ("motor", "1/2 hp", "A", 120, {}, F("9.8"), False),
        ("motor", "1/2 hp", "VA", 120, {}, F("1176"), False),
        ("motor", "1/2 hp", "W", 120, {}, None, False),
        ("motor", "5 hp", "A", 120, {}, None, False),
        ("motor", "1 A", "hp", 120, {}, None, False),
        ("mlv", "50 W", "VA", 120, {"loss": "10 W"}, F(60), False),
        ("mlv", "50 W", "A", 120, {"loss": "10 W"}, F(1, 2), False),
        ("mlv", "75 W", "VA", 120, {}, F(100), True),
        ("mlv", "90 VA", "W", 120, {}, None, False),
    ],
)  # fmt: skip
def test_what_a_load_draws(
    kind: str, each: str, unit: str, volts: int, more: dict[str, Any], draws: F | None, assumed: bool
) -> None:
    said = Load.model_validate({"id": "l1", "kind": kind, "each": each, **more})
    found = drawn(said, unit, volts)
    assert (found.each, found.assumed) == (draws, assumed)
    assert draws is not None or found.why, "it says what to enter"


def test_why_a_load_draws_what_it_draws() -> None:
    """The volts and the power factor it is worked out with; of one that was measured, the day."""

    def why(unit: str, **said: Any) -> tuple[F, ...]:
        return figures(drawn(Load.model_validate({"id": "l1", **said}), unit, 120).why)

    assert why("A", kind="fan", each="85 W", power_factor="0.85") == (120, F("0.85"))
    assert why("A", kind="led", each="54 W", fitting="luminaire") == (120, F("0.9"))
    assert why("W", kind="motor", each="1 hp") == why("A", kind="fan", each="48 W") == ()
    assert why("W", kind="fan", each="0.5 A") == (120,)
    for by in ("meter", "metering relay"):
        measured = {"power": "51 W", "by": by, "at": AT}
        assert why("W", kind="led", each="9 W", quantity=6, measured=measured) == (2026, 3, 2)
        amps = drawn(
            Load.model_validate(
                {"id": "l1", "kind": "incandescent", "each": "9 W", "quantity": 6, "measured": measured}
            ),
            "A",
            120,
        )
        assert amps.total == F(51, 120) and amps.each == F(51, 720)
        assert figures(amps.why) == (2026, 3, 2, 120, 1)


def test_motor_factors_are_a_jobs_to_assume() -> None:
    fan = Load.model_validate({"id": "l1", "kind": "fan", "each": "48 W"})
    lamp = Load.model_validate({"id": "l2", "kind": "receptacle", "each": "48 W"})
    assume = Assume(motor_power_factor=F("0.8"))
    assert drawn(fan, "VA", 120, assume).each == 60 and drawn(fan, "VA", 120, assume).assumed
    assert drawn(lamp, "VA", 120, assume).each is None and not drawn(lamp, "VA", 120, assume).assumed


@pytest.mark.parametrize(
    ("volts", "amps"),
    [(109, None), (110, "9.8"), (120, "9.8"), (121, None), (219, None), (220, "4.9"), (240, "4.9"), (241, None)],
)
def test_the_columns_of_the_motor_table(volts: int, amps: str | None) -> None:
    assert motor_amps(F(1, 2), volts) == (None if amps is None else F(amps))


@pytest.mark.parametrize(
    ("amps", "most"), [("0.1", "75"), ("0.5", "75"), ("0.75", "91"), ("1", "107"), ("16", "242"), ("16.01", None)]
)
def test_peaks_of_drivers_between_the_rows(amps: str, most: str | None) -> None:
    """NEMA 410: 75 A to half an amp, 107 A at one; half way between, half way."""
    assert peak(F(amps)) == (None if most is None else F(most))


@pytest.mark.parametrize(
    ("volts", "allowed", "found"),
    [(120, "106 A", "inrush-over"), (120, "107 A", None), (109, "50 A", "inrush-at-120-only"),
     (110, "50 A", "inrush-over"),
     (127, "50 A", "inrush-over"), (128, "50 A", "inrush-at-120-only")],
)  # fmt: skip
def test_inrush_is_judged_where_its_figures_hold(volts: int, allowed: str, found: str | None) -> None:
    """One ampere of drivers at the voltage of the job peaks at 107 A."""
    made = sheet({"ratings": {"led": {"alone": "10 A"}}, "inrush": allowed})
    answer = hung(made, amps("1 A"), terms=Terms(voltage=volts))
    assert [code for code in codes(answer) if code.startswith("inrush")] == ([found] if found else [])
    silent = sheet({"ratings": {"lighting": {"alone": "10 A"}}})
    assert "inrush-not-stated" in codes(hung(silent, amps("1 A")))
    assert "inrush-not-stated" not in codes(hung(sheet({"ratings": {"led": {"alone": "10 A"}}}), amps("1 A")))
    huge = hung(sheet({"ratings": {"led": {"alone": "20 A"}}, "inrush": "300 A"}), amps("17 A"))
    assert "inrush-over" in codes(huge), "more than the table knows"


@pytest.mark.parametrize(("hp", "found"), [("2 hp", False), ("3 hp", True)])
def test_the_largest_motor_on_a_snap_switch(hp: str, found: bool) -> None:
    """430.109(C), from memory: 2 hp at most, on a switch; elsewhere the code does not ask it."""
    switch = sheet({"ratings": {"general": {"alone": "30 A"}}}, kind="switch")
    assert ("motor-too-large" in codes(hung(switch, load("motor", hp)))) == found
    assert "motor-too-large" not in codes(hung(switch, load("motor", hp), terms=Terms(code="uk")))
    assert "motor-too-large" not in codes(hung(switch.changed(kind="smart switch"), load("motor", hp)))
    assert "motor-too-large" not in codes(hung(switch, load("heater", "3 A")))


@pytest.mark.parametrize(("amps", "state"), [("12 A", State.TIGHT), ("12.01 A", State.FAILS)])
def test_a_motor_on_a_snap_switch_has_eighty_percent(amps: str, state: State) -> None:
    switch = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="switch")
    answer = hung(switch, load("motor", amps))
    assert answer.state is state and ("snap-switch-over" in codes(answer)) == (state is State.FAILS)
    assert "too-warm" not in codes(answer)


def test_a_motor_and_lamps_on_one_general_figure_are_held_apart() -> None:
    """15 A of general use: lamps by all of it, a motor by 80 %; 6 of 15 and 6 of 12 are 40 % and 50 %."""
    switch = sheet({"ratings": {"general": {"alone": "15 A"}}}, kind="switch")
    answer = hung(switch, load("heater", "6 A"), load("motor", "6 A"))
    assert [line.value for line in answer.lines] == [F(2, 5), F(1, 2)]
    assert figures(answer.lines[1].why) == (6, 12, 15, 3), "of 12 A here: 15 A, a motor takes 3"
    limits = kind_limits(
        Position(), on(1, switch, None, load("motor", "1 A"), load("heater", "1 A")), 1, switch, Terms()
    )
    assert [(kind, amount and amount.value) for kind, amount in limits] == [("general", 12)]
    last_first = kind_limits(
        Position(), on(1, switch, None, load("heater", "1 A"), load("motor", "1 A")), 1, switch, Terms()
    )
    assert [(kind, amount and amount.value) for kind, amount in last_first] == [("general", 12)]
    apart = hung(switch, load("heater", "6 A"), load("incandescent", "60 W"))
    assert apart.unit == "A" and len(apart.lines) == 2
