"""The next reading: readings that still prove the likely role; else the one that in the worst case leaves least
open."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

from ...model.conductor import Reading, Role, To
from .infer import Inference, Unit
from .kinds import Guess
from .predict import allowed
from .reading_words import caution, in_words, state_in_words, what_in_words
from .suffice import missing

MOST_EXACT = 14
"""Up to so many ways that differ, all orders of readings are gone through; above, the best next one is taken."""
MOST_AHEAD = 5
"""How many readings ahead are looked at."""


@dataclass(frozen=True, slots=True)
class Next:
    """A reading to take, in what state, and what it will tell."""

    reading: Reading
    """Its value is not set."""
    words: str
    """All of it in one sentence."""
    what: str
    state: tuple[str, ...]
    """What must be so before it is taken, one by one."""
    caution: str
    outcomes: tuple[tuple[str, str], ...]
    """For each thing the meter can show: the uncertainty left."""


PROVE_FROM = 0.5
"""From this likelihood on, a conductor's proof is gone for; common practice."""


def next_reading(worked: Inference) -> Next | None:
    """The reading to take next; None where no reading tells anything more.

    What a conductor is likely to be is proven first, the hot before all, since the ground is trusted only by it; where
    nothing is likely, ways are split; and the rest is tried last.

    Args:
        worked: the inference so far, of the whole box.
    """
    return _proving(worked, PROVE_FROM) or splitting(worked) or _proving(worked, 0.0)


def _next(reading: Reading, outcomes: tuple[tuple[str, str], ...]) -> Next:
    words = in_words(reading), what_in_words(reading), state_in_words(reading)
    return Next(reading, *words, caution(reading), outcomes)


_FIRST: tuple[Role, ...] = ("line", "neutral", "traveler")
"""Roles that are traced to the panel, power off, before anything is switched on."""


def _proving(worked: Inference, share: float) -> Next | None:
    """The next reading of the proof that is soonest done."""
    best: tuple[tuple[int, int, float], Reading] | None = None
    for told in worked.conductors:
        if told.standing in ("proven", "clash") or told.best is None or told.share < share:
            continue
        if left := missing(worked, told.id):
            key = (_FIRST.index(told.best) if told.best in _FIRST else len(_FIRST), len(left), -told.share)
            if best is None or key < best[0]:
                best = (key, left[0])
    if best is None:
        return None
    reading = best[1]
    return _next(reading, ())


def splitting(worked: Inference) -> Next | None:
    """The reading that in the worst case leaves the fewest ways open; None where none leaves fewer.

    Cables are told apart each for itself, so the best reading of any of them is a best one of the box: the cable that
    is soonest done comes first, and of readings that do as well the safer.

    Args:
        worked: the inference so far, of the whole box.
    """
    ids = tuple(worked.circuits)
    best: tuple[tuple[float, float, int], Reading, Unit] | None = None
    for unit in worked.units:
        if len(unit.vectors) < 2:
            continue
        for cost, (reading, after, share) in enumerate(_rated(unit.left, len(unit.numbers), ids, worked.neutral_parts)):
            key = (after, share, cost)
            if best is None or key < best[0]:
                best = (key, reading, unit)
    if best is None:
        return None
    _, reading, unit = best
    reading = _renamed(reading, unit)
    return _next(reading, tuple(_meanings(unit, reading, worked)))


@lru_cache(maxsize=512)
def _rated(
    left: tuple[Guess, ...], wires: int, circuits: tuple[str, ...], neutral_parts: bool
) -> tuple[tuple[Reading, float, float], ...]:
    """As [_Search.rated][], for a cable called A: many cables are alike, and a reading changes but one."""
    unit = Unit("A", tuple(range(1, wires + 1)), left, (1.0,) * len(left), (), 1.0)
    return tuple(_Search(unit, circuits, neutral_parts).rated())


def _renamed(reading: Reading, unit: Unit) -> Reading:
    """A reading of the cable called A, as one of this cable."""
    names = dict(zip((f"A{number}" for number in range(1, len(unit.numbers) + 1)), unit.ids, strict=True))
    return reading.changed(of=names[reading.of], to=names.get(reading.to, reading.to))


@lru_cache(maxsize=20_000)
def _row(guess: Guess, circuits: tuple[str, ...], far: bool, neutral_parts: bool) -> tuple[frozenset[str], ...]:
    """What each reading worth thinking of may show if a cable called A is so; `far`: the far switch flipped too."""
    numbers = tuple(range(1, len(guess.ends) + 1))
    known = {id: number for number, id in enumerate(circuits)}
    readings = _candidates(tuple(f"A{number}" for number in numbers), circuits, far)
    return tuple(
        allowed(guess, int(reading.of[1:]) - 1, reading, known, neutral_parts=neutral_parts) for reading in readings
    )


