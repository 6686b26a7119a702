"""Pictures, by what they show: the same one is kept once."""

from __future__ import annotations

from dataclasses import asdict

from sqlalchemy import Connection, select
from sqlalchemy.dialects.sqlite import insert

from ..files.photo import TakenIn
from .revisions import now
from .snapshots import NotFound
from .tables import PhotoRow


def add(on: Connection, photo: TakenIn) -> None:
    """Keeps a picture."""
    values = {**asdict(photo), "made": now()}
    on.execute(insert(PhotoRow).values(values).on_conflict_do_nothing())


def content(on: Connection, id: str, small: bool) -> bytes:
    """A picture as JPEG. Raises NotFound."""
    body = on.scalar(select(PhotoRow.small if small else PhotoRow.body).where(PhotoRow.id == id))
    if body is None:
        raise NotFound("This picture isn't kept here")
    return body


def here(on: Connection, ids: set[str]) -> set[str]:
    """Which of these pictures are kept here."""
    return set(on.scalars(select(PhotoRow.id).where(PhotoRow.id.in_(ids))))
