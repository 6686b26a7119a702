"""The search for the smallest change that holds: tries edits, asks the whole check."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import combinations, islice

from ..edits.base import BoxEdit
from ..edits.devices import SwapGangs, swapped
from ..model.answer import Amount, Answer, State, Text, worst
from ..model.box import Box, Device, Module
from ..model.contents import Contents
from ..model.datasheet import Datasheet
from ..model.enclosure import MOST_VOLUME, Enclosure
from ..model.errors import Rejected
from ..model.job import Terms, by_id
from ..model.measure import Length, Volume
from ..model.survey import Survey
from ..rules.check import BoxCheck, check_box, ratings_of
from ..rules.load.heat import warmth_that_limits
from ..rules.load.position import positions

MOST = 3
"""How many are offered."""


@dataclass(frozen=True, slots=True)
class Fix:
    """One change after which the box holds: tried on the box itself, and every answer asked."""

    sentence: Text
    edit: BoxEdit | None = None
    """What makes it; None where it is work on the wall, not an edit."""


def fixes(
    check: BoxCheck,
    sheets: Mapping[str, Datasheet],
    terms: Terms | None = None,
    circuits: Collection[str] | Mapping[str, int] | None = None,
) -> tuple[Fix, ...]:
    """Single changes after which nothing in the box fails and nothing more is open, the one that leaves most first.

    Tries every exchange of two gangs where a load fails, and a box as large as what is in it where its volume does.
    None for a box that does not fail.

    Args:
        check: the answers of the box as it is.
        sheets: the sheets its devices name, by id.
        terms: what the job is judged under.
        circuits: ids of the job's circuits, with the volts across what each feeds; None: not judged.
    """
    if check.state is not State.FAILS:
        return ()
    terms = terms or Terms()
    held = (
        fix
        for fix, after in (*_larger_box(check), *_exchanges(check, sheets, terms))
        if _holds(check, check_box(after, sheets, terms, circuits))
    )
    return tuple(islice(held, MOST))


def _holds(before: BoxCheck, after: BoxCheck) -> bool:
    """Whether nothing fails any more, and nothing is open that was not."""
    was_open = {(answer.about, answer.subject) for answer in before.answers if answer.state is State.OPEN}
    return all(
        answer.state.passes or (answer.state is State.OPEN and (answer.about, answer.subject) in was_open)
        for answer in after.answers
    )


def _larger_box(check: BoxCheck) -> Iterator[tuple[Fix, Box]]:
    """A box that has the volume and is as deep, where volume fails; where barriers make several spaces, none is named.

    A volume says nothing of the depth: what does not go in for want of depth fails in it as it does now.
    """
    room = _no_room(check)
    if not room or len(check.fills) > 1 or _loads_fail(check):  # a larger box carries no more
        return
    needed = max(room, key=lambda answer: Volume(answer.total, answer.unit).in3)
    volume = Volume(needed.total, needed.unit)
    if volume.in3 > MOST_VOLUME:
        return
    known = None if check.depth is None or check.depth.limit is None else Length(check.depth.limit, "in")
    enclosure = check.box.enclosure.changed(volume=volume, trade_size=None, rings=(), depth=known)
    sentence: Text = ("a box of ", Amount(needed.total, needed.unit), " or more")
    yield Fix(sentence), check.box.changed(enclosure=enclosure)


def _no_room(check: BoxCheck) -> list[Answer]:
    return [answer for answer in (*check.fills, check.bulk) if answer.state is State.FAILS]


def _loads_fail(check: BoxCheck) -> bool:
    return any(answer.state is State.FAILS for answer in check.ratings)


def _exchanges(check: BoxCheck, sheets: Mapping[str, Datasheet], terms: Terms) -> Iterator[tuple[Fix, Box]]:
    """Exchanges of two gangs after which no load fails, the one that leaves most first."""
    box = check.box
    if not _loads_fail(check) or (_no_room(check) and len(check.fills) < 2):  # an exchange makes no room in one space
        return
    used = tuple({item.sheet: sheets[item.sheet] for item in box.equipment}.values())
    insulated = bool(box.survey.insulated)
    for margin, one, other in _ranked(box.devices, box.modules, box.enclosure.gangs, insulated, used, terms):
        edit = SwapGangs(box=box.id, one=one, other=other)
        sentence: Text = (f"gangs {one} and {other} swapped: ", Amount(margin, "share"), " to spare")
        yield Fix(sentence, edit), edit.on_box(box, sheets).box


@lru_cache(maxsize=512)
def _ranked(
    devices: tuple[Device, ...],
    modules: tuple[Module, ...],
    gangs: int,
    insulated: bool,
    used: tuple[Datasheet, ...],
    terms: Terms,
) -> tuple[tuple[Fraction, int, int], ...]:
    """Exchanges of two gangs after which no load fails, each with the margin of its weakest channel, largest first.

    They depend on nothing else of the box, so most acts find them known.
    """
    planned = Contents(enclosure=Enclosure(gangs=gangs), devices=devices, modules=modules)
    box = Box(id="any", name="any", room="any", planned=planned, survey=Survey(insulated=insulated))
    found = _swaps(box, by_id(used), terms)
    return tuple(sorted(found, key=lambda swap: -swap[0]))


def _swaps(box: Box, sheets: Mapping[str, Datasheet], terms: Terms) -> Iterator[tuple[Fraction, int, int]]:
    for one, other in combinations(range(1, box.enclosure.gangs + 1), 2):
        try:
            after = swapped(box, one, other, sheets)
        except Rejected:
            continue
        place = positions(after, sheets, warmth_that_limits(after, sheets, terms))
        ratings = [
            answer
            for device in after.devices
            for answer in ratings_of(place[device.id], device, sheets[device.sheet], terms)
        ]
        if worst(answer.state for answer in ratings) is not State.FAILS:
            yield weakest(ratings), one, other


def weakest(ratings: Iterable[Answer]) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    return min((_share_left(answer) for answer in ratings if answer.limit is not None), default=Fraction(1))


NOTHING_ALLOWED = Fraction(-(10**6))
"""Stands for the margin of a channel that may carry nothing here, with something on it: worse than any other."""


def _share_left(answer: Answer) -> Fraction:
    if not answer.limit:
        return NOTHING_ALLOWED if answer.total else Fraction(1)
    return 1 - answer.total / answer.limit
