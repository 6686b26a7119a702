"""What the page shows of the parts of a house."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from itertools import groupby

from ....trade.model.job import Job
from ....trade.model.shelf import PartKey, PartKind
from ....trade.model.tick import StepKind, Tick, standing
from ....trade.plan.parts.parts_list import PartLine, not_said, parts_list
from ....trade.plan.parts.tools import Tool, tools
from ....trade.rules.check import fitting_job

TITLES: dict[PartKind, str] = {
    "device": "Devices", "module": "Modules", "blank": "Blanks", "plate": "Plates", "box": "Boxes",
    "ring": "Rings and extensions", "fan box": "Fan boxes", "connector": "Wire connectors", "pigtail": "Pigtails",
    "sleeve": "Re-marking", "cable": "Cable", "staple": "Staples", "nail plate": "Nail plates", "bypass": "Bypasses",
    "lamp": "Lamps", "hub": "Hubs and radios", "battery": "Batteries",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Next:
    """The next tick of a part, in one tap."""

    kind: StepKind
    count: int


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


@dataclass(frozen=True, slots=True)
class PartsView:
    """The whole page."""

    groups: tuple[tuple[str, tuple[Row, ...]], ...]
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
            f"part-{n}",
            _next(line),
            tuple(reversed(ticked.get(line.part, []))),
            tuple(dict.fromkeys(called.get(need.box, "the house") for need in line.needs)),
            line.part == shown,
        )
        for n, line in enumerate(lines)
    ]
    groups = tuple((TITLES[kind], tuple(of)) for kind, of in groupby(rows, key=lambda row: row.line.part.kind))
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
