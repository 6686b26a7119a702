"""Every rule on a box, and on a whole job."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .model.answer import Answer, State, worst
from .model.box import Box
from .model.job import Job, Terms, by_id
from .model.sheet import Sheet
from .rules.nec import fill
from .rules.rating import positions, rating_at


@dataclass(frozen=True, slots=True)
class BoxCheck:
    """All answers for one box, and the one that binds."""

    box: Box
    fill: Answer
    ratings: tuple[Answer, ...]

    @property
    def answers(self) -> tuple[Answer, ...]:
        """Volume first, then each channel from left to right."""
        return (self.fill, *self.ratings)

    @property
    def state(self) -> State:
        """The worst of its answers."""
        return worst(answer.state for answer in self.answers)

    @property
    def binding(self) -> Answer:
        """The answer that sets the state; the first of them where several do."""
        return max(self.answers, key=lambda answer: answer.state)


@dataclass(frozen=True, slots=True)
class JobCheck:
    """All boxes of a job."""

    boxes: tuple[BoxCheck, ...]

    @property
    def state(self) -> State:
        """Fails where anything fails, else open where anything is open, else a pass."""
        return worst(box.state for box in self.boxes)


def check_box(box: Box, sheets: Mapping[str, Sheet], terms: Terms | None = None) -> BoxCheck:
    """Volume of the box, and every channel of its devices.

    Args:
        box: the box.
        sheets: the sheets its devices name, by id.
        terms: rule set and voltage; the defaults of [Terms][nail_count.trade.model.job.Terms] where None.

    Raises:
        KeyError: a device names a sheet that is not given.
    """
    terms = terms or Terms()
    position = positions(box, sheets)
    ratings = tuple(
        rating_at(position[device.id], device, channel, sheets[device.sheet], terms.voltage)
        for device in sorted(box.devices, key=lambda device: device.gang)
        for channel in range(1, len(sheets[device.sheet].channels) + 1)
    )
    return BoxCheck(box, fill(box, sheets, terms.code), ratings)


def check_job(job: Job) -> JobCheck:
    """Every box of the job, in the job's order."""
    sheets = by_id(job.sheets)
    return JobCheck(tuple(check_box(box, sheets, job.terms) for box in job.boxes))
