"""The one shape of every answer: what was counted, against what, under which rule.

Plain frozen dataclasses with slots: a search makes thousands. Rules put figures into texts as [Amount][]s and never
format them; [nail_count.trade.text.format][] does.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import IntEnum
from fractions import Fraction
from typing import Literal

from .measure import exact_sum


class State(IntEnum):
    """How an answer stands, from best to worst. The first two pass; open is not known and never shown as a pass."""

    HOLDS = 0
    TIGHT = 1
    OPEN = 2
    FAILS = 3

    @property
    def word(self) -> str:
        """As shown: holds, tight, open, fails."""
        return self.name.lower()

    @property
    def passes(self) -> bool:
        """Whether it is a pass."""
        return self <= State.TIGHT


@dataclass(frozen=True, slots=True)
class Amount:
    """A figure in a text, with its unit ("" for none)."""

    value: Fraction
    unit: str = ""


Text = tuple[str | Amount, ...]
"""Words and figures of a sentence, joined by whoever speaks it."""

Standing = Literal["memory", "practice", "sheet", "arithmetic"]


@dataclass(frozen=True, slots=True)
class Rule:
    """Where a line comes from."""

    source: str
    """The publication and edition, or whose figure it is: NEC 2023, the sheet, common practice."""
    article: str = ""
    standing: Standing = "memory"
    """`memory`: written down from memory of the named publication and not held against a printed copy;
    `practice`: common practice, no published source."""

    @property
    def name(self) -> str:
        """Source and article in one."""
        return f"{self.source} {self.article}".strip()


@dataclass(frozen=True, slots=True)
class Part:
    """The thing a line counts: a cable, a device, a load; and how often it is counted."""

    id: str
    count: Fraction = Fraction(1)


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a count: how many × each = value."""

    kind: str
    """What group it belongs to: conductors, clamps, devices, grounds, leads, capacity; lamps, fan, rating, position."""
    what: Text
    rule: Rule
    why: Text = ()
    count: Fraction = Fraction(0)
    each: Fraction | None = None
    """One of them; None where no figure is known (then the line is open) or the value stands alone."""
    value: Fraction | None = Fraction(0)
    """In the answer's unit; None: not known."""
    parts: tuple[Part, ...] = ()
    at_most: bool = False
    """Whether its value may be any less: nobody stated what it takes."""


FitCode = Literal[
    "circuit", "sheet", "gangs", "yokes", "channel", "space", "behind", "size", "limit", "panel", "run", "outlet",
    "barrier", "reading",
]  # fmt: skip
"""Which way something does not fit its job."""
FindingCode = Literal[
    "afci", "aluminum", "assumed-figures", "battery-control", "below-minimum", "bonding", "brittle-ends",
    "broken-holes", "bypass-fitted",
    "circuit-not-said", "circuits-meet", "clamps-not-seen", "class2-beside-mains", "connectors-not-entered",
    "control-not-said", "damp-place", "dry-input-at-mains", "estimate",
    "fastened-over-half", "fan-not-listed", "fan-not-looked-at", "fan-supported", "fan-too-heavy",
    "fewest-below-minimum", "gauge-not-in-box",
    "ground-beside-neutral", "ground-not-listed", "ground-users", "inrush-at-120-only", "inrush-not-stated",
    "inrush-over", "lamp-setting", "legs-not-known", "little-room-behind", "looped-as-two", "mark-turned-into-in3",
    "mark-turned-into-ml", "minimum-not-known", "mixing-not-allowed", "modified-device",
    "modules-warm", "motor-too-large",
    "neutral-carries-difference", "neutral-carries-sum", "neutral-legs-not-known", "neutral-not-known",
    "neutral-not-through-device", "new-switch-place", "no-derating-on-sheet", "no-ground", "no-load", "no-neutral",
    "no-ring-for-device",
    "not-dimmable", "not-in-mixed-table", "not-listed", "nothing-entered", "one-feed", "one-leg", "open-together",
    "outlets-of-circuit", "pigtailed", "plaster-to-clear", "receptacle-switch-rating", "receptacles-not-counted",
    "room-behind", "set-back-not-credited", "short-ends", "sides-not-told-apart", "small-wire",
    "snap-switch-over", "spacer-credits-nothing", "stair-dimmed-from-one-end", "stair-range-not-said", "too-far-back",
    "too-few-wires", "too-warm", "two-circuits-in-box", "two-poles-not-said", "two-supplies",
    "uneven-kinds", "unlisted-device", "uses-ground", "volume-measured",
    "watts-asked-back", "wrong-phase",
]  # fmt: skip
"""What a rule finds beside its sums: nothing ever looks for words in its sentence."""


@dataclass(frozen=True, slots=True)
class Remark:
    """Something to know, or a finding that sets the state."""

    code: FindingCode | FitCode
    text: Text
    rule: Rule
    state: State = State.HOLDS
    """What it makes of the answer at least; HOLDS: a remark only."""
    ways: tuple[str, ...] = ()
    """Ways out, each a few words."""


@dataclass(frozen=True, slots=True)
class Subject:
    """Whose answer it is.

    >>> str(Subject("channel", "d1", 1)), str(Subject("box", "hall")), str(Subject("total", "m1"))
    ('d1/1', 'hall', 'm1/total')
    """

    kind: Literal["box", "space", "channel", "total", "circuit", "house"]
    of: str
    """The box, the device or module, the circuit."""
    number: int = 0
    """Which of its spaces or channels, from 1; 0 where it is all of it."""

    def __str__(self) -> str:
        if self.kind == "total":
            return f"{self.of}/total"
        return f"{self.of}/{self.number}" if self.number else self.of


@dataclass(frozen=True, slots=True)
class Answer:
    """What a rule says of a thing: lines against a limit, a state and why."""

    about: Literal["fill", "rating", "depth", "bulk", "prohibitions", "circuit", "fit"]
    subject: Subject
    """Whose answer."""
    title: Text
    unit: str
    """Of every figure in lines and limit: in³, W, A, or "share" of the limit."""
    lines: tuple[Line, ...]
    limit_lines: tuple[Line, ...]
    """What the limit is made of: their values add up to it."""
    total: Fraction
    """Sum of the known lines."""
    limit: Fraction | None
    """None: not known."""
    state: State
    headline: Text
    """What binds, in a few words."""
    remarks: tuple[Remark, ...] = ()

    @property
    def margin(self) -> Fraction | None:
        """Limit minus total; below zero it is over; None while the limit is not known."""
        return None if self.limit is None else self.limit - self.total


def add_up(lines: Iterable[Line]) -> Fraction:
    """The sum of the values known."""
    return exact_sum(line.value for line in lines if line.value is not None)


def limit_of(steps: Sequence[Line]) -> Fraction | None:
    """What limit lines add up to; None where there are none or one of them is not known."""
    return add_up(steps) if steps and all(step.value is not None for step in steps) else None


def worst(states: Iterable[State]) -> State:
    """The worst of these states; HOLDS where there are none."""
    return max(states, default=State.HOLDS)
