"""What may be screwed in where: limits for the label inside a plate, and the relamping table of a house."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ..model.answer import Amount, Answer, State
from ..model.box import Box, Equipment
from ..model.datasheet import Datasheet
from ..model.job import NO_VOLTS, Terms, terms_of
from ..model.load import KIND_WORDS, Load, RatedKind
from ..rules.load.draw import drawn
from ..rules.load.heat import warmth_that_limits
from ..rules.load.position import positions
from ..rules.load.rating import kind_limits, rating_at, title_of

LABEL_WORDS: dict[RatedKind, str] = KIND_WORDS | {"general": "anything", "lighting": "any lamp"}
"""What a kind of load is called on a label."""
MOST_KINDS = 3
"""How many kinds a label names for a channel without a load yet."""


@dataclass(frozen=True, slots=True)
class Carries:
    """What one channel carries at most where it stands."""

    item: Equipment
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
    """What one may draw at most with all of them fitted and the rest as it is; None: not known."""
    limit: Amount | None
    """Of the channel for this kind; None: not known."""
    by_table: bool
    """Whether the sheet's own table of mixed loads says what goes, and no one figure does."""
    state: State
    dims: bool
    """Whether they must be made for dimming."""
    label: Amount | None
    """The largest bulb by the fixture's own label; None: nobody read it."""

    @property
    def largest(self) -> Amount | None:
        """The largest bulb that may go in: never above the fixture's label; None where that was not read."""
        if self.label is None or self.most is None or self.most.unit != self.label.unit:
            return self.label
        return min(self.label, self.most, key=lambda one: one.value)


def carries(
    box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int] = NO_VOLTS
) -> tuple[Carries, ...]:
    """What each channel of a box carries at most, device by device: by the kinds on it, else the first few.

    Args:
        sheets: of everything in it, by id.
        terms: the assumptions.
        volts: across what each circuit feeds [V], by its id.
    """
    return tuple(_carries(box, sheets, terms, volts))


def relamping(
    boxes: Sequence[Box],
    sheets: Mapping[str, Datasheet],
    terms_at: Callable[[Box], Terms],
    volts: Mapping[str, int] = NO_VOLTS,
) -> tuple[Lamps, ...]:
    """Every group of lamps in a house, with what one lamp of it may draw at most where its device stands.

    Args:
        sheets: of everything in them, by id.
        terms_at: what each box is judged under.
        volts: across what each circuit feeds [V], by its id.
    """
    return tuple(row for box in boxes for row in _rows(box, sheets, terms_at(box), volts))


def _carries(box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int]) -> Iterator[Carries]:
    place = positions(box, sheets, warmth_that_limits(box, sheets, terms, volts))
    for item in box.equipment:
        sheet, here = sheets[item.sheet], terms_of(item, box, terms, volts)
        for number, outlet in enumerate(sheet.channels, 1):
            most = kind_limits(place[item.id], item, number, sheet, here)
            if not any(load.channel == number for load in item.loads):
                most = most[:MOST_KINDS]
            yield Carries(item, title_of(item, sheet), outlet.name, most)


def _rows(box: Box, sheets: Mapping[str, Datasheet], terms: Terms, volts: Mapping[str, int]) -> Iterator[Lamps]:
    place = positions(box, sheets, warmth_that_limits(box, sheets, terms, volts))
    for item in box.equipment:
        sheet, here = sheets[item.sheet], terms_of(item, box, terms, volts)
        for load in (load for load in item.loads if load.is_lamp):
            outlet = sheet.channels[load.channel - 1]
            answer = rating_at(place[item.id], item, load.channel, sheet, here)
            limits = dict(kind_limits(place[item.id], item, load.channel, sheet, here))
            kind = outlet.rated_by(load)
            by_table = outlet.mixing == "own table" and len(limits) > 1
            limit = limits.get(kind) if kind and not by_table else None
            most = _one_at_most(load, answer, limit, here) if limit else None
            yield Lamps(
                box, title_of(item, sheet), load.name, load.kind, load.quantity,
                Amount(load.each.value, load.each.unit), most, limit, by_table, answer.state, sheet.dims,
                Amount(load.label.value, load.label.unit) if load.label else None,
            )  # fmt: skip


def _one_at_most(load: Load, answer: Answer, limit: Amount, terms: Terms) -> Amount | None:
    """What one may draw, in the unit it was entered in, rounded down to a tenth: its share of what the rest leaves."""
    own = next((line.value for line in answer.lines if [part.id for part in line.parts] == [load.id]), None)
    if own is None or not answer.limit:
        return None
    each = max(1 - (answer.total - own) / answer.limit, Fraction(0)) * limit.value / load.quantity
    if limit.unit != load.each.unit:
        draws = drawn(load, limit.unit, terms.voltage, terms.assume).each
        if not draws:
            return None
        each = each / draws * load.each.value
    return Amount(Fraction(each * 10 // 1, 10), load.each.unit)
