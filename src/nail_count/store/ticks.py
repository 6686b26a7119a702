"""Ticks: added, never changed."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Connection, bindparam, func, insert, select

from ..trade.model.errors import Rejected
from ..trade.model.tick import Tick
from .bodies import parsed
from .snapshots import JobSnapshot
from .tables import TickRow

_T = TickRow
_OF_JOB = select(_T.body).where(_T.job_id == bindparam("job")).order_by(_T.id)
_AT_BOX = _OF_JOB.where(_T.box == bindparam("box"))


def add(on: Connection, job: JobSnapshot, tick: Tick, token: str) -> Tick:
    """Keeps a tick under an id of its own; the one its token was kept with, where it was. Raises Rejected."""
    if known := of_token(on, job, token):
        return known
    if tick.box is not None and tick.box not in job.boxes:
        raise Rejected("Pick one of the boxes of this job", "box")
    if tick.takes_back is not None:
        back = select(_T.id).where(_T.job_id == job.id, _T.key == tick.takes_back)
        if on.scalar(back) is None:
            raise Rejected("Name one of the ticks made, to take it back", "takes_back")
    number = on.scalar(select(func.count()).select_from(_T).where(_T.job_id == job.id)) or 0
    kept = tick.changed(id=f"t{number + 1}")
    keep(on, job.id, kept, token)
    return kept


def of_token(on: Connection, job: JobSnapshot, token: str) -> Tick | None:
    """The tick that was kept with a token; None where none was."""
    if not token:
        return None
    known = on.scalar(select(_T.body).where(_T.job_id == job.id, _T.token == token))
    return None if known is None else parsed(Tick, known)


def keep(on: Connection, job: int, tick: Tick, token: str = "") -> None:
    """Writes a tick as it is."""
    on.execute(insert(_T), row_of(job, tick, token))


def row_of(job: int, tick: Tick, token: str = "") -> dict[str, Any]:
    """Return a tick as its row."""
    body = tick.model_dump_json(exclude_none=True)
    return {"job_id": job, "key": tick.id, "box": tick.box or "", "body": body, "token": token or None}


def of_job(on: Connection, job: JobSnapshot, box: str = "") -> tuple[Tick, ...]:
    """The ticks of a job, or of one of its boxes, in the order they were made."""
    bodies = on.scalars(_AT_BOX, {"job": job.id, "box": box}) if box else on.scalars(_OF_JOB, {"job": job.id})
    return tuple(parsed(Tick, body) for body in bodies)
