"""A setup code is kept with the revision its device came with: an id may come again, a code may not.

A job that is still coming in says since when. Every body has a checksum.
"""

import json
from collections.abc import Iterator
from typing import Any
from zlib import crc32

import sqlalchemy as sa
from alembic import op

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

TABLE = """create table setup_code_new (
    job_id integer not null, box varchar(60) not null, device varchar(12) not null, came integer not null,
    code varchar(200) not null, at datetime not null,
    primary key (job_id, box, device, came), foreign key(job_id) references job (id))"""
STATES = sa.text(
    """select r.number, r.body, r.back, r.source_revision, c.at from revision r join change c on c.id = r.change_id
    join document d on d.id = r.document_id
    where d.job_id = :job and d.kind = 'box' and d.key = :box and d.trial_id = 0 order by r.number"""
)


def upgrade() -> None:
    on = op.get_bind()
    op.execute("alter table job add column began datetime")
    op.execute("alter table revision add column checksum integer not null default 0")
    for document, number, body in on.execute(sa.text("select document_id, number, body from revision")).all():
        put = "update revision set checksum = :sum where document_id = :document and number = :number"
        on.execute(sa.text(put), {"sum": crc32(body.encode()), "document": document, "number": number})
    op.execute(TABLE)
    for job, box, device, code, at in on.execute(sa.text("select job_id, box, device, code, at from setup_code")).all():
        states = on.execute(STATES, {"job": job, "box": box}).all()
        then = [state for state in states if str(state.at) <= str(at)]
        kept = {"job": job, "box": box, "device": device, "code": code, "at": at}
        came = _came_with({state.number: state for state in states}, then[-1].number if then else 0, device)
        put = "insert into setup_code_new values (:job, :box, :device, :came, :code, :at)"
        on.execute(sa.text(put), kept | {"came": came})
    op.execute("drop table setup_code")
    op.execute("alter table setup_code_new rename to setup_code")


def _came_with(states: dict[int, Any], number: int | None, device: str) -> int:
    """The revision a device came with, seen from the one at which its code was kept; 0 where it was not there."""
    sheets: set[Any] | None = None
    came = 0
    while number:
        state = states[states[number].source_revision]
        there = {sheet for id, sheet in _devices(state.body) if id == device}
        sheets = there if sheets is None else sheets & there
        if not sheets:
            break
        came, number = int(state.number), state.back
    return came


def _devices(body: str) -> Iterator[tuple[Any, Any]]:
    box = json.loads(body) or {}
    for stage in (box, *(box.get(name) or {} for name in ("found", "built", "planned"))):
        for kind in ("devices", "modules"):
            for one in stage.get(kind) or ():
                yield one.get("id"), one.get("sheet")


def downgrade() -> None:
    op.execute("alter table job drop column began")
    op.execute("alter table revision drop column checksum")
    op.execute(TABLE.replace(" came integer not null,", "").replace(", device, came)", ", device)"))
    op.execute(
        "insert or replace into setup_code_new select job_id, box, device, code, at from setup_code order by came"
    )
    op.execute("drop table setup_code")
    op.execute("alter table setup_code_new rename to setup_code")
