"""Assume of a switch box what a journeyman takes for granted until he looks.

An assumption is never stored. It is worked out again from the entered facts, and is gone as soon as the fact itself is.
Nothing that would hurt if it were wrong is assumed: where two ways are about as usual, there is no assumption, and
nothing is landed on a neutral before it is measured.

Source: common practice of house wiring in the US and Canada.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.job import Job, Terms
from ..model.run import BoxEnd
from ..model.wire import Cable
from ..rules.wires.live import Point, is_on_one_circuit, live_test, points_of
from ..text.format import and_list
from ..wiring.identify.weights import NOWHERE, FarEnd, kind_of_end

AssumptionCode = Literal["whites-tied", "switch-loop", "feed", "leg", "onward", "breaker", "colors"]


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
    if not devices or not _asks(box, cables, terms) or not from_one_place(box, sheets):
        return ()
    letters = tuple(cable.id for cable in cables)
    if points := points_of(box):
        return _as_seen(box, points, letters, terms.voltage)
    if len(cables) > len(devices) and any(ends.get(id) != "outlet" for id in letters):
        return (_tied(box, letters),)
    if len(cables) == len(devices) == 1 and ends.get(letters[0], "outlet") == "outlet":
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


def _asks(box: Box, cables: list[Cable], terms: Terms) -> bool:
    """Tell whether nothing is known of the neutral, and only one circuit can have one in the box."""
    looked_at = any(wire.asserted_role or wire.sat_on for cable in cables for wire in cable.conductors)
    known = box.survey.neutral is not None or box.readings or looked_at or box.contents.new
    test = live_test(box, terms.voltage)
    tested = test is not None and (test.is_done or bool(test.troubles))
    return terms.region.whites_tied and box.use == "control" and not (known or tested) and is_on_one_circuit(box)


def _as_seen(box: Box, points: tuple[Point, ...], letters: tuple[str, ...], voltage: int) -> tuple[Assumption, ...]:
    """Assume that whites somebody saw tied together, on no switch, are the neutral."""
    used = [point for point in points if not point.is_cap]
    letters = tuple(id for id in letters if any(id == wire.rstrip("0123456789") for one in used for wire in one.wires))
    tied = [point for point in used if not point.on]
    if len(letters) > 1 and len(tied) == 1 and {wire.rstrip("0123456789") for wire in tied[0].wires} == set(letters):
        return (
            Assumption(
                "whites-tied", box.id, letters, True,
                f"the whites of {and_list(letters)}, tied together in the back, are the neutral",
                "Whites tied together on no switch are usually the neutral.",
                f"Do the live test: from the hot to the whites, expect {voltage} V.",
            ),
        )  # fmt: skip
    if len(letters) == 1 and len(used) == 2 and not tied:
        return (loop(box, letters[0]),)
    return ()


def _tied(box: Box, letters: tuple[str, ...]) -> Assumption:
    two = "With two cables at one switch, one is usually the feed, and the other goes to the light."
    more = "With more cables than switches, one is usually the feed, and the others go to lights or to the next box."
    return Assumption(
        "whites-tied", box.id, letters, True,
        f"the whites of {and_list(letters)} are tied together in the back",
        two if len(letters) == 2 else more,
        "Look for the whites in one connector, none of them on a switch. Then do the live test before anything lands on"
        " them.",
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
    uses = {box.id: box.use for box in job.boxes}
    found: dict[str, dict[str, FarEnd]] = {}
    for (box, cable), end in job.far_ends.items():
        here = found.setdefault(box, {})
        kind = kind_of_end(end, uses.get(end.box) if isinstance(end, BoxEnd) else None)
        if kind is not None:
            here[cable] = kind
    return found
