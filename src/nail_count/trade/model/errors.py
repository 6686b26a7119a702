"""The errors in something typed or read, as sentences with the place they belong to."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Self

from pydantic import ValidationError


@dataclass(frozen=True, slots=True)
class Problem:
    """One thing that is wrong, and where."""

    path: tuple[str | int, ...]
    """Into the document, or the field of a form; () for the whole."""
    sentence: str
    """What was expected."""
    code: str = ""
    """What kind of thing is wrong, where the models tell."""

    @property
    def where(self) -> str:
        """The path as written: ``boxes[2].cables[0].gauge``."""
        text = ""
        for step in self.path:
            text += f"[{step}]" if isinstance(step, int) else f".{step}" if text else step
        return text


class Rejected(ValueError):
    """Something was not done. It says what was expected, and at which field where there is one."""

    def __init__(self, sentence: str, field: str = "") -> None:
        super().__init__(sentence)
        self.problems: tuple[Problem, ...] = (Problem((field,) if field else (), sentence),)

    @classmethod
    def of(cls, problems: Sequence[Problem]) -> Self:
        """For several things that are wrong at once."""
        made = cls(problems[0].sentence)
        made.problems = tuple(problems)
        return made

    @property
    def sentence(self) -> str:
        """What was expected first of all."""
        return self.problems[0].sentence

    @property
    def field(self) -> str:
        """Where; "" where no field says it."""
        path = self.problems[0].path
        return str(path[0]) if path else ""


def problems_of(wrong: ValidationError) -> list[Problem]:
    """The sentences behind a failed validation, one for each thing that is wrong."""
    return [sentenced(error) for error in wrong.errors(include_url=False)]


def sentenced(error: Any) -> Problem:
    """The sentence behind one error of a validation, as its `errors()` has it."""
    return Problem(tuple(error["loc"]), _sentence(error), error["type"])


BESIDE_OTHERS = "beside_others"
"""A figure is wrong beside the others of its row, not by itself."""


def _sentence(error: Any) -> str:
    """What was expected, for the kinds of error that documents and forms bring."""
    kind, given, about = error["type"], error.get("input"), error.get("ctx", {})
    if kind in ("value_error", "assertion_error", BESIDE_OTHERS):
        return str(about.get("error", error["msg"]))
    if kind == "missing" or (kind == "string_too_short" and not given):
        return "This is missing. Enter it"
    if kind == "extra_forbidden":
        return "This name isn’t known here. Check its spelling"
    if kind == "literal_error":
        return f"Enter {_choices(about['expected'])}"
    expected = _EXPECTED.get(kind)
    if expected is None:
        return f"{_shown(given)} isn’t understood: {error['msg'][:1].lower()}{error['msg'][1:]}"
    figures = {name: value for name, value in about.items() if isinstance(value, int | float | str)}
    return f"Enter {expected.format(**figures)}"


_EXPECTED = {
    "int_parsing": "a whole number",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "string_type": "text",
    "string_too_short": "some text",
    "string_too_long": "at most {max_length} characters",
    "string_pattern_mismatch": "letters, digits and simple signs only",
    "datetime_parsing": "a date and a time such as 2026-10-12 09:10",
    "datetime_from_date_parsing": "a date and a time such as 2026-10-12 09:10",
    "datetime_type": "a date and a time such as 2026-10-12 09:10",
    "greater_than": "more than {gt}",
    "greater_than_equal": "{ge} or more",
    "less_than": "less than {lt}",
    "less_than_equal": "{le} or less",
    "too_long": "at most {max_length} of these",
    "too_short": "at least {min_length} of these",
    "tuple_type": "a list",
    "list_type": "a list",
    "dict_type": "an object",
    "model_type": "an object",
    "model_attributes_type": "an object",
    "bool_parsing": "true or false",
    "bool_type": "true or false",
}


def _choices(expected: str) -> str:
    """The values a field takes, without the marks of the code around them."""
    return expected.replace("''", "nothing").replace("'", "")


def _shown(given: object) -> str:
    """What was given, short enough for a sentence."""
    if isinstance(given, str):
        return f"“{given[:40]}”" if given else "nothing"
    if given is None:
        return "nothing"
    if isinstance(given, Sequence):
        return "a list"
    return "an object" if isinstance(given, dict) else str(given)[:40]
