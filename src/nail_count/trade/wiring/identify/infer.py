"""Conductors told apart: what is proven, what is likely and why, what is open, and which readings clash.

Readings rule ways out; what is left after them is exact: every way each cable can be is gone through. Everything else
(colors, terminals, splices, the year) only weighs. Proven is what every way left agrees on.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import product
from math import prod

from ...model.box import Box
from ...model.conductor import ROLES, Conductor, Reading, Role
from ...model.job import Terms
from ...model.splice import Splice
from ...model.wire import Cable
from . import colors
from .kinds import Guess, guesses, wires_of
from .predict import allowed, outcome

LIKELY_FROM = 0.8
"""From this share of the weight on, a role is called likely."""
LIKELY_AT_MOST: frozenset[Role] = frozenset(("neutral", "unused"))
"""What is never called proven, whatever the readings leave: houses wire these in ways the kinds known here do not hold,
and whoever trusts a wrong one is hurt."""
NEUTRALS_SINCE = 1980
"""Since about then a neutral at a switch is usual; common practice."""


@dataclass(frozen=True, slots=True)
class ConductorFinding:
    """A conductor, as far as it can be told."""

    id: str
    possible: tuple[Role, ...]
    """Roles that the readings leave it."""
    best: Role | None
    """The likeliest of them; None where the readings leave none."""
    share: float
    """How likely that one is, of what is left."""
    standing: str
    """proven, likely, open, or clash."""
    why: tuple[str, ...]
    """What speaks for it, and against."""

    @property
    def says(self) -> str:
        """Its standing in words, with how likely it is where more than one role is left."""
        if self.standing == "likely" and len(self.possible) == 1:
            return "likely by these readings"
        percent = f", {round(self.share * 100)}%" if self.standing in ("likely", "open") and self.best else ""
        return f"{self.standing}{percent}"


@dataclass(frozen=True, slots=True)
class Clash:
    """Readings that cannot all be so."""

    readings: tuple[str, ...]
    sentence: str


@dataclass(frozen=True, slots=True)
class Unit:
    """A cable, or one wire of a raceway, with every way it can still be."""

    cable: str
    numbers: tuple[int, ...]
    """Which conductors of the cable, from 1."""
    left: tuple[Guess, ...]
    weights: tuple[float, ...]
    readings: tuple[Reading, ...]

    @property
    def ids(self) -> tuple[str, ...]:
        """What its conductors are called."""
        return tuple(f"{self.cable}{number}" for number in self.numbers)

    @property
    def vectors(self) -> frozenset[tuple[Role, ...]]:
        """The roles its conductors can still have together."""
        return frozenset(guess.roles for guess in self.left)


@dataclass(frozen=True, slots=True)
class Inference:
    """Everything that can be told of a box."""

    conductors: tuple[ConductorFinding, ...]
    cables: tuple[tuple[str, str, float], ...]
    """For each cable or wire: its letter, what it likely is, and how likely."""
    clashes: tuple[Clash, ...]
    warnings: tuple[str, ...]
    """What must be cleared before work goes on."""
    units: tuple[Unit, ...]
    shares: tuple[tuple[float, ...], ...]
    """The share of the weight of every way each of them can be."""
    circuits: dict[str, int]

    @property
    def stop(self) -> bool:
        """Whether work stops until something is cleared."""
        return bool(self.warnings or self.clashes)

    def told(self, id: str) -> ConductorFinding:
        """One conductor. Raises StopIteration where the box has none of this name."""
        return next(told for told in self.conductors if told.id == id)


def circuits_of(box: Box) -> dict[str, int]:
    """The circuits that may feed a box, numbered: its own, and those switched on in a reading."""
    ids = [*([box.circuit] if box.circuit else []), *box.other_circuits]
    ids += [id for reading in box.readings for id in reading.on]
    return {id: number for number, id in enumerate(dict.fromkeys(ids or ["?"]))}


def infer(box: Box, terms: Terms | None = None, year: int | None = None, places: int | None = None) -> Inference:
    """What can be told of a box's conductors.

    Args:
        box: with its cables, what was seen of their conductors, and the readings taken.
        terms: voltage and color code.
        year: when the house was built, where known.
        places: from how many places its loads are controlled, where known.

    >>> from nail_count.trade.model.wire import Cable
    >>> lone = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> worked = infer(lone, places=1)
    >>> [told.standing for told in worked.conductors], worked.cables[0][1]
    (['open', 'open'], 'loop from the lamp')
    """
    terms = terms or Terms()
    circuits = circuits_of(box)
    units = [unit for cable in box.cables for unit in _units(cable, box, terms, circuits, places, year)]
    clashes = tuple(clash for unit in units if not unit.left for clash in _clash(unit, terms, circuits, places))
    units = _with_a_source([unit for unit in units if unit.left])
    shares = _shares(units, box)
    by_id = {id: told for unit, share in zip(units, shares, strict=True) for id, told in _tell(unit, share, box, terms)}
    conductors = tuple(
        by_id.get(id) or ConductorFinding(id, (), None, 0.0, "clash", ("its readings cannot all be so",))
        for cable in box.cables
        for id in cable.conductor_ids
    )
    cables = tuple((unit.cable, *_likeliest(unit, share)) for unit, share in zip(units, shares, strict=True))
    return Inference(conductors, cables, clashes, tuple(_warnings(box, terms)), tuple(units), tuple(shares), circuits)


def _units(
    cable: Cable, box: Box, terms: Terms, circuits: dict[str, int], places: int | None, year: int | None
) -> Iterator[Unit]:
    first = 1
    for wires in wires_of(cable.insulated):
        if wires == 0:
            continue
        numbers = tuple(range(first, first + wires))
        first += wires
        ids = {f"{cable.id}{number}": place for place, number in enumerate(numbers)}
        taken = tuple(reading for reading in box.readings if reading.of in ids)
        left = [
            guess
            for guess in guesses(wires, len(circuits), places)
            if all(_fits(guess, ids[reading.of], reading, terms, circuits) for reading in taken)
        ]
        seen = [cable.conductor(number) for number in numbers]
        weights = tuple(
            guess.weight * _seen_weight(guess, seen, terms, year) * _cable_weight(guess, cable, seen, taken)
            for guess in left
        )
        yield Unit(cable.id, numbers, tuple(left), weights, taken)


def _fits(guess: Guess, number: int, reading: Reading, terms: Terms, circuits: dict[str, int]) -> bool:
    shown = outcome(reading, terms.voltage)
    return shown is not None and shown in allowed(guess, number, reading, circuits)


def _seen_weight(guess: Guess, seen: Sequence[Conductor], terms: Terms, year: int | None) -> float:
    """How what was seen of the conductors weighs for a guess."""
    in_loop = guess.kind.name.startswith("loop")
    weighed = 1.0
    for end, conductor in zip(guess.ends, seen, strict=True):
        weighed *= colors.weight(conductor, end.role, in_loop, terms.colors)
        weighed *= _terminal_weight(conductor, end.role)
    if year is not None and guess.kind.name == "loop from the lamp":
        weighed *= 0.4 if year >= NEUTRALS_SINCE else 1.6
    return weighed


UP_TO_LAMP, DOWN_TO_FEED = 1.3, 1.2
"""How the way a cable leaves weighs: up to a lamp, down to a feed; common practice."""
MATCHED = 0.03
"""How a cable weighs that does not go to another switch, where a conductor of it was matched at one."""
TESTER = 0.5
"""How a non-contact tester weighs: it says that something is live, not which; common practice."""


def _cable_weight(guess: Guess, cable: Cable, seen: Sequence[Conductor], taken: Sequence[Reading]) -> float:
    """How the direction of a cable, a match at another box and the non-contact tester weigh for a guess."""
    weighed = 1.0
    if guess.kind.name == "to the lamp" and cable.enters == "top":
        weighed *= UP_TO_LAMP
    if guess.kind.name in ("feed", "onward") and cable.enters == "bottom":
        weighed *= DOWN_TO_FEED
    if any(conductor.same_as for conductor in seen) and "other switch" not in guess.kind.name:
        weighed *= MATCHED
    for reading in taken:
        live = guess.kind.source and bool(reading.on)
        if reading.kind == "tester" and live != reading.yes:
            weighed *= TESTER
    return weighed


def _terminal_weight(conductor: Conductor, role: Role) -> float:
    """The odd screw of a three-way is the common: line or switched; another screw of it, a traveler."""
    if conductor.sat_on is None:
        return 1.0
    usual: dict[str, tuple[Role, ...]] = {
        "common": ("line", "switched"),
        "other": ("traveler", "line", "switched"),
        "line": ("line",),
        "load": ("switched",),
        "neutral": ("neutral",),
    }
    return 1.0 if role in usual[conductor.sat_on] else 0.05


def _with_a_source(units: Sequence[Unit]) -> list[Unit]:
    """Without the ways that would leave the box without a supply: where only one cable can bring it, it does."""
    can = [any(guess.kind.source for guess in unit.left) for unit in units]
    if sum(can) != 1:
        return list(units)
    only = can.index(True)
    kept = [(g, w) for g, w in zip(units[only].left, units[only].weights, strict=True) if g.kind.source]
    unit = units[only]
    new = Unit(unit.cable, unit.numbers, tuple(g for g, _ in kept), tuple(w for _, w in kept), unit.readings)
    return [*units[:only], new, *units[only + 1 :]]


_CLASSES: dict[str, frozenset[Role]] = {
    "hot": frozenset(("line", "onward")),
    "neutral": frozenset(("neutral",)),
    "switched": frozenset(("switched",)),
    "traveler": frozenset(("traveler",)),
}
"""What can be joined in one splice of a box that worked."""
USELESS = 0.1
"""How a box weighs in which nothing leads to a load; common practice."""
MISJOINED = 0.03
"""How an odd one in a splice weighs; common practice."""


def _shares(units: Sequence[Unit], box: Box) -> list[tuple[float, ...]]:
    """The share of the weight of every way each cable can be, splices and supply taken into account."""
    spliced = [_splices_of(unit, box) for unit in units]
    names = sorted({name for places in spliced for name in places.values()})
    choices = [_likely_classes(name, units, spliced) for name in names]
    sums = [[0.0] * len(unit.left) for unit in units]
    for picked in product(*choices):
        classes = {name: cls for name, (cls, _) in zip(names, picked, strict=True)}
        weighed = [
            [w * _joined(guess, places, classes) for guess, w in zip(unit.left, unit.weights, strict=True)]
            for unit, places in zip(units, spliced, strict=True)
        ]
        sides = [_sides(unit, weights) for unit, weights in zip(units, weighed, strict=True)]
        for number, (unit, weights) in enumerate(zip(units, weighed, strict=True)):
            rest = [side for at, side in enumerate(sides) if at != number]
            every, dry, idle, neither = (prod(side[which] for side in rest) for which in range(4))
            for place, (guess, w) in enumerate(zip(unit.left, weights, strict=True)):
                fed = every if guess.kind.source else max(every - dry, 0.0)
                useless = 0.0 if guess.kind.load else idle if guess.kind.source else max(idle - neither, 0.0)
                sums[number][place] += w * (fed - (1 - USELESS) * useless)
    return [tuple(w / (sum(row) or 1.0) for w in row) for row in sums]


def _sides(unit: Unit, weights: Sequence[float]) -> tuple[float, float, float, float]:
    """The weight of a cable's ways: all; those that bring no supply; those that lead to no load; those that neither."""
    pairs = list(zip(unit.left, weights, strict=True))
    return (
        sum(weights),
        sum(w for guess, w in pairs if not guess.kind.source),
        sum(w for guess, w in pairs if not guess.kind.load),
        sum(w for guess, w in pairs if not (guess.kind.source or guess.kind.load)),
    )


