"""The survey of a box as a row of steps, and what to look at on the next visit."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from ..model.box import Box
from ..model.load import KIND_WORDS, Load
from ..model.panel import Circuit
from ..model.survey import UNCOVERED, Looked

Step = Literal["dead", "photos", "breaker", "gangs", "volume", "depth", "clamps", "ring", "holes", "cables", "labels"]


@dataclass(frozen=True, slots=True)
class OpenPoint:
    """Something that is not known yet."""

    step: Step
    sentence: str
    """What to look at."""

    @property
    def decides(self) -> bool:
        """Whether the finding could change an answer: what may go in, what it may carry, what feeds it."""
        return self.step in DECIDING


@dataclass(frozen=True, slots=True)
class SurveyStep:
    """One step of the survey, in the order it is worked."""

    step: Step
    title: str
    open: tuple[OpenPoint, ...]
    """The rest of it."""

    @property
    def done(self) -> bool:
        """Whether nothing of it is left."""
        return not self.open


DECIDING: frozenset[Step] = frozenset(("breaker", "gangs", "volume", "depth", "clamps", "ring", "cables"))

TITLES: dict[Step, str] = {
    "breaker": "Which breaker feeds it",
    "dead": "Dead, and proven so",
    "photos": "Pictures, before anything is undone",
    "gangs": "Gangs and material",
    "volume": "Volume",
    "depth": "Depth and set-back",
    "clamps": "Tabs or clamps",
    "ring": "Ring or extension",
    "holes": "Screw holes and plaster",
    "cables": "Cables",
    "labels": "Labels on the fixtures",
}


def survey_steps(box: Box) -> tuple[SurveyStep, ...]:
    """Every step of the survey of this box with the rest of it.

    >>> steps = survey_steps(Box(id="hall", name="Hall", room="Hall"))
    >>> [step.step for step in steps if step.done]
    ['labels']
    """
    points = open_points(box)
    return tuple(
        SurveyStep(step, title, tuple(point for point in points if point.step == step))
        for step, title in TITLES.items()
    )


def open_points(box: Box) -> tuple[OpenPoint, ...]:
    """The unknowns of this box, in the order it is looked at."""
    return tuple(OpenPoint(step, sentence) for step, left in _LEFT.items() for sentence in left(box))


def open_at_panel(circuits: Sequence[Circuit], used: Collection[str]) -> tuple[str, ...]:
    """The unknowns of the breakers that feed boxes, as things to look at; breakers alike are one.

    Args:
        used: ids of those that feed any box.

    >>> open_at_panel([Circuit(id="3"), Circuit(id="5", kind="AFCI"), Circuit(id="7")], ["3", "5"])
    ('breaker 3: see what it protects from: plain, AFCI, GFCI',)
    """
    here = [circuit for circuit in circuits if circuit.id in used]
    asked = (
        ("see what it protects from: plain, AFCI, GFCI", [one.id for one in here if one.kind is None]),
        ("see what its two poles serve", [one.id for one in here if one.poles == 2 and one.serves is None]),
        (
            "see whether it opens together with the one it shares its neutral with",
            [one.id for one in here if one.neutral_with and one.tied is None],
        ),
    )
    return tuple(
        f"{'breaker' if len(ids) == 1 else 'breakers'} {', '.join(ids)}: {sentence}" for sentence, ids in asked if ids
    )


def _dead(box: Box) -> Iterator[str]:
    for stage in UNCOVERED:
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
    if box.enclosure.material == "metal" and box.survey.bonded is None:
        yield "see whether the metal box is bonded"
    if box.survey.damp is None:
        yield "see whether the place is damp"
    if box.survey.plaster is None:
        yield "see whether paint or plaster has to be cleared"


def _cables(box: Box) -> Iterator[str]:
    if not box.cables:
        yield "count the cables"
        return
    yield from _unseen(box, "cables", "count the cables behind the neighbors too")
    if box.survey.neutral is None:
        yield "find out whether a neutral is in the box"
    looks: dict[tuple[str, ...], list[str]] = {}
    for cable in box.cables:
        left = (*(("free length",) if cable.free is None else ()), *(("ends",) if cable.condition is None else ()))
        if left:
            looks.setdefault(left, []).append(cable.id)
    for left, letters in looks.items():
        yield f"{lettered(letters)}: {', '.join(left)}"
    if not any(cable.grounds for cable in box.cables) and box.survey.ground_way is None:
        yield "pick what makes it safe without a ground"


def unread(box: Box) -> tuple[Load, ...]:
    """Return the lamps with bulbs whose fixture's label nobody read; () once somebody looked and found none."""
    if "labels" in box.survey.looked:
        return ()
    return tuple(load for item in box.equipment for load in item.loads if load.takes_bulbs and load.label is None)


def _labels(box: Box) -> Iterator[str]:
    for load in unread(box):
        yield f"read the largest bulb on the label of {load.name or 'the ' + KIND_WORDS[load.kind] + ' fixture'}"


def lettered(letters: Sequence[str]) -> str:
    """Cables by their letters, in a row where they follow each other.

    >>> lettered(["A"]), lettered(["A", "C"]), lettered(["A", "B", "C", "F"])
    ('cable A', 'cables A and C', 'cables A to C, F')
    """
    runs: list[list[str]] = []
    for letter in letters:
        follows = runs and len(letter) == len(runs[-1][-1]) == 1 and ord(letter) == ord(runs[-1][-1]) + 1
        if follows:
            runs[-1].append(letter)
        else:
            runs.append([letter])
    said = [run[0] if len(run) == 1 else f"{run[0]} {'and' if len(run) == 2 else 'to'} {run[-1]}" for run in runs]
    if len(letters) == 1:
        return f"cable {letters[0]}"
    return "cables " + (f"{said[0]} and {said[1]}" if len(letters) == 2 and len(said) == 2 else ", ".join(said))


def _unseen(box: Box, fact: Looked, sentence: str) -> Iterator[str]:
    """A fact with a usual answer is open until somebody says it was looked at."""
    if fact not in box.survey.looked:
        yield sentence


_LEFT: dict[Step, Callable[[Box], Iterator[str]]] = {
    "breaker": _breaker,
    "dead": _dead,
    "photos": _photos,
    "gangs": _gangs,
    "volume": _volume,
    "depth": _depth,
    "clamps": _clamps,
    "ring": _ring,
    "holes": _holes,
    "cables": _cables,
    "labels": _labels,
}
