"""What a channel may carry where its device stands, against its loads."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from ...model.answer import Amount, Answer, Line, Part, Remark, Rule, State, Subject, Text, add_up, limit_of
from ...model.box import Box, Device, Equipment
from ...model.channel import Channel, Rating
from ...model.datasheet import Datasheet
from ...model.figure import Figure
from ...model.job import Terms
from ...model.load import KIND_WORDS, TURNS, Load, RatedKind
from ..citing import Cite
from .draw import Drawn, drawn
from .duty import QUARTER_MORE, is_continuous
from .findings import LISTING, MOTOR_WAYS, load_findings
from .heat import ESTIMATE, warmth_that_limits
from .limits import PRACTICE, SHEET, limit_steps, total_steps
from .mixed import mixed_row
from .motor import SNAP_SWITCH
from .position import Position, positions

TIGHT_ABOVE = Figure("0.9", "share", "Tight above this share of a limit", PRACTICE)
"""A pass above this share of the limit is tight; common practice."""
ALL_OF_IT = Line("rating", ("All of what it may carry",), PRACTICE, ("the shares of each kind add",), value=Fraction(1))


@dataclass(frozen=True, slots=True)
class Group:
    """All loads of a channel that one figure of the sheet holds for, and the steps from that figure to the limit."""

    kind: RatedKind
    loads: tuple[Load, ...]
    draws: tuple[Drawn, ...]
    """What each load draws, in the unit of the figure."""
    steps: tuple[Line, ...]
    unit: str
    quarter_more: tuple[bool, ...]
    """For each load, whether it counts 125 % here."""
    continuous: bool = False
    """Whether all of them are, so that it is the limit that is lowered."""
    snap_switch: Rule | None = None
    """The rule that lowers a general-use switch, where it has a motor or a fan."""

    @property
    def limit(self) -> Fraction | None:
        """What the steps come down to."""
        return limit_of(self.steps)

    @property
    def known(self) -> Fraction:
        """The part of its load that is known for sure, in its unit."""
        found = zip(self.draws, self.quarter_more, strict=True)
        return sum((_counted(one, more) or Fraction(0) for one, more in found if not one.at_most), Fraction(0))

    @property
    def at_most(self) -> bool:
        """Whether any of it may draw less than it counts."""
        return any(one.at_most for one in self.draws)

    @property
    def connected(self) -> Fraction | None:
        """Its loads, in its unit; None where any of it is not known."""
        found = [_counted(one, more) for one, more in zip(self.draws, self.quarter_more, strict=True)]
        known = [value for value in found if value is not None]
        return sum(known, Fraction(0)) if len(known) == len(found) else None


def rating(
    box: Box, item: Equipment, channel: int, sheets: Mapping[str, Datasheet], terms: Terms | None = None
) -> Answer:
    """The loads of one channel of a device against the limit in its place.

    Args:
        box: the box the device stands in.
        item: the device, or a module loose in the box.
        channel: which of its channels, from 1.
        sheets: the sheets of everything in the box, by id.
        terms: code, voltage and assumptions; the defaults where None.

    Returns:
        Lines are the loads, limit lines the steps from the sheet's figure down to the limit here, both in the unit of
        the sheet's figure; where kinds that the sheet rates apart share the channel, both are shares of the limit.

    Raises:
        KeyError: a sheet is not given.
        IndexError: the device has no such channel.

    Source: the maker's sheet, which binds by NEC 110.3(B); adding the shares of several kinds is common practice.

    >>> from nail_count.trade.text.format import say
    >>> from nail_count.trade.model.measure import Power
    >>> dimmer = Datasheet.model_validate({"id": "dimmer", "name": "Dimmer", "kind": "dimmer",
    ...     "derating": "by position", "channels": [{"ratings": {
    ...         "led": {"alone": "140 W", "end": "115 W", "middle": "90 W"}}}]})
    >>> nine = Load(id="l1", kind="led", quantity=9, each=Power.parse("9.5 W"))
    >>> bench = Device(id="d1", gang=1, sheet="dimmer", loads=(nine,))
    >>> box = Box(id="hall", name="Hall", room="Hall", planned={"devices": [bench]})
    >>> say(rating(box, bench, 1, {"dimmer": dimmer}).headline)
    '54.5 W to spare: room for 5 more'
    """
    terms = terms or Terms()
    place = positions(box, sheets, warmth_that_limits(box, sheets, terms))[item.id]
    return rating_at(place, item, channel, sheets[item.sheet], terms)


def rating_at(place: Position, item: Equipment, channel: int, sheet: Datasheet, terms: Terms) -> Answer:
    """The same for a device in a given place, whatever box it stands in; arguments as of [rating][]."""
    outlet = sheet.channels[channel - 1]
    loads = tuple(load for load in item.loads if load.channel == channel)
    groups, unlisted = _sort(outlet, sheet, place, loads, terms)
    unit, lines, limit_lines = _sum(groups, outlet, sheet, place, terms)
    lines += tuple(_unlisted_line(load, Cite(terms.code)) for load in unlisted)
    total, limit = add_up(lines), limit_of(limit_lines)
    assumed = any(one.assumed for group in groups for one in group.draws)
    findings = load_findings(item, sheet, outlet, loads=loads, unlisted=unlisted, terms=terms)
    remarks = (*findings, *_over_limits(groups), *_notes(sheet, place, bool(lines), assumed))
    state, headline = _judge(lines, limit_lines, total, limit=limit, unit=unit, remarks=remarks)
    return Answer(
        "rating",
        Subject("channel", item.id, channel),
        (title_of(item, sheet) + (f", {outlet.name}" if outlet.name else ""),),
        unit,
        lines,
        limit_lines,
        total,
        limit,
        state,
        headline,
        remarks,
    )


def total_at(place: Position, item: Equipment, sheet: Datasheet, terms: Terms) -> Answer:
    """The loads of all channels of a device together against the total its sheet states [A].

    Raises:
        ValueError: the sheet states no total.
    """
    if sheet.total is None:
        raise ValueError(f"{sheet.name} states no total. Pick a sheet that does")
    draws = tuple(drawn(load, "A", terms.voltage, terms.assume) for load in item.loads)
    lines = tuple(_line(load, one, False) for load, one in zip(item.loads, draws, strict=True))
    steps = total_steps(sheet.total, sheet, place)
    total, limit = add_up(lines), limit_of(steps)
    assumed = any(one.assumed for one in draws)
    remarks = tuple(_notes(sheet, place, True, assumed))
    state, headline = _judge(lines, steps, total, limit=limit, unit="A", remarks=remarks)
    title: Text = (f"{title_of(item, sheet)}, all channels",)
    return Answer(
        "rating", Subject("total", item.id), title, "A", lines, steps, total, limit, state, headline, remarks
    )  # fmt: skip


def title_of(item: Equipment, sheet: Datasheet) -> str:
    """What a device is called above its answer: by gang, or loose in the box."""
    named = item.name or sheet.name
    return f"Gang {item.gang}: {named}" if isinstance(item, Device) else f"{named}, loose in the box"


def _sort(
    outlet: Channel, sheet: Datasheet, place: Position, loads: tuple[Load, ...], terms: Terms
) -> tuple[list[Group], list[Load]]:
    """The loads by the figure that holds for them, and those the sheet does not permit."""
    found: dict[tuple[RatedKind, bool], list[Load]] = {}
    unlisted: list[Load] = []
    for load in loads:
        kind = outlet.rated_by(load)
        if kind is None:
            unlisted.append(load)
        else:
            found.setdefault((kind, kind == "general" and load.kind in TURNS), []).append(load)
    groups = [
        _group(kind, tuple(hung), outlet, sheet=sheet, place=place, terms=terms) for (kind, _), hung in found.items()
    ]
    if len(groups) > 1 and outlet.mixing == "own table":  # its rows say which figures hold
        behind = [group for group in groups if group.kind == "mlv" and "mlv lamps" in outlet.ratings]
        return [*groups, *(_lamps_of(group, outlet, sheet, place, terms) for group in behind)], unlisted
    return [_by_lamps_too(group, outlet, sheet, place, terms) for group in groups], unlisted


def _group(
    kind: RatedKind, loads: tuple[Load, ...], outlet: Channel, *, sheet: Datasheet, place: Position, terms: Terms
) -> Group:
    cite = Cite(terms.code)
    motor_on_switch = sheet.kind == "switch" and any(load.kind in TURNS for load in loads)
    snap_switch = cite(SNAP_SWITCH) if motor_on_switch and cite.nec else None
    held = [sheet.continuous and is_continuous(load, terms.code) for load in loads]
    every = bool(held) and all(held)
    given, bulbs = outlet.ratings[kind], outlet.ratings.get("incandescent")
    steps = limit_steps(
        kind, given, sheet, place=place, assume=terms.assume, snap_switch=snap_switch, continuous=every, bulbs=bulbs
    )
    unit = _unit(kind, given, bulbs, terms)
    draws = tuple(drawn(load, unit, terms.voltage, terms.assume) for load in loads)
    return Group(kind, loads, draws, steps, unit, tuple(more and not every for more in held), every, snap_switch)


def _unit(kind: RatedKind, given: Rating, bulbs: Rating | None, terms: Terms) -> str:
    """The unit of the figure that holds, the incandescent one where LED goes by a tenth of it."""
    if given.alone is not None:
        return given.alone.unit
    thumb = kind == "led" and terms.assume.tenth_for_led and bulbs is not None and bulbs.alone is not None
    return bulbs.alone.unit if thumb and bulbs and bulbs.alone else "W"


def _by_lamps_too(group: Group, outlet: Channel, sheet: Datasheet, place: Position, terms: Terms) -> Group:
    """Behind magnetic transformers the sheet may hold the lamps to a figure of their own: the one that binds."""
    if group.kind != "mlv" or "mlv lamps" not in outlet.ratings or all(load.each.unit != "W" for load in group.loads):
        return group
    lamps = _lamps_of(group, outlet, sheet, place, terms)
    return max((group, lamps), key=_presses)


def _lamps_of(group: Group, outlet: Channel, sheet: Datasheet, place: Position, terms: Terms) -> Group:
    """Loads behind magnetic transformers, by the watts of their lamps."""
    return _group("mlv lamps", group.loads, outlet, sheet=sheet, place=place, terms=terms)


def _presses(group: Group) -> tuple[int, Fraction]:
    """How hard a figure presses: over it most, then one that is not known, then by the share that is used."""
    limit, connected = group.limit, group.connected
    if limit is not None and group.known > limit:
        return 2, group.known / limit if limit else Fraction(1)
    if limit is None or connected is None:
        return 1, Fraction(0)
    over = connected > limit
    return (2 if over else 0), connected / limit if limit else Fraction(over)


def _sum(
    groups: list[Group], outlet: Channel, sheet: Datasheet, place: Position, terms: Terms
) -> tuple[str, tuple[Line, ...], tuple[Line, ...]]:
    """Unit, lines and limit lines: in the sheet's own unit, or as shares where several figures hold."""
    if len({group.kind for group in groups}) > 1 and outlet.mixing == "own table":
        return "share", *mixed_row(groups, outlet, sheet, place, terms)
    if len(groups) > 1:
        return "share", tuple(line for group in groups for line in _shares(group)), (ALL_OF_IT,)
    if groups:
        group = groups[0]
        pairs = zip(group.loads, group.draws, group.quarter_more, strict=True)
        return group.unit, tuple(_line(*pair) for pair in pairs), group.steps
    kinds = sorted(outlet.ratings, key=lambda kind: outlet.ratings[kind].alone is None)
    if not kinds:
        return "W", (), ()
    shown = _group(kinds[0], (), outlet, sheet=sheet, place=place, terms=terms)
    return shown.unit, (), shown.steps


