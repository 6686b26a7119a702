"""Every rule on a box, and on a whole job."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from .model.answer import Answer, State, worst
from .model.box import Box
from .model.job import Job, Terms, by_id
from .model.sheet import Sheet
from .rules.bulk import bulk
from .rules.csa import csa_fill
from .rules.depth import BY_DEPTH, depth
from .rules.nec import fill_of
from .rules.rating import positions, rating_at
from .rules.spaces import Space, spaces


@dataclass(frozen=True, slots=True)
class BoxCheck:
    """All answers for one box, and the one that binds."""

    box: Box
    fills: tuple[Answer, ...]
    """Volume of each space; () where no volume rule holds."""
    bulk: Answer
    """By real size; an estimate."""
    depth: Answer | None
    """None while the inside depth is not known."""
    ratings: tuple[Answer, ...]

    @property
    def fill(self) -> Answer:
        """The count that binds: the worst of the spaces; bulk where no volume rule holds."""
        return max(self.fills, key=lambda answer: answer.state, default=self.bulk)

    @property
    def answers(self) -> tuple[Answer, ...]:
        """Volume first, then depth and bulk, then each channel from left to right."""
        return (*self.fills, *((self.depth,) if self.depth else ()), self.bulk, *self.ratings)

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
    """Volume, depth and bulk of the box, and every channel of its devices.

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
    fills = () if terms.code in BY_DEPTH else tuple(_fill(space, sheets, terms) for space in spaces(box, sheets))
    return BoxCheck(box, fills, bulk(box, sheets, terms.code), depth(box, sheets, terms.code), ratings)


def _fill(space: Space, sheets: Mapping[str, Sheet], terms: Terms) -> Answer:
    if terms.code == "csa":
        return csa_fill(space, sheets, terms.modules)
    return fill_of(space, sheets, terms.code, terms.modules)


def check_job(job: Job) -> JobCheck:
    """Every box of the job, in the job's order."""
    sheets = by_id(job.sheets)
    return JobCheck(tuple(check_box(box, sheets, job.terms) for box in job.boxes))
