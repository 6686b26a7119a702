"""What a channel may carry where its device stands, against what hangs on it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from ..model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Text, add_up, limit_of
from ..model.box import Box, Device
from ..model.load import KIND_WORDS, Load, RatedKind
from ..model.sheet import Channel, Rating, Sheet
from .draw import Drawn, drawn

SHEET = Rule("the maker's sheet", "", "sheet")
LISTING = Rule("NEC 2023", "110.3(B)")
PRACTICE = Rule("common practice", "", "practice")
TIGHT_ABOVE = Fraction(9, 10)
"""A pass above this share of the limit is tight; common practice."""

Position = Literal["alone", "end", "middle"]
POSITIONS: tuple[Position, Position, Position] = ("alone", "end", "middle")
"""By how many neighbors stand right beside: 0, 1, 2."""
POSITION_WORDS: dict[Position, str] = {
    "alone": "alone: no neighbor",
    "end": "end of gang: one neighbor",
    "middle": "middle of gang: two neighbors",
}


@dataclass(frozen=True, slots=True)
class _Group:
    """All loads of a channel that the sheet rates by one figure, and the steps from that figure to the limit."""

    kind: RatedKind
    loads: tuple[Load, ...]
    draws: tuple[Drawn, ...]
    """What one of each load draws, in the unit of the figure."""
    steps: tuple[Line, ...]
    unit: str

    @property
    def limit(self) -> Fraction | None:
        return limit_of(self.steps)


def sides_taken(box: Box, sheets: Mapping[str, Sheet]) -> dict[str, tuple[bool, bool]]:
    """For each device, by its id, whether a yoke stands in the gang right before and right after it (left, right).

    An empty gang or a blank filler is no neighbor; a wide device has its neighbors at its outer edges.

    Source: the common form of makers' derating tables; common practice.
    """
    widths = {device.id: sheets[device.sheet].gangs for device in box.devices}
    yokes = [device for device in box.devices if not sheets[device.sheet].is_blank]
    starts = {device.gang for device in yokes}
    ends = {device.gang + widths[device.id] for device in yokes}
    return {device.id: (device.gang in ends, device.gang + widths[device.id] in starts) for device in box.devices}


def positions(box: Box, sheets: Mapping[str, Sheet]) -> dict[str, Position]:
    """For each device, by its id, whether it stands alone, at an end or in the middle of its neighbors."""
    return {device: POSITIONS[sum(sides)] for device, sides in sides_taken(box, sheets).items()}


def rating(box: Box, device: Device, channel: int, sheets: Mapping[str, Sheet], voltage: int = 120) -> Answer:
    """What hangs on one channel of a device against what it may carry in its place.

    Args:
        box: the box the device stands in.
        device: the device.
        channel: which of its channels, from 1.
        sheets: the sheets of every device in the box, by id.
        voltage: of the circuit [V].

    Returns:
        Lines are the loads, limit lines the steps from the sheet's figure down to the limit here, both in the unit of
        the sheet's figure; where kinds that the sheet rates apart share the channel, both are shares of the limit.

    Raises:
        KeyError: a sheet is not given.
        IndexError: the device has no such channel.

    Source: the maker's sheet, which binds by NEC 2023 110.3(B); adding the shares of several kinds is common practice.

    >>> from nail_count.trade.speak import say
    >>> from nail_count.trade.model.measure import Power
    >>> dimmer = Sheet.model_validate({"id": "dimmer", "name": "Dimmer", "kind": "dimmer",
    ...     "derating": "by position", "channels": [{"ratings": {
    ...         "led": {"alone": "140 W", "end": "115 W", "middle": "90 W"}}}]})
    >>> nine = Load(id="l1", kind="led", quantity=9, each=Power.parse("9.5 W"))
    >>> bench = Device(id="d1", gang=1, sheet="dimmer", loads=(nine,))
    >>> box = Box(id="hall", name="Hall", room="Hall", devices=(bench,))
    >>> say(rating(box, bench, 1, {"dimmer": dimmer}).headline)
    '54.5 W to spare: room for 5 more'
    """
    return rating_at(positions(box, sheets)[device.id], device, channel, sheets[device.sheet], voltage)


def rating_at(position: Position, device: Device, channel: int, sheet: Sheet, voltage: int = 120) -> Answer:
    """The same for a device in a given position, whatever box it stands in; arguments as of [rating][]."""
    outlet = sheet.channels[channel - 1]
    loads = tuple(load for load in device.loads if load.channel == channel)
    groups, unlisted = _sort(outlet, sheet, position, loads, voltage)
    if len(groups) > 1:
        unit = "share"
        lines = tuple(line for group in groups for line in _shares(group))
        limit_lines: tuple[Line, ...] = (
            Line(
                "rating",
                ("All of what it may carry",),
                PRACTICE,
                ("the shares of each kind add",),
                value=Fraction(1),
            ),
        )
    else:
        group = groups[0] if groups else _first_rated(outlet, sheet, position, voltage)
        unit, limit_lines = (group.unit, group.steps) if group else ("W", ())
        lines = tuple(map(_line, group.loads, group.draws)) if group else ()
    lines += tuple(_unlisted_line(load) for load in unlisted)
    total, limit = add_up(lines), limit_of(limit_lines)
    assumed = any(one.assumed for group in groups for one in group.draws)
    remarks = (*_findings(outlet, groups, unlisted, loads), *_notes(sheet, position, bool(lines), assumed))
    state, headline = _judge(lines, limit_lines, total, limit, unit, remarks)
    title: Text = (f"Gang {device.gang}: {device.name or sheet.name}" + (f", {outlet.name}" if outlet.name else ""),)
    return Answer(
        "rating",
        f"{device.id}/{channel}",
        title,
        unit,
        lines,
        limit_lines,
        total,
        limit,
        state,
        headline,
        remarks,
    )


def _sort(
    outlet: Channel, sheet: Sheet, position: Position, loads: tuple[Load, ...], voltage: int
) -> tuple[list[_Group], list[Load]]:
    """The loads by the figure the sheet rates them by, and those it does not list."""
    found: dict[RatedKind, list[Load]] = {}
    unlisted: list[Load] = []
    for load in loads:
        if load.kind in outlet.ratings:
            found.setdefault(load.kind, []).append(load)
        elif load.kind != "fan" and "lighting" in outlet.ratings:
            found.setdefault("lighting", []).append(load)
        else:
            unlisted.append(load)
    return [_group(kind, tuple(found[kind]), outlet, sheet, position, voltage) for kind in found], unlisted


def _first_rated(outlet: Channel, sheet: Sheet, position: Position, voltage: int) -> _Group | None:
    """What the bar shows while nothing that is listed hangs on the channel: the first kind with a figure."""
    kinds = sorted(outlet.ratings, key=lambda kind: outlet.ratings[kind].alone is None)
    return _group(kinds[0], (), outlet, sheet, position, voltage) if kinds else None


def _group(
    kind: RatedKind, loads: tuple[Load, ...], outlet: Channel, sheet: Sheet, position: Position, voltage: int
) -> _Group:
    given = outlet.ratings[kind]
    unit = given.alone.unit if given.alone else "W"
    draws = tuple(drawn(load, unit, voltage) for load in loads)
    return _Group(kind, loads, draws, _steps(kind, given, sheet, position), unit)


def _steps(kind: RatedKind, given: Rating, sheet: Sheet, position: Position) -> tuple[Line, ...]:
    """From the sheet's figure down to the limit here; a step never raises it."""
    what: Text = (f"{KIND_WORDS[kind]} on the sheet",)
    if given.alone is None:
        why: Text = ("the sheet lists the kind without a figure",)
        return (Line("rating", what, SHEET, why, Fraction(1), None, None),)
    full = given.alone.value
    first = Line("rating", what, SHEET, ("what it carries standing alone",), Fraction(1), full, full)
    what = (POSITION_WORDS[position],)
    if sheet.derating != "by position" or position == "alone":
        why = ("the sheet says no derating is needed",) if sheet.derating == "none needed" else ()
        if sheet.derating == "not stated" and position != "alone":
            why = ("the sheet gives no derating",)
        return first, Line("position", what, SHEET, why)
    here = given.end if position == "end" else given.middle
    if here is None:
        return first, Line("position", what, SHEET, ("the sheet gives no figure for this place",), value=None)
    why = ("side sections broken off: the sheet gives ", Amount(here.value, here.unit), " here")
    return first, Line("position", what, SHEET, why, value=here.value - full)


