"""What programs are answered, as models: so that the description says it."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Generic, TypeVar

from pydantic import BaseModel, ConfigDict

from ...store.changes import ChangeSeen
from ...store.snapshots import BoxCard, Effect, JobCard
from ...trade.model.job import JobHead

T = TypeVar("T")


class Shape(BaseModel):
    """Of every answer."""

    model_config = ConfigDict(use_attribute_docstrings=True)


class Page(Shape, Generic[T]):
    """A piece of a list."""

    items: list[T]
    next: str | None
    """Where the next piece is; null where this is the last."""


class JobSummary(Shape):
    """A job in the list of jobs."""

    key: str
    """In addresses."""
    name: str
    boxes: dict[str, int]
    """How many of its boxes stand how: holds, tight, open, fails."""
    put_away: bool

    @classmethod
    def of(cls, card: JobCard) -> JobSummary:
        """The summary of a job."""
        return cls(key=card.key, name=card.name, boxes=card.states, put_away=card.removed)


class JobShown(Shape):
    """A job without its sheets, boxes and runs. Its ETag is the revision of its head."""

    key: str
    head: JobHead
    """House, panel, terms, stock, prices, shelf, days, and which boxes in which order."""


class BoxSummary(Shape):
    """A box in the list of a job."""

    key: str
    room: str
    name: str
    circuit: str | None
    """The first of the circuits that feed it, or may; null where none is known."""
    circuits: tuple[str, ...]
    """All of them."""
    gangs: int
    state: str
    """holds, tight, open or fails."""
    binds: str
    """What sets the state, in a few words."""
    to_look_at: int
    """How much of its survey is left."""

    @classmethod
    def of(cls, card: BoxCard) -> BoxSummary:
        """The summary of a box."""
        return cls(
            key=card.key, room=card.room, name=card.name, circuit=next(iter(card.circuits), None),
            circuits=card.circuits, gangs=card.gangs, state=card.state, binds=card.binds, to_look_at=card.todo,
        )  # fmt: skip


class DocumentTouched(Shape):
    """A document as a change left it."""

    kind: str
    """head, sheet, box or run."""
    key: str
    revision: int
    gone: bool
    """Whether it was taken out."""


class ChangeShown(Shape):
    """One act that was done: over as many documents as it needed."""

    number: int
    sentence: str
    at: datetime
    by: str
    undoes: int | None
    """The change it takes back, or brings back."""
    documents: list[DocumentTouched]

    @classmethod
    def of(cls, change: ChangeSeen) -> ChangeShown:
        """A change as a program sees it."""
        touched = [
            DocumentTouched(kind=one.id.kind, key=one.id.key, revision=one.revision, gone=one.gone)
            for one in change.touched
        ]
        return cls(
            number=change.number, sentence=change.sentence, at=change.at.replace(tzinfo=UTC), by=change.by,
            undoes=change.undoes, documents=touched,
        )  # fmt: skip


class AnswerOtherwise(Shape):
    """An answer that changes."""

    of: str
    """Its title."""
    before: str
    after: str


class EffectShown(Shape):
    """What a changed sheet would do to a box."""

    box: str
    name: str
    before: str
    """How the box stands."""
    after: str
    answers: list[AnswerOtherwise]

    @classmethod
    def of(cls, effect: Effect) -> EffectShown:
        """An effect as a program sees it."""
        answers = [AnswerOtherwise(of=one.of, before=one.before, after=one.after) for one in effect.lines]
        before, after = effect.before.word, effect.after.word
        return cls(box=effect.box, name=effect.name, before=before, after=after, answers=answers)


class Made(Shape):
    """What was made, and by what it is called from now on."""

    key: str