def _counted(one: Drawn, quarter_more: bool) -> Fraction | None:
    return None if one.total is None else one.total * (QUARTER_MORE if quarter_more else 1)


def _line(load: Load, one: Drawn, quarter_more: bool) -> Line:
    value = _counted(one, quarter_more)
    why = (*one.why, "; continuous: counted at 125%") if quarter_more else one.why
    return Line(line_kind(load), what(load), SHEET, why, one.count, one.each, value, (Part(load.id),), one.at_most)


def _shares(group: Group) -> list[Line]:
    """Each load as a share of the limit of its kind."""
    lines = []
    limit = group.limit
    for load, one, more in zip(group.loads, group.draws, group.quarter_more, strict=True):
        parts = (Part(load.id),)
        value = _counted(one, more)
        if value is None or not limit:
            why: Text = one.why if value is None else ("the sheet has no figure for this kind here",)
            lines.append(Line(line_kind(load), what(load), SHEET, why, one.count, None, None, parts))
            continue
        why = (Amount(value, group.unit), " of ", Amount(limit, group.unit), " here", *_cut_from(group))
        share = value / limit
        each = share / one.count
        lines.append(Line(line_kind(load), what(load), PRACTICE, why, one.count, each, share, parts, one.at_most))
    return lines


def _cut_from(group: Group) -> Text:
    """The steps to a limit in a few words, where there are any: (520 W, end of gang: one neighbor −90 W)."""
    said: list[str | Amount] = []
    for step in group.steps[1:]:
        if step.value:
            said += [", ", *step.what, " −", Amount(-step.value, group.unit)]
    full = group.steps[0].value
    return (": ", Amount(full, group.unit), *said) if said and full is not None else ()


