"""A table of boxes whose first row says what its columns are: row by row, as it comes by command or from a program."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from ..trade.model.datasheet import Datasheet
from ..trade.quick_entry.row import Column
from ..trade.quick_entry.rows import TableRow, guessed_columns, read_rows
from .job_json import BadFile
from .spread import Spread


def boxes_in(
    spread: Spread,
    sheets: Mapping[str, Datasheet],
    circuits: frozenset[str],
    here: Collection[tuple[str, str]],
    room: str = "",
) -> tuple[tuple[Column | None, ...], tuple[TableRow, ...]]:
    """What the columns of a table are taken for, and its rows.

    Args:
        spread: the table.
        sheets: the sheets that device words can mean.
        circuits: those of the panel.
        here: room and name of each box the house has.
        room: of a row that names none.

    Raises:
        BadFile: its first row says of no column what it is.
    """
    columns = guessed_columns(spread.rows[0])
    if not any(columns):
        raise BadFile.because("Begin with a row that names the columns: name, room, gangs, volume, cables")
    return columns, read_rows(
        spread.rows[1:],
        columns,
        sheets,
        circuits=circuits,
        here=here,
        first=2,
        decimal_comma=spread.decimal_comma,
        room=room,
    )
