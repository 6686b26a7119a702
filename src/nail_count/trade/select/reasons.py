"""What speaks for an option and against it: what its sheet says, what was found, and the box itself with it.

Weights are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..assume.usual import from_one_place
from ..edits.devices import PutDevice
from ..model.answer import Answer, State, Subject
from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..model.job import NO_VOLTS
from ..model.load import Load
from ..rules.check import BoxCheck, check_box, check_circuits, fitting_job
from ..rules.circuit.branch import GROUND_USERS_OF_CIRCUIT
from ..rules.load.heat import warmth_that_limits
from ..rules.load.position import Position, positions
from ..rules.load.rating import rating_at
from ..text.format import say
from .situation import Reason, Situation

_ALONE = Position()


def wanted(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """The wish, and what the device can do."""
    mains = mains_of(at, sheet)
    can = {*sheet.does, *(one for main in mains for one in main.does)}
    missing = [one for one in at.wish.does if one not in can]
    for one in missing:
        yield Reason(f"Doesn't do what you asked for: {one}", 0, rules_out=True)
    if not missing and at.wish.does:
        yield Reason(f"Does everything you asked for: {', '.join(at.wish.does)}", 20)
    if sheet.kind == "fan control" and not any(load.kind == "fan" for load in at.loads):
        yield Reason("Made for a fan, and there is no fan here", -10, elsewhere=True)
    if len(sheet.channels) > 1 and len({_channel(sheet, load) for load in at.loads}) < 2:
        yield Reason(f"Controls {len(sheet.channels)} things; you need one", -8)
    if sheet.gangs > 1:
        yield Reason(f"Takes {sheet.gangs} gangs", -12)
    extra = [one for one in sheet.does if one not in at.wish.does and one != "on and off"]
    if extra:
        yield Reason(f"Does more than you asked for: {', '.join(extra)}", -3 * len(extra))
    yield from _for_other_cases(at, sheet)
    if at.wish.without_network and sheet.local is False:
        yield Reason("Doesn't work with the network down, and it must", 0, rules_out=True)
    elif at.wish.without_network and sheet.local:
        yield Reason("Works by hand with the network down", 6)


def _for_other_cases(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """What a sheet is made for that isn't here: several places, a main beside it, aluminum wires."""
    one_place = at.wish.places == 1 or (at.wish.places is None and from_one_place(at.box, at.sheets))
    mains = mains_of(at, sheet)
    if one_place and mains:
        yield Reason("A companion: it needs its main device at another place", 0, rules_out=True)
    elif one_place and (sheet.is_three_way or sheet.roles.count("traveler") > 1):
        yield Reason("Made for a light switched from several places", -8, elsewhere=True)
    elif not one_place:
        yield from _beyond(at, sheet, mains)
    if "aluminum" in sheet.listed and all(cable.metal == "copper" for cable in at.box.entering):
        yield Reason("Made for aluminum wires, and these are copper", -6, elsewhere=True)


def mains_of(at: Situation, sheet: Datasheet) -> tuple[Datasheet, ...]:
    """The devices a sheet is the companion of; () of one that is none."""
    return tuple(main for main in at.sheets.values() if main.companion == sheet.id)


def _beyond(at: Situation, sheet: Datasheet, mains: tuple[Datasheet, ...]) -> Iterator[Reason]:
    """Whether it works with the device at the other switch of the same light."""
    theirs = [main for main in mains if main in at.beyond]
    asking = next((main for main in at.beyond if main.companion in at.sheets), None)
    if theirs:
        yield Reason(f"The companion of the {theirs[0].name.lower()} at the other switch", 30)
    elif mains and at.beyond:
        yield Reason("A companion, but its main device isn't at the other switch", 0, rules_out=True)
    elif mains:
        yield Reason("A companion: it works only with its main device at the other switch", -8, elsewhere=True)
    elif asking is not None:
        companion = at.sheets[asking.companion or ""].name
        text = f"The {asking.name.lower()} at the other switch works only with its companion here: {companion}"
        yield Reason(text, 0, rules_out=True)