def _unlisted_line(load: Load, cite: Cite) -> Line:
    why: Text = ("this kind is not on the sheet",)
    return Line(line_kind(load), what(load), cite(LISTING), why, Fraction(load.quantity), None, None, (Part(load.id),))


def line_kind(load: Load) -> str:
    """What group of lines a load belongs to: lamps, fan, other."""
    return "lamps" if load.is_lamp else "fan" if load.kind in TURNS else "other"


def what(load: Load) -> Text:
    """A load in a few words: 6 × 9 W LED “bench”."""
    called = f" “{load.name}”" if load.name else ""
    return (f"{load.quantity} × ", Amount(load.each.value, load.each.unit), f" {KIND_WORDS[load.kind]}{called}")


def _over_limits(groups: Sequence[Group]) -> Iterator[Remark]:
    """A load over its limit for a reason with ways out of its own: a motor, or warmth that leaves nothing."""
    for group in groups:
        limit, connected, full = group.limit, group.connected, group.steps[0].value
        if limit is None or not group.loads or full is None:
            continue
        if limit == 0:
            text: Text = (f"{KIND_WORDS[group.kind]}: it is too warm here for this to carry anything, an estimate",)
            yield Remark(
                "too-warm",
                text,
                ESTIMATE,
                State.FAILS,
                ("another place, or fewer loads beside it", "a device that bears it"),
            )
        motor = next((step for step in group.steps if step.rule.article == SNAP_SWITCH), None)
        if motor is not None and connected is not None and group.known > limit:
            on: Text = (
                " of motor on a switch of ",
                Amount(full, group.unit),
                ": ",
                Amount(limit, group.unit),
                " at most",
            )
            ways = ("a switch of more amperes", *MOTOR_WAYS)
            yield Remark("snap-switch-over", (Amount(connected, group.unit), *on), motor.rule, State.FAILS, ways)


