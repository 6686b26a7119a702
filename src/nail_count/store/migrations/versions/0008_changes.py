"""Make one act one change: every revision names its change, and a what-if belongs to a trial.

Each revision there is becomes a change of its own; each what-if becomes a trial with one copy in it.
"""

from alembic import op

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

UP = (
    """create table trial (
        id integer primary key not null, job_id integer not null references job (id), about varchar(60) not null,
        started datetime not null, ended_at datetime, kept_by integer)""",
    "create index ix_trial_job_id on trial (job_id)",
    """create table change (
        id integer primary key not null, job_id integer not null references job (id), trial_id integer not null,
        sentence text not null, at datetime not null, by varchar(60) not null, token varchar(64), undoes integer,
        unique (job_id, token))""",
    "create index ix_change_undoes on change (undoes)",
    """insert into trial (id, job_id, about, started, ended_at)
        select c.id, c.job_id, o.key, r.made, c.deleted_at from document c join document o on o.id = c.copy_of
        join revision r on r.document_id = c.id and r.number = 1""",
    """create temporary table numbered as
        select document_id, number, row_number() over (order by made, document_id, number) as id from revision""",
    """insert into change (id, job_id, trial_id, sentence, at, by)
        select n.id, d.job_id, case when d.copy_of is null then 0 else d.id end, r.sentence, r.made, ''
        from numbered n join revision r using (document_id, number) join document d on d.id = r.document_id""",
    """create table document_new (
        id integer primary key not null, job_id integer not null references job (id), kind varchar(10) not null,
        key varchar(60) not null, place integer not null, latest integer not null, deleted_at datetime,
        trial_id integer not null, copy_of integer, copied_at integer, as_found integer, as_planned integer,
        as_built integer, used datetime, unique (job_id, kind, key, trial_id),
        constraint kind_known check (kind in ('head', 'sheet', 'box', 'run')))""",
    """insert into document_new
        select d.id, d.job_id, case d.kind when 'terms' then 'head' else d.kind end,
        case d.kind when 'terms' then 'head' else coalesce(o.key, d.key) end, d.place, d.latest, d.deleted_at,
        case when d.copy_of is null then 0 else d.id end, d.copy_of, d.copied_at, d.as_found, d.as_planned,
        d.as_built, d.used from document d left join document o on o.id = d.copy_of""",
    """insert into summary
        select d.id, s.room, s.name, s.circuit, s.gangs, s.state, s.binds, s.rail, -1
        from document d join summary s on s.document_id = d.copy_of
        where d.id not in (select document_id from summary)""",
    """create table revision_new (
        document_id integer not null references document (id), number integer not null, body text not null,
        change_id integer not null references change (id), back integer, forth integer,
        source_revision integer not null, primary key (document_id, number))""",
    """insert into revision_new
        select r.document_id, r.number, r.body, n.id, r.back, r.forth, r.source_revision
        from revision r join numbered n using (document_id, number)""",
    "drop table numbered",
    "drop table revision",
    "drop table document",
    "alter table document_new rename to document",
    "alter table revision_new rename to revision",
    "create index ix_document_job_id on document (job_id)",
    "create index ix_document_copy_of on document (copy_of)",
    "create index ix_revision_change_id on revision (change_id)",
)


def upgrade() -> None:
    for statement in UP:
        op.execute(statement)


def downgrade() -> None:
    raise NotImplementedError("changes over several documents cannot be told in the older tables")
