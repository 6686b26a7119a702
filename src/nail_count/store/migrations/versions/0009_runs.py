"""Runs, ticks, setup codes; what was marked as found or as built is found and built; bodies carry their format.

Newest bodies that say where a cable goes give runs; what a step was marked as becomes contents, as one more step.
"""

import json
from datetime import UTC, datetime
from typing import Any

import sqlalchemy as sa
from alembic import op

from nail_count.trade.upgrades import to_version_2

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

Body = dict[str, Any]
TABLES = (
    "alter table summary add column use varchar(12) not null default 'control'",
    "alter table revision add column format integer not null default 1",
    """create table run_end (
        document_id integer not null references document (id), box varchar(60) not null,
        primary key (document_id, box))""",
    "create index ix_run_end_box on run_end (box)",
    """create table tick (
        id integer primary key not null, job_id integer not null references job (id), key varchar(12) not null,
        box varchar(60) not null, body text not null, token varchar(64),
        unique (job_id, key), unique (job_id, token))""",
    """create table setup_code (
        job_id integer not null references job (id), box varchar(60) not null, device varchar(12) not null,
        code varchar(200) not null, at datetime not null, primary key (job_id, box, device))""",
)
NEWEST = sa.text(
    """select d.id, d.job_id, d.key, d.trial_id, d.as_found, d.as_planned, d.as_built, d.latest, r.forth, r.body
    from document d join revision r on r.document_id = d.id and r.number = d.latest
    where d.kind = 'box' and (d.trial_id = 0 or d.deleted_at is null) order by d.trial_id, d.place, d.id"""
)


def upgrade() -> None:
    for statement in TABLES:
        op.execute(statement)
    on = op.get_bind()
    taken: dict[int, set[str]] = {}
    known: dict[tuple[int, str, str], str] = {}
    changes: dict[tuple[int, int], int] = {}
    for row in on.execute(NEWEST).all():
        body = json.loads(row.body)
        if not isinstance(body, dict):
            continue
        body["id"] = row.key  # a copy once had a key of its own
        _runs(on, row, body, taken.setdefault(row.job_id, set()), known, changes)
        _stages(on, row, body)
    for column in ("as_found", "as_planned", "as_built"):
        op.execute(f"alter table document drop column {column}")


def _runs(
    on: sa.Connection,
    row: Any,
    body: Body,
    taken: set[str],
    known: dict[tuple[int, str, str], str],
    changes: dict[tuple[int, int], int],
) -> None:
    """Tell where its cables go; in a what-if, only where that differs from the box itself."""
    words = to_version_2.goes(body)
    for letter, run in zip(words, list(to_version_2.runs(body, taken)), strict=True):
        place = (row.job_id, row.key, letter)
        if row.trial_id and known.get(place) == words[letter]:
            continue
        known.setdefault(place, words[letter])
        change = changes.get((row.job_id, row.trial_id))
        if change is None:
            change = _change(on, row.job_id, row.trial_id, "Where cables go, as recorded before")
            changes[row.job_id, row.trial_id] = change
        added = on.execute(
            sa.text(
                """insert into document (job_id, kind, key, place, latest, trial_id)
                values (:job, 'run', :key, 0, 1, :trial)"""
            ),
            {"job": row.job_id, "key": run["id"], "trial": row.trial_id},
        )
        _revision(on, added.lastrowid, 1, run, change, None)
        on.execute(sa.text("insert into run_end values (:run, :box)"), {"run": added.lastrowid, "box": row.key})


def _stages(on: sa.Connection, row: Any, body: Body) -> None:
    """What was marked as found and as built, as contents of the box."""
    marked = {"found": row.as_found, "built": row.as_built}
    read = {name: _contents(on, row.id, number) for name, number in marked.items() if number is not None}
    stages = {name: contents for name, contents in read.items() if contents is not None}
    if not stages:
        return
    said = ", ".join(f"step {marked[name]} as {name}" for name in stages)
    planned = f"; step {row.as_planned} was marked as planned" if row.as_planned is not None else ""
    change = _change(on, row.job_id, row.trial_id, f"Marks became contents: {said}{planned}")
    _revision(on, row.id, row.latest + 1, to_version_2.box(body) | stages, change, row.latest, row.forth)
    on.execute(sa.text("update document set latest = latest + 1 where id = :id"), {"id": row.id})


def _contents(on: sa.Connection, document: int, number: int) -> Body | None:
    of_step = sa.text("select body from revision where document_id = :document and number = :number")
    body = json.loads(on.scalar(of_step, {"document": document, "number": number}) or "null")
    return to_version_2.contents(body) if isinstance(body, dict) else None


def _change(on: sa.Connection, job: int, trial: int, sentence: str) -> int:
    added = on.execute(
        sa.text(
            """insert into change (job_id, trial_id, sentence, at, by) values (:job, :trial, :sentence, :at, '')"""
        ),
        {"job": job, "trial": trial, "sentence": sentence, "at": str(datetime.now(UTC).replace(tzinfo=None))},
    )
    return int(added.lastrowid)


def _revision(
    on: sa.Connection, document: int, number: int, body: Body, change: int, back: int | None, forth: int | None = None
) -> None:
    on.execute(
        sa.text(
            """insert into revision (document_id, number, body, format, change_id, back, forth, source_revision)
            values (:document, :number, :body, 2, :change, :back, :forth, :number)"""
        ),
        {
            "document": document,
            "number": number,
            "body": json.dumps(body),
            "change": change,
            "back": back,
            "forth": forth,
        },
    )


def downgrade() -> None:
    raise NotImplementedError("the older tables have no place for runs and stages")
