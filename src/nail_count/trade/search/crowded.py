"""Practice with a crowded box: what a person changed until it held, against the least that makes it hold."""

from __future__ import annotations

from dataclasses import dataclass

from ..compare.boxes import differences
from ..model.answer import State
from ..model.box import Box
from ..model.job import Job, by_id
from ..rules.check import check_box
from .ways import ways


@dataclass(frozen=True, slots=True)
class CrowdedScore:
    """How a crowded box was planned."""

    state: State
    """As it is planned now."""
    changed: tuple[str, ...]
    """What was changed, each in a sentence."""
    best: tuple[str, ...]
    """The least work after which it holds, each move in a sentence; () where none was found."""


def crowded_score(job: Job, box: Box) -> CrowdedScore:
    """How well a box was planned that failed as it was found.

    Args:
        job: it is in.
        box: with what was in it at the start as found.
    """
    sheets = by_id(job.sheets)
    start = box.as_in(box.as_found)
    now = check_box(box, sheets, job.terms_at(box))
    began = job.changed(boxes=tuple(start if one.id == box.id else one for one in job.boxes))
    found = ways(began, box.id, most=1, far=False)
    best = tuple(move.words for move in found.ways[0].moves) if found.ways else ()
    return CrowdedScore(now.state, differences(start, box, sheets), best)
