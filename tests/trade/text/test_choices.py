"""Every choice of the model has its words, and no template has words of its own for one."""

from __future__ import annotations

import importlib
import pkgutil
import re
from collections.abc import Iterator
from importlib.resources import files
from typing import Any, Literal, get_args, get_origin

import pytest

from nail_count.trade import model
from nail_count.trade.model.thing import Thing
from nail_count.trade.text.choices import CHOICES


def values(annotation: Any) -> set[str]:
    """The texts a type of the model allows."""
    if get_origin(annotation) is Literal:
        return {value for value in get_args(annotation) if isinstance(value, str)}
    return set().union(*(values(part) for part in get_args(annotation)))


def literals() -> Iterator[frozenset[str]]:
    """Every set of texts a type of the model allows."""
    for about in pkgutil.iter_modules(model.__path__):
        module = importlib.import_module(f"{model.__name__}.{about.name}")
        for thing in vars(module).values():
            if get_origin(thing) is Literal:
                yield frozenset(values(thing))
            for field in thing.model_fields.values() if isinstance(thing, type) and issubclass(thing, Thing) else ():
                yield frozenset(values(field.annotation))


@pytest.mark.parametrize("name", CHOICES)
def test_a_choice_has_words_for_all_the_model_allows_and_for_nothing_else(name: str) -> None:
    annotation, words = CHOICES[name]
    assert set(words) == values(annotation)
    assert all(words.values())


def test_no_template_repeats_a_choice_of_the_model() -> None:
    """A list or dict in a template whose values are all of one type of the model belongs into the choices."""
    kinds = {kind for kind in literals() if len(kind) > 1}
    folder = files("nail_count.web") / "templates"
    found = []
    for room in folder.iterdir():
        for page in room.iterdir() if room.is_dir() else [room]:
            text = page.read_text()
            lists = re.findall(r"\[(\((?:[^\[\]]|\[[^\]]*\])*\))\]", text) + re.findall(r"\{('(?:[^{}])*)\}", text)
            for one in lists:
                said = set(re.findall(r"\('([^']*)'\s*,", one)) or set(re.findall(r"'([^']*)'\s*:", one))
                if len(said - {""}) > 1 and any(said - {""} <= kind for kind in kinds):
                    found.append((page.name, one[:80]))
    assert found == []
