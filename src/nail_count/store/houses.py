"""Houses as lists show them: from plain columns, as many queries for two hundred boxes as for one."""

from __future__ import annotations

from collections import Counter

from sqlalchemy import Connection, bindparam, func, select

from .revisions import VISIBLE
from .snapshots import BoxCard, BoxFilter, House, JobCard, JobSnapshot
from .tables import DocumentRow, JobRow, SummaryRow

_D, _S = DocumentRow, SummaryRow
_CARDS = (
    select(_D.key, _S.room, _S.name, _S.circuit, _S.gangs, _S.state, _S.binds, _S.rail, _S.todo)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), VISIBLE)
    .order_by(_D.place)
)


def job_cards(on: Connection) -> list[JobCard]:
    """All jobs, newest first, with how many boxes stand how; removed ones too, said to be so."""
    jobs = select(JobRow.id, JobRow.key, JobRow.name, JobRow.deleted_at).order_by(JobRow.id.desc())
    counted = (
        select(_D.job_id, _S.state, func.count(), func.count().filter(_S.todo > 0))
        .join(_S)
        .where(_D.deleted_at.is_(None), _D.trial_id == 0)
        .group_by(_D.job_id, _S.state)
    )
    states: dict[int, dict[str, int]] = {}
    todo: dict[int, int] = {}
    for job, state, boxes, left in on.execute(counted):
        states.setdefault(job, {})[state] = boxes
        todo[job] = todo.get(job, 0) + left
    return [
        JobCard(key, name, states.get(id, {}), todo.get(id, 0), gone is not None)
        for id, key, name, gone in on.execute(jobs)
    ]


def house(on: Connection, job: JobSnapshot, sought: BoxFilter) -> House:
    """A job with the cards of its boxes, or of those sought, in the job's order."""
    cards = map(BoxCard._make, on.execute(_CARDS, {"job": job.id, "trial": job.trial}).all())
    known = {card.key: card for card in cards}
    here = [known[key] for key in job.head.order or () if key in known]
    there = job.boxes
    gone = [card for key, card in known.items() if key not in there]
    states = Counter(card.state for card in here)
    rooms = list(dict.fromkeys(card.room for card in here))
    wanted = [card for card in here if _is_sought(card, sought)] if sought.any else here
    return House(job, wanted, gone, states, rooms, here)


def _is_sought(card: BoxCard, sought: BoxFilter) -> bool:
    text = f"{card.name} {card.room} {card.binds}".casefold()
    return (
        sought.state in ("", card.state)
        and sought.circuit in ("", card.circuit)
        and sought.room in ("", card.room)
        and (card.todo > 0 or not sought.todo)
        and all(word.casefold() in text for word in sought.words.split())
    )
