"""Setup codes: apart from revisions, never in a job file, to be deleted for good."""

from __future__ import annotations

from sqlalchemy import Connection, select
from sqlalchemy import delete as delete_from
from sqlalchemy.dialects.sqlite import insert

from ..trade.model.errors import Rejected
from .revisions import now
from .snapshots import JobSnapshot, NotFound
from .tables import SetupCodeRow

_C = SetupCodeRow
LONGEST = 200


def put(on: Connection, job: JobSnapshot, box: str, device: str, code: str) -> None:
    """Keeps a code, in place of the one that was there."""
    clean = code.strip()
    if not 1 <= len(clean) <= LONGEST or not 1 <= len(device) <= 12:
        raise Rejected(f"expected a setup code of at most {LONGEST} characters", "code")
    values = {"job_id": job.id, "box": box, "device": device, "code": clean, "at": now()}
    kept = insert(_C).values(values)
    on.execute(kept.on_conflict_do_update(index_elements=["job_id", "box", "device"], set_=values))


def of_box(on: Connection, job: JobSnapshot, box: str) -> dict[str, str]:
    """The codes of a box's devices, by their ids."""
    return {row.device: row.code for row in on.execute(select(_C).where(_C.job_id == job.id, _C.box == box))}


def delete(on: Connection, job: JobSnapshot, box: str, device: str) -> None:
    """Takes a code out. Raises NotFound."""
    gone = delete_from(_C).where(_C.job_id == job.id, _C.box == box, _C.device == device)
    if not on.execute(gone).rowcount:
        raise NotFound("expected a setup code that is kept here")
