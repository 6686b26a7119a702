"""What can go there: every sheet, and every way round a missing neutral, with what speaks for and against it.

Hard reasons rule an option out; the rest orders the others. Doing nothing is an option.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from ..edits.contents import AddModule
from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.errors import Rejected
from ..rules.circuit.branch import NEW_CABLE
from ..rules.wires.neutral import neutral_in
from .reasons import (
    Tried,
    class2,
    counted,
    fits,
    hung,
    in_gang,
    judged,
    loads_on,
    neutral,
    neutral_of_module,
    place,
    places,
    plate,
    plate_stays,
    radio,
    reaches,
    tried,
    wanted,
)
from .situation import Option, Reason, Situation


def options(at: Situation) -> tuple[Option, ...]:
    """Everything that could be done, the best first: options that pass every check, tried on the box itself, before
    open ones; then those made for other cases; those ruled out come last, with why.

    Args:
        at: the box, the gang, what people want there, and what was found.

    Source: common practice; the listing of each sheet binds.
    """
    now = tried(at, at.box)
    found = [_stay(at, now)]
    for sheet in at.sheets.values():
        if sheet.kind in ("blank", "receptacle"):
            continue
        if sheet.is_module:
            found += [_fixture(at, sheet), _behind(at, sheet, now)]
        elif sheet.kind == "remote":
            found.append(_remote(at, sheet))
        else:
            found.append(_gang(at, sheet, now))
            if _at_wrong_end(at, sheet):
                found.append(_other_end(at, sheet))
            if sheet.neutral == "needed" and at.neutral is False:
                found.append(_new_cable(at, sheet, now))
    return tuple(
        sorted(found, key=lambda one: (not one.possible, one.for_other_cases, not one.passes, -one.score, one.title))
    )


def _stay(at: Situation, now: Tried) -> Option:
    """Nothing is done."""
    device = at.standing
    if device is None:
        none = Reason("This gang is empty", 0, rules_out=True)
        return Option("stay", "Leave it as it is", None, (none,))
    sheet = at.sheets[device.sheet]
    reasons = [Reason("No work and no cost", 45), *wanted(at, sheet)]
    if all(not reason.rules_out for reason in reasons):
        reasons.append(Reason("Does everything you asked for already", 40))
    reasons += judged(now, now, device.id)
    title = f"Leave the {sheet.name.lower()} as it is"
    return _with(Option("stay", title, sheet, tuple(reasons)), (now, device.id))


def _gang(at: Situation, sheet: Datasheet, now: Tried) -> Option:
    """A device in the gang in place of the one there."""
    where = place(at, sheet)
    reasons = [*wanted(at, sheet), *neutral(at, sheet), *loads_on(at, sheet, where)]
    reasons += [*places(at, sheet), *radio(at, sheet)]
    put = in_gang(at, sheet)
    reasons += [*class2(at, sheet), *plate(at, sheet), *fits(at, put, now)]
    return _with(Option("in the gang", f"{sheet.name} in gang {at.gang}", sheet, tuple(reasons)), put)


def _with(option: Option, put: tuple[Tried, str] | Rejected) -> Option:
    """An option with the box it was tried on."""
    return option if isinstance(put, Rejected) else replace(option, after=put[0].check, item=put[1])


def _fixture(at: Situation, sheet: Datasheet) -> Option:
    """A module at the fixture, the old switch its input."""
    reasons = [
        *reaches(at),
        Reason("The old switch stays as its input, and carries the load no longer", -6),
        Reason("Look whether the canopy or its box has room for it, dry and closed", -8, open=True),
        *wanted(at, sheet),
        *loads_on(at, sheet),
        *radio(at, sheet),
    ]
    if plate_stays(at):
        reasons.append(Reason("The plate and its switch stay as they are", 30))
    if at.wish.stays in ("the fitting", "both"):
        reasons.append(Reason("The fixture comes down once, and goes back up as it was", -6))
    if at.wish.places is not None and at.wish.places > 1:
        reasons.append(Reason("The switches of all places together are its one input", 12))
    return Option("at the fixture", f"{sheet.name} at the fixture, old switch as its input", sheet, tuple(reasons))


def _new_cable(at: Situation, sheet: Datasheet, now: Tried) -> Option:
    """A neutral brought to the box, for what needs one."""
    wired = replace(at, neutral=True, neutral_assumed=False)
    put = in_gang(wired, sheet)
    reasons = [
        *wanted(at, sheet),
        *loads_on(at, sheet, place(at, sheet)),
        *places(at, sheet),
        *radio(at, sheet),
        Reason("A new cable with a neutral has to be fished; a wall may have to be opened", -38),
        *_asked_by_the_nec(
            at, f"More than {NEW_CABLE} ft of new cable, or any outlet or device added, calls for AFCI", "210.12", -4
        ),
        Reason("Look where the cable can run", 0, open=True),
        *class2(at, sheet),
        *plate(at, sheet),
        *fits(wired, put, now),
    ]
    return _with(Option("new cable", f"New cable with a neutral, then {sheet.name}", sheet, tuple(reasons)), put)


def _remote(at: Situation, sheet: Datasheet) -> Option:
    """A battery remote on the wall; something else must do the switching."""
    reasons = [
        Reason("Needs no wire at the wall", 4),
        Reason("Switches nothing itself: it needs a module or smart bulbs too", -18, open=True),
        *_asked_by_the_nec(at, "A required light may not depend on a battery alone", "210.70, 2023", -14),
        *wanted(at, sheet),
        *radio(at, sheet),
    ]
    if at.wish.without_network:
        reasons.append(Reason("Does nothing with the network down", 0, rules_out=True))
    return Option("remote", f"{sheet.name} on the wall", sheet, tuple(reasons))


def _asked_by_the_nec(at: Situation, text: str, article: str, weight: int) -> Iterator[Reason]:
    """What only the NEC asks, where an edition of it holds."""
    if at.nec:
        yield Reason(f"{text}{at.article(article)}", weight)


def _behind(at: Situation, sheet: Datasheet, now: Tried) -> Option:
    """A module in the box behind the old switch, which becomes its input."""
    reasons = [
        Reason("The old switch stays as its input", 4),
        Reason("Sits behind the switch: crowded, warmer, and hard to reach", -10),
        *wanted(at, sheet),
        *neutral_of_module(at, sheet),
        *class2(at, sheet),
        *loads_on(at, sheet),
        *radio(at, sheet),
    ]
    if plate_stays(at):
        reasons.append(Reason("The plate and its switch stay as they are", 30))
    if at.wish.places is not None and at.wish.places > 1:
        reasons.append(Reason("The switches of the other places must reach its input from here", -10, open=True))
    put: tuple[Tried, str] | None = None
    try:
        after = AddModule(box=at.box.id, sheet=sheet.id).on_box(at.box, at.sheets).box
    except Rejected as wrong:
        reasons.append(Reason(wrong.sentence, 0, rules_out=True))
    else:
        new = after.modules[-1]
        connected = new.changed(loads=hung(at, sheet), gang=at.gang if at.standing else None)
        after = after.changed(modules=(*after.modules[:-1], connected))
        then = tried(at, after)
        reasons += [counted(then.check.fill), *judged(now, then, new.id)]
        put = (then, new.id)
    if at.standing is None:
        reasons.append(Reason("There is no switch in this gang to put it behind", 0, rules_out=True))
    option = Option("behind the switch", f"{sheet.name} behind the old switch", sheet, tuple(reasons))
    return _with(option, put) if put else option


def _at_wrong_end(at: Situation, sheet: Datasheet) -> bool:
    several = at.wish.places is not None and at.wish.places > 1
    ends = ("line end", "load end")
    return several and sheet.end in ends and at.end in ends and sheet.end != at.end


def _neutral_at(at: Situation, box: Box, gang: int) -> bool | None:
    """Whether the neutral of what feeds a gang is in its box; None: not known."""
    standing = next((one for one in box.devices if one.gang == gang), None)
    circuit = box.circuit_of(standing) if standing else box.circuit
    return neutral_in(box, at.terms.voltage, circuit=circuit).there


def _other_end(at: Situation, sheet: Datasheet) -> Option:
    """The same device at the other place of the pair, where it must stand; tried there where a run says which box."""
    reasons = [Reason(f"At the other place, the {sheet.end}, where it belongs", 8), *wanted(at, sheet)]
    across = at.across
    if across is None:
        reasons += [Reason("Check that box by itself too", -8, open=True), *loads_on(at, sheet)]
        return Option("other end", f"{sheet.name} at the other end of the pair", sheet, (*reasons, *radio(at, sheet)))
    box, gang = across
    here = _neutral_at(at, box, gang)
    there = replace(at, box=box, gang=gang, neutral=here, neutral_assumed=False, end=sheet.end)
    reasons += [*neutral(there, sheet), *loads_on(there, sheet, place(there, sheet)), *radio(there, sheet)]
    reasons += [*class2(there, sheet), *plate(there, sheet)]
    put = in_gang(there, sheet)
    reasons += fits(there, put, tried(there, box))
    title = f"{sheet.name} at the other end of the pair, {box.room}: {box.name}"
    return _with(Option("other end", title, sheet, tuple(reasons)), put)