def neutral(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """Whether it needs a neutral, uses the ground, or is made for boxes without one."""
    if sheet.neutral == "needed":
        yield _needs_neutral(at)
    elif sheet.neutral == "uses the ground":
        listed = "replaces a switch without a neutral" in sheet.listed
        if at.neutral or not listed:
            text = (
                "The box has a neutral, so it may not use the ground" if at.neutral else "Not listed to use the ground"
            )
            yield Reason(f"{text}{at.article('404.22')}", 0, rules_out=True)
        else:
            many = f": {GROUND_USERS_OF_CIRCUIT} at most on a circuit{at.article('404.2(C)')}" if at.nec else ""
            yield Reason(f"Uses the ground because it has no neutral{many}", -10)
    elif sheet.neutral == "not needed" and sheet.radio:
        if at.neutral is False:
            yield Reason("Made to work without a neutral", 16)
        else:
            text = "Made for boxes without a neutral; where there is one, a device that uses it is steadier"
            yield Reason(text, -8, elsewhere=bool(at.neutral))
    elif sheet.neutral is None and sheet.radio:
        yield Reason("Its sheet doesn't say whether it needs a neutral", -15, open=True)


def _needs_neutral(at: Situation) -> Reason:
    if at.neutral is None:
        return Reason("Needs a neutral; not checked yet whether one is here", -20, open=True)
    if not at.neutral and at.neutral_assumed:
        return Reason("Needs a neutral, and such a box usually has none", -30, open=True)
    if not at.neutral:
        return Reason("Needs a neutral, and there is none in the box", 0, rules_out=True)
    return Reason(f"The neutral it needs is {'usually ' if at.neutral_assumed else ''}in the box", 1)


def place(at: Situation, sheet: Datasheet) -> Position:
    """Where it would stand among its neighbors."""
    try:
        after = PutDevice(box=at.box.id, gang=at.gang, sheet=sheet.id).on_box(at.box, at.sheets).box
    except Rejected:
        return Position()
    warm = warmth_that_limits(after, at.sheets, at.terms, at.volts or NO_VOLTS)
    return positions(after, at.sheets, warm)[after.devices[-1].id]


BELOW_MINIMUM = {"below-minimum", "fewest-below-minimum"}


def hung(at: Situation, sheet: Datasheet) -> tuple[Load, ...]:
    """The loads it would carry, each on the channel that lists it, with an id of its own in the box."""
    loads = enumerate(at.loads, 1)
    return tuple(load.changed(id=f"w{number}", channel=_channel(sheet, load)) for number, load in loads)


@dataclass(frozen=True, slots=True)
class Tried:
    """A box with an option in it, asked by every check the tool has, its circuits too."""

    check: BoxCheck
    circuits: tuple[Answer, ...]

    @property
    def answers(self) -> dict[tuple[str, Subject], Answer]:
        """Every answer, by what it is about."""
        return {(one.about, one.subject): one for one in (*self.check.answers, *self.circuits)}


def tried(at: Situation, after: Box) -> Tried:
    """What every check says of a box, the neutral taken as the situation has it; one usually missing leaves it open."""
    if at.neutral is not None and (at.neutral or not at.neutral_assumed):
        after = after.changed(survey=after.survey.changed(neutral=at.neutral))
    check = check_box(after, at.sheets, at.terms, at.volts)
    if at.job is None:
        return Tried(check, ())
    boxes = tuple(after if one.id == after.id else one for one in at.job.boxes)
    circuits = check_circuits(fitting_job(at.job.changed(boxes=boxes)))
    return Tried(check, tuple(one for one in circuits if one.subject.of in after.circuits))


def judged(now: Tried, then: Tried, mine: str) -> Iterator[Reason]:
    """What fails or is open of a box with an option in it.

    The count and its own load stand elsewhere and are left out. What was open before is no reason; what
    failed before, for a reason the option leaves as it is, leaves it open.

    Args:
        now: the box as it is.
        then: the box as it would be.
        mine: id of the device or module in question.
    """
    before = now.answers
    for key, answer in then.answers.items():
        if answer.about == "fill" or (answer.subject.kind == "channel" and answer.subject.of == mine):
            continue
        said = f"{say(answer.title)}: {say(answer.headline)}"
        was = before.get(key)
        if answer.state is State.FAILS and was is not None and not _worse(was, answer):
            yield Reason(f"Still fails, as the box does now: {said}", -6, open=True)
        elif answer.state is State.FAILS:
            yield Reason(f"The box fails with it: {said}", 0, rules_out=True)
        elif answer.state is State.OPEN and (was is None or was.state is not State.OPEN):
            yield Reason(f"Not known then: {said}", -4, open=True)


def _worse(was: Answer, answer: Answer) -> bool:
    """Whether an answer that fails did not before, or fails by more, or for something that did not then."""
    before = {remark.text for remark in was.remarks if remark.state is State.FAILS}
    failing = {remark.text for remark in answer.remarks if remark.state is State.FAILS}
    return was.state is not State.FAILS or answer.total > was.total or not failing <= before


def counted(fill: Answer) -> Reason:
    """Whether the box holds it, by the count, or by bulk where no volume rule holds."""
    said = say(fill.headline)
    if fill.state is State.FAILS:
        return Reason(f"Doesn't fit in the box: {said}", 0, rules_out=True)
    if fill.state is State.OPEN:
        return Reason(f"Not known whether it fits: {said}", -6, open=True)
    if fill.state is State.TIGHT:
        return Reason(f"Fits, but tightly: {said}", -2)
    return Reason(f"Fits: {said}", 4)


def plate_stays(at: Situation) -> bool:
    """Whether the plate and its switch must stay, as the wish or the survey says."""
    return at.wish.stays in ("the plate", "both") or bool(at.box.survey.plate_stays)


def plate(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """The plate, and the place: it must stay, it is metal, the place is damp."""
    if plate_stays(at):
        yield Reason("The plate and its switch must stay as they are", 0, rules_out=True)
    if at.box.survey.damp and "damp places" not in sheet.listed:
        yield Reason("The place is damp, and its sheet doesn't list damp places", 0, rules_out=True)
    if at.box.survey.metal_plate and sheet.radio:
        yield Reason("The metal plate weakens its radio", -8)


def class2(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """What dims by class 2 wires needs such wires to the lamps."""
    if sheet.class2 and not any(cable.class2 for cable in at.box.entering):
        yield Reason("Dims over a pair of class 2 wires, and there is none in the box", 0, rules_out=True)


def reaches(at: Situation) -> Iterator[Reason]:
    """A module at the fixture needs a live, a neutral and a way for the switch's signal there."""
    if at.fixture == "two wires":
        text = "Only two wires go to the fixture: hot and neutral leave none for the switch's signal"
        yield Reason(text, 0, rules_out=True)
    elif at.fixture is None:
        text = "Not checked yet: are hot, neutral, and a wire for the switch's signal at the fixture?"
        yield Reason(text, -6, open=True)
    else:
        there = "The feed is at the fixture" if at.fixture == "fed there" else "Three wires go to the fixture"
        likely = "" if at.fixture_proven else ", likely; check it"
        yield Reason(f"{there}{likely}: hot, neutral, and the old drop for the switch's signal", 14, open=bool(likely))


def neutral_of_module(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """A module needs a neutral, unless its sheet says that it does not."""
    if sheet.neutral != "not needed":
        yield _needs_neutral(at)


def loads_on(at: Situation, sheet: Datasheet, where: Position = _ALONE) -> Iterator[Reason]:
    """Its loads against its limit where it would stand."""
    if not at.loads:
        yield Reason("You haven't entered its loads yet", -4, open=True)
        return
    if not sheet.channels:
        yield Reason("Can't control a load", 0, rules_out=True)
        return
    loads = tuple(load.changed(channel=_channel(sheet, load)) for load in at.loads)
    device = Device(id="new", gang=1, sheet=sheet.id, loads=loads)
    for channel in sorted({load.channel for load in loads}):
        answer = rating_at(where, device, channel, sheet, at.terms)
        text = say(answer.headline)
        if answer.state is State.FAILS:
            failing = {remark.code for remark in answer.remarks if remark.state is State.FAILS}
            if failing and failing <= BELOW_MINIMUM and sheet.bypass:
                yield Reason(f"{text}: needs a bypass at the light", -12, open=True)
            else:
                yield Reason(text, 0, rules_out=True)
        elif answer.state is State.OPEN:
            yield Reason(f"Not known: {text}", -15, open=True)
        else:
            yield Reason(f"Carries the load: {text}", 10 if answer.state is State.HOLDS else 2)


def _channel(sheet: Datasheet, load: Load) -> int:
    """The first channel that lists a load of this kind."""
    return next((number for number, outlet in enumerate(sheet.channels, 1) if outlet.rated_by(load)), 1)


def places(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """From how many places it is controlled, and which end of a pair it must stand at."""
    if at.wish.places is None and from_one_place(at.box, at.sheets):
        yield Reason("Usually switched from one place: no three-wire cable comes in", 0)
    elif at.wish.places is None:
        yield Reason("You haven't entered from how many places it is switched", -3, open=True)
    elif at.wish.places > 1 and sheet.places == "one":
        yield Reason(f"Works from one place only; you asked for {at.wish.places}", 0, rules_out=True)
    elif at.wish.places > 1 and sheet.end in ("line end", "load end") and at.end in ("line end", "load end"):
        if sheet.end != at.end:
            yield Reason(f"Belongs at the {sheet.end}, and this is the {at.end}", 0, rules_out=True)
        else:
            yield Reason(f"This is the {at.end}, where it belongs", 10)
    elif at.wish.places > 1 and sheet.companion:
        companion = at.sheets[sheet.companion].name if sheet.companion in at.sheets else sheet.companion
        yield Reason(f"The other places take its companion, {companion}, and control it fully", 12)
    elif at.wish.places > 1:
        yield Reason(
            "Works with a plain three-way switch at the other place, which brings it back at its last level", 6
        )


def radio(at: Situation, sheet: Datasheet) -> Iterator[Reason]:
    """Whether its radio is needed, and what the house has already."""
    if not sheet.radio:
        return
    if not {"schedule", "looks lived in"} & set(at.wish.does):
        yield Reason("Nothing you asked for needs its radio", -12)
    if at.hub:
        same = sheet.radio.lower() in at.hub.lower() or at.hub.lower() in sheet.radio.lower()
        yield (
            Reason(f"Joins the {at.hub} the house has", 8)
            if same
            else Reason(f"Needs {sheet.radio}; the house has {at.hub}", -10)
        )
    else:
        yield Reason(f"Needs {sheet.radio}, which the house doesn't have yet", -6)


def in_gang(at: Situation, sheet: Datasheet) -> tuple[Tried, str] | Rejected:
    """The box with a device in the gang, everything that is wanted on it, and the device's id; or why it cannot be."""
    try:
        after = PutDevice(box=at.box.id, gang=at.gang, sheet=sheet.id).on_box(at.box, at.sheets).box
    except Rejected as wrong:
        return wrong
    new = after.devices[-1]
    devices = tuple(one.changed(loads=hung(at, sheet)) if one is new else one for one in after.devices)
    return tried(at, after.changed(devices=devices)), new.id


def fits(at: Situation, put: tuple[Tried, str] | Rejected, now: Tried) -> Iterator[Reason]:
    """The box with it, counted, and every check on it; a ground where there is none."""
    if not at.ground and at.box.cables:
        yield Reason(f"No ground in the box: the bench says what to do about it{at.article('404.9(B)')}", -6)
    if isinstance(put, Rejected):
        yield Reason(put.sentence, 0, rules_out=True)
        return
    then, mine = put
    yield counted(then.check.fill)
    yield from judged(now, then, mine)
