"""The findings on the loads of a channel, whatever its sum is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from fractions import Fraction

from ...model.answer import Amount, Remark, State, Text
from ...model.box import Device, Equipment
from ...model.channel import Channel
from ...model.datasheet import Datasheet
from ...model.job import Terms
from ...model.load import KIND_WORDS, TURNS, Load, LoadKind
from ..citing import Cite
from .draw import drawn
from .inrush import inrush
from .limits import PRACTICE, SHEET
from .motor import SNAP_SWITCH, SWITCH_MOST_HP

LISTING, DIMMERS = "110.3(B)", "404.14(E)"
"""Articles of the NEC: the sheet binds; dimmers and electronic controls, and what they switch."""
WANTS: dict[LoadKind, str] = {"elv": "reverse", "mlv": "forward"}
"""How a transformer wants to be dimmed; common practice."""
MOTOR_WAYS = ("a switch rated in horsepower", "a relay made for motors")
"""Ways out where a motor is too large for a switch."""
_ANOTHER = "another device, whose sheet lists it"


def load_findings(
    item: Equipment, sheet: Datasheet, outlet: Channel, *, loads: Sequence[Load], unlisted: Sequence[Load], terms: Terms
) -> tuple[Remark, ...]:
    """Findings on the loads of one channel; see each for its rule.

    Args:
        item: the device they are on.
        unlisted: those of them the sheet does not permit.
        terms: code, voltage, assumptions.
    """
    cite = Cite(terms.code)
    return (
        *_not_listed(sheet, outlet, unlisted, cite),
        *_mixing(outlet, loads, cite),
        *_asked_back(loads),
        *_minimums(sheet, outlet, loads, terms),
        *_dimming(item, sheet, loads, cite),
        *_motors(sheet, outlet, loads, cite),
        *inrush(outlet, loads, terms),
    )


def _not_listed(sheet: Datasheet, outlet: Channel, unlisted: Sequence[Load], cite: Cite) -> Iterator[Remark]:
    """A kind the sheet does not list is not permitted, NEC 110.3(B); a dimmer or an outlet has articles of its own."""
    for kind in dict.fromkeys(load.kind for load in unlisted):
        why = "the sheet does not permit it" if kind in outlet.not_permitted else "not permitted"
        text: Text = (f"{KIND_WORDS[kind]} is not on the sheet: {why}",)
        rule = cite(LISTING)
        ways: tuple[str, ...] = (_ANOTHER,)
        if kind == "receptacle":
            text = ("an outlet takes whatever is plugged in, and its sheet does not list receptacles",)
            rule = cite(DIMMERS)
            ways = ("a general-use switch rated for the breaker", _ANOTHER)
        elif sheet.dims and kind in ("fan", "motor", "cfl", "fluorescent"):
            rule = cite(DIMMERS)
            ways = ("a fan control" if kind == "fan" else "a switch" if kind == "motor" else "LED lamps", _ANOTHER)
        yield Remark("not-listed", text, rule, State.FAILS, ways)


def _mixing(outlet: Channel, loads: Sequence[Load], cite: Cite) -> Iterator[Remark]:
    kinds = {load.kind for load in loads}
    rated = {kind for kind in (outlet.rated_by(load) for load in loads) if kind is not None}
    if len(rated) > 1 and outlet.mixing == "own table" and not any(rated <= set(row) for row in outlet.mixed):
        text: Text = ("no row of the sheet's table of mixed loads names all of these kinds",)
        yield Remark("not-in-mixed-table", text, cite(LISTING), State.FAILS, ("lamps of one kind", _ANOTHER))
    elif len(kinds) > 1 and outlet.mixing == "not allowed":
        text = ("the sheet does not allow several kinds on one channel",)
        yield Remark("mixing-not-allowed", text, cite(LISTING), State.FAILS, ("lamps of one kind", _ANOTHER))
    elif len({load.kind for load in loads if load.is_lamp}) > 1:
        yield Remark("uneven-kinds", ("lamps of several kinds on one channel do not dim or age evenly",), PRACTICE)


def _asked_back(loads: Sequence[Load]) -> Iterator[Remark]:
    """Watts of an LED lamp that look like those of the lamp it replaces are asked back, never converted."""
    for load in loads:
        if load.asked_back:
            each = Amount(load.each.value, "W")
            text: Text = (each, " for one LED lamp: is that what it draws, or the lamp it replaces?")
            ways = ("say that it draws that", "enter its printed watts")
            yield Remark("watts-asked-back", text, PRACTICE, State.OPEN, ways)


def _minimums(sheet: Datasheet, outlet: Channel, loads: Sequence[Load], terms: Terms) -> Iterator[Remark]:
    """Each minimum of the sheet, with every lamp and with the fewest ever planned."""
    ways = (
        *(("a bypass at the lamp, which its maker lists",) if sheet.bypass else ()),
        "other lamps",
        "another device",
    )
    floors = [(None, outlet.minimum), *outlet.minimums.items()]
    for kind, least in floors:
        counted = [load for load in loads if kind in (None, load.kind)]
        if least is None or not counted:
            continue
        floor, named = Amount(least.value, "W"), f" for {KIND_WORDS[kind]}" if kind else ""
        known, fewest, unknown = Fraction(0), Fraction(0), False
        for load in counted:
            one = drawn(load, "W", terms.voltage, terms.assume)
            if one.total is None or one.assumed:
                unknown = True
                continue
            known += one.total
            fewest += one.total * (load.fewest or load.quantity) / load.quantity
        if known < least.value and unknown:
            text: Text = (
                "amps alone do not tell whether the minimum load of ",
                floor,
                f"{named} is met: enter watts too",
            )
            yield Remark("minimum-not-known", text, SHEET, State.OPEN)
        elif known < least.value and _bypassed(sheet, counted):
            text = (Amount(known, "W"), " connected, below the minimum load of ", floor, f"{named}: a bypass is fitted")
            yield Remark("bypass-fitted", text, SHEET)
        elif known < least.value:
            yield Remark(
                "below-minimum",
                (Amount(known, "W"), " connected, below the minimum load of ", floor, named),
                SHEET,
                State.FAILS,
                ways,
            )
        elif fewest < least.value and unknown:
            text = ("with the fewest of them on, amps alone do not tell whether the minimum load of ", floor)
            yield Remark("minimum-not-known", (*text, f"{named} is met"), SHEET, State.OPEN)
        elif fewest < least.value and not _bypassed(sheet, counted):
            text = (
                "with the fewest of them on only ",
                Amount(fewest, "W"),
                ", below the minimum load of ",
                floor,
                named,
            )
            yield Remark("fewest-below-minimum", text, SHEET, State.FAILS, ways)


def _bypassed(sheet: Datasheet, loads: Sequence[Load]) -> bool:
    """Whether a bypass that the sheet lists is fitted at one of them."""
    return sheet.bypass and any(load.bypass for load in loads)


def _dimming(item: Equipment, sheet: Datasheet, loads: Sequence[Load], cite: Cite) -> Iterator[Remark]:
    """How it dims against what the lamps and transformers want, and its setting against the lamps fitted."""
    if sheet.dims and any(load.dimmable is False for load in loads):
        ways = ("lamps made for dimming", "a switch in its place")
        yield Remark(
            "not-dimmable", ("lamps that are not made for dimming are on a dimmer",), cite(LISTING), State.FAILS, ways
        )
    for kind in dict.fromkeys(load.kind for load in loads if load.kind in WANTS):
        wants = WANTS[kind]
        if sheet.phase not in (None, "either", wants):
            text: Text = (f"{KIND_WORDS[kind]} wants {wants} phase; this dims by {sheet.phase} phase",)
            ways = (f"a dimmer of {wants} phase, or one whose sheet lists both", "other transformers")
            yield Remark("wrong-phase", text, cite(LISTING), State.FAILS, ways)
    setting = item.lamp_setting if isinstance(item, Device) else None
    if sheet.lamp_settings and setting is not None:
        other = next((load.kind for load in loads if load.is_lamp and load.kind != setting), None)
        if other is not None:
            text = (f"it is set to {KIND_WORDS[setting]}, and {KIND_WORDS[other]} is on it",)
            yield Remark("lamp-setting", text, SHEET, State.FAILS, (f"set it to {KIND_WORDS[other]}",))


def _motors(sheet: Datasheet, outlet: Channel, loads: Sequence[Load], cite: Cite) -> Iterator[Remark]:
    """A general-use snap switch carries a motor of 2 hp at most, NEC 430.109(C)."""
    turning = [load for load in loads if load.kind in TURNS and outlet.rated_by(load) == "general"]
    if sheet.kind != "switch" or not cite.nec:
        return
    if any(load.each.unit == "hp" and load.each.value > SWITCH_MOST_HP for load in turning):
        text: Text = ("a motor of more than ", Amount(SWITCH_MOST_HP, "hp"), " is not for a general-use switch")
        yield Remark("motor-too-large", text, cite(SNAP_SWITCH), State.FAILS, MOTOR_WAYS)
