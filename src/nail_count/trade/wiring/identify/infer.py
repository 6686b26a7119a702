"""Conductors told apart: proven, likely and why, open, and which readings clash.

Proven is only what readings prove by themselves, in whatever house (the rules of wires). A likely role is weighed:
readings rule out ways a cable can be, of those that are known; colors, terminals, splices and the year weigh the rest.
The known ways are never all of them: that a cable is something else is always a candidate, the more so the less of the
known ways readings leave.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial
from itertools import product
from math import prod

from ...model.box import Box
from ...model.conductor import EVERY, ROLES, Conductor, Reading, Role
from ...model.job import Terms
from ...model.splice import Splice
from ...model.wire import Cable
from ...rules.wires.live import live_test
from ...rules.wires.live_points import Found
from ...rules.wires.proof import Evidence, Proven, main_parts_neutral, proven
from ...rules.wires.shown import of_ohms, shown
from ...text.wires import name_of_splice
from .clashes import Clash, clashes_of, state_of, warnings_of
from .kinds import Guess, guesses, wires_of
from .predict import fits
from .weights import NOWHERE, FarEnd, cable_weight, end_weight, seen_weight

LIKELY_FROM = 0.8
"""From this share of the weight on, a role is called likely."""
SOMETHING_ELSE = 0.02
"""How usual it is that a cable is none of the ways known here, before anything is looked at; common practice."""
BY_CHANCE = 0.4
"""How often a cable that is something else gives a reading that a known way gives too; common practice."""


@dataclass(frozen=True, slots=True)
class ConductorFinding:
    """A conductor, as far as it can be told."""

    id: str
    possible: tuple[Role, ...]
    """Roles that the readings leave it, in the ways known here; it may always be something else."""
    best: Role | None
    """The likeliest of them; None where the readings leave none."""
    share: float
    """How likely that one is, of the ways left."""
    standing: str
    """proven, measured, likely, open, or clash."""
    why: tuple[str, ...]
    """What speaks for it, and against."""

    @property
    def says(self) -> str:
        """Its standing in words, with how likely it is where more than one role is left."""
        percent = f", {min(int(self.share * 100), 99)}%" if self.standing in ("likely", "open") and self.best else ""
        return f"{self.standing}{percent}"


@dataclass(frozen=True, slots=True)
class Unit:
    """A cable, or one wire of a raceway, with every way it can still be."""

    cable: str
    numbers: tuple[int, ...]
    """Which conductors of the cable, from 1."""
    left: tuple[Guess, ...]
    weights: tuple[float, ...]
    readings: tuple[Reading, ...]
    known: float
    """How likely it is any of the ways known here at all."""

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
    readings: tuple[Reading, ...]
    proven: Proven
    neutral_parts: bool = False
    """Whether the main of such a house may open the neutral too."""

    @property
    def stop(self) -> bool:
        """Whether work stops until something is cleared."""
        return bool(self.warnings or self.clashes)

    def told(self, id: str) -> ConductorFinding:
        """One conductor. Raises StopIteration where the box has none of this name."""
        return next(told for told in self.conductors if told.id == id)


NOT_KNOWN = "?"
"""Stands for the circuit of a box whose breaker nobody has found."""


def circuits_of(box: Box) -> dict[str, int]:
    """The circuits that may feed a box, numbered: its own, and those switched on in a reading."""
    ids = [*([box.circuit] if box.circuit else []), *box.other_circuits]
    ids += [id for reading in box.readings for id in reading.on]
    ids = [id for id in ids if id != EVERY]
    return {id: number for number, id in enumerate(dict.fromkeys(ids or [NOT_KNOWN]))}


def infer(
    box: Box,
    terms: Terms | None = None,
    year: int | None = None,
    places: int | None = None,
    ends: Mapping[str, FarEnd] = NOWHERE,
) -> Inference:
    """Infer the roles of a box's conductors.

    Args:
        box: with its cables, what was seen of their conductors, and the readings taken.
        terms: voltage and color code.
        year: when the house was built, where known.
        places: from how many places its loads are controlled, where known.
        ends: where its cables go, by their letters, as far as recorded: evidence, never proof.

    >>> from nail_count.trade.model.wire import Cable
    >>> lone = Box(id="b", name="B", room="R", cables=[Cable(id="A", gauge=14, insulated=2)])
    >>> worked = infer(lone, places=1)
    >>> [told.standing for told in worked.conductors], worked.cables[0][1]
    (['open', 'open'], 'loop from the lamp')
    """
    terms = terms or Terms()
    circuits = circuits_of(box)
    told = proven(box, terms.voltage)
    every = [
        unit
        for cable in box.cables
        for unit in _units(cable, box, terms, circuits=circuits, places=places, year=year, ends=ends)
    ]
    clashes = tuple(clashes_of(box, terms))
    clashing = {one.of for clash in clashes for one in box.readings if one.id in clash.readings}
    units = _with_a_source([unit for unit in every if unit.left])
    shares = _shares(units, box)
    by_id = {
        id: finding for unit, share in zip(units, shares, strict=True) for id, finding in _tell(unit, share, box, terms)
    }
    test = live_test(box, terms.voltage)
    measured = test.wires if test else {}
    conductors = tuple(
        _finding(id, by_id.get(id), told, clashing, measured.get(id))
        for cable in box.cables
        for id in cable.conductor_ids
    )
    likeliest = [(unit.cable, *_likeliest(unit, share)) for unit, share in zip(units, shares, strict=True)]
    unknown = [(unit.cable, "something else", 1.0) for unit in every if not unit.left]
    return Inference(
        conductors,
        (*likeliest, *unknown),
        clashes,
        tuple(warnings_of(box, terms)),
        tuple(units),
        tuple(shares),
        circuits,
        box.readings,
        told,
        main_parts_neutral(terms.voltage),
    )


def _finding(
    id: str, weighed: ConductorFinding | None, told: Proven, clashing: set[str], found: Found | None
) -> ConductorFinding:
    """The words for a conductor: a proof stands above what the live test measured, and that above a weight."""
    if id in clashing:
        return ConductorFinding(id, (), None, 0.0, "clash", ("its readings cannot all be so",))
    if id in told.contradicted:
        return ConductorFinding(id, (), None, 0.0, "clash", ("its readings prove two things at once",))
    if proof := told.conductors.get(id):
        why = (_proves(proof), *(weighed.why if weighed and weighed.best == proof.role else ()))
        return ConductorFinding(id, (proof.role,), proof.role, 1.0, "proven", why)
    if found is not None:
        best = weighed.best if weighed and weighed.best in MEASURED[found] else MEASURED[found][0]
        return ConductorFinding(id, MEASURED[found], best, 1.0, "measured", (f"the live test: {found}",))
    none = ConductorFinding(id, (), None, 0.0, "open", ("no way known here leaves what its cable reads",))
    return weighed or none


MEASURED: Mapping[Found, tuple[Role, ...]] = {
    "line hot": ("line", "onward"), "neutral": ("neutral",), "switch leg": ("switched",),
    "traveler": ("traveler",),
}  # fmt: skip
"""What a wire can be that a live test measured; of hots tied together, either may bring the feed."""
_AT = {
    "panel hot": "one wire with the hot in the panel",
    "panel neutral": "one wire with the neutral in the panel",
    "lamp center": "one wire with the lamp's live side",
    "lamp shell": "one wire with the lamp's neutral side",
    "next hot": "one wire with the hot at the next place",
    "next neutral": "one wire with the neutral at the next place",
    "free end": "its other end lies free",
}


def _proves(proof: Evidence) -> str:
    return f"{' and '.join(proof.by)} prove{'s' if len(proof.by) == 1 else ''} it: {_AT[proof.at]}"


def _units(
    cable: Cable,
    box: Box,
    terms: Terms,
    *,
    circuits: dict[str, int],
    places: int | None,
    year: int | None,
    ends: Mapping[str, FarEnd],
) -> Iterator[Unit]:
    first = 1
    possible = partial(fits, neutral_parts=main_parts_neutral(terms.voltage))
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
            if all(possible(guess, ids[one.of], one, shown(one, terms.voltage), circuits) for one in taken)
        ]
        seen = [cable.conductor(number) for number in numbers]
        weights = tuple(
            guess.weight
            * seen_weight(guess, seen, terms, year)
            * cable_weight(guess, cable, seen, taken)
            * end_weight(guess, ends.get(cable.id))
            for guess in left
        )
        known = sum(guess.weight for guess in left) / sum(g.weight for g in guesses(wires, len(circuits), places))
        chance = SOMETHING_ELSE * BY_CHANCE ** len({state_of(one) for one in taken})
        yield Unit(cable.id, numbers, tuple(left), weights, taken, known / (known + chance))


def _with_a_source(units: Sequence[Unit]) -> list[Unit]:
    """Without the ways that would leave the box without a supply: where only one cable can bring it, it does."""
    can = [any(guess.kind.source for guess in unit.left) for unit in units]
    if sum(can) != 1:
        return list(units)
    only = can.index(True)
    kept = [(g, w) for g, w in zip(units[only].left, units[only].weights, strict=True) if g.kind.source]
    unit = units[only]
    left, weights = tuple(g for g, _ in kept), tuple(w for _, w in kept)
    new = Unit(unit.cable, unit.numbers, left, weights, unit.readings, unit.known)
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
            by_role[guess.roles[place]] += part * unit.known
        possible = tuple(role for role in ROLES if any(guess.roles[place] == role for guess in unit.left))
        best = max(possible, key=lambda role: by_role[role])
        standing = "likely" if by_role[best] >= LIKELY_FROM else "open"
        why = tuple(_why(unit, place, best, seen=cable.conductor(number), terms=terms, splice=box.spliced(id)))
        yield id, ConductorFinding(id, possible, best, by_role[best], standing, why)


def _why(unit: Unit, place: int, best: Role, *, seen: Conductor, terms: Terms, splice: Splice | None) -> Iterator[str]:
    id = unit.ids[place]
    mine = [reading for reading in unit.readings if reading.of == id]
    if mine:
        yield f"{len(mine)} reading{'s' if len(mine) > 1 else ''} on it fit{'' if len(mine) > 1 else 's'}"
    if _reads_as_both(mine):
        yield "other loads on its circuit read as a wire: turn off and unplug everything on it, then measure again"
    if unit.known < LIKELY_FROM:
        yield f"its cable may well be something else than the ways known here: {round((1 - unit.known) * 100)}%"
    if seen.tape or (seen.color and not seen.sprayed):
        color = seen.tape or seen.color
        usual = terms.region.means(color)
        speaks = "speaks for it" if best in usual else "does not speak for it" if usual else "says nothing"
        yield f"{'tape' if seen.tape else 'color'} {color} {speaks}"
    if seen.sprayed:
        yield "its color cannot be told"
    if seen.sat_on:
        yield f"it sat on the {seen.sat_on} screw"
    if splice is not None:
        yield f"it was in splice {name_of_splice(splice.name, splice.id)}"
    if seen.same_as:
        yield f"it is the same wire as {seen.same_as}"


def _reads_as_both(mine: Sequence[Reading]) -> bool:
    """Return whether a conductor reads as one wire with the hot of a circuit and with its neutral."""
    joined = {(one.to, one.circuit) for one in mine if one.kind == "continuity" and of_ohms(one) == "joined"}
    return any(("panel hot", circuit) in joined for to, circuit in joined if to == "panel neutral")


def _likeliest(unit: Unit, share: Sequence[float]) -> tuple[str, float]:
    by_kind: dict[str, float] = {}
    for guess, part in zip(unit.left, share, strict=True):
        by_kind[guess.kind.name] = by_kind.get(guess.kind.name, 0.0) + part
    name, share_of_known = max(by_kind.items(), key=lambda one: one[1])
    if share_of_known * unit.known < 1 - unit.known:
        return "something else", 1 - unit.known
    return name, share_of_known * unit.known
