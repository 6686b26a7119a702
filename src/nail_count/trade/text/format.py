"""Figures and texts as people read them. The only place in the heart that formats."""

from collections.abc import Sequence
from fractions import Fraction
from math import ceil, floor

from ..model.answer import Amount, Answer, Line, Text
from ..model.measure import write_number

_MOST_PLACES = 8
_UNITS = {"in2": "in²", "in3": "in³", "cm3": "cm³", "ohm": "Ω", "share": ""}


def figure(value: Fraction, places: int = 2) -> str:
    """A figure: exact where four decimals show it, else rounded to `places`.

    >>> figure(Fraction(9, 4)), figure(Fraction(45, 16)), figure(Fraction(5, 6))
    ('2.25', '2.8125', '0.83')
    """
    if 10**4 % value.denominator == 0:
        return write_number(value).replace("-", "−")
    rounded = round(value * 10**places)
    return write_number(Fraction(rounded, 10**places)).replace("-", "−")


def share(value: Fraction) -> str:
    """A share as a percentage, never rounded up to a full 100 or down from above it.

    >>> [share(Fraction(*of)) for of in ((59, 70), (9999, 10000), (20000, 20001), (10001, 10000))]
    ['84%', '99.99%', '99.99%', '100.01%']
    """
    percent = value * 100
    whole = Fraction(round(percent))
    if (whole >= 100) == (percent >= 100) and (whole > 100) == (percent > 100):
        return f"{whole}%"
    hundredths = floor(percent * 100) if percent < 100 else ceil(percent * 100)
    return f"{figure(Fraction(hundredths, 100))}%"


def amount(value: Fraction, unit: str) -> str:
    """A figure with its unit: ``2.25 in³``, ``84%`` of a share."""
    if unit == "share":
        return share(value)
    if unit == "":
        return figure(value)
    return f"{figure(value)} {_UNITS.get(unit, unit)}"


def each_of(line: Line, unit: str = "") -> str:
    """How much one of a line takes, with as many places as it needs to multiply to the value written beside it.

    >>> from nail_count.trade.model.answer import Rule
    >>> made = {"count": Fraction(5), "each": Fraction(133, 600), "value": Fraction(133, 120)}
    >>> wire = Line("conductors", ("14 AWG",), Rule("NEC"), **made)
    >>> f"5 × {each_of(wire)} = {figure(wire.value)}"
    '5 × 0.222 = 1.11'
    """
    assert line.each is not None
    if unit == "share" or line.each < 0 or line.value != line.count * line.each:
        return amount(line.each, unit)
    written = figure(line.value)
    exact = max(2, len(written.partition(".")[2]))
    tried = [figure(line.each, places) for places in range(2, _MOST_PLACES + 1)]
    one = next((one for one in tried if round(line.count * Fraction(one), exact) == Fraction(written)), tried[-1])
    return f"{one} {_UNITS.get(unit, unit)}".strip()


def and_list(words: Sequence[str]) -> str:
    """Return a list as a sentence has it.

    >>> and_list(["A"]), and_list(["A", "B"]), and_list(["A", "B", "C"])
    ('A', 'A and B', 'A, B, and C')
    """
    if len(words) < 3:
        return " and ".join(words)
    return f"{', '.join(words[:-1])}, and {words[-1]}"


def say(text: Text) -> str:
    """A text of words and amounts as one string.

    >>> say(("over by ", Amount(Fraction(9, 4), "in3")))
    'over by 2.25 in³'
    """
    return "".join(amount(part.value, part.unit) if isinstance(part, Amount) else part for part in text)


def sum_up(answer: Answer) -> str:
    """Total against limit in one phrase: ``24.75 of 22.5 in³``."""
    limit = "?" if answer.limit is None else amount(answer.limit, answer.unit)
    if answer.unit == "share":
        return f"{share(answer.total)} of what it may carry"
    return f"{figure(answer.total)} of {limit}"
