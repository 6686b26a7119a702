"""What the simulated hub of a job remembers between two visits."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from sqlalchemy import Connection, select
from sqlalchemy.dialects.sqlite import insert

from ..trade.wiring.simulate.hub import HubMemory, SimulatedHub
from .snapshots import JobSnapshot
from .tables import SimulatedHubRow

_H = SimulatedHubRow
T = TypeVar("T")


def remembered(on: Connection, job: JobSnapshot) -> SimulatedHub:
    """The hub of a job, as it was left; a new one, its seed the job's number, where none was put up yet."""
    body = on.scalar(select(_H.body).where(_H.job_id == job.id))
    return SimulatedHub(HubMemory.model_validate_json(body) if body else HubMemory(seed=job.id))


def asked(on: Connection, job: JobSnapshot, ask: Callable[[SimulatedHub], T]) -> T:
    """What comes of asking the hub something; what it remembers of it is kept."""
    hub = remembered(on, job)
    answer = ask(hub)
    values = {"job_id": job.id, "body": hub.memory.model_dump_json(exclude_defaults=True)}
    kept = insert(_H).values(values)
    on.execute(kept.on_conflict_do_update(index_elements=["job_id"], set_=values))
    return answer