def _line(load: Load, one: Drawn) -> Line:
    value = None if one.each is None else one.each * load.quantity
    return Line(
        _line_kind(load), _what(load), SHEET, one.why, Fraction(load.quantity), one.each, value, (Part(load.id),)
    )


def _shares(group: _Group) -> list[Line]:
    """Each load as a share of the limit of its kind."""
    lines = []
    limit = group.limit
    for load, one in zip(group.loads, group.draws, strict=True):
        count, parts = Fraction(load.quantity), (Part(load.id),)
        if one.each is None or not limit:
            why: Text = one.why if one.each is None else ("the sheet has no figure for this kind here",)
            lines.append(Line(_line_kind(load), _what(load), SHEET, why, count, None, None, parts))
            continue
        each = one.each / limit
        why = (Amount(one.each * load.quantity, group.unit), " of ", Amount(limit, group.unit), " here")
        lines.append(Line(_line_kind(load), _what(load), PRACTICE, why, count, each, each * load.quantity, parts))
    return lines


def _unlisted_line(load: Load) -> Line:
    why: Text = ("this kind is not on the sheet",)
    return Line(_line_kind(load), _what(load), LISTING, why, Fraction(load.quantity), None, None, (Part(load.id),))


def _line_kind(load: Load) -> str:
    return "fan" if load.kind == "fan" else "lamps"


