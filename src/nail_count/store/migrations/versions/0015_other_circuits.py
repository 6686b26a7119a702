"""The other circuits of a box beside its first, in a column: a list of boxes by circuit reads no document for it."""

from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

FILL = """update summary set other_circuits = coalesce((
    select json_extract(r.body, '$.other_circuits') from document d
    join revision r on r.document_id = d.id and r.number = d.latest where d.id = summary.document_id), '[]')"""


def upgrade() -> None:
    op.execute("alter table summary add column other_circuits text not null default '[]'")
    op.execute(FILL)


def downgrade() -> None:
    op.execute("alter table summary drop column other_circuits")
