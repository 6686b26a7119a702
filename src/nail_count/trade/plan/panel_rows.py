"""The panel as it is found: two columns of spaces, odd ones left, even ones right."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from ..model.panel import Circuit, Panel
from ..rules.circuit.panel import leg


@dataclass(frozen=True, slots=True)
class Cell:
    """One space of the panel."""

    space: int
    circuits: tuple[Circuit, ...]
    """None, one, or the two halves of it."""
    continues: bool
    """Whether it is the lower space of a breaker of two poles."""
    leg: str
    """Which leg of the supply it is on."""


@dataclass(frozen=True, slots=True)
class PanelRows:
    """Where every breaker sits."""

    rows: tuple[tuple[Cell, Cell], ...]
    unplaced: tuple[Circuit, ...]
    """Breakers whose space is not known, or that the panel does not have."""


def panel_rows(panel: Panel, circuits: Sequence[Circuit]) -> PanelRows:
    """Where every breaker sits.

    >>> drawn = panel_rows(Panel(spaces=4), [Circuit(id="2", space=2, poles=2), Circuit(id="9")])
    >>> [cell.continues for row in drawn.rows for cell in row], drawn.unplaced[0].id
    ([False, False, False, True], '9')
    """
    by_space: dict[int, list[Circuit]] = {}
    lower: set[int] = set()
    for circuit in sorted(circuits, key=lambda circuit: circuit.half):
        for number, space in enumerate(circuit.spaces):
            if number:
                lower.add(space)
            else:
                by_space.setdefault(space, []).append(circuit)
    rows = tuple((_cell(left, by_space, lower), _cell(left + 1, by_space, lower)) for left in range(1, panel.spaces, 2))
    beside = (circuit for circuit in circuits if circuit.space is None or circuit.space > panel.spaces)
    return PanelRows(rows, tuple(beside))


def _cell(space: int, by_space: Mapping[int, list[Circuit]], lower: set[int]) -> Cell:
    side = leg(Circuit(id="0", space=space)) or ""
    return Cell(space, tuple(by_space.get(space, ())), space in lower, side)