def _what(load: Load) -> Text:
    called = f" “{load.name}”" if load.name else ""
    return (
        f"{load.quantity} × ",
        Amount(load.each.value, load.each.unit),
        f" {KIND_WORDS[load.kind]}{called}",
    )


def _findings(outlet: Channel, groups: list[_Group], unlisted: list[Load], loads: tuple[Load, ...]) -> list[Remark]:
    """What fails or stays open whatever the sum is."""
    found = [
        Remark((f"{KIND_WORDS[kind]} is not on the sheet: not permitted",), LISTING, State.FAILS)
        for kind in dict.fromkeys(load.kind for load in unlisted)
    ]
    if len(groups) > 1 and outlet.mixing == "not allowed":
        found.append(Remark(("the sheet does not allow several kinds on one channel",), LISTING, State.FAILS))
    watts = [load.each.value * load.quantity for load in loads if load.each.unit == "W"]
    known = sum(watts, Fraction(0))
    if outlet.minimum is not None and loads and known < outlet.minimum.value:
        least = Amount(outlet.minimum.value, "W")
        if len(watts) == len(loads):
            text: Text = (Amount(known, "W"), " connected, below the minimum load of ", least)
            found.append(Remark(text, SHEET, State.FAILS))
        else:
            text = ("amps alone do not tell whether the minimum load of ", least, " is met: expected watts too")
            found.append(Remark(text, SHEET, State.OPEN))
    return found


def _notes(sheet: Sheet, position: Position, any_load: bool, assumed: bool) -> list[Remark]:
    """What to know beside the sum."""
    notes = []
    if sheet.derating == "not stated" and position != "alone":
        notes.append(Remark(("the sheet gives no derating; the limit stands as it is",), SHEET))
    if assumed:
        notes.append(Remark(("amps worked out with an assumed power factor",), PRACTICE))
    if not any_load:
        notes.append(Remark(("no load entered yet: the answer counts only what has been entered",), SHEET))
    return notes


def _judge(
    lines: tuple[Line, ...],
    limit_lines: tuple[Line, ...],
    total: Fraction,
    limit: Fraction | None,
    unit: str,
    remarks: tuple[Remark, ...],
) -> tuple[State, Text]:
    """The worst of the findings and the sum, and its reason."""
    state, headline = _sum_stands(lines, limit_lines, total, limit, unit)
    finding = max(remarks, key=lambda remark: remark.state, default=None)
    if finding is not None and finding.state > State.HOLDS and finding.state >= state:
        return finding.state, finding.text
    return state, headline


def _sum_stands(
    lines: tuple[Line, ...], limit_lines: tuple[Line, ...], total: Fraction, limit: Fraction | None, unit: str
) -> tuple[State, Text]:
    if not lines:
        return State.HOLDS, (
            "nothing connected",
            *((", carries ", Amount(limit, unit)) if limit is not None else ()),
        )
    if limit is not None and total > limit:
        return State.FAILS, ("over by ", Amount(total - limit, unit))
    unknown = next((line for line in (*limit_lines, *lines) if line.value is None), None)
    if limit is None or unknown is not None:
        return State.OPEN, (unknown.why if unknown else ("the sheet lists nothing here",))
    spare = limit - total
    headline: Text = (Amount(spare, unit), " to spare", *_room(lines, spare))
    return (State.TIGHT if total > limit * TIGHT_ABOVE else State.HOLDS), headline


def _room(lines: tuple[Line, ...], spare: Fraction) -> Text:
    """How many more of the lamps fitted would go, where they are all of one kind."""
    each = {line.each for line in lines}
    one = each.pop() if len(each) == 1 else None
    if one is None or all(line.kind != "lamps" for line in lines):
        return ()
    return (f": room for {spare // one} more",) if spare >= one else (": room for no more",)
