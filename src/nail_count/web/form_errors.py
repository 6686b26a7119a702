"""An act that was refused: what was typed, and what was expected where."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..trade.model.errors import Problem
from ..trade.rules.fit.box import DoesNotFit


@dataclass(frozen=True, slots=True)
class FormErrors:
    """An act that was refused: which form, what was typed, what was expected."""

    key: str
    """Which of the page's forms."""
    form: Mapping[str, str]
    """What was typed."""
    problems: tuple[Problem, ...]

    def value(self, key: str, name: str, default: object) -> object:
        """What stands in a field: what was typed where its form was refused."""
        return self.form.get(name, default) if key == self.key else default

    def at(self, key: str, name: str) -> str:
        """What was expected in a field; "" where nothing is wrong with it."""
        if key != self.key:
            return ""
        return "; ".join(p.sentence for p in self.problems if p.path and p.path[0] == name)

    def fields(self, key: str) -> tuple[str, ...]:
        """The fields something is wrong with."""
        return tuple(str(p.path[0]) for p in self.problems if p.path) if key == self.key else ()

    def rest(self, key: str, names: tuple[str, ...]) -> str:
        """The errors of a form beside the fields it shows."""
        if key != self.key:
            return ""
        return "; ".join(p.sentence for p in self.problems if not p.path or p.path[0] not in names)


NO_ERRORS = FormErrors("", {}, ())


@dataclass(frozen=True, slots=True)
class WayOut:
    """A button that does what was refused in a way that can be done."""

    action: str
    """Where it posts to."""
    fields: tuple[tuple[str, str], ...]
    button: str


@dataclass(frozen=True, slots=True)
class Notice:
    """The notice above a page about an act that was not done; empty: nothing."""

    text: str = ""
    way: WayOut | None = None

    def __bool__(self) -> bool:
        return bool(self.text)


NO_NOTICE = Notice()


def stale(what: str, came_since: str) -> Notice:
    """The notice of an act on something that was changed elsewhere.

    >>> stale("box", "14/2 cable B added").text[-34:]
    'Changed since: 14/2 cable B added.'
    """
    since = f" Changed since: {came_since}." if came_since else ""
    return Notice(
        f"This {what} was changed elsewhere since you last saw it. What you did was not done; what you typed is still "
        f"here, beside the {what} as it is now.{since}"
    )


def did_not_fit(wrong: DoesNotFit, action: str, **fields: str) -> Notice:
    """What did not fit, with the way out: the same act again, leaving out what does not."""
    said = f"Not done: {wrong.whose}{wrong.misfits[0].sentence}. The way out:"
    if not wrong.mendable:
        return Notice(f"{said} {wrong.mends}.")
    text = f"{said} do it all the same, and {wrong.mends}."
    again = tuple((name, value) for name, value in fields.items() if value)
    return Notice(text, WayOut(action, (*again, ("mend", "true")), "Do it so"))
