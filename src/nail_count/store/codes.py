"""Setup codes: apart from revisions, never in a job file, to be deleted for good.

A code belongs to one device for good. A device's id may come again once it has left its box, so a code is kept with the
revision the device came with: whatever is put in later under the same id is another device and has no code.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from sqlalchemy import Connection, select
from sqlalchemy import delete as delete_from
from sqlalchemy.dialects.sqlite import insert

from ..trade.model.errors import Rejected
from . import revisions
from .revisions import Found, Revision, now
from .snapshots import JobSnapshot, KeptCode, NotFound
from .tables import SetupCodeRow

_C = SetupCodeRow
LONGEST = 200


def put(on: Connection, job: JobSnapshot, box: Found, device: str, code: str) -> None:
    """Keep the code of a device that is in a box, in place of the one that was there. Raises Rejected."""
    clean = code.strip()
    if not 1 <= len(clean) <= LONGEST:
        raise Rejected(f"enter a setup code of at most {LONGEST} characters", "code")
    came = came_with(on, box).get(device)
    if came is None:
        raise Rejected("enter the code at a device that is in this box", "device")
    values = {"job_id": job.id, "box": box.which.key, "device": device, "came": came, "code": clean, "at": now()}
    kept = insert(_C).values(values)
    on.execute(kept.on_conflict_do_update(index_elements=["job_id", "box", "device", "came"], set_=values))


def of_box(on: Connection, job: JobSnapshot, box: Found) -> dict[str, str]:
    """Return the codes of the devices in a box, by their ids."""
    rows = on.execute(_of(job, box.which.key)).all()
    came = came_with(on, box) if rows else {}
    return {row.device: row.code for row in rows if came.get(row.device) == row.came}


def kept(on: Connection, job: JobSnapshot, box: Found) -> tuple[KeptCode, ...]:
    """Return every code kept at a box, those of devices that have left it among them."""
    rows = on.execute(_of(job, box.which.key)).all()
    came = came_with(on, box) if rows else {}
    return tuple(KeptCode(row.device, row.came, came.get(row.device) == row.came) for row in rows)


def delete(on: Connection, job: JobSnapshot, box: Found, device: str, came: int | None = None) -> None:
    """Delete a code for good.

    Args:
        on: the connection to write to.
        job: the box is in.
        box: the code is kept at.
        came: the revision it came with; None for the device of this id that is in the box now.

    Raises:
        NotFound: no such code is kept.
    """
    came = came_with(on, box).get(device, 0) if came is None else came
    here = (_C.job_id == job.id) & (_C.box == box.which.key)
    gone = delete_from(_C).where(here, _C.device == device, _C.came == came)
    if not on.execute(gone).rowcount:
        raise NotFound("This setup code isn't kept here")


def came_with(on: Connection, box: Found) -> dict[str, int]:
    """Return the revision that each device in a box came with, by the device's id.

    Undo and redo lead to states that were there before, so a device that comes back by them is the one it was. A device
    of another model under the same id is another device.
    """
    here = dict(sorted(devices_in(box.revision.body)))
    open_pairs = set(here.items())
    came: dict[str, int] = {}
    for state in _lineage(on, box.revision):
        there = devices_in(state.body)
        open_pairs &= there
        if not open_pairs:
            break
        came |= {id: state.number for id, _ in open_pairs}
    return came


def devices_in(body: str) -> set[tuple[str, str]]:
    """Return the id and the model of each device and module in a box as it is kept, in whichever format."""
    box = json.loads(body) or {}
    stages = (box, *(box.get(stage) or {} for stage in ("found", "built", "planned")))
    return {pair for stage in stages for pair in _listed(stage)}


def _listed(contents: Mapping[str, Any]) -> Iterator[tuple[str, str]]:
    for kind in ("devices", "modules"):
        for one in contents.get(kind) or ():
            yield str(one.get("id")), str(one.get("sheet"))


def _lineage(on: Connection, newest: Revision) -> Iterator[Revision]:
    """The states a state came from, itself first: each as the edit that first made it."""
    state: Revision | None = newest
    while state is not None:
        if state.source_revision != state.number:
            state = revisions.at(on, state.document, state.source_revision)
        yield state
        state = None if state.back is None else revisions.at(on, state.document, state.back)


def _of(job: JobSnapshot, box: str) -> Any:
    return select(_C).where(_C.job_id == job.id, _C.box == box).order_by(_C.device, _C.came)
