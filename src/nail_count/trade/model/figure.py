"""Figures of the rules: each stands once, beside its use, with its unit and where it comes from."""

from __future__ import annotations

from collections.abc import Mapping
from fractions import Fraction
from typing import Any, TypeVar

from .answer import Rule
from .measure import parse_number

K = TypeVar("K")


class Figure(Fraction):
    """An exact number that knows what it is of; reckoned with, it is a number like any other.

    >>> clearance = Figure("1/4", "in", "Clearance behind a body", every_nec("314.24(B)"))
    >>> clearance * 2, clearance.unit
    (Fraction(1, 2), 'in')
    """

    unit: str
    """`share` for a part of something; "" for a count."""
    what: str
    rule: Rule

    def __new__(cls, value: str, unit: str, what: str, rule: Rule) -> Figure:
        """The figure of this value, as written: 1 7/8, 0.25."""
        made: Figure = super().__new__(cls, parse_number(value))
        made.unit, made.what, made.rule = unit, what, rule
        return made

    def __reduce__(self) -> tuple[Any, ...]:
        """As it goes to another process: with what it is of."""
        return type(self), (f"{self.numerator}/{self.denominator}", self.unit, self.what, self.rule)

    def __repr__(self) -> str:
        return f"Fraction({self.numerator}, {self.denominator})"


def table(unit: str, what: str, rule: Rule, rows: Mapping[K, str]) -> dict[K, Figure]:
    """A table of figures; `what` says how a row is called, with {} for its key."""
    return {key: Figure(value, unit, what.format(key), rule) for key, value in rows.items()}


def every_nec(article: str) -> Rule:
    """An article that reads the same in every edition of the NEC there is."""
    return Rule("NEC, all editions", article)


IN_PRACTICE = Rule("Common practice", "", "practice")
"""Where no publication gives a figure."""
