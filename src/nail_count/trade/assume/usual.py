"""Assume of a switch box what a journeyman takes for granted until he looks.

An assumption is never stored. It is worked out again from the entered facts, and is gone as soon as the fact itself is.
Nothing that would hurt if it were wrong is assumed: where two ways are about as usual, there is no assumption, and
nothing is landed on a neutral before it is measured.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from ..model.box import Box, Device
from ..model.datasheet import Datasheet
from ..model.job import Job, Terms
from ..model.run import BoxEnd, CircuitEnd, RunEnd, WordsEnd
from ..model.wire import Cable
from ..rules.wires.live import has_live_test, live_test
from ..rules.wires.live_points import Point, circuits_in, is_on_one_circuit, points_of
from ..text.format import and_list
from ..wiring.identify.weights import NOWHERE, FarEnd, kind_of_end

AssumptionCode = Literal["whites-tied", "switch-loop", "feed", "leg", "onward", "breaker", "colors"]

_CLEAR: tuple[FarEnd, ...] = ("panel", "outlet", "onward", "told")
"""Ends that tell whether a cable brings a feed; one from another box may or may not."""


@dataclass(frozen=True, slots=True)
class Assumption:
    """Something usual that nobody has entered."""

    code: AssumptionCode
    box: str
    cables: tuple[str, ...]
    """The cables it is about, by their letters."""
    neutral: bool | None
    """Whether a neutral is in the box, if it is so; None where it tells nothing of that."""
    text: str
    """The assumption, to stand after "if"."""
    why: str
    """Why it is usual."""
    check: str
    """What settles it, at the box."""


def usual(
    box: Box, sheets: Mapping[str, Datasheet], terms: Terms, ends: Mapping[str, FarEnd] = NOWHERE
) -> tuple[Assumption, ...]:
    """Return the usual wiring of a box where nobody has entered it; () where two ways are about as usual.

    With more cables than devices, one brings the feed and the others go to lights or on: their whites are tied together
    in the back, and that is the neutral. A two-wire cable alone is a switch loop without one. A three-wire cable may
    carry a hot on its white, and two circuits have two neutrals: there nothing is assumed.

    Args:
        sheets: the sheets its devices name, by id.
        ends: what kind of end each of its cables goes to, where that is known.

    >>> from nail_count.trade.model.job import Terms
    >>> cables = [Cable(id=letter, gauge=14, insulated=2) for letter in "AB"]
    >>> usual(Box(id="hall", name="Hall", room="Hall", cables=cables), {}, Terms())
    ()
    """
    cables = [cable for cable in box.entering if not cable.class2]
    devices = [one for one in box.devices if not sheets[one.sheet].is_blank and not sheets[one.sheet].battery]
    if not devices or not cables or not tied_as_usual(box, terms, ends):
        return ()
    other = to_other_switch(box)
    if other and is_tied_in_pair(other, [cable.id for cable in cables], ends):
        return tied_in_pair(box, other, terms.voltage)
    return _from_here(box, cables, devices, terms, ends) if from_one_place(box, sheets) else ()


def _from_here(
    box: Box, cables: list[Cable], devices: list[Device], terms: Terms, ends: Mapping[str, FarEnd]
) -> tuple[Assumption, ...]:
    """The usual wiring of a box whose loads are switched from this place only."""
    letters = tuple(cable.id for cable in cables)
    if points := points_of(box):
        return _as_seen(box, points, letters, terms.voltage)
    if len(cables) > len(devices) and any(ends.get(id) != "outlet" for id in letters):
        return (tied(box, letters, terms.voltage),)
    if len(cables) == len(devices) == 1 and ends.get(letters[0], "outlet") in ("outlet", "told"):
        return (loop(box, letters[0]),)
    return ()


def from_one_place(box: Box, sheets: Mapping[str, Datasheet]) -> bool:
    """Tell whether the loads of a box are usually switched from this place only.

    Every cable has two wires, no three-way switch stands in it or stood, and nobody asked for more places.
    """
    cables = [cable for cable in box.entering if not cable.class2]
    found = box.found.devices if box.found else ()
    three_way = any(sheets[one.sheet].is_three_way for one in (*box.devices, *found) if one.sheet in sheets)
    asked = any(wish.places is not None and wish.places > 1 for wish in box.wishes)
    return bool(cables) and all(cable.insulated == 2 for cable in cables) and not three_way and not asked


def to_other_switch(box: Box) -> str:
    """Return the letter of the only three-wire cable beside cables of two wires; "" where there is no such cable."""
    cables = [cable for cable in box.entering if not cable.class2]
    threes = [cable.id for cable in cables if cable.insulated == 3]
    plain = all(cable.insulated in (2, 3) for cable in cables)
    return threes[0] if plain and len(threes) == 1 else ""


def is_tied_in_pair(other: str, letters: Sequence[str], ends: Mapping[str, FarEnd]) -> bool:
    """Tell whether the neutral of a pair of switches usually passes through a box.

    It does where the feed comes in. In the other box it does where a cable goes on to the light. In which box that is
    may follow from where the light is: it can't be fed from both.

    Args:
        other: the cable to the other switch, by its letter.
        letters: those of all cables.
    """
    here = [ends.get(id) for id in letters if id != other]
    lit = all(kind in ("told", "outlet") for kind in here)
    match ends.get(other):
        case "fed box":
            return bool(here) and "panel" not in here
        case "lit box":
            return bool(here) and not lit
        case "box":
            return bool(here) and ("panel" in here or lit)
        case _:
            return False


def tied_in_pair(box: Box, other: str, voltage: int) -> tuple[Assumption, ...]:
    """Assume that the neutral of a pair of switches passes through a box; () where somebody saw that it can't.

    Beside a feed and a light, the white of the cable to the other switch may be a hot: it is left out then.

    Args:
        other: the cable to the other switch, by its letter.
        voltage: of a circuit to neutral [V].
    """
    letters = tuple(cable.id for cable in box.entering if not cable.class2)
    two_wire = tuple(id for id in letters if id != other)
    letters = two_wire if len(two_wire) > 1 else letters
    points = points_of(box)
    if not points:
        return (tied(box, letters, voltage, other),)
    of = [{wire.rstrip("0123456789") for wire in point.wires} for point in points if not point.on]
    return (_seen_tied(box, letters, voltage),) if any(set(letters) <= cables for cables in of) else ()


def is_fed_once(box: Box, ends: Mapping[str, FarEnd]) -> bool:
    """Tell whether a box is usually on one circuit only.

    From two gangs up, somebody must have entered the circuit, or where every cable goes, with one of two wires from the
    panel. The cable to another switch of one of its lights is on the same circuit.

    Args:
        ends: what kind of end each of its cables goes to, where that is known.
    """
    feeds = [cable for cable in box.entering if ends.get(cable.id) == "panel"]
    other = to_other_switch(box)
    traced = all(ends.get(cable.id) in _CLEAR for cable in box.entering if not cable.class2 and cable.id != other)
    one = traced and len(feeds) == 1 and feeds[0].insulated == 2 and len(circuits_in(box)) <= 1
    return one or is_on_one_circuit(box)


def tied_as_usual(box: Box, terms: Terms, ends: Mapping[str, FarEnd] = NOWHERE) -> bool:
    """Tell whether nothing is known of the neutral, and only one circuit can have one in the box.

    Args:
        ends: what kind of end each of its cables goes to, where that is known.
    """
    cables = [cable for cable in box.entering if not cable.class2]
    seen = points_of(box)  # the screws of a three-way switch are marked as it is looked at
    looked_at = any(wire.asserted_role or (wire.sat_on and not seen) for cable in cables for wire in cable.conductors)
    known = box.survey.neutral is not None or box.readings or looked_at or box.contents.brought
    test = live_test(box, terms.voltage)
    tested = test is not None and (test.is_done or bool(test.troubles))
    return terms.region.whites_tied and box.use == "control" and not (known or tested) and is_fed_once(box, ends)


def _as_seen(box: Box, points: tuple[Point, ...], letters: tuple[str, ...], voltage: int) -> tuple[Assumption, ...]:
    """Assume that whites somebody saw tied together, on no switch, are the neutral."""
    used = [point for point in points if not point.is_cap]
    letters = tuple(id for id in letters if any(id == wire.rstrip("0123456789") for one in used for wire in one.wires))
    tied = [point for point in used if not point.on]
    if len(letters) > 1 and len(tied) == 1 and {wire.rstrip("0123456789") for wire in tied[0].wires} == set(letters):
        return (_seen_tied(box, letters, voltage),)
    if len(letters) == 1 and len(used) == 2 and not tied:
        return (loop(box, letters[0]),)
    return ()


def _seen_tied(box: Box, letters: tuple[str, ...], voltage: int) -> Assumption:
    return Assumption(
        "whites-tied", box.id, letters, True,
        f"the whites of {and_list(letters)}, tied together in the back, are the neutral",
        "Whites tied together on no switch are usually the neutral.",
        f"Do the live test: from the hot to the whites, expect {voltage} V.",
    )  # fmt: skip


def tied(box: Box, letters: tuple[str, ...], voltage: int, other: str = "") -> Assumption:
    """Assume that the whites of these cables are tied together.

    Args:
        voltage: of a circuit to neutral [V].
        other: the cable to another switch of the same light; "" for none.
    """
    measured = (
        "Then do the live test before anything lands on them."
        if has_live_test(box, voltage)
        else f"Before anything lands on them, test from the hot to the whites: expect {voltage} V."
    )
    two = "With two cables at one switch, one is usually the feed, and the other goes to the light."
    pair = f"In a pair of switches, the neutral usually goes on to the light over the white of {other}."
    more = "With more cables than switches, one is usually the feed, and the others go to lights or to the next box."
    return Assumption(
        "whites-tied", box.id, letters, True,
        f"the whites of {and_list(letters)} are tied together in the back",
        pair if other else two if len(letters) == 2 else more,
        f"Look for the whites in one connector, none of them on a switch. {measured}",
    )  # fmt: skip


def loop(box: Box, letter: str) -> Assumption:
    """Assume that the only cable of a switch is a loop from the light."""
    return Assumption(
        "switch-loop", box.id, (letter,), False,
        f"cable {letter} is a switch loop from the light, without a neutral",
        "One two-wire cable alone at a switch is usually a loop: hot down, switched hot back.",
        "Look for both wires of the cable on the switch.",
    )  # fmt: skip


def ends_in(job: Job) -> Mapping[str, Mapping[str, FarEnd]]:
    """Return what kind of end each cable goes to, by its box and its letter there, where that is known."""
    boxes = {box.id: box for box in job.boxes}
    known: dict[str, dict[str, RunEnd]] = {}
    for (box, cable), end in job.far_ends.items():
        known.setdefault(box, {})[cable] = end
    return {key: {id: kind_beyond(end, boxes, known) for id, end in ends.items()} for key, ends in known.items()}


def kind_beyond(end: RunEnd, boxes: Mapping[str, Box], known: Mapping[str, Mapping[str, RunEnd]]) -> FarEnd:
    """Return what kind of end a cable goes to, and of a box whether its feed or its light is known.

    Args:
        boxes: those it may go to, by their keys.
        known: where the cables of those boxes go, by their letters.
    """
    far = boxes.get(end.box) if isinstance(end, BoxEnd) else None
    kind = kind_of_end(end, far.use if far else None)
    if far is None or kind != "box":
        return kind
    ends = known.get(far.id, {})
    if any(isinstance(one, CircuitEnd) for one in ends.values()):
        return "fed box"
    two_wire = [ends.get(cable.id) for cable in far.entering if not cable.class2 and cable.insulated == 2]
    return "lit box" if two_wire and all(isinstance(one, WordsEnd) for one in two_wire) else "box"
