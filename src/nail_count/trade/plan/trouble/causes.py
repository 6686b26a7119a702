"""Causes of trouble, and what each check shows where one is the cause."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from ...wiring.hookup.readings import SingleFault
from .checks import SKIPPED, Answer, Check

Shows = Mapping[Check, tuple[Answer, ...]]
"""The answers each check may have; () for any. A check that isn't here has its usual answer."""


@dataclass(frozen=True, slots=True)
class Cause:
    """Something that may be wrong."""

    code: str
    words: str
    """A sentence."""
    do: str
    """What to do about it; "" where the step of the box says so."""
    weight: float
    """How usual it is beside the others; common practice."""
    shows: Shows = field(hash=False, compare=False)
    faults: tuple[SingleFault, ...] = field(default=(), compare=False)
    """The faults in the wiring, one thing or two at once; () for a cause outside it."""
    for_help: bool = False
    """Whether it is not to be mended here: the utility's, the panel's."""

    def allows(self, check: Check, answer: Answer) -> bool:
        """Tell whether the check may have this answer with this cause."""
        shown = self.answers(check)
        return answer == SKIPPED or not shown or answer in shown

    def answers(self, check: Check) -> tuple[Answer, ...]:
        """Return the answers a check may have with this cause; () for any."""
        return self.shows.get(check, (check.kind.usual,))