def _splices_of(unit: Unit, box: Box) -> dict[int, str]:
    """Which conductors of a cable were in which splice."""
    seen = ((place, box.spliced(id)) for place, id in enumerate(unit.ids))
    return {place: splice.id for place, splice in seen if splice is not None}


def _joined(guess: Guess, places: dict[int, str], classes: dict[str, str]) -> float:
    fits = (guess.roles[place] in _CLASSES[classes[name]] for place, name in places.items())
    return prod(1.0 if fit else MISJOINED for fit in fits)


def _likely_classes(name: str, units: Sequence[Unit], spliced: Sequence[dict[int, str]]) -> list[tuple[str, float]]:
    """What a splice can be, each by its own weight; the hopeless ones left out, so that few are gone through."""
    found = []
    for cls in _CLASSES:
        weight = 1.0
        for unit, places in zip(units, spliced, strict=True):
            mine = {place: one for place, one in places.items() if one == name}
            if mine:
                total = sum(unit.weights) or 1.0
                pairs = zip(unit.left, unit.weights, strict=True)
                weight *= sum(w * _joined(guess, mine, {name: cls}) for guess, w in pairs) / total
        found.append((cls, weight))
    best = max(weight for _, weight in found) or 1.0
    return [(cls, weight) for cls, weight in found if weight > best / 50]