class _Search:
    """The ways a cable can be as bits of a number, and what each outcome of each reading leaves of them."""

    def __init__(self, unit: Unit, circuits: Sequence[str], neutral_parts: bool) -> None:
        far = any(end.far for guess in unit.left for end in guess.ends)
        self.readings = list(candidates(unit, circuits))
        rows: dict[tuple[tuple[Role, ...], tuple[frozenset[str], ...]], None] = {}
        for guess in unit.left:
            rows[guess.roles, _row(guess, tuple(circuits), far, neutral_parts)] = (
                None  # ways that no reading tells apart are one
            )
        self.roles = [roles for roles, _ in rows]
        self.parts: list[list[int]] = []
        for place in range(len(self.readings)):
            masks: dict[str, int] = {}
            for number, (_, shown) in enumerate(rows):
                for one in shown[place]:
                    masks[one] = masks.get(one, 0) | 1 << number
            self.parts.append(list(masks.values()))
        self.all = (1 << len(rows)) - 1
        self.known: dict[tuple[int, int], float] = {}

    def rated(self) -> Iterator[tuple[Reading, float, float]]:
        """Each reading that tells something whatever it shows: the uncertainty after it, and how much of the roles."""
        exact = len(self.roles) <= MOST_EXACT
        before = self.vectors(self.all)
        for reading, parts in zip(self.readings, self.parts, strict=True):
            if len(parts) < 2 or self.all in parts:
                continue
            most = max(map(self.vectors, parts))
            after = max(self.fewest(part, MOST_AHEAD) for part in parts) if exact else float(most)
            yield reading, after, most / before

    def vectors(self, mask: int) -> int:
        """How many different roles the conductors can still have together."""
        return len({roles for number, roles in enumerate(self.roles) if mask >> number & 1})

    def fewest(self, mask: int, ahead: int) -> float:
        """The fewest readings that in the worst case leave one answer, or as few as any reading can leave."""
        if ahead == 0 or self.vectors(mask) < 2:
            return float(ahead == 0 and self.vectors(mask) > 1)
        if (mask, ahead) not in self.known:
            best = float("inf")
            for parts in self.parts:
                left = [part & mask for part in parts if part & mask]
                if len(left) > 1 and mask not in left:
                    best = min(best, 1 + max(self.fewest(part, ahead - 1) for part in left))
                    if best == 1:
                        break
            self.known[mask, ahead] = 0.0 if best == float("inf") else best
        return self.known[mask, ahead]


def candidates(unit: Unit, circuits: Sequence[str]) -> tuple[Reading, ...]:
    """Every reading worth thinking of on a cable, the safest first: power off before power on."""
    far = any(end.far for guess in unit.left for end in guess.ends)
    return _candidates(unit.ids, tuple(circuits), far)


@lru_cache(maxsize=512)
def _candidates(ids: tuple[str, ...], circuits: tuple[str, ...], far: bool) -> tuple[Reading, ...]:
    return tuple(_all_readings(ids, circuits, (1, 2) if far else (1,)))


def _all_readings(
    ids: tuple[str, ...], circuits: tuple[str, ...], positions: tuple[Literal[1, 2], ...]
) -> Iterator[Reading]:
    for position in positions:
        for to in _BEYOND:
            for id in ids:
                yield Reading(id="next", kind="continuity", of=id, to=to, far=position, lamps="out", yes=True)
        for one in ids:
            for other in ids:
                if one < other:
                    yield Reading(id="next", kind="continuity", of=one, to=other, far=position, lamps="out", yes=True)
        for circuit in circuits:
            for id in ids:
                yield Reading(id="next", kind="volts", of=id, far=position, on=(circuit,), lamps="out", volts=0)
            for id in ids:
                yield Reading(
                    id="next", kind="volts", of=id, to="hot", far=position, on=(circuit,), lamps="out", volts=0
                )


_BEYOND: tuple[To, ...] = ("ground", "lamp shell", "lamp center", "next hot", "next neutral")
"""What continuity is looked for to."""

_SHOWN = {
    "nominal": "full voltage",
    "zero": "nothing",
    "between": "something between",
    "double": "twice the voltage",
    "yes": "continuity",
    "no": "no continuity",
}


def _meanings(unit: Unit, reading: Reading, worked: Inference) -> Iterator[tuple[str, str]]:
    place = unit.ids.index(reading.of)
    left: dict[str, dict[Role, None]] = {}
    for guess in sorted(unit.left, key=lambda guess: -guess.weight):
        for shown in allowed(guess, place, reading, worked.circuits, neutral_parts=worked.neutral_parts):
            left.setdefault(shown, {})[guess.roles[place]] = None
    for shown, roles in left.items():
        said = " or ".join("not in use" if role == "unused" else role for role in roles)
        yield _SHOWN[shown], f"{reading.of} is then likely {said}"
