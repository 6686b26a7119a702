"""The survey of a box as a row of steps, and what is left to look at on the next visit."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from ..model.box import Box
from ..model.survey import STAGES, Looked

Step = Literal["dead", "photos", "breaker", "gangs", "volume", "depth", "clamps", "ring", "holes", "cables"]


@dataclass(frozen=True, slots=True)
class OpenPoint:
    """Something that is not known yet."""

    step: Step
    sentence: str
    """What to look at."""


@dataclass(frozen=True, slots=True)
class SurveyStep:
    """One step of the survey, in the order it is worked."""

    step: Step
    title: str
    open: tuple[OpenPoint, ...]
    """What is left of it."""

    @property
    def done(self) -> bool:
        """Whether nothing of it is left."""
        return not self.open


TITLES: dict[Step, str] = {
    "dead": "Dead, and proven so",
    "photos": "Pictures, before anything is undone",
    "breaker": "Which breaker feeds it",
    "gangs": "Gangs and material",
    "volume": "Volume",
    "depth": "Depth and set-back",
    "clamps": "Tabs or clamps",
    "ring": "Ring or extension",
    "holes": "Screw holes and plaster",
    "cables": "Cables",
}


def survey_steps(box: Box) -> tuple[SurveyStep, ...]:
    """Every step of the survey of this box with what is left of it.

    >>> steps = survey_steps(Box(id="hall", name="Hall", room="Hall"))
    >>> [step.step for step in steps if step.done]
    []
    """
    points = open_points(box)
    return tuple(
        SurveyStep(step, title, tuple(point for point in points if point.step == step))
        for step, title in TITLES.items()
    )


def open_points(box: Box) -> tuple[OpenPoint, ...]:
    """What is not known of this box yet, in the order it is looked at."""
    return tuple(OpenPoint(step, sentence) for step, left in _LEFT.items() for sentence in left(box))


def _dead(box: Box) -> Iterator[str]:
    for stage in STAGES:
        if not box.survey.proven(stage):
            yield f"prove dead with the {stage}"


def _photos(box: Box) -> Iterator[str]:
    if not box.survey.photos:
        yield "take a picture before anything is undone"


def _breaker(box: Box) -> Iterator[str]:
    if box.circuit is None:
        yield "find the breaker that feeds it"


def _gangs(box: Box) -> Iterator[str]:
    yield from _unseen(box, "gangs", "count the gangs")
    yield from _unseen(box, "material", "see whether it is metal or not")


def _volume(box: Box) -> Iterator[str]:
    e = box.enclosure
    if e.volume is None and e.size is None:
        measured = None not in (e.width, e.height, e.depth)
        also = "; it is measured, which is an estimate only" if measured else ""
        yield f"read the volume marked in it, or its trade size{also}"


def _depth(box: Box) -> Iterator[str]:
    setback = box.survey.setback
    if box.enclosure.depth is None and box.enclosure.size is None:
        yield "measure its inside depth"
    if setback is None:
        yield "measure how far it stands behind the face of the wall"
    elif setback.mm > 0 and box.survey.wall is None:
        yield "see whether the wall is combustible"


def _clamps(box: Box) -> Iterator[str]:
    yield from _unseen(box, "clamps", "see whether tabs or clamps hold the cables inside")


def _ring(box: Box) -> Iterator[str]:
    yield from _unseen(box, "ring", "see whether a ring or an extension is on it")


def _holes(box: Box) -> Iterator[str]:
    if box.survey.holes is None:
        yield "look at the screw holes"
    if box.survey.plaster is None:
        yield "see whether paint or plaster is to be cleared"


def _cables(box: Box) -> Iterator[str]:
    if not box.cables:
        yield "count the cables"
        return
    yield from _unseen(box, "cables", "count the cables behind the neighbors too")
    if box.survey.neutral is None:
        yield "find out whether a neutral is in the box"
    for cable in box.cables:
        if cable.free is None:
            yield f"measure the free length of cable {cable.id}"
        if cable.condition is None:
            yield f"look at the insulation and ends of cable {cable.id}"


def _unseen(box: Box, fact: Looked, sentence: str) -> Iterator[str]:
    """A fact with a usual answer is open until somebody says it was looked at."""
    if fact not in box.survey.looked:
        yield sentence


_LEFT: dict[Step, Callable[[Box], Iterator[str]]] = {
    "dead": _dead,
    "photos": _photos,
    "breaker": _breaker,
    "gangs": _gangs,
    "volume": _volume,
    "depth": _depth,
    "clamps": _clamps,
    "ring": _ring,
    "holes": _holes,
    "cables": _cables,
}
