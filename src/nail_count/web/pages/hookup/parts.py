"""The parts of the hook-up's screen: what each shows, as values."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from ....drawing.hookup import DrawnEnd, DrawnSplice, Group, HookupDrawing
from ....drawing.way import Line
from ....store.snapshots import BoxSnapshot
from ....trade.model.answer import Text
from ....trade.wiring.hookup.over_network import Sender, senders_of
from ....trade.wiring.hookup.splices import Held
from ....trade.wiring.hookup.stages import Stage
from ....trade.wiring.hookup.work import is_assumed
from ...box_screen import PartsOf, notices_part
from ...form_errors import NO_NOTICE, Notice
from ...parts import Part
from .view import ACT_WORDS, HookupView, Live, hookup_view

Choices = tuple[tuple[str, str], ...]
"""What can be chosen: its key, and words."""


@dataclass(frozen=True, slots=True)
class Title:
    """Which box it is, and at which stage."""

    name: str
    room: str
    stage: Stage


@dataclass(frozen=True, slots=True)
class Steps:
    """What can be taken back."""

    can_undo: bool
    can_redo: bool


@dataclass(frozen=True, slots=True)
class Sheet:
    """What everything is drawn on."""

    width: float
    height: float
    bottom: float
    facts: str
    """Id of the same as a text."""


@dataclass(frozen=True, slots=True)
class Belongs:
    """A cable, a device or a lamp."""

    group: Group
    bottom: float


@dataclass(frozen=True, slots=True)
class End:
    """An end of a wire: what of it is drawn under the splices."""

    key: str
    words: str
    color: str
    x: float
    y: float
    way: Line
    live: bool
    failing: bool
    loose: bool
    """Whether it is in no splice."""
    touched: bool
    """Whether it can be tapped and dragged."""


@dataclass(frozen=True, slots=True)
class Letters:
    """What stands at an end, over all wires."""

    x: float
    y: float
    above: bool
    color: str
    called: str
    failing: bool


@dataclass(frozen=True, slots=True)
class Count:
    """How many ends meet in a splice."""

    x: float
    y: float
    count: int


@dataclass(frozen=True, slots=True)
class DrawnJoint:
    """A splice on the drawing."""

    splice: DrawnSplice
    touched: bool


@dataclass(frozen=True, slots=True)
class ShownState:
    """The facts in the state that is shown."""

    state: str
    """The state in words."""
    live: tuple[str, ...]
    lamps: tuple[tuple[str, bool], ...]
    """The loads of the boxes shown, and whether each is lit."""


@dataclass(frozen=True, slots=True)
class Standing:
    """How the hook-up stands."""

    word: str
    said: bool
    """Whether anything is joined."""
    states: int
    failing: int
    stage: Stage
    other: str
    """The same at the other stage."""
    assumed: bool
    """Whether the old wiring is the usual one, which nobody checked yet."""


@dataclass(frozen=True, slots=True)
class Fails:
    """Something that fails."""

    text: Text
    state: str
    to: Mapping[str, str]
    """What the address says to show it."""
    number: int
    rule: str
    ways: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Findings:
    """Everything that fails."""

    findings: tuple[Fails, ...]
    overfull: tuple[str, ...]
    elsewhere: int
    too_many: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class NotSaid:
    """Something that must be known first."""

    text: Text
    colors_here: bool
    """Whether it is the colors of this box, which can be confirmed as usual."""
    address: str


@dataclass(frozen=True, slots=True)
class Unlit:
    """Loads that hang at no box of the house."""

    loads: tuple[tuple[str, str, str], ...]
    ways: Choices


@dataclass(frozen=True, slots=True)
class OverNetwork:
    """Devices of the box that switch nothing by wire: what each works over the network."""

    senders: tuple[Sender, ...]
    targets: Choices


@dataclass(frozen=True, slots=True)
class ToDo:
    """A step of the work."""

    act: str
    name: str
    ends: str
    held: str


@dataclass(frozen=True, slots=True)
class Join:
    """What can be joined with what."""

    stage: Stage
    ends: Choices
    targets: Choices


@dataclass(frozen=True, slots=True)
class SpliceRow:
    """A splice with its ends."""

    name: str
    held: Held
    connector: str
    ends: Choices


@dataclass(frozen=True, slots=True)
class LooseEnd:
    """An end in no splice."""

    key: str
    words: str


@dataclass(frozen=True, slots=True)
class Measure:
    """Where can be measured, in which states."""

    points: Choices
    states: Choices


@dataclass(frozen=True, slots=True)
class Readings:
    """What every point should show."""

    states: tuple[str, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]


def hookup_parts(
    kept: BoxSnapshot, notice: Notice = NO_NOTICE, *, stage: Stage, state: Mapping[str, str]
) -> tuple[Part, ...]:
    """Everything the screen shows of a box's hook-up.

    Args:
        kept: the box, with what it is wired together with.
        notice: of an act that was not done.
        stage: as found, or as planned.
        state: the state to show.
    """
    view = hookup_view(stage, kept, state)
    return (
        notices_part(kept, notice),
        Part("hookup-title", "hookup/title.html", Title(view.box.name, view.box.room, stage)),
        Part("hookup-steps", "hookup/steps.html", Steps(kept.can_undo, kept.can_redo)),
        Part("hookup-all", "hookup/all.html", None, tuple(_sections(view))),
    )


def parts_of(stage: Stage, state: Mapping[str, str] = MappingProxyType({})) -> PartsOf:
    """The parts of the screen at a stage, in the state an address says."""
    return lambda kept, errors, notice: hookup_parts(kept, notice, stage=stage, state=state)


def _sections(view: HookupView) -> Iterator[Part]:
    if not view.begun:
        yield Part("hookup-begin", "hookup/begin.html", view.other)
        return
    yield Part("drawn-section", "hookup/section_drawn.html", None, (live_part(view.live),))
    yield Part("proof-section", "hookup/proof.html", None, tuple(_proof(view)))
    if view.hookup.stage == "planned":
        to_found = "" if view.box.found else view.other
        steps = Part("work-steps", "hookup/work_steps.html", None, tuple(_work(view)))
        yield Part("work-section", "hookup/work.html", to_found, (steps,))
    yield Part("splices-section", "hookup/splices.html", view.hookup.stage, tuple(_splices(view)))
    yield Part("expect-section", "hookup/expect.html", None, tuple(_expect(view)))


def live_part(live: Live) -> Part:
    """The hook-up drawn in one state, beside it as found where that is known, and what can be thrown."""
    state = ShownState(live.said, _named(live), tuple(live.lamps))
    before: tuple[Part, ...] = ()
    if live.before is not None:
        was = ShownState("", _named(live.before), tuple(live.before.lamps))
        before = (
            _drawing(live.before.drawing, "found-drawn", touched=False),
            Part("before-said", "hookup/before_said.html", was),
        )
    return Part("live", "hookup/live.html", None, (
        _drawing(live.drawing, "hookup-drawn", touched=True),
        Part("live-said", "hookup/said.html", state),
        Part("as-found", "hookup/before.html", bool(before), before),
        Part("throws", "hookup/throws.html", tuple(live.throws)),
    ))  # fmt: skip


def _named(live: Live) -> tuple[str, ...]:
    return tuple(named.words for key, named in live.ends.items() if key in live.live)


def _drawing(drawn: HookupDrawing, id: str, *, touched: bool) -> Part:
    """A hook-up drawn, layer by layer; `id`: before the ids of all that is in it."""
    belongs = (
        Part(f"{id}-of-{n}", "hookup/drawn_group.html", Belongs(group, drawn.bottom))
        for n, group in enumerate(drawn.groups)
    )
    wires = (Part(f"{id}-wires-{one.id}", "hookup/drawn_wires.html", one.wires) for one in drawn.splices)
    ends = (Part(f"{id}-end-{one.named.key}", "hookup/drawn_end.html", _end(one, touched)) for one in drawn.ends)
    splices = (
        Part(f"{id}-splice-{one.id}", "hookup/drawn_splice.html", DrawnJoint(one, touched)) for one in drawn.splices
    )
    letters = (Part(f"{id}-letters-{one.named.key}", "hookup/drawn_letters.html", _letters(one)) for one in drawn.ends)
    counts = (
        Part(f"{id}-count-{one.id}", "hookup/drawn_count.html", Count(one.x, one.y, one.count))
        for one in drawn.splices
        if one.count != 2 or one.size
    )
    layers = tuple(
        Part(f"{id}-{name}", "hookup/layer.html", None, tuple(rows))
        for name, rows in (
            ("groups", belongs),
            ("wires", wires),
            ("ends", ends),
            ("splices", splices),
            ("letters", letters),
            ("counts", counts),
        )
    )
    sheet = Sheet(drawn.width, drawn.height, drawn.bottom, f"{id}-facts")
    facts = Part(sheet.facts, "hookup/drawn_facts.html", drawn.facts)
    svg = Part(f"{id}-svg", "hookup/drawn_svg.html", sheet, layers)
    return Part(id, "hookup/drawn.html", None, (facts, svg))


def _end(end: DrawnEnd, touched: bool) -> End:
    named, loose = end.named, not end.splice
    return End(named.key, named.words, named.color, end.x, end.y, end.way, end.live, end.failing, loose, touched)


def _letters(end: DrawnEnd) -> Letters:
    return Letters(end.x, end.y, end.above, end.letters, end.short, end.failing)


def _proof(view: HookupView) -> Iterator[Part]:
    hookup = view.hookup
    failing = len(hookup.shown) + len(hookup.overfull)
    stands = Standing(
        view.state.word, hookup.said, hookup.proof.states if hookup.said else 0, failing, hookup.stage, view.other,
        hookup.stage == "found" and is_assumed(view.box),
    )  # fmt: skip
    yield Part("proof-head", "hookup/proof_head.html", stands)
    fails = tuple(
        Fails(
            one.text, one.state, view.live.shows(one.finding.state) if one.state else {}, one.finding.rule, one.rule,
            one.ways,
        )
        for one in hookup.shown
    )  # fmt: skip
    overfull = tuple(splice.name or splice.id for splice in hookup.overfull)
    too_many = tuple(len(group) for group in hookup.proof.too_many)
    yield Part("findings", "hookup/findings.html", Findings(fails, overfull, hookup.elsewhere, too_many))
    unsaid = tuple(
        NotSaid(one.text, one.code == "colors-not-seen" and one.box == view.box.id, view.address_for(one))
        for one in hookup.unsaid
    )
    yield Part("unsaid", "hookup/unsaid.html", unsaid)
    yield Part("dead-first", "hookup/dead_first.html", hookup.breakers)
    unlit = tuple(view.unlit)
    yield Part("unlit", "hookup/unlit.html", Unlit(unlit, tuple(view.ways_out) if unlit else ()))
    senders = senders_of(hookup.job, view.box, hookup.stage)
    yield Part("over-network", "hookup/over_network.html", OverNetwork(senders, view.kept.network_targets))


def _work(view: HookupView) -> Iterator[Part]:
    for step, ends, held in view.work:
        shown = held if step.act in ("make", "add to", "close", "cap") else ""
        row = ToDo(ACT_WORDS[step.act], step.splice.name, ends, shown)
        yield Part(f"work-{step.act.replace(' ', '-')}-{step.splice.id}", "hookup/work_step.html", row)
    if not view.work:
        yield Part("work-none", "hookup/no_work.html", None)


def _splices(view: HookupView) -> Iterator[Part]:
    stage = view.hookup.stage
    yield Part("join-form", "hookup/join.html", Join(stage, tuple(view.choices), tuple(view.targets)))
    rows = tuple(
        Part(
            f"splice-{one.id}", "hookup/splice_row.html",
            SpliceRow(one.name or one.id, view.held(one), one.connector.size if one.connector else "",
                      tuple(view.words(one))),
        )
        for one in view.live.splices
    )  # fmt: skip
    yield Part(
        "splice-rows", "hookup/splice_rows.html", None, rows or (Part("splice-", "hookup/no_splice.html", None),)
    )
    loose = tuple(Part(f"loose-{key}", "hookup/loose_end.html", LooseEnd(key, words)) for key, words in view.loose)
    ends = Part("loose-ends", "hookup/loose_ends.html", None, loose)
    yield Part("loose", "hookup/loose.html", bool(loose), (ends,))


def _expect(view: HookupView) -> Iterator[Part]:
    states = tuple(view.state_choices)
    points = tuple(view.points) if view.hookup.stage == "planned" else ()
    yield Part("measure-form", "hookup/measure.html", Measure(points, states if points else ()))
    yield Part("taken", "hookup/taken.html", tuple(view.taken))
    rows = tuple((words, tuple(row)) for words, row in view.readings)
    yield Part("readings", "hookup/readings.html", Readings(tuple(name for name, _ in states), rows))
