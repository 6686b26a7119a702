"""What a person decides about the days of a job."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from ...documents import Documents, Edited
from ...model.clock import Clock, Lasts, write_clock, write_minutes
from ...model.day import Apart, Break, DayTerms, PlaceTime, Promise
from ...model.errors import Rejected
from ...model.thing import Id
from ..base import Edit
from ..fields import Maybe
from .base import edited, without


class SetDay(Edit):
    """The hours of a day, how many people and how many days at most, daylight, the inspection."""

    start: Clock
    end: Clock
    people: Annotated[int, Field(ge=1, le=2)] = 1
    days: Annotated[int, Field(ge=1, le=10)] = 3
    light_from: Annotated[Clock | None, Maybe] = None
    light_to: Annotated[Clock | None, Maybe] = None
    inspection: Annotated[Annotated[int, Field(ge=1, le=10)] | None, Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        day = documents.head.day.changed(**self.said())
        hours = f"{write_clock(self.start)} to {write_clock(self.end)}"
        people = "one person" if self.people == 1 else "two people"
        return edited(documents, f"Days from {hours}, {people}, {self.days} at most", day=day)


class AddBreak(Edit):
    """A time of every day in which nobody works."""

    start: Clock
    end: Clock

    def _edited(self, documents: Documents) -> Edited:
        new = Break.model_validate(self.said())
        words = f"{write_clock(self.start)} to {write_clock(self.end)}"
        return _day(
            documents,
            f"A break from {words}",
            breaks=tuple(sorted((*documents.head.day.breaks, new), key=lambda pause: pause.start)),
        )


class RemoveBreak(Edit):
    """A break that is worked through."""

    start: Clock

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick one of the breaks", "start")
        rest = without(documents.head.day.breaks, lambda one: one.start == self.start, gone)
        return _day(documents, f"No break at {write_clock(self.start)}", breaks=rest)


class PutPromise(Edit):
    """What must be on again by when, or may be off for so long; in place of what was promised of that circuit."""

    circuit: str
    what: Annotated[str, Field(max_length=60)] = ""
    back_by: Annotated[Clock | None, Maybe] = None
    longest: Annotated[Lasts | None, Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        _known(documents, self.circuit, "circuit")
        new = Promise.model_validate(self.said())
        others = tuple(one for one in documents.head.day.promises if one.circuit != self.circuit)
        called = f"{self.what}, circuit {self.circuit}" if self.what else f"circuit {self.circuit}"
        by = f"back on by {write_clock(self.back_by)}" if self.back_by is not None else ""
        most = f"off for {write_minutes(self.longest)} at most" if self.longest is not None else ""
        promises = tuple(sorted((*others, new), key=lambda one: one.circuit))
        return _day(documents, f"Promised: {called} {', '.join(filter(None, (by, most)))}", promises=promises)


class RemovePromise(Edit):
    """A promise that is no longer one."""

    circuit: str

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick a circuit with a promise", "circuit")
        rest = without(documents.head.day.promises, lambda one: one.circuit == self.circuit, gone)
        return _day(documents, f"Circuit {self.circuit}: nothing promised", promises=rest)


class KeepApart(Edit):
    """Two circuits that may not be off together."""

    one: str
    other: str

    def _edited(self, documents: Documents) -> Edited:
        _known(documents, self.one, "one")
        _known(documents, self.other, "other")
        new = Apart.model_validate(self.said())
        others = tuple(pair for pair in documents.head.day.apart if {pair.one, pair.other} != {self.one, self.other})
        return _day(documents, f"Circuits {self.one} and {self.other} never off together", apart=(*others, new))


class AllowTogether(Edit):
    """Two circuits that may be off together after all."""

    one: str
    other: str

    def _edited(self, documents: Documents) -> Edited:
        gone = Rejected("Pick two circuits that may not be off together", "one")
        pair = {self.one, self.other}
        rest = without(documents.head.day.apart, lambda one: {one.one, one.other} == pair, gone)
        return _day(documents, f"Circuits {self.one} and {self.other} may be off together", apart=rest)


class SetPlace(Edit):
    """How long one place takes, whether it is dark there by day, whether it is among these days at all."""

    box: Id
    minutes: Annotated[Annotated[Lasts, Field(ge=5, le=1440)] | None, Maybe] = None
    leave_out: bool = False
    windowless: bool = False

    def _edited(self, documents: Documents) -> Edited:
        box = documents.box(self.box)
        new = PlaceTime.model_validate({"box": self.box, **self.said()})
        others = tuple(one for one in documents.head.day.places if one.box != self.box)
        places = others if new == PlaceTime(box=self.box) else (*others, new)
        takes = f"takes {write_minutes(self.minutes)}" if self.minutes is not None else "takes as long as is usual"
        dark = ", dark by day as well" if self.windowless else ""
        words = "not on these days" if self.leave_out else takes + dark
        return _day(documents, f"“{box.name}”: {words}", places=places)


class PlanFrom(Edit):
    """The rest of the first day is planned from this time on; from its start where none is entered."""

    resume: Annotated[Clock | None, Maybe] = None

    def _edited(self, documents: Documents) -> Edited:
        when = "its start" if self.resume is None else write_clock(self.resume)
        return _day(documents, f"The first day is planned from {when}", resume=self.resume)


def _day(documents: Documents, sentence: str, **changes: object) -> Edited:
    day: DayTerms = documents.head.day.changed(**changes)
    return edited(documents, sentence, day=day)


def _known(documents: Documents, circuit: str, field: str) -> None:
    if circuit not in documents.head.circuit_ids:
        raise Rejected("Pick one of the circuits in the panel", field)
