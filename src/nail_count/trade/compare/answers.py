"""What changes between two checks of a box."""

from __future__ import annotations

from dataclasses import dataclass

from ..model.answer import Answer
from ..rules.check import BoxCheck
from ..text.format import say


@dataclass(frozen=True, slots=True)
class AnswerChange:
    """An answer that changes."""

    of: str
    """Its title."""
    before: str
    """How it stands, in a few words; "" where it is not there."""
    after: str


def answer_changes(before: BoxCheck, after: BoxCheck) -> tuple[AnswerChange, ...]:
    """Every answer whose state or headline is not the same after a change; () where none is."""
    was, now = ({(a.about, a.subject): a for a in check.answers} for check in (before, after))
    pairs = [(was.get(key), now.get(key)) for key in dict.fromkeys((*was, *now))]
    return tuple(
        AnswerChange(say((new or old).title), _stands(old), _stands(new))  # type: ignore[union-attr]
        for old, new in pairs
        if _stands(old) != _stands(new)
    )


def _stands(answer: Answer | None) -> str:
    return f"{answer.state.word}, {say(answer.headline)}" if answer is not None else ""
