"""Figures as people read them: what is multiplied on a page multiplies to the eye."""

from __future__ import annotations

from decimal import ROUND_HALF_EVEN, Decimal
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from nail_count.trade.model.answer import Line, Rule
from nail_count.trade.text.format import each_of, figure

AREAS = st.fractions(min_value=Fraction(1, 50), max_value=40, max_denominator=5000)


def line(count: int, each: Fraction) -> Line:
    return Line("conductors", ("wire",), Rule("NEC"), count=Fraction(count), each=each, value=count * each)


@given(st.integers(1, 40), AREAS)
def test_a_count_times_one_as_written_is_the_value_as_written(count: int, each: Fraction) -> None:
    counted = line(count, each)
    assert counted.value is not None
    product, value = Decimal(each_of(counted)) * count, Decimal(figure(counted.value))
    least = min(value, Decimal("0.01"), key=lambda one: one.as_tuple().exponent)
    assert product.quantize(least, ROUND_HALF_EVEN) == value, (product, value)


@given(st.integers(1, 40), AREAS)
def test_one_is_written_with_no_place_more_than_it_takes(count: int, each: Fraction) -> None:
    """With a place less, the product would come out wrong."""
    counted = line(count, each)
    assert counted.value is not None
    written = each_of(counted)
    places = len(written.partition(".")[2])
    if places > 2 and 10**4 % each.denominator:
        fewer = Decimal(figure(Fraction(round(each * 10 ** (places - 1)), 10 ** (places - 1)), places - 1)) * count
        assert fewer.quantize(Decimal("0.01"), ROUND_HALF_EVEN) != Decimal(figure(counted.value))


def test_a_value_that_is_no_product_leaves_one_as_it_is() -> None:
    at_least = Line("leads", ("leads",), Rule("NEC"), count=Fraction(3), each=Fraction(1, 3), value=Fraction(2))
    assert each_of(at_least) == "0.33" and each_of(at_least, "in3") == "0.33 in³"
    assert each_of(at_least, "share") == "33%"