def kind_limits(
    place: Position, item: Equipment, channel: int, sheet: Datasheet, terms: Terms
) -> tuple[tuple[RatedKind, Amount | None], ...]:
    """What a channel carries at most here, by the kinds on it, else by those its sheet lists; as [rating_at][] has it.

    None: the sheet gives no figure here. Arguments as of [rating_at][].
    """
    outlet = sheet.channels[channel - 1]
    loads = tuple(load for load in item.loads if load.channel == channel)
    groups, _ = _sort(outlet, sheet, place, loads, terms)
    groups = groups or [_group(kind, (), outlet, sheet=sheet, place=place, terms=terms) for kind in outlet.ratings]
    found: dict[RatedKind, Amount | None] = {}
    for group in groups:
        here = None if group.limit is None else Amount(group.limit, group.unit)
        before = found.setdefault(group.kind, here)
        if here is not None and before is not None and here.value < before.value:
            found[group.kind] = here  # a motor on a switch beside lamps on it
    return tuple(found.items())


def _notes(sheet: Datasheet, place: Position, any_load: bool, assumed: bool) -> list[Remark]:
    """What to know beside the sum."""
    notes = []
    if sheet.derating == "not stated" and place.neighbors:
        notes.append(
            Remark(
                "no-derating-on-sheet",
                ("sheet gives no derating; common practice takes some off, which the job can turn on",),
                SHEET,
            )
        )
    if assumed:
        notes.append(Remark("assumed-figures", ("worked out with figures the job assumes",), PRACTICE))
    if not any_load:
        notes.append(Remark("no-load", ("no load entered yet: the answer counts only what has been entered",), SHEET))
    return notes


