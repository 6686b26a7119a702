"""A whole table of boxes, row by row, and what lands of it as one act."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass

from pydantic import Field

from ..documents import Documents, Edited
from ..edits.base import Datasheets, Edit
from ..edits.house.boxes import BringIn
from ..edits.house.panel import PutCircuit
from ..model.box import Box
from ..model.errors import Rejected
from .directory import DirectoryLine
from .row import Column, RowReading, column_of, read_row


class BringInBoxes(Edit):
    """Boxes imported together: as one act, taken back as one."""

    new: tuple[Box, ...] = Field(min_length=1, max_length=2000)

    def _edited(self, documents: Documents) -> Edited:
        for box in self.new:
            documents = BringIn(new=box).apply(documents).documents
        many = f"{len(self.new)} boxes" if len(self.new) > 1 else "1 box"
        return Edited(documents, f"{many} imported from a table")


class BringInCircuits(Edit):
    """Breakers imported together: as one act, taken back as one."""

    new: tuple[PutCircuit, ...] = Field(min_length=1, max_length=200)

    def _edited(self, documents: Documents) -> Edited:
        known = documents.head.circuit_ids
        for circuit in self.new:
            if circuit.id in known:
                raise Rejected(f"Breaker {circuit.id} is in the panel already", "new")
            documents = circuit.apply(documents).documents
        many = f"{len(self.new)} breakers" if len(self.new) > 1 else "1 breaker"
        return Edited(documents, f"{many} imported from a directory")


@dataclass(frozen=True, slots=True)
class TableRow:
    """A row of a table as understood."""

    number: int
    """In the table, from 1, its head among them."""
    reading: RowReading
    is_here: bool
    """Whether the house has a box of this room and name already, or a row before this one does."""


def guessed_columns(head: Sequence[str]) -> tuple[Column | None, ...]:
    """What each column is taken for; none is taken twice, the first of two that say the same is.

    >>> guessed_columns(("Room", "Box", "Area", "Remarks"))
    ('room', 'name', None, None)
    """
    taken: set[Column] = set()
    found: list[Column | None] = []
    for text in head:
        column = column_of(text)
        found.append(column if column not in taken else None)
        if column is not None:
            taken.add(column)
    return tuple(found)


def read_rows(
    rows: Sequence[Sequence[str]],
    columns: Sequence[Column | None],
    sheets: Datasheets,
    *,
    circuits: frozenset[str],
    here: Collection[tuple[str, str]],
    first: int = 1,
    decimal_comma: bool = False,
    room: str = "",
) -> tuple[TableRow, ...]:
    """Every row of a table, without its head.

    Args:
        rows: cell by cell.
        columns: what stands under each column; None: it is not looked at.
        sheets: the sheets that device words can mean.
        circuits: those of the panel.
        here: room and name of each box the house has.
        first: the number of the first row.
        decimal_comma: whether a comma between digits is a decimal point.
        room: of a row that names none.
    """
    known = {(at.casefold(), name.casefold()) for at, name in here}
    made = []
    for number, row in enumerate(rows, first):
        cells: dict[Column, str] = {column: cell for column, cell in zip(columns, row, strict=False) if column}
        if room and not cells.get("room", "").strip():
            cells["room"] = room
        reading = read_row(cells, sheets, circuits, decimal_comma)
        mark = (cells.get("room", "").strip().casefold(), cells.get("name", "").strip().casefold())
        made.append(TableRow(number, reading, mark in known))
        known.add(mark)
    return tuple(made)


def landing(rows: Sequence[TableRow], wanted: Collection[int] | None = None) -> tuple[Box, ...]:
    """The boxes of a table that land: of those understood the rows wanted, or all that are not here yet."""
    return tuple(
        row.reading.box
        for row in rows
        if row.reading.box is not None and (not row.is_here if wanted is None else row.number in wanted)
    )


def new_circuits(lines: Sequence[DirectoryLine], known: Collection[str]) -> tuple[PutCircuit, ...]:
    """The breakers of a directory that land: each once, none that is in the panel already."""
    first: dict[str, PutCircuit] = {}
    for line in lines:
        if line.circuit is not None and line.circuit.id not in known:
            first.setdefault(line.circuit.id, line.circuit)
    return tuple(first.values())
