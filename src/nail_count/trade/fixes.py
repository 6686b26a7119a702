"""The search for the smallest change that holds: tries edits, asks check."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import combinations

from .check import BoxCheck, check_box
from .edits import make_edit
from .model.answer import Amount, State, Text
from .model.box import Box
from .model.complaint import Refused
from .model.job import Terms
from .model.sheet import Sheet


@dataclass(frozen=True, slots=True)
class Fix:
    """One change after which the box holds."""

    sentence: Text
    edit: str = ""
    """Name of the edit that makes it; "" where it is work on the wall, not an edit."""
    said: Mapping[str, object] | None = None


def fixes(check: BoxCheck, sheets: Mapping[str, Sheet], terms: Terms | None = None) -> tuple[Fix, ...]:
    """Single changes after which nothing in the box fails, the one that leaves most first.

    Tries every exchange of two gangs where a load fails, and says how large the box would have to be where only its
    volume fails. None for a box that does not fail.

    Args:
        check: the answers of the box as it is.
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
    """
    if check.state is not State.FAILS:
        return ()
    loads_fail = any(answer.state is State.FAILS for answer in check.ratings)
    volume_fails = check.fill.state is State.FAILS
    if volume_fails and not loads_fail:
        return (Fix(("a box of ", Amount(check.fill.total, "in3"), " or more")),)
    if loads_fail and not volume_fails:
        found = sorted(_swaps(check.box, sheets, terms), key=lambda pair: -pair[0])
        return tuple(fix for _, fix in found[:3])
    return ()


def _swaps(box: Box, sheets: Mapping[str, Sheet], terms: Terms | None) -> Iterator[tuple[Fraction, Fix]]:
    """Exchanges of two gangs after which nothing fails, each with the margin of its weakest channel."""
    for one, other in combinations(range(1, box.enclosure.gangs + 1), 2):
        said = {"one": one, "other": other}
        try:
            after = check_box(make_edit(box, "swap-gangs", said, sheets).box, sheets, terms)
        except Refused:
            continue
        if after.state is not State.FAILS:
            margin = weakest(after)
            yield (
                margin,
                Fix((f"gangs {one} and {other} swapped: ", Amount(margin, "share"), " to spare"), "swap-gangs", said),
            )


def weakest(check: BoxCheck) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    shares = [answer.margin / answer.limit for answer in check.ratings if answer.margin is not None and answer.limit]
    return min(shares, default=Fraction(1))
