"""What can go there: every sheet, and every way round a missing neutral, with what speaks for and against it.

Hard reasons rule an option out; the rest orders what is left. Doing nothing is an option. Weights are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from ..edits.devices import PutDevice
from ..model.answer import State
from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.job import Terms
from ..model.load import Load
from ..model.wish import Wish
from ..rules.check import check_box
from ..rules.load.heat import warmth_that_limits
from ..rules.load.position import Position, positions
from ..rules.load.rating import rating_at
from ..text.format import say

_ALONE = Position()
Way = Literal["stay", "in the gang", "at the fixture", "new cable", "remote"]


@dataclass(frozen=True, slots=True)
class Reason:
    """One thing that speaks for an option, or against it."""

    text: str
    weight: int
    """Above zero for it, below zero against it."""
    rules_out: bool = False


@dataclass(frozen=True, slots=True)
class Option:
    """One thing that could be done."""

    way: Way
    title: str
    sheet: Datasheet | None
    reasons: tuple[Reason, ...]

    @property
    def possible(self) -> bool:
        """Whether nothing rules it out."""
        return not any(reason.rules_out for reason in self.reasons)

    @property
    def score(self) -> int:
        """How well it fits, of those possible."""
        return sum(reason.weight for reason in self.reasons)

    @property
    def speaks_for(self) -> tuple[str, ...]:
        """Everything for it."""
        return tuple(reason.text for reason in self.reasons if reason.weight > 0)

    @property
    def speaks_against(self) -> tuple[str, ...]:
        """Everything against it; what rules it out first."""
        against = [reason for reason in self.reasons if reason.weight <= 0]
        return tuple(reason.text for reason in sorted(against, key=lambda reason: not reason.rules_out))


@dataclass(frozen=True, slots=True)
class Situation:
    """What an option is held against."""

    box: Box
    gang: int
    wish: Wish
    sheets: Mapping[str, Datasheet]
    neutral: bool | None
    """Whether a neutral is in the box; None: not known yet."""
    terms: Terms = field(default_factory=Terms)
    hub: str | None = None
    """What the house has already; None: not asked."""
    end: Literal["line end", "load end", "either"] | None = None
    """Which end of a multi-place pair this box is; None: not known."""

    @property
    def ground(self) -> bool:
        """Whether a ground is in the box."""
        return any(cable.grounds for cable in self.box.cables)

    @property
    def standing(self) -> Device | None:
        """What stands in the gang now."""
        return next((device for device in self.box.devices if device.gang == self.gang), None)


def options(at: Situation) -> tuple[Option, ...]:
    """Everything that could be done, the best first; what is ruled out comes last, with why.

    Args:
        at: the box, the gang, what people want there, and what was found.

    Source: common practice; the listing of each sheet binds.
    """
    found = [_stay(at)]
    for sheet in at.sheets.values():
        if sheet.kind in ("blank", "receptacle"):
            continue
        if sheet.is_module:
            found.append(_fixture(at, sheet))
        elif sheet.kind == "remote":
            found.append(_remote(at, sheet))
        else:
            found.append(_gang(at, sheet))
            if sheet.neutral == "needed" and at.neutral is False:
                found.append(_new_cable(at, sheet))
    return tuple(sorted(found, key=lambda option: (not option.possible, -option.score, option.title)))


def _stay(at: Situation) -> Option:
    """Nothing is done."""
    device = at.standing
    if device is None:
        none = Reason("nothing stands in this gang", 0, rules_out=True)
        return Option("stay", "Leave it as it is", None, (none,))
    sheet = at.sheets[device.sheet]
    reasons = [Reason("no work, no cost, nothing to go wrong", 45), *_wanted(at, sheet)]
    if all(not reason.rules_out for reason in reasons):
        reasons.append(Reason("it does what is asked already", 40))
    return Option("stay", f"Leave the {sheet.name.lower()} as it is", sheet, tuple(reasons))


def _gang(at: Situation, sheet: Datasheet) -> Option:
    """A device in the gang in place of what is there."""
    where = _place(at, sheet)
    reasons = [*_wanted(at, sheet), *_neutral(at, sheet), *_loads(at, sheet, where)]
    reasons += [*_places(at, sheet), *_radio(at, sheet)]
    if sheet.class2:
        reasons.append(Reason("it dims by a pair of class 2 wires, which must lie to the lamps already", -20))
    if at.wish.stays in ("the plate", "both"):
        reasons.append(Reason("the plate and its switch must stay as they are", 0, rules_out=True))
    reasons += _fits(at, sheet)
    return Option("in the gang", f"{sheet.name} in gang {at.gang}", sheet, tuple(reasons))


def _fixture(at: Situation, sheet: Datasheet) -> Option:
    """A module at the fixture, the old switch its input."""
    reasons = [
        Reason("a neutral is at the fixture whatever the switch box holds", 14 if at.neutral is False else 2),
        Reason("the old switch stays and becomes its input; what was switched is then low or constant", -6),
        Reason("has the canopy or its box room for it, dry and closed? To be looked at", -8),
        *_wanted(at, sheet),
        *_loads(at, sheet),
        *_radio(at, sheet),
    ]
    if at.wish.stays in ("the plate", "both"):
        reasons.append(Reason("the plate and its switch stay as they are", 30))
    if at.wish.stays in ("the fitting", "both"):
        reasons.append(Reason("the fitting comes down once, and goes back as it was", -6))
    if at.wish.places is not None and at.wish.places > 1:
        reasons.append(Reason("the switches of all places together are its one input", 12))
    return Option("at the fixture", f"{sheet.name} at the fixture, old switch as its input", sheet, tuple(reasons))


def _new_cable(at: Situation, sheet: Datasheet) -> Option:
    """A neutral brought to the box, for what needs one."""
    reasons = [
        *_wanted(at, sheet),
        *_loads(at, sheet, _place(at, sheet)),
        *_places(at, sheet),
        *_radio(at, sheet),
        Reason("a new cable with a neutral has to be fished: an opened wall, or a day's luck", -38),
        Reason("more than 6 ft of new cable brings AFCI with it (NEC 210.12, from memory)", -4),
        *_fits(at, sheet),
    ]
    if at.wish.stays in ("the plate", "both"):
        reasons.append(Reason("the plate and its switch must stay as they are", 0, rules_out=True))
    return Option("new cable", f"New cable with a neutral, then {sheet.name}", sheet, tuple(reasons))


def _remote(at: Situation, sheet: Datasheet) -> Option:
    """A battery remote on the wall; something else must do the switching."""
    reasons = [
        Reason("no wire needed at the wall", 4),
        Reason("it switches nothing itself: a module or lamps that listen are needed beside it", -18),
        Reason("a required light may not hang on a battery alone (NEC 210.70, 2023, from memory)", -14),
        *_wanted(at, sheet),
        *_radio(at, sheet),
    ]
    if at.wish.without_network:
        reasons.append(Reason("with the network down it does nothing", 0, rules_out=True))
    return Option("remote", f"{sheet.name} on the wall", sheet, tuple(reasons))


def _wanted(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """What is asked for, and what it can do."""
    missing = [one for one in at.wish.does if one not in sheet.does]
    for one in missing:
        yield Reason(f"it cannot do what is asked: {one}", 0, rules_out=True)
    if not missing and at.wish.does:
        yield Reason(f"it does what is asked: {', '.join(at.wish.does)}", 20)
    if sheet.kind == "fan control" and not any(load.kind == "fan" for load in at.wish.loads):
        yield Reason("it is made for a fan, and none hangs here", -10)
    if sheet.gangs > 1:
        yield Reason(f"it takes {sheet.gangs} gangs", -12)
    extra = [one for one in sheet.does if one not in at.wish.does and one != "on and off"]
    if extra:
        yield Reason(f"it can more than is asked: {', '.join(extra)}", -3 * len(extra))
    if at.wish.without_network and sheet.local is False:
        yield Reason("it must work with the network down, and does not", 0, rules_out=True)
    elif at.wish.without_network and sheet.local:
        yield Reason("it works by hand with the network down", 6)


def _neutral(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    if sheet.neutral == "needed":
        if at.neutral is False:
            yield Reason("it needs a neutral, and none is in the box", 0, rules_out=True)
        elif at.neutral is None:
            yield Reason("it needs a neutral; whether one is in the box is open", -20)
        else:
            yield Reason("the neutral it needs is in the box", 8)
    elif sheet.neutral == "uses the ground":
        listed = "replaces a switch without a neutral" in sheet.listed
        if at.neutral or not listed:
            text = (
                "a neutral is in the box: it may not use the ground" if at.neutral else "not listed to use the ground"
            )
            yield Reason(f"{text} (NEC 404.22, from memory)", 0, rules_out=True)
        else:
            yield Reason("it uses the ground for want of a neutral: five at most on a circuit (NEC 404.22)", -10)
    elif sheet.neutral == "not needed" and sheet.radio:
        if at.neutral is False:
            yield Reason("it is made to work without a neutral", 16)
        else:
            yield Reason("made for boxes without a neutral; with one, a device that uses it is steadier", -8)
    elif sheet.neutral is None and sheet.radio:
        yield Reason("its sheet does not say whether it needs a neutral", -15)


def _place(at: Situation, sheet: Datasheet) -> Position:
    """Where it would stand among its neighbors."""
    try:
        after = PutDevice(box=at.box.id, gang=at.gang, sheet=sheet.id).on_box(at.box, at.sheets).box
    except Rejected:
        return Position()
    return positions(after, at.sheets, warmth_that_limits(after, at.sheets, at.terms))[after.devices[-1].id]


BELOW_MINIMUM = {"below-minimum", "fewest-below-minimum"}


def _loads(at: Situation, sheet: Datasheet, where: Position = _ALONE) -> Iterator[Reason]:
    """What hangs on it against what it may carry where it would stand."""
    if not at.wish.loads:
        yield Reason("what hangs on it was not asked", -4)
        return
    if not sheet.channels:
        yield Reason("it controls nothing a load could hang on", 0, rules_out=True)
        return
    loads = tuple(load.changed(channel=_channel(sheet, load)) for load in at.wish.loads)
    device = Device(id="new", gang=1, sheet=sheet.id, loads=loads)
    for channel in sorted({load.channel for load in loads}):
        answer = rating_at(where, device, channel, sheet, at.terms)
        text = say(answer.headline)
        if answer.state is State.FAILS:
            failing = {remark.code for remark in answer.remarks if remark.state is State.FAILS}
            if failing and failing <= BELOW_MINIMUM and sheet.bypass:
                yield Reason(f"{text}: it wants a bypass at the lamp", -12)
            else:
                yield Reason(text, 0, rules_out=True)
        elif answer.state is State.OPEN:
            yield Reason(f"open: {text}", -15)
        else:
            yield Reason(f"its sheet lists the load: {text}", 10 if answer.state is State.HOLDS else 2)


def _channel(sheet: Datasheet, load: Load) -> int:
    """The first channel that lists a load of this kind."""
    return next((number for number, outlet in enumerate(sheet.channels, 1) if outlet.rated_by(load)), 1)


def _places(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    if at.wish.places is None:
        yield Reason("from how many places it is switched was not asked", -3)
    elif at.wish.places > 1 and sheet.places == "one":
        yield Reason(f"it is controlled from {at.wish.places} places, and this works from one only", 0, rules_out=True)
    elif at.wish.places > 1 and sheet.end in ("line end", "load end") and at.end in ("line end", "load end"):
        if sheet.end != at.end:
            yield Reason(f"it must stand at the {sheet.end}, and this is the {at.end}", 0, rules_out=True)
        else:
            yield Reason(f"this is the {at.end}, where it must stand", 10)
    elif at.wish.places > 1 and sheet.companion:
        companion = at.sheets[sheet.companion].name if sheet.companion in at.sheets else sheet.companion
        yield Reason(f"the other places take its companion, {companion}: they control it in full", 12)
    elif at.wish.places > 1:
        yield Reason(
            "a plain three-way switch at the other place works with it, and brings it back at its last level", 6
        )


def _radio(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    if not sheet.radio:
        return
    if not {"schedule", "looks lived in"} & set(at.wish.does):
        yield Reason("nothing that is asked needs its radio", -12)
    if at.hub:
        same = sheet.radio.lower() in at.hub.lower() or at.hub.lower() in sheet.radio.lower()
        yield (
            Reason(f"it joins the {at.hub} the house has", 8)
            if same
            else Reason(f"it needs {sheet.radio}; the house has {at.hub}", -10)
        )
    else:
        yield Reason(f"it needs {sheet.radio}, which the house does not have yet", -6)


def _fits(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """The box with it, counted; a ground where there is none."""
    if not at.ground and at.box.cables:
        yield Reason("no ground in the box: a finding with its own ways out (NEC 404.9(B), from memory)", -6)
    try:
        after = PutDevice(box=at.box.id, gang=at.gang, sheet=sheet.id).on_box(at.box, at.sheets).box
    except Rejected as wrong:
        yield Reason(wrong.sentence, 0, rules_out=True)
        return
    fill = check_box(after, at.sheets, at.terms).fill
    if fill.state is State.FAILS:
        yield Reason(f"the box does not hold it: {say(fill.headline)}", 0, rules_out=True)
    elif fill.state is State.OPEN:
        yield Reason(f"whether the box holds it is open: {say(fill.headline)}", -6)
    elif fill.state is State.TIGHT:
        yield Reason(f"the box holds it, tightly: {say(fill.headline)}", -2)
    else:
        yield Reason(f"the box holds it: {say(fill.headline)}", 4)
