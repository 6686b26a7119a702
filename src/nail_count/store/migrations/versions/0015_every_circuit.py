"""Every circuit of a box in the column that lists read, in place of its first: it is found on each."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None

FIRST = sa.text(
    """select s.document_id, s.circuit, json_extract(r.body, '$.other_circuits') from summary s
    join document d on d.id = s.document_id join revision r on r.document_id = d.id and r.number = d.latest"""
)
FILL = sa.text("update summary set circuits = :circuits where document_id = :document")


def upgrade() -> None:
    op.execute("alter table summary add column circuits text not null default '[]'")
    on = op.get_bind()
    for document, first, others in on.execute(FIRST).all():
        circuits = dict.fromkeys(id for id in (first, *json.loads(others or "[]")) if id is not None)
        if circuits:
            on.execute(FILL, {"document": document, "circuits": json.dumps(list(circuits))})
    op.execute("alter table summary drop column circuit")


def downgrade() -> None:
    op.execute("alter table summary add column circuit varchar(20)")
    op.execute("update summary set circuit = json_extract(circuits, '$[0]')")
    op.execute("alter table summary drop column circuits")
