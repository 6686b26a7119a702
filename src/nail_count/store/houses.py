"""Houses as lists show them: from plain columns, as many queries for two hundred boxes as for one."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence

from sqlalchemy import Connection, Row, bindparam, func, select

from .kept_documents import some_boxes
from .revisions import LISTED, VISIBLE, listed
from .snapshots import BoxCard, BoxFilter, BoxOutline, House, JobCard, JobSnapshot, LeftToSee, Outline
from .summaries import names_in
from .tables import DocumentRow, JobRow, SummaryRow

_D, _S = DocumentRow, SummaryRow
_CARDS = (
    select(_D.key, _S.room, _S.name, _S.circuits, _S.gangs, _S.state, _S.binds, _S.rail, _S.todo)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), VISIBLE)
    .order_by(_D.place)
)


_OUTLINE = (
    select(_D.key, _S.room, _S.circuits, _S.state, _S.todo)
    .select_from(_D)
    .join(_S)
    .where(_D.job_id == bindparam("job"), VISIBLE)
)
_LEFT = select(_D.key, _S.circuits, _S.todo).select_from(_D).join(_S).where(_D.job_id == bindparam("job"), VISIBLE)
_SOME_CARDS = _CARDS.where(_D.key.in_(LISTED))


def job_cards(on: Connection) -> list[JobCard]:
    """All jobs, newest first, with how many boxes stand how; removed ones too, marked so."""
    jobs = select(JobRow.id, JobRow.key, JobRow.name, JobRow.deleted_at)
    jobs = jobs.where(JobRow.began.is_(None)).order_by(JobRow.id.desc())
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
    known = {card.key: card for card in _as_cards(on.execute(_CARDS, {"job": job.id, "trial": job.trial}).all())}
    here = [known[key] for key in job.head.order or () if key in known]
    rooms = list(dict.fromkeys(card.room for card in here))
    wanted = [card for card in here if _is_sought(card, sought)] if sought.any else here
    return House(job, wanted, rooms, here)


Pick = Callable[[Sequence[str]], Sequence[str]]
"""Which boxes are shown of those that are sought, all by their keys."""


def outline(on: Connection, job: JobSnapshot, sought: BoxFilter, pick: Pick) -> Outline:
    """A job with all its boxes in outline, and the cards of those that are shown."""
    rows = on.execute(_OUTLINE, {"job": job.id, "trial": job.trial}).all()
    known = {key: BoxOutline(key, room, names_in(circuits), state, todo) for key, room, circuits, state, todo in rows}
    here = [known[key] for key in job.head.order or () if key in known]
    wanted = [box for box in here if _stands_so(box, sought)] if sought.any else here
    if sought.words:
        named = {card.key for card in cards_of(on, job, [box.key for box in wanted]) if _is_named(card, sought)}
        wanted = [box for box in wanted if box.key in named]
    order = _by_floor(job, here)
    wanted = sorted(wanted, key=lambda box: order[box.room])
    gone = _cards(on, job, list(known.keys() - job.boxes))
    return Outline(job, here, wanted, gone, cards_of(on, job, pick([box.key for box in wanted])))


def _by_floor(job: JobSnapshot, boxes: Sequence[BoxOutline]) -> dict[str, tuple[int, int]]:
    """Where each room of a house stands in a list by floors."""
    rooms = dict.fromkeys(box.room for box in boxes)
    floors: dict[str, int] = {}
    return {
        room: (floors.setdefault(job.head.house.floor_of(room), len(floors)), place) for place, room in enumerate(rooms)
    }


def left_to_see(on: Connection, job: JobSnapshot, pick: Pick) -> LeftToSee:
    """Return the open survey points of a job, and the boxes shown with them."""
    here = job.boxes
    rows = on.execute(_LEFT, {"job": job.id, "trial": job.trial}).all()
    left = {key for key, _, todo in rows if todo}
    used = {circuit for key, circuits, _ in rows if key in here for circuit in names_in(circuits)}
    keys = [key for key in job.head.order or () if key in left]
    return LeftToSee(job, keys, used, some_boxes(on, job, pick(keys)))


def cards_of(on: Connection, job: JobSnapshot, keys: Sequence[str]) -> list[BoxCard]:
    """The cards of some boxes, in the order of their keys."""
    known = {card.key: card for card in _cards(on, job, keys)}
    return [known[key] for key in keys if key in known]


def _cards(on: Connection, job: JobSnapshot, keys: Sequence[str]) -> list[BoxCard]:
    """The cards of some boxes, in the order the boxes were made or imported."""
    if not keys:
        return []
    asked = {"job": job.id, "trial": job.trial, "listed": listed(keys)}
    return list(_as_cards(on.execute(_SOME_CARDS, asked).all()))


def _as_cards(rows: Iterable[Row[str, str, str, str, int, str, str, str, int]]) -> Iterator[BoxCard]:
    for key, room, name, circuits, gangs, state, binds, rail, todo in rows:
        yield BoxCard(key, room, name, names_in(circuits), gangs, state, binds, rail, todo)


def _is_sought(card: BoxCard, sought: BoxFilter) -> bool:
    return _stands_so(card, sought) and _is_named(card, sought)


def _stands_so(box: BoxCard | BoxOutline, sought: BoxFilter) -> bool:
    return (
        sought.state in ("", box.state)
        and sought.circuit in ("", *box.circuits)
        and sought.room in ("", box.room)
        and (box.todo > 0 or not sought.todo)
    )


def _is_named(card: BoxCard, sought: BoxFilter) -> bool:
    text = f"{card.name} {card.room} {card.binds}".casefold()
    return all(word.casefold() in text for word in sought.words.split())
