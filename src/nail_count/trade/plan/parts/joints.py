"""Connectors, pigtails and sleeves of one box: from the splices the plan makes, and which were not there."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence

from ...model.box import Box
from ...model.contents import Contents
from ...model.datasheet import Datasheet
from ...model.gauge import Gauge
from ...model.prices import StockConnector
from ...model.shelf import PartKey
from ...model.splice import ConductorEnd, PigtailEnd
from ...rules.supplies import PIGTAIL
from ...text.format import figure
from ...text.wires import name_of_splice
from ...wiring.hookup.colors import Wire
from ...wiring.hookup.work import Step, gauge_of, held, work
from .devices import coming
from .need import Need

NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten")


def joint_needs(
    box: Box, sheets: Mapping[str, Datasheet], wires: Mapping[str, Wire], kept: Sequence[StockConnector]
) -> Iterator[Need]:
    """What the splices of a box take that the plan makes, adds to or caps: a new connector each, pigtails, sleeves.

    A connector that comes off is not used again. Where only connectors were counted, the ones more than were found.

    Args:
        box: with its plan.
        sheets: of everything in it, by id.
        wires: its conductors, by what they are called.
        kept: the connectors the shop keeps.
    """
    if box.planned is None:
        return
    for step in work(box, sheets, wires):
        if step.act in ("make", "add to", "close", "cap"):
            yield from _connector(box, step, sheets, kept)
        elif step.act == "pigtail":
            gauge = max(gauge_of(box, end) for end in step.splice.ends)
            count = len(step.ends)
            yield _wire(box, str(gauge), count, f"{name_of_splice(step.splice.name)}: {_many(count)} to screws")
        elif step.act == "re-mark":
            count = len(step.ends)
            why = f"{_many(count)} white, no neutral: {name_of_splice(step.splice.name)}"
            yield Need(PartKey("sleeve", "re-marking"), "Re-marking sleeve", count, box.id, why)
    jumpers = max(_jumpers(box.planned) - (_jumpers(box.found) if box.found else 0), 0)
    if jumpers:
        yield _wire(box, str(_largest(box)), jumpers, "between two splices of one color")
    yield from _counted(box, kept)
    if coming(box) and not any(splice.ends or splice.connector for splice in box.planned.splices):
        what = "it isn't hooked up yet: its connectors are not counted"
        yield Need(PartKey("connector", "not known"), "Wire connectors, not planned yet", None, box.id, what)


def _connector(box: Box, step: Step, sheets: Mapping[str, Datasheet], kept: Sequence[StockConnector]) -> Iterator[Need]:
    there = held(box, step.splice, sheets)
    if there.too_many:
        what = f"{name_of_splice(step.splice.name, 'a splice')}: {there.meeting} ends are too many for one connector"
        yield Need(PartKey("connector", "too many"), "Wire connector, too many ends", None, box.id, what, remark=what)
        return
    if there.size is None:
        return
    size = step.splice.connector.size if step.splice.connector else there.size
    why = f"{name_of_splice(step.splice.name)}: {_many(there.meeting)}, the largest {there.gauge}"
    yield _sized(box, size, why, kept)


def _sized(box: Box, size: str, why: str, kept: Sequence[StockConnector], count: int = 1) -> Need:
    known = next((one.name for one in kept if one.size == size), None)
    return Need(PartKey("connector", size), known or f"Wire connector, {size}", count, box.id, why)


def _wire(box: Box, gauge: str, count: int, why: str) -> Need:
    return Need(PartKey("pigtail", gauge), f"Pigtail, {gauge}, {figure(PIGTAIL)} in", count, box.id, why, PIGTAIL.rule)


def _jumpers(contents: Contents) -> int:
    """Wires between two splices: each has an end in both."""
    names = {splice.id for splice in contents.splices}
    ends = [end for splice in contents.splices for end in splice.ends if isinstance(end, PigtailEnd)]
    return sum(end.to in names for end in ends) // 2


def _largest(box: Box) -> Gauge:
    conductors = [end for s in box.splices for end in s.ends if isinstance(end, ConductorEnd)]
    return max((gauge_of(box, end) for end in conductors), default=gauge_of(box, PigtailEnd(to="s1")))


def _counted(box: Box, kept: Sequence[StockConnector]) -> Iterator[Need]:
    """Connectors that were counted, and nobody entered their wires."""
    if box.planned is None:
        return
    more = _uncertain(box.planned) - (_uncertain(box.found) if box.found else Counter())
    for size, count in sorted(more.items()):
        yield _sized(box, size, "counted; its wires aren't entered", kept, count)


def _uncertain(contents: Contents) -> Counter[str]:
    return Counter(s.connector.size for s in contents.splices if s.connector is not None and not s.ends)


def _many(count: int) -> str:
    """How many, as a person says it.

    >>> _many(5), _many(12)
    ('five', '12')
    """
    return NUMBERS[count] if count < len(NUMBERS) else str(count)
