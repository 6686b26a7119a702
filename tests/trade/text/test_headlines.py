"""What answers say, in one place: the sentences people read first, of boxes and loads worked by hand.

Tests of rules hold states, codes and figures; a sentence is bettered here and nowhere else.
"""

from __future__ import annotations

from fractions import Fraction as F
from typing import Any

import pytest

from nail_count.trade.rules.check import check_box
from nail_count.trade.rules.conductor_volumes import ALLOWANCES
from nail_count.trade.rules.volume.allowances import judge
from nail_count.trade.text.format import say
from tests.support import DIMMER, SHEETS, SWITCH, box, cables, on


@pytest.mark.parametrize(
    ("total", "limit", "words"),
    [
        ("16", "18", "2 in³ to spare"),
        ("18", "18", "exactly full"),
        ("18.01", "18", "over by 0.01 in³: one 14 AWG conductor too many"),
        ("22", "18", "over by 4 in³: 2 conductors of 14 AWG too many"),
        ("22", None, "volume of the box not known"),
    ],
)
def test_of_a_count(total: str, limit: str | None, words: str) -> None:
    gauges = box("30 in3", 1, cables("14/2")).gauges
    whole = None if limit is None else F(limit)
    assert say(judge(gauges, (), F(total), limit=whole, allowances=ALLOWANCES, unit="in3")[1]) == words


def led(quantity: int, each: str) -> dict[str, Any]:
    return {"kind": "led", "quantity": quantity, "each": each}


@pytest.mark.parametrize(
    ("load", "words"),
    [
        ([led(9, "9 W")], "59 W to spare: room for 6 more"),
        ([led(14, "9.5 W")], "7 W to spare: room for no more"),
        ([led(15, "10 W")], "over by 10 W"),
        ([led(1, "7 W")], "7 W connected, below the minimum load of 10 W"),
        ([{"kind": "fan", "each": "0.8 A"}], "fan is not on the sheet: not permitted"),
        ([], "nothing connected, carries 520 W"),
    ],
)
def test_of_a_dimmer(load: list[dict[str, Any]], words: str) -> None:
    made = box("30 in3", 1, cables("14/2", "14/2"), (on(1, DIMMER, None, *load),))
    (answer,) = check_box(made, SHEETS).ratings
    assert say(answer.headline) == words


def test_of_a_box() -> None:
    """Two 14/2 and a switch are 12 in³: four wires, the grounds and the yoke."""
    made = box("18 in3", 3, cables("14/2", "14/2"), (on(1, SWITCH),))
    assert say(check_box(made, SHEETS).headline) == "4 in³ to spare so far; 2 gangs empty"
    empty = check_box(made.changed(cables=()), SHEETS)
    assert say(empty.fill.headline) == "no conductor entered yet, so the devices cannot be counted"