def _tell(unit: Unit, share: Sequence[float], box: Box, terms: Terms) -> Iterator[tuple[str, ConductorFinding]]:
    cable = box.cable(unit.cable)
    assert cable is not None
    for place, (id, number) in enumerate(zip(unit.ids, unit.numbers, strict=True)):
        by_role = dict.fromkeys(ROLES, 0.0)
        for guess, part in zip(unit.left, share, strict=True):
            by_role[guess.roles[place]] += part
        possible = tuple(role for role in ROLES if any(guess.roles[place] == role for guess in unit.left))
        best = max(possible, key=lambda role: by_role[role])
        proven = len(possible) == 1 and best not in LIKELY_AT_MOST
        standing = "proven" if proven else "likely" if by_role[best] >= LIKELY_FROM else "open"
        why = tuple(_why(unit, place, best, cable.conductor(number), terms, standing, box.spliced(id)))
        yield id, ConductorFinding(id, possible, best, by_role[best], standing, why)


def _why(
    unit: Unit, place: int, best: Role, seen: Conductor, terms: Terms, standing: str, splice: Splice | None
) -> Iterator[str]:
    id = unit.ids[place]
    mine = [reading for reading in unit.readings if reading.of == id]
    rest = len(unit.readings) - len(mine)
    if mine:
        yield f"{len(mine)} reading{'s' if len(mine) > 1 else ''} on it rule{'' if len(mine) > 1 else 's'} out the rest"
    if best in LIKELY_AT_MOST and standing == "likely":
        yield "wirings not known here can read the same: prove it in place before relying on it"
    if rest and standing == "proven":
        yield "readings on the other conductors of its cable leave it nothing else"
    if seen.tape or (seen.color and not seen.sprayed):
        color = seen.tape or seen.color
        usual = colors.USUAL[terms.colors].get(color, frozenset()) if color else frozenset()
        speaks = "speaks for it" if best in usual else "does not speak for it" if usual else "says nothing"
        yield f"{'tape' if seen.tape else 'color'} {color} {speaks}"
    if seen.sprayed:
        yield "its color cannot be told"
    if seen.sat_on:
        yield f"it sat on the {seen.sat_on} screw"
    if splice is not None:
        yield f"it was in splice {splice.name or splice.id}"
    if seen.same_as:
        yield f"it is the same wire as {seen.same_as}"


