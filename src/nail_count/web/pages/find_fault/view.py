"""What the page of troubleshooting shows: the checks answered, the one that comes next, and the causes left."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from ....trade.model.job import Job
from ....trade.model.tick import Tick
from ....trade.plan.install.back_to import back_to
from ....trade.plan.install.steps import install_steps
from ....trade.plan.trouble.causes import Cause
from ....trade.plan.trouble.checks import SKIPPED, Answer, Check
from ....trade.plan.trouble.narrow import Group, causes_left, grouped, left, next_check
from ....trade.plan.trouble.symptoms import SEEN, STOP_FIRST, Symptom
from ....trade.plan.trouble.wiring_causes import Setting
from ....trade.plan.trouble.words import Order, answers_of, order_of
from ....trade.wiring.hookup.graph import Graph
from ... import urls


def loads_of(seen: Graph, box: str) -> dict[str, str]:
    """The names of the loads something in the box switches, or of all on its circuits where nothing does, by id."""
    here = frozenset[str]().union(*(one.all_controls for one in seen.network.gear if seen.box_of[one.id] == box))
    loads = [one.id for one in seen.network.loads if one.id in here] or [one.id for one in seen.network.loads]
    return {one: seen.load_names[one] for one in loads}


@dataclass(frozen=True, slots=True)
class Answered:
    """A check that was answered."""

    title: str
    answer: str
    back: str
    """The address before it was answered."""


@dataclass(frozen=True, slots=True)
class Choice:
    """An answer to the check at hand."""

    label: str
    to: str


@dataclass(frozen=True)
class FaultView:
    """Where the search stands."""

    at: Setting
    symptom: Symptom
    answers: Mapping[Check, Answer]
    """In the order they were given."""
    ticks: tuple[Tick, ...]
    job_key: str

    @property
    def seen(self) -> str:
        """The symptom in a person's words."""
        return SEEN[self.symptom]

    @property
    def first(self) -> str:
        """What comes before any check; "" for nothing."""
        return STOP_FIRST[self.symptom]

    @cached_property
    def _every(self) -> tuple[Cause, ...]:
        return causes_left(self.at.job, self.at.box, self.at.load, self.symptom, {})

    @cached_property
    def _left(self) -> tuple[Cause, ...]:
        known = left(self._every, self.answers)
        return known or causes_left(self.at.job, self.at.box, self.at.load, self.symptom, self.answers)

    @cached_property
    def left(self) -> tuple[Group, ...]:
        """The causes left, those mended the same way together."""
        return grouped(self._left)

    @cached_property
    def following(self) -> Check | None:
        """The check that comes next; None where none tells more."""
        return next_check(self._left, self.answers)

    @property
    def order(self) -> Order | None:
        """What a person does for it."""
        return order_of(self.following, self.at, self.symptom) if self.following else None

    @property
    def choices(self) -> tuple[Choice, ...]:
        """The answers to it, each with the address that gives it."""
        check = self.following
        if check is None:
            return ()
        given = tuple(self.answers.items())
        return tuple(
            Choice(label, self._address((*given, (check, said))))
            for said, label in answers_of(check, self.at, self._left)
        )

    @property
    def answered(self) -> tuple[Answered, ...]:
        """The checks answered so far."""
        given = tuple(self.answers.items())
        return tuple(
            Answered(
                order_of(check, self.at, self.symptom).title,
                dict(answers_of(check, self.at, self._every)).get(said, said),
                self._address(given[:number]),
            )
            for number, (check, said) in enumerate(given)
        )

    @property
    def found(self) -> bool:
        """Whether an answer showed the one cause that is left, not only that it is none of the others."""
        told = {one: said for one, said in self.answers.items() if said not in (one.kind.usual, SKIPPED)}
        return len(self.left) == 1 and any(said in self.left[0].first.answers(one) for one, said in told.items())

    @property
    def steps(self) -> tuple[str, ...]:
        """For each cause left the step of its box to go back to; "" for one outside the wiring."""
        return tuple(self._step(self.at.job, group) for group in self.left)

    def _step(self, wiring: Job, group: Group) -> str:
        if not group.first.faults:
            return ""
        fault = group.first.faults[0]
        box = fault.box or self.at.box.id
        return urls.box(self.job_key, box, "install", step=back_to(install_steps(wiring, box, self.ticks), fault))

    def _address(self, given: tuple[tuple[Check, Answer], ...]) -> str:
        """The address of the search with these answers."""
        pairs = [pair for check, said in given for pair in (("check", check.key), ("answer", said))]
        at = urls.box(self.job_key, self.at.box.id, "find-fault")
        return urls.asking(at, [("load", self.at.load), ("symptom", self.symptom), *pairs])
