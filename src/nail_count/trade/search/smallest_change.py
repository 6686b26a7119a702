"""The search for the smallest change that holds: tries edits, asks check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import combinations

from ..edits.devices import swapped
from ..model.answer import Amount, Answer, State, Text, worst
from ..model.box import Box, Device, Module
from ..model.datasheet import Datasheet
from ..model.enclosure import Enclosure
from ..model.errors import Rejected
from ..model.job import Terms, by_id
from ..model.survey import Survey
from ..rules.check import BoxCheck, ratings_of
from ..rules.load.position import positions


@dataclass(frozen=True, slots=True)
class Fix:
    """One change after which the box holds."""

    sentence: Text
    edit: str = ""
    """Name of the edit that makes it; "" where it is work on the wall, not an edit."""
    fields: Mapping[str, object] | None = None


def fixes(check: BoxCheck, sheets: Mapping[str, Datasheet], terms: Terms | None = None) -> tuple[Fix, ...]:
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
    room = [answer for answer in (*check.fills, check.bulk) if answer.state is State.FAILS]
    volume_fails = bool(room)
    if volume_fails and not loads_fail and len(check.fills) < 2:
        needed = max(room, key=lambda answer: answer.total - (answer.limit or 0) if answer.unit == "in3" else 0)
        return (Fix(("a box of ", Amount(needed.total, needed.unit), " or more")),)
    if loads_fail and not volume_fails:
        box = check.box
        used = tuple({item.sheet: sheets[item.sheet] for item in box.equipment}.values())
        insulated = bool(box.survey.insulated)
        return _best_swaps(box.devices, box.modules, box.enclosure.gangs, insulated, used, terms or Terms())
    return ()


@lru_cache(maxsize=512)
def _best_swaps(
    devices: tuple[Device, ...],
    modules: tuple[Module, ...],
    gangs: int,
    insulated: bool,
    used: tuple[Datasheet, ...],
    terms: Terms,
) -> tuple[Fix, ...]:
    """The best exchanges of two gangs; they depend on nothing else of the box, so most acts find them known."""
    whole, survey = Enclosure(gangs=gangs), Survey(insulated=insulated)
    box = Box(id="any", name="any", room="any", enclosure=whole, devices=devices, modules=modules, survey=survey)
    found = sorted(_swaps(box, by_id(used), terms), key=lambda pair: -pair[0])
    return tuple(fix for _, fix in found[:3])


def _swaps(box: Box, sheets: Mapping[str, Datasheet], terms: Terms) -> Iterator[tuple[Fraction, Fix]]:
    """Exchanges of two gangs after which nothing fails, each with the margin of its weakest channel."""
    for one, other in combinations(range(1, box.enclosure.gangs + 1), 2):
        fields = {"one": one, "other": other}
        try:
            after = swapped(box, one, other, sheets)
        except Rejected:
            continue
        place = positions(after, sheets, terms)
        ratings = [
            answer
            for device in after.devices
            for answer in ratings_of(place[device.id], device, sheets[device.sheet], terms)
        ]
        if worst(answer.state for answer in ratings) is not State.FAILS:
            margin = weakest(ratings)
            sentence: Text = (f"gangs {one} and {other} swapped: ", Amount(margin, "share"), " to spare")
            yield margin, Fix(sentence, "swap-gangs", fields)


def weakest(ratings: Iterable[Answer]) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    return min((_share_left(answer) for answer in ratings if answer.limit is not None), default=Fraction(1))


NOTHING_ALLOWED = Fraction(-(10**6))
"""Stands for the margin of a channel that may carry nothing here, with something on it: worse than any other."""


def _share_left(answer: Answer) -> Fraction:
    if not answer.limit:
        return NOTHING_ALLOWED if answer.total else Fraction(1)
    return 1 - answer.total / answer.limit