def _likeliest(unit: Unit, share: Sequence[float]) -> tuple[str, float]:
    by_kind: dict[str, float] = {}
    for guess, part in zip(unit.left, share, strict=True):
        by_kind[guess.kind.name] = by_kind.get(guess.kind.name, 0.0) + part
    return max(by_kind.items(), key=lambda one: one[1])


def _clash(unit: Unit, terms: Terms, circuits: dict[str, int], places: int | None) -> Iterator[Clash]:
    """The smallest set of a cable's readings that leaves nothing: none of them can be taken away."""
    ids = {id: place for place, id in enumerate(unit.ids)}
    every = guesses(len(unit.numbers), len(circuits), places)

    def possible(readings: Sequence[Reading]) -> bool:
        return any(all(_fits(g, ids[r.of], r, terms, circuits) for r in readings) for g in every)

    clashing = list(unit.readings)
    for reading in unit.readings:
        fewer = [one for one in clashing if one is not reading]
        if not possible(fewer):
            clashing = fewer
    named = " and ".join(reading.id for reading in clashing)
    said = "cannot be" if len(clashing) == 1 else "cannot both be" if len(clashing) == 2 else "cannot all be"
    yield Clash(tuple(reading.id for reading in clashing), f"{named} {said} so: take them again, tester proven first")


def _warnings(box: Box, terms: Terms) -> Iterator[str]:
    """Readings that stop the work, whatever they are of."""
    for reading in box.readings:
        if reading.kind != "volts":
            continue
        assert reading.volts is not None
        shown = outcome(reading, terms.voltage)
        volts = float(reading.volts)
        if shown is None:
            yield (
                f"{reading.id}: {volts:g} V is more than a house of {terms.voltage} V has: a broken tester, a lost "
                "neutral, or another supply. Stop, prove the tester, find out"
            )
        elif not reading.on and shown in ("nominal", "double") and reading.to == "ground":
            yield (
                f"{reading.id}: {volts:g} V with every breaker said to be off: the wrong breaker, a second circuit, "
                "or a broken tester. Stop, main off, prove the tester"
            )
        elif shown == "between" and reading.meter == "loaded" and not reading.lamps_in:
            yield (
                f"{reading.id}: {volts:g} V on a loaded meter with the lamps out is no ghost: something still "
                "connected, or a bad joint. Find it before going on"
            )
