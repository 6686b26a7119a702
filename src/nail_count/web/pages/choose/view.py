"""Options beside each other: what each does to the box, what differs between them first."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ....drawing.bar import Bar, bar
from ....drawing.rail import Rail, rail
from ....trade.model.answer import Answer
from ....trade.select.situation import Option, Reason

BESIDE = 3
"""How many are shown beside each other; the rest is folded."""


@dataclass(frozen=True, slots=True)
class Choice:
    """An option, and what the box would be with it."""

    option: Option
    rail: Rail | None
    """Of the count; None where it was not tried."""
    bars: tuple[tuple[Answer, Bar], ...]
    """Its loads."""
    differs: tuple[Reason, ...]
    """The reasons that rule it out, against it and for it, as far as they don't hold for all."""


def compared(options: Sequence[Option]) -> tuple[tuple[Choice, ...], tuple[Reason, ...]]:
    """The options, and the reasons that all of those shown beside each other have."""
    shown = options[:BESIDE]
    shared = [one for one in shown[0].reasons if all(one in other.reasons for other in shown)] if shown else []
    alike = tuple(shared) if len(shown) > 1 else ()
    return tuple(_choice(one, alike if number < BESIDE else ()) for number, one in enumerate(options)), alike


def ruled_out(options: Sequence[Option]) -> list[tuple[str, list[str]]]:
    """The options that can't go there, by the first reason against them; the reason most of them share comes first."""
    found: dict[str, list[str]] = {}
    for one in options:
        if not one.possible:
            found.setdefault(one.speaks_against[0], []).append(one.title)
    return sorted(found.items(), key=lambda reason: -len(reason[1]))


def _choice(option: Option, alike: tuple[Reason, ...]) -> Choice:
    after = option.after
    drawn = None if after is None else rail(after.fill)
    hung = () if after is None else tuple((one, bar(one)) for one in after.ratings if one.subject.of == option.item)
    own = (one for one in option.reasons if one not in alike)
    return Choice(option, drawn, hung, tuple(sorted(own, key=_first)))


def _first(reason: Reason) -> tuple[bool, bool, int]:
    """Ruled out, then open, then against, then for."""
    return (not reason.rules_out, not reason.open, reason.weight)
