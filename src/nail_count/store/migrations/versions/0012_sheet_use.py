"""Which sheets a box uses, in a table of its own, so that a house of thousands is counted without reading its boxes."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

TABLE = """create table sheet_use (
    document_id integer not null references document (id), sheet varchar(60) not null,
    primary key (document_id, sheet))"""
NEWEST = sa.text(
    """select d.id, r.body from document d join revision r on r.document_id = d.id and r.number = d.latest
    where d.kind = 'box'"""
)
ADD = sa.text("insert into sheet_use (document_id, sheet) values (:document, :sheet)")


def upgrade() -> None:
    op.execute(TABLE)
    op.execute("create index ix_sheet_use_sheet on sheet_use (sheet)")
    on = op.get_bind()
    for id, body in on.execute(NEWEST).all():
        for sheet in sorted(_sheets(json.loads(body))):
            on.execute(ADD, {"document": id, "sheet": sheet})


def _sheets(box: object) -> set[str]:
    """Of what a body is judged by: planned, else found; one of version 1 had its devices beside everything else."""
    if not isinstance(box, dict):
        return set()
    stage = next((box[name] for name in ("planned", "found") if isinstance(box.get(name), dict)), box)
    return {item["sheet"] for what in ("devices", "modules") for item in stage.get(what) or ()}


def downgrade() -> None:
    op.execute("drop table sheet_use")
