"""What a person decides about the days of a job: hours, breaks, promises, what may not be off together, times."""

from __future__ import annotations

from itertools import pairwise
from typing import Annotated, Literal, Self, get_args

from pydantic import Field, model_validator

from .clock import DAY, Clock, Lasts, write_clock
from .thing import Id, Thing

CircuitId = Annotated[str, Field(min_length=1, max_length=20)]
PlaceKind = Literal["plain swap", "known several places", "unknown several places", "new box", "fishing", "outlet"]
"""What kind of work a place is, by how long it takes."""
PLACE_KINDS: tuple[PlaceKind, ...] = get_args(PlaceKind)


class Break(Thing):
    """A time in which nobody works."""

    start: Clock
    end: Clock

    @model_validator(mode="after")
    def _some_time(self) -> Self:
        if self.end <= self.start:
            raise ValueError("Let the break end after it starts")
        return self


class Promise(Thing):
    """What must be on again by when."""

    circuit: CircuitId
    what: Annotated[str, Field(max_length=60)] = ""
    """What people miss: refrigerator, router."""
    back_by: Clock | None = None
    """On from then, each day; None: at no certain time."""
    longest: Lasts | None = None
    """Off for so long at most at a stretch [min]; None: no limit."""

    @model_validator(mode="after")
    def _promises_something(self) -> Self:
        if self.back_by is None and self.longest is None:
            raise ValueError("Enter by when it is on again, or for how long it may be off")
        return self


class Apart(Thing):
    """Two circuits that may not be off together."""

    one: CircuitId
    other: CircuitId

    @model_validator(mode="after")
    def _two(self) -> Self:
        if self.one == self.other:
            raise ValueError("Pick two circuits")
        return self


class PlaceTime(Thing):
    """What a person decided about one place."""

    box: Id
    minutes: Annotated[Lasts, Field(ge=5, le=1440)] | None = None
    """How long it takes [min]; None: as is usual for its kind."""
    leave_out: bool = False
    """Whether it is not among the days planned."""
    windowless: bool = False
    """Whether it is dark there by day as well: worked by a lamp, at any hour."""


class DayTerms(Thing):
    """What the days of a job are planned by."""

    start: Clock = 8 * 60
    end: Clock = 16 * 60 + 30
    breaks: Annotated[tuple[Break, ...], Field(max_length=4)] = (Break(start=12 * 60, end=12 * 60 + 30),)
    people: Annotated[int, Field(ge=1, le=2)] = 1
    days: Annotated[int, Field(ge=1, le=10)] = 3
    """How many days there are at most."""
    light_from: Clock | None = None
    """Daylight; None: not minded."""
    light_to: Clock | None = None
    promises: Annotated[tuple[Promise, ...], Field(max_length=20)] = ()
    apart: Annotated[tuple[Apart, ...], Field(max_length=20)] = ()
    places: Annotated[tuple[PlaceTime, ...], Field(max_length=400)] = ()
    inspection: Annotated[int, Field(ge=1, le=10)] | None = None
    """After which day the work behind a wall is inspected; None: no inspection, or not on these days."""
    resume: Clock | None = None
    """From when on the first day the rest is planned again; None: from its start."""

    @model_validator(mode="after")
    def _a_day(self) -> Self:
        if self.end <= self.start:
            raise ValueError(f"Let the day end after it starts at {write_clock(self.start)}")
        if (self.light_from is None) != (self.light_to is None):
            raise ValueError("Enter daylight from when to when, or neither")
        if self.light_from is not None and self.light_to is not None and self.light_to <= self.light_from:
            raise ValueError("Let daylight end after it begins")
        for one, other in pairwise(sorted(self.breaks, key=lambda pause: pause.start)):
            if other.start < one.end:
                raise ValueError("Enter breaks one after the other")
        boxes = [place.box for place in self.places]
        if len(set(boxes)) < len(boxes):
            raise ValueError("Name each place once")
        return self

    def place(self, box: str) -> PlaceTime:
        """What was decided about a place."""
        return next((place for place in self.places if place.box == box), PlaceTime(box=box))

    def renumbered(self, was: str, new: str | None) -> Self:
        """The same with a circuit under its new number; facts of one that is gone are dropped."""
        called = {one: new if one == was else one for pair in self.apart for one in (pair.one, pair.other)}
        called |= {one.circuit: new if one.circuit == was else one.circuit for one in self.promises}
        promises = tuple(p.changed(circuit=called[p.circuit]) for p in self.promises if called[p.circuit] is not None)
        apart = tuple(
            pair.changed(one=called[pair.one], other=called[pair.other])
            for pair in self.apart
            if called[pair.one] is not None and called[pair.other] is not None
        )
        return self.changed(promises=promises, apart=apart)


USUAL_DAYS = DayTerms()
__all__ = ["DAY", "USUAL_DAYS", "Apart", "Break", "DayTerms", "PlaceKind", "PlaceTime", "Promise"]
