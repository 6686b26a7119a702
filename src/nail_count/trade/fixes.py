"""The search for the smallest change that holds: tries edits, asks check."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from itertools import combinations

from .acts.devices import swapped
from .check import BoxCheck
from .model.answer import Amount, Answer, State, Text, worst
from .model.box import Box, Device
from .model.complaint import Refused
from .model.enclosure import Enclosure
from .model.job import Terms, by_id
from .model.sheet import Sheet
from .rules.places import Place, places
from .rules.rating import rating_at


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
    room = [answer for answer in (*check.fills, check.bulk) if answer.state is State.FAILS]
    volume_fails = bool(room)
    if volume_fails and not loads_fail and len(check.fills) < 2:
        needed = max(room, key=lambda answer: answer.total - (answer.limit or 0) if answer.unit == "in3" else 0)
        return (Fix(("a box of ", Amount(needed.total, needed.unit), " or more")),)
    if loads_fail and not volume_fails:
        used = tuple({device.sheet: sheets[device.sheet] for device in check.box.devices}.values())
        return _best_swaps(check.box.devices, check.box.enclosure.gangs, used, terms or Terms())
    return ()


@lru_cache(maxsize=512)
def _best_swaps(devices: tuple[Device, ...], gangs: int, used: tuple[Sheet, ...], terms: Terms) -> tuple[Fix, ...]:
    """The best exchanges of two gangs; they depend on nothing else of the box, so most acts find them known."""
    box = Box(id="any", name="any", room="any", enclosure=Enclosure(gangs=gangs), devices=devices)
    found = sorted(_swaps(box, by_id(used), terms), key=lambda pair: -pair[0])
    return tuple(fix for _, fix in found[:3])


def _swaps(box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> Iterator[tuple[Fraction, Fix]]:
    """Exchanges of two gangs after which nothing fails, each with the margin of its weakest channel."""
    reckoned: dict[tuple[str, Place], list[Answer]] = {}

    def channels(device: Device, place: Place) -> list[Answer]:
        """A limit depends only on the place, so each device is reckoned once for each."""
        if (device.id, place) not in reckoned:
            sheet = sheets[device.sheet]
            numbers = range(1, len(sheet.channels) + 1)
            reckoned[device.id, place] = [rating_at(place, device, n, sheet, terms) for n in numbers]
        return reckoned[device.id, place]

    for one, other in combinations(range(1, box.enclosure.gangs + 1), 2):
        said = {"one": one, "other": other}
        try:
            after = swapped(box, one, other, sheets)
        except Refused:
            continue
        place = places(after, sheets, terms)
        ratings = [answer for device in after.devices for answer in channels(device, place[device.id])]
        if worst(answer.state for answer in ratings) is not State.FAILS:
            margin = weakest(ratings)
            sentence: Text = (f"gangs {one} and {other} swapped: ", Amount(margin, "share"), " to spare")
            yield margin, Fix(sentence, "swap-gangs", said)


def weakest(ratings: Iterable[Answer]) -> Fraction:
    """The least margin of any channel, as a share of its limit; 1 where nothing is limited."""
    shares = [answer.margin / answer.limit for answer in ratings if answer.margin is not None and answer.limit]
    return min(shares, default=Fraction(1))
