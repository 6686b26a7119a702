"""Figures stand once, and the page of rules lists every one of them."""

from __future__ import annotations

import ast
import builtins
from collections.abc import Iterator, Mapping
from fractions import Fraction
from importlib import import_module
from pathlib import Path
from types import ModuleType

import pytest

import nail_count.trade.rules as rules
from nail_count.trade.model.figure import Figure
from nail_count.trade.rules.figures import STANDING, figures, standing_in

ROOT = Path(rules.__file__).parent
PLAIN = {"CANOPY_BELOW", "MM_PER_IN", "ML_PER_IN3"}
"""Conversions by definition, and a gauge a rule names."""


def modules() -> Iterator[ModuleType]:
    """Every module with rules in it, but for what a box may have at most, which is the program's own."""
    for file in sorted(ROOT.rglob("*.py")):
        dotted = ".".join(("nail_count.trade.rules", *file.relative_to(ROOT).with_suffix("").parts))
        if "fit" not in file.parts and file.stem not in ("__init__", "figures"):
            yield import_module(dotted)


def numbers(value: object) -> Iterator[object]:
    """The numbers in a constant, in tables among them."""
    if isinstance(value, Mapping):
        value = tuple(value.values())
    if isinstance(value, tuple):
        for one in value:
            yield from numbers(one)
    elif isinstance(value, int | float | Fraction) and not isinstance(value, bool):
        yield value


def test_every_number_of_a_rule_is_a_figure_with_its_unit_and_source() -> None:
    for module in modules():
        for name, value in vars(module).items():
            if name.isupper() and not name.startswith("_") and name not in PLAIN and name != "PEAKS":
                for number in numbers(value):
                    assert isinstance(number, Figure), (module.__name__, name, number)
                    assert number.what and number.rule.name, (module.__name__, name)


def test_no_rule_reckons_with_a_number_written_into_it() -> None:
    """But for 0, 1, 2, the ranges a voltage is told by, and rounding."""
    allowed: dict[str, set[int | float]] = {
        "motor.py": {110, 120, 220, 240},
        "inrush.py": {110, 127},
        "heat.py": {10, 1e-6},
        "check.py": {4096},
    }
    allowed |= {"depth.py": {10, 14}, "bulk.py": {14}}  # gauges, by which the rows of a table are told
    for module in modules():
        file = Path(module.__file__ or "")
        for function in ast.walk(ast.parse(file.read_text())):
            if isinstance(function, ast.FunctionDef):
                written = {
                    node.value
                    for node in ast.walk(function)
                    if isinstance(node, ast.Constant) and isinstance(node.value, int | float)
                }
                assert written <= {0, 1, 2} | allowed.get(file.name, set()), (file.name, function.name)


def test_the_page_lists_them_all_and_each_once() -> None:
    listed = [row for _, rows in figures() for row in rows]
    assert len({(row.what, row.value, row.rule) for row in listed}) == len(listed)
    here: set[int] = set()
    for _, group in STANDING:
        list(standing_in(group, here))
    for module in modules():
        missing = [one.what for one in standing_in((module,), set(here))]
        assert not missing, (module.__name__, missing)
    said = {row.what: row.value for row in listed}
    for what, value in (
        ("Deep on 12 or 10 AWG: a body past", "1 in"),
        ("Set-back allowed in a noncombustible wall", "0.25 in"),
        ("Fixture wires from a canopy that count nothing", "4"),
        ("Room behind a body where depth is the rule", "10 mm"),
        ("Heat a dimmer makes, of its load", "1.5%"),
    ):
        assert said[what] == value


def test_a_value_displayed_at_a_prompt_is_not_a_figure_of_the_rules(monkeypatch: pytest.MonkeyPatch) -> None:
    before = figures()
    shown = next(standing_in(STANDING[0][1], set()))
    monkeypatch.setattr(builtins, "_", Figure("9", "in3", "shown last", shown.rule), raising=False)
    assert figures() == before
