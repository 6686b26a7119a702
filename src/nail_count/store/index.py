"""Keep columns beside a document to find it by its contents: the ends of a run, the sheets of a box."""

from __future__ import annotations

from sqlalchemy import Connection, delete, insert

from ..trade.model.box import Box
from ..trade.model.run import Run
from ..trade.model.thing import Thing
from .tables import RunEndRow, SheetUseRow


def sheets_in(thing: Thing | None) -> frozenset[str]:
    """The ids of the sheets a box uses; none of anything else."""
    return frozenset(item.sheet for item in thing.equipment) if isinstance(thing, Box) else frozenset()


def put_index(on: Connection, document: int, thing: Thing | None, was: Thing | None = None) -> None:
    """Brings the columns beside a document in line with it.

    Args:
        on: the connection to write to.
        document: its row.
        thing: what it holds now; None where it was taken out.
        was: what they stand for already; None where that is not known.
    """
    if isinstance(thing, Box) and isinstance(was, Box) and sheets_in(thing) == sheets_in(was):
        return
    if isinstance(thing, Run) or thing is None:
        on.execute(delete(RunEndRow).where(RunEndRow.document_id == document))
        ends = sorted({end.box for end in thing.box_ends}) if thing else []
        if ends:
            on.execute(insert(RunEndRow), [{"document_id": document, "box": box} for box in ends])
    if isinstance(thing, Box) or thing is None:
        on.execute(delete(SheetUseRow).where(SheetUseRow.document_id == document))
        if sheets := sorted(sheets_in(thing)):
            on.execute(insert(SheetUseRow), [{"document_id": document, "sheet": sheet} for sheet in sheets])
