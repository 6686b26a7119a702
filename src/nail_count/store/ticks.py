"""Ticks: added, never changed."""

from __future__ import annotations

from sqlalchemy import Connection, func, insert, select

from ..trade.model.errors import Rejected
from ..trade.model.tick import Tick
from .snapshots import JobSnapshot
from .tables import TickRow

_T = TickRow


def add(on: Connection, job: JobSnapshot, tick: Tick, token: str) -> Tick:
    """Keeps a tick under an id of its own; the one its token was kept with, where it was. Raises Rejected."""
    if known := of_token(on, job, token):
        return known
    if tick.box is not None and tick.box not in job.boxes:
        raise Rejected("expected one of the boxes of this job", "box")
    if tick.takes_back is not None:
        back = select(_T.id).where(_T.job_id == job.id, _T.key == tick.takes_back)
        if on.scalar(back) is None:
            raise Rejected("expected one of the ticks made, to take it back", "takes_back")
    number = on.scalar(select(func.count()).select_from(_T).where(_T.job_id == job.id)) or 0
    kept = tick.changed(id=f"t{number + 1}")
    keep(on, job.id, kept, token)
    return kept


def of_token(on: Connection, job: JobSnapshot, token: str) -> Tick | None:
    """The tick that was kept with a token; None where none was."""
    if not token:
        return None
    known = on.scalar(select(_T.body).where(_T.job_id == job.id, _T.token == token))
    return None if known is None else Tick.model_validate_json(known)


def keep(on: Connection, job: int, tick: Tick, token: str = "") -> None:
    """Writes a tick as it is."""
    body = tick.model_dump_json(exclude_none=True)
    on.execute(insert(_T), {"job_id": job, "key": tick.id, "box": tick.box or "", "body": body, "token": token or None})


def of_job(on: Connection, job: JobSnapshot, box: str = "") -> tuple[Tick, ...]:
    """The ticks of a job, or of one of its boxes, in the order they were made."""
    made = select(_T.body).where(_T.job_id == job.id).order_by(_T.id)
    bodies = on.scalars(made.where(_T.box == box) if box else made)
    return tuple(Tick.model_validate_json(body) for body in bodies)
