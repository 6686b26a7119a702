"""The tables as they are printed, row by row, typed a second time: NEC 314.16(B), 240.4(D), 430.248, chapter 9 tables 5
and 8, CSA C22.1 table 23, NEMA 410; all from memory of the publications. What no table prints is common practice, as
the page on the trade has it."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.model.gauge import awg
from nail_count.trade.rules.circuit import branch
from nail_count.trade.rules.conductor_volumes import ALLOWANCES
from nail_count.trade.rules.load import draw, duty, heat, inrush, limits, motor, rating
from nail_count.trade.rules.space import bulk, depth, room
from nail_count.trade.rules.volume import capacity, csa

PRINTED: dict[str, tuple[Mapping[Any, F], str]] = {
    "314.16(B), in³": (
        {gauge.number: value for gauge, value in ALLOWANCES.items()},
        "18 1.50; 16 1.75; 14 2.00; 12 2.25; 10 2.50; 8 3.00; 6 5.00",
    ),
    "CSA table 23, mL": (
        {gauge.number: value for gauge, value in csa.CSA_ALLOWANCES.items()},
        "14 24.6; 12 28.7; 10 36.9; 8 45.1; 6 73.7",
    ),
    "chapter 9 table 5, in² with insulation": (
        {gauge.number: value for gauge, value in bulk.INSULATED.items()},
        "18 0.0055; 16 0.0072; 14 0.0097; 12 0.0133; 10 0.0211; 8 0.0366; 6 0.0507",
    ),
    "chapter 9 table 8, in² bare": (
        {gauge.number: value for gauge, value in bulk.BARE.items()},
        "14 0.0032; 12 0.0051; 10 0.0081; 8 0.0130; 6 0.0270",
    ),
    "240.4(D), copper, A": (
        {gauge.number: amps for (metal, gauge), amps in branch.SMALL_WIRE.items() if metal == "copper"},
        "14 15; 12 20; 10 30",
    ),
    "240.4(D), aluminum, A": (
        {gauge.number: amps for (metal, gauge), amps in branch.SMALL_WIRE.items() if metal == "aluminum"},
        "12 15; 10 25",
    ),
    "430.248 at 115 V, A": (
        dict(motor.MOTOR_AMPS),
        "1/6 4.4; 1/4 5.8; 1/3 7.2; 1/2 9.8; 3/4 13.8; 1 16; 3/2 20; 2 24",
    ),
    "NEMA 410 peaks, A": (
        dict(inrush.PEAKS),
        "1/2 75; 1 107; 2 144; 3 166; 5 192; 8 221; 10 230; 12 235; 15 239; 16 242",
    ),
    "how densely wire lies folded, practice": (
        {gauge.number: share for gauge, share in bulk.PACKED.items()},
        "14 0.35; 12 0.30; 10 0.25",
    ),
}


@pytest.mark.parametrize("name", PRINTED)
def test_a_table_is_as_printed(name: str) -> None:
    ours, printed = PRINTED[name]
    rows = dict(row.split() for row in printed.split("; "))
    assert {F(str(key)): F(value) for key, value in ours.items()} == {F(key): F(value) for key, value in rows.items()}


PRACTICE = {
    "0.25": bulk.CONNECTORS["small"], "0.45": bulk.CONNECTORS["medium"], "0.7": bulk.CONNECTORS["large"],
    "8": bulk.FREE, "6": bulk.LEAD_LENGTH, "0.015": heat.SHARE["dimmer"], "0.0150": heat.SHARE["fan control"],
    "1": heat.RADIO, "0.02": heat.CONTACT, "0.2": limits.FALLBACK[1], "0.35": limits.FALLBACK[2],
    "0.1": limits.LED_SHARE, "0.5": draw.CFL_POWER_FACTOR, "0.75": draw.LAMP_SHARE, "25": draw.RETROFIT_TO,
    "0.9": rating.TIGHT_ABOVE, "10": depth.ROOM_BEHIND, "1/4": room.GAP, "12": branch.OUTLETS_OF_CIRCUIT,
}  # fmt: skip
BY_THE_CODE = {
    "1/2": capacity.BARRIER_METAL, "1": capacity.BARRIER_OTHER, "1.25": duty.QUARTER_MORE, "0.8": motor.SWITCH_SHARE,
    "4/5": duty.CSA_SHARE, "2": motor.SWITCH_MOST_HP, "2.54": csa.SHALLOW, "32": csa.PER_CENTIMETER,
    "6": branch.NEW_CABLE,
    "5": branch.GROUND_USERS_OF_CIRCUIT, "25": branch.GROUND_USERS_OF_FEEDER, "15/16": depth.SMALL_WIRE,
    "19/16": depth.MIDDLE_WIRE, "33/16": depth.LARGE_WIRE, "1/4": depth.CLEARANCE, "15/8": depth.DEEP_BODY,
    "1.0": depth.FLAT_BODY, "0.5": depth.NONE_ENCLOSED, "0.25": depth.FLUSH,
}  # fmt: skip


def test_what_no_table_prints_is_as_the_trade_has_it() -> None:
    assert {text: F(figure) for text, figure in PRACTICE.items()} == {text: F(text) for text in PRACTICE}
    assert {text: F(figure) for text, figure in BY_THE_CODE.items()} == {text: F(text) for text in BY_THE_CODE}
    leads = {kind: int(count) for kind, count in bulk.LEADS.items() if count}
    assert leads == {"dimmer": 3, "smart switch": 4, "fan control": 3, "countdown": 4, "sensor": 4, "module": 4}
    assert awg(18) == bulk.LEAD_GAUGE
