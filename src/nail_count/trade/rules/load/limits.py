"""From a sheet's figure down to the limit where the device stands: rating, position, heat, duty. No step raises it."""

from __future__ import annotations

from fractions import Fraction
from itertools import pairwise

from ...model.answer import Amount, Line, Rule, Text, limit_of
from ...model.assumptions import Assume
from ...model.channel import Rating
from ...model.datasheet import Ambient, Datasheet
from ...model.figure import Figure
from ...model.load import KIND_WORDS, RatedKind
from ...model.measure import Power
from .duty import QUARTER_MORE
from .heat import ESTIMATE
from .motor import SWITCH_SHARE
from .position import Position

SHEET = Rule("the maker's sheet", "", "sheet")
PRACTICE = Rule("common practice", "", "practice")
FALLBACK = (
    Figure("0", "share", "Fallback derating, no neighbor", PRACTICE),
    Figure("0.2", "share", "Fallback derating, one neighbor", PRACTICE),
    Figure("0.35", "share", "Fallback derating, two neighbors", PRACTICE),
)
"""Taken off for no, one and two neighbors where the sheet gives no derating and the job says so; common practice."""
LED_SHARE = Figure("0.1", "share", "LED by the rule of thumb, of the incandescent figure", PRACTICE)
"""Of the incandescent figure, where LED has none and the job says so; common practice."""
POSITION_WORDS = ("alone: no neighbor", "end of gang: one neighbor", "middle of gang: two neighbors")
_ONE = Fraction(1)


def limit_steps(
    kind: RatedKind,
    given: Rating,
    sheet: Datasheet,
    *,
    place: Position,
    assume: Assume,
    snap_switch: Rule | None = None,
    continuous: bool = False,
    bulbs: Rating | None = None,
) -> tuple[Line, ...]:
    """The steps from the sheet's figure for a kind of load to the limit here; their values add up to it.

    Args:
        kind: as the sheet rates it.
        given: its figures for that kind.
        sheet: of the device.
        place: where it stands.
        assume: what the job turns on.
        snap_switch: the rule that lowers a general-use switch where it has a motor or a fan; None where none does.
        continuous: whether all of it is continuous.
        bulbs: the incandescent figures, for the rule of thumb where LED has none.

    Source: the sheet; NEC 404.14(A) and 430.109(C) for motors on general-use switches; common practice as marked.
    """
    rating, first = _rating_step(kind, given, bulbs, assume)
    steps = [first]
    if first.value is not None:
        steps.append(_position_step(rating, sheet, place, assume))
    steps += _heat_step(sheet, place, limit_of(steps))
    steps += _duty_steps(kind, sheet, limit_of(steps), snap_switch, continuous)
    return tuple(steps)


def total_steps(total: Power, sheet: Datasheet, place: Position) -> tuple[Line, ...]:
    """The same for what all channels of a device may carry together, which no neighbor lowers but heat does."""
    first = Line("rating", ("all channels on the sheet",), SHEET, ("together",), _ONE, total.value, total.value)
    return (first, *_heat_step(sheet, place, total.value))


def share_at(ambient: Ambient, around: Fraction) -> Fraction:
    """What share of its rating a device carries at an ambient [°C].

    By the sheet's curve, which counts also where the sheet says that its rating holds; without one in full up to
    there and in a straight line to zero at the stated maximum; with the maximum alone in full up to it, and nothing
    beyond.

    Source: the sheet; the straight line is common practice.

    >>> share_at(Ambient(holds_to="40", stops_at="60"), Fraction(45))
    Fraction(3, 4)
    """
    if around > ambient.stops_at:
        return Fraction(0)
    if ambient.contradicts:  # the lower of the two counts
        return _on_curve(ambient.changed(holds_to=None), around)
    if ambient.holds_to is not None and around <= ambient.holds_to:
        return _ONE
    if ambient.curve:
        return _on_curve(ambient, around)
    if ambient.holds_to is None:
        return _ONE
    return (ambient.stops_at - around) / (ambient.stops_at - ambient.holds_to)


def _on_curve(ambient: Ambient, around: Fraction) -> Fraction:
    """By the sheet's curve, which begins where the rating no longer holds; nothing beyond its end."""
    points = [(one.at, one.share) for one in ambient.curve]
    if ambient.holds_to is not None:
        points = [(ambient.holds_to, _ONE), *((at, share) for at, share in points if at > ambient.holds_to)]
    if around <= points[0][0]:
        return points[0][1]
    for (low, one), (high, other) in pairwise(points):
        if around <= high:
            return one + (other - one) * (around - low) / (high - low)
    return Fraction(0)


