"""A paper as a value: what stands on it, in its order. Screens, prints and PDF are made from the same."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal, get_args

PaperKind = Literal["summary", "inspector", "as-built", "handover", "directory", "map", "notes", "labels"]
PAPER_KINDS: tuple[PaperKind, ...] = get_args(PaperKind)


@dataclass(frozen=True, slots=True)
class Para:
    """A sentence or a few."""

    text: str
    weight: Literal["", "strong", "small"] = ""


@dataclass(frozen=True, slots=True)
class Bullets:
    """Things one under the other."""

    items: tuple[str, ...]
    boxes: bool = False
    """Whether each has a box to tick."""


@dataclass(frozen=True, slots=True)
class Table:
    """Rows under a head; of each row the first cell names it."""

    head: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    shares: tuple[int, ...]
    """How wide each column is beside the others."""
    total: bool = False
    """Whether the last row is the sum of those above it."""


@dataclass(frozen=True, slots=True)
class Drawn:
    """A drawing of a box."""

    what: Literal["count", "front", "hook-up"]
    box: str
    built: bool = False
    """Whether it is the box as it was built, where that is known."""


@dataclass(frozen=True, slots=True)
class Mapped:
    """The wiring of some boxes as a map."""

    boxes: tuple[str, ...]
    circuits: tuple[str, ...]
    """The breakers whose home runs end at one of them."""


@dataclass(frozen=True, slots=True)
class Pictures:
    """Pictures taken, each by its id, with what it shows; they are kept beside the job, and may not be here."""

    each: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Coded:
    """A way to a page, as a square code."""

    box: str


@dataclass(frozen=True, slots=True)
class Beside:
    """A drawing, and what stands to its right."""

    left: Drawn
    right: Table


Block = Para | Bullets | Table | Drawn | Mapped | Coded | Beside | Pictures


@dataclass(frozen=True, slots=True)
class Section:
    """Some of a paper under a title of its own, kept together where a page has room for it."""

    title: str
    blocks: tuple[Block, ...]
    card: bool = False
    """Whether it is cut out: framed, and never cut across."""


def told(title: str, *sentences: str) -> Section:
    """Sentences under a title."""
    return Section(title, tuple(Para(one) for one in sentences))


def listed(title: str, items: Iterable[str], none: str) -> Section:
    """Things one under the other; where there are none, a sentence that says so."""
    made = tuple(items)
    return Section(title, (Bullets(made) if made else Para(none),))


def tabled(
    title: str, head: tuple[str, ...], shares: tuple[int, ...], rows: Iterable[tuple[str, ...]], none: str
) -> Section:
    """A table; where it has no row, a sentence that says so."""
    made = tuple(rows)
    return Section(title, (Table(head, made, shares) if made else Para(none),))


@dataclass(frozen=True, slots=True)
class Paper:
    """One paper."""

    kind: PaperKind
    title: str
    house: str
    """Whose it is."""
    sections: tuple[Section, ...]
    box: str = ""
    """The key of its box; "" where it is of the house."""
    where: str = ""
    """The room and the box."""
