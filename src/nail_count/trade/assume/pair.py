"""Assume how two boxes that switch one light are wired, where nobody has entered it.

A three-wire cable joins the two switches. One box brings the feed, and the light hangs at one of them.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.job import Job, by_id
from ..model.run import BoxEnd, CircuitEnd, OnwardEnd, RunEnd, WordsEnd
from ..rules.joints import SUPPLY_230
from ..rules.wires.neutral import neutral_in
from ..wiring.hookup.gear import kind_of
from ..wiring.identify.weights import NOWHERE
from .ends import UsualEnd, feed, goes_to, leg, onward, unless_tied
from .usual import Assumption, ends_in, is_fed_once, tied_as_usual, tied_in_pair

AT_OTHER = ("three-way", "four-way", "companion")
"""Kinds of devices that switch the lights of another one."""


@dataclass(frozen=True, slots=True)
class Side:
    """One of the two boxes."""

    box: Box
    device: Device
    to_other: str
    """The cable to the other box, by its letter."""
    known: Mapping[str, RunEnd]
    """Where its other cables go, by their letters, as far as somebody entered it."""
    unknown: tuple[str, ...]
    """The letters of those that nobody traced."""
    is_fed: bool
    """Whether the feed is known to come into it."""
    beside: Mapping[str, str]
    """The cable that goes to the light of each other device in its box, by that device's id; both are entered."""

    def takes_neutral(self, sheets: Mapping[str, Datasheet]) -> bool:
        """Whether a lead of any of its devices lands on the neutral."""
        here = (one for one in self.box.devices if one.id == self.device.id or one.id in self.beside)
        return any("neutral" in sheets[one.sheet].roles for one in here)

    @property
    def lit(self) -> tuple[str, ...]:
        """The cables that go to a light, as somebody put it in words."""
        return tuple(id for id, end in self.known.items() if isinstance(end, WordsEnd))


@dataclass(frozen=True, slots=True)
class Pair:
    """The two boxes, that of the device with the lights first."""

    main: Side
    far: Side

    @property
    def fed(self) -> Side | None:
        """The box the feed comes into; None where it may be either."""
        sides = (self.main, self.far)
        fed = [side for side in sides if side.is_fed] or [side for side in sides if side.unknown]
        return fed[0] if len(fed) == 1 else None

    @property
    def is_feed_open(self) -> bool:
        """Whether each box has a cable that may bring the feed, and nobody entered which does."""
        return not (self.main.is_fed or self.far.is_fed) and bool(self.main.unknown and self.far.unknown)


@dataclass(frozen=True, slots=True)
class PairEnds:
    """Where the cables of both boxes are assumed to go."""

    ends: tuple[tuple[str, UsualEnd], ...]
    """Each with its box."""
    light: tuple[str, str] | None
    """The box and the cable at which the light hangs; None where somebody entered where it does."""


def pair_of(job: Job, box: Box) -> Pair | None:
    """Return the two boxes that switch one light together, as far as the job shows it; None where it isn't plain.

    Each has one cable of three wires, which joins the two, and one device for their light. All other cables have two
    wires. Where other devices stand beside, somebody entered which cable goes to the light of each.

    Args:
        job: with both boxes and their runs.
        box: one of the two.
    """
    here = _side(job, box)
    end = job.far_ends.get((box.id, here.to_other)) if here else None
    other = next((one for one in job.boxes if isinstance(end, BoxEnd) and one.id == end.box), None)
    there = _side(job, other) if other and other.id != box.id else None
    if here is None or there is None or not isinstance(end, BoxEnd) or end.cable != there.to_other:
        return None
    sides = sorted((here, there), key=lambda one: (not one.device.loads, _is_far(one, by_id(job.sheets))))
    main, far = sides
    circuits = {*main.box.circuits, *far.box.circuits}
    return None if far.device.loads or len(circuits) > 1 else Pair(main, far)


def _is_far(side: Side, sheets: Mapping[str, Datasheet]) -> bool:
    return kind_of(sheets[side.device.sheet], sheets) in AT_OTHER


def _side(job: Job, box: Box) -> Side | None:
    sheets = by_id(job.sheets)
    cables = {cable.id: cable for cable in box.entering if not cable.class2}
    threes = [id for id, cable in cables.items() if cable.insulated == 3]
    working = [one for one in box.devices if not sheets[one.sheet].is_blank and not sheets[one.sheet].battery]
    usual_supply = job.terms.region.whites_tied and job.terms_at(box).voltage < SUPPLY_230
    once = is_fed_once(box, ends_in(job).get(box.id, NOWHERE))
    if box.use != "control" or not (usual_supply and once) or len(threes) != 1 or not working:
        return None
    device, beside = _of_pair(working, sheets, {id: end for (at, id), end in job.far_ends.items() if at == box.id})
    if device is None:
        return None
    told = box.readings or box.contents.brought or box.modules
    if told or any(cable.insulated != 2 for id, cable in cables.items() if id not in threes):
        return None
    mine = [id for id in cables if id not in (*threes, *beside.values())]
    ends = {id: job.far_ends[box.id, id] for id in mine if (box.id, id) in job.far_ends}
    outlets = {one.id for one in job.boxes if one.is_outlet}
    is_fed = any(
        isinstance(end, CircuitEnd) or (isinstance(end, BoxEnd) and end.box not in outlets) for end in ends.values()
    )
    unknown = tuple(id for id in mine if id not in ends)
    return Side(box, device, threes[0], ends, unknown, is_fed, beside)


