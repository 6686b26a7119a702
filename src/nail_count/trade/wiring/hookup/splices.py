"""What holds a splice: the size of its connector by what meets there, pigtails, strip length.

Source: common practice of the sizes connectors come in; the package's own listing binds (NFPA 70 (NEC) 110.3(B),
110.14(B), from memory of the publication).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ...model.box import Box
from ...model.datasheet import Datasheet
from ...model.gauge import Gauge, awg
from ...model.splice import ConductorEnd, Connector, End, GroundEnd, LeadEnd, PigtailEnd, Splice
from ...rules.wires.joints import TAKES, Size


@dataclass(frozen=True, slots=True)
class Held:
    """What a splice is held by."""

    meeting: int
    """How many ends meet, a pigtail to each screw among them."""
    gauge: Gauge
    """The largest of them."""
    size: Size | None
    """None: under one screw, or too many for one connector."""
    pigtails: int
    """Short pieces to screws, which count nothing."""
    too_many: bool


def size_for(count: int, gauge: Gauge) -> Size | None:
    """The smallest connector that takes so many conductors of this gauge; None where none does.

    >>> size_for(4, awg(14)), size_for(4, awg(12)), size_for(6, awg(14))
    ('medium', 'large', None)
    """
    for size, rows in TAKES.items():
        for up_to, most in rows:
            if gauge <= up_to:
                if count <= most:
                    return size
                break
    return None


def most_of(gauge: Gauge) -> int:
    """How many conductors of a gauge the largest connector takes."""
    return next((int(most) for up_to, most in TAKES["large"] if gauge <= up_to), 2)


def gauge_of(box: Box, end: End) -> Gauge:
    """The gauge of an end; a lead counts as 14 AWG."""
    letter = end.of.rstrip("0123456789") if isinstance(end, ConductorEnd) else ""
    if isinstance(end, GroundEnd):
        letter = end.cable
    cable = box.cable(letter)
    if cable is None:
        return end.gauge or awg(14) if isinstance(end, PigtailEnd) else awg(14)
    return cable.grounded_by if isinstance(end, GroundEnd) else cable.gauge


def is_screw(box: Box, end: End, sheets: Mapping[str, Datasheet]) -> bool:
    """Whether an end is a screw: one conductor goes under it, or a pigtail where more meet."""
    if not isinstance(end, LeadEnd):
        return False
    item = box.item(end.of)
    terminals = sheets[item.sheet].terminals if item else ()
    return end.terminal <= len(terminals) and terminals[end.terminal - 1].kind == "screw"


def held(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> Held:
    """What holds a splice of a box.

    Args:
        box: as it is judged.
        sheets: of everything in it, by id.
    """
    ends = splice.ends
    screws = sum(is_screw(box, end, sheets) for end in ends)
    gauge = max((gauge_of(box, end) for end in ends), default=awg(14))
    under = screws == 1 and len(ends) == 2
    pigtails = 0 if under else screws
    size = None if under or len(ends) == 0 else size_for(max(len(ends), 2), gauge)
    return Held(len(ends), gauge, size, pigtails, size is None and not under and len(ends) > 1)


def too_small(box: Box, splice: Splice, sheets: Mapping[str, Datasheet]) -> bool:
    """Whether a connector, or the largest there is, does not take what meets in it."""
    there = held(box, splice, sheets)
    if there.too_many:
        return True
    if splice.connector is None or there.size is None:
        return False
    sizes = tuple(TAKES)
    return sizes.index(splice.connector.size) < sizes.index(there.size)


def splices_for(
    box: Box, groups: Sequence[tuple[str, Sequence[End]]], sheets: Mapping[str, Datasheet]
) -> tuple[Splice, ...]:
    """Splices for groups of ends, each under a name, with connectors; too many ends make two with a jumper between."""
    made: list[Splice] = []

    def put(name: str, ends: Sequence[End]) -> None:
        id = f"s{len(made) + 1}"
        size = held(box, Splice(id=id, ends=tuple(ends)), sheets).size
        gauge = max(gauge_of(box, end) for end in ends)
        connector = Connector(size=size, gauge=gauge) if size else None
        made.append(Splice(id=id, name=name, ends=tuple(ends), connector=connector))

    for name, ends in groups:
        rest, most = list(ends), most_of(max(gauge_of(box, end) for end in ends))
        came = False
        while len(rest) + came > most:
            here = rest[: most - 1 - came]
            rest = rest[len(here) :]
            back = [PigtailEnd(to=f"s{len(made)}")] if came else []
            put(name, [*back, *here, PigtailEnd(to=f"s{len(made) + 2}")])
            came = True
        put(name, [*([PigtailEnd(to=f"s{len(made)}")] if came else []), *rest])
    return tuple(made)
