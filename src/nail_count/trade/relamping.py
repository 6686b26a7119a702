"""What may be screwed in where: limits for the label inside a plate, and the relamping table of a house."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from .model.answer import Amount, State, limit_of
from .model.box import Box, Carrier
from .model.job import Terms
from .model.load import RatedKind
from .model.sheet import Sheet
from .rules.draw import drawn
from .rules.limits import limit_steps
from .rules.places import Place, places
from .rules.rating import rating_at, title_of

MOST_KINDS = 3
"""How many kinds a label names for a channel that nothing hangs on yet."""


@dataclass(frozen=True, slots=True)
class Carries:
    """What one channel carries at most where it stands."""

    carrier: Carrier
    title: str
    """Gang and name."""
    channel: str
    """Its name; "" where there is only one."""
    most: tuple[tuple[RatedKind, Amount | None], ...]
    """By kind of load; None: the sheet gives no figure here."""


@dataclass(frozen=True, slots=True)
class Lamps:
    """A row of the relamping table: lamps of one kind on one channel."""

    box: Box
    title: str
    """Gang and name of the device."""
    named: str
    """What people call the lamps."""
    kind: RatedKind
    quantity: int
    fitted: Amount
    """What one draws now."""
    most: Amount | None
    """What one may draw at most with all of them fitted and the rest as it is; None: not known, or not in watts."""
    limit: Amount | None
    """Of the channel for this kind."""
    state: State
    dims: bool
    """Whether they must be made for dimming."""


def carries(box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> tuple[Carries, ...]:
    """What each channel of a box carries at most, device by device: by the kinds on it, else the first few.

    Args:
        box: the box.
        sheets: of everything in it, by id.
        terms: what is assumed.
    """
    return tuple(_carries(box, sheets, terms))


def relamping(boxes: Sequence[Box], sheets: Mapping[str, Sheet], terms_at: Callable[[Box], Terms]) -> tuple[Lamps, ...]:
    """Every group of lamps in a house, with what one lamp of it may draw at most where its device stands.

    Args:
        boxes: of the house.
        sheets: of everything in them, by id.
        terms_at: what each box is judged under.
    """
    return tuple(row for box in boxes for row in _rows(box, sheets, terms_at(box)))


def _carries(box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> Iterator[Carries]:
    place = places(box, sheets, terms)
    for carrier in box.carriers:
        sheet = sheets[carrier.sheet]
        for number, outlet in enumerate(sheet.channels, 1):
            hung = [outlet.rated_by(load) for load in carrier.loads if load.channel == number]
            kinds = list(dict.fromkeys(kind for kind in hung if kind)) or list(outlet.ratings)[:MOST_KINDS]
            most = tuple((kind, _limit(kind, place[carrier.id], sheet, number, terms)) for kind in kinds)
            yield Carries(carrier, title_of(carrier, sheet), outlet.name, most)


def _limit(kind: RatedKind, place: Place, sheet: Sheet, channel: int, terms: Terms) -> Amount | None:
    outlet = sheet.channels[channel - 1]
    given = outlet.ratings[kind]
    steps = limit_steps(kind, given, sheet, place, terms.assume, bulbs=outlet.ratings.get("incandescent"))
    value = limit_of(steps)
    return None if value is None else Amount(value, given.alone.unit if given.alone else "W")


def _rows(box: Box, sheets: Mapping[str, Sheet], terms: Terms) -> Iterator[Lamps]:
    place = places(box, sheets, terms)
    for carrier in box.carriers:
        sheet = sheets[carrier.sheet]
        for load in (load for load in carrier.loads if load.is_lamp):
            kind = sheet.channels[load.channel - 1].rated_by(load)
            answer = rating_at(place[carrier.id], carrier, load.channel, sheet, terms)
            limit = _limit(kind, place[carrier.id], sheet, load.channel, terms) if kind else None
            own = next((line.value for line in answer.lines if [part.id for part in line.parts] == [load.id]), None)
            most = None
            if limit is not None and limit.value and own is not None and answer.limit:
                left = max(1 - (answer.total - own) / answer.limit, Fraction(0)) * limit.value / load.quantity
                most = _in_watts(
                    left, limit.unit, load.each.value, drawn(load, limit.unit, terms.voltage, terms.assume).each
                )
            yield Lamps(
                box, title_of(carrier, sheet), load.name, load.kind, load.quantity,
                Amount(load.each.value, load.each.unit), most, limit, answer.state, sheet.dims,
            )  # fmt: skip


def _in_watts(each: Fraction, unit: str, fitted: Fraction, draws: Fraction | None) -> Amount | None:
    """What one lamp may draw, in watts, by what the one fitted draws; rounded down to a tenth."""
    if unit != "W":
        if not draws:
            return None
        each = each / draws * fitted
    return Amount(Fraction(each * 10 // 1, 10), "W")
