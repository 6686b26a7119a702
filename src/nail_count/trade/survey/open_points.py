"""The survey of a box as a row of steps, and what to look at on the next visit."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from ..model.box import Box
from ..model.load import KIND_WORDS, Load
from ..model.panel import Circuit
from ..model.survey import UNCOVERED, Looked
from ..text.format import and_list

Step = Literal["dead", "photos", "breaker", "gangs", "volume", "depth", "clamps", "ring", "holes", "cables", "labels"]


@dataclass(frozen=True, slots=True)
class OpenPoint:
    """Something that is not known yet."""

    step: Step
    task: str
    """What to do, the same at every box: "Look at the free length and the ends"."""
    detail: str = ""
    """Which cables or which fixture; "" where the task says it all."""

    @property
    def sentence(self) -> str:
        """The task with its detail."""
        return f"{self.task}: {self.detail}" if self.detail else self.task

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


Left = str | tuple[str, str]
"""A task, and where it needs one its detail."""
TO_BRING: dict[Step, tuple[str, ...]] = {
    "breaker": ("the key to the panel",),
    "dead": ("a tester", "a breaker lock and tag"),
    "photos": ("a phone or a camera",),
    "gangs": (),
    "volume": ("a flashlight",),
    "depth": ("a tape measure",),
    "clamps": ("a screwdriver", "a flashlight"),
    "ring": ("a screwdriver",),
    "holes": ("a screwdriver",),
    "cables": ("a tape measure", "a flashlight"),
    "labels": ("a ladder",),
}
"""The tools each step takes; common practice."""
DECIDING: frozenset[Step] = frozenset(("breaker", "gangs", "volume", "depth", "clamps", "ring", "cables"))

TITLES: dict[Step, str] = {
    "breaker": "Which breaker feeds it",
    "dead": "Verified dead",
    "photos": "Photos, before you take anything apart",
    "gangs": "Gangs and material",
    "volume": "Volume",
    "depth": "Depth and set-back",
    "clamps": "Tabs or clamps",
    "ring": "Ring or extension",
    "holes": "Screw holes and wall",
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
    left = ((step, said) for step, of in _LEFT.items() for said in of(box))
    return tuple(OpenPoint(step, said) if isinstance(said, str) else OpenPoint(step, *said) for step, said in left)


@dataclass(frozen=True, slots=True)
class Task:
    """Something to do at several boxes."""

    step: Step
    words: str
    at: tuple[tuple[Box, str], ...]
    """Each box, with the cables or the fixtures it is about; "" where the words say it all."""

    @property
    def decides(self) -> bool:
        """Whether the finding could change an answer."""
        return self.step in DECIDING


def tasks_of(boxes: Sequence[Box]) -> tuple[Task, ...]:
    """Return what to do at some boxes, each task once with its boxes, in the order a box is looked at.

    >>> hall, porch = (Box(id=one, name=one, room=one) for one in ("hall", "porch"))
    >>> tasks_of((hall, porch))[0].words, [box.id for box, _ in tasks_of((hall, porch))[0].at]
    ('Find the breaker that feeds it', ['hall', 'porch'])
    """
    at: dict[tuple[Step, str], dict[str, tuple[Box, list[str]]]] = {}
    for box in boxes:
        for point in open_points(box):
            _, details = at.setdefault((point.step, point.task), {}).setdefault(box.id, (box, []))
            details += [point.detail] if point.detail else []
    order = {step: number for number, step in enumerate(_LEFT)}
    return tuple(
        Task(step, task, tuple((box, ", ".join(details)) for box, details in here.values()))
        for (step, task), here in sorted(at.items(), key=lambda item: order[item[0][0]])
    )


def open_at_panel(circuits: Sequence[Circuit], used: Collection[str]) -> tuple[str, ...]:
    """The unknowns of the breakers that feed boxes, as things to look at; breakers alike are one.

    Args:
        used: ids of those that feed any box.

    >>> open_at_panel([Circuit(id="3"), Circuit(id="5", kind="AFCI"), Circuit(id="7")], ["3", "5"])
    ('Breaker 3: see whether it is plain, AFCI or GFCI',)
    """
    here = [circuit for circuit in circuits if circuit.id in used]
    asked = (
        ("see whether it is plain, AFCI or GFCI", [one.id for one in here if one.kind is None]),
        ("see what the two poles feed", [one.id for one in here if one.poles == 2 and one.serves is None]),
        (
            "see whether it has a handle tie to the breaker it shares a neutral with",
            [one.id for one in here if one.neutral_with and one.tied is None],
        ),
    )
    return tuple(
        f"{'Breaker' if len(ids) == 1 else 'Breakers'} {', '.join(ids)}: {sentence}" for sentence, ids in asked if ids
    )


def _dead(box: Box) -> Iterator[str]:
    for stage in UNCOVERED:
        if not box.survey.proven(stage):
            yield f"Verify dead with the {stage}"


def _photos(box: Box) -> Iterator[str]:
    if not box.survey.photos:
        yield "Take a photo before you take anything apart"


def _breaker(box: Box) -> Iterator[str]:
    if box.circuit is None:
        yield "Find the breaker that feeds it"


def _gangs(box: Box) -> Iterator[str]:
    yield from _unseen(box, "gangs", "Count the gangs")
    yield from _unseen(box, "material", "See whether the box is metal")


def _volume(box: Box) -> Iterator[str]:
    e = box.enclosure
    if e.volume is None and e.size is None:
        measured = None not in (e.width, e.height, e.depth)
        also = " (measured: an estimate)" if measured else ""
        yield f"Read the volume molded or stamped in the box, or its trade size{also}"


def _depth(box: Box) -> Iterator[str]:
    setback = box.survey.setback
    if box.enclosure.depth is None and box.enclosure.size is None:
        yield "Measure the box depth"
    if setback is None:
        yield "Measure how far the box is set back from the face of the wall"
    elif setback.mm > 0 and box.survey.wall is None:
        yield "See whether the wall can burn"


def _clamps(box: Box) -> Iterator[str]:
    yield from _unseen(box, "clamps", "See whether tabs or clamps inside the box hold the cables")


def _ring(box: Box) -> Iterator[str]:
    yield from _unseen(box, "ring", "See whether a ring or an extension is on the box")


def _holes(box: Box) -> Iterator[str]:
    if box.survey.holes is None:
        yield "Look at the screw holes"
    if box.enclosure.material == "metal" and box.survey.bonded is None:
        yield "See whether the metal box is bonded"
    if box.survey.damp is None:
        yield "See whether the place is damp"
    if box.survey.plaster is None:
        yield "See whether paint or plaster is in the way"


def _cables(box: Box) -> Iterator[Left]:
    if not box.cables:
        yield "Count the cables"
        return
    yield from _unseen(box, "cables", "Look for cables behind other cables")
    if box.survey.neutral is None:
        yield "Find out whether the box has a neutral"
    looks: dict[tuple[str, ...], list[str]] = {}
    for cable in box.cables:
        left = (
            *(("free length",) if cable.free is None else ()),
            *(("wire ends",) if cable.condition is None else ()),
        )
        if left:
            looks.setdefault(left, []).append(cable.id)
    for left, letters in looks.items():
        yield f"Look at the {and_list(left)}", lettered(letters)
    if not any(cable.grounds for cable in box.cables) and box.survey.ground_way is None:
        yield "Pick what makes the box safe without a ground"


def unread(box: Box) -> tuple[Load, ...]:
    """Return the lamps with bulbs whose fixture's label nobody read; () once somebody looked and found none."""
    if "labels" in box.survey.looked:
        return ()
    return tuple(load for item in box.equipment for load in item.loads if load.takes_bulbs and load.label is None)


def _labels(box: Box) -> Iterator[Left]:
    for load in unread(box):
        yield "Read the largest bulb on the fixture’s label", load.name or f"{KIND_WORDS[load.kind]} fixture"


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


_LEFT: dict[Step, Callable[[Box], Iterator[Left]]] = {
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
