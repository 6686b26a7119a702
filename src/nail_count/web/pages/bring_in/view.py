"""What the page shows of a table or a directory before it lands."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ....files.spread import Spread, read_spread
from ....store.snapshots import BoxCard, JobSnapshot
from ....trade.edits.house.panel import PutCircuit
from ....trade.model.box import Box
from ....trade.quick_entry.directory import DirectoryLine, read_directory
from ....trade.quick_entry.row import COLUMNS, Column, column_of
from ....trade.quick_entry.rows import TableRow, guessed_columns, landing, new_circuits, read_rows

COLUMN_NAMES: dict[Column, str] = {
    "name": "name of the box", "room": "room", "use": "what it is for", "circuit": "breaker", "gangs": "gangs",
    "volume": "volume", "material": "material", "cables": "cables, as 14/2 x3", "device": "device in each gang",
    "watts": "watts on each device",
}  # fmt: skip
MOST_SHOWN = 300
"""Rows shown at once; the others land all the same."""


@dataclass(frozen=True, slots=True)
class TableView:
    """A table, column by column and row by row."""

    text: str
    spread: Spread
    head: bool
    """Whether its first row says what the columns are."""
    columns: tuple[Column | None, ...]
    rows: tuple[TableRow, ...]
    wanted: frozenset[int] | None
    """The rows ticked; None: as they come."""
    room: str

    @property
    def heads(self) -> list[tuple[int, str, str]]:
        """Of each column its number, what stands above it, and the first thing under it."""
        first = self.spread.rows[1 if self.head and len(self.spread.rows) > 1 else 0]
        above = self.spread.rows[0] if self.head else [f"column {n + 1}" for n in range(self.spread.width)]
        return [(n, above[n] or f"column {n + 1}", first[n]) for n in range(self.spread.width)]

    @property
    def landing(self) -> tuple[Box, ...]:
        """The boxes that would land."""
        return landing(self.rows, self.wanted)

    @property
    def shown(self) -> tuple[TableRow, ...]:
        """Those not understood first, where there are more than are shown."""
        if len(self.rows) <= MOST_SHOWN:
            return self.rows
        return tuple(sorted(self.rows, key=lambda row: (row.reading.box is not None, row.number))[:MOST_SHOWN])

    @property
    def wrong(self) -> int:
        """How many rows are not understood."""
        return sum(row.reading.box is None for row in self.rows)

    def is_wanted(self, row: TableRow) -> bool:
        """Whether a row is ticked."""
        return row.number in self.wanted if self.wanted is not None else not row.is_here


def table_view(text: str, form: Mapping[str, str], job: JobSnapshot, cards: list[BoxCard]) -> TableView:
    """A table as the page shows it.

    Args:
        form: the columns as picked; of another table than this one it is not used.
        job: where it would land.
        cards: the boxes that are there.

    Raises:
        BadFile: there is no table in it.
    """
    spread = read_spread(text)
    known = form.get("width") == str(spread.width)
    if known:
        head = form.get("head") == "yes"
        said = [form.get(f"column-{number}", "") for number in range(spread.width)]
        columns = tuple(next((one for one in COLUMNS if one == name), None) for name in said)
    else:
        head = any(column_of(cell) is not None for cell in spread.rows[0])
        columns = guessed_columns(spread.rows[0] if head else ("name",) + ("",) * (spread.width - 1))
    room = form.get("room", "").strip()[:60]
    here = [(card.room, card.name) for card in cards]
    rows = read_rows(
        spread.rows[head:],
        columns,
        job.sheets,
        circuits=job.head.circuit_ids,
        here=here,
        first=2 if head else 1,
        decimal_comma=spread.decimal_comma,
        room=room,
    )
    ticked = form.get("row", "").split(",") if known and form.get("ticked") == "yes" else None
    wanted = None if ticked is None else frozenset(int(one) for one in ticked if one.isdecimal() and len(one) < 6)
    if wanted is not None and len(rows) > MOST_SHOWN:
        wanted |= {row.number for row in rows} - {
            int(one) for one in form.get("shown", "").split(",") if one.isdecimal()
        }
    return TableView(text, spread, head, columns, rows, wanted, room)


@dataclass(frozen=True, slots=True)
class DirectoryView:
    """A directory, line by line."""

    text: str
    amps: str
    lines: tuple[DirectoryLine, ...]
    known: frozenset[str]
    """The breakers that are in the panel already: they stay as they are."""

    @property
    def landing(self) -> tuple[PutCircuit, ...]:
        """The breakers that would land."""
        return new_circuits(self.lines, self.known)

    def standing(self, line: DirectoryLine) -> str:
        """What becomes of a line."""
        if line.expected:
            return f"enter {line.expected}"
        if line.circuit is None:
            return ""
        if line.circuit.id in self.known:
            return "in the panel already: stays as it is"
        return "" if any(line.circuit is one for one in self.landing) else "there already"


def directory_view(text: str, amps: str, job: JobSnapshot) -> DirectoryView:
    """A directory as the page shows it."""
    number = amps.strip().rstrip("aA ").strip()
    meant = int(number) if number.isdecimal() and len(number) < 4 and 1 <= int(number) <= 200 else None
    return DirectoryView(text, amps, read_directory(text, meant), job.head.circuit_ids)
