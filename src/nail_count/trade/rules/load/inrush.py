"""What LED drivers draw in the instant they are switched on.

Source: NEMA 410, worst-case peaks at 120 V; from memory of the publication.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction
from itertools import pairwise

from ...model.answer import Amount, Remark, Rule, State, Text
from ...model.channel import Channel
from ...model.figure import Figure
from ...model.job import Terms
from ...model.load import Load
from ...model.measure import parse_number
from .draw import drawn

NEMA = Rule("NEMA 410", "worst case at 120 V")
PEAKS: tuple[tuple[Fraction, Figure], ...] = tuple(
    (parse_number(amps), Figure(most, "A", f"{amps} A steady, the peak", NEMA))
    for amps, most in (
        ("1/2", "75"), ("1", "107"), ("2", "144"), ("3", "166"), ("5", "192"), ("8", "221"), ("10", "230"),
        ("12", "235"), ("15", "239"), ("16", "242"),
    )
)  # fmt: skip
"""Steady current [A] and its peak [A]."""


def peak(amps: Fraction) -> Fraction | None:
    """The worst peak of LED drivers that draw so much steadily [A]; None beyond the table. Straight between its rows.

    >>> peak(Fraction(4))
    Fraction(179, 1)
    """
    if amps <= PEAKS[0][0]:
        return Fraction(PEAKS[0][1])
    for (low, from_), (high, to) in pairwise(PEAKS):
        if amps <= high:
            return from_ + (to - from_) * (amps - low) / (high - low)
    return None


def inrush(outlet: Channel, loads: Sequence[Load], terms: Terms) -> Iterator[Remark]:
    """LED drivers against the sheet's inrush figure; without one its LED figure governs; with neither, a remark.

    Over the figure it is open, no failure: a peak does not say how long it lasts.
    """
    amps = [drawn(load, "A", terms.voltage, terms.assume).total for load in loads if load.kind == "led"]
    steady = sum((one for one in amps if one is not None), Fraction(0))
    if not steady:
        return
    if outlet.inrush is None:
        rating = outlet.ratings.get("led")
        if rating is None or rating.alone is None:
            text: Text = ("LED drivers draw many times as much for an instant: the sheet gives no figure for it",)
            yield Remark("inrush-not-stated", text, NEMA)
        return
    if not 110 <= terms.voltage <= 127:
        yield Remark(
            "inrush-at-120-only", (f"the inrush figures known here are for 120 V, not {terms.voltage} V",), NEMA
        )
        return
    most, allowed = peak(steady), Amount(outlet.inrush.value, "A")
    if most is None or most > outlet.inrush.value:
        shown: Text = (Amount(most, "A"),) if most is not None else ("more than the table knows",)
        text = ("switched on, the LED drivers may draw ", *shown, " for an instant; the sheet allows ", allowed)
        ways = ("fewer lamps on it", "a device with a higher inrush figure", "an inrush limiter the makers list")
        yield Remark("inrush-over", text, NEMA, State.OPEN, ways)
