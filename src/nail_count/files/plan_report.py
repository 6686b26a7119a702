"""A box planned from one line, as text and as data: what `nail-count plan` prints."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import Any

from ..trade.assume.usual import Assumption, to_other_switch
from ..trade.assume.verdict import Verdict, verdicts_of
from ..trade.assume.wired import look_as_usual
from ..trade.documents import Documents, JobAtHand, wired_with
from ..trade.edits.hookup import ProposeHookup
from ..trade.model.answer import State
from ..trade.model.box import Box
from ..trade.model.errors import Rejected
from ..trade.model.job import Job
from ..trade.plan.install.texts import sentence
from ..trade.quick_entry.enter_line import StartByLine
from ..trade.rules.check import BoxCheck, check_job
from ..trade.text.format import say, sum_up
from ..trade.wiring.hookup.look import HookUp
from .hookup_report import hookup_data, splices_text
from .parts_report import parts_data, short_parts
from .report import CAUTION, assumed_data, box_data
from .steps_report import steps_data, steps_text

SAY_MORE = (
    "More than one breaker may feed a box this wide. Add where each cable goes, such as 14/2 feed, 14/2 to porch,"
    " or the breaker, such as breaker 7."
)
"""Why a box of several gangs isn't planned whose feed nobody named, and what to add to the line."""
A_PAIR = (
    "Cable {} usually goes to another switch of the light, and one line plans one box. Type this line on the first"
    " page, then start the other switch there."
)
"""Why one line doesn't plan one of two switches, and where both are planned."""


@dataclass(frozen=True)
class LinePlan:
    """A job of one box, entered by a line, with its hook-up proposed."""

    job: Job
    refused: str
    """Why no hook-up is proposed; "" where one is."""

    @property
    def box(self) -> Box:
        """The only box of the job."""
        (box,) = self.job.boxes
        return box

    @cached_property
    def checked(self) -> tuple[BoxCheck, Verdict]:
        """Return the check of the box, and its verdict."""
        check = check_job(self.job)
        return check.boxes[0], verdicts_of(self.job, check)[0]

    @cached_property
    def hookup(self) -> tuple[HookUp, tuple[Assumption, ...]]:
        """Return the hook-up, and what it rests on."""
        return look_as_usual(wired_with(Documents(JobAtHand(self.job), {}), self.box), self.box.id)

    @property
    def rests_on(self) -> tuple[Assumption, ...]:
        """Everything the plan rests on, that nobody has checked."""
        return tuple(dict.fromkeys((*self.checked[1].rests_on, *self.hookup[1])))

    @property
    def state(self) -> State:
        """The worse of the verdict and the hook-up; open as long as it rests on anything."""
        state = max(self.checked[1].state, self.hookup[0].state)
        return state if state is State.FAILS or not self.rests_on else State.OPEN


def plan_of_line(
    line: str, library: Job, name: str = "Quick entry", room: str = "This line", may_wait: bool = False
) -> LinePlan:
    """Return the plan of the box a line describes.

    Args:
        library: a job whose terms and sheets it is planned with.
        name: of the box.
        room: of the box.
        may_wait: whether a line without a device is taken too; nothing is planned then.

    Raises:
        Rejected: a word of the line is not understood, or it names no device.
    """
    empty = library.changed(name="One box", circuits=(), boxes=(), runs=(), ticks=())
    documents = StartByLine(name=name, room=room, line=line).apply(Documents(JobAtHand(empty), {})).documents
    (key,) = documents.lines()
    if not documents.box(key).devices:
        if may_wait:
            return LinePlan(documents.job, "Choose the device that goes in first.")
        raise Rejected('Name the device that goes in, such as 18 cu in, two 14/2, smart dimmer "Hall" 4x9W led', "line")
    try:
        planned = ProposeHookup(box=key).apply(documents).documents
    except Rejected as refusal:
        return LinePlan(documents.job, _what_to_add(documents.box(key), len(documents.runs())) or str(refusal))
    return LinePlan(planned.job, "")


def _what_to_add(box: Box, traced: int) -> str:
    """Return what to add to a line that can't be planned; "" where the refusal says it.

    Args:
        traced: of how many of its cables the line tells where they go.
    """
    if other := to_other_switch(box):
        return A_PAIR.format(other)
    may_be_two = box.enclosure.gangs > 1 and not box.circuits and len(box.entering) > len(box.devices)
    return SAY_MORE if may_be_two and traced < len(box.entering) else ""


def plan_data(plan: LinePlan) -> dict[str, Any]:
    """Return a plan as plain data."""
    around = wired_with(Documents(JobAtHand(plan.job), {}), plan.box)
    return {
        "state": plan.state.word,
        "rests_on": [assumed_data(one) for one in plan.rests_on],
        "box": box_data(*plan.checked),
        "hookup": hookup_data(*plan.hookup),
        "refused": plan.refused or None,
        **{name: told for name, told in parts_data(plan.job).items() if name in ("parts", "tools")},
        "steps": steps_data(around, plan.box.id, ())["steps"],
        "caution": CAUTION,
    }


def plan_text(plan: LinePlan) -> str:
    """Return a plan as text for a terminal."""
    return "\n".join(_lines(plan))


def _lines(plan: LinePlan) -> Iterator[str]:
    check, verdict = plan.checked
    state = max(verdict.state, plan.hookup[0].state) if not plan.refused else verdict.state
    if state is State.OPEN or not plan.rests_on:
        yield f"{state.word.capitalize()}."
        yield from ["", "Check at the box:"] if plan.rests_on else []
    else:
        yield f"{state.word.capitalize()}, if all of these are so:"
    for one in plan.rests_on:
        yield f"  {sentence(one.text)}"
        yield f"      {one.check}"
    yield ""
    yield "Counts:"
    for answer in check.answers:
        is_sum = answer.about not in ("prohibitions", "fit")
        summed = f"{sum_up(answer)}. " if is_sum else ""
        if is_sum or not (answer.state.passes or verdict.rests_on):
            yield f"  {answer.state.word.ljust(6)}{say(answer.title)}: {summed}{sentence(say(answer.headline))}"
    yield ""
    yield f"Hook-up: {plan.refused}" if plan.refused else "Hook-up:"
    yield from ([] if plan.refused else splices_text(plan.hookup[0]))
    yield ""
    yield "Parts:"
    yield from (f"  {line}" for line in short_parts(plan.job))
    yield ""
    yield "Steps:"
    around = wired_with(Documents(JobAtHand(plan.job), {}), plan.box)
    yield from steps_text(around, plan.box.id, ()).splitlines()[1:]
    yield CAUTION
