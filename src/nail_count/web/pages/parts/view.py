"""What the page shows of the parts of a house."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby
from typing import Literal

from ....trade.model.job import Job
from ....trade.model.shelf import PartKey, PartKind
from ....trade.model.tick import Tick, standing
from ....trade.plan.parts.parts_list import PartLine, not_said, parts_list
from ....trade.plan.parts.tools import Tool, tools
from ....trade.rules.check import fitting_job

TITLES: dict[PartKind, str] = {
    "device": "Devices", "module": "Modules", "blank": "Blanks", "plate": "Plates", "box": "Boxes",
    "ring": "Rings and extensions", "fan box": "Fan boxes", "connector": "Wire connectors", "pigtail": "Pigtails",
    "sleeve": "Re-marking", "cable": "Cable", "staple": "Staples", "nail plate": "Nail plates", "bypass": "Bypasses",
    "lamp": "Lamps", "hub": "Hubs and radios", "battery": "Batteries",
}  # fmt: skip


NextKind = Literal["bought", "loaded", "used"]
"""The ticks that follow each other."""


@dataclass(frozen=True, slots=True)
class Next:
    """The next tick of a part, in one tap."""

    kind: NextKind
    count: int


VERBS: dict[NextKind, str] = {"bought": "bought", "loaded": "loaded", "used": "put in"}
"""The next tick of a part, in words."""


def row_id(part: PartKey) -> str:
    """Return the id of the row of a part, which stays while others come and go.

    >>> row_id(PartKey("connector", "small"))
    'part-connector-small'
    """
    return re.sub(r"[^a-z0-9]+", "-", f"part {part.kind} {part.of}".lower()).strip("-")


@dataclass(frozen=True, slots=True)
class Row:
    """A part, with what can be ticked of it."""

    line: PartLine
    id: str
    """Of its element."""
    next: Next | None
    ticks: tuple[Tick, ...]
    """What was ticked of it, the newest first."""
    places: tuple[str, ...]
    """The boxes it is for."""
    shown: bool
    """Whether it stands open."""

    @property
    def have(self) -> int:
        """How many are there already: out of this job, and in the shop."""
        return self.line.from_job + self.line.from_shelf

    @property
    def packs(self) -> str:
        """How many to buy, by packs where it is sold by them; "" for none."""
        buy, pack = self.line.to_buy, self.line.pack
        return "" if not buy else f"{buy // pack} × {pack}" if pack > 1 else str(buy)

    @property
    def done(self) -> str:
        """How far it has come: "3 of 4 bought"; "" where nothing is ticked."""
        line = self.line
        for count, verb in ((line.used, "put in"), (line.loaded, "loaded"), (line.bought, "bought")):
            if count:
                return f"{count} of {line.needed} {verb}"
        return ""


@dataclass(frozen=True, slots=True)
class Group:
    """The parts of one kind."""

    title: str
    rows: tuple[Row, ...]

    @property
    def money(self) -> Fraction | None:
        """The cost of those still to buy; None where nothing is, or one has no price."""
        costs = [row.line.money for row in self.rows if row.line.to_buy]
        known = [cost for cost in costs if cost is not None]
        return sum(known, Fraction(0)) if costs and len(known) == len(costs) else None


@dataclass(frozen=True, slots=True)
class PartsView:
    """The whole page."""

    groups: tuple[Group, ...]
    tools: tuple[tuple[str, tuple[Tool, ...]], ...]
    names: dict[str, str]
    """Of the boxes, by their keys."""
    not_said: tuple[tuple[str, str], ...]
    """Boxes whose record of what was found: key and name."""
    misfit: tuple[str, ...]
    """Boxes with something that does not fit their job: it is not in the list."""
    buys: int
    """How many kinds have still to be bought."""
    money: Fraction | None
    """What these cost; None where one has no price."""
    unpriced: int
    left: tuple[Row, ...]
    """What would be left over."""


def parts_view(whole: Job, shown: PartKey | None = None) -> PartsView:
    """What the page shows.

    Args:
        shown: the part that stands open.
    """
    job = fitting_job(whole)
    lines = parts_list(job)
    ticked: dict[PartKey, list[Tick]] = {}
    for tick in standing(job.ticks):
        if tick.step.count is not None:
            ticked.setdefault(PartKey(*tick.step.subjects), []).append(tick)  # type: ignore[arg-type]
    called = {box.id: box.name for box in job.boxes}
    rows = [
        Row(
            line,
            row_id(line.part),
            _next(line),
            tuple(reversed(ticked.get(line.part, []))),
            tuple(dict.fromkeys(called.get(need.box, "the house") for need in line.needs)),
            line.part == shown,
        )
        for line in lines
    ]
    wanted = [row for row in rows if row.line.needs or row.ticks]
    groups = tuple(Group(TITLES[kind], tuple(of)) for kind, of in groupby(wanted, key=lambda row: row.line.part.kind))
    by_step = groupby(tools(job, lines), key=lambda tool: tool.step)
    buys = [line for line in lines if line.to_buy]
    priced = [line.money for line in buys if line.money is not None]
    return PartsView(
        groups,
        tuple((step, tuple(of)) for step, of in by_step),
        {box.id: f"{box.room}: {box.name}" for box in job.boxes},
        tuple((box.id, box.name) for box in not_said(job)),
        tuple(was.name for was, box in zip(whole.boxes, job.boxes, strict=True) if was != box),
        len(buys),
        sum(priced, Fraction(0)) if len(priced) == len(buys) and buys else None,
        len(buys) - len(priced),
        tuple(row for row in rows if row.line.left_over),
    )


def _next(line: PartLine) -> Next | None:
    """What a person does next with a part: buy the missing ones, load the needed ones, put them in."""
    if line.to_buy:
        return Next("bought", line.to_buy)
    if line.needed > line.loaded:
        return Next("loaded", line.needed - line.loaded)
    if line.needed > line.used:
        return Next("used", line.needed - line.used)
    return None
