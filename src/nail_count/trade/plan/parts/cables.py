"""New cable by type and length, staples, nail plates: from the runs."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from math import ceil

from ...model.answer import Rule
from ...model.box import Box
from ...model.job import Job
from ...model.measure import Length
from ...model.run import Run
from ...model.shelf import PartKey
from ...model.wire import Cable
from ...rules.supplies import CABLE_SPARE, END_SPARE, NEAR_FACE, STAPLE_FROM_BOX, STAPLE_STEP
from ...text.format import figure
from .need import Need

INCHES_IN_FOOT = 12
MM_IN_M = 1000


def cable_needs(job: Job) -> Iterator[Need]:
    """What every cable takes that the plans of its boxes say is new: each run once, whichever end says so.

    Args:
        job: its boxes and runs.
    """
    boxes = {box.id: box for box in job.boxes}
    said: set[tuple[str, str]] = set()
    for run in job.runs:
        ends = [(boxes[end.box], end.cable) for end in run.box_ends if end.box in boxes and end.cable is not None]
        if any(letter in new_in(box) for box, letter in ends):
            said |= {(box.id, letter) for box, letter in ends}
            box, letter = next((box, letter) for box, letter in ends if letter in new_in(box))
            cable = box.cable(letter)
            assert cable is not None
            yield from _of_run(box, cable, run)
    for box in job.boxes:
        for letter in new_in(box):
            cable = box.cable(letter)
            if cable is not None and (box.id, letter) not in said:
                remark = f"where cable {letter} goes, and how far, is not known"
                yield _cable(box, cable, None, f"cable {letter}", remark)


def new_in(box: Box) -> tuple[str, ...]:
    """The letters of the cables that are new in a box."""
    return box.planned.new if box.planned else ()


def _of_run(box: Box, cable: Cable, run: Run) -> Iterator[Need]:
    if run.length is None:
        yield _cable(box, cable, None, f"cable {cable.id}", f"the length of cable {cable.id} is not known")
    else:
        count, why = bought_length(cable, run.length)
        yield _cable(box, cable, count, f"cable {cable.id}: {why}")
    if run.fished is None:
        words = f"whether cable {cable.id} is fished or stapled is not known"
        yield Need(_STAPLE, "Staple", None, box.id, f"cable {cable.id}", _STAPLED, remark=words)
    elif run.fished is False and run.length is not None:
        count = staples(run.length)
        why = f"cable {cable.id}: every {figure(STAPLE_STEP)} in, and {figure(STAPLE_FROM_BOX)} in from each end"
        yield Need(_STAPLE, "Staple", count, box.id, why, _STAPLED)
    if run.near_holes:
        why = f"cable {cable.id}: holes nearer than {figure(NEAR_FACE)} in to the face"
        yield Need(PartKey("nail plate", "steel"), "Nail plate", run.near_holes, box.id, why, NEAR_FACE.rule)


_STAPLE = PartKey("staple", "cable")
_STAPLED: Rule = STAPLE_STEP.rule


def _cable(box: Box, cable: Cable, count: int | None, why: str, remark: str = "") -> Need:
    return Need(
        PartKey("cable", cable.size), f"{cable.size} cable", count, box.id, why, unit=_unit(cable), remark=remark
    )


def _unit(cable: Cable) -> str:
    return "ft" if cable.gauge.unit == "AWG" else "m"


def bought_length(cable: Cable, length: Length) -> tuple[int, str]:
    """How much cable is bought for a run, in whole feet or metres as it is sized, and the sum in words.

    Args:
        length: of the run.

    Source: common practice: 10 to 15 % more, and 12 to 18 in at each end; the larger of both is taken.

    >>> from nail_count.trade.model.gauge import awg
    >>> bought_length(Cable(id="A", gauge=awg(14), insulated=2), Length.parse("20 ft"))
    (26, '20 ft, and 15 %, and 18 in at each end')
    """
    inches = length.inches * (1 + CABLE_SPARE) + 2 * END_SPARE
    more = f"{figure(CABLE_SPARE * 100)} %, and {figure(END_SPARE)} in at each end"
    if _unit(cable) == "ft":
        return ceil(inches / INCHES_IN_FOOT), f"{figure(length.to('ft'))} ft, and {more}"
    return ceil(inches * Fraction(254, 10) / MM_IN_M), f"{figure(length.mm / MM_IN_M)} m, and {more}"


def staples(length: Length) -> int:
    """How many staples a run takes along a framed wall: one near each end, and as many between as the step asks.

    Source: NFPA 70 (NEC) 334.30, from memory of the publication.

    >>> staples(Length.parse("8 in")), staples(Length.parse("10 ft"))
    (1, 3)
    """
    between = length.inches - 2 * STAPLE_FROM_BOX
    return 1 if between <= 0 else ceil(between / STAPLE_STEP) + 1