def _of_pair(
    working: Sequence[Device], sheets: Mapping[str, Datasheet], ends: Mapping[str, RunEnd]
) -> tuple[Device | None, Mapping[str, str]]:
    """Return the device for the light of both boxes, and the cable to the light of each other one; None where open.

    Args:
        working: the devices of the box.
        sheets: theirs.
        ends: where its cables go, by their letters, as far as somebody entered it.
    """
    if len(working) == 1:
        return working[0], {}
    signals = [one for one in working if "traveler" in sheets[one.sheet].roles]
    beside: dict[str, str] = {}
    for one in (device for device in working if device not in signals):
        names = (one.name, *(load.name for load in one.loads))
        named = [id for id, end in ends.items() if any(goes_to(end, name) for name in names)]
        if len(named) != 1 or named[0] in beside.values():
            return None, {}
        beside[one.id] = named[0]
    return (signals[0], beside) if len(signals) == 1 else (None, {})


def usual_pair(pair: Pair, outlets: frozenset[str]) -> PairEnds | None:
    """Return where the cables of a pair usually go; None where two ways are about as usual.

    The feed comes into the box where somebody entered it, or into the only one with a cable that nobody traced. The
    light hangs at the other box if that has a cable left, else beside the feed. Its other cables go onward.

    Args:
        outlets: the boxes of the job at which loads hang.
    """
    fed = pair.fed
    if fed is None:
        return None
    left = list(fed.unknown)
    first = [] if fed.is_fed else [left.pop(0)]
    ends = [UsualEnd(id, CircuitEnd(), unless_tied(fed.box, id, feed(fed.box, id))) for id in first]
    other = pair.far if fed is pair.main else pair.main
    placed = any(load.outlet in outlets or load.cable for load in pair.main.device.loads)
    light = None if placed else _light(fed, other, left)
    if other.unknown and light not in [(other, id) for id in other.unknown]:
        return None
    if light is None:
        return PairEnds(_at(fed, [*ends, *_onward(fed, left)]), None) if placed else None
    at, cable = light
    told = cable in at.known
    name = pair.main.device.name or "the light"
    lit = [] if told else [UsualEnd(cable, WordsEnd(words="to the light"), leg(at.box, cable, name))]
    rest = [id for id in left if light != (fed, id)]
    made = (*_at(fed, ends), *_at(at, lit), *_at(fed, _onward(fed, rest)))
    return PairEnds(made, (at.box.id, cable))


def _light(fed: Side, other: Side, left: list[str]) -> tuple[Side, str] | None:
    """The cable at which the light usually hangs, and its box; None where several may be it, or none.

    Args:
        fed: the box the feed comes into.
        other: the other one.
        left: the cables of the first that nobody traced, but for the feed.
    """
    told = [(side, id) for side in (fed, other) for id in side.lit]
    may = told or [(other, id) for id in other.unknown] or [(fed, id) for id in left[:1]]
    return may[0] if len(may) == 1 else None


def _onward(fed: Side, cables: list[str]) -> list[UsualEnd]:
    return [UsualEnd(id, OnwardEnd(), unless_tied(fed.box, id, onward(fed.box, id))) for id in cables]


def _at(side: Side, ends: list[UsualEnd]) -> tuple[tuple[str, UsualEnd], ...]:
    return tuple((side.box.id, end) for end in ends)


def whites_tied(pair: Pair, job: Job) -> tuple[Assumption, ...] | None:
    """Assume that the whites of each box are tied together, until somebody looks, if a device needs a neutral.

    Returns:
        () where none is needed, or both were measured; None where a look or a test shows that it can't be so.
    """
    sheets = by_id(job.sheets)
    if not any(side.takes_neutral(sheets) for side in (pair.main, pair.far)):
        return ()
    found: list[Assumption] = []
    ends = ends_in(job)
    for side in (pair.main, pair.far):
        terms = job.terms_at(side.box)
        if not (side.known or side.unknown) or neutral_in(side.box, terms.voltage).there:
            continue
        is_usual = tied_as_usual(side.box, terms, ends.get(side.box.id, NOWHERE))
        assumed = tied_in_pair(side.box, side.to_other, terms.voltage) if is_usual else ()
        if not assumed:
            return None
        found += assumed
    return tuple(found)
