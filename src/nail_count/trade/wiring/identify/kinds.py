"""What a cable of a switch box can be, and what each of its conductors then reaches at its far end.

Source: common practice of house wiring; the ways a switch place is fed. With the wires of the box apart, a reading on
a conductor depends only on what it reaches: the program works with this table.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import permutations
from typing import Literal

from ...model.conductor import Role

Reach = Literal["hot", "neutral", "lamp", "far hot", "far lamp", "far either", "nothing"]
"""Directly at its far end: the supply; the supply's neutral; a lamp whose other side is at the neutral; the supply or
the lamp through the far switch while it stands right; the one or the other through it; or nothing that a meter here
would notice."""


@dataclass(frozen=True, slots=True)
class End:
    """One conductor of a cable, by what it is and what it reaches."""

    role: Role
    reach: Reach
    circuit: int = 0
    """Which circuit, from 0, where it reaches the supply."""
    far: int = 0
    """The position of the far switch in which it is through; 0: it does not depend on one."""
    at: Literal["", "center", "shell", "next hot", "next neutral"] = ""
    """The terminal it ends on, directly, where that can be got at."""
    broken: bool = False


@dataclass(frozen=True, slots=True)
class Link:
    """Two conductors of a cable that are joined beyond the box."""

    one: int
    other: int
    through: Literal["wire", "lamp"]
    far: int = 0


@dataclass(frozen=True, slots=True)
class Kind:
    """What a cable can be."""

    name: str
    """As a person says it."""
    ends: tuple[End, ...]
    weight: float
    """How usual it is, before anything is looked at; common practice."""
    source: bool = False
    """Whether it brings the supply."""
    load: bool = False
    """Whether it leads to the load."""
    links: tuple[Link, ...] = ()


@lru_cache(maxsize=64)
def kinds(wires: int, circuits: int, places: int | None) -> tuple[Kind, ...]:
    """Everything a cable of so many insulated conductors can be.

    Args:
        wires: 1 to 3; what has more is taken as single wires.
        circuits: how many circuits may feed the box.
        places: from how many places the load is controlled; None: not known. One place rules out travelers.
    """
    made = {1: _singles, 2: _pairs, 3: _threes}[wires](circuits)
    if places == 1:
        return tuple(kind for kind in made if not any(end.role == "traveler" for end in kind.ends))
    return tuple(made)


def _singles(circuits: int) -> Iterator[Kind]:
    for k in range(circuits):
        yield Kind("supply", (End("line", "hot", k),), 0.3, source=True)
    yield Kind("neutral", (End("neutral", "neutral"),), 0.2)
    yield Kind("to the lamp", (End("switched", "lamp", at="center"),), 0.35, load=True)
    yield Kind("onward", (End("onward", "nothing", at="next hot"),), 0.05)
    for position in (1, 2):
        yield Kind("to the other switch", (End("traveler", "far lamp", far=position),), 0.02, load=True)
        for k in range(circuits):
            yield Kind("from the other switch", (End("traveler", "far hot", k, position),), 0.02, source=True)
    yield Kind("not in use", (End("unused", "nothing"),), 0.03)


_LAMP_NEUTRAL = End("neutral", "nothing", at="shell")
_TO_LAMP = End("switched", "nothing", at="center")
_NEXT_HOT = End("onward", "nothing", at="next hot")
_NEXT_NEUTRAL = End("neutral", "nothing", at="next neutral")


def _pairs(circuits: int) -> Iterator[Kind]:
    for k in range(circuits):
        yield Kind("feed", (End("line", "hot", k), End("neutral", "neutral")), 0.3, source=True)
        ends = (End("line", "hot", k), End("switched", "lamp", at="center"))
        yield Kind("loop from the lamp", ends, 0.15, source=True, load=True)
    yield Kind("to the lamp", (_TO_LAMP, _LAMP_NEUTRAL), 0.3, load=True, links=(Link(0, 1, "lamp"),))
    ends = (_NEXT_HOT, _NEXT_NEUTRAL)
    yield Kind("onward", ends, 0.2, links=(Link(0, 1, "lamp"),))
    yield Kind("not in use", (End("unused", "nothing"), End("unused", "nothing")), 0.02)


def _threes(circuits: int) -> Iterator[Kind]:
    neutral = End("neutral", "neutral")
    for k in range(circuits):
        ends: tuple[End, ...] = (End("line", "hot", k), End("switched", "lamp", at="center"), neutral)
        yield Kind("loop with neutral", ends, 0.15, source=True, load=True, links=(Link(1, 2, "lamp"),))
        ends = (End("traveler", "far hot", k, 1), End("traveler", "far hot", k, 2), neutral)
        yield Kind("from the other switch, which has the feed", ends, 0.15, source=True)
        ends = (
            End("traveler", "far hot", k, 1),
            End("traveler", "far hot", k, 2),
            End("switched", "lamp", at="center"),
        )
        yield Kind("from the other switch, fed over a traveler, back to the lamp", ends, 0.12, source=True, load=True)
        ends = (End("traveler", "far lamp", far=1), End("traveler", "far lamp", far=2), End("line", "hot", k))
        yield Kind("from the other switch, hot down, back over a traveler", ends, 0.12, source=True, load=True)
        fed_there = (End("line", "hot", k), End("switched", "lamp", at="center"), End("switched", "lamp"))
        yield Kind("fan and light, fed at the fan", fed_there, 0.05, source=True, load=True)
        both = (End("line", "hot", k), End("switched", "lamp", at="center"), End("traveler", "far either", k, 1))
        yield Kind("from the other switch, converted", both, 0.04, source=True, load=True)
        both = (*both[:2], replace(both[2], far=2))
        yield Kind("from the other switch, converted", both, 0.04, source=True, load=True)
        ends = (End("line", "hot", k), neutral, End("unused", "nothing"))
        yield Kind("feed, third wire not in use", ends, 0.03, source=True)
    for one in range(circuits):
        for other in range(circuits):
            if one != other:
                ends = (End("line", "hot", one), End("line", "hot", other), neutral)
                yield Kind("multiwire feed", ends, 0.08, source=True)
    ends = (_TO_LAMP, replace(_TO_LAMP, at=""), _LAMP_NEUTRAL)
    links = (Link(0, 2, "lamp"), Link(1, 2, "lamp"))
    yield Kind("to fan and light", ends, 0.12, load=True, links=links)
    ends = (_NEXT_HOT, replace(_NEXT_HOT, at=""), _NEXT_NEUTRAL)
    yield Kind("onward, two circuits", ends, 0.04, links=links)
    ends = (_NEXT_HOT, _TO_LAMP, replace(_NEXT_NEUTRAL, at=""))
    yield Kind("to a receptacle, half of it switched", ends, 0.05, load=True, links=links)
    ends = (End("traveler", "nothing", far=1), End("traveler", "nothing", far=2), _LAMP_NEUTRAL)
    links = (Link(0, 2, "lamp", 1), Link(1, 2, "lamp", 2))
    yield Kind("to the other switch, which has the lamp", ends, 0.15, load=True, links=links)
    ends = (*ends[:2], End("switched", "nothing", at="shell"))
    yield Kind("to the other switch, polarity switched at the lamp", ends, 0.02, load=True, links=links)
    links = (Link(0, 2, "wire", 1), Link(1, 2, "wire", 2))
    yield Kind("to the other switch and back", ends, 0.15, links=links)
    ends = (End("onward", "nothing", far=1), End("switched", "nothing", far=2), End("traveler", "nothing"))
    yield Kind("to the other switch, converted", ends, 0.04, links=links)
    yield Kind("not in use", (End("unused", "nothing"),) * 3, 0.01)


BROKEN = 0.01
"""How usual a conductor is that is broken, or whose splice beyond the box has come loose; common practice."""


@dataclass(frozen=True, slots=True)
class Guess:
    """One way a cable can be: its kind, and which conductor is which."""

    kind: Kind
    ends: tuple[End, ...]
    """By conductor."""
    links: tuple[Link, ...]
    weight: float

    @property
    def roles(self) -> tuple[Role, ...]:
        """The role of each conductor."""
        return tuple(end.role for end in self.ends)


@lru_cache(maxsize=64)
def guesses(wires: int, circuits: int, places: int | None) -> tuple[Guess, ...]:
    """Every way a cable of so many conductors can be, with at most one of them broken.

    >>> sorted({guess.roles for guess in guesses(2, 1, 1)})[:3]
    [('line', 'neutral'), ('line', 'switched'), ('neutral', 'line')]
    """
    found: dict[tuple[object, ...], Guess] = {}
    for kind in kinds(wires, circuits, places):
        orders = list(permutations(range(wires)))
        for order in orders:
            ends = tuple(kind.ends[place] for place in order)
            where = {place: number for number, place in enumerate(order)}
            links = tuple(replace(link, one=where[link.one], other=where[link.other]) for link in kind.links)
            for guess in _with_breaks(kind, ends, links, kind.weight / len(orders)):
                key = (kind.name, guess.ends, frozenset(guess.links))
                before = found.get(key)
                found[key] = guess if before is None else replace(guess, weight=before.weight + guess.weight)
    return tuple(found.values())


def _with_breaks(kind: Kind, ends: tuple[End, ...], links: tuple[Link, ...], weight: float) -> Iterator[Guess]:
    yield Guess(kind, ends, links, weight)
    for number, end in enumerate(ends):
        broken = End(end.role, "nothing", broken=True)
        rest = tuple(link for link in links if number not in (link.one, link.other))
        yield Guess(kind, (*ends[:number], broken, *ends[number + 1 :]), rest, weight * BROKEN)


def wires_of(insulated: int) -> Sequence[int]:
    """How a cable is taken: as one of up to three wires, or as single wires in a raceway."""
    return (insulated,) if insulated <= 3 else (1,) * insulated
