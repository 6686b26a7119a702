"""The sections of the hook-up's screen: what each shows, as values."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from ....drawing.hookup import HookupDrawing
from ....store.snapshots import BoxSnapshot
from ....trade.assume.usual import Assumption
from ....trade.assume.wired import TO_FIND
from ....trade.model.answer import Text
from ....trade.text.wires import name_of_splice
from ....trade.wiring.hookup.over_network import Sender, senders_of
from ....trade.wiring.hookup.stages import Stage
from ....trade.wiring.hookup.work import Held, is_assumed
from ...box_screen import Notices, SectionsOf, notices_of
from ...form_errors import NO_NOTICE, Notice
from ...sections import Section
from .view import ACT_WORDS, HookupView, Live, Taken, Thrown, hookup_view

Choices = tuple[tuple[str, str], ...]
"""What can be chosen: its key, and words."""


@dataclass(frozen=True, slots=True)
class Top:
    """Which box it is, at which stage, and what can be taken back."""

    notices: Notices
    name: str
    room: str
    stage: Stage
    can_undo: bool
    can_redo: bool
    begun: bool
    """Whether there is anything to show: at the stage as found, whether that is recorded."""
    other: str
    """Where the same is shown at the other stage."""


@dataclass(frozen=True, slots=True)
class ShownState:
    """The hook-up drawn in one state, and what can be thrown."""

    drawing: HookupDrawing
    state: str
    """The state in words."""
    live: tuple[str, ...]
    lamps: tuple[tuple[str, bool], ...]
    """The loads of the boxes shown, and whether each is lit."""
    throws: tuple[Thrown, ...]
    before: ShownState | None
    """As found, in the same state; None where that is not known."""


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
    rests_on: tuple[Assumption, ...]
    """What it holds on, that nobody has checked."""


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
class ProofShown:
    """How the hook-up stands, with everything that fails or is not known."""

    stands: Standing
    fails: Findings
    unsaid: tuple[NotSaid, ...]
    breakers: tuple[str, ...]
    unlit: Unlit
    over: OverNetwork


@dataclass(frozen=True, slots=True)
class ToDo:
    """A step of the work."""

    id: str
    splice: str
    act: str
    name: str
    ends: str
    held: str


@dataclass(frozen=True, slots=True)
class Work:
    """The work, in order."""

    to_found: str
    """Where the old wiring is recorded; "" where it is."""
    steps: tuple[ToDo, ...]
    parts: tuple[str, ...]
    """What it takes."""


@dataclass(frozen=True, slots=True)
class SpliceRow:
    """A splice with its ends."""

    id: str
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
class Splices:
    """The splices, the ends in none, and what can be joined with what."""

    stage: Stage
    ends: Choices
    targets: Choices
    rows: tuple[SpliceRow, ...]
    loose: tuple[LooseEnd, ...]


@dataclass(frozen=True, slots=True)
class Expect:
    """What every point should show, and where can be measured."""

    points: Choices
    states: Choices
    taken: tuple[Taken, ...]
    rows: tuple[tuple[str, tuple[str, ...]], ...]


def hookup_sections(
    kept: BoxSnapshot, notice: Notice = NO_NOTICE, *, stage: Stage, state: Mapping[str, str]
) -> tuple[Section, ...]:
    """Everything the screen shows of a box's hook-up. A section with nothing to show is there, and hidden.

    Args:
        kept: the box, with what it is wired together with.
        notice: of an act that was not done.
        stage: as found, or as planned.
        state: the state to show.
    """
    view = hookup_view(stage, kept, state)
    top = Top(
        notices_of(kept, notice), view.box.name, view.box.room, stage, kept.can_undo, kept.can_redo, view.begun,
        view.other,
    )  # fmt: skip
    begun, planned = view.begun, view.hookup.stage == "planned"
    return (
        Section("hookup-top", "hookup/top.html", top),
        Section("drawn-section", "hookup/drawn.html", live_shown(view.live) if begun else None),
        Section("proof-section", "hookup/proof.html", _proof(view) if begun else None),
        Section("work-section", "hookup/work.html", _work(view) if planned else None),
        Section("splices-section", "hookup/splices.html", _splices(view) if begun else None),
        Section("expect-section", "hookup/expect.html", _expect(view) if begun else None),
    )


def sections_of(stage: Stage, state: Mapping[str, str] = MappingProxyType({})) -> SectionsOf:
    """The sections of the screen at a stage, in the state an address says."""
    return lambda kept, errors, notice: hookup_sections(kept, notice, stage=stage, state=state)


def live_shown(live: Live) -> ShownState:
    """The hook-up drawn in one state, beside it as found where that is known, and what can be thrown."""
    named = tuple(named.words for key, named in live.ends.items() if key in live.live)
    before = live_shown(live.before) if live.before is not None else None
    return ShownState(live.drawing, live.said, named, tuple(live.lamps), tuple(live.throws), before)


def _proof(view: HookupView) -> ProofShown:
    hookup = view.hookup
    unlit = tuple(view.unlit)
    return ProofShown(
        stands=Standing(
            view.state.word, hookup.said, hookup.proof.states if hookup.said else 0,
            len(hookup.shown) + len(hookup.overfull), hookup.stage, view.other,
            hookup.stage == "found" and is_assumed(view.box), view.live.rests_on,
        ),
        fails=_findings(view),
        unsaid=tuple(
            NotSaid(one.text, one.code == "colors-not-seen" and one.box == view.box.id, view.address_for(one))
            for one in hookup.unsaid
        ),
        breakers=tuple(one for one in hookup.breakers if one != TO_FIND),
        unlit=Unlit(unlit, tuple(view.ways_out) if unlit else ()),
        over=OverNetwork(senders_of(hookup.job, view.box, hookup.stage), view.kept.network_targets),
    )  # fmt: skip


def _findings(view: HookupView) -> Findings:
    hookup = view.hookup
    fails = tuple(
        Fails(
            one.text, one.state, view.live.shows(one.finding.state) if one.state else {}, one.finding.rule, one.rule,
            one.ways,
        )
        for one in hookup.shown
    )  # fmt: skip
    overfull = tuple(name_of_splice(splice.name, splice.id) for splice in hookup.overfull)
    return Findings(fails, overfull, hookup.elsewhere, tuple(len(group) for group in hookup.proof.too_many))


def _work(view: HookupView) -> Work:
    steps = tuple(
        ToDo(
            f"{step.act.replace(' ', '-')}-{step.splice.id}", step.splice.id, ACT_WORDS[step.act],
            name_of_splice(step.splice.name, ""), ends,
            held if step.act in ("make", "add to", "close", "cap") else "",
        )
        for step, ends, held in view.work
    )  # fmt: skip
    return Work("" if view.box.found else view.other, steps, tuple(view.parts))


def _splices(view: HookupView) -> Splices:
    rows = tuple(
        SpliceRow(
            one.id, name_of_splice(one.name, one.id), view.held(one), one.connector.size if one.connector else "",
            tuple(view.words(one)),
        )
        for one in view.live.splices
    )  # fmt: skip
    loose = tuple(LooseEnd(key, words) for key, words in view.loose)
    return Splices(view.hookup.stage, tuple(view.choices), tuple(view.targets), rows, loose)


def _expect(view: HookupView) -> Expect:
    points = tuple(view.points) if view.hookup.stage == "planned" else ()
    rows = tuple((words, tuple(row)) for words, row in view.readings)
    return Expect(points, tuple(view.state_choices), tuple(view.taken), rows)