def _judge(
    lines: Sequence[Line],
    limit_lines: Sequence[Line],
    total: Fraction,
    *,
    limit: Fraction | None,
    unit: str,
    remarks: Sequence[Remark],
) -> tuple[State, Text]:
    """The worst of the findings and the sum, and its reason."""
    state, headline = _sum_stands(lines, limit_lines, total, limit, unit)
    finding = max(remarks, key=lambda remark: remark.state, default=None)
    if finding is not None and finding.state > State.HOLDS and finding.state >= state:
        return finding.state, finding.text
    return state, headline


def _sum_stands(
    lines: Sequence[Line], limit_lines: Sequence[Line], total: Fraction, limit: Fraction | None, unit: str
) -> tuple[State, Text]:
    if not lines:
        return State.HOLDS, (
            "nothing connected",
            *((", carries ", Amount(limit, unit)) if limit is not None else ()),
        )
    if limit is not None and total > limit:
        if add_up(line for line in lines if not line.at_most) <= limit:
            return State.OPEN, ("Enter its watts or its power factor: with all its VA as watts it is over",)
        return State.FAILS, ("over by ", Amount(total - limit, unit), *_because(limit_lines))
    unknown = next((line for line in (*limit_lines, *lines) if line.value is None), None)
    if limit is None or unknown is not None:
        return State.OPEN, (unknown.why if unknown else ("the sheet lists nothing here",))
    spare = limit - total
    headline: Text = (Amount(spare, unit), " to spare", *_room(lines, spare))
    return (State.TIGHT if total > limit * TIGHT_ABOVE else State.HOLDS), headline


def _because(limit_lines: Sequence[Line]) -> Text:
    """The step that takes most off, where it is no matter of where the device stands."""
    cuts = [line for line in limit_lines if line.kind in ("heat", "duty") and line.value]
    worst = min(cuts, key=lambda line: line.value or 0, default=None)
    return () if worst is None else (": ", *worst.what)


def _room(lines: Sequence[Line], spare: Fraction) -> Text:
    """How many more of the lamps fitted would go, where they are all of one kind."""
    each = {line.each for line in lines}
    one = each.pop() if len(each) == 1 else None
    if not one or all(line.kind != "lamps" for line in lines):
        return ()
    return (f": room for {spare // one} more",) if spare >= one else (": room for no more",)
