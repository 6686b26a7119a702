"""The live test in plain words: what to do first, each touch, what the wires are, and what doesn't fit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ...model.box import Box
from ...model.live_test import Place
from ...rules.wires.live_points import (
    OF_SEVERAL_PLACES,
    TAKEN_FOR_GRANTED,
    Found,
    LiveTest,
    Row,
    Touch,
    Trouble,
    TroubleCode,
    points_of,
)
from ...text.format import and_list

SHOWN: Mapping[Touch, str] = {
    "full": "full voltage", "none": "nothing", "two hots": "two hots", "other": "something between",
}  # fmt: skip
"""What a touch showed, in kind."""
NAMES: Mapping[Found, str] = {
    "line hot": "Line hot", "neutral": "Neutral", "switch leg": "Switch leg, to the load", "traveler": "Travelers",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class TroubleWords:
    """What a test showed that doesn't fit, and what settles it."""

    what: str
    then: str


_TROUBLES: Mapping[TroubleCode, tuple[str, str]] = {
    "two-hots": (
        "{wires} reads two hots: this box is fed by two legs.",
        "Turn off every breaker that may feed it. This is a 240 V load, or two circuits meet here.",
    ),
    "odd-voltage": (
        "{wires} reads neither full voltage nor nothing.",
        "Make sure the tester is a loaded one, and take lamps and plugs out. If it reads the same, an electronic switch"
        " or a load feeds this wire: don't go by this test.",
    ),
    "hot-whites": (
        "The splice in the back is hot: {wires}.",
        "These whites are no neutral. A light fed first can send its hot down a white. Look at the light.",
    ),
    "no-hot": (
        "No wire on the switch reads hot.",
        "Check the breaker, then the ground: test a known hot to this ground. If the ground is bad, use a tested"
        " extension cord's ground.",
    ),
    "both-hot": (
        "Both wires on one switch read hot: {wires}.",
        "This is no plain switch on one feed. Turn off one breaker at a time and see which wire goes dead.",
    ),
    "dead-switch": (
        "Both wires on one switch read nothing: {wires}.",
        "This switch may be on another circuit whose breaker is off. Turn on every breaker that may feed the box.",
    ),
    "two-feeds": (
        "Two separate wires read hot: {wires}.",
        "Two circuits may meet here. Turn off one breaker at a time and see which wire goes dead. Each circuit needs"
        " its own neutral.",
    ),
    "no-return": (
        "The hot reads full to ground, but not to {wires}.",
        "That white is broken, or no neutral of this circuit. Don't land anything on it.",
    ),
    "no-scheme": (
        "{wires}: these readings fit no pair of three-way switches wired the usual way.",
        "Make sure the other switch is wired as it was, and which wire was on the dark screw. If it reads the same,"
        " these switches may switch the neutral: don't go by this test.",
    ),
    "stays-hot": (
        "{wires} stays hot with the breaker off.",
        "Another breaker feeds it. Find that breaker before you touch a wire.",
    ),
}  # fmt: skip


def trouble_words(box: Box, trouble: Trouble) -> TroubleWords:
    """Return what doesn't fit, and what settles it."""
    what, then = _TROUBLES[trouble.code]
    said = what.format(wires=called(box, trouble.wires))
    return TroubleWords(said[:1].upper() + said[1:], then)


def called(box: Box, wires: tuple[str, ...]) -> str:
    """Name wires by their color and cable, as they lie in the hand.

    >>> from nail_count.trade.model.wire import Cable
    >>> seen = [{"color": "black"}, {"color": "white"}]
    >>> made = [Cable(id=letter, gauge=14, insulated=2, conductors=seen) for letter in "AB"]
    >>> box = Box(id="b", name="B", room="R", cables=made)
    >>> called(box, ("A1",)), called(box, ("A2", "B2"))
    ('the black of A', 'the whites of A and B')
    """
    color = {
        id: cable.conductor(number).color
        for cable in box.cables
        for number, id in enumerate(cable.conductor_ids, 1)
        if not cable.conductor(number).sprayed
    }
    by_color: dict[str, list[str]] = {}
    for id in wires:
        by_color.setdefault(color.get(id) or "", []).append(id.rstrip("0123456789"))
    if "" in by_color or any(len(set(letters)) < len(letters) for letters in by_color.values()):
        return f"{'wire' if len(wires) == 1 else 'wires'} {and_list(wires)}"
    named = (
        f"the {name}{'' if len(letters) == 1 else 's'} of {and_list(tuple(letters))}"
        for name, letters in by_color.items()
    )
    return and_list(tuple(named))


def breaker_words(box: Box) -> str:
    """Say which breakers are on during the test."""
    known = box.circuits
    return f"Breaker {known[0]} on" if len(known) == 1 else "Every breaker on that may feed this box"


def state_words(box: Box, test: LiveTest) -> tuple[str, ...]:
    """Say what must be so during the test, one by one."""
    cord = ("A tested extension cord here: use its ground",) if any(row.to == "cord" for row in test.rows) else ()
    apart = "The wires off this switch, each in its own connector, spread apart"
    back = ("Every splice in the back left as it is",) if any(not point.on for point in points_of(box)) else ()
    other = ("The other switch of this light mounted, and wired as it was",) if is_of_several(box) else ()
    return apart, *back, *other, *cord, breaker_words(box)


def is_of_several(box: Box) -> bool:
    """Whether the old switch was looked at, and is one of several that switch a light."""
    return box.survey.on_off is False


def granted_words(box: Box) -> tuple[str, ...]:
    """Say what the live test takes for granted."""
    return OF_SEVERAL_PLACES if is_of_several(box) else TAKEN_FOR_GRANTED


def row_words(box: Box, row: Row) -> str:
    """Say what one touch is: an order."""
    wires = called(box, row.point.wires)
    to = "the cord's ground" if row.to == "cord" else "ground"
    match row.step:
        case "wires":
            return f"Test {wires} to {to}."
        case "back":
            return f"Test from the hot, {wires}, to {called(box, (row.to,))}."
        case "again":
            return f"Test the hot, {wires}, to {to} once more: the tester must still read."
        case "flipped":
            return f"Flip the other switch. Test {wires} to {to} again."
        case "still flipped":
            return f"Leave the other switch as it is now. Test {wires} to {to} again."
        case "off":
            breaker = f"breaker {box.circuits[0]}" if len(box.circuits) == 1 else "its breaker"
            return f"Turn {breaker} off. Test {wires} to {to} again."


def found_words(box: Box, test: LiveTest) -> tuple[tuple[str, str], ...]:
    """Say what the wires are: each use, with the wires of it."""
    uses: dict[Found, list[str]] = {}
    for wire, found in sorted(test.wires.items()):
        uses.setdefault(found, []).append(wire)
    told = [(NAMES[found], called(box, tuple(wires))) for found, wires in uses.items()]
    if test.neutral is False:
        told.append(("Neutral", "none in this box"))
    if test.ground:
        told.append(("Ground", "reads within 3 V of the neutral"))
    return tuple(told)


PLACES: Mapping[Place, str] = {
    "dark": "on the dark screw, or spliced to it",
    "other": "on another screw",
    "tied": "tied together in the back",
    "tied apart": "in a second splice in the back",
    "capped": "alone, capped",
}
"""Where a wire is at a three-way switch."""
