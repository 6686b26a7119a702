"""Units as people write them: read exactly, refused with a sentence, and written so that they read back."""

from __future__ import annotations

from fractions import Fraction as F

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.measure import Length, Measure, Power, Volume, parse_number, write_number
from nail_count.trade.model.trade_size import find_trade_size
from nail_count.trade.text.format import figure, share


@pytest.mark.parametrize("text", ["2 1/8", "2-1/8", "2⅛", "2.125", "17/8", " 2 1/8 "])
def test_one_number_in_every_spelling(text: str) -> None:
    assert parse_number(text) == F(17, 8)


@pytest.mark.parametrize(
    ("kind", "text", "value", "unit"),
    [
        (Length, "54 mm", "54", "mm"),
        (Length, '2 1/8"', "2.125", "in"),
        (Length, "5.4cm", "5.4", "cm"),
        (Volume, "20.3 cu. in.", "20.3", "in3"),
        (Volume, "20.3 in³", "20.3", "in3"),
        (Volume, "245 ml", "245", "mL"),
        (Power, "9w", "9", "W"),
        (Power, ".9 amps", "0.9", "A"),
        (Power, "40VA", "40", "VA"),
    ],
)
def test_measures_as_typed(kind: type[Measure], text: str, value: str, unit: str) -> None:
    assert kind.parse(text) == kind(F(value), unit)


@pytest.mark.parametrize(
    ("kind", "text", "said"),
    [
        (Length, "", "Enter a length such as"),
        (Length, "wide", "isn’t a unit for this"),
        (Volume, "20.3", "has no unit"),
        (Volume, "20,3 in3", "Enter a volume such as"),
        (Volume, "-4 in3", "Enter a volume such as"),
        (Power, "1/0 A", "Enter a power such as"),
        (Power, "9 mm", "isn’t a unit for this"),
    ],
)
def test_what_is_no_measure_says_what_was_expected(kind: type[Measure], text: str, said: str) -> None:
    with pytest.raises(ValueError, match=said):
        kind.parse(text)


@given(st.fractions(min_value=0, max_value=9999, max_denominator=64))
def test_numbers_and_measures_read_back(value: F) -> None:
    assert parse_number(write_number(value)) == value
    assert Length.parse(str(Length(value, "in"))).mm == value * F("25.4")


@given(st.fractions(min_value=0, max_value=3, max_denominator=100_000))
def test_a_share_is_never_rounded_across_the_limit(value: F) -> None:
    shown = F(share(value).rstrip("%")) / 100
    assert (shown > 1) == (value > 1) and (shown < 1) == (value < 1)
    assert abs(shown - value) <= F(1, 200)


@given(st.fractions(min_value=-99, max_value=99, max_denominator=10_000))
def test_a_figure_is_exact_to_four_decimals_else_near(value: F) -> None:
    shown = F(figure(value).replace("−", "-"))
    assert shown == value if (value * 10_000).denominator == 1 else abs(shown - value) <= F(1, 200)


@pytest.mark.parametrize(
    ("typed", "name"),
    [
        ("3x2x3-1/2", "3x2x3-1/2 device"),
        ("3 x 2 x 3 1/2 device", "3x2x3-1/2 device"),
        ("4 × 2⅛ square", "4x2-1/8 square"),
        ('4" x 2 1/8" square', "4x2-1/8 square"),
        ("4 11/16 x 2-1/8 square", "4-11/16x2-1/8 square"),
        ("4x1-1/2 octagon", "4x1-1/2 round"),
        ("3-3/4 x 2 x 2-1/2 masonry", "3-3/4x2x2-1/2 masonry"),
        ("fs single", "FS single"),
    ],
)
def test_trade_sizes_as_typed(typed: str, name: str) -> None:
    assert find_trade_size(typed).name == name


@pytest.mark.parametrize("typed", ["4x4", "5x3 square", "x", "device", "4x2-1/8"])
def test_other_trade_sizes_are_refused(typed: str) -> None:
    with pytest.raises(ValueError, match="Enter a trade size such as"):
        find_trade_size(typed)
