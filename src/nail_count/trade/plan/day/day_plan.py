"""A plan of days: who works on what when, which breakers are off, and how good it was proven to be."""

from __future__ import annotations

from dataclasses import dataclass

from ...model.clock import DAY
from .problem import Task


@dataclass(frozen=True, slots=True)
class Slot:
    """When a task is done, and by whom."""

    task: Task
    start: int
    """Minutes since midnight of the first day."""
    end: int
    person: int = 1

    @property
    def day(self) -> int:
        """Which day, from 0."""
        return self.start // DAY


@dataclass(frozen=True, slots=True)
class Off:
    """A breaker that is off, from when to when."""

    breaker: str
    start: int
    end: int

    @property
    def day(self) -> int:
        """Which day, from 0."""
        return self.start // DAY


@dataclass(frozen=True, slots=True)
class Proven:
    """How small an aim was made, and how small it was proven that it cannot be made."""

    aim: str
    value: int
    bound: int
    """No plan that is as good in what comes before has less."""

    @property
    def best(self) -> bool:
        """Whether no plan has less."""
        return self.value == self.bound


@dataclass(frozen=True, slots=True)
class DayPlan:
    """A plan of days."""

    slots: tuple[Slot, ...]
    off: tuple[Off, ...]
    proven: tuple[Proven, ...]
    left_out: tuple[tuple[Task, str], ...]
    """Tasks that are in no day, each with why."""
    finished: bool
    """Whether every aim was proven; else it was stopped in time, and this is the best so far."""

    def value(self, aim: str) -> int:
        """How small an aim was made; 0 where nothing is planned."""
        return next((one.value for one in self.proven if one.aim == aim), 0)
