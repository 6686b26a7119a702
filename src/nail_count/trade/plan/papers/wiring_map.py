"""The map of the wiring on paper, over as many sheets as the house takes."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from ...model.box import Box
from ...model.job import Job
from ...model.run import BoxEnd, CircuitEnd
from ...text.format import and_list
from ...text.runs import end_words
from ..floors import sheets
from .paper import Block, Mapped, Paper, Para, Section, Table


def map_papers(job: Job, boxes: tuple[Box, ...]) -> Iterator[Paper]:
    """One paper for each sheet: its boxes and their runs, and where the cables go that leave it.

    Args:
        job: the house, as far as it fits together.
        boxes: those on the map.
    """
    each = sheets(boxes, {box.room: job.house.floor_of(box.room) for box in boxes})
    sheet_of = {box.id: number for number, here in enumerate(each, 1) for box in here}
    for number, here in enumerate(each, 1):
        title = f"Wiring map, sheet {number} of {len(each)}" if len(each) > 1 else "Wiring map"
        yield Paper("map", title, job.name, tuple(_sections(job, here, number, sheet_of)))


def _sections(job: Job, here: tuple[Box, ...], number: int, sheet_of: Mapping[str, int]) -> Iterator[Section]:
    breakers = _breakers(job, here)
    blocks: list[Block] = [Mapped(tuple(box.id for box in here), breakers)]
    if breakers:
        blocks.append(Para(f"Home runs to {'breaker' if len(breakers) == 1 else 'breakers'} {and_list(breakers)}."))
    if any((box.id, cable.id) not in job.far_ends for box in here for cable in box.entering):
        blocks.append(Para("A gray letter marks a cable nobody has traced yet.", "small"))
    yield Section("", tuple(blocks))
    leaving = tuple(_leaving(job, here, number, sheet_of))
    if leaving:
        yield Section(
            "Cables that leave this sheet", (Table(("Box", "Cable", "Goes to", "Sheet"), leaving, (8, 3, 8, 2)),)
        )


def _breakers(job: Job, here: tuple[Box, ...]) -> tuple[str, ...]:
    """Return the breakers whose home runs end on this sheet, in the order of the panel."""
    ends = (job.far_ends.get((box.id, cable.id)) for box in here for cable in box.entering)
    known = {end.circuit for end in ends if isinstance(end, CircuitEnd)}
    return tuple(one.id for one in job.circuits if one.id in known)


def _leaving(job: Job, here: tuple[Box, ...], number: int, sheet_of: Mapping[str, int]) -> Iterator[tuple[str, ...]]:
    named = {box.id: box for box in job.boxes}
    for box in here:
        for cable in box.entering:
            far = job.far_ends.get((box.id, cable.id))
            if isinstance(far, BoxEnd) and sheet_of.get(far.box, number) != number:
                cell = f"{cable.id} · {cable.size}"
                yield f"{box.room}: {box.name}", cell, end_words(far, named), str(sheet_of[far.box])