def _rating_step(kind: RatedKind, given: Rating, bulbs: Rating | None, assume: Assume) -> tuple[Rating, Line]:
    """The figures that hold, and the first of them as a line."""
    what: Text = (f"{KIND_WORDS[kind]} on the sheet",)
    if given.alone is not None:
        full = given.alone.value
        return given, Line("rating", what, SHEET, ("what it carries standing alone",), _ONE, full, full)
    if kind == "led" and assume.tenth_for_led and bulbs is not None and bulbs.alone is not None:
        tenth = Rating(
            alone=_tenth(bulbs.alone),
            end=_tenth(bulbs.end),
            middle=_tenth(bulbs.middle),
            ganged=tuple(Power(figure.value * LED_SHARE, figure.unit) for figure in bulbs.ganged),
        )
        full = bulbs.alone.value * LED_SHARE
        why: Text = ("the sheet lists LED without a figure; rule of thumb: a tenth of the incandescent figure",)
        return tenth, Line("rating", what, PRACTICE, why, _ONE, full, full)
    why = ("the sheet lists the kind without a figure",)
    return given, Line("rating", what, SHEET, why, _ONE, None, None)


def _tenth(figure: Power | None) -> Power | None:
    return None if figure is None else Power(figure.value * LED_SHARE, figure.unit)


def _position_step(given: Rating, sheet: Datasheet, place: Position, assume: Assume) -> Line:
    assert given.alone is not None
    full = given.alone.value
    if sheet.derating == "by number":
        return _by_number(given, full, place)
    what: Text = (POSITION_WORDS[place.neighbors],)
    if place.neighbors == 0 or sheet.derating == "none needed":
        why: Text = ("the sheet says no derating is needed",) if sheet.derating == "none needed" else ()
        return Line("position", what, SHEET, why)
    if sheet.derating == "not stated":
        share = FALLBACK[place.neighbors] if assume.fallback_derating else Fraction(0)
        taken: Text = ("; the job takes off ", Amount(share, "share")) if share else ()
        rule = PRACTICE if share else SHEET
        return Line("position", what, rule, ("the sheet gives no derating", *taken), value=-full * share)
    figure = given.end if place.neighbors == 1 else given.middle
    if figure is None:
        return Line("position", what, SHEET, ("the sheet gives no figure for this place",), value=None)
    came = ", some before it came here" if place.reused else ""
    why = (f"side sections broken off{came}: the sheet gives ", Amount(figure.value, figure.unit), " here")
    return Line("position", what, SHEET, why, value=figure.value - full)


def _by_number(given: Rating, full: Fraction, place: Position) -> Line:
    """Where the sheet goes by how many are ganged; its last figure holds for more."""
    if place.ganged == 1:
        return Line("position", (POSITION_WORDS[0],), SHEET)
    what: Text = (f"{place.ganged} side by side",)
    if not given.ganged:
        return Line("position", what, SHEET, ("the sheet gives no figure for so many",), value=None)
    here = given.ganged[min(place.ganged - 2, len(given.ganged) - 1)]
    why: Text = (f"{place.ganged} devices ganged: the sheet gives ", Amount(here.value, here.unit))
    return Line("position", what, SHEET, why, value=here.value - full)


def _heat_step(sheet: Datasheet, place: Position, so_far: Fraction | None) -> tuple[Line, ...]:
    if sheet.ambient is None or place.ambient is None or so_far is None:
        return ()
    share = share_at(sheet.ambient, place.ambient)
    why: Text = ("an estimate; the sheet gives ", Amount(share, "share"), " of its rating there")
    return (Line("heat", (Amount(place.ambient, "°C"), " around it"), ESTIMATE, why, value=so_far * (share - 1)),)


def _duty_steps(
    kind: RatedKind, sheet: Datasheet, so_far: Fraction | None, snap_switch: Rule | None, continuous: bool
) -> tuple[Line, ...]:
    steps: list[Line] = []
    if so_far is None:
        return ()
    if kind == "general" and snap_switch is not None:
        cut = so_far * (SWITCH_SHARE - 1)
        why: Text = ("a general-use snap switch carries ", Amount(SWITCH_SHARE, "share"), " of its rating of a motor")
        steps.append(Line("duty", ("motor on a switch",), snap_switch, why, value=cut))
        so_far += cut
    if sheet.continuous and continuous:
        why = ("the sheet counts continuous loads at 125%",)
        steps.append(Line("duty", ("continuous load",), SHEET, why, value=so_far / QUARTER_MORE - so_far))
    return tuple(steps)
