"""What lists show of a box: reckoned from its check, kept in plain columns, so that a list parses no document."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from sqlalchemy import Connection
from sqlalchemy.dialects.sqlite import insert

from ..drawing.badge import badge_text
from ..trade.rules.check import BoxCheck
from ..trade.survey.open_points import open_points
from ..trade.text.format import say
from .tables import SummaryRow

_S = SummaryRow.__table__
_NEW = insert(SummaryRow)
_PUT = _NEW.on_conflict_do_update(
    index_elements=["document_id"],
    set_={one.name: _NEW.excluded[one.name] for one in _S.columns if not one.primary_key},
)
NOT_RECKONED = -1
"""How much of a box's survey is left, while nobody has reckoned it."""


def summary(check: BoxCheck) -> dict[str, Any]:
    """The columns of a box."""
    box = check.box
    return {
        "room": box.room,
        "name": box.name,
        "circuits": json.dumps(box.circuits),
        "works": json.dumps(box.works),
        "gangs": box.enclosure.gangs,
        "use": box.use,
        "state": check.state.word,
        "binds": say(check.headline),
        "rail": badge_text(check.fill),
        "todo": len(open_points(box)),
    }


@lru_cache(maxsize=4096)
def names_in(column: str) -> tuple[str, ...]:
    """Return the circuits, or the places, that a column holds."""
    return tuple(json.loads(column))


def put_summary(on: Connection, document: int, check: BoxCheck) -> None:
    """Brings the plain columns beside a box up to date."""
    on.execute(_PUT, {"document_id": document, **summary(check)})
