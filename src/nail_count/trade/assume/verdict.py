"""Give the verdict on a box: its state, or its state if it is wired as usual."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..model.answer import State, worst
from ..model.box import Box
from ..model.datasheet import Datasheet
from ..model.job import Job, Terms, by_id
from ..rules.check import BoxCheck, JobCheck, check_box
from ..text.format import and_list
from ..wiring.identify.weights import NOWHERE, FarEnd
from .usual import Assumption, ends_in, usual


@dataclass(frozen=True, slots=True)
class Verdict:
    """How a box stands, and on what that rests. One that rests on anything is never a plain pass."""

    state: State
    """Of the box, with the assumptions entered."""
    rests_on: tuple[Assumption, ...] = ()

    @property
    def if_what(self) -> str:
        """What it rests on, in words; "" for nothing."""
        return and_list(tuple(one.text for one in self.rests_on))

    @property
    def words(self) -> str:
        """As shown: holds; holds if the whites of A and B are tied together in the back."""
        return f"{self.state.word} if {self.if_what}" if self.rests_on else self.state.word


def verdict_of(
    check: BoxCheck,
    sheets: Mapping[str, Datasheet],
    terms: Terms,
    volts: Mapping[str, int],
    ends: Mapping[str, FarEnd] = NOWHERE,
) -> Verdict:
    """Return how a box stands; where something is open, how it stands if wired as usual.

    Args:
        check: of the box as it was entered.
        sheets: the sheets its devices name, by id.
        volts: across what each circuit of the job feeds, by its id.
        ends: what kind of end each of its cables goes to, where that is known.
    """
    if check.state is not State.OPEN:
        return Verdict(check.state)
    assumed = usual(check.box, sheets, terms, ends)
    if not assumed:
        return Verdict(State.OPEN)
    # The box of a check is the part that fits its job: what does not fit stays what it was.
    misfits = (check.fit.state,) if check.fit else ()
    after = worst((check_box(filled(check.box, assumed), sheets, terms, volts).state, *misfits))
    return Verdict(State.OPEN) if after is State.OPEN else Verdict(after, assumed)


def verdicts_of(job: Job, check: JobCheck) -> tuple[Verdict, ...]:
    """Return the verdict on each box of a job, in the order of its check."""
    sheets, ends = by_id(job.sheets), ends_in(job)
    return tuple(
        verdict_of(one, sheets, job.terms_at(one.box), job.volts, ends.get(one.box.id, NOWHERE)) for one in check.boxes
    )


def filled(box: Box, assumed: tuple[Assumption, ...]) -> Box:
    """Return a box with the assumptions entered, to be judged; no edit applies to it, and it is never kept."""
    for one in assumed:
        box = box.changed(survey=box.survey.changed(neutral=one.neutral))
    return box
